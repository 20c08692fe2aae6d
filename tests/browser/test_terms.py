"""The page of terms, and the terms where a form asks for them."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tropeion.core.words import TERMS, capital, word


def shown(page: Page) -> list[str]:
    return [e.get_attribute("id") or "" for e in page.all(".term")]


@pytest.mark.attack
def test_every_term_stands_there_with_its_meaning_and_its_other_names(page: Page) -> None:
    page.open("/terms")
    page.answer("terms")
    assert sorted(shown(page)) == sorted(term.key for term in TERMS)
    for term in TERMS:
        text = page.text(f'[id="{term.key}"]')
        assert term.means in text
        assert capital(term.term) in text
        assert term.also in text


@pytest.mark.attack
def test_what_can_be_drawn_is_drawn(page: Page) -> None:
    """Words of distances and of the picture have drawings; each names a part of it or points at one."""
    page.open("/terms")
    page.answer("terms")
    drawn = {term.key for term in TERMS if page.all(f'[id="{term.key}"] svg')}
    assert {term.key for term in TERMS if term.topic in {"grades", "distances"}} <= drawn
    assert len(drawn) >= len(TERMS) / 2


@pytest.mark.attack
def test_a_term_is_found_by_its_name_its_other_name_and_its_meaning(page: Page) -> None:
    page.open("/terms")
    page.answer("terms")
    box = page.find('[aria-label="Search the terms"]')
    box.send_keys("register")
    page.until(lambda _: "flange_focal_distance" in shown(page) and len(shown(page)) < 8, "not narrowed")
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys("qqq")
    page.wait_text("[role=status]", "No term holds “qqq”")
    assert shown(page) == []
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys(Keys.BACKSPACE)
    page.until(lambda _: len(shown(page)) == len(TERMS), "not all again")


def test_a_link_to_one_term_shows_that_one(page: Page) -> None:
    page.open("/terms#circle_of_confusion")
    page.answer("terms")
    box = page.find(".term.asked").rect
    top = page.driver.execute_script("return window.scrollY")
    assert page.find(".term.asked").get_attribute("id") == "circle_of_confusion"
    assert 0 <= box["y"] - top < 800


@pytest.mark.attack
def test_a_field_is_explained_where_it_is_asked(page: Page) -> None:
    page.open("/kit/adapters?item=kel-ost-plain")
    page.answer("kit adapters ")
    page.find(f'[aria-label="What is meant by {word("adapter_length")}"]').click()
    told = page.find('[data-explains="adapter_length"]')
    page.until(lambda _: told.is_displayed(), "not shown")
    assert told.find_elements("css selector", "svg")
    assert "front face" in told.text
    assert page.axe() == []
    told.find_element("css selector", "a").click()
    page.find(".term.asked")
    page.driver.back()
    page.answer("kit adapters ")


def test_the_keyboard_opens_and_closes_an_explanation_and_the_form_stays(page: Page) -> None:
    page.open("/kit/lenses?item=kel-55")
    page.find(".pane details")
    # A group's fields are made when it is unfolded.
    page.driver.execute_script("for (const group of document.querySelectorAll('.pane details')) group.open = true")
    mark = page.find(f'[aria-label="What is meant by {word("rear_protrusion")}"]')
    page.driver.execute_script("arguments[0].focus()", mark)
    page.until(lambda _: page.find('[data-explains="rear_protrusion"]').is_displayed(), "not shown")
    page.press(Keys.ESCAPE)
    page.until(
        lambda _: not [e for e in page.all('[data-explains="rear_protrusion"]') if e.is_displayed()], "still there"
    )
    assert page.all(".pane-head")


@pytest.mark.attack
def test_the_help_leads_to_the_terms(page: Page) -> None:
    page.open("/?lens=kel-55&body=o7")
    page.answer("kel-55 o7 best")
    page.press("?")
    page.find(".keys")
    page.until(lambda d: not d.execute_script("return document.getAnimations().length"), "still moving")
    page.find('.panel a[href="/terms"]').click()
    page.answer("terms")
