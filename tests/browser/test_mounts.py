"""Mounts: the ruler, the matrix, a system whole, and the key."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.limits import http
from tropeion.core.gear.world import World


def test_all_systems_stand_on_one_ruler_to_scale(page: Page, sample: World) -> None:
    page.open("/mounts")
    page.answer("mounts all lens")
    scale, sensor = page.number(".ruler svg", "data-scale"), page.number(".ruler svg", "data-sensor")
    for mount in sample.gear.mounts:
        flange = page.box(f'.ruler-mount[data-mount="{mount.id}"] .ruler-flange')
        assert (sensor - flange["x"]) / scale == pytest.approx(mount.register_mm, abs=0.1 / scale)
    order = [e.get_attribute("data-system") for e in page.all(".ruler-row")]
    registers = [sample.mounts[id_ or ""].register_mm or 0.0 for id_ in order]
    assert registers == sorted(registers, reverse=True)


@pytest.mark.attack
def test_a_chosen_system_shows_its_room_from_either_side(page: Page) -> None:
    page.open("/mounts")
    page.answer("mounts all lens")
    page.find('[data-system="kelvane"]').click()
    page.answer("mounts kelvane lens")
    # 48.20 − 22.40
    assert "+25.80" in page.text('[data-system="ostrel"]')
    assert "plain adapter" in page.text('[data-system="ostrel"]')
    room = page.box('[data-mount="ostrel"] .ruler-room')
    assert room["width"] / page.number(".ruler svg", "data-scale") == pytest.approx(25.80, abs=0.05)
    page.press("s")
    page.answer("mounts kelvane body")
    assert "−25.80" in page.text('[data-system="ostrel"]')
    assert page.find('[data-mount="ostrel"] .ruler-room').get_attribute("class") == "ruler-room deep "
    page.press(Keys.ARROW_DOWN)
    page.answer("mounts tolmer body")
    page.press(Keys.ESCAPE)
    page.answer("mounts all body")


@pytest.mark.attack
def test_the_matrix_says_the_best_grade(page: Page) -> None:
    page.open("/mounts")
    page.answer("mounts all lens")
    cells = {e.get_attribute("data-cell"): e.get_attribute("title") or "" for e in page.all("[data-cell]")}
    assert cells["ostrel ostrel"].startswith("Ostrel on Ostrel: Native")
    by_hand = "Kelvane on Ostrel: Manual focus and stop-down. Room +25.80 mm, plain adapter"
    assert cells["kelvane ostrel"].startswith(by_hand)
    assert cells["lisken skarn"].startswith("Lisken on Skarn: nothing joins them")
    # A telescope without focusing on a reflex body: joined, and of no use.
    assert "Not usable" in cells["tube-53 kelvane"]


def test_threads_that_look_alike_are_drawn_at_one_scale(page: Page) -> None:
    page.open("/mounts")
    page.answer("mounts all lens")
    pairs = page.all('[data-alike="same_diameter"]')
    assert pairs
    scale = page.number("[data-alike=same_diameter] svg", "data-scale")
    for thread in pairs[0].find_elements(By.CSS_SELECTOR, ".thread"):
        pitch = float(thread.get_attribute("data-pitch") or "nan")
        width = page.driver.execute_script("return arguments[0].getBBox().width", thread)
        # As many whole turns as twelve millimetres hold.
        assert width / scale == pytest.approx(pitch * int(12 / pitch + 1e-9), abs=0.01)
    assert "Do not force it" in pairs[0].text


def generation(number: int) -> str:
    return f'[data-generation="kelvane-{number}"]'


@pytest.mark.attack
def test_a_system_whole(page: Page) -> None:
    page.open("/mounts?of=kelvane")
    page.answer("mounts kelvane lens")
    page.press(Keys.ENTER)
    page.answer("mount kelvane")
    assert len(page.all("[data-generation]")) == 4
    first = page.find('[data-generation="kelvane-1"]')
    assert first.find_elements(By.CSS_SELECTOR, '.face.lens [data-feature="rack-long"]')
    assert first.find_elements(By.CSS_SELECTOR, '.face.body [data-feature="pinion"]')
    assert not first.find_elements(By.CSS_SELECTOR, '[data-feature="stepped-shoe"]')
    # A probe that stays, one that can be drawn back, and none: no two of them look alike.
    probes = {
        number: [
            part.get_attribute("class") for part in page.all(f"{generation(number)} .face.body [data-feature^=probe]")
        ]
        for number in (1, 2, 3)
    }
    assert probes == {1: [], 2: ["face-part slide_probe"], 3: ["face-part probe"]}
    page.find('[data-encounter="kelvane-1 kelvane-3"]').click()
    page.wait_text(".encounter-text", "shears off the fixed probe")
    assert "Kelvane Stave III" in page.text(".held")
    page.open("/mounts/nowhere")
    page.wait_text("[role=alert] h1", "no mount system of this name")


@pytest.mark.attack
def test_an_unknown_system_leads_back_and_an_empty_collection_says_so(page: Page, own_page: Page) -> None:
    page.open("/mounts/kelvan/key")
    page.wait_text("[role=alert] h1", "no mount system of this name")
    page.find('[role=alert] a[href="/mounts/kelvane"]').click()
    page.answer("mount kelvane")
    own_page.open("/mounts")
    own_page.wait_text("[data-state=empty] h1", "no mount systems yet")
    assert own_page.all(".ruler") == []


def probability(page: Page, generation: str) -> float:
    return page.number(f'[data-remaining="{generation}"]', "data-probability")


def test_the_key_narrows_takes_back_and_says_where_it_may_go(page: Page) -> None:
    page.open("/mounts/kelvane/key")
    page.answer("key kelvane lens 0")
    before = probability(page, "kelvane-1")
    # Beside the generations stand three conversions of I and one of IV, one lens in fifty each.
    assert before == pytest.approx(0.3 / 1.021)
    asked = page.text(".key-ask h1")
    assert page.find(".face-part.asked")
    page.press("y")
    page.answer("key kelvane lens 1")
    assert page.text(".key-ask h1") != asked
    page.press(Keys.BACKSPACE)
    page.answer("key kelvane lens 0")
    assert page.text(".key-ask h1") == asked
    page.open("/mounts/kelvane/key?seen=y.rack-long,n.sounding-hole")
    page.answer("key kelvane lens 2")
    # A long rack has one generation of four, a hole the others: 0.3·0.98·0.98 against 0.25·0.02·0.02 + …
    assert probability(page, "kelvane-1") > 0.95
    page.wait_text("[data-verdict=kelvane-1]", "It is generation I.")
    effects = {e.text.split(":")[0].strip(): e.get_attribute("data-effect") for e in page.all(".may-mount li")}
    assert effects["Kelvane Stave III"] == "damage"
    assert effects["Kelvane Stave II"] == "safe_after"
    assert page.axe() == []


def add_attic_lens(page: Page) -> None:
    page.find(".add-lens form > .add-field input").send_keys("Attic 58/2")
    page.find(".add-row .add-field input").send_keys("58")
    page.find(".add-lens button[type=submit]").click()


def test_what_may_still_break_is_said_and_two_looks_settle_it(page: Page) -> None:
    page.open("/mounts/kelvane/key?seen=y.painted-index")
    page.answer("key kelvane lens 1")
    place = page.find('.may-mount li[data-effect="damage"]')
    assert "Kelvane Stave III: breaks parts if it is generation I (29 %)." in place.text
    assert "Look first: long toothed rack on the rear rim." in place.text
    assert "Still possible: I breaks parts; IV no metering; III meters; II meters." in place.text
    assert page.axe() == []
    page.find('[data-look="no rack-long"]').click()
    page.answer("key kelvane lens 2")
    assert "n.rack-long" in page.driver.current_url
    # One look does not clear what breaks: a second part is to be looked at.
    place = page.find('.may-mount li[data-effect="damage"]')
    assert "breaks parts if it is generation I (under 1 %)." in place.text
    page.find('[data-look="yes sounding-hole"]').click()
    page.answer("key kelvane lens 3")
    assert not page.all('.may-mount li[data-effect="damage"]')


@pytest.mark.attack
def test_a_lens_whose_generation_is_open_is_kept_open(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/mounts/kelvane/key?seen=y.painted-index")
    page.answer("key kelvane lens 1")
    add_attic_lens(page)
    page.find('[data-grade="danger"] .brick[data-id="stave-3"]')
    item = http.get(f"{page.address}/api/v1/kit/lenses/items/attic-58-2").json()["item"]
    assert not item.keys() & {"generation", "features"}
    (noted,) = item["evidence"]
    assert noted["claim"].startswith("Its generation is open: I 29")
    assert noted["note"].startswith("Seen: painted second index.")


@pytest.mark.attack
def test_answers_can_be_taken_back_one_by_one(page: Page) -> None:
    page.open("/mounts/kelvane/key?seen=y.rack-short,n.stepped-shoe")
    page.answer("key kelvane lens 2")
    page.all(".key-answers .unfold")[1].click()
    page.answer("key kelvane lens 1")
    assert "seen=y.rack-short" in page.driver.current_url


@pytest.mark.attack
def test_the_identified_lens_is_added_and_judged(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/mounts/kelvane/key?seen=y.rack-long,n.sounding-hole")
    page.answer("key kelvane lens 2")
    add_attic_lens(page)
    # Straight to what it fits: the film body that it would break is on the wall, with the warning.
    page.find('[data-grade="danger"] .brick[data-id="stave-3"]')
    assert "lens=attic-58-2" in page.driver.current_url
    gear = http.get(f"{page.address}/api/v1/gear").json()
    (lens,) = [one for one in gear["lenses"] if one["id"] == "attic-58-2"]
    assert lens["generation"] == "kelvane-1"
    assert "rack-long" in lens["features"]


@pytest.mark.attack
def test_the_screens_remember_their_questions(page: Page) -> None:
    page.open("/?lens=tol-82&body=lark")
    page.answer("tol-82 lark best")
    page.press("m")
    page.answer("mounts all lens")
    page.find('.screens a[href^="/?lens=tol-82"]').click()
    page.answer("tol-82 lark best")
