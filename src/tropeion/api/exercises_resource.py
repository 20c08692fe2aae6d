"""The practice room: questions made from the gear at hand, answers that are kept, sheets for a class."""

from __future__ import annotations

import csv
import functools
import io
from datetime import UTC, datetime
from typing import Annotated

from fastapi import Query, Response
from pydantic import BaseModel, Field

from tropeion.core.exercises.coming import PracticeRoom, room_of
from tropeion.core.exercises.posing import SKILL, pose
from tropeion.core.exercises.question import AnswerChoice, AnsweredBy, AskedAbout, PosedQuestion, Shown, SkillId
from tropeion.core.exercises.sheet import MOST_ON_A_SHEET, ClassSheet, sheet_of
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.kinds import PieceKind
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.record import begun
from tropeion.core.records.review import Review
from tropeion.formats import gear_file
from tropeion.formats.cells import text_cell
from tropeion.sample import sample_bytes
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Written, attached

router = resource("/api/v1/exercises", "exercises")

_Seed = Annotated[int, Field(ge=0, lt=2**53)]
_Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
_Word = Annotated[str, Field(min_length=1, max_length=120)]


class AskedChoice(BaseModel):
    """An answer that can be given, before one was."""

    id: str
    text: str


class AskedQuestion(BaseModel):
    """A question without its answer; ``wanted`` with ``seed`` brings it again."""

    skill: SkillId
    title: str
    trap: str
    seed: int
    wanted: float
    difficulty: float
    asks: str
    about: AskedAbout
    choices: tuple[AskedChoice, ...]
    shown: Annotated[Shown, Field(discriminator="kind")]
    described: str
    by: AnsweredBy
    helped: bool


class GivenAnswer(Written):
    """What was answered to which question."""

    skill: SkillId
    trap: _Word
    seed: _Seed
    wanted: _Share
    answered: _Word


class TheAnswer(BaseModel):
    """What is right, what would have come of each choice, the rule and its working. ``record`` keeps the answer."""

    right: str
    choices: tuple[AnswerChoice, ...]
    why: str
    rule: str
    working: tuple[str, ...]
    record: str


@functools.cache
def _sample() -> World:
    return compile_world(gear_file.load(sample_bytes()))


def _posed(
    collection: Collection, practice: Practice, skill: SkillId, trap: str | None, seed: int, wanted: float
) -> PosedQuestion:
    if trap is not None and trap not in SKILL[skill].traps:
        raise NotPossibleError("trap", f"{SKILL[skill].title} has {', '.join(SKILL[skill].traps)}, and no ‘{trap}’")
    return pose(collection.world(), practice, skill, seed, difficulty=wanted, trap=trap, helper=_sample())


def _reviews(collection: Collection) -> list[Review]:
    return [kept.record for kept in collection.records_of(Review, struck=False)]


@router.get("")
def get_room(collection: CollectionOf, only: SkillId | None = None) -> PracticeRoom:
    """Where somebody stands, and what comes next; ``only`` one skill."""
    return room_of(_reviews(collection), datetime.now(UTC), only)


@router.get("/question")
def get_question(
    skill: SkillId,
    seed: Annotated[_Seed, Query()],
    collection: CollectionOf,
    practice: PracticeOf,
    trap: Annotated[_Word | None, Query()] = None,
    wanted: Annotated[_Share, Query()] = 0.5,
) -> AskedQuestion:
    """A question, without its answer."""
    found = _posed(collection, practice, skill, trap, seed, wanted)
    return AskedQuestion(
        skill=skill,
        title=SKILL[skill].title,
        trap=found.trap,
        seed=seed,
        wanted=wanted,
        difficulty=found.difficulty,
        asks=found.asks,
        about=found.about,
        choices=tuple(AskedChoice(id=choice.id, text=choice.text) for choice in found.choices),
        shown=found.shown,
        described=found.described,
        by=found.by,
        helped=found.helped,
    )


@router.post("/answers")
def post_answer(given: GivenAnswer, collection: CollectionOf, practice: PracticeOf) -> TheAnswer:
    """Keep an answer, and tell what is right."""
    found = _posed(collection, practice, given.skill, given.trap, given.seed, given.wanted)
    if given.answered not in {choice.id for choice in found.choices}:
        raise NotPossibleError(
            "answered", "that is not among what can be answered: the gear has changed since, ask again"
        )
    right = given.answered == found.right
    review = Review(
        **begun(() if found.helped else _items(found.about)),
        skill=given.skill,
        trap=given.trap,
        seed=given.seed,
        wanted=given.wanted,
        difficulty=found.difficulty,
        answered=given.answered,
        right=right,
        helped=found.helped,
    )
    title = SKILL[given.skill].traps[given.trap].title
    collection.keep_record(review, f"Practice, {title}: {'right' if right else 'wrong'}")
    return TheAnswer(
        right=found.right,
        choices=found.choices,
        why=found.why,
        rule=SKILL[given.skill].traps[given.trap].rule,
        working=found.working,
        record=review.id,
    )


@router.get("/table", response_class=Response)
def get_table(collection: CollectionOf) -> Response:
    """Every answer that counts, the first one first, as a table (CSV)."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["at", "skill", "trap", "right", "answered", "difficulty", "seed"])
    for review in sorted(_reviews(collection), key=lambda review: (review.at, review.id)):
        words = [text_cell(text) for text in (review.at, review.skill, review.trap)]
        rows.writerow([*words, review.right, text_cell(review.answered), review.difficulty, review.seed])
    return attached(out.getvalue().encode(), "tropeion-practice.csv", "text/csv; charset=utf-8")


def _items(about: AskedAbout) -> list[tuple[PieceKind, str]]:
    items: list[tuple[PieceKind, str]] = [("adapters", id_) for id_ in about.adapters if ".." not in id_]
    if about.lens is not None and ".." not in about.lens:
        items.append(("lenses", about.lens))
    if about.body is not None and ".." not in about.body:
        items.append(("bodies", about.body))
    return items


@router.get("/sheet")
def get_sheet(
    collection: CollectionOf,
    practice: PracticeOf,
    seed: Annotated[_Seed, Query()],
    skills: Annotated[str, Query(max_length=200)] = "",
    count: Annotated[int, Query(ge=1, le=MOST_ON_A_SHEET)] = 12,
    wanted: Annotated[_Share, Query()] = 0.5,
) -> ClassSheet:
    """A sheet for a class, with its answers: skills by commas, all of them if none is named."""
    named = [word for word in skills.split(",") if word] or list(SKILL)
    wrong = [word for word in named if word not in SKILL]
    if wrong:
        raise NotPossibleError("skills", f"‘{wrong[0]}’ is none of {', '.join(SKILL)}")
    chosen = [skill for word in named for skill in SKILL if skill == word]
    return sheet_of(collection.world(), practice, chosen, count, seed, difficulty=wanted, helper=_sample())
