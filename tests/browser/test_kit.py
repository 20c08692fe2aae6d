"""The kit in the real browser: shelves, forms, undo, two windows, and in a shop."""

from __future__ import annotations

import json

import httpx
import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.conftest import Serve
from tests.limits import http
from tests.prepared import empty_at
from tests.worlds import lens
from tropeion.core.gear.gear import Gear
from tropeion.sample import sample_bytes
from tropeion.store import folding

pytestmark = pytest.mark.browser


def _type(page: Page, field: str, text: str) -> None:
    box = page.find(f'[data-field="{field}"] input, [data-field="{field}"] textarea')
    box.click()
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys(text)


def _choose(page: Page, field: str, option: str) -> None:
    page.find(f'[data-field="{field}"] .ant-select').click()
    page.find(f'[data-field="{field}"] input').send_keys(option)

    def taken(_: object) -> bool:
        found = [one for one in page.all(".ant-select-item-option") if one.text == option and one.is_displayed()]
        if found:
            found[0].click()
        return bool(found)

    page.until(taken, f"no option {option}")


def _open_group(page: Page, title: str) -> None:
    def opened(_: object) -> bool:
        found = [one for one in page.all(".pane summary") if one.text.startswith(title)]
        if found:
            found[0].click()
        return bool(found)

    page.until(opened, f"no group {title}")


def _rows(page: Page) -> list[str]:
    return [row.get_attribute("data-id") or "" for row in page.all(".shelf-row")]


def _held(page: Page, path: str) -> httpx.Response:
    return http.get(f"{page.address}/api/v1{path}")


@pytest.mark.attack
def test_search_filters_and_order_live_in_the_address(page: Page, sample_gear: Gear) -> None:
    page.open("/kit/lenses")
    page.answer("kit lenses ")
    page.wait_text(".shelf-count", f"{len(sample_gear.lenses)} in all")
    page.press("f")
    page.press("klv 55")
    page.answer("kit lenses klv 55")
    assert "kel-55" in _rows(page)
    page.until(lambda d: "q=klv+55" in d.current_url, "the address does not follow")
    page.find('.shelves a[href="/kit/bodies"]').click()
    page.answer("kit bodies ")
    assert page.find(".filters input").get_attribute("value") == ""
    page.press("f")
    page.press("nothing of the kind")
    page.find('[data-state="empty"]')
    page.until(lambda d: "q=nothing" in d.current_url, "the address does not follow")
    page.push("Show all")
    page.answer("kit bodies ")
    page.open("/kit/lenses?covers=54.9&sort=price&down=1")
    page.answer("kit lenses ")
    wide = [one for one in sample_gear.lenses if one.image_circle_mm and one.image_circle_mm >= 54.9]
    wide.sort(key=lambda one: -(one.price or 0))
    page.until(lambda _: _rows(page)[:3] == [one.id for one in wide][:3], "not by price, downwards")
    page.open("/kit/lenses?q=nothing+of+the+kind")
    page.find('[data-state="empty"]')


@pytest.mark.attack
def test_silhouettes_of_a_shelf_stand_at_one_scale(page: Page, sample_gear: Gear) -> None:
    page.open("/kit/adapters?sort=length")
    page.answer("kit adapters ")
    known = {one.id: one for one in sample_gear.adapters if one.outer_mm and one.bore_mm}
    scales = set()
    for row in page.all(".shelf-row"):
        piece = known.get(row.get_attribute("data-id") or "")
        if piece is None or piece.physical_length_mm < 2:
            continue
        drawn = float(row.find_element(By.CSS_SELECTOR, "rect").get_attribute("width") or "nan")
        scales.add(round(drawn / piece.physical_length_mm, 6))
    assert len(scales) == 1


def test_a_lens_is_added_with_usual_values_and_live_grades_then_undone_after_a_reload(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/lenses")
    page.answer("kit lenses ")
    page.press("n")
    page.find('.pane[data-item="new"]')
    _choose(page, "mount", "Kelvane")
    page.wait_text(".usual", "image circle")
    page.push(page.text(".usual button"))
    _type(page, "focal_length_mm", "40")
    _type(page, "name", "Sexton 40/2")
    page.until(lambda _: page.all('.effect[data-effect="settled"] [data-pair$=" o7"]'), "no live grade on the O7")
    _open_group(page, "Reach and picture")
    page.wait_text('[data-field="image_circle_mm"] .trust', "assumed")
    page.push("Add it")
    page.find('.pane[data-item="sexton-40-2"]')
    item = _held(page, "/kit/lenses/items/sexton-40-2").json()["item"]
    assert item["focal_length_mm"] == [40, 40]
    assert "image_circle_mm" in item["assumed"]
    assert "focal_length_mm" not in item["assumed"]
    page.driver.refresh()
    page.answer("kit lenses ")
    page.wait_text(".undo button", "Undo: Sexton 40/2 added")
    page.find(".undo button").click()
    page.find('[data-state="gone"]')
    assert _held(page, "/kit/lenses/items/sexton-40-2").status_code == 404


@pytest.mark.attack
def test_an_empty_kit_says_what_to_do_first(own_page: Page) -> None:
    own_page.open("/kit/lenses")
    own_page.answer("kit lenses ")
    own_page.wait_text('[data-state="empty"]', "This shelf is empty.")
    own_page.push("Add a lens")
    own_page.wait_text('[data-state="no-mounts"]', "add it first")
    own_page.find('[data-state="no-mounts"] a').click()
    # The lens's pane is a new one too: only a mount has a flange focal distance.
    own_page.find('.pane[data-item="new"] [data-field="register_mm"]')
    _type(own_page, "name", "Wick")
    _type(own_page, "register_mm", "44")
    _choose(own_page, "coupling", "bayonet")
    _choose(own_page, "lens_kind", "reflex")
    own_page.push("Add it")
    # Back to the lens that the mount was wanted for, and told so.
    own_page.wait_text(".kept-note", "Wick is in your kit now.")
    own_page.until(lambda d: "/kit/lenses?item=new" in d.current_url, "not led back")
    own_page.gone('[data-state="no-mounts"]')


@pytest.mark.attack
def test_a_form_keeps_none_and_not_known_apart(own_sample_page: Page) -> None:
    """By wire, no aperture is engraved on it: that was said, can be unsaid, and said again."""
    page = own_sample_page

    def saved(said: object) -> None:
        page.press(Keys.CONTROL, "s")
        page.find('.pane[data-item="ost-70-210"][data-changed="false"]')
        item = _held(page, "/kit/lenses/items/ost-70-210").json()["item"]
        assert item.get("marked_f_numbers", "not said") == said

    field = '[data-field="marked_f_numbers"]'
    page.open("/kit/lenses?item=ost-70-210")
    page.find('.pane[data-item="ost-70-210"]')
    _open_group(page, "Further details")
    assert "none" in page.text(field)
    page.push("Not known", field)
    page.wait_text(field, "not known")
    page.find('.pane[data-changed="true"]')
    saved("not said")
    page.push("It has none", field)
    page.wait_text(field, "none")
    saved([])
    box = page.find(f"{field} input")
    box.send_keys("4", Keys.ENTER)
    page.find('.pane[data-changed="true"]')
    saved([4.0])


@pytest.mark.attack
def test_what_goes_together_and_what_has_no_mount_stand_on_their_shelves(page: Page, sample_gear: Gear) -> None:
    for kind in ("accessories", "foils", "pairs"):
        page.open(f"/kit/{kind}")
        page.answer(f"kit {kind} ")
        assert set(_rows(page)) == {item.id for item in getattr(sample_gear, kind)}
    page.open("/kit/pairs?item=cage-with-qlk-ring")
    page.wait_text('[data-field="a"]', "Cage for the Vigil")
    page.wait_text('[data-field="b"]', "Ferrule QLK–SKN")
    page.open("/kit/lenses?item=head-75")
    page.wait_text(".pane", "No mount: nothing joins it yet.")
    assert not [link for link in page.all(".pane a") if link.text == "To the light path"]
    page.open("/?lens=head-75&body=o7")
    page.wait_text("main", "has no mount of its own")


@pytest.mark.attack
def test_an_edit_is_kept_as_a_draft_until_it_is_saved(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/lenses?item=kel-55")
    page.find('.pane[data-item="kel-55"][data-changed="false"]')
    _type(page, "price", "77")
    page.find('.pane[data-changed="true"]')
    page.open("/kit/lenses?item=kel-45")
    page.find('.pane[data-item="kel-45"]')
    page.open("/kit/lenses?item=kel-55")
    page.find('.pane[data-item="kel-55"][data-changed="true"]')
    page.find('[data-field="price"] input').send_keys(Keys.CONTROL, "s")
    page.find('.pane[data-item="kel-55"][data-changed="false"]')
    assert _held(page, "/kit/lenses/items/kel-55").json()["item"]["price"] == 77


@pytest.mark.attack
def test_how_long_the_history_is_kept_is_chosen_and_what_goes_is_said_first(
    own_sample_page: Page, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = own_sample_page
    monkeypatch.setattr(folding, "MOST_ACTIONS", 1)
    http.post(f"{page.address}/api/v1/kit/lenses/retire", json={"ids": ["kel-45"]}).raise_for_status()
    page.open("/kit/lenses")
    page.answer("kit lenses ")
    page.push("History", "body")
    page.find(".history-keep .ant-select").click()
    page.until(lambda _: _option(page, "the last 1,000 steps"), "no such choice")
    page.wait_text(".history-keep", "1 older step could then no longer be undone.")
    page.push("Cancel", ".history-keep")
    page.wait_text(".history-keep", "one year")
    page.find(".history-keep .ant-select").click()
    page.until(lambda _: _option(page, "the last 1,000 steps"), "no such choice")
    page.push("Let go of them", ".history-keep")
    page.until(lambda _: len(page.all(".history li")) == 1, "older steps are still listed")
    page.wait_text(".history-keep", "the last 1,000 steps")


def _option(page: Page, text: str) -> bool:
    found = [one for one in page.all(".ant-select-item-option") if one.text == text and one.is_displayed()]
    if found:
        found[0].click()
    return bool(found)


@pytest.mark.attack
def test_the_second_window_is_told_sees_both_and_loses_nothing(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/lenses?item=kel-55")
    page.find('.pane[data-item="kel-55"]')
    _type(page, "price", "77")
    _type(page, "notes", "Mine.")
    theirs = _held(page, "/kit/lenses/items/kel-55").json()
    changed = {"item": {**theirs["item"], "price": 55.0, "mass_g": 300.0}, "version": 1}
    assert http.put(f"{page.address}/api/v1/kit/lenses/items/kel-55", json=changed).status_code == 200
    page.push("Save")
    page.find('[data-state="conflict"]')
    rows = {row.get_attribute("data-field"): row.text for row in page.all(".conflict-box tr[data-field]")}
    assert set(rows) == {"price", "notes", "mass_g"}
    assert "77" in rows["price"]
    assert "55" in rows["price"]
    # What only one side changed is already chosen; the price is mine until I say otherwise.
    page.find('.conflict-box tr[data-field="price"] td:last-child input').click()
    page.push("Save what is chosen")
    page.gone('[data-state="conflict"]')
    item = _held(page, "/kit/lenses/items/kel-55").json()["item"]
    assert (item["price"], item["notes"], item["mass_g"]) == (55.0, "Mine.", 300.0)


@pytest.mark.attack
def test_what_is_in_use_says_who_uses_it_and_offers_to_retire(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/adapters?item=kel-ost-plain")
    page.find('.pane[data-item="kel-ost-plain"]')
    page.push("Remove")
    page.wait_text('[data-state="in-use"]', "Gallery camera")
    page.push("Archive it instead")
    page.gone('[data-state="in-use"]')
    page.wait_text(".pane-head", "Archived")
    page.open("/kit/rigs")
    page.wait_text('[data-rig="gallery"]', "Archived meanwhile: Plain ring KLV–OST")
    page.open("/kit/adapters?retired=1")
    page.until(lambda _: _rows(page) == ["kel-ost-plain"], "the retired one is not shown")
    page.find('.shelf-row[data-id="kel-ost-plain"] input').click()
    page.push("Restore from the archive")
    page.until(lambda _: not _rows(page), "it is still retired")


@pytest.mark.attack
def test_several_are_retired_at_once_and_come_back_at_once(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/lenses?q=brannoch")
    page.answer("kit lenses brannoch")
    ids = _rows(page)
    assert len(ids) >= 2
    page.find(f'.shelf-row[data-id="{ids[0]}"] input').click()
    last = page.find(f'.shelf-row[data-id="{ids[-1]}"] input')
    webdriver.ActionChains(page.driver).key_down(Keys.SHIFT).click(last).key_up(Keys.SHIFT).perform()
    page.wait_text(".selection", f"{len(ids)} selected")
    page.push("Archive")
    page.find('[data-state="empty"]')
    webdriver.ActionChains(page.driver).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    page.until(lambda _: _rows(page) == ids, "undo does not bring them back")


def test_a_rig_is_kept_on_the_light_path_and_tells_when_it_changes(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/?lens=brn-52&body=o7")
    page.until(lambda _: page.all(".keep-form"), "no form to keep it")
    page.find(".keep-form input").send_keys("Loft rig")
    page.push("Keep")
    page.wait_text(".keep", "Loft rig")
    rig = _held(page, "/kit/rigs/items/loft-rig").json()["item"]
    ring = _held(page, f"/kit/adapters/items/{rig['adapters'][0]}").json()
    longer = {"item": {**ring["item"], "measured_length_mm": ring["item"]["length_mm"] + 2}, "version": ring["version"]}
    http.put(f"{page.address}/api/v1/kit/adapters/items/{ring['id']}", json=longer).raise_for_status()
    page.load("/kit/rigs")
    page.wait_text('[data-rig="loft-rig"] .warning', "When it was kept")
    page.wait_text(".rigs-changed", "1 changed")


@pytest.mark.attack
def test_a_trial_of_ones_own_is_noted_and_counted(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/?lens=kel-55&body=o7")
    page.until(lambda _: page.all(".keep"), "no rig")
    page.push("Note a trial of your own")
    page.find(".trial input").send_keys("locks firmly")
    page.find('.trial input[value="contradicted"]').click()
    page.push("Note it")
    page.wait_text(".witnessed", "0 for, 1 against")
    page.open("/kit/bodies?item=o7")
    page.wait_text(".witnessed", "locks firmly")


@pytest.mark.attack
def test_a_label_becomes_an_adapter(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/kit/adapters")
    page.answer("kit adapters ")
    page.press("/")
    page.answer("fit")
    page.find('[aria-label^="What is engraved"]').send_keys("Kelvane lens to Tolmer body")
    page.wait_text(".label-said", "Add it to the kit")
    page.find(".label-said .message-actions a").click()
    page.find('.pane[data-item="new"]')
    page.wait_text('[data-field="lens_mount"]', "Kelvane")
    page.wait_text(".usual", "length")


@pytest.mark.attack
def test_would_it_fit_takes_three_taps_on_a_phone(page: Page) -> None:
    page.size(390, 844)
    page.open("/kit/lenses")
    page.answer("kit lenses ")
    page.find(".would-fit").click()
    page.find('[data-mount="kelvane"]').click()
    page.find('[data-focal="50"]').click()
    page.answer("fit kelvane 50")
    assert page.find('[data-body="o7"]').get_attribute("data-grade") == "manual"
    page.wait_text('[data-body="o7"]', "With what is in the kit: Plain ring KLV–OST")
    page.open("/fit")
    page.find('[aria-label^="What is engraved"]').send_keys("Kelvane 55/2.2")
    page.answer("fit kelvane 55")


@pytest.fixture(scope="module")
def large_page(driver: webdriver.Chrome, serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Page:
    """Three thousand lenses on the shelf."""
    document = json.loads(sample_bytes())
    document["lenses"] += [lens(id=f"l{n}", name=f"Lens {n:04}", mount="kelvane") for n in range(3000)]
    collection = empty_at(tmp_path_factory.mktemp("large") / "collection.sqlite")
    collection.replace(Gear.model_validate_json(json.dumps(document)))
    return Page(driver, serve_long(collection).address)


@pytest.mark.attack
def test_thousands_scroll_without_gaps(large_page: Page, sample_gear: Gear) -> None:
    large_page.size(1280, 800)
    large_page.open("/kit/lenses")
    large_page.answer("kit lenses ")
    large_page.wait_text(".shelf-count", f"{len(sample_gear.lenses) + 3000} in all")
    assert len(large_page.all(".shelf-row")) < 40
    gaps = large_page.driver.execute_async_script(
        """
        const done = arguments[0], shelf = document.querySelector('.shelf'), gaps = [];
        let at = 0;
        const step = () => {
          at += 9000;
          if (at > shelf.scrollHeight) return done(gaps);
          shelf.scrollTop = at;
          requestAnimationFrame(() => requestAnimationFrame(() => {
            const box = shelf.getBoundingClientRect();
            const seen = [...shelf.querySelectorAll('.shelf-row')].map((row) => row.getBoundingClientRect())
              .map((row) => Math.min(row.bottom, box.bottom) - Math.max(row.top, box.top)).filter((part) => part > 0);
            gaps.push(box.height - seen.reduce((sum, part) => sum + part, 0));
            step();
          }));
        };
        step();
        """
    )
    assert len(gaps) > 15
    assert max(gaps) < 3
