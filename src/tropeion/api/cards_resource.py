"""Cards: which steps of a rig were ticked off, day by day."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.gear.field_types import Date, Text
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.records.card import Card
from tropeion.core.records.record import begun

from .resource import resource
from .shared import CollectionOf, Id, Ids

router = resource("/api/v1/cards", "records")


class CardOf(BaseModel):
    """A rig and a day. ``adapters`` are ids from the lens to the body, by commas."""

    lens: Id
    body: Id
    adapters: Ids = ""
    day: Date

    @property
    def rig(self) -> Rig:
        return Rig(self.lens, self.body, ids_in(self.adapters))


class Ticked(CardOf):
    """The steps that are done, in their words; ``version`` is the one that was read (0: not begun)."""

    ticked: Annotated[list[Text], Field(max_length=200)]
    version: Annotated[int, Field(ge=0)]


class Ticks(BaseModel):
    """What is ticked off on one day."""

    day: str
    ticked: list[str]
    version: int


@router.get("")
def get_card(asked: Annotated[CardOf, Query()], collection: CollectionOf) -> Ticks:
    """What is ticked off of a rig on one day; nothing, if its card was not begun."""
    kept = collection.record_of(Card, rig=asked.rig.id, day=asked.day)
    if kept is None:
        return Ticks(day=asked.day, ticked=[], version=0)
    return Ticks(day=asked.day, ticked=list(kept.record.ticked), version=kept.version)


@router.put("")
def put_card(ticked: Ticked, collection: CollectionOf) -> Ticks:
    """Keep what is ticked off of a rig on one day; refused where it changed since it was read."""
    world = collection.world()
    lens, body = world.lens(ticked.lens), world.body(ticked.body)
    for id_ in ticked.rig.adapters:
        world.adapter(id_)
    rig = ticked.rig
    card = Card(**begun(rig.items), rig=rig.id, day=ticked.day, ticked=tuple(ticked.ticked))
    title = f"Card of {lens.name} on {body.name}, {ticked.day}"
    kept = collection.keep_record(card, title, ticked.version)
    return Ticks(day=card.day, ticked=list(kept.record.ticked), version=kept.version)
