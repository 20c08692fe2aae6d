"""What comes next and how hard: the clock is handed in, neither touches the other."""

from __future__ import annotations

import random
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.thorough import examples
from tropeion.core.exercises.coming import TODAY, TrapStanding, difficulty_after, room_of
from tropeion.core.exercises.posing import SKILL
from tropeion.core.exercises.question import SKILLS
from tropeion.core.records.review import Review

BEGIN = datetime(2026, 3, 2, 9, 0, tzinfo=UTC)


def review(number: int, at: datetime, skill: str = "reach", trap: str = "tube", *, right: bool = True) -> Review:
    return Review(
        id=f"review-{number}",
        at=at.isoformat(timespec="milliseconds"),
        items=(),
        skill=skill,
        trap=trap,
        seed=number,
        wanted=0.5,
        difficulty=0.5,
        answered="x",
        right=right,
    )


def test_nothing_was_asked_yet() -> None:
    room = room_of([], BEGIN)
    assert (room.answered_today, room.left_today, room.minutes) == (0, 12, 5)
    assert room.next is not None
    assert (room.next.skill, room.next.seed, room.next.difficulty) == (SKILLS[0], 0, 0.5)
    assert {skill.skill for skill in room.skills} == set(SKILLS)


def test_a_first_round_takes_one_of_each_skill() -> None:
    asked: list[str] = []
    reviews: list[Review] = []
    for number in range(TODAY):
        at = BEGIN + timedelta(seconds=20 * number)
        room = room_of(reviews, at)
        assert room.next is not None
        asked.append(room.next.skill)
        reviews.append(review(number, at, room.next.skill, room.next.trap))
    # What was learnt a moment ago comes again after ten minutes, not within four.
    assert asked == list(SKILLS)
    last = room_of(reviews, BEGIN + timedelta(minutes=5))
    assert (last.answered_today, last.left_today, last.next) == (12, 0, None)
    assert last.later == BEGIN + timedelta(minutes=10)


def test_the_same_question_until_it_is_answered() -> None:
    before = room_of([], BEGIN).next
    assert room_of([], BEGIN + timedelta(hours=3)).next == before
    assert before is not None
    after = room_of([review(0, BEGIN, before.skill, before.trap, right=False)], BEGIN + timedelta(minutes=2))
    # Wrong comes again within minutes, as another question, and easier.
    assert after.next is not None
    assert (after.next.skill, after.next.trap, after.next.seed) == (before.skill, before.trap, 1)
    assert after.next.difficulty == pytest.approx(0.33)


def test_right_answers_space_out_and_a_wrong_one_brings_it_near() -> None:
    reviews: list[Review] = []
    at, gaps = BEGIN, []
    for number in range(6):
        reviews.append(review(number, at))
        due = trap_of(reviews, at).due
        assert due is not None
        gaps.append(due - at)
        at = due
    assert gaps == sorted(gaps)
    assert gaps[-1] > timedelta(days=30)
    reviews.append(review(9, at, right=False))
    due = trap_of(reviews, at).due
    assert due is not None
    assert due - at < timedelta(hours=1)


def trap_of(reviews: list[Review], now: datetime) -> TrapStanding:
    reach = next(skill for skill in room_of(reviews, now).skills if skill.skill == "reach")
    return next(trap for trap in reach.traps if trap.trap == "tube")


def test_traps_and_skills_of_other_releases_count_for_nothing() -> None:
    odd = [review(1, BEGIN, "alchemy", "gold"), review(2, BEGIN, "reach", "levitation")]
    room = room_of(odd, BEGIN)
    assert room.next == room_of([], BEGIN).next
    assert all(trap.met == 0 for skill in room.skills for trap in skill.traps)


def test_one_skill_goes_on_for_as_long_as_one_likes() -> None:
    reviews = [review(number, BEGIN + timedelta(seconds=number)) for number in range(TODAY)]
    now = BEGIN + timedelta(minutes=1)
    assert room_of(reviews, now).next is None
    room = room_of(reviews, now, "reach")
    assert room.next is not None
    assert room.next.skill == "reach"
    met = [review(40 + n, BEGIN, "reach", trap) for n, trap in enumerate(SKILL["reach"].traps)]
    again = room_of([*reviews, *met], now, "reach")
    assert again.next is not None, "what is remembered can be asked once more"


def test_the_traps_that_still_catch() -> None:
    reviews = [review(n, BEGIN + timedelta(minutes=n), right=n not in {2, 5}) for n in range(7)]
    assert trap_of(reviews, BEGIN + timedelta(hours=1)).fallen == 2
    reviews += [review(10 + n, BEGIN + timedelta(hours=2, minutes=n)) for n in range(5)]
    assert trap_of(reviews, BEGIN + timedelta(hours=3)).fallen == 0


@given(st.lists(st.booleans(), max_size=60), st.randoms(use_true_random=False))
@settings(max_examples=examples(60))
def test_the_order_in_which_records_are_read_does_not_matter(answers: list[bool], shuffle: random.Random) -> None:
    reviews = [review(n, BEGIN + timedelta(minutes=7 * n), right=right) for n, right in enumerate(answers)]
    now = BEGIN + timedelta(days=2)
    mixed = list(reviews)
    shuffle.shuffle(mixed)
    assert room_of(mixed, now) == room_of(reviews, now)
    reach = next(skill for skill in room_of(reviews, now).skills if skill.skill == "reach")
    wanted = 0.5
    for right in answers:
        wanted = min(1.0, max(0.0, wanted + (0.03 if right else -0.17)))
    assert reach.difficulty == pytest.approx(wanted)
    assert 0 <= reach.difficulty <= 1


def test_it_settles_where_85_of_100_are_right() -> None:
    """Somebody who answers less surely the harder it is: 0.85 of the answers come right in the long run."""
    chance, hard, right = random.Random(4), 0.5, 0
    for number in range(40_000):
        answered = chance.random() < 1.2 - 0.6 * hard
        hard = difficulty_after(hard, right=answered)
        right += answered if number >= 20_000 else 0
    assert right / 20_000 == pytest.approx(0.85, abs=0.01)
