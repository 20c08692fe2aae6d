"""A real browser against the real server."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, cast

import pytest
from selenium import webdriver
from selenium.common.exceptions import ElementNotInteractableException, StaleElementReferenceException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tests.conftest import Serve, Served
from tropeion.core.gear.gear import Gear
from tropeion.store.collection import Collection

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--hide-scrollbars",
)
PATIENCE_S = 20
# React may replace an element between finding it and asking it; a panel may still be sliding in.
MOVING = (StaleElementReferenceException, ElementNotInteractableException)


class Page:
    """The browser, in the words of the screen."""

    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def size(self, width: int, height: int) -> None:
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def dark(self, on: bool) -> None:
        feature = {"name": "prefers-color-scheme", "value": "dark" if on else "light"}
        self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": [feature]})

    def open(self, path: str = "/") -> None:
        self.driver.get(self.address + path)

    def until(self, condition: Callable[[webdriver.Chrome], Any], what: str) -> Any:
        patience = WebDriverWait(self.driver, PATIENCE_S, 0.05, MOVING)
        return patience.until(condition, what)

    def answer(self, key: str) -> None:
        """Wait until the page shows the settled answer to ``key``."""
        self.until(lambda d: d.find_elements(By.CSS_SELECTOR, f'[data-answer-for="{key}"]'), f"no answer to {key}")
        self.gone('[data-moving="true"]')

    def find(self, selector: str) -> WebElement:
        return cast(
            WebElement,
            self.until(lambda d: next(iter(d.find_elements(By.CSS_SELECTOR, selector)), None), f"no {selector}"),
        )

    def all(self, selector: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def gone(self, selector: str) -> None:
        self.until(lambda _: not self.all(selector), f"{selector} is still there")

    def text(self, selector: str) -> str:
        return cast(str, self.until(lambda _: (self.find(selector).text, True), f"no {selector}")[0])

    def wait_text(self, selector: str, part: str) -> None:
        self.until(lambda _: part in self.text(selector), f"no '{part}' in {selector}")

    def press(self, *keys: str) -> None:
        self.driver.switch_to.active_element.send_keys(*keys)

    def pick(self, kind: str, typed: str, option: str) -> None:
        """Type into a picker and take the option of that name."""
        box = self.find(f".picker-{kind} input")
        box.click()
        box.send_keys(typed)

        def taken(_: object) -> bool:
            found = [entry for entry in self.all(".picker-popup .entry-name") if entry.text == option]
            if found:
                found[0].click()
            return bool(found)

        self.until(taken, f"no option {option}")

    def number(self, selector: str, attribute: str) -> float:
        return float(self.find(selector).get_attribute(attribute) or "nan")

    def box(self, selector: str) -> dict[str, float]:
        """The bounding box of an SVG element, in user units."""
        script = "const b = arguments[0].getBBox(); return {x: b.x, y: b.y, width: b.width, height: b.height};"
        return cast(dict[str, float], self.driver.execute_script(script, self.find(selector)))

    def messages(self) -> list[str]:
        entries = self.driver.get_log("browser")  # type: ignore[no-untyped-call]
        return [entry["message"] for entry in entries]

    def axe(self) -> list[str]:
        """Serious and critical violations."""
        self.driver.execute_script(AXE.read_text(encoding="utf-8"))
        found = self.driver.execute_async_script(
            "const done = arguments[arguments.length - 1];"
            "const wanted = {resultTypes: ['violations'], preload: false, selectors: false};"
            "axe.run(document, wanted).then(r => done(r.violations));"
        )
        return [
            f"{v['id']}: {node['html'][:160]} {node['failureSummary'][:200]}"
            for v in found
            if v["impact"] in {"serious", "critical"}
            for node in v["nodes"]
        ]

    def clear(self) -> None:
        self.press(Keys.ESCAPE)


class Browsers:
    """One browser at a time, a fresh one after so many tests: an old one grows slow."""

    MOST_TESTS = 30

    def __init__(self, folders: pytest.TempPathFactory) -> None:
        self._folders = folders
        self._current: webdriver.Chrome | None = None
        self.tests = 0

    def current(self) -> webdriver.Chrome:
        """The browser that is open, or a fresh one."""
        if self._current is not None and self.tests >= self.MOST_TESTS:
            self.close()
        if self._current is None:
            self._current, self.tests = self._opened(), 0
        return self._current

    def _opened(self) -> webdriver.Chrome:
        browser, chromedriver = shutil.which("chromium"), shutil.which("chromedriver")
        assert browser, "Chromium is missing: 'make test' installs it"
        assert chromedriver, "ChromeDriver is missing: 'make test' installs it"
        options = Options()
        options.binary_location = browser
        for flag in (*FLAGS, f"--user-data-dir={self._folders.mktemp('browser')}"):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        return webdriver.Chrome(options=options, service=Service(chromedriver))

    def close(self) -> None:
        """Put the browser away."""
        if self._current is not None:
            self._current.quit()
            self._current = None


@pytest.fixture(scope="session")
def browsers(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Browsers]:
    found = Browsers(tmp_path_factory)
    yield found
    found.close()


@pytest.fixture(scope="module")
def driver(browsers: Browsers) -> webdriver.Chrome:
    """The browser; the same throughout a module."""
    return browsers.current()


@pytest.fixture(autouse=True)
def _counted(browsers: Browsers) -> None:
    browsers.tests += 1


@pytest.fixture
def page(driver: webdriver.Chrome, sample_server: Served) -> Iterator[Page]:
    """The sample world at 1280 × 800 in light; after the test there is no message in the console."""
    yield from _page(driver, sample_server.address)


@pytest.fixture
def demo_page(driver: webdriver.Chrome, demo_server: Served) -> Iterator[Page]:
    """The demo, which has a gallery."""
    yield from _page(driver, demo_server.address)


@pytest.fixture
def own_page(driver: webdriver.Chrome, serve: Serve, tmp_path: Path) -> Iterator[Page]:
    """An empty collection of its own."""
    yield from _page(driver, serve(Collection(tmp_path / "collection.sqlite")).address)


@pytest.fixture
def own_sample_page(driver: webdriver.Chrome, serve: Serve, tmp_path: Path, sample_gear: Gear) -> Iterator[Page]:
    """The sample world in a collection of its own, for tests that write."""
    collection = Collection(tmp_path / "collection.sqlite")
    collection.replace(sample_gear)
    yield from _page(driver, serve(collection).address)


def _page(driver: webdriver.Chrome, address: str) -> Iterator[Page]:
    page = Page(driver, address)
    page.size(1280, 800)
    page.dark(False)
    driver.get(address + "/mark.svg")
    driver.execute_script("window.localStorage.clear()")
    page.messages()
    yield page
    # What the server refused on purpose is reported by the browser as a failed load, and only that.
    noise = [message for message in page.messages() if "status of 4" not in message]
    assert noise == []
