"""A card rehearsed on the camera on the screen: a step forgotten, refused, mended; what the finder shows meanwhile."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By

from tests.browser.conftest import Page
from tests.thorough import some

REHEARSE = "/setup/gallery?view=rehearse"


def begun(page: Page, path: str = REHEARSE) -> None:
    page.open(path)
    page.find(".camera-back")
    tap(page, "Begin again")
    page.find("[data-seen='not_yet'][data-step='1']")
    page.find(".finder-off")


def tap(page: Page, name: str) -> None:
    """Press the button of that name, as it is shown or as it is read out."""

    def pressed(_: object) -> bool:
        found = [one for one in page.all("main button") if name in (one.text, one.get_attribute("aria-label"))]
        if found:
            page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found[0])
            found[0].click()
        return bool(found)

    page.until(pressed, f"no button {name}")


def says(page: Page, part: str) -> None:
    page.wait_text("[data-says]", part)


def choose(page: Page, setting: str, option: str) -> None:
    box = page.find(f"[data-setting={setting}] .ant-select")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
    box.click()

    def taken(_: object) -> bool:
        found = [one for one in page.all(".ant-select-item-option") if one.text == option and one.is_displayed()]
        if found:
            found[0].click()
        return bool(found)

    page.until(taken, f"no option {option}")


def done(page: Page, control: str) -> None:
    """Wait until the camera sees the step of a control done."""
    steps = {"focal_length": "Enter ", "release_without_lens": "Allow ", "exposure": "Set the exposure"}
    page.until(
        lambda _: any(
            steps[control] in one.text and one.get_attribute("data-seen") == "done" for one in page.all("[data-step]")
        ),
        f"{control} is not done",
    )


def swap(page: Page) -> None:
    page.find(".camera-switch[aria-checked=true]").click()
    page.find(".camera-switch[aria-checked=false]")
    tap(page, "Swap: put Kelvane 55/2.2 on")
    page.find("[data-step='3'][data-seen=done]")
    page.find(".camera-switch[aria-checked=false]").click()
    page.find(".camera-prompt")


def rest_of_the_card(page: Page) -> None:
    """All that is left of the plain card, the release without a lens apart."""
    tap(page, "aperture")
    done(page, "exposure")
    choose(page, "stabiliser", "still")
    choose(page, "travel", "off")
    page.until(lambda _: "Store as" in page.text("[data-setting=store]"), "nothing to store")
    tap(page, "Store as “55/2.2+KLV”")
    tap(page, "magnifier")
    page.find("[data-magnified='5.5']")
    tap(page, "Turn the ring until it is sharp")
    page.until(lambda _: "Turn the ring again" in page.text(".camera-mount"), "not focused")
    tap(page, "Stop down")
    page.until(lambda _: "Open the aperture" in page.text(".camera-mount"), "not stopped down")


@pytest.mark.attack
@pytest.mark.parametrize("size", some([(1280, 800), (390, 844)], [(390, 844)]))
def test_the_release_is_forgotten_refused_and_mended(own_server_page: Page, size: tuple[int, int]) -> None:
    page = own_server_page
    page.size(*size)
    begun(page)
    swap(page)
    tap(page, "Release")
    says(page, "The release is refused. It sees no lens, and release without a lens is not allowed.")
    mending = page.find(".rehearsed-steps .mends")
    assert "Allow release without a lens" in mending.text
    assert "This mends it." in mending.text
    choose(page, "release_without_lens", "allow")
    done(page, "release_without_lens")
    tap(page, "Release")
    # It takes a frame now, with all that is still wrong.
    says(page, "A frame, but not the one that was meant. The stabiliser works for 85 mm, this lens wants 55 mm")
    box = page.find("[data-setting=focal_length] input")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()", box)
    box.send_keys("55")
    tap(page, "Enter")
    done(page, "focal_length")
    rest_of_the_card(page)
    tap(page, "Release")
    says(page, "The frame is taken, and every step that the camera can see is done.")
    page.find(".rehearsal[data-passed=true]")
    # What no camera can tell is ticked by hand.
    by_hand = page.find("[data-seen=hand] input")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", by_hand)
    by_hand.click()
    page.find("[data-seen=hand].done")
    assert page.driver.execute_script("return document.documentElement.scrollWidth") == size[0]


@pytest.mark.attack
def test_the_prompt_keeps_the_last_focal_length_unless_it_is_changed(own_server_page: Page) -> None:
    page = own_server_page
    begun(page)
    swap(page)
    prompt = page.find(".camera-prompt")
    assert "The last one had 85 mm" in prompt.text
    prompt.find_element(By.XPATH, ".//button[.='Confirm']").click()
    page.gone(".camera-prompt")
    page.find(".finder.shakes")
    # Off and on again it asks again, and is told.
    page.find(".camera-switch").click()
    page.find(".camera-switch[aria-checked=false]").click()
    box = page.find(".camera-prompt input")
    page.driver.execute_script("arguments[0].select()", box)
    box.send_keys("55")
    tap(page, "Change")
    page.gone(".camera-prompt")
    choose(page, "stabiliser", "still")
    page.until(lambda _: "shakes" not in (page.find(".finder").get_attribute("class") or ""), "it shakes still")
    assert page.find("[data-setting=focal_length] input").get_attribute("value") == "55"


@pytest.mark.attack
def test_peaking_marks_edges_of_what_is_not_sharp(own_server_page: Page) -> None:
    page = own_server_page
    begun(page)
    swap(page)
    tap(page, "Dismiss")
    tap(page, "peaking")
    assert "edges, not focus" in page.text(".finder-told.peaked")
    filtered = page.driver.execute_script("return getComputedStyle(document.querySelector('.finder img')).filter")
    assert "finder-edges" in str(filtered)
    # Without the magnifier it is focused nearly, and the finder knows.
    tap(page, "Turn the ring until it is sharp")
    page.until(lambda _: "magnifier" in (page.find(".finder").get_attribute("data-finder") or ""), "as sharp as any")


@pytest.mark.attack
def test_a_swap_with_the_power_on_is_seen(own_sample_page: Page) -> None:
    page = own_sample_page
    begun(page)
    tap(page, "Swap: put Kelvane 55/2.2 on")
    page.find("[data-step='1'][data-seen=not_yet]")
    choose(page, "release_without_lens", "allow")
    tap(page, "Release")
    says(page, "It was swapped with the power on")


@pytest.mark.attack
def test_a_squeezed_finder_is_made_wide(own_server_page: Page) -> None:
    page = own_server_page
    begun(page, "/setup/film?view=rehearse")
    page.find(".camera-switch[aria-checked=true]").click()
    page.find(".camera-switch[aria-checked=false]")
    tap(page, "Swap: put Quillon 50/2 × 1.6 on")
    page.until(lambda _: "is on" in page.text(".camera-mount"), "not on")
    page.find(".camera-switch[aria-checked=false]").click()

    def shape() -> float:
        box = page.find(".finder .photo").rect
        return float(box["width"] / box["height"])

    page.find(".finder img")
    squeezed = shape()
    choose(page, "squeeze", "1.6 ×")
    page.until(lambda _: shape() > squeezed * 1.2, "still squeezed")
    # 26.2 × 13.8 mm, drawn out by 1.6.
    assert shape() == pytest.approx(1.6 * 26.2 / 13.8, rel=0.02)


@pytest.mark.attack
def test_keys_lead_through_the_views(page: Page) -> None:
    page.open("/setup/gallery")
    page.find(".balance-support")
    for key, selector in (("r", ".camera-back"), ("s", ".stored-places"), ("c", ".balance-support")):
        page.press(key)
        page.find(selector)


def test_a_rig_that_must_not_be_joined_is_not_rehearsed(page: Page) -> None:
    page.open("/setup?lens=kel-55&body=stave-3&via=&view=rehearse")
    page.find("[data-state=not-to-rehearse]")
    assert page.all(".camera-back") == []
