"""Routes by what they are for; what is told of a rig that does not work; numbers beside each other."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tropeion.core.gear.world import World
from tropeion.core.routes.match import match


def test_routes_stand_in_groups_and_open_on_demand(page: Page, sample: World) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    routes = match(sample, "kel-55", "o7").routes
    groups = list(dict.fromkeys(route.group for route in routes))
    assert [e.get_attribute("data-group") for e in page.all(".route-group")] == groups
    closer = [",".join(route.adapters) for route in routes if route.group == "closer"]
    shown = '[data-group="closer"] .route'
    assert [e.get_attribute("data-via") for e in page.all(shown)] == closer[:3]
    page.wait_text('[data-via="kel-ost-tilt"] .route-purpose', "Tilts 8°")
    page.find('[data-group="closer"] .unfold').click()
    page.until(lambda _: len(page.all(shown)) == len(closer), "not opened")
    assert [e.get_attribute("data-via") for e in page.all(shown)] == closer
    assert page.axe() == []


@pytest.mark.attack
def test_arrows_go_through_the_groups_as_they_stand(page: Page, sample: World) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    routes = match(sample, "kel-55", "o7").routes
    first = [",".join(route.adapters) for route in routes if route.group == "infinity"]
    for via in first[1:6]:
        page.press(Keys.ARROW_DOWN)
        page.answer(f"kel-55 o7 {via}")
        # What is looked at is never hidden, though its group is not open.
        assert page.find(".route.selected").get_attribute("data-via") == via


def test_a_rig_that_does_not_work_is_told_by_what_stops_it(page: Page) -> None:
    page.open("/?lens=tol-82&body=o7&via=tpr-ost-plain")
    page.answer("tol-82 o7 tpr-ost-plain")
    page.find(".ribbon.off")
    titles = [e.text for e in page.all("h2")]
    assert "Set on the camera" not in titles
    assert "Functions" not in titles
    figures = [e.text for e in page.all(".sheet .figure-label")]
    assert not [label for label in figures if "probability" in label or "infinity" in label]
    steps = [e.text for e in page.all(".steps li")]
    assert len(steps) == 1
    assert "nothing comes into focus" in steps[0]


@pytest.mark.attack
def test_a_squeezed_lens_frames_two_ways_and_exposes_by_its_t_number(page: Page) -> None:
    page.open("/?lens=qlk-50&body=vigil")
    page.answer("qlk-50 vigil best")
    figures = {e.find_element("css selector", ".figure-label").text: e.text for e in page.all(".below-camera .figure")}
    # 50 mm on 26.2 × 13.8: √(36² + 24²)/√(26.2² + 13.8²) is 1.461; squeezed 1.6 times across.
    assert "73 mm" in figures["full-frame equivalent, upright"]
    assert "46 mm" in figures["full-frame equivalent, across"]
    assert "T/2.3" in figures["effective aperture"]


def test_working_distances_stand_beside_those_from_the_sensor(page: Page, sample: World) -> None:
    page.open("/?lens=kel-55&body=o7&via=kel-ost-plain,ost-ost-tube")
    page.answer("kel-55 o7 kel-ost-plain,ost-ost-tube")
    (route,) = match(sample, "kel-55", "o7", via=["kel-ost-plain", "ost-ost-tube"]).routes
    near, far = route.wide.focus.near_from_front_mm, route.wide.focus.far_from_front_mm
    assert near is not None
    assert far is not None
    page.wait_text(".sheet .figures", f"{near / 10:.1f} cm – {far / 10:.1f} cm")


# Would it fit?


@pytest.mark.attack
def test_the_question_stands_in_the_address_and_is_gone_back_on_step_by_step(page: Page) -> None:
    page.open("/fit")
    page.answer("fit")
    page.find('[data-mount="kelvane"]').click()
    page.find('input[name="mm"]').send_keys("28-80", Keys.ENTER)
    page.answer("fit kelvane 28-80")
    page.find('[data-generation="kelvane-1"]').click()
    page.until(lambda d: "gen=kelvane-1" in d.current_url, "not in the address")
    page.find('[data-generation="kelvane-1"][aria-pressed="true"]')
    address = page.driver.current_url
    for left_behind in ("gen=", "mm=", "mount="):
        page.driver.back()
        page.until(lambda d: left_behind not in d.current_url, f"{left_behind} is still there")  # noqa: B023
    page.driver.get(address)
    page.answer("fit kelvane 28-80")


@pytest.mark.attack
def test_the_generation_decides(page: Page) -> None:
    page.open("/fit?mount=kelvane&mm=50&gen=kelvane-1")
    page.find('[data-body="stave-3"][data-grade="danger"]')
    page.find('[data-generation="kelvane-3"]').click()
    page.until(lambda _: page.find('[data-body="stave-3"]').get_attribute("data-grade") == "native", "not judged anew")
    assert "is not known" not in page.text('[data-state="would-fit"] > p.route-gives')


@pytest.mark.attack
def test_a_body_leads_to_the_light_path_of_a_lens_that_is_not_owned(page: Page) -> None:
    page.open("/fit?q=KLV+28-80mm+1:3.5-4.5&gen=kelvane-3")
    page.answer("fit kelvane 28-80")
    page.find('[data-body="o7"] .fit-head a').click()
    page.answer("seen..kelvane..28-80..3.5-4.5..kelvane-3 o7 best")
    page.wait_text(".sentence h1", "Reaches infinity")
    page.find('[data-state="only-seen"] a')
    page.driver.back()
    page.answer("fit kelvane 28-80")


@pytest.mark.attack
def test_an_unknown_mount_is_found_by_looking_and_measuring(page: Page) -> None:
    page.size(390, 844)
    page.open("/fit")
    page.answer("fit")
    page.find(".fit-unknown").click()
    page.find('[data-choice="thread"]').click()
    page.find('[aria-label="Measured width, mm"]').send_keys("46,1")
    page.until(
        lambda _: [e.get_attribute("data-candidate") for e in page.all("[data-candidate]")] == ["tolmer", "tolmer-pr"],
        "not narrowed",
    )
    assert page.axe() == []
    assert page.driver.execute_script("return document.documentElement.scrollWidth") == 390
    page.find('[data-candidate="tolmer"]').click()
    page.find('[data-focal="50"]').click()
    page.answer("fit tolmer 50")


def test_what_cannot_be_read_is_answered_with_an_example(page: Page) -> None:
    page.open("/fit?q=zzz")
    page.wait_text(".findings", "Nothing of this can be read")
    page.open("/fit?q=KLV+28-80mm+1:3.5-4.5")
    page.answer("fit kelvane 28-80")
    page.gone(".findings")


# Labels


@pytest.mark.attack
def test_what_a_label_says_beside_its_ends_is_named(page: Page) -> None:
    page.open("/fit")
    field = page.find('[aria-label^="What is engraved"]')
    field.send_keys("Hobb & Lyle KLV-PLM 0.71x")
    page.find('[data-doubt="glass_said"]')
    page.wait_text(".label-unread", "Hobb, Lyle")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("Ostrel lens to Kelvane body")
    page.find('[data-doubt="no_room_this_way"]')
    page.wait_text(".label-turned", "lens mount Kelvane, camera mount Ostrel")
