"""The ways of five people, walked and counted; who enters things of their own from nothing is in test_begin."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page


class Counted:
    """Everything that a person does, one by one: taps, words typed, keys."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def tap(self, selector: str) -> None:
        self.page.find(selector).click()
        self.count += 1

    def tap_text(self, selector: str, text: str) -> None:
        def tapped(_: object) -> bool:
            found = [e for e in self.page.all(selector) if e.text.strip() == text and e.is_displayed()]
            for one in found[:1]:
                one.click()
            return bool(found)

        self.page.until(tapped, f"no {text} among {selector}")
        self.count += 1

    def type(self, text: str) -> None:
        self.page.press(text)
        self.count += 1

    def key(self, key: str) -> None:
        self.page.press(key)
        self.count += 1


@pytest.mark.attack
def test_somebody_with_one_old_lens_learns_what_it_is_and_what_to_buy(page: Page) -> None:
    """From the start: which mount, which generation, then on which camera, and the ring that it wants."""
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    me = Counted(page)
    me.tap_text(".screens a", "Kit")
    me.tap_text(".views a", "Mounts compared")
    me.tap('[data-system="kelvane"]')
    me.tap_text("main a", "Which generation is it?")
    page.answer("key kelvane lens 0")
    page.wait_text("main", "on the flange?")
    # No shoe on its flange, but teeth along the rim: two looks decide.
    me.key("n")
    page.answer("key kelvane lens 1")
    page.wait_text(".key-ask h1", "teeth run along half of the rear rim")
    me.key("y")
    page.answer("key kelvane lens 2")
    page.wait_text("[data-verdict=kelvane-1]", "It is generation I.")
    page.wait_text('.may-mount li[data-effect="damage"]', "Kelvane Stave III")
    me.tap(".kin a")
    page.find(".wall")
    me.tap('.brick[data-id="o7"]')
    page.wait_text(".sentence h1", "Reaches infinity")
    page.wait_text(".route.selected", "Plain ring KLV–OST")
    assert me.count <= 10


@pytest.mark.attack
def test_somebody_in_a_shop_has_an_answer_in_four_and_goes_back_step_by_step(page: Page) -> None:
    page.size(390, 844)
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    me = Counted(page)
    me.tap(".would-fit")
    page.answer("fit")
    me.tap('[data-mount="marwick"]')
    me.tap('[data-focal="50"]')
    page.answer("fit marwick 50")
    assert me.count <= 4
    assert page.find('[data-body="o7"]').get_attribute("data-grade") in {"full", "manual", "partial"}
    told = page.driver.current_url
    # Back: the focal length is asked again, then the mount, then what was there before.
    page.driver.back()
    page.find('[data-focal="50"]')
    page.driver.back()
    page.find('[data-mount="marwick"]')
    page.driver.back()
    page.answer("kel-55 o7 best")
    # The address holds question and answer.
    page.driver.get(told)
    page.answer("fit marwick 50")
    # What cannot be read is answered by an example.
    page.open("/fit?q=hello")
    page.wait_text("main", "Nothing of this can be read")
    page.wait_text("main", "KLV 1:2.2/55")


@pytest.mark.attack
def test_a_mount_that_nobody_can_name_is_narrowed_by_looking(page: Page) -> None:
    page.size(390, 844)
    page.open("/fit")
    page.answer("fit")
    me = Counted(page)
    me.tap(".fit-unknown")
    me.tap_text("main button", "It screws in (thread)")
    me.tap_text("main button", "A pin")
    page.find('[aria-label="Measured width, mm"]').click()
    me.type("46")
    me.tap('[data-candidate="tolmer"]')
    me.tap('[data-focal="50"]')
    page.answer("fit tolmer 50")
    assert me.count <= 7
    assert page.axe() == []


@pytest.mark.attack
def test_a_film_maker_sees_squeeze_modes_play_and_load_and_takes_the_card_along(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    me = Counted(page)
    me.key("l")
    me.type("quillon 50")
    page.until(lambda _: [e for e in page.all(".picker-popup .entry-name") if e.text], "nothing found")
    me.key(Keys.ENTER)
    page.until(lambda d: "lens=qlk-50" in d.current_url, "the lens is not taken")
    page.driver.execute_script("document.activeElement.blur()")
    me.key("b")
    me.type("vigil")
    page.until(
        lambda _: [e.text for e in page.all(".picker-popup .entry-name") if e.text] == ["Skarn Vigil"], "not found"
    )
    me.key(Keys.ENTER)
    page.answer("qlk-50 vigil best")
    # The collar takes it up again in any quarter; each mode of the sensor and the squeeze are told.
    page.wait_text("main", "Load on the mount at")
    page.wait_text("main", "N·m")
    text = page.text("main")
    for part in ("1.6 ×", "desqueeze", "Ferrule QLK–SKN", "pin"):
        assert part in text
    page.driver.execute_script("window.print = () => window.dispatchEvent(new Event('beforeprint'))")
    page.driver.execute_script("document.activeElement.blur()")
    me.key("k")
    card = page.find("[data-printed=card]").get_attribute("textContent") or ""
    assert "Set the desqueeze to 1.6" in card
    assert "qualified repairer" in card
    page.driver.execute_script("window.dispatchEvent(new Event('afterprint'))")
    page.gone("[data-printed]")
    assert me.count <= 8


def focused(page: Page) -> str:
    """What has the focus, and whether it can be seen that it has."""
    script = (
        "const e = document.activeElement; const s = getComputedStyle(e);"
        "return [e.textContent.trim() || e.getAttribute('aria-label'), e.matches(':focus-visible'), s.outlineStyle]"
    )
    text, visible, _ = page.driver.execute_script(script)
    assert visible
    return str(text)


def test_the_keyboard_alone_goes_everywhere(page: Page) -> None:
    """Pair, routes, comparison, parts of the drawing, working, help, another screen and back: without a pointer."""
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.press("l")
    page.press("tolmer 82")
    page.until(lambda _: [e for e in page.all(".picker-popup .entry-name") if e.text], "nothing found")
    page.press(Keys.ENTER)
    page.until(lambda d: "lens=tol-82" in d.current_url, "the lens is not taken")
    page.press(Keys.ESCAPE, Keys.TAB)
    page.answer("tol-82 o7 best")
    # Past the fields nothing is typed any more.
    page.press(*[Keys.TAB] * 3)
    page.press(Keys.ARROW_DOWN)
    page.until(lambda d: "via=" in d.current_url, "the next route is not chosen")
    page.press("c")
    page.find(".compare")
    page.press(Keys.ESCAPE)
    page.gone(".compare")
    page.press("n")
    assert "Name the parts" in focused(page)
    page.press(Keys.ARROW_RIGHT)
    first = page.text(".part-said")
    page.press(Keys.ARROW_RIGHT)
    page.until(lambda _: page.text(".part-said") not in {"", first}, "the next part is not named")
    assert len(page.all(".pointed")) == 1
    page.press(Keys.ARROW_LEFT)
    page.wait_text(".part-said", first)
    page.press(Keys.ESCAPE)
    page.until(lambda _: not page.all(".pointed"), "a part is still pointed at")
    for _ in range(12):
        page.press(Keys.TAB)
        if page.driver.execute_script("return document.activeElement.classList.contains('figure')"):
            break
    focused(page)
    page.press(Keys.ENTER)
    page.find(".worked")
    page.press(Keys.ESCAPE)
    page.gone(".worked")
    page.press("?")
    page.find(".keys")
    page.press(Keys.ESCAPE)
    page.gone(".keys")
    page.press("m")
    page.answer("mounts all lens")
    page.press(Keys.ARROW_DOWN, Keys.ARROW_DOWN)
    page.find('.ruler-row[aria-pressed="true"]')
    page.press(Keys.ENTER)
    page.find(".generations, .route-gives")
    page.driver.back()
    page.find(".ruler-row")
    page.press("l")
    page.find(".sentence h1")
