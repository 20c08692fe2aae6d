"""Questions as a whole: again by their seed, one right answer under every school, and drawings that tell none."""

from __future__ import annotations

import re

import pytest

from tests.core.exercises.asked import SAMPLE, asked, seeds
from tests.random_worlds import world_by_chance
from tests.thorough import examples, some
from tropeion.core.exercises.hand import SCHOOLS
from tropeion.core.exercises.posing import SKILL, pose
from tropeion.core.exercises.question import MOST_CHOICES, SKILLS, CannotAskError, PosedQuestion, SkillId
from tropeion.core.exercises.sheet import sheet_of
from tropeion.core.gear.world import compile_world
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess


@pytest.mark.parametrize("skill", SKILLS)
def test_the_same_seed_asks_the_same(skill: SkillId) -> None:
    assert pose(SAMPLE, Practice(), skill, 7, difficulty=0.7) == asked(skill, 7)
    assert len({asked(skill, seed).asks for seed in range(12)}) > 4


@pytest.mark.parametrize("skill", SKILLS)
def test_a_question_is_whole(skill: SkillId) -> None:
    for seed in seeds()[: examples(48)]:
        question = asked(skill, seed)
        ids = [choice.id for choice in question.choices]
        assert 3 <= len(ids) <= MOST_CHOICES
        assert len(set(ids)) == len({choice.text.casefold() for choice in question.choices}) == len(ids)
        assert question.right in ids
        assert question.trap in SKILL[skill].traps
        assert 0 <= question.difficulty <= 1
        words = [question.asks, question.why, question.described, *question.working]
        words += [text for choice in question.choices for text in (choice.text, choice.after.says)]
        assert all(word.strip() for word in words)
        assert not re.search(r"[{}]|None[ ,.)]*(?:mm|m\b|°)|\bnan\b| -\d", " ".join(words))


def telling(text: str) -> set[str]:
    """The words and numbers of a text that could tell something."""
    return set(re.findall(r"\d+(?:[.,]\d+)?|[a-zéèö]{6,}", text.casefold().replace("−", "-")))


@pytest.mark.parametrize("skill", SKILLS)
def test_a_drawing_does_not_give_the_answer_away(skill: SkillId) -> None:
    for seed in seeds()[: examples(48)]:
        question = asked(skill, seed)
        own = {choice.id: telling(choice.text) for choice in question.choices}
        others = [words for id_, words in own.items() if id_ != question.right]
        # Nothing that the question does not say already, and that the right answer alone has.
        told = telling(question.described) - telling(question.asks)
        assert not told & own[question.right].difference(*others), question


@pytest.mark.parametrize("skill", SKILLS)
def test_difficulty_is_how_near_wrong_answers_are(skill: SkillId) -> None:
    """Asked for near ones and for far ones: over a few seeds the near ones are nearer."""
    easy, hard = (
        sum(pose(SAMPLE, Practice(), skill, seed, difficulty=wanted).difficulty for seed in range(examples(36)))
        for wanted in (0.0, 1.0)
    )
    assert hard > easy


OTHERS = [Practice.model_validate({name: school}) for name in SCHOOLS for school in SCHOOLS[name][1:]]


@pytest.mark.parametrize("skill", some(SKILLS, ("reach", "equivalents")))
def test_a_question_of_a_rig_holds_under_every_school(skill: SkillId) -> None:
    """What is asked under one school is not answered otherwise under another that the question does not fix."""
    for practice in OTHERS:
        try:
            question = pose(SAMPLE, practice, skill, 3)
        except CannotAskError:
            continue
        right = next(choice for choice in question.choices if choice.id == question.right)
        if right.after.lens is None or right.after.body is None:
            continue
        rig = (
            SAMPLE.lens(right.after.lens),
            tuple(SAMPLE.adapter(id_) for id_ in right.after.adapters),
            SAMPLE.body(right.after.body),
        )
        grades = {assess(SAMPLE, *rig, school).grade in {"none", "danger"} for school in [*OTHERS, Practice()]}
        assert len(grades) == 1, question


def test_the_crop_is_fixed_by_the_question() -> None:
    wide = asked("equivalents", 2, trap="twice", practice=Practice(crop="width"))
    assert "by the width" in wide.asks
    assert "by the diagonal" in asked("equivalents", 2, trap="twice").asks


def test_where_the_gear_asks_nothing_the_sample_world_helps_and_says_so() -> None:
    kept = [body for body in SAMPLE.gear.bodies if body.id == "o7"]
    lenses = [lens for lens in SAMPLE.gear.lenses if lens.mount == "ostrel"]
    mounts = [mount for mount in SAMPLE.gear.mounts if mount.id == "ostrel"]
    only = {"mounts": tuple(mounts), "bodies": tuple(kept), "lenses": tuple(lenses), "adapters": ()}
    one = compile_world(SAMPLE.gear.model_copy(update={**only, "rigs": (), "pairs": ()}))
    for skill in SKILLS:
        question = pose(one, Practice(), skill, 1, helper=SAMPLE)
        assert question.helped == (not mine(question))
    with pytest.raises(CannotAskError):
        pose(one, Practice(), "label", 1)


def mine(question: PosedQuestion) -> bool:
    known = {"o7", "ost-30", "ost-24", "ost-70-210"}
    ids = {question.about.lens, question.about.body, *question.about.adapters} - {None}
    return bool(ids) and all(id_ in known or str(id_).startswith("spacer..ostrel") for id_ in ids)


@pytest.mark.parametrize("seed", range(examples(12)))
def test_worlds_by_chance_ask_or_say_that_they_cannot(seed: int) -> None:
    world = world_by_chance(seed)
    for skill in SKILLS:
        question = pose(world, Practice(), skill, seed, helper=SAMPLE)
        assert question.right in {choice.id for choice in question.choices}


def test_a_sheet_is_the_same_again_and_asks_nothing_twice() -> None:
    sheet = sheet_of(SAMPLE, Practice(), ["reach", "label", "caliper"], 15, 4)
    assert sheet == sheet_of(SAMPLE, Practice(), ["reach", "label", "caliper"], 15, 4)
    assert [question.skill for question in sheet.questions[:4]] == ["reach", "label", "caliper", "reach"]
    assert len({(question.asks, question.shown) for question in sheet.questions}) == 15
    assert sheet != sheet_of(SAMPLE, Practice(), ["reach", "label", "caliper"], 15, 5)
    with pytest.raises(CannotAskError, match="no more than"):
        sheet_of(SAMPLE, Practice(), ["code"], 400, 1)
