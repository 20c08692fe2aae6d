"""What was seen of a rig on one day, and what separate frames told."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tropeion.core.gear.field_types import Date, Several, Strict, Text, Word

from .record import Record

_Value = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]


class SawRecord(Strict):
    """One observation, its values as the bench takes them (mm), its doubt where one was said.

    One that is left out counts no more.
    """

    kind: Word
    values: Annotated[tuple[_Value, ...], Field(max_length=4)] = ()
    doubt_mm: Annotated[float, Field(gt=0, le=1e9, allow_inf_nan=False)] | None = None
    from_front: bool = False
    left_out: bool = False


class BenchTrial(Record):
    """One look at a rig. ``error_mm`` and its standard uncertainty are what all of it came to then.

    ``answers`` are what separate frames showed, in their order; ``cause`` what they told.
    """

    kind = "bench_trials"
    called = "trial"
    wants_reason = True

    rig: Annotated[str, Field(max_length=600)]
    day: Date
    saw: Several[SawRecord] = ()
    nameless: bool = False
    error_mm: _Value | None = None
    standard_uncertainty_mm: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] | None = None
    answers: Several[Word] = ()
    cause: Word | None = None
    note: Text = ""
