"""The practice room: answered by keys, by pointing and by sliding; what comes of it is drawn; a sheet for a class."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.core.exercises.asked import SAMPLE
from tropeion.core.exercises.posing import pose
from tropeion.core.exercises.question import PosedQuestion, SkillId
from tropeion.core.practice import Practice


def come_to(page: Page, skill: SkillId, trap: str) -> PosedQuestion:
    """The room of one skill, gone on with until this trap is asked; its question, as the core poses it."""
    page.open(f"/practice?only={skill}")
    page.answer("asked")
    for _ in range(12):
        shown = page.find(".practice-asked")
        if shown.get_attribute("data-trap") == trap:
            seed = int(shown.get_attribute("data-seed") or "0")
            # Every wrong answer before made this one easier.
            wanted = float(page.find("[data-wanted]").get_attribute("data-wanted") or "nan")
            return pose(SAMPLE, Practice(), skill, seed, trap=trap, difficulty=wanted)
        page.press("1")
        page.answer("answered")
        page.press(Keys.ENTER)
        page.answer("asked")
    pytest.fail(f"{trap} was not asked")


def place_of(question: PosedQuestion, *, right: bool) -> str:
    """The key of the right answer, or of a wrong one whose rig is another one."""
    chosen = next(
        number
        for number, choice in enumerate(question.choices, 1)
        if (choice.id == question.right) == right and (right or choice.after.lens is not None)
    )
    return str(chosen)


def test_a_wrong_answer_is_drawn_beside_the_right_one(own_sample_page: Page) -> None:
    page = own_sample_page
    question = come_to(page, "reach", "tube")
    # What the drawing says to who cannot see it is what the core says, and no more.
    assert page.find(".rig-pieces").get_attribute("aria-label") == question.described
    assert not page.all(".practice-told")
    page.press(place_of(question, right=False))
    page.answer("answered")
    page.wait_text(".practice-verdict", "Not this one.")
    assert page.find(".practice-choice.right").get_attribute("data-choice") == question.right
    page.find('[data-paths="2"] .section')
    assert question.why in page.text(".practice-told")
    for line in question.working:
        assert line in page.text(".practice-working")
    page.wait_text(".practice-fallen", "Near and far with a tube")
    page.press(Keys.ENTER)
    page.answer("asked")
    assert not page.all(".practice-outcome")


def test_a_right_answer_by_arrows_and_enter_is_taken_back_by_undo(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/practice")
    page.answer("asked")
    page.wait_text(".practice-today", "12 questions, 5 minutes")
    page.press(Keys.ARROW_DOWN)
    first = page.find(".practice-choice.marked").get_attribute("data-choice")
    page.press(Keys.ARROW_UP)
    last = page.all(".practice-choice")[-1].get_attribute("data-choice")
    assert page.find(".practice-choice.marked").get_attribute("data-choice") == last != first
    page.press(Keys.ENTER)
    page.answer("answered")
    page.wait_text(".practice-today", "11 questions left")
    page.find(".practice-today .undo button").click()
    page.wait_text(".practice-today", "Today: 12 questions, 5 minutes.")


def test_a_piece_is_pointed_at_by_hand_and_by_key(own_sample_page: Page) -> None:
    page = own_sample_page
    question = come_to(page, "links", "focus")
    piece = page.find(f'.rig-pieces [data-piece="{question.right}"]')
    assert piece.get_attribute("role") == "button"
    page.driver.execute_script("arguments[0].focus()", piece)
    page.press(Keys.ENTER)
    page.answer("answered")
    assert page.text(".practice-verdict") == "Right."
    # Once it was answered nothing can be pointed at.
    assert not page.all('.rig-pieces [role="button"]')


def test_the_jaws_are_slid_by_keys(own_sample_page: Page) -> None:
    page = own_sample_page
    question = come_to(page, "caliper", "set")
    wanted = next(choice.text for choice in question.choices if choice.id == question.right).removesuffix(" mm")
    slide = page.find(".caliper-slide")
    page.driver.execute_script("arguments[0].focus()", slide)
    for _ in range(6):
        if page.find("[data-display]").get_attribute("data-display") == wanted:
            break
        page.press(Keys.ARROW_RIGHT)
    assert page.find("[data-display]").get_attribute("data-display") == wanted
    page.find('[data-action="set"]').click()
    page.answer("answered")
    assert page.text(".practice-verdict") == "Right."


@pytest.mark.attack
def test_the_jaws_are_slid_by_hand(own_sample_page: Page) -> None:
    page = own_sample_page
    come_to(page, "caliper", "set")
    before = page.find("[data-display]").get_attribute("data-display")
    ActionChains(page.driver).click_and_hold(page.find(".caliper-box")).move_by_offset(40, 0).release().perform()
    page.until(lambda _: page.find("[data-display]").get_attribute("data-display") != before, "they did not slide")


def test_the_next_step_is_put_in_its_place(own_sample_page: Page) -> None:
    page = own_sample_page
    question = come_to(page, "setup", "order")
    done = [item.text for item in page.all(".practice-done-steps li")]
    assert question.shown.kind == "steps"
    assert done == list(question.shown.done)
    page.find(f'[data-choice="{question.right}"]').click()
    page.answer("answered")
    assert page.text(".practice-verdict") == "Right."


@pytest.mark.attack
@pytest.mark.parametrize(
    "skill", ["generation", "label", "equivalents", "stabiliser", "buy", "cause", "circle", "code"]
)
def test_every_other_skill_is_asked_and_answered(own_sample_page: Page, skill: str) -> None:
    page = own_sample_page
    page.open(f"/practice?only={skill}")
    page.answer("asked")
    assert page.find(".practice-asked").get_attribute("data-skill") == skill
    page.find(".practice-shown > *")
    page.press("2")
    page.answer("answered")
    page.find(".practice-verdict")
    assert page.axe() == []


def test_a_sheet_for_a_class_prints_questions_and_answers_apart(own_sample_page: Page) -> None:
    page = own_sample_page
    page.open("/practice/sheet?skills=label,reach&count=4&seed=3")
    page.answer("sheet 3 4 label,reach")
    assert [item.get_attribute("data-question") for item in page.all(".sheet-questions > li")] == ["label", "reach"] * 2
    page.driver.execute_script("window.print = () => window.dispatchEvent(new Event('beforeprint'))")
    page.push("Print the answers")
    answers = page.text('[data-printed="answers"]')
    assert "Answers, sheet 3" in answers
    assert not page.all('[data-printed="questions"]')
    page.driver.execute_script("window.dispatchEvent(new Event('afterprint'))")
    page.gone("[data-printed]")


def test_a_question_fits_a_phone(own_sample_page: Page) -> None:
    page = own_sample_page
    page.size(390, 844)
    page.open("/practice?only=label")
    page.answer("asked")
    assert page.driver.execute_script("return document.documentElement.scrollWidth") == 390
    for choice in page.all(".practice-choice"):
        assert choice.size["height"] >= 44
    page.all(".practice-choice")[0].click()
    page.answer("answered")
    page.find(".practice-paths .section")
