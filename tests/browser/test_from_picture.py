"""Measured from pictures in the browser: sent, drawn over, kept, laid on the bench, printed to be photographed."""

from __future__ import annotations

import base64
import io
from pathlib import Path

import pytest
from pypdf import PdfReader
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.core.measured.rendered import picture_file, scene, true_mtf50

RIG = "lens=kel-55&body=o7&via=kel-ost-plain"
SHARP = (("gauss", 1.0),)


def roof(folder: Path, name: str, blur: tuple[tuple[str, float], ...] = SHARP) -> str:
    path = folder / name
    path.write_bytes(picture_file(scene(900, 600, [(385, 200, 5.0, blur)])))
    return str(path)


def sends(page: Page, slot: int, path: str) -> None:
    page.until(lambda _: len(page.all(".measured-slot input[type=file]")) > slot, f"no slot {slot}")
    page.all(".measured-slot input[type=file]")[slot].send_keys(path)


def test_sharpness_is_drawn_over_the_picture_and_kept_by_its_stop(own_sample_page: Page, tmp_path: Path) -> None:
    page = own_sample_page
    page.open(f"/bench?{RIG}&view=picture")
    page.answer("bench picture")
    sends(page, 0, roof(tmp_path, "roof.png"))
    page.find("[data-measured=settled]")
    pitch = 36 / 900
    told = true_mtf50(5.0, SHARP) / pitch
    page.wait_text("h1", f"{told:.0f} lp/mm in the middle")
    assert page.all("[data-edge=centre]")
    # Nothing is kept of sharpness without a stop.
    assert page.find("[data-action=keep]").get_attribute("disabled")
    page.find("[data-field=stop]").send_keys("5.6")
    page.find("[data-action=keep]").click()
    page.find('[data-kept="1"]')
    page.wait_text("[data-usable=paid_still]", "no corner was measured")
    page.find("[data-field=demand-lp]").send_keys("1")
    page.wait_text("[data-kept]", "1 lp/mm, as you set it")
    page.push("strike out")
    page.find("[data-field=reason]").send_keys("shaken")
    page.push("Strike it out")
    page.wait_text(".measured-none", "Nothing is kept yet")
    assert page.axe() == []


def test_a_rectangle_is_dragged_around_what_counts(own_sample_page: Page, tmp_path: Path) -> None:
    page = own_sample_page
    page.open(f"/bench?{RIG}&view=picture")
    sends(page, 0, roof(tmp_path, "roof.png"))
    page.find("[data-measured=settled]")
    drawn = page.find("[data-picture=shown]")
    scale = drawn.size["width"] / 900
    # Around a flat part of the wall: there is no edge in it.
    ActionChains(page.driver).move_to_element_with_offset(
        drawn, (600 - 450) * scale, (80 - 300) * scale
    ).click_and_hold().move_by_offset(200 * scale, 100 * scale).release().perform()
    page.find("[data-refused=no_edge]")
    page.wait_text("h1", "No straight edge in it qualifies")
    page.push("All edges again")
    page.find("[data-edge=centre]")


def test_a_blur_is_laid_on_the_bench_as_two_hills(own_sample_page: Page, tmp_path: Path) -> None:
    page = own_sample_page
    page.open(f"/bench?{RIG}&view=picture&measure=ring")
    error_mm, stop, pitch = 0.6, 2.2, 36 / 900
    disc = ("disc", error_mm / stop / pitch)
    sends(page, 0, roof(tmp_path, "soft.png", (*SHARP, disc)))
    sends(page, 1, roof(tmp_path, "focus.png"))
    page.wait_text(".measured-controls", "focus.png")
    page.wait_text(".measured-controls", "Say the stop on the lens.")
    page.find("[data-field=stop]").send_keys(str(stop))
    page.find("[data-action=measure]").click()
    page.find("[data-measured=settled] [data-error]")
    errors = [float(one.get_attribute("data-error") or "nan") for one in page.all("[data-error]")]
    assert len(errors) == 2
    assert min(abs(one - error_mm) for one in errors) < 0.1
    page.find("[data-action=bench]").click()
    page.find("[data-observation=edge_blur]")
    page.until(lambda _: len(page.all("[data-observation=edge_blur] .error-bell")) == 2, "two hills")


def test_a_circle_goes_to_the_lens_after_one_confirmation(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open(f"/bench?{RIG}&view=picture&measure=circle")
    page.find("[data-action=sample]").click()
    page.find("[data-measured=settled] [data-circle]")
    assert page.all("[data-fallen]")
    page.find("[data-action=circle]").click()
    page.wait_text("[data-action=circle]", "Written to the lens")
    item = page.driver.execute_async_script(
        "const done = arguments[0];"
        "fetch('/api/v1/kit/lenses/items/kel-55').then(answer => answer.json()).then(page => done(page.item));"
    )
    assert item["image_circle_from"] == "measured"
    # 0.93 of the diagonal of the whole sensor, as it was drawn.
    assert item["image_circle_mm"] == pytest.approx(0.93 * (36**2 + 24**2) ** 0.5, abs=0.2)
    assert item["image_circle_tolerance_mm"] > 0


@pytest.mark.parametrize(("kind", "sheets"), [("Squares", 2), ("Ladder", 1)])
def test_charts_are_printed_at_true_size(own_sample_page: Page, kind: str, sheets: int) -> None:
    page = own_sample_page
    page.open(f"/bench?{RIG}&view=picture&measure=chart")
    page.find("[data-chart=edges]")
    page.push(kind)
    if kind == "Squares":
        box = page.find("[data-field=across]")
        box.send_keys(Keys.BACKSPACE, "2")
    page.until(lambda _: len(page.all(".measured-sheets svg")) == sheets, f"{sheets} sheets")
    page.wait_text("h1", "m away at 55 mm")
    printed = page.driver.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
    pages = PdfReader(io.BytesIO(base64.b64decode(printed["data"]))).pages
    assert len(pages) == sheets
    points = 72 / 25.4
    assert float(pages[0].mediabox.width) == pytest.approx(210 * points, abs=1)
    assert float(pages[0].mediabox.height) == pytest.approx(297 * points, abs=1)
    # On paper its own width is that of the sheet: 210 mm at 96 pixels an inch.
    page.driver.execute_script("window.dispatchEvent(new Event('beforeprint'))")
    sheet = page.driver.find_element(By.CSS_SELECTOR, ".printed-measured-chart svg")
    assert sheet.size["width"] == pytest.approx(210 / 25.4 * 96, abs=1)
    page.driver.execute_script("window.dispatchEvent(new Event('afterprint'))")
