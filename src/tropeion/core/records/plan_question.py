"""What a plan is to do: which lenses on which bodies, how well, and within which limits."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from tropeion.core.findings import Grade
from tropeion.core.gear.field_types import Id, Mass, PieceId, Several, Strict, Tolerance, Word
from tropeion.core.gear.field_types import Money as Price

Chance = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class Demand(Strict):
    """A lens on any one of some bodies, at least this well. ``at_once``: at the same time as all others that say so."""

    # A request comes as lists.
    model_config = ConfigDict(strict=False)

    lens: PieceId
    bodies: Annotated[tuple[PieceId, ...], Field(min_length=1, max_length=60)]
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
    be bought, all others that are asked for are taken to be there; such a lens also stands in for one that it frames
    nearly as. ``sell`` is what may be sold. Ruled out, owned ones too, are pieces named in ``without``, whose name has
    a word of ``without_words``, with a tolerance over ``worst_tolerance_mm`` (an unstated one counts as the usual one),
    without a lock, with glass. ``full_speed``: what works slowly does not do. ``carry_g`` is the most that the pieces
    between may weigh; what has no stated mass is then not used. ``sold_out`` cannot be bought now; what is at hand of
    it is used.
    """

    model_config = ConfigDict(strict=False)

    demands: Annotated[tuple[Demand, ...], Field(max_length=400)] = ()
    together: bool = False
    budget: Price | None = None
    carry_g: Mass | None = None
    prices: Literal["new", "used"] = "new"
    rent: Several[Id] = ()
    days: Annotated[int, Field(ge=1, le=365)] = 1
    buy: Several[Id] = ()
    sell: Several[Id] = ()
    without: Several[Id] = ()
    sold_out: Several[PieceId] = ()
    without_words: Several[Word] = ()
    worst_tolerance_mm: Tolerance | None = None
    only_locking: bool = False
    no_glass: bool = False
    full_speed: bool = False
