"""Outings: several rigs on several bodies, packed, shared and put in order."""

from __future__ import annotations

import uuid

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from tropeion.core.gear.quantities import Date, Id, Name, Text
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.records.card import what_it_is_about
from tropeion.core.records.outing import Outing, Shot
from tropeion.core.records.record import About, RecordId, now
from tropeion.core.setup.outing import OutingReport, outing_report
from tropeion.store.collection import Collection

from .problems import RESPONSES, unknown_record
from .shared import CollectionOf

__all__ = ["router"]

router = APIRouter(prefix="/api/v1/outings", tags=["records"], responses=RESPONSES)


class OutingLine(BaseModel):
    """One outing in the list of them."""

    id: str
    name: str
    day: str | None
    shots: int


class OutingWritten(BaseModel):
    """An outing as it is written: its shots in the order in which they were thought of."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    day: Date | None = None
    shots: list[Shot] = Field([], max_length=60)
    spare: list[Id] = Field([], max_length=200)
    packed: list[Text] = Field([], max_length=500)


class OutingChanged(BaseModel):
    """An outing upon the version that was read."""

    outing: OutingWritten
    version: int


class OutingPage(BaseModel):
    """An outing, its version, and what it comes to today."""

    id: str
    outing: OutingWritten
    version: int
    report: OutingReport


def _standing(collection: Collection, id_: str) -> tuple[Outing, int]:
    found = collection.outing(id_)
    if found is None or found[0].struck:
        raise unknown_record("outing", id_)
    return found


def _page(collection: Collection, id_: str) -> OutingPage:
    outing, version = _standing(collection, id_)
    written = OutingWritten(
        name=outing.name,
        day=outing.day,
        shots=list(outing.shots),
        spare=list(outing.spare),
        packed=list(outing.packed),
    )
    report = outing_report(collection.world(), outing, collection.practice())
    return OutingPage(id=id_, outing=written, version=version, report=report)


def _record(world: World, id_: str, at: str, written: OutingWritten) -> Outing:
    """The record, with every piece that it is about as far as the collection knows it."""
    rigs = {one.id: one for one in world.gear.rigs}
    about: dict[tuple[str, str], About] = {}
    for shot in written.shots:
        rig = rigs.get(shot.rig)
        if rig is None:
            continue
        pieces = what_it_is_about(Rig.of(rig.lens, rig.body, rig.adapters))
        about |= {(one.kind, one.id): one for one in pieces}
    return Outing(
        id=id_,
        at=at,
        items=tuple(about.values()),
        name=written.name,
        day=written.day,
        shots=tuple(written.shots),
        spare=tuple(written.spare),
        packed=tuple(written.packed),
    )


@router.get("")
def get_outings(collection: CollectionOf) -> list[OutingLine]:
    """Every outing, the latest first."""
    return [OutingLine(id=one.id, name=one.name, day=one.day, shots=len(one.shots)) for one in collection.outings()]


@router.post("")
def post_outing(written: OutingWritten, collection: CollectionOf) -> OutingPage:
    """A new outing."""
    id_ = str(uuid.uuid4())
    collection.keep_outing(_record(collection.world(), id_, now(), written), 0, f"Outing “{written.name}”")
    return _page(collection, id_)


@router.get("/{id}")
def get_outing(id: RecordId, collection: CollectionOf) -> OutingPage:
    """An outing, and what it comes to with the collection as it is."""
    return _page(collection, id)


@router.put("/{id}")
def put_outing(id: RecordId, changed: OutingChanged, collection: CollectionOf) -> OutingPage:
    """An outing as it is now; refused where it changed since it was read."""
    outing, _ = _standing(collection, id)
    record = _record(collection.world(), id, outing.at, changed.outing)
    collection.keep_outing(record, changed.version, f"Outing “{record.name}”")
    return _page(collection, id)


@router.delete("/{id}")
def delete_outing(id: RecordId, version: int, collection: CollectionOf) -> list[OutingLine]:
    """Strike an outing out; undo brings it back."""
    outing, _ = _standing(collection, id)
    struck = outing.model_copy(update={"struck": True})
    collection.keep_outing(struck, version, f"Outing “{struck.name}” taken off the list")
    return get_outings(collection)
