"""The Frame: one picture, one drawing, and an address that brings both back."""

from __future__ import annotations

import math

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.limits import http
from tests.thorough import some

PAIR = "/frame?lens=kel-30s&body=o7&via=kel-ost-plain"


def opened(page: Page, path: str = PAIR) -> None:
    page.open(path)
    page.find("main[data-answer-for^=frame]:not([aria-busy='true'])")
    shown(page)


def shown(page: Page, *parts: str) -> str:
    """The picture that is shown, once its address holds ``parts``; the whole one, if nothing else is said."""
    parts = parts if any(part.startswith("rows=") for part in parts) else (*parts, "rows=600")

    def there(_: object) -> str | None:
        found = page.find(".photo").get_attribute("data-picture") or ""
        return found if found and all(part in found for part in parts) else None

    return str(page.until(there, f"no picture of {parts}"))


def test_it_is_reached_from_the_light_path_with_its_pair_and_leads_back(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-long")
    page.answer("kel-55 o7 kel-ost-long")
    page.press("f")
    shown(page, "lens=kel-55", "via=kel-ost-long")
    assert "Hobb & Lyle KLV–OST" in page.text(".screen-head")
    page.press("g")
    page.answer("kel-55 o7 kel-ost-long")


def test_the_picture_is_what_the_server_draws_at_its_full_size(page: Page) -> None:
    opened(page)
    url = shown(page, "rows=600")
    answer = http.get(page.address + url)
    assert answer.headers["content-type"] == "image/png"
    size = page.driver.execute_script(
        "const i = document.querySelector('.photo img'); return [i.naturalWidth, i.naturalHeight]"
    )
    assert size == [900, 600]
    caption = page.text(".frame-caption")
    assert "illustration" in caption
    assert "Aberrations, flare and diffraction are left out" in caption
    assert "Image circle 64.0 mm" in caption


def test_a_draft_comes_first_and_before_it_paper_not_black(page: Page) -> None:
    """Both pictures are held back in turn: what is there is shown, and what cannot be made says so."""
    page.driver.execute_cdp_cmd("Network.enable", {})
    try:
        page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*frame/picture*rows=600*"]})
        page.open(PAIR)
        shown(page, "rows=300")
        page.wait_text(".photo [role=alert]", "The picture could not be made")
        page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*frame/picture*"]})
        page.open(PAIR + "&n=8")
        page.wait_text(".photo[data-picture=''] [role=alert]", "The picture could not be made")
        paper, photo = (
            page.driver.execute_script("return getComputedStyle(arguments[0]).backgroundColor", page.find(selector))
            for selector in (".frame-sheet", ".photo")
        )
        assert photo == paper
    finally:
        page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})


@pytest.mark.attack
def test_keys_move_the_sensor_and_the_address_restores_the_picture(page: Page) -> None:
    opened(page)
    drawing = page.find(".circle-view svg")
    page.driver.execute_script("arguments[0].focus()", drawing)
    drawing.send_keys(*[Keys.ARROW_UP] * 4)
    page.until(lambda d: "sy=2" in d.current_url and "sx=0" in d.current_url, "not in the address")
    url = shown(page, "shift_y=2")
    page.driver.refresh()
    assert shown(page, "shift_y=2") == url
    assert page.find(".circle-view svg").get_attribute("aria-valuenow") == "2"


def test_a_drag_gives_the_address_that_keys_give_and_its_numbers_are_the_cores(page: Page) -> None:
    opened(page)
    scale = page.number(".circle-view svg", "data-scale")
    zoom = page.find(".circle-view svg").rect["width"] / 380
    # Four millimetres up.
    sensor = page.find(".circle-view .sensor")
    ActionChains(page.driver).click_and_hold(sensor).move_by_offset(0, round(-4 * scale * zoom)).release().perform()
    page.until(lambda d: "sy=" in d.current_url, "not dragged")
    shift = float(page.driver.current_url.split("sy=")[1].split("&")[0])
    assert shift == pytest.approx(4, abs=0.2)
    shown(page, f"shift_y={shift:g}", "rows=600")
    margin = page.number(".circle-view figcaption", "data-margin")
    assert margin == pytest.approx(32 - math.hypot(18, 12 + shift), abs=1e-3)
    report = http.get(
        page.address + "/api/v1/frame?lens=kel-30s&body=o7&via=kel-ost-plain&shift_y=" + str(shift)
    ).json()
    assert report["shift_set_mm"] == [0, shift]
    assert report["shift_fits"] is (margin >= 0)


@pytest.mark.attack
def test_the_mechanism_is_not_dragged_farther_than_it_goes(page: Page) -> None:
    opened(page)
    drawing = page.find(".circle-view svg")
    page.driver.execute_script("arguments[0].focus()", drawing)
    drawing.send_keys(*[Keys.ARROW_UP] * 30)
    page.until(lambda d: "sy=11" in d.current_url, "not at its end")
    drawing.send_keys(Keys.ARROW_UP)
    drawing.send_keys(Keys.HOME)
    page.until(lambda d: "sy=0" in d.current_url, "not back")


@pytest.mark.attack
def test_two_settings_stand_on_either_side_of_a_divider(page: Page) -> None:
    opened(page, PAIR + "&vs=n%3D16")
    page.find(".photo-other")
    page.find(".photo-other[data-picture*='aperture=16'][data-picture*='rows=600']")
    assert [e.text for e in page.all(".photo-label")] == ["f/4", "f/16"]
    divider = page.find(".photo-divider")
    divider.send_keys(*[Keys.ARROW_RIGHT] * 5)
    page.until(lambda _: divider.get_attribute("value") == "60", "not moved")
    # Both see the same church from the same place.
    one, other = shown(page), page.find(".photo-other").get_attribute("data-picture") or ""
    reports = [
        http.get(page.address + url.replace("/picture", "").replace("&rows=600", "")).json() for url in (one, other)
    ]
    assert reports[0]["subject"] == reports[1]["subject"]
    page.size(390, 844)
    assert page.text(".photo-toggle") == "Show f/16"
    page.find(".photo-toggle").click()
    page.wait_text(".photo-toggle", "Show f/4")
    assert page.find(".photo-other").is_displayed()
    page.find(".photo-toggle").click()
    page.until(lambda _: not page.find(".photo-other").is_displayed(), "still the other")
    assert not divider.is_displayed()


@pytest.mark.attack
def test_every_mode_can_be_looked_at_and_tells_what_it_buys(page: Page) -> None:
    opened(page)
    row = page.find('[data-table=modes] tr[data-mode="24 × 16"]')
    # √(32² − 12²) − 8 = 21.7 mm against √(32² − 18²) − 12 = 14.5.
    assert "21.7 mm, 7.2 mm more" in row.text
    assert "18 MP" in row.text
    row.find_element(By.CSS_SELECTOR, "button").click()
    shown(page, "mode=24")
    page.find('[data-table=modes] tr[data-mode="24 × 16"][aria-current]')


@pytest.mark.attack
def test_a_tall_front_says_what_is_wanted_and_what_allows_it(page: Page) -> None:
    opened(page, PAIR + "&subject=18,14,1.5")
    facts = {e.get_attribute("data-fact"): e.text for e in page.all("[data-fact]")}
    # 30·16.5/14 − 12 = 23.4 mm.
    assert "23.4 mm" in facts["rise wanted"]
    assert "14.5 mm" in facts["the circle allows"]
    assert "11.0 mm" in facts["the mechanism goes"]
    page.wait_text("main", "24 × 16 buys 7.2 mm of rise, costs 18 MP")
    opened(page, PAIR + "&subject=18,14,1.5&p=1.2")
    page.wait_text("[role=note]", "Corrected too far")


def test_a_tilt_is_drawn_from_the_side(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-tilt&tilt=6")
    # 55/sin 6° = 526 mm.
    page.wait_text(".tilt-view", "0.53 m below the lens")
    assert page.find(".tilt-view .wedge")


def test_no_room_is_said_with_the_gap(page: Page) -> None:
    opened(page, "/frame?lens=tpr-36&body=o7&via=tol-ost-plain")
    page.wait_text("[data-state=no-room]", "8.80 mm")


@pytest.mark.attack
def test_what_is_not_known_is_hatched_and_said(page: Page) -> None:
    opened(page, "/frame?lens=tub-400&body=o7&via=tub-ost-plain")
    page.find(".circle-unknown")
    assert page.find(".photo-unknown").is_displayed()
    page.wait_text(".frame-caption", "where it is hatched, it may be dark")
    page.wait_text(".frame-caption [data-state=assumed]", "image circle is not known")
    assert "not known" in page.text("[data-table=modes]")


def test_a_rig_that_does_not_work_has_its_reason_and_no_picture(page: Page) -> None:
    page.open("/frame?lens=kel-55&body=stave-3&via=")
    page.wait_text(".screen-head h1", "Do not mount this")
    assert page.all(".photo") == []


@pytest.mark.attack
def test_nothing_fits_and_one_end_alone_lead_on(page: Page) -> None:
    page.open("/frame?lens=lis-28&body=nave")
    page.wait_text("[data-state=nothing-fits] h1", "Nothing in the collection joins")
    page.find("[data-state=nothing-fits] a").click()
    page.answer("lis-28 nave best")
    page.open("/frame?lens=kel-55")
    page.wait_text("[data-state=no-pair] h1", "Which body?")


@pytest.mark.attack
def test_a_setting_that_the_rig_has_not_leads_back(page: Page) -> None:
    page.open(PAIR + "&n=1.4")
    page.wait_text("[data-state=not-possible] h1", "f/4 to f/22")
    page.find("[data-state=not-possible] button").click()
    shown(page, "lens=kel-30s")
    page.messages()


@pytest.mark.attack
def test_single_keys_change_scene_stop_and_orientation(page: Page) -> None:
    opened(page)
    page.press("2")
    shown(page, "scene=nave")
    page.press("]")
    shown(page, "aperture=5.6")
    page.press("v")
    shown(page, "upright=true")
    page.until(lambda _: page.find(".photo").rect["height"] > page.find(".photo").rect["width"], "not upright")


@pytest.mark.attack
def test_a_sighted_corner_becomes_the_measured_circle(own_sample_page: Page) -> None:
    page = own_sample_page
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-plain")
    page.find('[aria-label="Still clean at"]').send_keys("40")
    page.find('[aria-label="First dark at"]').send_keys("80")
    page.find(".sighting button[type=submit]").click()
    page.wait_text(".sighting [role=status]", "measured")
    page.wait_text("main", "measured, to")
    item = http.get(page.address + "/api/v1/kit/lenses/items/kel-55").json()["item"]
    travel = http.get(page.address + "/api/v1/kit/bodies/items/o7").json()["item"]["stabiliser"]["travel_mm"]
    assert item["image_circle_from"] == "measured"
    assert item["image_circle_mm"] == pytest.approx(2 * math.hypot(18 + 0.4 * travel, 12 + 0.4 * travel), abs=1e-5)


@pytest.mark.attack
def test_a_native_lens_stands_beside_the_adapted_one(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-plain&n=4&vs=lens%3Dost-30%26via%3D")
    page.until(lambda _: "lens=ost-30" in (page.find(".photo-other").get_attribute("data-picture") or ""), "no other")
    other = page.find(".photo-other").get_attribute("data-picture") or ""
    # Its own stops; the same church from the same place.
    assert "aperture" not in other
    assert "distance_m=" in other
    # What fits the body is told a moment later than the picture.
    page.wait_text(".photo-label.second", "native")


@pytest.mark.attack
def test_a_tilt_is_dragged_as_far_as_the_ring_goes_and_back_takes_one_step(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-tilt")
    knob = page.find('[type=range][aria-label="Tilt in degrees, down is positive"]')
    page.driver.execute_script("arguments[0].focus()", knob)
    for times in range(1, 5):
        page.press(Keys.ARROW_RIGHT)
        page.find(f'[type=range][value="{times / 2:g}"]')
    shown(page, "tilt=2")
    # 55/sin 2° = 1576 mm.
    page.wait_text(".tilt-view", "1.58 m below the lens")
    page.press(Keys.END)
    shown(page, "tilt=8")


@pytest.mark.attack
def test_a_pipe_mark_and_a_chart_follow_the_distance(page: Page) -> None:
    opened(page, "/frame?lens=kel-55&body=o7&via=kel-ost-close&scene=mark&at=0.4")
    page.wait_text(".screen-head h1", "Focused at 40")
    opened(page, PAIR + "&scene=chart&at=5")
    page.wait_text(".screen-head h1", "Focused at 5.00 m")
    assert page.axe() == []


@pytest.mark.parametrize("scene", some(["facade", "nave", "mark", "chart"], ["nave"]))
def test_every_scene_can_be_looked_at_beside_another_stop(page: Page, scene: str) -> None:
    opened(page, f"/frame?lens=kel-55&body=o7&via=kel-ost-close&scene={scene}&vs=n%3D16")
    page.until(lambda _: "aperture=16" in (page.find(".photo-other").get_attribute("data-picture") or ""), "no other")
    assert page.all(".photo-unknown") == []


def test_files_are_made_of_picture_drawing_and_tables(page: Page) -> None:
    opened(page)
    link = page.find("a[download$='.png']")
    assert (link.get_attribute("href") or "").startswith(page.address + "/api/v1/frame/picture?")
    kept = page.driver.execute_script(
        "const kept = []; const own = URL.createObjectURL;"
        "URL.createObjectURL = blob => { kept.push(blob); return own.call(URL, blob); }; window.kept = kept;"
        "for (const b of document.querySelectorAll('button'))"
        "  if (['Drawing as SVG', 'Tables as CSV'].includes(b.textContent.trim())) b.click();"
        "return kept.length;"
    )
    assert kept == 2
    texts = page.driver.execute_async_script(
        "const done = arguments[0]; Promise.all(window.kept.map(b => b.text())).then(done);"
    )
    drawing, tables = texts
    assert drawing.startswith("<svg")
    assert "10 mm" in drawing
    # Colours stand in the file itself, since no sheet goes along.
    assert 'stroke="rgb(' in drawing
    lines = tables.split("\r\n")
    assert lines[0].startswith("name,width_mm,height_mm")
    assert lines[1].startswith("full,36,24")
    assert any(line.startswith("f_number,distance_m,near_m") for line in lines)


@pytest.mark.attack
def test_a_film_body_and_a_zoom_have_what_they_have(page: Page) -> None:
    opened(page, "/frame?lens=kel-28-80&body=stave-2&via=&mm=50")
    page.wait_text(".frame-caption", "A film body")
    assert page.find('[data-table=modes] tr[data-mode="full"]').text.count("not known") >= 1
    shown(page, "mm=50")
