"""The label field: always at hand, reads both ends while one types, says what is doubtful and what it opens."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.thorough import some


def typed(page: Page, text: str) -> None:
    """Replace what stands in the field."""
    field = page.find('input[aria-label^="What is engraved"]')
    page.until(lambda d: d.switch_to.active_element == field, "the field is not ready")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(text)
    page.find(f'.label-said[data-label="{text}"]')


@pytest.mark.attack
@pytest.mark.parametrize("path", some(["/?lens=kel-55&body=o7", "/mounts"], ["/mounts"]))
def test_a_label_is_read_on_every_screen(page: Page, path: str) -> None:
    page.open(path)
    page.find("[data-answer-for]")
    page.press("/")
    typed(page, "KLV-MRW")
    assert "Kelvane" in page.text('[data-side="lens mount"]')
    assert "Marwick" in page.text('[data-side="camera mount"]')
    # 48.20 − 42.80
    assert "+5.40 mm" in page.text(".label-said")
    opened = page.find('.label-opens a[href="/?lens=kel-55&body=corran"]')
    assert page.axe() == []
    opened.click()
    page.answer("kel-55 corran best")


@pytest.mark.attack
def test_doubts_are_said_and_the_phone_has_room(page: Page) -> None:
    page.size(390, 844)
    page.open("/mounts")
    page.find("[data-answer-for]")
    page.find(".would-fit").click()
    typed(page, "M46 to OST")
    page.wait_text('[data-doubt="pitch_unstated"]', "does not say its pitch")
    typed(page, "OST-KLV")
    page.find('[data-doubt="ends_may_be_swapped"]')
    assert page.driver.execute_script("return document.documentElement.scrollWidth") == 390
    assert page.axe() == []
    page.press(Keys.ESCAPE)
    page.gone(".label-said")
