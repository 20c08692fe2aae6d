"""What comes next, and how hard: one card for each trap, one difficulty for each skill; neither touches the other.

A card is told *again* by a wrong answer and *good* by a right one (FSRS). The difficulty goes up by 0.03 on a right
answer and down by 0.17 on a wrong one, which rests where 85 % are right: 0.85 · 0.03 = 0.15 · 0.17.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Final

from fsrs import Card, Rating, Scheduler, State

from tropeion.core.frozen import frozen
from tropeion.core.records.review import Review
from tropeion.core.working import tidy

from .posing import SKILL, USUAL_DIFFICULTY
from .question import SKILLS, SkillId

TODAY: Final = 12
MINUTES: Final = 5
_UP, _DOWN = 0.03, 0.17
_LATEST = 5


@frozen
class TrapStanding:
    """A trap: how often it was met, how often of the last five times it was fallen into, and when it comes again.

    ``due`` None: it was never asked. ``kept``: it is remembered as of now.
    """

    trap: str
    title: str
    rule: str
    met: int
    fallen: int
    due: datetime | None
    kept: bool


@frozen
class SkillStanding:
    """A skill: how hard its questions are, how many were answered and how many of them right."""

    skill: SkillId
    title: str
    asks: str
    near_by: str
    difficulty: float
    answered: int
    right: int
    traps: tuple[TrapStanding, ...]


@frozen
class Coming:
    """A trap of a skill that is to be asked, and how hard."""

    skill: SkillId
    trap: str
    seed: int
    difficulty: float


@frozen
class PracticeRoom:
    """Where somebody stands: what was answered today, what is left of it, and what comes next.

    ``later`` is when the next card is due where nothing is left.
    """

    answered_today: int
    left_today: int
    minutes: int
    next: Coming | None
    later: datetime | None
    skills: tuple[SkillStanding, ...]


def difficulty_after(difficulty: float, *, right: bool) -> float:
    """How hard a skill is after an answer."""
    return tidy(min(1.0, max(0.0, difficulty + (_UP if right else -_DOWN))))


def _cards() -> Iterator[tuple[SkillId, str, int]]:
    """Every trap with the number of its card."""
    for place, skill in enumerate(SKILLS):
        for number, trap in enumerate(SKILL[skill].traps):
            yield skill, trap, 100 * place + number


def room_of(reviews: Sequence[Review], now: datetime, only: SkillId | None = None) -> PracticeRoom:
    """Where somebody stands by the answers that count; ``only`` one skill is asked, whatever else is due.

    ``now`` is in UTC; so are the answers.
    """
    scheduler = Scheduler(enable_fuzzing=False)
    order = sorted(reviews, key=lambda review: (review.at, review.id))
    cards: dict[tuple[str, str], Card] = {}
    hard: dict[str, float] = dict.fromkeys(SKILLS, USUAL_DIFFICULTY)
    ids = {(skill, trap): number for skill, trap, number in _cards()}
    for review in order:
        key = (review.skill, review.trap)
        if key not in ids:
            # Of another release: it counts for nothing that there is.
            continue
        at = datetime.fromisoformat(review.at).astimezone(UTC)
        card = cards.get(key) or Card(card_id=ids[key], due=at)
        cards[key], _ = scheduler.review_card(card, Rating.Good if review.right else Rating.Again, at)
        hard[review.skill] = difficulty_after(hard[review.skill], right=review.right)
    answered = sum(datetime.fromisoformat(review.at).astimezone(UTC).date() == now.date() for review in order)
    due, new = _due(cards, now, only), _new(cards, only)
    left = len((due + new)[: max(0, TODAY - answered)])
    # One skill alone may be gone on with for as long as one likes.
    choice = (due + new)[0] if left or (only is not None and due + new) else _soonest(cards, only)
    asks_on = left > 0 or only is not None
    dates = [card.due for key, card in cards.items() if only is None or key[0] == only]
    return PracticeRoom(
        answered_today=answered,
        left_today=left,
        minutes=-(-left * MINUTES // TODAY),
        next=None if choice is None or not asks_on else _coming(choice, order, hard),
        later=min(dates, default=None) if left == 0 else None,
        skills=tuple(_skill(skill, order, cards, hard, scheduler, now) for skill in SKILLS),
    )


def _due(cards: dict[tuple[str, str], Card], now: datetime, only: str | None) -> list[tuple[SkillId, str]]:
    """What is due, the longest first."""
    waiting = [(card.due, key) for key, card in cards.items() if card.due <= now and only in {None, key[0]}]
    return [(skill, trap) for _, (name, trap) in sorted(waiting) for skill in SKILLS if skill == name]


def _new(cards: dict[tuple[str, str], Card], only: str | None) -> list[tuple[SkillId, str]]:
    """What was never asked: the first trap of each skill, then the second of each."""
    never = [
        (number % 100, number, skill, trap)
        for skill, trap, number in _cards()
        if (skill, trap) not in cards and only in {None, skill}
    ]
    return [(skill, trap) for _, _, skill, trap in sorted(never)]


def _soonest(cards: dict[tuple[str, str], Card], only: str | None) -> tuple[SkillId, str] | None:
    """Of one skill of which nothing is due, what comes first."""
    dates = sorted((card.due, key) for key, card in cards.items() if key[0] == only)
    return next(((skill, key[1]) for _, key in dates for skill in SKILLS if skill == key[0]), None)


def _coming(choice: tuple[SkillId, str], order: Sequence[Review], hard: dict[str, float]) -> Coming:
    skill, trap = choice
    # The same question until it is answered, another one each time after.
    seed = sum((review.skill, review.trap) == choice for review in order)
    return Coming(skill, trap, seed, hard[skill])


def _skill(
    skill: SkillId,
    order: Sequence[Review],
    cards: dict[tuple[str, str], Card],
    hard: dict[str, float],
    scheduler: Scheduler,
    now: datetime,
) -> SkillStanding:
    mine = [review for review in order if review.skill == skill]
    traps = []
    for id_, trap in SKILL[skill].traps.items():
        met = [review for review in mine if review.trap == id_]
        card = cards.get((skill, id_))
        known = card is not None and card.state == State.Review
        kept = (
            known and card is not None and scheduler.get_card_retrievability(card, now) >= scheduler.desired_retention
        )
        fallen = sum(not review.right for review in met[-_LATEST:])
        due = None if card is None else card.due
        traps.append(TrapStanding(id_, trap.title, trap.rule, len(met), fallen, due, kept))
    told = SKILL[skill]
    right = sum(review.right for review in mine)
    return SkillStanding(skill, told.title, told.asks, told.near_by, hard[skill], len(mine), right, tuple(traps))
