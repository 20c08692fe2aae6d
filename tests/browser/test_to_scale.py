"""The drawing of the light path: to scale, and what it shows when pointed at."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains

from tests.browser.conftest import Page
from tropeion.core.gear.world import World
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match
from tropeion.formats.match_json import stations_of


def station(route: Route, kind: str, link: str | None = None) -> float:
    found = [one for one in stations_of(route.section) if one["kind"] == kind and link in {None, one["link"]}]
    return float(found[0]["at_mm"])


SCALED = [
    ("kel-55", "o7", "kel-ost-plain"),
    ("tpr-36", "o7", "tpr-lsk-step,lsk-ost-plain"),
    ("grm-98", "o7", "grm-ost-reducer"),
    ("kel-55", "stave-3", ""),
]


@pytest.mark.parametrize(("lens", "body", "via"), SCALED)
def test_the_section_is_drawn_to_scale(page: Page, sample: World, lens: str, body: str, via: str) -> None:
    (route,) = match(sample, lens, body, via=[part for part in via.split(",") if part]).routes
    page.open(f"/?lens={lens}&body={body}&via={via}")
    page.answer(f"{lens} {body} {via}")
    scale = page.number(".section", "data-scale")
    sensor = page.number(".section", "data-sensor")

    def x(at_mm: float) -> float:
        return sensor - at_mm * scale

    for adapter in route.adapters:
        rear, front = station(route, "adapter_rear", adapter), station(route, "adapter_front", adapter)
        ends = page.driver.execute_script(
            "const b = arguments[0].querySelector('path[fill]').getBBox(); return [b.x, b.x + b.width];",
            page.find(f'.adapter[data-link="{adapter}"]'),
        )
        assert ends == pytest.approx([x(front), x(rear)], abs=0.1)
    chip = page.box(".sensor .chip")
    assert route.section.body is not None
    diagonal = route.section.body.sensor_mm
    assert chip["height"] / scale == pytest.approx(diagonal, abs=0.1 / scale)
    hairline = page.box(".strip .hairline")
    assert hairline["x"] == pytest.approx(x(station(route, "needed_seat")), abs=0.1)
    needs = page.box('[data-dimension="body"] path:nth-of-type(2)')
    assert needs["width"] / scale == pytest.approx(sample.mounts[sample.bodies[body].mount].register_mm, abs=0.1)


def test_the_strip_shows_error_and_windows_to_scale(page: Page, sample: World) -> None:
    (route,) = match(sample, "kel-55", "o7", via=["kel-ost-long"]).routes
    page.open("/?lens=kel-55&body=o7&via=kel-ost-long")
    page.answer("kel-55 o7 kel-ost-long")
    scale, centre = page.number(".strip", "data-scale"), page.number(".strip", "data-centre")
    assert page.box(".strip .stands")["x"] == pytest.approx(centre - 0.08 * scale, abs=0.1)
    assert len(page.all(".strip .window")) == len(route.wide.infinity.stops)
    c = 1872**0.5 / 1500
    for window in page.all(".strip .window"):
        stop = float(window.get_attribute("data-stop") or "nan")
        width = float(window.get_attribute("width") or "nan")
        assert width / 2 / scale == pytest.approx(stop * c, abs=0.1 / scale)


def test_pointing_at_a_stop_shades_its_share(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-long")
    page.answer("kel-55 o7 kel-ost-long")
    scale = page.number(".strip", "data-scale")
    # Between the edges of f/5.6 and f/8, right of the middle: the offset runs from the drawing's centre.
    drawing = page.find(".sheet-svg")
    right, down = round(7 * 0.0288 * scale), round(drawing.rect["height"] / 2 - 50)
    ActionChains(page.driver).move_to_element_with_offset(drawing, right, down).perform()
    # 8c is 0.231 mm; 0.08 mm and a worst case of 0.09 stay inside for certain.
    page.wait_text(".share-text", "sharp at f/8: 100 %")
    assert page.all('.strip .window.chosen[data-stop="8"]')
    assert page.find(".strip .share").get_attribute("d")


def test_an_error_beyond_the_strip_is_said(page: Page) -> None:
    page.open("/?lens=tol-82&body=o7&via=tpr-ost-plain")
    page.answer("tol-82 o7 tpr-ost-plain")
    assert page.text(".off-strip text") == "it stands 16.10 mm too near"
    assert page.all(".strip .stands") == []


def test_the_light_falls_before_on_or_behind_the_sensor(page: Page) -> None:
    for via, sign in (("kel-ost-plain", 0.03), ("kel-ost-fine", 0.0)):
        page.open(f"/?lens=kel-55&body=o7&via={via}")
        page.answer(f"kel-55 o7 {via}")
        assert page.number(".light-path", "data-waist") == sign
    page.open("/?lens=tol-82&body=o7&via=tpr-ost-plain")
    page.answer("tol-82 o7 tpr-ost-plain")
    assert page.number(".light-path", "data-waist") < -5
    assert page.all(".ray.virtual")


def test_the_wire_ends_at_the_link_that_limits_it(page: Page) -> None:
    ends = {
        "/?lens=mrw-92&body=o7&via=mrw-ost-active": "whole",
        "/?lens=mrw-92&body=o7&via=mrw-ost-plain": "mrw-ost-plain",
        "/?lens=kel-55&body=o7&via=kel-ost-chip": "kel-ost-chip",
    }
    for path, end in ends.items():
        page.open(path)
        page.find(f'.wire[data-ends-at="{end}"]')


def test_danger_shows_a_cross_and_no_light(page: Page) -> None:
    page.open("/?lens=kel-55&body=stave-3")
    page.answer("kel-55 stave-3 best")
    page.find('.route[data-via=""]').click()
    page.wait_text(".sentence h1", "Do not mount this.")
    assert page.all('.clash[data-clash="coupling_damage"] .overlap')
    assert page.all(".light-path") == []
    assert page.text(".findings .danger").startswith("Danger")


def test_the_ribbon_ends_where_the_report_says(page: Page, sample: World) -> None:
    (route,) = match(sample, "tpr-36", "o7", via=["tol-ost-pin"]).routes
    page.open("/?lens=tpr-36&body=o7&via=tol-ost-pin")
    page.answer("tpr-36 o7 tol-ost-pin")
    label = page.find(".ribbon").get_attribute("aria-label") or ""
    assert label == "Distances. Sharp from 16.3 cm to 16.9 cm."
    assert route.wide.focus.near_mm is not None
    reached, lost = page.box(".ribbon .reached"), page.box(".ribbon .native-only")
    assert reached["x"] > lost["x"] + lost["width"]
