"""Cards: which steps of a rig were ticked off, day by day."""

from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from tropeion.core.gear.quantities import Date, Text
from tropeion.core.gear.rig import Rig
from tropeion.core.records.card import Card, what_it_is_about
from tropeion.core.records.record import now

from .problems import RESPONSES
from .shared import CollectionOf, Id, Ids, ids_in

__all__ = ["router"]

router = APIRouter(prefix="/api/v1/cards", tags=["records"], responses=RESPONSES)


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
    found = collection.card(asked.rig.id, asked.day)
    if found is None:
        return Ticks(day=asked.day, ticked=[], version=0)
    return Ticks(day=asked.day, ticked=list(found[0].ticked), version=found[1])


@router.put("")
def put_card(ticked: Ticked, collection: CollectionOf) -> Ticks:
    """Keep what is ticked off of a rig on one day; refused where it changed since it was read."""
    world = collection.world()
    lens, body = world.lens(ticked.lens), world.body(ticked.body)
    for id_ in ticked.rig.adapters:
        world.adapter(id_)
    card = Card(
        id=str(uuid.uuid4()),
        at=now(),
        items=what_it_is_about(ticked.rig),
        rig=ticked.rig.id,
        day=ticked.day,
        ticked=tuple(ticked.ticked),
    )
    title = f"Card of {lens.name} on {body.name}, {ticked.day}"
    kept, version = collection.keep_card(card, title, ticked.version)
    return Ticks(day=kept.day, ticked=list(kept.ticked), version=version)
