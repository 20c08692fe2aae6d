"""A real browser against the real server."""

from __future__ import annotations

import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, cast

import pytest
from selenium import webdriver
from selenium.common.exceptions import ElementNotInteractableException, StaleElementReferenceException, TimeoutException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tests.conftest import Serve, Served
from tests.limits import LIMIT_S
from tests.prepared import begin_anew, sample_at
from tropeion.api.app import WEB_FILES

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
# An address that no screen has.
NOTHING = "/nothing-stands-here"
# React may replace an element between finding it and asking it; a panel may still be sliding in.
MOVING = (StaleElementReferenceException, ElementNotInteractableException)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """All of this folder drives the browser, which wants the web files."""
    skipped = pytest.mark.skipif(not (WEB_FILES / "index.html").is_file(), reason="the web files are not built")
    for item in items:
        if Path(__file__).parent in item.path.parents:
            item.add_marker(pytest.mark.browser)
            item.add_marker(skipped)


class Page:
    """The browser, in the words of the screen."""

    def __init__(self, driver: webdriver.Chrome, address: str, *, loaded: bool = False) -> None:
        """``loaded``: the application stands there already, at the page of nothing."""
        self.driver, self.address, self.loaded = driver, address, loaded

    def size(self, width: int, height: int) -> None:
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def dark(self, on: bool) -> None:
        feature = {"name": "prefers-color-scheme", "value": "dark" if on else "light"}
        self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": [feature]})

    def load(self, path: str = "/") -> None:
        """Like a new window at an address: everything is loaded anew."""
        self.driver.get(self.address + path)
        self.loaded = True

    def open(self, path: str = "/") -> None:
        """Come to an address as a link does, within the application; nothing of the last screen is left standing."""
        if not self.loaded or not self.driver.current_url.startswith(self.address + "/"):
            self.load(path)
            return
        self.leave()
        self._go(path)

    def leave(self) -> None:
        """To the page of nothing."""
        self._go(NOTHING)
        self.answer("no page")

    def _go(self, path: str) -> None:
        self.driver.execute_script(
            "history.pushState(null, '', arguments[0]); dispatchEvent(new PopStateEvent('popstate'))", path
        )

    def until(self, condition: Callable[[webdriver.Chrome], Any], what: str) -> Any:
        patience = WebDriverWait(self.driver, LIMIT_S, 0.05, MOVING)
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
        try:
            self.until(lambda _: part in self.text(selector), "")
        except TimeoutException as error:
            there = [one.text for one in self.all(selector)]
            raise AssertionError(f"no '{part}' in {selector}: {there}") from error

    def press(self, *keys: str) -> None:
        def taken(driver: webdriver.Chrome) -> bool:
            driver.switch_to.active_element.send_keys(*keys)
            return True

        # What has the focus may be put away just now: then whatever has it next takes them.
        self.until(taken, "nothing takes the keys")

    def push(self, text: str, within: str = "main") -> None:
        """Click the button that says this, once it is there."""

        def clicked(_: object) -> bool:
            found = [button for button in self.all(f"{within} button") if button.text.strip() == text]
            shown = [button for button in found if button.is_displayed()]
            if shown:
                shown[0].click()
            return bool(shown)

        self.until(clicked, f"no button {text}")

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
        if not self.driver.execute_script("return 'axe' in window"):
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


def chromium(folder: Path, *flags: str, home: Path | None = None) -> webdriver.Chrome:
    """A browser with a profile in ``folder``; what it trusts stands in ``home``."""
    browser, chromedriver = shutil.which("chromium"), shutil.which("chromedriver")
    assert browser, "Chromium is missing: 'make test' installs it"
    assert chromedriver, "ChromeDriver is missing: 'make test' installs it"
    options = Options()
    options.binary_location = browser
    for flag in (*FLAGS, *flags, f"--user-data-dir={folder}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    environment = None if home is None else {**os.environ, "HOME": str(home)}
    driver = webdriver.Chrome(options=options, service=Service(chromedriver, env=environment))
    driver.set_page_load_timeout(LIMIT_S)
    driver.set_script_timeout(LIMIT_S)
    return driver


class Browsers:
    """One browser at a time, a fresh one after so many tests: an old one grows slow."""

    MOST_TESTS = 60

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
        return chromium(self._folders.mktemp("browser"))

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
def own_page(driver: webdriver.Chrome, own_server: Served) -> Iterator[Page]:
    """An empty collection of its own."""
    begin_anew(own_server.collection)
    yield from _page(driver, own_server.address, fresh=True)


@pytest.fixture
def own_sample_page(driver: webdriver.Chrome, own_server: Served) -> Iterator[Page]:
    """The sample world in a collection of its own, for tests that write."""
    begin_anew(own_server.collection, sample=True)
    yield from _page(driver, own_server.address, fresh=True)


@pytest.fixture
def own_server_page(driver: webdriver.Chrome, serve: Serve, tmp_path: Path) -> Iterator[Page]:
    """The sample world on a server of its own, whose devices nobody has touched and where nothing is at work."""
    yield from _page(driver, serve(sample_at(tmp_path / "collection.sqlite")).address, fresh=True)


def _page(driver: webdriver.Chrome, address: str, *, fresh: bool = False) -> Iterator[Page]:
    page = Page(driver, address, loaded=not fresh and _stands_there(driver, address))
    if not page.loaded:
        page.size(1280, 800)
        page.dark(False)
        driver.get(address + "/mark.svg")
        driver.execute_script("localStorage.clear(); sessionStorage.clear()")
        page.messages()
    yield page
    # What the server refused on purpose is reported by the browser as a failed load, and only that.
    noise = [message for message in page.messages() if "status of 4" not in message]
    assert noise == []


def _stands_there(driver: webdriver.Chrome, address: str) -> bool:
    """Bring what the test before left of this server's application to where it is when it has just been loaded."""
    if not driver.current_url.startswith(address + "/"):
        return False
    page = Page(driver, address, loaded=True)
    if not page.all("#root main"):
        return False
    page.size(1280, 800)
    page.dark(False)
    page.leave()
    left = (
        "localStorage.clear(); sessionStorage.clear();"
        "return document.documentElement.dataset.theme !== 'light' || !!document.querySelector('.ant-drawer-open')"
    )
    return not driver.execute_script(left)
