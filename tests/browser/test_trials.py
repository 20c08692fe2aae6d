"""How it did: a ladder noted by keys and by taps, what it comes to where the rig is looked at, one struck out."""

from __future__ import annotations

import httpx
import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tropeion.sample import log_bytes

RIG = "lens=kel-55&body=o7&via=kel-ost-plain"
ROOM = f"/log/trials?{RIG}"


def noted(page: Page) -> None:
    """f/2.2 soft and smeared, f/2.8 and f/4 sharp, by the keys."""
    page.open(ROOM)
    page.answer("trials kel-55 o7 kel-ost-plain")
    page.find('[data-cell="0 0"]').click()
    page.find('[data-cell="0 0"]').click()
    # A tap goes through the verdicts; the keys say one and go on.
    assert page.text('[data-cell="0 0"]') == "soft"
    page.press(Keys.ARROW_RIGHT)
    page.press("3", "1", "1", "1", "1")


@pytest.mark.attack
def test_a_ladder_by_keys_and_what_it_comes_to(own_sample_page: Page) -> None:
    page = own_sample_page
    noted(page)
    assert [page.text(f'[data-cell="{row} {column}"]') for row in range(3) for column in range(2)] == [
        "soft",
        "smeared",
        *["sharp"] * 4,
    ]
    page.press("0")
    page.push("Keep 3 stops")
    page.wait_text("[data-usable='2.8']", "Paid stills: usable from f/2.8 (3 trials: 3 own; ")
    assert len(page.all("[data-trial-at]")) == 3
    assert page.axe() == []
    # Told where the rig is looked at, and there one comes back to the trials.
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain")
    page.wait_text("[data-usable-says]", "usable from f/2.8")
    page.open(f"/setup?{RIG}")
    page.wait_text("[data-usable-says]", "usable from f/2.8")
    page.find("[data-usable-says] a").click()
    page.answer("trials kel-55 o7 kel-ost-plain")
    # One is struck out, with a reason, and shown.
    page.push("strike out", ".trials-told li:nth-child(2)")
    page.find(".trials-told .log-because input").send_keys("focus was missed")
    page.push("Strike it out")
    page.find("[data-usable='4']")
    page.wait_text(".trial-not-counted", "not counted: struck out: focus was missed")


def test_nothing_tried_yet_offers_what_is_known(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/log/trials")
    page.wait_text("h1", "Nothing was tried yet. Which rig?")
    page.until(lambda _: any("Gallery camera" in button.text for button in page.all("main button")), "a rig")
    next(button for button in page.all("main button") if "Gallery camera" in button.text).click()
    page.answer("trials kel-55 o7 kel-ost-plain")
    page.wait_text(".trials-none", "It was not tried yet")
    assert page.axe() == []


@pytest.mark.attack
def test_on_a_phone_in_the_dark(own_sample_page: Page) -> None:
    page = own_sample_page
    page.size(390, 844)
    page.dark(True)
    noted(page)
    assert page.driver.execute_script("return document.documentElement.scrollWidth") <= 390
    assert page.axe() == []


def test_a_zoom_is_drawn_end_by_end(own_sample_page: Page) -> None:
    page = own_sample_page
    httpx.post(f"{page.address}/api/v1/log/file?take=new", content=log_bytes(), timeout=60).raise_for_status()
    page.open("/log/trials?lens=kel-28-80&body=o7&via=kel-ost-plain")
    page.answer("trials kel-28-80 o7 kel-ost-plain")
    short, long = page.all(".trials-use")
    assert short.text.startswith("Paid stills at 28 mm: usable from f/8")
    assert long.text.startswith("Paid stills at 80 mm: no usable stop")
    # Each has its own trials alone, f/8 stands at one place in both; nothing is shaded where nothing is usable.
    marks = [figure.find_elements("css selector", "[data-trial-at]") for figure in (short, long)]
    assert [[mark.get_attribute("data-trial-at") for mark in some] for some in marks] == [["4", "8"], ["8"]]
    assert marks[0][1].rect["x"] == marks[1][0].rect["x"]
    assert [len(figure.find_elements("css selector", ".trial-usable")) for figure in (short, long)] == [1, 0]
