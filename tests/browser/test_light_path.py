"""The Light path screen, as a person uses it."""

from __future__ import annotations

import json
from typing import Any, cast

import httpx
import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tropeion.api.app import WEB_FILES
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.report import Route
from tropeion.core.routes.match import match
from tropeion.formats.match_json import stations_of

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (WEB_FILES / "index.html").is_file(), reason="the web files are not built"),
]


def station(route: Route, kind: str, link: str | None = None) -> float:
    found = [one for one in stations_of(route.section) if one["kind"] == kind and link in {None, one["link"]}]
    return float(found[0]["at_mm"])


# Pick and read


def test_it_opens_with_a_telling_pair(page: Page, sample: World) -> None:
    page.open()
    page.answer("kel-55 o7 best")
    assert page.text(".sentence h1") == "Reaches infinity; focus and aperture by hand."
    shown = [",".join(route.adapters) for route in match(sample, "kel-55", "o7").routes]
    assert [e.get_attribute("data-via") for e in page.all(".route")] == shown
    assert "lens=kel-55" in page.driver.current_url


def test_pick_another_lens_by_part_of_its_name(page: Page) -> None:
    page.open()
    page.answer("kel-55 o7 best")
    page.pick("lens", "82", "Tolmer 82/2")
    page.answer("tol-82 o7 best")
    assert page.find(".route").get_attribute("data-via") == "tol-ost-pin"


def test_pick_by_the_alias_of_the_mount_with_the_keyboard_alone(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.press("b")
    page.press("plm")
    page.find(".picker-popup .entry-name")
    page.until(lambda _: [e.text for e in page.all(".picker-popup .entry-name")] == ["Pellam Lark"], "not narrowed")
    page.press(Keys.ENTER)
    page.answer("kel-55 lark best")


def test_a_name_that_nothing_bears_says_so(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.press("l")
    page.press("zzz")
    page.wait_text(".picker-popup", "No lens holds “zzz”")


# Move through the routes


ONE_PIECE = "/?lens=tol-82&body=o7&pieces=1&all=1"


def one_piece(sample: World) -> list[str]:
    routes = match(sample, "tol-82", "o7", Practice(pieces="1"), everything=True).routes
    return [",".join(route.adapters) for route in routes]


def test_arrow_keys_move_through_the_routes(page: Page, sample: World) -> None:
    vias = one_piece(sample)
    page.open(ONE_PIECE)
    page.answer("tol-82 o7 best pieces=1")
    for via in vias[1:]:
        page.press(Keys.ARROW_DOWN)
        page.answer(f"tol-82 o7 {via} pieces=1")
    assert page.text(".sentence h1").startswith("Nothing comes into focus")
    page.press(Keys.ARROW_DOWN)
    page.answer(f"tol-82 o7 {vias[-1]} pieces=1")
    page.press(Keys.HOME)
    page.answer("tol-82 o7 tol-ost-pin pieces=1")


def test_the_list_of_routes_is_a_radio_group(page: Page, sample: World) -> None:
    vias = one_piece(sample)
    page.open(ONE_PIECE)
    page.answer("tol-82 o7 best pieces=1")
    page.find(".route.selected").send_keys(Keys.ARROW_DOWN)
    page.answer(f"tol-82 o7 {vias[1]} pieces=1")
    active = page.driver.switch_to.active_element
    assert active.get_attribute("data-via") == vias[1]
    assert [e.get_attribute("aria-checked") for e in page.all(".route")].index("true") == 1


def test_folded_routes_are_counted_and_can_be_seen(page: Page, sample: World) -> None:
    report = match(sample, "mrw-92", "o7")
    page.open("/?lens=mrw-92&body=o7")
    page.answer("mrw-92 o7 best")
    assert f"{report.folded} more are beaten in everything" in page.text(".folded")
    page.find(".folded button").click()
    page.wait_text(".folded", f"All {report.total} ways are here.")
    page.until(lambda _: page.all('.route[data-via="mrw-ost-plain"]'), "still folded")
    assert "all=1" in page.driver.current_url


# Unfold a working


def test_every_number_unfolds(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    for name in [e.get_attribute("data-quantity") for e in page.all("button.figure")]:
        page.driver.execute_script("arguments[0].click()", page.find(f'button.figure[data-quantity="{name}"]'))
        page.find(f'.worked[data-quantity="{name}"] .worked-formula strong')


def test_a_working_shows_formula_terms_and_source_and_unfolds_further(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain")
    page.answer("kel-55 o7 kel-ost-plain")
    page.press("w")
    page.wait_text(".worked-formula", "0.03 mm")
    assert "Πk²" in page.text(".worked-formula")
    assert "Optical Engineering" in page.text(".worked-source")
    page.find(".worked .unfold").click()
    page.wait_text('.worked .worked[data-quantity="segment_error_mm"]', "22.4 mm")
    terms = page.text('.worked .worked[data-quantity="segment_error_mm"]')
    assert "25.83 mm" in terms
    assert "48.2 mm" in terms
    page.press(Keys.ESCAPE)
    page.gone(".worked")


# The address


def test_the_address_gives_the_same_answer_in_another_window(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-long&trust=cautious&distances=imperial")
    key = "kel-55 o7 kel-ost-long trust=cautious distances=imperial"
    page.answer(key)
    said = page.text(".sentence h1")
    figures = [e.text for e in page.all(".figure-value")]
    address = page.driver.current_url
    first = page.driver.current_window_handle
    page.driver.switch_to.new_window("tab")
    page.size(1280, 800)
    page.driver.get(address)
    page.answer(key)
    again = page.text(".sentence h1"), [e.text for e in page.all(".figure-value")]
    page.driver.close()
    page.driver.switch_to.window(first)
    assert again == (said, figures)


def test_a_chain_put_together_by_hand_is_judged_too(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain,lsk-ost-plain")
    page.answer("kel-55 o7 kel-ost-plain,lsk-ost-plain")
    page.wait_text(".sentence-more", "put together by hand")
    assert len(page.all(".section > g > .adapter")) == 2
    assert page.text(".sentence h1").startswith("These do not go together")


def test_what_fits_leads_to_the_pair(page: Page) -> None:
    page.open("/?body=lark")
    page.find('.brick[data-id="plm-17"]').click()
    page.answer("plm-17 lark best")
    assert page.text(".grade-word") == "Native"


def test_functions_tell_which_link_limits_them(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain")
    page.answer("kel-55 o7 kel-ost-plain")
    assert "lost" in page.text('[data-function="autofocus"]')
    assert "by hand (A, M)" in page.text('[data-function="exposure_modes"]')
    assert "rated for 1.60 N·m" in page.text(".joints")


def test_an_unknown_id_offers_near_ones(page: Page) -> None:
    page.open("/?lens=kel-5&body=o7")
    page.wait_text("[data-state=unknown-id] h1", "names a lens that is not in the collection")
    assert "kel-5" in page.text("[data-state=unknown-id] p")
    next(e for e in page.all(".message-actions button") if e.text == "kel-55").click()
    page.answer("kel-55 o7 best")


def test_an_unknown_lens_alone_and_an_unknown_piece_of_a_chain_are_named_too(page: Page) -> None:
    page.open("/?lens=kel-5")
    page.wait_text("[data-state=unknown-id] h1", "names a lens")
    page.open("/?lens=trf-36&body=o7&via=trf-lsk-stepp,lsk-ost-plain")
    page.wait_text("[data-state=unknown-id] h1", "names an adapter")
    page.find(".message-actions button").click()
    page.answer("trf-36 o7 trf-lsk-step,lsk-ost-plain")


def test_the_window_is_named_after_the_pair(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    assert page.driver.title == "Kelvane 55/2.2 on Ostrel O7 · Tropeion"


def test_back_returns_to_the_pair_before(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.pick("body", "lark", "Pellam Lark")
    page.answer("kel-55 lark best")
    page.driver.back()
    page.answer("kel-55 o7 best")


# Practice


def choose(page: Page, label: str) -> None:
    """Take a choice in the practice panel."""
    xpath = f"//fieldset//label[.//*[text()='{label}']]"

    def taken(driver: webdriver.Chrome) -> bool:
        found = driver.find_elements("xpath", xpath)
        if found:
            found[0].click()
        return bool(found)

    page.until(taken, f"no choice {label}")


def test_practice_is_kept_and_visible_where_it_changes_an_answer(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open()
    page.answer("kel-55 o7 best")
    page.press("p")
    choose(page, "Cautious")
    page.answer("kel-55 o7 best trust=cautious")
    page.wait_text(".practice-note", "worst case of the tolerances")
    choose(page, "Imperial")
    page.answer("kel-55 o7 best trust=cautious distances=imperial")
    page.until(lambda _: " in" in page.text('[data-quantity="focus.near_mm"]'), "no inches")
    choose(page, "Framing and depth")
    page.find('[data-quantity="equivalents.f_number"]')
    # A fresh start is judged by what was kept.
    page.until(
        lambda _: httpx.get(f"{page.address}/api/v1/start").json()["practice"]["equivalence"] == "framing_and_depth",
        "not kept",
    )
    page.open()
    page.answer("kel-55 o7 best trust=cautious equivalence=framing_and_depth distances=imperial")


def test_an_address_does_not_overwrite_the_readers_own_practice(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/?lens=kel-55&body=o7&crop=width")
    page.answer("kel-55 o7 best crop=width")
    page.wait_text(".practice-note", "as this address asks, not as you do")
    assert httpx.get(f"{page.address}/api/v1/start").json()["practice"]["crop"] == "diagonal"
    page.find(".practice-note button").click()
    page.answer("kel-55 o7 best")
    page.gone(".practice-note")


# To scale


SCALED = [
    ("kel-55", "o7", "kel-ost-plain"),
    ("trf-36", "o7", "trf-lsk-step,lsk-ost-plain"),
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
    # (8c − 0.08)/u = (0.231 − 0.080)/0.033: more than four standard uncertainties inside.
    page.wait_text(".share-text", "sharp at f/8: over 99 %")
    assert page.all('.strip .window.chosen[data-stop="8"]')
    assert page.find(".strip .share").get_attribute("d")


def test_an_error_beyond_the_strip_is_said(page: Page) -> None:
    page.open("/?lens=tol-82&body=o7&via=trf-ost-plain")
    page.answer("tol-82 o7 trf-ost-plain")
    assert page.text(".off-strip text") == "it stands 16.10 mm too near"
    assert page.all(".strip .stands") == []


def test_the_light_falls_before_on_or_behind_the_sensor(page: Page) -> None:
    for via, sign in (("kel-ost-plain", 0.03), ("kel-ost-fine", 0.0)):
        page.open(f"/?lens=kel-55&body=o7&via={via}")
        page.answer(f"kel-55 o7 {via}")
        assert page.number(".light-path", "data-waist") == sign
    page.open("/?lens=tol-82&body=o7&via=trf-ost-plain")
    page.answer("tol-82 o7 trf-ost-plain")
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
    # Two rings work, for close-up; what must not be done is said all the same.
    assert page.text(".warning").startswith("Without an adapter: Do not mount this.")
    page.find('.route[data-via=""]').click()
    page.wait_text(".sentence h1", "Do not mount this.")
    assert page.all('.clash[data-clash="coupling_damage"] .overlap')
    assert page.all(".light-path") == []
    assert page.text(".findings .danger").startswith("Danger")


def test_the_ribbon_ends_where_the_report_says(page: Page, sample: World) -> None:
    (route,) = match(sample, "trf-36", "o7", via=["tol-ost-pin"]).routes
    page.open("/?lens=trf-36&body=o7&via=tol-ost-pin")
    page.answer("trf-36 o7 tol-ost-pin")
    label = page.find(".ribbon").get_attribute("aria-label") or ""
    assert label == "Distances. Sharp from 16.3 cm to 16.9 cm."
    assert route.wide.focus.near_mm is not None
    reached, lost = page.box(".ribbon .reached"), page.box(".ribbon .native-only")
    assert reached["x"] > lost["x"] + lost["width"]


# States


def test_nothing_fits_says_what_would(page: Page) -> None:
    page.open("/?lens=ost-30&body=vigil")
    page.answer("ost-30 vigil best")
    assert "Their registers are equal" in page.text("[data-state=nothing-fits] h1")
    kinds = [e.get_attribute("data-kind") for e in page.all(".needs li")]
    assert kinds == ["swap_body_plate", "close_up", "correcting_glass", "shared_plate"]


def test_an_empty_end_asks_for_it(page: Page) -> None:
    page.open("/?lens=kel-55")
    page.wait_text("[data-state=no-pair] h1", "Which body?")
    # Meanwhile it says what fits.
    page.wait_text('.brick[data-id="stave-3"]', "Do not mount this.")
    page.find("[data-state=no-pair] button").click()
    page.pick("body", "o7", "Ostrel O7")
    page.answer("kel-55 o7 best")


def test_an_empty_collection_takes_the_sample(own_page: Page) -> None:
    own_page.open()
    own_page.wait_text("[data-state=empty] h1", "Your collection is empty.")
    next(e for e in own_page.all("button") if e.text == "Take the sample world").click()
    own_page.answer("kel-55 o7 best")


def test_an_empty_collection_takes_a_gear_file_and_refuses_a_bad_one(own_page: Page, tmp_path: Any) -> None:
    from tropeion.sample import sample_bytes  # noqa: PLC0415

    bad, good = tmp_path / "bad.json", tmp_path / "good.json"
    bad.write_bytes(sample_bytes().replace(b'"mount": "varde"', b'"mount": "vard"'))
    good.write_bytes(sample_bytes())
    own_page.open()
    own_page.find("[data-state=empty] input[type=file]").send_keys(str(bad))
    own_page.wait_text(".problems", "did you mean 'varde'?")
    own_page.find("[data-state=empty] input[type=file]").send_keys(str(good))
    own_page.answer("kel-55 o7 best")


def test_a_page_that_is_not_there(page: Page) -> None:
    page.open("/elsewhere")
    page.wait_text("h1", "There is no page at this address.")


# Phone, dark, print, for everybody

PATHS = {
    "best": "/?lens=kel-55&body=o7",
    "nothing focuses": "/?lens=tol-82&body=o7&via=trf-ost-plain",
    "danger": "/?lens=kel-55&body=stave-3&via=",
    "glass": "/?lens=grm-98&body=o7",
    "zoom": "/?lens=kel-28-80&body=o7&trust=cautious",
    "long lens": "/?lens=tol-140&body=o7",
    "nothing fits": "/?lens=ost-30&body=vigil",
    "three pieces": "/?lens=trf-36&body=o7&via=trf-lsk-step,lsk-ost-plain",
}


@pytest.mark.parametrize("dark", [False, True], ids=["light", "dark"])
@pytest.mark.parametrize("path", PATHS.values(), ids=PATHS.keys())
def test_no_serious_barrier(page: Page, path: str, dark: bool) -> None:
    page.dark(dark)
    page.open(path)
    page.find("[data-answer-for]")
    assert page.driver.execute_script("return document.documentElement.dataset.theme") == ("dark" if dark else "light")
    assert page.axe() == []


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
    assert page.axe() == []


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
    for part in ("The lens needs 48.20 mm", "The body has 22.40 mm", "Plain ring KLV–OST, 25.83 mm", "+0.030 mm"):
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
