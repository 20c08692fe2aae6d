"""What is to be met, by which ways, from which pieces: the bare task of a plan, without any lens or body.

Money is in whole cents. A way uses pieces; what never runs out need not be named. Pieces that ``stay`` are left on the
thing that they were put on where everything is kept ready together; others go from one use to the next.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from tropeion.core.frozen import frozen

Uses = tuple[tuple[str, int], ...]


def uses_of(pieces: Sequence[str]) -> Uses:
    """Pieces with how often each is used, in the order of their names."""
    return tuple(sorted(Counter(pieces).items()))


@frozen
class Offer:
    """A piece: what one more costs (None: not to be had), how many are at hand, and how many of these may be sold."""

    price: int | None
    owned: int = 0
    sellable: int = 0
    resale: int = 0
    mass_g: float | None = None
    stays: bool = True

    @property
    def free(self) -> int:
        """How many there are to use without paying or giving up anything."""
        return self.owned - self.sellable

    def cost(self, count: int) -> int | None:
        """What so many of them cost or keep from being paid for, in all; None where they are not to be had."""
        kept = min(max(0, count - self.free), self.sellable)
        bought = max(0, count - self.owned)
        if bought and self.price is None:
            return None
        return kept * self.resale + bought * (self.price or 0)


@frozen
class Way:
    """One way of meeting a want. Among ways that cost the same the higher ``grade``, then what is not
    ``slow``, then the higher ``probability`` is taken.
    """

    uses: Uses
    grade: int = 0
    probability: float = 1.0
    slow: bool = False

    @property
    def pieces(self) -> int:
        return sum(count for _, count in self.uses)


@frozen
class Want:
    """Something to be met, in one way or not at all. ``holder`` is what pieces stay on; wants of one ``moment`` are
    met at the same time.
    """

    name: str
    holder: str
    ways: tuple[Way, ...]
    moment: str = ""


@dataclass(frozen=True)
class Task:
    """Wants and the pieces to meet them with. ``together``: what stays is left on its holder."""

    wants: tuple[Want, ...]
    offers: Mapping[str, Offer]
    together: bool = False
    budget: int | None = None
    carry_g: float | None = None

    @property
    def coupled(self) -> bool:
        """Whether something but prices binds the wants to each other."""
        return self.budget is not None or self.carry_g is not None or any(want.moment for want in self.wants)

    @cached_property
    def adds_up(self) -> bool:
        """Whether a piece may be needed more often than any one want uses it."""
        return self.together or any(want.moment for want in self.wants)

    @cached_property
    def sold_all(self) -> int:
        """What all pieces would bring that may be sold."""
        return sum(offer.sellable * offer.resale for offer in self.offers.values())


# Which way of each want, None where it stays unmet.
Choice = tuple[int | None, ...]


@frozen
class Outcome:
    """What a choice comes to: cost in cents less what is sold, what is bought and sold, what is carried."""

    cost: int
    buy: Mapping[str, int]
    sell: Mapping[str, int]
    mass_g: float | None
    needed: Mapping[str, int] = field(repr=False)


@frozen
class Solved:
    """A choice and how far it is proven: no choice that meets as many costs less than ``bound``.

    ``proven_unmet``: none meets more.
    """

    choice: Choice
    outcome: Outcome
    bound: int
    proven_unmet: bool = True

    @property
    def status(self) -> Literal["optimal", "gap"]:
        return "optimal" if self.bound >= self.outcome.cost and self.proven_unmet else "gap"

    @property
    def met(self) -> int:
        return sum(number is not None for number in self.choice)


def used(task: Task, choice: Choice) -> Iterator[tuple[Want, Way]]:
    """The wants that are met, each with its way."""
    for want, index in zip(task.wants, choice, strict=True):
        if index is not None:
            yield want, want.ways[index]


def _needed(task: Task, choice: Choice) -> dict[str, int]:
    """How many of each piece there have to be."""
    most: dict[str, int] = {}
    held: dict[tuple[str, str], int] = {}
    at_once: dict[tuple[str, str], int] = {}
    for want, way in used(task, choice):
        for piece, count in way.uses:
            most[piece] = max(most.get(piece, 0), count)
            if task.together and task.offers[piece].stays:
                held[want.holder, piece] = max(held.get((want.holder, piece), 0), count)
            if want.moment:
                at_once[want.moment, piece] = at_once.get((want.moment, piece), 0) + count
    left: dict[str, int] = {}
    for (_, piece), count in held.items():
        left[piece] = left.get(piece, 0) + count
    for piece, count in (*left.items(), *((piece, count) for (_, piece), count in at_once.items())):
        most[piece] = max(most[piece], count)
    return most


def outcome_of(task: Task, choice: Choice) -> Outcome | None:
    """What a choice comes to; None where it cannot be: not to be had, too dear or too heavy."""
    needed = _needed(task, choice)
    cost, mass = -task.sold_all, 0.0
    weighed = True
    for piece, count in needed.items():
        offer = task.offers[piece]
        more = offer.cost(count)
        if more is None:
            return None
        cost += more
        weighed = weighed and offer.mass_g is not None
        mass += count * (offer.mass_g or 0.0)
    if task.budget is not None and cost > task.budget:
        return None
    if task.carry_g is not None and (not weighed or mass > task.carry_g + 1e-9):
        return None
    buy = {piece: count - task.offers[piece].owned for piece, count in needed.items()}
    sell = {
        piece: min(offer.sellable, offer.owned - needed.get(piece, 0))
        for piece, offer in task.offers.items()
        if offer.sellable
    }
    return Outcome(
        cost=cost,
        buy={piece: count for piece, count in buy.items() if count > 0},
        sell={piece: count for piece, count in sell.items() if count > 0},
        mass_g=mass if weighed else None,
        needed=needed,
    )
