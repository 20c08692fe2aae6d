"""The stored lenses of a body: what is in its places, and what its rigs want there."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.gear.field_types import FocalLength, Word
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.practice import Practice
from tropeion.core.records.card import Card, use_of_rigs
from tropeion.core.records.record import begun
from tropeion.core.records.stored_lens import StoredLens
from tropeion.core.setup.stored import StoredReport, check_place, rigs_on, stored_report
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Ids, Written

router = resource("/api/v1/stored", "setup")


class _PlacesOf(BaseModel):
    """A body; with a lens and its chain that rig counts too, kept or not."""

    body: Id
    lens: Id | None = None
    via: Ids = ""


class StoredPlace(Written):
    """What is put into a place of a body; ``empty``: it is emptied instead.

    ``version`` is the place's own as it was read (0: never filled).
    """

    number: Annotated[int, Field(ge=1, le=1_000)]
    label: Word
    lens: Id
    adapters: list[Id] = Field([], max_length=20)
    marked_mm: FocalLength
    focal_length_mm: FocalLength
    area: Word = "full"
    travel: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 1.0
    pinned: bool = False
    empty: bool = False
    version: Annotated[int, Field(ge=0)]


def _report(question: _PlacesOf, practice: Practice, collection: Collection) -> StoredReport:
    world = collection.world()
    rigs = rigs_on(world, question.body, question.lens, ids_in(question.via))
    places = collection.records_of(StoredLens, body=question.body)
    stored = sorted((kept.record for kept in places if not kept.record.struck), key=lambda place: place.number)
    versions = {kept.record.number: kept.version for kept in places}
    used = use_of_rigs(kept.record for kept in collection.records_of(Card))
    return stored_report(world, question.body, rigs, stored, used, practice, versions)


@router.get("")
def get_stored(question: Annotated[_PlacesOf, Query()], practice: PracticeOf, collection: CollectionOf) -> StoredReport:
    """The places of a body, what its kept rigs want stored, which share a place, what to overwrite, what is stale."""
    return _report(question, practice, collection)


@router.put("")
def put_stored(
    place: StoredPlace, question: Annotated[_PlacesOf, Query()], practice: PracticeOf, collection: CollectionOf
) -> StoredReport:
    """Put a lens into a place of the body, pin it, or empty the place; what was there is in the history.

    Refused where the place changed since it was read.
    """
    world = collection.world()
    body = world.body(question.body)
    check_place(body, place.number, place.label)
    if not place.empty:
        world.lens(place.lens)
    adapters = list(place.adapters) if place.empty else [world.adapter(adapter).id for adapter in place.adapters]
    stored = StoredLens(
        **begun(Rig.of(place.lens, body.id, adapters).items),
        struck=place.empty,
        body=body.id,
        number=place.number,
        label=place.label,
        rig=Rig.of(place.lens, body.id, adapters).id,
        marked_mm=place.marked_mm,
        focal_length_mm=place.focal_length_mm,
        area=place.area,
        travel=place.travel,
        pinned=place.pinned,
        day=date.today().isoformat(),
    )
    what = "emptied" if place.empty else f"“{place.label}”"
    collection.keep_record(stored, f"Place {place.number} of {body.name}: {what}", place.version)
    return _report(question, practice, collection)
