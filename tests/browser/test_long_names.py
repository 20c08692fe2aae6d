"""Names and notes without a gap wrap: no screen grows wider, no drawing lets them out, a card is one page."""

from __future__ import annotations

import base64
import re
from collections.abc import Iterator
from typing import Any, cast

import pytest
from selenium import webdriver

from tests.browser.conftest import Page
from tests.conftest import Serve, Served
from tests.prepared import empty_at
from tests.thorough import some
from tropeion.core.gear.gear import Gear

WIDEST, NOTES = "W" * 119, "n" * 4000


def long_winded(gear: Gear) -> Gear:
    """Every name as long and wide as may be."""
    shelves = {
        kind: tuple(one.model_copy(update={"name": letter + WIDEST, "notes": NOTES}) for one in getattr(gear, kind))
        for kind, letter in (("mounts", "M"), ("bodies", "B"), ("lenses", "L"), ("adapters", "R"), ("rigs", "S"))
    }
    return gear.model_copy(update=shelves)


@pytest.fixture(scope="module")
def served(serve_long: Serve, sample_gear: Gear, tmp_path_factory: pytest.TempPathFactory) -> Served:
    collection = empty_at(tmp_path_factory.mktemp("long") / "collection.sqlite")
    collection.replace(long_winded(sample_gear))
    return serve_long(collection)


@pytest.fixture
def page(driver: webdriver.Chrome, served: Served) -> Iterator[Page]:
    page = Page(driver, served.address)
    page.size(1280, 800)
    yield page
    page.size(1280, 800)


WAY_OUT = """
const out = [];
for (const svg of document.querySelectorAll("svg")) {
  const room = svg.getBoundingClientRect();
  for (const text of room.width ? svg.querySelectorAll("text") : []) {
    const box = text.getBoundingClientRect();
    if (box.right > room.right + 2 || box.left < room.left - 2) out.push(text.textContent.slice(0, 40));
  }
}
return out;
"""

VIEWS = {
    "/?lens=kel-55&body=o7": "kel-55 o7 best",
    "/mounts": None,
    "/mounts/kelvane": None,
    "/mounts/kelvane/key": None,
    "/kit/lenses?item=kel-55": "kit lenses ",
    "/kit/rigs": "kit rigs ",
    "/fit?mount=kelvane&mm=50": "fit kelvane 50",
}


@pytest.mark.parametrize("path", some(VIEWS, ["/mounts/kelvane"]))
def test_no_screen_grows_wider_and_no_drawing_lets_them_out(page: Page, path: str) -> None:
    for width, height in ((1280, 800), (390, 844)):
        page.size(width, height)
        page.open(path)
        key = VIEWS[path]
        if key is None:
            page.wait_text("main", "MWWW")
        else:
            page.answer(key)
        page.until(lambda d: "WWWW" in d.find_element("css selector", "body").text, "the long names are not there")
        assert page.driver.execute_script("return document.documentElement.scrollWidth") <= width
        assert page.driver.execute_script(WAY_OUT) == []


def test_a_card_stays_one_page(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    printed = cast(dict[str, Any], page.driver.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True}))
    assert len(re.findall(rb"/Type\s*/Page[^s]", base64.b64decode(printed["data"]))) == 1
