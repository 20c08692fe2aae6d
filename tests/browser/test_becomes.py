"""What it becomes: from a table to a picture, from a wish to a rig, and what an address brings back."""

from __future__ import annotations

import csv
import io
import math

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.limits import http

LARK = "/frame?lens=kel-55&body=lark"


def opened(page: Page, path: str, answer: str) -> None:
    page.open(path)
    page.answer(answer)


def chosen(page: Page) -> str:
    return page.find("[data-chosen][data-ready=true]").get_attribute("data-chosen") or ""


def choose(page: Page, key: str) -> None:
    page.find(f"[data-row='{key}'] button").click()
    page.find(f"[data-chosen='{key}'][data-ready=true]")


def pictures(page: Page, *parts: str) -> list[str]:
    """The addresses of the two pictures, once the first of them holds ``parts``."""

    def there(_: object) -> list[str] | None:
        found = [one.get_attribute("data-picture") or "" for one in page.all(".chosen-pictures .photo")]
        return found if len(found) == 2 and all(found) and all(part in found[0] for part in parts) else None

    shown = page.until(there, f"no pictures of {parts}")
    assert isinstance(shown, list)
    return shown


@pytest.mark.attack
def test_a_row_that_is_chosen_is_shown_beside_the_reference(page: Page) -> None:
    opened(page, LARK + "&view=bodies", "becomes lens kel-55")
    assert chosen(page) == "kel-55~lark~kel-plm-plain~full"
    one, reference = pictures(page, "body=lark", "via=kel-plm-plain")
    assert "mm=55" in reference
    assert "width_mm=36" in reference
    for url in (one, reference):
        assert http.get(page.address + url).headers["content-type"] == "image/png"
    choose(page, "kel-55~lark~kel-plm-reducer~full")
    pictures(page, "via=kel-plm-reducer")
    assert "67.6 mm" in page.text("[data-mistake=framing]")
    # The address brings it back.
    page.driver.refresh()
    pictures(page, "via=kel-plm-reducer")


def test_the_frames_are_as_wide_as_their_angles(page: Page) -> None:
    opened(page, LARK + "&view=bodies", "becomes lens kel-55")
    scale = 240 / (18 / page.number(".nested-frames svg", "data-mm"))
    table = http.get(page.address + "/api/v1/becomes/lens?lens=kel-55").json()
    for row in table["rows"]:
        box = page.box(f"[data-frame='{row['key']}'] .frame-grip")
        angle = row["settings"][0]["angles_deg"]
        assert box["width"] == pytest.approx(2 * scale * math.tan(math.radians(angle["horizontal"] / 2)), rel=1e-3)
        assert box["height"] == pytest.approx(2 * scale * math.tan(math.radians(angle["vertical"] / 2)), rel=1e-3)
        # All of them lie within the picture.
        assert box["x"] >= 0
        assert box["y"] >= 0


@pytest.mark.attack
def test_rows_are_gone_through_by_key(page: Page) -> None:
    opened(page, LARK + "&view=bodies", "becomes lens kel-55")
    rows = [row.get_attribute("data-row") for row in page.all("[data-table=bodies] [data-row]")]
    first = page.find(f"[data-row='{rows[0]}'] button")
    page.driver.execute_script("arguments[0].focus()", first)
    first.send_keys(Keys.ENTER)
    page.find(f"[data-chosen='{rows[0]}']")
    page.press(Keys.ARROW_DOWN, Keys.ARROW_DOWN)
    page.find(f"[data-chosen='{rows[2]}']")
    page.press(Keys.ARROW_UP)
    page.find(f"[data-chosen='{rows[1]}']")
    assert page.find(f"[data-row='{rows[1]}']").get_attribute("aria-current") == "true"


def test_the_camera_one_came_from_and_the_school_change_the_numbers(page: Page) -> None:
    opened(page, LARK + "&view=bodies&ref=lark&equivalence=framing_and_depth", "becomes lens kel-55")
    row = page.text("[data-row='kel-55~lark~kel-plm-plain~full']")
    assert "55 2.2 55 2.2" in row.replace("\n", " ")
    heads = page.text("[data-table=bodies] thead")
    assert "as on Pellam Lark" in heads
    assert "depth as f/" in heads


@pytest.mark.attack
def test_a_number_that_somebody_came_to_is_explained(page: Page) -> None:
    opened(page, LARK + "&view=bodies", "becomes lens kel-55")
    chosen(page)
    page.find(".guess input").send_keys("165")
    page.wait_text("[data-guess=false]", "The crop counted twice")
    page.find(".guess input").send_keys(Keys.BACKSPACE * 3 + "95.2")
    page.wait_text("[data-guess=true]", "Right for the view")
    page.find(".guess input").send_keys(Keys.BACKSPACE * 4 + "71")
    page.wait_text("[data-guess=none]", "Nothing that is usual")


@pytest.mark.attack
def test_a_zoom_is_entered_at_each_mark(page: Page) -> None:
    path = "/frame?lens=kel-28-80&body=lark&view=bodies&row=kel-28-80~lark~kel-plm-reducer~full"
    opened(page, path, "becomes lens kel-28-80")
    page.find("[data-table=entries]")
    told = [row.text.split()[:5] for row in page.all("[data-table=entries] tbody tr")]
    # 28, 35, 50 and 80 mm times 0.71, in whole millimetres.
    assert [(row[0], row[2]) for row in told] == [("28", "20"), ("35", "25"), ("50", "36"), ("80", "57")]
    assert "Enter it anew at each setting" in page.text(".chosen-rig")


@pytest.mark.attack
def test_a_set_has_a_gap_and_leaving_a_lens_at_home_changes_it(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&view=lenses", "becomes body o7")
    assert "Nothing between 140 and 400 mm." in page.text(".screen-head h1").replace("\u00a0", " ")
    gap = page.box("[data-gap='140-400'] rect")
    assert gap["width"] > 20
    row = next(e for e in page.all("[data-table=lenses] tbody tr") if "400" in e.text)
    row.find_element(By.CSS_SELECTOR, "input[type=checkbox]").click()
    page.until(lambda _: "No gap in between" in page.text(".screen-head h1"), "the gap is still told")
    page.gone("[data-gap]")
    assert "out=" in page.driver.current_url
    page.driver.back()
    page.find("[data-gap='140-400']")


def test_a_table_is_taken_out_as_csv(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&view=lenses&whose=all", "becomes body o7")
    link = page.find("a[download='tropeion-lenses.csv']").get_attribute("href") or ""
    rows = list(csv.DictReader(io.StringIO(http.get(link).content.decode("utf-8-sig"))))
    ends = http.get(page.address + "/api/v1/becomes/body?body=o7&whose=all").json()["rows"]
    assert len(rows) == sum(len(one["settings"]) for one in ends)


@pytest.mark.attack
def test_from_a_wish_to_a_rig_to_its_frame_by_keyboard(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7", "frame kel-55 o7 ")
    page.press("w")
    page.answer("wish o7 24 2.8")
    assert "comes near" in page.text(".screen-head h1")
    box = page.find(".becomes-asked input")
    page.driver.execute_script("arguments[0].focus(); arguments[0].select()", box)
    page.press("50")
    page.answer("wish o7 50 2.8")
    assert page.text(".screen-head h1") == "You have it."
    assert chosen(page) == "brn-52~o7~brn-ost-plain~full"
    one, wanted = pictures(page, "lens=brn-52", "aperture=2.8", "mm=52")
    assert "mm=50" in wanted
    assert "aperture=2.8" in wanted
    assert one != wanted

    def to(selector: str) -> None:
        """Tab forward until there."""
        for _ in range(60):
            page.press(Keys.TAB)
            if page.driver.execute_script("return document.activeElement.matches(arguments[0])", selector):
                return
        pytest.fail(f"{selector} is not reached by Tab")

    to("[data-table=own] button")
    page.press(Keys.ENTER)
    to("[data-to=frame]")
    page.press(Keys.ENTER)
    page.find("main[data-answer-for^='frame brn-52 o7']:not([aria-busy=true])")
    assert "Plain ring BRN–OST" in page.text(".screen-head")
    assert "n=2.8" in page.driver.current_url


def test_what_would_have_to_exist_is_told_where_nothing_gives_it(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&view=wish&wf=24&wn=2.8", "wish o7 24 2.8")
    missing = page.find("[data-table=missing]")
    assert missing.get_attribute("open") is not None
    assert "16.0 mm f/1.9 or faster" in missing.text


def test_depth_and_reach(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-plain&view=reach&at=5", "reach kel-55 o7")
    page.find("[data-bars=depth] .bar.chosen")
    stops = [bar.get_attribute("data-bar") for bar in page.all("[data-bars=depth] [data-bar]")]
    assert stops == ["2.2", "2.8", "4", "5.6", "8", "11", "16", "22"]
    # The smaller the stop, the longer the bar.
    widths = [page.box(f"[data-bars=depth] [data-bar='{stop}'] rect")["width"] for stop in stops]
    assert widths == sorted(widths)
    page.find("[data-table=depths] tbody tr:nth-child(5) button").click()
    page.until(lambda d: "n=8" in d.current_url, "the stop is not chosen")
    page.find("[data-bars=depth] .bar.chosen[data-bar='8']")


@pytest.mark.attack
def test_a_length_is_tried(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-plain&view=reach", "reach kel-55 o7")
    page.find("[data-closer='kel-ost-plain+10']")
    box = page.find("#" + (page.find("[data-rows] form label").get_attribute("for") or "").replace(":", "\\:"))
    box.send_keys(Keys.BACKSPACE * 8 + "25" + Keys.ENTER)
    page.find("[data-closer='kel-ost-plain+25']")
    page.gone("[data-closer='kel-ost-plain+10']")
    page.find("[data-bars=closer] [data-bar='kel-ost-plain+25'] rect")
    asked = "/api/v1/becomes/closer?lens=kel-55&body=o7&via=kel-ost-plain&more=25"
    near = http.get(page.address + asked).json()["rows"][-1]["near_mm"]
    assert f"{near / 10:.1f} cm" in page.text("[data-closer='kel-ost-plain+25']")
    box.send_keys(Keys.BACKSPACE * 2 + "far" + Keys.ENTER)
    page.wait_text("[data-rows] [role=alert]", "lengths from above 0 to 500 mm")


@pytest.mark.attack
def test_two_rigs_at_equal_framing(page: Page) -> None:
    path = "/frame?lens=kel-55&body=o7&via=kel-ost-plain&view=reach&at=6&n=4"
    opened(page, path + "&against=kel-55~lark~kel-plm-plain~full", "reach kel-55 o7")
    # f/4 on 36 × 24 mm has the depth of f/2.3 on 20 × 15 mm, from 1.73 times as far.
    page.wait_text("[data-side=second]", "f/2.3")
    assert "10.4 m" in page.text("[data-side=second]")
    assert page.find("[data-noise]").get_attribute("data-noise") == "0"


@pytest.mark.attack
def test_on_a_phone_the_picture_comes_before_the_table(page: Page) -> None:
    page.size(390, 844)
    opened(page, LARK + "&view=wish&wf=50", "wish lark 50 2.8")
    chosen(page)
    tops = [page.find(one).rect["y"] for one in (".nested-frames", ".chosen-pictures", ".becomes-asked", ".row-table")]
    assert tops == sorted(tops)
    rows = page.all(".row-table [data-row]")
    rows[-1].find_element(By.TAG_NAME, "button").click()
    key = rows[-1].get_attribute("data-row")
    page.find(f"[data-chosen='{key}']")
    # What a number is stands before it, where there is no head.
    head = page.driver.execute_script(
        "return getComputedStyle(document.querySelector('.row-table td'), '::before').content"
    )
    assert "set, mm" in head


def test_a_rig_without_a_picture_says_why(page: Page) -> None:
    path = "/frame?lens=kel-55&body=stave-3&view=bodies&whose=all&row=kel-55~stave-3~~full"
    opened(page, path, "becomes lens kel-55")
    assert "there is no picture" in page.text("[data-state=no-picture]")


@pytest.mark.attack
def test_ends_that_are_not_there_are_asked_for(page: Page) -> None:
    page.open("/frame?body=o7&view=bodies")
    assert page.text("[data-state=no-pair] h1") == "Which lens?"
    page.open("/frame?lens=kel-55&view=wish")
    assert page.text("[data-state=no-pair] h1") == "Which body?"
    page.open("/frame?lens=gone&body=o7&view=bodies")
    page.find("[role=alert]")


def test_an_iris_that_stays_closed_is_captioned_as_it_stays(page: Page) -> None:
    path = "/frame?lens=kel-28-80&body=lark&view=bodies&row=kel-28-80~lark~kel-plm-plain~full"
    opened(page, path, "becomes lens kel-28-80")
    page.wait_text(".chosen-pictures figcaption", "28 mm on the ring, f/22")
