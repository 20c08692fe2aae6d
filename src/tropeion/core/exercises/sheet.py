"""A sheet for a class: questions from a seed, each another one, and their answers on a sheet of their own."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice

from .posing import USUAL_DIFFICULTY, pose
from .question import CannotAskError, PosedQuestion, SkillId

MOST_ON_A_SHEET = 60
# A question that stood on the sheet already is left out; after so many tries there are no others.
_TRIES = 12


@frozen
class ClassSheet:
    """The questions of a sheet: by the same seed, gear and release the same."""

    seed: int
    questions: tuple[PosedQuestion, ...]


def sheet_of(
    world: World,
    practice: Practice,
    skills: Sequence[SkillId],
    count: int,
    seed: int,
    *,
    difficulty: float = USUAL_DIFFICULTY,
    helper: World | None = None,
) -> ClassSheet:
    """So many questions, the skills in turn. Raises CannotAskError where there are not so many."""
    questions: list[PosedQuestion] = []
    asked: set[tuple[str, object]] = set()
    for number in range(count):
        skill = skills[number % len(skills)]
        for again in range(_TRIES):
            found = pose(
                world, practice, skill, seed * 1_000_003 + number * _TRIES + again, difficulty=difficulty, helper=helper
            )
            key = (found.asks, found.shown)
            if key not in asked:
                asked.add(key)
                questions.append(found)
                break
        else:
            raise CannotAskError(f"there are no more than {len(questions)} such questions: {skill} has no other")
    return ClassSheet(seed, tuple(questions))
