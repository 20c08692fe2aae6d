"""Every state that the drawing can show: whole, legible, without barriers, in light, in dark and on a phone."""

from __future__ import annotations

from typing import Any, cast

import pytest
from selenium.webdriver.common.by import By

from tests.browser.conftest import Page
from tests.conftest import Served
from tests.limits import http
from tests.thorough import some
from tropeion.api.gallery_resource import STATES

# Words that run into one another, or are cut off at the edge of their drawing, by their boxes on the screen. A halo of
# a pixel is no collision.
FAULTS = """
const faults = [];
for (const entry of document.querySelectorAll('.gallery-entry')) {
  for (const svg of entry.querySelectorAll('svg.sheet-svg, svg.ribbon')) {
    const frame = svg.getBoundingClientRect();
    const words = [...svg.querySelectorAll('text')]
      .filter(e => !e.closest('.near') && e.textContent.trim())
      .map(e => ({text: e.textContent.trim(), box: e.getBoundingClientRect()}));
    for (const {text, box} of words) {
      if (box.left < frame.left - 1 || box.right > frame.right + 1 || box.top < frame.top - 1
          || box.bottom > frame.bottom + 1) faults.push(`${entry.id}: '${text}' is cut off`);
    }
    words.forEach(({text, box}, index) => {
      for (const other of words.slice(index + 1)) {
        const wide = Math.min(box.right, other.box.right) - Math.max(box.left, other.box.left);
        const high = Math.min(box.bottom, other.box.bottom) - Math.max(box.top, other.box.top);
        if (wide > 1.5 && high > 3.5) faults.push(`${entry.id}: '${text}' runs into '${other.text}'`);
      }
    });
  }
  const sentence = entry.querySelector('.sentence').getBoundingClientRect();
  for (const e of entry.querySelectorAll('.sheet-svg text, .sheet-svg .cut > path, .movements path')) {
    if (e.closest('.near')) continue;
    const box = e.getBoundingClientRect();
    const wide = Math.min(box.right, sentence.right) - Math.max(box.left, sentence.left);
    const high = Math.min(box.bottom, sentence.bottom) - Math.max(box.top, sentence.top);
    if (wide > 1 && high > 1) faults.push(`${entry.id}: '${e.textContent || e.className.baseVal}' under the sentence`);
  }
  if (entry.scrollWidth > entry.clientWidth + 1) faults.push(`${entry.id} is wider than the page`);
}
return faults;
"""


def opened(page: Page) -> None:
    page.open("/gallery")
    page.answer("gallery")
    page.until(lambda d: d.execute_script("return document.fonts.status") == "loaded", "fonts are still loading")


LOOKS = {
    "wide light": ((1280, 800), False),
    "wide dark": ((1280, 800), True),
    "phone light": ((390, 844), False),
    "phone dark": ((390, 844), True),
    "widest": ((1920, 1080), False),
}


@pytest.mark.parametrize("look", some(LOOKS, ["phone dark"]))
def test_every_state_is_drawn_whole(demo_page: Page, look: str) -> None:
    page, (size, dark) = demo_page, LOOKS[look]
    page.size(*size)
    page.dark(dark)
    opened(page)
    assert [e.get_attribute("id") for e in page.all(".gallery-entry")] == [state[0] for state in STATES]
    assert cast(list[str], page.driver.execute_script(FAULTS)) == []
    assert page.driver.execute_script("return document.documentElement.scrollWidth") == size[0]
    # Barriers in either theme, on a wide page; at every width they are looked for on the screens themselves.
    if size[0] == 1280:
        assert page.axe() == []


# What each state must show to be understood without reading.
SHOWN: dict[str, str] = {
    "exact": ".light-path[data-waist='0']",
    "close-up": ".cone.spilled",
    "nothing-focuses": ".ray.virtual",
    "glass": ".adapter .glass path",
    "correcting": ".adapter .glass path",
    "helicoid": ".movements[data-movements='moves out by 12.00 mm'] .arrow",
    "tilt": ".movements[data-movements^='tilts by'] .arrow",
    "shift": ".movements[data-movements^='shifts by'] .arrow",
    "broken-wire": ".wire[data-ends-at='mrw-ost-plain'] .terminal",
    "slow-link": ".wire.slow",
    "stuck-iris": ".iris.stuck",
    "collision": ".clash[data-clash='rear_collides'] .overlap",
    "damage": ".clash[data-clash='coupling_damage'] .overlap",
    "binds": ".clash[data-clash='thread_binds'] .overlap",
    "sideways": ".end-view .squeeze",
    "long-lens": ".break text",
    "unknown": ".image-circle.unknown",
    "nothing-fits": ".adapter",
    "no-room": ".ghost-ring.no-room",
    "no-lens": ".absent[data-absent='lens']",
    "no-body": ".absent[data-absent='body']",
}


@pytest.mark.attack
def test_each_state_shows_what_it_is(demo_page: Page) -> None:
    opened(demo_page)
    for state, selector in SHOWN.items():
        entry = demo_page.find(f".gallery-entry[data-state='{state}']")
        assert entry.find_elements(By.CSS_SELECTOR, selector), f"{state} lacks {selector}"
    chain = demo_page.find(".gallery-entry[data-state='chain']")
    assert len(chain.find_elements(By.CSS_SELECTOR, ".adapter")) == 3


def test_a_circle_too_small_leaves_the_corners_dark(demo_page: Page) -> None:
    """30.0 mm over a diagonal of 43.27 mm: the lit part, at the section's own scale, is smaller than the sensor."""
    opened(demo_page)
    entry = demo_page.find(".gallery-entry[data-state='small-circle']")

    def size(selector: str) -> dict[str, Any]:
        script = "const b = arguments[0].getBBox(); return {width: b.width, height: b.height};"
        found: dict[str, Any] = demo_page.driver.execute_script(script, entry.find_element(By.CSS_SELECTOR, selector))
        return found

    scale = float(entry.find_element(By.CSS_SELECTOR, ".section").get_attribute("data-scale") or "nan")
    assert size(".end-view .lit")["width"] / scale == pytest.approx(30.0, abs=0.05)
    assert size(".end-view .end-sensor")["width"] / scale == pytest.approx(36.0, abs=0.05)
    assert size(".end-view .end-mode")["width"] / scale == pytest.approx(24.0, abs=0.05)


# Where parts are drawn: every seat and face by the data of its report, along the axis.
PLACES = """
return [...document.querySelectorAll('.gallery-entry')].map(entry => {
  const section = entry.querySelector('.section'), strip = entry.querySelector('.strip');
  const upright = section.classList.contains('upright');
  const along = e => { const b = e.getBBox(); return upright ? [b.y, b.y + b.height] : [b.x, b.x + b.width]; };
  const across = e => { const b = e.getBBox(); return upright ? b.width : b.height; };
  const own = s => [...section.querySelectorAll(s)].filter(e => !e.closest('.near'));
  return {
    state: entry.id, scale: Number(section.dataset.scale), sensor: Number(section.dataset.sensor),
    adapters: own('.adapter').map(e => [e.dataset.link, ...along(e.querySelector('path[fill]'))]),
    lens: own('.lens > path[data-seat]').map(along), body: own('.body > path.solid[data-seat]').map(along),
    chip: own('.sensor .chip').map(across),
    windows: strip ? [...strip.querySelectorAll('.window')].map(e =>
      [Number(e.dataset.stop), (along(e)[1] - along(e)[0]) / Number(strip.dataset.scale)]) : [],
  };
});
"""


@pytest.mark.parametrize("size", some([(1280, 800), (390, 844)], [(390, 844)]))
def test_every_state_is_drawn_to_scale(demo_page: Page, demo_server: Served, size: tuple[int, int]) -> None:
    """A part z mm before the sensor is drawn z·scale pixels from it; a window is 2·K·N·c wide."""
    demo_page.size(*size)
    opened(demo_page)
    entries = http.get(f"{demo_server.address}/api/v1/gallery").json()["entries"]
    reports = {entry["id"]: entry["report"] for entry in entries}
    drawn = cast(list[dict[str, Any]], demo_page.driver.execute_script(PLACES))
    assert len(drawn) == len(STATES)
    for one in drawn:
        report = reports[one["state"]]
        if report is None or not report["routes"]:
            continue
        route = report["open"]

        def pixels(at_mm: float, one: dict[str, Any] = one) -> float:
            return float(one["sensor"] - at_mm * one["scale"])

        section = route["section"]
        assert [ends[1:] for ends in one["adapters"]] == [
            pytest.approx([pixels(adapter["front_mm"]), pixels(adapter["rear_mm"])], abs=0.1)
            for adapter in section["adapters"]
        ]
        assert one["lens"][0][1] == pytest.approx(pixels(section["lens"]["seat_mm"]), abs=0.1)
        assert one["body"][0][0] == pytest.approx(pixels(section["body"]["seat_mm"]), abs=0.1)
        assert one["chip"][0] / one["scale"] == pytest.approx(section["body"]["sensor_mm"], abs=0.1 / one["scale"])
        factor = 2 * route["magnification"] * route["circle_of_confusion_mm"]
        for stop, wide in one["windows"]:
            # Windows wider than the strip are cut off at its ends.
            assert wide == pytest.approx(stop * factor, abs=1e-3) or wide * 420 > size[0] - 400


@pytest.mark.attack
def test_outside_the_demo_there_is_no_gallery(page: Page) -> None:
    page.open("/gallery")
    page.wait_text("[role=alert] h2", "served by the demo only")
