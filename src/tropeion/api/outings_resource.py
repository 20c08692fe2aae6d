"""Outings: several rigs on several bodies, packed, shared and put in order."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from tropeion.core.gear.field_types import Date, Id, Name, Text
from tropeion.core.gear.kinds import PieceKind
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.records.outing_record import Outing, Shot
from tropeion.core.records.record import RecordId, begun
from tropeion.core.setup.outing import OutingReport, outing_report
from tropeion.store.collection import Collection
from tropeion.store.records import Kept

from .resource import resource
from .shared import CollectionOf, Written, standing

router = resource("/api/v1/outings", "records")


class OutingLine(BaseModel):
    """One outing in the list of them."""

    id: str
    name: str
    day: str | None
    shots: int


class OutingWritten(Written):
    """An outing as it is written: its shots in the order in which they were thought of."""

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


def _page(collection: Collection, kept: Kept[Outing]) -> OutingPage:
    outing = kept.record
    written = OutingWritten(
        name=outing.name, day=outing.day, shots=list(outing.shots), spare=list(outing.spare), packed=list(outing.packed)
    )
    report = outing_report(collection.world(), outing, collection.practice())
    return OutingPage(id=outing.id, outing=written, version=kept.version, report=report)


def _items(world: World, written: OutingWritten) -> list[tuple[PieceKind, str]]:
    """Every piece that an outing is about, as far as the collection knows its rigs."""
    kept = {rig.id: Rig.of(rig.lens, rig.body, rig.adapters) for rig in world.gear.rigs}
    return [item for shot in written.shots if shot.rig in kept for item in kept[shot.rig].items]


@router.get("")
def get_outings(collection: CollectionOf) -> list[OutingLine]:
    """Every outing, the latest first."""
    outings = [kept.record for kept in collection.records_of(Outing, struck=False)]
    return [OutingLine(id=outing.id, name=outing.name, day=outing.day, shots=len(outing.shots)) for outing in outings]


@router.post("")
def post_outing(written: OutingWritten, collection: CollectionOf) -> OutingPage:
    """A new outing."""
    outing = Outing(**begun(_items(collection.world(), written)), **_fields(written))
    return _page(collection, collection.keep_record(outing, f"Outing “{written.name}”", 0))


def _fields(written: OutingWritten) -> dict[str, Any]:
    lists = {name: tuple(getattr(written, name)) for name in ("shots", "spare", "packed")}
    return {"name": written.name, "day": written.day, **lists}


@router.get("/{id}")
def get_outing(id: RecordId, collection: CollectionOf) -> OutingPage:
    """An outing, and what it comes to with the collection as it is."""
    return _page(collection, standing(collection, Outing, id))


@router.put("/{id}")
def put_outing(id: RecordId, changed: OutingChanged, collection: CollectionOf) -> OutingPage:
    """An outing as it is now; refused where it changed since it was read."""
    written = changed.outing
    items = begun(_items(collection.world(), written))["items"]
    title = f"Outing “{written.name}”"

    def change(outing: Outing) -> Outing:
        return outing.model_copy(update={**_fields(written), "items": items})

    return _page(collection, collection.change_record(Outing, id, change, title, changed.version))
