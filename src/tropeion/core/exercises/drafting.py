"""What the generators of questions have in common."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.working import tidy

from .hand import Hand
from .question import MOST_CHOICES, After, AnswerChoice, AnsweredBy, AskedAbout, Draft, RigShown

Rig = tuple[Lens, tuple[Adapter, ...], Body]


@frozen
class Trap:
    """A mistake that people make: what it is called, the rule against it, and the questions that it is tried by."""

    title: str
    rule: str
    drafts: Callable[[Hand], Iterator[Draft]]


@frozen
class Skill:
    """Something to be learnt: what it is called, what near wrong answers have in common, and its traps by id."""

    title: str
    asks: str
    near_by: str
    traps: Mapping[str, Trap]


def about(lens: Lens | None = None, adapters: Iterable[Adapter] = (), body: Body | None = None) -> AskedAbout:
    """The pieces of a rig as what a question is about."""
    return AskedAbout(
        None if lens is None else lens.id,
        None if body is None else body.id,
        tuple(adapter.id for adapter in adapters),
        None if lens is None else lens.mount,
    )


def after(
    says: str, rig: Rig | None = None, *, price: float | None = None, picture: bool = False, mode: str | None = None
) -> After:
    """What would have come of a choice, with the rig that it means."""
    if rig is None:
        return After(says, price=price)
    lens, adapters, body = rig
    return After(says, lens.id, tuple(adapter.id for adapter in adapters), body.id, price, picture, mode)


def named(lens: Lens, adapters: tuple[Adapter, ...], body: Body) -> str:
    """A rig in words, from the lens to the body."""
    if not adapters:
        return f"{lens.name} on {body.name}"
    return f"{lens.name} on {body.name} by {' and '.join(adapter.name for adapter in adapters)}"


def stack_described(lens: Lens, adapters: tuple[Adapter, ...], body: Body) -> str:
    """What a drawing of the pieces shows, without what follows of them."""
    pieces = " · ".join((lens.name, *(adapter.name for adapter in adapters), body.name))
    return f"The pieces one behind the other, from the lens to the body: {pieces}."


def apart(right: AnswerChoice, wrong: Iterable[AnswerChoice]) -> tuple[AnswerChoice, ...] | None:
    """The right choice and as many wrong ones as there are keys for, each said once; None with fewer than two wrong."""
    said, kept = {right.text.casefold()}, [right]
    for choice in wrong:
        if choice.text.casefold() not in said and len(kept) < MOST_CHOICES:
            said.add(choice.text.casefold())
            kept.append(choice)
    return tuple(kept) if len(kept) > 2 else None


@frozen
class Number:
    """A number that somebody comes to: by which way, and what would come of it."""

    id: str
    value: float
    says: str
    rig: Rig | None = None


def numbers(
    right: Number, wrong: Iterable[Number], write: Callable[[float], str], *, ratio: float = 1.03, least: float = 0.0
) -> tuple[tuple[AnswerChoice, ...], float] | None:
    """Choices among numbers, and the least ratio of a wrong one to the right one.

    A wrong number that is nearer than ``ratio`` or ``least`` to one that is there is left out; None with under two.
    """
    kept = [right]
    for number in wrong:
        clear = all(_apart(number.value, other.value, ratio, least) for other in kept)
        if number.value > 0 and clear and len(kept) < MOST_CHOICES:
            kept.append(number)
    choices = apart(_chosen(right, write), [_chosen(number, write) for number in kept[1:]])
    if choices is None or right.value <= 0:
        return None
    ratios = [max(number.value / right.value, right.value / number.value) for number in kept[1:]]
    return choices, min(ratios)


def _apart(one: float, other: float, ratio: float, least: float) -> bool:
    low, high = sorted((one, other))
    return low > 0 and tidy(high / low - ratio) > 0 and tidy(high - low - least) > 0


def _chosen(number: Number, write: Callable[[float], str]) -> AnswerChoice:
    return AnswerChoice(number.id, write(number.value), after(number.says, number.rig))


def rig_draft(
    rig: Rig,
    *,
    trap: str,
    nearness: float,
    asks: str,
    choices: tuple[AnswerChoice, ...],
    why: str,
    working: tuple[str, ...],
    by: AnsweredBy = "choose",
) -> Draft:
    """A question about a rig, whose pieces are drawn one behind the other."""
    lens, adapters, body = rig
    return Draft(
        trap=trap,
        nearness=nearness,
        asks=f"{named(*rig)}. {asks}",
        about=about(*rig),
        choices=choices,
        why=why,
        working=working,
        shown=RigShown(lens.id, tuple(adapter.id for adapter in adapters), body.id),
        described=stack_described(*rig),
        by=by,
    )
