"""Corners that were looked at with the sensor at the ends of the stabiliser's travel."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tropeion.core.gear.field_types import Date, Several, Strict, Word

from .record import Record


class CornerSeen(Strict):
    """One step of the travel, and whether a corner was dark at its end; 0 is the sensor at rest."""

    travel: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
    dark: bool


class CornerCheck(Record):
    """One rig's corners on one day, in one part of the sensor."""

    kind = "corner_checks"
    called = "look at the corners"

    rig: Annotated[str, Field(max_length=600)]
    day: Date
    area: Word
    seen: Several[CornerSeen] = ()
