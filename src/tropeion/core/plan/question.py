"""What a plan is asked: what must work, how well, and what may be bought, rented, sold or not used at all."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tropeion.core.findings import Grade
from tropeion.core.gear.quantities import Id, Mass, Money, Several, Strict, Tolerance, Word

__all__ = ["Demand", "PlanQuestion"]

Chance = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class Demand(Strict):
    """A lens on any one of some bodies, at least this well. ``at_once``: at the same time as all others that say so."""

    lens: Id
    bodies: Annotated[tuple[Id, ...], Field(min_length=1, max_length=60)]
    grade: Grade = "manual"
    probability: Chance = 0.0
    at_once: bool = False

    @property
    def name(self) -> str:
        """How it is told of: its lens, and its body where there is but one."""
        return f"{self.lens}:{self.bodies[0]}" if len(self.bodies) == 1 else self.lens


class PlanQuestion(Strict):
    """What a plan is to do.

    ``together``: an adapter is left on each lens; else one goes from lens to lens. ``prices`` new, or used where a used
    price is known; what stands in ``rent`` is paid by the day where it can be. ``buy`` are lenses and bodies that may
    be bought, all others that are asked for are taken to be there; ``sell`` what may be sold. Ruled out, owned ones
    too, are pieces named in ``without``, whose name holds a word of ``without_words``, with a tolerance over
    ``worst_tolerance_mm`` (an unstated one counts as the usual one), without a lock, with glass. ``carry_g`` is the
    most that the pieces between may weigh; what has no stated mass is then not used. ``sold_out`` cannot be bought now;
    what is at hand of it is used.
    """

    demands: Annotated[tuple[Demand, ...], Field(max_length=400)] = ()
    together: bool = False
    budget: Money | None = None
    carry_g: Mass | None = None
    prices: Literal["new", "used"] = "new"
    rent: Several[Id] = ()
    days: Annotated[int, Field(ge=1, le=365)] = 1
    buy: Several[Id] = ()
    sell: Several[Id] = ()
    without: Several[Id] = ()
    sold_out: Several[Id] = ()
    without_words: Several[Word] = ()
    worst_tolerance_mm: Tolerance | None = None
    only_locking: bool = False
    no_glass: bool = False
