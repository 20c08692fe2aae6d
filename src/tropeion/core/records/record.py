"""What every record has: an id, when it was begun, the items it is about, and whether it was struck out.

A record is never deleted: what turns out to be wrong is struck out. It outlives the items that it names.
"""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Literal

from pydantic import StringConstraints

from tropeion.core.gear.kinds import PieceKind
from tropeion.core.gear.quantities import Id, Strict

__all__ = ["About", "Record", "RecordId", "RecordKind", "now"]

RecordKind = Literal["cards", "stored_lenses", "corner_checks", "outings", "reading_series", "bench_trials", "plans"]
RecordId = Annotated[str, StringConstraints(pattern=r"^[0-9a-f-]{36}$")]


class About(Strict):
    """An item that a record is about."""

    kind: PieceKind
    id: Id


class Record(Strict):
    """A record; ``at`` is when it was begun, in ISO 8601 with its zone."""

    id: RecordId
    at: Annotated[str, StringConstraints(max_length=32)]
    items: tuple[About, ...]
    struck: bool = False


def now() -> str:
    """This moment, as records and the journal write it."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")
