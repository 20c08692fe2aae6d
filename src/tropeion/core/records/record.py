"""What every record has: an id, when it was begun, the items it is about, and whether it was struck out.

A record is never deleted: what turns out to be wrong is struck out. It outlives the items that it names.
"""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Annotated, ClassVar, Literal, TypedDict

from pydantic import StringConstraints

from tropeion.core.gear.field_types import Id, Strict, Text
from tropeion.core.gear.kinds import PieceKind

RecordKind = Literal[
    "cards",
    "stored_lenses",
    "corner_checks",
    "outings",
    "reading_series",
    "bench_trials",
    "plans",
    "log_entries",
    "assignments",
    "clocks",
    "camera_signs",
    "film_rolls",
    "trials",
    "events",
    "reviews",
    "measurements",
]
# Ids of our own are UUIDs; a log file may have others.
RecordId = Annotated[str, StringConstraints(pattern=r"^[0-9A-Za-z][0-9A-Za-z._:-]{0,63}$")]


class About(Strict):
    """An item that a record is about."""

    kind: PieceKind
    id: Id


class Record(Strict):
    """A record; ``at`` is when it was begun, in ISO 8601 with its zone. ``struck_because``: why it counts no more.

    ``kind`` names its table and ``called`` what people call one; ``place`` are the fields of which there is one record
    each; some need a reason to be struck out. All changes of ``ticks`` in a row are one thing to take back, told as
    ``ticked_as``.
    """

    kind: ClassVar[RecordKind]
    called: ClassVar[str]
    wants_reason: ClassVar[bool] = False
    place: ClassVar[tuple[str, ...]] = ("id",)
    ticks: ClassVar[str] = ""
    ticked_as: ClassVar[str] = ""

    id: RecordId
    at: Annotated[str, StringConstraints(max_length=32)]
    items: tuple[About, ...]
    struck: bool = False
    struck_because: Text = ""


class RecordBegun(TypedDict):
    """What a record begins with."""

    id: str
    at: str
    items: tuple[About, ...]


def begun(items: Iterable[tuple[PieceKind, str]]) -> RecordBegun:
    """An id and this moment, for a record about these items, each told once (``Rig.items`` are those of a rig)."""
    about = tuple(About(kind=kind, id=id_) for kind, id_ in dict.fromkeys(items))
    return {"id": str(uuid.uuid4()), "at": now(), "items": about}


def now() -> str:
    """This moment, as records and the journal write it."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")
