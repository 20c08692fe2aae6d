"""Readings of one length of a piece, taken at one time."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tropeion.core.gear.field_types import Date, Id, Several, Strict, Text, Word
from tropeion.core.gear.kinds import JoinedKind

from .record import Record

Source = Literal["typed", "caliper", "simulated"]

_Mm = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]
_Part = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]


class Reading(Strict):
    """What the caliper showed, and at which angle around the seat; struck out with a reason, never deleted.

    ``confirmed``: it stands apart from the others, and was said to be right.
    """

    mm: _Mm
    angle_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)] | None = None
    struck: Text = ""
    confirmed: bool = False


class ReadingSeries(Record):
    """Readings of one quantity of a piece, with what is known of the caliper. ``struck_because``: why it counts not.

    ``source`` is how they came: typed in, from a caliper at a port, or from a simulated one, which says nothing of any
    real piece.
    """

    kind = "reading_series"
    called = "series of readings"
    wants_reason = True

    piece_kind: JoinedKind
    piece: Id
    quantity: Word
    day: Date
    readings: Several[Reading] = ()
    zero_mm: _Mm = 0.0
    resolution_mm: _Part = 0.01
    error_mm: _Part = 0.02
    source: Source = "typed"

    @property
    def counting(self) -> tuple[Reading, ...]:
        """The readings that were not struck out."""
        return tuple(reading for reading in self.readings if not reading.struck)
