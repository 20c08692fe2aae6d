"""The Light path on a phone, in the dark, for a reader of screens, and without anything from elsewhere."""

from __future__ import annotations

import json
from typing import cast

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page

PATHS = {
    "best": "/?lens=kel-55&body=o7",
    "nothing focuses": "/?lens=tol-82&body=o7&via=tpr-ost-plain",
    "danger": "/?lens=kel-55&body=stave-3&via=",
    "glass": "/?lens=grm-98&body=o7",
    "zoom": "/?lens=kel-28-80&body=o7&trust=cautious",
    "long lens": "/?lens=tol-140&body=o7",
    "nothing fits": "/?lens=ost-30&body=vigil",
    "three pieces": "/?lens=tpr-36&body=o7&via=tpr-lsk-step,lsk-ost-plain",
}


@pytest.mark.attack
def test_no_serious_barrier_with_a_panel_open(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    for key, shown in (("p", ".choice"), ("w", ".worked"), ("?", ".keys")):
        page.press(key)
        page.find(shown)
        page.until(lambda d: not d.execute_script("return document.getAnimations().length"), "still moving")
        assert page.axe() == []
        page.press(Keys.ESCAPE)
        page.gone(shown)


@pytest.mark.attack
@pytest.mark.parametrize("path", PATHS.values(), ids=PATHS.keys())
def test_a_phone_scrolls_one_way_only(page: Page, path: str) -> None:
    page.size(390, 844)
    page.open(path)
    page.find("[data-answer-for]")
    width = page.driver.execute_script("return document.documentElement.scrollWidth")
    assert width == 390
    cut = page.driver.execute_script(
        "return [...document.querySelectorAll('h1, h2, .figure, .route-name, .findings li, .steps li')]"
        ".filter(e => e.getBoundingClientRect().right > 390.5 || e.scrollWidth > e.clientWidth + 1)"
        ".map(e => e.textContent)"
    )
    assert cut == []


def test_a_screen_whose_script_cannot_be_fetched_says_so_and_can_be_tried_again(page: Page) -> None:
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": True})
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/more.js"]})
    try:
        page.load("/terms")
        page.wait_text("[role=alert] h1", "does not answer")
        page.messages()
    finally:
        page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
        page.driver.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": False})
    page.push("Try again")
    page.gone("[role=alert]")
    page.wait_text("main h1", "Terms")


def lines_of(page: Page, selector: str) -> dict[str, str]:
    """The lines at what answers to a selector, by what is written there, once it does."""
    read = (
        "return Object.fromEntries([...document.querySelectorAll(arguments[0])]"
        ".map(e => [e.textContent, getComputedStyle(e).textDecorationLine]))"
    )
    return cast(dict[str, str], page.until(lambda d: d.execute_script(read, selector), f"no {selector}"))


def test_a_link_in_the_page_is_underlined_and_what_looks_like_a_button_is_not(page: Page) -> None:
    page.open("/kit/lenses?item=kel-55")
    page.wait_text("main", "On the bench")
    assert lines_of(page, "main a")["On the bench"] == "underline"
    assert lines_of(page, ".screens a")["Kit"] == "none"
    page.open("/frame?lens=kel-55&body=o7")
    assert lines_of(page, "a.ant-btn") == {"Frame as PNG": "none"}


def test_the_main_answer_needs_no_scrolling(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    for selector in (".sentence", ".sheet-svg", ".ribbon", ".sheet > .figures", ".route.selected"):
        rect = page.find(selector).rect
        assert rect["y"] + rect["height"] <= 800, selector


def test_the_theme_can_be_turned(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.press("d")
    page.until(lambda d: d.execute_script("return document.documentElement.dataset.theme") == "dark", "not dark")
    page.driver.refresh()
    page.answer("kel-55 o7 best")
    assert page.driver.execute_script("return document.documentElement.dataset.theme") == "dark"


def test_the_drawing_has_words(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain")
    page.answer("kel-55 o7 kel-ost-plain")
    words = page.find(".sheet-svg").get_attribute("aria-label") or ""
    for part in (
        "Flange focal distance of the lens: 48.20 mm",
        "of the body: 22.40 mm",
        "Plain ring KLV–OST, 25.83 mm",
        "+0.030 mm",
    ):
        assert part in words


def test_no_request_leaves_the_machine(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    names = cast(
        list[str], page.driver.execute_script("return performance.getEntriesByType('resource').map(e => e.name)")
    )
    assert names
    assert [name for name in names if not name.startswith(page.address)] == []
    fonts = json.loads(
        page.driver.execute_script(
            "return JSON.stringify([...document.fonts].filter(f => f.status === 'loaded').map(f => f.family))"
        )
    )
    assert {"Sofia Sans Semi Condensed Variable", "Literata Variable"} <= {name.strip('"') for name in fonts}
