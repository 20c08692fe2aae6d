"""A question of the practice room that was answered."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import Field

from tropeion.core.gear.field_types import Name, Word

from .record import Record, RecordKind

_Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class Review(Record):
    """Which trap of which skill was asked, how hard, by which seed; what was answered, and whether that was right.

    ``wanted`` is the difficulty that was asked for: with the seed it brings the question again, on the same gear.
    """

    kind: ClassVar[RecordKind] = "reviews"
    called: ClassVar[str] = "answer"

    skill: Word
    trap: Word
    seed: Annotated[int, Field(ge=0, lt=2**53)]
    wanted: _Share
    difficulty: _Share
    answered: Name
    right: bool
    helped: bool = False
