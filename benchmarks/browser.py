"""How fast the screen is: in the real browser, against the real server."""

from __future__ import annotations

import shutil
import statistics
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from tropeion.core.gear.gear import Gear

TYPED = """
const input = document.querySelector('.picker-lens input'), done = arguments[arguments.length - 1];
const typed = arguments[0], list = () => [...document.querySelectorAll('.entry-name')].map(e => e.textContent).join();
const before = list(), start = performance.now();
const see = new MutationObserver(() => {
  if (list() !== before) { see.disconnect(); requestAnimationFrame(() => done(performance.now() - start)); }
});
see.observe(document.body, {childList: true, subtree: true, characterData: true});
Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(input, typed);
input.dispatchEvent(new Event('input', {bubbles: true}));
"""

# From the action until the page says which answer it shows, and the next frame has been painted.
UNTIL = """
const until = (wanted, done) => {
  const main = document.querySelector('main'), start = performance.now();
  const look = () => {
    if (wanted(document.querySelector('main')?.dataset.answerFor ?? '')) {
      see.disconnect();
      document.querySelector('.section')?.getBoundingClientRect();
      done(performance.now() - start);
    }
  };
  const see = new MutationObserver(look);
  see.observe(document.body, {childList: true, subtree: true, attributes: true});
};
"""
CHOSEN = (
    UNTIL
    + """
const [lens, body] = arguments, done = arguments[arguments.length - 1];
until(now => now === `${lens} ${body} best`, done);
history.pushState({}, '', `/?lens=${lens}&body=${body}`);
dispatchEvent(new PopStateEvent('popstate', {state: {}}));
"""
)
MOVED = (
    UNTIL
    + """
const key = arguments[0], done = arguments[arguments.length - 1];
const before = document.querySelector('main').dataset.answerFor;
until(now => now !== '' && now !== before, done);
document.body.dispatchEvent(new KeyboardEvent('keydown', {key, bubbles: true}));
"""
)


# Nobody opens the next screen before the first one stands: until a quarter of a second nothing was fetched.
QUIET = """
const done = arguments[arguments.length - 1], count = () => performance.getEntriesByType('resource').length;
let before = count(), since = performance.now();
const look = () => {
  if (count() !== before) [before, since] = [count(), performance.now()];
  if (performance.now() - since > 250) done(); else requestAnimationFrame(look);
};
look();
"""


@dataclass(frozen=True, slots=True)
class Chosen:
    """Milliseconds from choosing a lens to the settled answer, and of loading the page for it instead."""

    median: float
    percentile_95: float
    reloading: float


@contextmanager
def browser() -> Iterator[webdriver.Chrome]:
    options = Options()
    options.binary_location = shutil.which("chromium") or ""
    for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-background-networking"):
        options.add_argument(flag)
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        options.add_argument(f"--user-data-dir={profile}")
        driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or ""))
        try:
            driver.set_script_timeout(20)
            metrics = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
            driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
            # The transition takes its 120 ms on purpose; what is measured is the drawing itself.
            still = {"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]}
            driver.execute_cdp_cmd("Emulation.setEmulatedMedia", still)
            yield driver
        finally:
            driver.quit()


def _settled(driver: webdriver.Chrome, address: str) -> None:
    driver.get(address)
    WebDriverWait(driver, 20, 0.01).until(lambda d: d.find_elements(By.CSS_SELECTOR, "main[data-answer-for]"))


def _quiet(driver: webdriver.Chrome, address: str) -> None:
    _settled(driver, address)
    driver.execute_async_script(QUIET)


def keystroke(driver: webdriver.Chrome, address: str) -> float:
    """Median from a keystroke in the picker to its new list, over 2,000 lenses."""
    _quiet(driver, address + "/?lens=lens-1&body=o7")
    driver.find_element(By.CSS_SELECTOR, ".picker-lens input").click()
    WebDriverWait(driver, 20).until(lambda d: d.find_elements(By.CSS_SELECTOR, ".entry-name"))
    # Each gives another list than the one before, so that the change can be seen.
    typed = ["co", "b", "dan", "fen 5", "g", "ho", "lin", "mor 2", "n", "pi", "ran", "sel 50"]
    return statistics.median([float(driver.execute_async_script(TYPED, text)) for text in typed])


def drawing(driver: webdriver.Chrome, address: str) -> tuple[float, float]:
    """Median and 95th percentile of drawing the next route, whose answer is there already."""
    _quiet(driver, address + "/?lens=kel-55&body=o7&all=1")
    keys = ["ArrowDown"] * 20 + ["ArrowUp"] * 20
    return _spread([float(driver.execute_async_script(MOVED, key)) for key in keys])


OPENED = """
const [path, wanted] = arguments, done = arguments[arguments.length - 1], start = performance.now();
const shown = () => document.querySelector('main').dataset.answerFor ?? '', before = shown();
const look = () => {
  const drawn = document.querySelector(wanted);
  if (shown() !== '' && shown() !== before && drawn?.getBoundingClientRect().width > 0)
    done(performance.now() - start);
  else requestAnimationFrame(look);
};
history.pushState({}, '', path);
dispatchEvent(new PopStateEvent('popstate', {state: {}}));
requestAnimationFrame(look);
"""
PAIR = "?lens=kel-55&body=o7"
# Each screen, and what its picture is.
SCREENS = (
    ("the light path", f"/{PAIR}", ".section"),
    ("the frame", f"/frame{PAIR}", ".photo img"),
    ("the set-up", f"/setup{PAIR}", "main svg[role]"),
    ("the bench", f"/bench{PAIR}", "main svg[role]"),
    ("the whole kit", "/grid", ".grid-cells"),
    ("the mounts", "/mounts", "main svg[role]"),
)


def opening(driver: webdriver.Chrome, address: str) -> list[tuple[str, float]]:
    """Each screen for the first time, from the one of the terms."""
    times = []
    for name, path, wanted in SCREENS:
        _quiet(driver, address + "/terms")
        times.append((name, float(driver.execute_async_script(OPENED, path, wanted))))
    return times


def choosing(driver: webdriver.Chrome, address: str, gear: Gear) -> Chosen:
    """Every lens of the sample on three bodies, each asked for the first time."""
    _quiet(driver, address + "/?lens=kel-55&body=vigil")
    pairs = [(lens.id, body) for body in ("o7", "lark", "nave") for lens in gear.mounted]
    times = [float(driver.execute_async_script(CHOSEN, *pair)) for pair in pairs]
    loads = []
    for lens, body in pairs[:8]:
        start = driver.execute_script("return Date.now()")
        _settled(driver, f"{address}/?lens={lens}&body={body}")
        loads.append(float(driver.execute_script("return Date.now()")) - start)
    return Chosen(*_spread(times), statistics.median(loads))


def _spread(times: Sequence[float]) -> tuple[float, float]:
    return statistics.median(times), statistics.quantiles(times, n=20)[18]
