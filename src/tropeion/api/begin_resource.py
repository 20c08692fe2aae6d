"""Enter what I have: a body, a lens, what joins them; one action each."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from tropeion.core.answers.beginning import EnteredPiece, GivenMount, begin_body, begin_lens, begin_ring
from tropeion.core.answers.lens_lines import MOST_LINES, LensGiven, LensLine, begin_lenses, read_lens_lines
from tropeion.core.frozen import frozen
from tropeion.core.gear.field_types import Distance, FNumber, FocalLength, Register, SensorSize
from tropeion.store.collection import Edit

from .resource import resource
from .shared import CollectionOf, Id

router = resource("/api/v1/begin", "begin")

Name = Annotated[str, Field(max_length=120)]


class _OnMount(BaseModel):
    """A mount by its name, and how far its seat is from the sensor where the name is new, or that is not known."""

    mount: Name
    flange_mm: Register | None = None
    flange_unknown: bool = False

    @property
    def given(self) -> GivenMount:
        return GivenMount(self.mount, self.flange_mm, self.flange_unknown)


class NewBody(_OnMount):
    """A camera body as its owner knows it."""

    name: Name
    sensor_mm: SensorSize


class NewLens(_OnMount):
    """A lens as it is engraved."""

    engraved: Name


class LensLines(BaseModel):
    """Lenses as they are noted down, one a line."""

    text: Annotated[str, Field(max_length=40_000)]


class LensToKeep(_OnMount):
    """A lens as it was read from a line, and corrected."""

    name: Name
    focal_mm: FocalLength
    focal_long_mm: FocalLength | None = None
    f_number: FNumber | None = None
    f_number_at_long_end: FNumber | None = None
    smallest_f_number: FNumber | None = None
    min_focus_m: Distance | None = None

    @property
    def as_given(self) -> LensGiven:
        ends = self.focal_mm, self.focal_long_mm or self.focal_mm
        stops = self.f_number, self.f_number_at_long_end, self.smallest_f_number
        return LensGiven(self.name, self.given, ends, *stops, self.min_focus_m)


class NewLenses(BaseModel):
    """Several lenses at once; whether they are ``owned`` is asked of all together."""

    lenses: Annotated[list[LensToKeep], Field(min_length=1, max_length=MOST_LINES)]
    owned: bool


class NewRing(BaseModel):
    """What joins a lens and a body; as long as the room between them, unless it was measured."""

    lens: Id
    body: Id
    length_mm: Annotated[float | None, Field(ge=0, le=500)] = None


@frozen
class Started:
    """What was kept."""

    id: str
    name: str


def _kept(collection: CollectionOf, begun: EnteredPiece, title: str) -> Started:
    collection.edit([Edit(kind, entry.id, entry, 0) for kind, entry in begun.entries], title)
    item = begun.item
    return Started(item.id, item.name)


@router.post("/body", status_code=201)
def post_body(new: NewBody, collection: CollectionOf) -> Started:
    """Keep a body, and its mount where that is a new one."""
    begun = begin_body(collection.world(), new.name, new.given, new.sensor_mm)
    return _kept(collection, begun, f"{begun.item.name} entered")


@router.post("/lens", status_code=201)
def post_lens(new: NewLens, collection: CollectionOf) -> Started:
    """Keep a lens, and its mount where that is a new one."""
    begun = begin_lens(collection.world(), new.engraved, new.given)
    return _kept(collection, begun, f"{begun.item.name} entered")


@router.post("/lenses/read")
def post_lens_lines(lines: LensLines, collection: CollectionOf) -> list[LensLine]:
    """What every line says: to be looked at and corrected. Nothing is kept."""
    return list(read_lens_lines(collection.world(), lines.text))


@router.post("/lenses", status_code=201)
def post_lenses(new: NewLenses, collection: CollectionOf) -> list[Started]:
    """Keep several lenses, and the mounts that are new, in one action."""
    begun = begin_lenses(collection.world(), [lens.as_given for lens in new.lenses], owned=new.owned)
    title = f"{len(new.lenses)} lenses entered" if len(new.lenses) > 1 else f"{begun.item.name} entered"
    collection.edit([Edit(kind, entry.id, entry, 0) for kind, entry in begun.entries], title)
    return [Started(entry.id, entry.name) for kind, entry in begun.entries if kind == "lenses"]


@router.post("/ring", status_code=201)
def post_ring(new: NewRing, collection: CollectionOf) -> Started:
    """Keep a plain ring between a lens and a body."""
    begun = begin_ring(collection.world(), new.lens, new.body, new.length_mm)
    return _kept(collection, begun, f"{begun.item.name} entered")
