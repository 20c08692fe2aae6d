"""A stored lens in a body: which of its places holds what, as it was put in."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tropeion.core.gear.field_types import Date, FocalLength, PieceId, Word

from .record import Record


class StoredLens(Record):
    """One place of one body. ``struck``: it was emptied.

    ``rig`` is the rig that it was stored for (``Rig.id``), ``marked_mm`` the setting of its ring. What stands in
    the body is ``focal_length_mm``, ``area`` and ``travel``, a share of the stabiliser's travel.
    """

    kind = "stored_lenses"
    called = "stored lens"
    place = ("body", "number")

    body: PieceId
    number: Annotated[int, Field(ge=1, le=1_000)]
    label: Word
    rig: Annotated[str, Field(max_length=600)]
    marked_mm: FocalLength
    focal_length_mm: FocalLength
    area: Word
    travel: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
    pinned: bool = False
    day: Date
