"""An outing: which rigs go along, and what is to be taken with each."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tropeion.core.gear.field_types import Date, Id, Name, Several, Strict, Text

from .record import Record


class Shot(Strict):
    """Something to be taken, with a saved rig."""

    name: Name
    rig: Id


class Outing(Record):
    """A day's shots in the order in which they were thought of; ``spare`` are pieces that go along besides."""

    kind = "outings"
    called = "outing"
    ticks = "packed"
    ticked_as = ": packed"

    name: Name
    day: Date | None = None
    shots: Several[Shot] = ()
    spare: Several[Id] = ()
    packed: Annotated[tuple[Text, ...], Field(max_length=500)] = ()
