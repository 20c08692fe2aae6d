"""Corners looked at, step by step of the stabiliser's travel; noted, and what circle they measure."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.gear.field_types import Date, Word
from tropeion.core.records.corner_check import CornerCheck, CornerSeen
from tropeion.core.records.record import begun
from tropeion.core.setup.corners import CornersSay, corners_say

from .resource import resource
from .shared import CollectionOf, OfRig, Written

router = resource("/api/v1/corners", "records")


class CornersSeen(Written):
    """What was seen on one day, in one part of the sensor."""

    day: Date
    area: Word = "full"
    seen: Annotated[list[CornerSeen], Field(min_length=1, max_length=20)]


class CornersKept(BaseModel):
    """Every check of a rig, the latest first, and what the latest says."""

    checks: list[CornerCheck]
    latest: CornersSay | None


def _kept(rig: OfRig, collection: CollectionOf) -> CornersKept:
    named = rig.rig.id
    checks = [kept.record for kept in collection.records_of(CornerCheck, rig=named, struck=False)]
    if not checks:
        return CornersKept(checks=[], latest=None)
    last = checks[0]
    says = corners_say(collection.world(), rig.rig, last.area, last.seen)
    return CornersKept(checks=checks, latest=says)


@router.get("")
def get_corners(rig: Annotated[OfRig, Query()], collection: CollectionOf) -> CornersKept:
    """The corners of a rig that were looked at."""
    return _kept(rig, collection)


@router.post("")
def post_corners(seen: CornersSeen, rig: Annotated[OfRig, Query()], collection: CollectionOf) -> CornersKept:
    """Note corners that were looked at; the circle that they measure is told, and written to the lens only on wish."""
    world = collection.world()
    lens, _, body = world.pieces_of(rig.rig)
    # What contradicts itself is refused before it is kept.
    corners_say(world, rig.rig, seen.area, seen.seen)
    check = CornerCheck(**begun(rig.rig.items), rig=rig.rig.id, day=seen.day, area=seen.area, seen=tuple(seen.seen))
    collection.keep_record(check, f"Corners of {lens.name} on {body.name} looked at")
    return _kept(rig, collection)
