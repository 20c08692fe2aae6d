"""What the first screen needs, in one answer; and the owner's practice."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter

from tropeion.core.practice import CHOICES, Choice, Practice

from .problems import RESPONSES
from .shared import CollectionOf

__all__ = ["router"]

router = APIRouter(prefix="/api/v1", tags=["start"], responses=RESPONSES)


@dataclass(frozen=True, slots=True)
class Pair:
    """A lens and a body to open with."""

    lens: str
    body: str


@dataclass(frozen=True, slots=True)
class Start:
    """How large the collection is, what to open with, the owner's practice, and what there is to choose."""

    lenses: int
    bodies: int
    adapters: int
    pair: Pair | None
    practice: Practice
    choices: tuple[Choice, ...]


@router.get("/start")
def get_start(collection: CollectionOf) -> Start:
    """The first saved rig is what the light path opens with; else the first owned lens and body."""
    gear = collection.world().gear
    pair = None
    if gear.rigs:
        pair = Pair(gear.rigs[0].lens, gear.rigs[0].body)
    elif gear.lenses and gear.bodies:
        lens = next((item for item in gear.lenses if item.at_hand), gear.lenses[0])
        body = next((item for item in gear.bodies if item.at_hand), gear.bodies[0])
        pair = Pair(lens.id, body.id)
    return Start(len(gear.lenses), len(gear.bodies), len(gear.adapters), pair, collection.practice(), CHOICES)


@router.put("/practice")
def put_practice(practice: Practice, collection: CollectionOf) -> Practice:
    """Keep the owner's practice."""
    collection.set_practice(practice)
    return practice
