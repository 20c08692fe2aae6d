"""What the first screen needs, in one answer; and the owner's practice."""

from __future__ import annotations

from typing import Annotated

from fastapi import Body, Request

from tropeion.core.answers.opening import Opening, opening
from tropeion.core.frozen import frozen
from tropeion.core.practice import CHOICES, Choice, Practice
from tropeion.core.subjects import MOST, NEUTRAL, Subject
from tropeion.core.words import TERMS, GlossaryTerm
from tropeion.lan.paired import Right

from .gates import Visit
from .resource import resource
from .shared import CollectionOf

router = resource("/api/v1", "start")


@frozen
class Start:
    """How large the collection is, what to open with, the owner's practice, what there is to choose, what stands
    along the ribbon of distances, and the words of the trade. ``collection`` tells it from others; ``may`` is what the
    device may that asks (None: everything, on the machine)."""

    collection: str
    may: Right | None
    lenses: int
    bodies: int
    adapters: int
    pair: Opening | None
    practice: Practice
    choices: tuple[Choice, ...]
    subjects: tuple[Subject, ...]
    glossary: tuple[GlossaryTerm, ...]


@router.get("/start")
def get_start(collection: CollectionOf, request: Request) -> Start:
    """What the first screen shows before anything is asked."""
    gear = collection.world().gear
    visit: Visit | None = request.state.visit
    return Start(
        collection.id,
        visit.device.may if visit is not None and visit.device is not None else None,
        len(gear.lenses),
        len(gear.bodies),
        len(gear.adapters),
        opening(gear),
        collection.practice(),
        CHOICES,
        collection.subjects(),
        TERMS,
    )


@router.put("/subjects")
def put_subjects(
    subjects: Annotated[list[Subject], Body(max_length=MOST)], collection: CollectionOf
) -> tuple[Subject, ...]:
    """Keep what the owner photographs; an empty list brings back the neutral marks."""
    collection.set_subjects(subjects or NEUTRAL)
    return collection.subjects()


@router.put("/practice")
def put_practice(practice: Practice, collection: CollectionOf) -> Practice:
    """Keep the owner's practice."""
    collection.set_practice(practice)
    return practice
