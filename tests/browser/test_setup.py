"""The set-up: a rig on what holds it, a card that is ticked off, what is put on it, and the code on its flange."""

from __future__ import annotations

import math
import re
from datetime import date
from typing import Any

import pytest
from pypdf import PageObject
from selenium.webdriver.common.by import By

from tests.browser.conftest import Page
from tests.browser.test_on_paper import printed, squeezed
from tests.limits import http


def opened(page: Page, path: str, answer: str) -> None:
    page.open(path)
    page.answer(answer)
    page.find(".balance-support")


@pytest.mark.attack
def test_a_kept_rig_is_reached_from_the_light_path(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain")
    page.answer("kel-55 o7 kel-ost-plain")
    page.find(".keep a[href='/setup/gallery']").click()
    page.answer("setup kel-55 o7")
    assert "Gallery camera" in page.text(".screen-head")
    said = page.text(".screen-head h1").replace("\u00a0", " ")
    assert said.startswith("On the camera: release without a lens, 55 mm for the stabiliser")


def test_the_balance_is_drawn_to_scale(page: Page) -> None:
    opened(page, "/setup/gallery", "setup kel-55 o7")
    scale = page.number(".balance-sheet .section", "data-scale")
    sensor = page.number(".balance-sheet .section", "data-sensor")
    centre = page.number(".balance-centre", "data-centre")
    held = page.number(".balance-support", "data-held")
    disc = page.box(".balance-centre circle")
    assert disc["x"] + disc["width"] / 2 == pytest.approx(sensor - scale * centre, abs=0.6)
    foot = page.box(".balance-support")
    assert foot["x"] + foot["width"] / 2 == pytest.approx(sensor - scale * held, abs=0.6)
    told = http.get(page.address + "/api/v1/setup?lens=kel-55&body=o7&via=kel-ost-plain").json()["balance"]
    assert centre == pytest.approx(told["centre_of_mass_mm"])
    assert held == told["held_by"]["at_mm"]
    # A gauge is as full as its joint bears of what it may.
    for joint in told["joints"]:
        gauge = f"[data-joint='{joint['joint']}']"
        share = joint["moment_nm"] / joint["rating_nm"]
        assert page.number(gauge, "data-share") == pytest.approx(share, abs=1e-3)
        assert page.box(f"{gauge} .gauge-fill")["height"] == pytest.approx(46 * share / 1.25, abs=0.5)


@pytest.mark.attack
def test_another_support_changes_what_the_joints_bear(page: Page) -> None:
    opened(page, "/setup/film", "setup qlk-50 vigil")
    before = page.text("[data-table=joints]")
    page.find(".toggles [aria-pressed=false]")
    screw = next(one for one in page.all(".toggles button") if "screw" in one.text)
    screw.click()
    page.until(lambda _: page.text("[data-table=joints]") != before, "the joints bear the same")
    assert "held=vigil" in page.driver.current_url
    page.wait_text(".balance-held", "held by Skarn Vigil")


def test_the_card_is_ticked_in_its_stages_and_resumed(own_sample_page: Page) -> None:
    page = own_sample_page
    opened(page, "/setup/gallery", "setup kel-55 o7")
    stages = [one.text for one in page.all(".steps-stage")]
    assert stages == ["At the joint", "Once joined", "At power-on", "At the first frame"]
    # Numbers go on from one stage to the next.
    numbers = [int(one.text) for one in page.all(".step-number")]
    assert numbers == list(range(1, len(numbers) + 1))
    page.all(".steps input")[0].click()
    page.wait_text(".steps-section h2", f"1 of {len(numbers)} done")
    page.driver.refresh()
    page.answer("setup kel-55 o7")
    page.wait_text(".steps-section h2", f"1 of {len(numbers)} done")


@pytest.mark.attack
def test_two_windows_tick_one_card_and_every_tick_stands(own_sample_page: Page) -> None:
    page = own_sample_page
    opened(page, "/setup/gallery", "setup kel-55 o7")
    rig = {"lens": "kel-55", "body": "o7", "adapters": "kel-ost-plain", "day": date.today().isoformat()}
    theirs = {**rig, "ticked": ["Power off."], "version": 0}
    http.put(f"{page.address}/api/v1/cards", json=theirs).raise_for_status()
    page.all(".steps input")[1].click()
    page.wait_text(".steps-section h2", "done")

    def both(_: object) -> bool:
        return len(http.get(f"{page.address}/api/v1/cards", params=rig).json()["ticked"]) == 2

    page.until(both, "a tick is lost")
    page.until(lambda _: not page.all(".problems"), "something was refused")


@pytest.mark.attack
def test_what_is_put_on_it_goes_together_or_not(page: Page) -> None:
    opened(page, "/setup/film?with=cage-vigil,foot-104", "setup qlk-50 vigil")
    verdicts = {one.text: one.get_attribute("data-verdict") for one in page.all("[data-list=pairs] li")}
    said = {verdict: text for text, verdict in verdicts.items()}
    assert "it clamps to 104 mm, the barrel has 86 mm (by their measures)" in said["fails"]
    assert "the lower bar turned round" in said["with_part"]
    assert "cannot be changed while the cage is on" in said["fixed"]
    assert "Nobody has tried" in page.text("[data-list=untried]")
    centre = page.number(".balance-centre", "data-centre")
    page.open("/setup/film?with=")
    page.until(lambda _: page.number(".balance-centre", "data-centre") != centre, "it weighs the same")
    assert page.all("[data-list=pairs]") == []


@pytest.mark.attack
def test_a_flange_is_marked_and_read_back(page: Page) -> None:
    opened(page, "/setup?lens=lis-28&body=verge&via=", "setup lis-28 verge")
    section = page.find("[data-section=code]")
    first = page.find("[data-wrong]").get_attribute("data-wrong")
    section.find_elements(By.CSS_SELECTOR, ".toggles button")[1].click()
    page.until(lambda _: page.find("[data-wrong]").get_attribute("data-wrong") != first, "the same profile")
    digits = page.find("[data-wrong]").get_attribute("data-wrong") or ""
    source = page.find(".code-template img").get_attribute("src") or ""
    assert f"digits={digits}" in source
    # As wide on the screen as it is on paper: the flange of 55 mm with its margins, and the caption.
    template = http.get(source).text
    wide = re.search(r'width="([\d.]+)mm"', template)
    assert wide is not None
    assert float(wide[1]) >= 55 + 2 * 8
    width = page.driver.execute_script("return document.querySelector('.code-template img').naturalWidth")
    assert width == pytest.approx(float(wide[1]) * 96 / 25.4, abs=1.5)
    page.find(".code-read input").send_keys("1010011")
    page.wait_text("[data-read='1010011']", "The body takes it for Lisken 40/2. Of yours, Lisken 40/2 is marked so.")
    opened(page, "/setup/gallery", "setup kel-55 o7")
    assert page.all("[data-section=code]") == []


def test_a_rig_that_must_not_be_mounted_says_only_that(page: Page) -> None:
    opened(page, "/setup?lens=kel-55&body=stave-3&via=", "setup kel-55 stave-3")
    assert page.text(".steps-section h2") == "Before anything else"
    assert len(page.all(".steps .caution")) == len(page.all(".steps li"))


def test_where_there_is_no_rig_it_says_what_to_do(page: Page) -> None:
    page.open("/setup?lens=lis-28&body=nave")
    page.find("[data-state=nothing-fits]")
    page.open("/setup/gone")
    page.find("[data-state=gone] .undo")
    page.find('[data-state=gone] a[href="/kit/rigs"]')


def strokes_mm(sheet: PageObject) -> list[tuple[float, float]]:
    """Width and height of every straight stroke and box on a page of a PDF, in mm on the paper."""
    found: list[tuple[float, float]] = []
    point, begun = (0.0, 0.0), (0.0, 0.0)

    def seen(operator: bytes, operands: list[Any], matrix: list[float], _: list[float]) -> None:
        nonlocal point, begun

        def on_paper(x: float, y: float) -> tuple[float, float]:
            return (x * matrix[0] + y * matrix[2]) * 25.4 / 72, (x * matrix[1] + y * matrix[3]) * 25.4 / 72

        numbers = [float(one) for one in operands] if operator in {b"m", b"l", b"re"} else []
        if operator == b"re":
            for side in ((numbers[2], 0.0), (0.0, numbers[3])):
                across, up = on_paper(*side)
                found.append((abs(across), abs(up)))
        elif operator == b"m":
            point = begun = numbers[0], numbers[1]
        elif operator in {b"l", b"h"}:
            to = (numbers[0], numbers[1]) if operator == b"l" else begun
            across, up = on_paper(to[0] - point[0], to[1] - point[1])
            found.append((abs(across), abs(up)))
            point = to

    sheet.extract_text(visitor_operand_before=seen)
    return found


@pytest.mark.attack
def test_the_template_of_a_flange_measures_true_on_paper(page: Page) -> None:
    """From the page's own geometry: the bar is 50 mm long, a field as large as the mount says."""
    opened(page, "/setup?lens=lis-40&body=verge&via=", "setup lis-40 verge")
    loaded = "const i = document.querySelector('.code-template img'); return i && i.complete && i.naturalWidth > 0"
    page.until(lambda d: d.execute_script(loaded), "no template")
    sheet = next(one for one in printed(page).pages if squeezed("Which lens is it?") in squeezed(one.extract_text()))
    strokes = strokes_mm(sheet)
    assert any(across == pytest.approx(50, abs=0.1) and up == pytest.approx(0, abs=0.1) for across, up in strokes)
    # Fields of 2.4 × 3.2 mm stand turned: their sides are as long, whichever way they point.
    sides = [math.hypot(across, up) for across, up in strokes if across > 0.2 and up > 0.2]
    assert sum(side == pytest.approx(2.4, abs=0.05) for side in sides) >= 7
    assert sum(side == pytest.approx(3.2, abs=0.05) for side in sides) >= 7


def test_a_changed_plate_has_a_card_of_its_own(page: Page) -> None:
    page.open("/setup?lens=kel-55&body=plate..vigil..ostrel&via=kel-ost-plain")
    page.wait_text("main", "Change the plate of Skarn Vigil to Ostrel (2 mm hex key, 20 minutes)")
    page.wait_text("main", "held by Skarn Vigil, Ostrel plate")


def test_a_plan_says_what_is_slow_and_what_has_to_be_supported(own_sample_page: Page) -> None:
    page = own_sample_page
    demands = [{"lens": "mrw-62", "bodies": ["lark"]}, {"lens": "grm-300", "bodies": ["o7"]}]
    made = http.post(f"{page.address}/api/v1/plans", json={"name": "It", "question": {"demands": demands}})
    page.open(f"/plan/{made.raise_for_status().json()['id']}")
    page.wait_text('[data-serves="mrw-62"]', "slowly: autofocus")
    page.wait_text('[data-serves="grm-300"]', "it is rated for 1.60 N·m. Support it")
    page.wait_text("[data-step]", "1 of them slowly")
