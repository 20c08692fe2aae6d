"""The Light path screen, as a person uses it."""

from __future__ import annotations

from typing import Any

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.limits import http
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match

# Pick and read


def test_it_opens_with_a_telling_pair(page: Page, sample: World) -> None:
    page.open()
    page.answer("kel-55 o7 best")
    assert page.text(".sentence h1") == "Reaches infinity; focus and aperture by hand."
    best = [",".join(route.adapters) for route in match(sample, "kel-55", "o7").routes if route.group == "infinity"]
    assert [e.get_attribute("data-via") for e in page.all(".route")][:3] == best[:3]
    assert "lens=kel-55" in page.driver.current_url


def test_pick_another_lens_by_part_of_its_name(page: Page) -> None:
    page.open()
    page.answer("kel-55 o7 best")
    page.pick("lens", "82", "Tolmer 82/2")
    page.answer("tol-82 o7 best")
    assert page.find(".route").get_attribute("data-via") == "tol-ost-pin"


@pytest.mark.attack
def test_pick_by_the_alias_of_the_mount_with_the_keyboard_alone(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.press("b")
    page.press("plm")
    page.find(".picker-popup .entry-name")
    page.until(lambda _: [e.text for e in page.all(".picker-popup .entry-name")] == ["Pellam Lark"], "not narrowed")
    page.press(Keys.ENTER)
    page.answer("kel-55 lark best")


@pytest.mark.attack
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


@pytest.mark.attack
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


@pytest.mark.attack
def test_folded_routes_are_counted_and_can_be_seen(page: Page, sample: World) -> None:
    report = match(sample, "mrw-92", "o7")
    page.open("/?lens=mrw-92&body=o7")
    page.answer("mrw-92 o7 best")
    assert f"{report.folded} more are no better in anything" in page.text(".folded")
    gone = {",".join(one.adapters) for one in match(sample, "mrw-92", "o7", everything=True).routes}
    gone -= {",".join(one.adapters) for one in report.routes}
    page.find(".folded button").click()
    page.wait_text(".folded", f"All {report.total} routes are here.")
    page.find('[data-group="fails"] .unfold')
    for unfold in page.all('.route-group .unfold[aria-expanded="false"]'):
        unfold.click()
    page.until(lambda _: gone <= {e.get_attribute("data-via") for e in page.all(".route")}, "still folded")
    assert "all=1" in page.driver.current_url


# Unfold a working


def test_every_number_unfolds(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    for name in [e.get_attribute("data-quantity") for e in page.all("button.figure")]:
        page.driver.execute_script("arguments[0].click()", page.find(f'button.figure[data-quantity="{name}"]'))
        page.find(f'.worked[data-quantity="{name}"] .worked-formula strong')


@pytest.mark.attack
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


@pytest.mark.attack
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


@pytest.mark.attack
def test_what_fits_leads_to_the_pair(page: Page) -> None:
    page.open("/?body=lark")
    page.find('.brick[data-id="plm-17"]').click()
    page.answer("plm-17 lark best")
    assert page.text(".grade-word") == "Native"


@pytest.mark.attack
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


@pytest.mark.attack
def test_an_unknown_lens_alone_and_an_unknown_piece_of_a_chain_are_named_too(page: Page) -> None:
    page.open("/?lens=kel-5")
    page.wait_text("[data-state=unknown-id] h1", "names a lens")
    page.open("/?lens=tpr-36&body=o7&via=tpr-lsk-stepp,lsk-ost-plain")
    page.wait_text("[data-state=unknown-id] h1", "names an adapter")
    page.find(".message-actions button").click()
    page.answer("tpr-36 o7 tpr-lsk-step,lsk-ost-plain")


def test_the_window_is_named_after_the_pair(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    assert page.driver.title == "Kelvane 55/2.2 on Ostrel O7 · Tropeion"


@pytest.mark.attack
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
        lambda _: http.get(f"{page.address}/api/v1/start").json()["practice"]["equivalence"] == "framing_and_depth",
        "not kept",
    )
    page.open()
    page.answer("kel-55 o7 best trust=cautious equivalence=framing_and_depth distances=imperial")


@pytest.mark.attack
def test_an_address_does_not_overwrite_the_readers_own_practice(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/?lens=kel-55&body=o7&crop=width")
    page.answer("kel-55 o7 best crop=width")
    page.wait_text(".practice-note", "by the preferences in this address, not by yours")
    assert http.get(f"{page.address}/api/v1/start").json()["practice"]["crop"] == "diagonal"
    page.find(".practice-note button").click()
    page.answer("kel-55 o7 best")
    page.gone(".practice-note")


# States


def test_nothing_fits_says_what_would(page: Page) -> None:
    page.open("/?lens=ost-30&body=vigil")
    page.answer("ost-30 vigil best")
    assert "Their flange focal distances are equal" in page.text("[data-state=nothing-fits] h1")
    kinds = [e.get_attribute("data-kind") for e in page.all(".needs li")]
    assert kinds == ["close_up", "correcting_glass", "shared_plate"]


@pytest.mark.attack
def test_the_wrong_ring_is_struck_through_beside_the_right_one(page: Page) -> None:
    """Nobody knows how far this lens is focused out: the ring of the other system on its thread is not called good."""
    page.open("/?lens=tol-140&body=o7")
    page.answer("tol-140 o7 best")
    assert page.text('.route[data-via="tol-ost-pin"] .not-these s') == "Plain ring 46 × 1.1 PR–OST"
    wrong = page.find('.route.wrong[data-via="tpr-ost-plain"]')
    assert "differ by 16.10 mm" in wrong.text
    wrong.click()
    page.wait_text(".figures", "unknown\ninfinity from")
    page.wait_text(".sentence h1", "Whether it reaches infinity is not known")


def test_a_thread_that_binds_is_told_though_another_ring_is_shown(page: Page) -> None:
    page.open("/?lens=tub-400&body=o7")
    page.answer("tub-400 o7 best")
    page.wait_text(".warning", "Do not force it.")


def test_what_is_assumed_is_hatched_and_named(own_sample_page: Page) -> None:
    page = own_sample_page
    held = f"{page.address}/api/v1/kit/adapters/items/tol-ost-pin"
    found = http.get(held).json()
    stated = {key: value for key, value in found["item"].items() if key not in {"tolerance_mm", "play_mm"}}
    http.put(held, json={"version": found["version"], "item": stated}).raise_for_status()
    page.open("/?lens=tol-82&body=o7&via=tol-ost-pin")
    page.find(".assumed-area")
    page.wait_text(".figures", "in part assumed")
    page.wait_text(".findings", "±0.05 mm for Hobb & Lyle 46 × 1.1–OST, pin flange is assumed")
    page.wait_text(".findings", "that of the mount behind it is taken")


@pytest.mark.attack
def test_an_empty_end_asks_for_it(page: Page) -> None:
    page.open("/?lens=kel-55")
    page.wait_text("[data-state=no-pair] h1", "Which camera? These take it.")
    # Meanwhile it says what fits.
    page.find('[data-grade="danger"] .brick[data-id="stave-3"]')
    page.find("[data-state=no-pair] button").click()
    page.pick("body", "o7", "Ostrel O7")
    page.answer("kel-55 o7 best")


def test_an_empty_collection_takes_the_sample(own_page: Page) -> None:
    own_page.open()
    own_page.wait_text("[data-state=empty] h1", "Your collection is empty.")
    next(e for e in own_page.all("button") if e.text == "Look round the sample").click()
    own_page.answer("kel-55 o7 best")


@pytest.mark.attack
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
