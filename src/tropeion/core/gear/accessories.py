"""What goes with a rig: feet, rods, hoods, filters; foils to shim with; and who goes together with whom."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .items import Item, Piece
from .kinds import PIECES, Ref
from .quantities import Date, Id, Length, Offset, PositiveLength, Several, Stops, Text, Tolerance, Word

__all__ = ["Accessory", "Foil", "Pair"]


class Accessory(Piece):
    """A piece that carries, holds, shades or filters: a foot, a cage, rods, a matte box, a hood, a step ring.

    ``clamps_to_mm`` is the diameter that it clamps to, ``rod_distance_mm`` how far its rods stand apart,
    ``rod_height_mm`` how far they run below the axis of the lens, ``rod_diameter_mm`` how thick they are; ``reach_mm``
    is how far a plate under the body reaches before the sensor plane. ``front_thread_mm`` and ``rear_thread_mm`` are
    filter threads. A filter takes ``loss_stops`` of light, a variable one between its ``range_stops``; it shows a cross
    from the angle of view ``cross_from_deg`` on. ``locks`` names what it leaves no room to turn.
    """

    kind: Word
    clamps_to_mm: PositiveLength | None = None
    front_thread_mm: PositiveLength | None = None
    rear_thread_mm: PositiveLength | None = None
    rod_distance_mm: PositiveLength | None = None
    rod_height_mm: PositiveLength | None = None
    rod_diameter_mm: PositiveLength | None = None
    reach_mm: Offset | None = None
    length_mm: Length | None = None
    loss_stops: Stops | None = None
    range_stops: tuple[Stops, Stops] | None = None
    colour_shift: Text | None = None
    cross_from_deg: Annotated[float, Field(ge=0, lt=180, allow_inf_nan=False)] | None = None
    locks: Several[Word] = ()

    @model_validator(mode="after")
    def _range_ascends(self) -> Self:
        if self.range_stops is not None and self.range_stops[0] > self.range_stops[1]:
            raise ValueError("range_stops runs from the weakest to the strongest")
        return self


class Foil(Item):
    """Foil to shim with: ``count`` pieces of it are at hand."""

    thickness_mm: Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)]
    count: Annotated[int, Field(ge=0, le=10_000)] = 0
    material: Word | None = None
    tolerance_mm: Tolerance | None = None


_PAIRED = Ref(PIECES, "was tried together with another piece")


class Pair(Item):
    """Two pieces that were tried together, and what came of it.

    ``part`` is what it takes besides, or what cannot be changed any more. A pair that is not listed was not tried.
    """

    a: Annotated[Id, _PAIRED]
    b: Annotated[Id, _PAIRED]
    verdict: Literal["works", "with_part", "fixed", "fails"]
    part: Word | None = None
    on: Date | None = None
    source: Literal["maker", "shop", "review", "own"] | None = None

    @model_validator(mode="after")
    def _two_pieces(self) -> Self:
        if self.a == self.b:
            raise ValueError("a and b are two pieces")
        return self
