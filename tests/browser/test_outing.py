"""An outing from nothing to the bag; stored lenses; corners that become a measured circle; cards on paper."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.browser.test_on_paper import asked, over, printed, size_of, squeezed, words_of
from tests.browser.test_rehearsal import tap
from tests.limits import http

MM = 72 / 25.4


def planned(page: Page) -> None:
    """Three kept rigs, and the first once more at the end."""
    page.open("/outing")
    page.find("[data-state=empty]")
    tap(page, "Plan one with the 3 kept rigs")
    page.find(".lanes")
    box = page.find("[aria-label='A new shot']")
    box.send_keys("The case", Keys.ENTER)
    page.find("[data-shot='The case']")


def swaps(page: Page) -> list[int]:
    return [int(one.get_attribute("data-swaps") or "-1") for one in page.all(".lane-swaps")]


def pick(page: Page, label: str, option: str) -> None:
    page.find(f"[aria-label='{label}']").click()

    def taken(_: object) -> bool:
        found = [one for one in page.all(".ant-select-item-option") if one.text == option and one.is_displayed()]
        if found:
            found[0].click()
        return bool(found)

    page.until(taken, f"no option {option}")


@pytest.mark.attack
def test_the_order_that_swaps_least_is_shown_and_taken(own_sample_page: Page) -> None:
    page = own_sample_page
    planned(page)
    pick(page, "Rig for The case", "Gallery camera")
    page.wait_text(".screen-head h1", "4 swaps as planned, 3 in the order that swaps least")
    assert swaps(page) == [1, 1, 1, 1]
    tap(page, "fewest: 3 swaps")
    page.find("[data-order=least]")
    assert swaps(page) == [1, 0, 1, 1]
    tap(page, "Take this order")
    page.wait_text(".screen-head h1", "3 swaps, and no order needs fewer")
    assert [one.text for one in page.all(".outing-shot-name")][:2] == ["Gallery camera", "The case"]
    # The body that takes the shot is framed in its column; what stands on the other stays in sight.
    assert len(page.all(".lane-cell.taking")) == 4
    page.press(Keys.CONTROL, "z")
    page.wait_text(".screen-head h1", "4 swaps as planned")


@pytest.mark.attack
def test_the_bag_is_packed_and_kept(own_sample_page: Page) -> None:
    page = own_sample_page
    planned(page)
    total = len(page.all("[data-packed]"))
    page.wait_text("main", f"{total} to pack")
    page.find("[data-packed=kel-55] input").click()
    page.wait_text("main", f"{total - 1} to pack")
    page.driver.refresh()
    page.find("[data-packed=kel-55].is-packed")
    assert "1 to rent" not in page.text("[data-packed=kel-55]")
    # A cine foot by the day: 4.0.
    assert "1 to rent, 4 a day" in page.text("[data-packed=foot-104]")
    assert "290 g" in page.text("[data-packed=kel-55]")
    assert "Charged, and a spare each, for Ostrel O7, which feeds Orlop active MRW–OST too" in page.text(
        "[data-section=batteries]"
    )


@pytest.mark.attack
def test_cards_of_an_outing_stand_four_on_a_side_of_a4(own_sample_page: Page) -> None:
    page = own_sample_page
    planned(page)
    page.until(lambda _: "Print all cards on A4" in page.text("main"), "no cards")
    asked(page, "Print all cards on A4")
    cut = page.driver.execute_script(
        "return [...document.querySelectorAll('.rig-card-quarter')].map(e => e.scrollHeight - e.clientHeight)"
    )
    assert len(cut) == 3
    assert max(cut) <= 1
    pdf = printed(page)
    assert len(pdf.pages) == 1
    assert size_of(pdf) == pytest.approx((210 * MM, 297 * MM), abs=1)
    words = words_of(pdf)
    for text in ("Gallery camera", "Pipe marks", "Blower film", "Enter 55 mm.", "Set the desqueeze to 1.6"):
        assert squeezed(text) in words
    over(page)
    page.size(390, 844)
    page.find(".lanes")
    assert page.driver.execute_script("return document.documentElement.scrollWidth") == 390
    assert page.axe() == []


SIDES = [("Print the card on A6", (105, 148)), ("on A5", (148, 210))]


@pytest.mark.attack
@pytest.mark.parametrize(("button", "sides"), SIDES)
def test_a_card_alone_fits_its_side(page: Page, button: str, sides: tuple[int, int]) -> None:
    page.open("/setup/film")
    page.answer("setup qlk-50 vigil")
    steps = [one.text for one in page.all(".steps li label > span:last-child")]
    asked(page, button)
    pdf = printed(page)
    assert len(pdf.pages) == 1
    assert size_of(pdf) == pytest.approx([side * MM for side in sides], abs=1)
    words = words_of(pdf)
    assert len(steps) > 12
    for text in steps:
        assert squeezed(text) in words
    over(page)


def _elsewhere(page: Page, **changed: Any) -> None:
    """The outing of this page, changed from another window."""
    path = f"{page.address}/api/v1/outings/{page.driver.current_url.rsplit('/', 1)[1]}"
    told = http.get(path).json()
    outing = {**told["outing"], **changed}
    http.put(path, json={"outing": outing, "version": told["version"]}).raise_for_status()


@pytest.mark.attack
def test_two_windows_on_one_outing_lose_nothing(own_sample_page: Page) -> None:
    page = own_sample_page
    planned(page)
    # What each window changed for itself stands beside the other's.
    _elsewhere(page, day="2026-12-01", packed=["o7"])
    page.find("[data-packed=kel-55] input").click()
    page.find("[data-packed=kel-55].is-packed")
    page.find("[data-packed=o7].is-packed")
    assert page.all("[data-state=moved], [data-state=refused]") == []
    # Of what both changed, both sides are shown, and one is chosen.
    name = page.find("[aria-label='Name of the outing']").get_attribute("value")
    _elsewhere(page, name="East gallery")
    rename(page, "South gallery")
    page.wait_text("[data-state=moved]", "Name: “East gallery” there, “South gallery” here")
    assert page.axe() == []
    tap(page, "Keep mine")
    page.until(lambda _: not page.all("[data-state=moved]"), "it is still contested")
    held = http.get(f"{page.address}/api/v1/outings").json()
    assert [one["name"] for one in held] == ["South gallery"]
    assert name not in {"East gallery", "South gallery"}


def rename(page: Page, name: str) -> None:
    box = page.find("[aria-label='Name of the outing']")
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys(name, Keys.ENTER)


# Stored lenses and corners


@pytest.mark.attack
def test_a_place_that_another_window_filled_is_not_written_over(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/setup/gallery?view=stored")
    page.wait_text(".screen-head h1", "1 still to be stored.")
    theirs = {"number": 1, "label": "Theirs", "lens": "kel-55", "adapters": ["kel-ost-plain"], "marked_mm": 55}
    body = {**theirs, "focal_length_mm": 54, "version": 0}
    http.put(f"{page.address}/api/v1/stored", params={"body": "o7"}, json=body).raise_for_status()
    tap(page, "Note it at place 1")
    page.wait_text("[data-state=moved]", "Place 1: “Theirs”, 54 mm, there, “55/2.2+KLV”, 55 mm, here")
    tap(page, "Keep what is there")
    page.wait_text("[data-place='1']", "Theirs")
    page.until(lambda _: not page.all("[data-state=moved]"), "it is still contested")


@pytest.mark.attack
def test_a_place_is_noted_pinned_and_taken_back(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/setup/gallery?view=stored")
    page.wait_text(".screen-head h1", "1 entry for 10 places. 1 still to be stored.")
    tap(page, "Note it at place 1")
    page.wait_text("[data-place='1']", "55/2.2+KLV")
    page.wait_text(".screen-head h1", "All are stored.")
    tap(page, "pin")
    page.find("[data-place='1'] [aria-pressed=true]")
    page.find("main h1").click()
    page.driver.switch_to.active_element.send_keys(Keys.CONTROL, "z")
    page.find("[data-place='1'] [aria-pressed=false]")
    assert page.axe() == []


@pytest.mark.attack
def test_corners_looked_at_become_the_measured_circle(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/setup/gallery")
    page.answer("setup kel-55 o7")
    rows = page.all(".corners tr")
    assert [one.find_element(By.CSS_SELECTOR, "th").text for one in rows] == [
        "at rest",
        "at 50 %",
        "at 75 %",
        "at 100 %",
    ]
    for row, word in ((1, "clean"), (2, "dark")):
        button = next(one for one in rows[row].find_elements(By.CSS_SELECTOR, "button") if one.text == word)
        page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
        button.click()
    tap(page, "Note what I saw")
    page.wait_text("[data-corners]", "at least 49.1 mm, up to 2.9 mm more")
    tap(page, "Write it to the lens as measured")
    # The card says it anew: the circle is measured now, and leaves room for half the travel.
    page.wait_text(".steps-section", "The image circle, as measured, leaves room for 50% of its travel: set that.")


@pytest.mark.attack
def test_a_second_support_relieves_the_joints_between(page: Page) -> None:
    page.open("/setup/film?with=")
    page.answer("setup qlk-50 vigil")
    second = page.find("[aria-label='And besides']")
    assert "the screw of Skarn Vigil" in second.text
    next(one for one in second.find_elements(By.CSS_SELECTOR, "button") if "Vigil" in one.text).click()
    page.until(lambda _: page.text("[data-table=joints]").count("held") == 2, "no joint is held")
    assert "second=vigil" in page.driver.current_url


def test_where_nothing_is_kept_an_outing_leads_to_the_light_path(own_page: Page) -> None:
    own_page.open("/outing")
    own_page.find("[data-state=empty]")
    assert "an outing is made of kept rigs" in own_page.text("main").lower()
    assert own_page.find("main .message-actions a").get_attribute("href") == own_page.address + "/"
    own_page.open("/outing/00000000-0000-0000-0000-000000000000")
    own_page.find("[role=alert]")
