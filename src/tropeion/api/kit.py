"""The kit: shelves, single items in and out, what a change does, and undo."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field, TypeAdapter

from tropeion.core.answers.effects import Effect, effect_of
from tropeion.core.answers.saved_rigs import RigsReport, grade_of_rig, kept_rigs
from tropeion.core.answers.usual import Usual, usual_values
from tropeion.core.gear.evidence import Witnessed, evidence_on
from tropeion.core.gear.gear import Gear, SavedRig
from tropeion.core.gear.items import Item
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, User, find, free_id, items, users_of, with_entry
from tropeion.core.gear.references import check_references
from tropeion.core.gear.shelves import Hand, Shelf, ShelfKind, Sort, Wanted, find_on_shelf, shelf_of
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.formats.entries import entry_document, load_entry
from tropeion.store.collection import Action, Collection, Edit, InvalidError

from .problems import RESPONSES, refuse_references
from .shared import CollectionOf, Id, practice_in

__all__ = ["router"]

router = APIRouter(prefix="/api/v1", tags=["kit"], responses=RESPONSES)

_SHELF = TypeAdapter(Shelf)
_IDS = TypeAdapter(tuple[str, ...])


@dataclass(frozen=True, slots=True)
class ItemPage:
    """One item as a gear file writes it, the version it was read at, who uses it, and what is said of it."""

    kind: Kind
    id: str
    item: dict[str, Any]
    version: int
    users: tuple[User, ...]
    witnessed: Witnessed
    currency: str


@dataclass(frozen=True, slots=True)
class History:
    """What was done, the latest first, and what undo and redo would turn."""

    actions: tuple[Action, ...]
    undo: str | None
    redo: str | None


@dataclass(frozen=True, slots=True)
class Turned:
    """The action that was taken back or done again; None if there was none."""

    action: Action | None


class NewItem(BaseModel):
    """An item to add; without an id it is given one made of its name."""

    item: dict[str, Any]


class ChangedItem(NewItem):
    """An item with the version that it was read at."""

    version: Annotated[int, Field(ge=1)]


class Several(BaseModel):
    """Items that are treated alike, in one action."""

    ids: Annotated[list[Id], Field(min_length=1)]


class Retiring(Several):
    """Items to retire, or (False) to bring back."""

    retired: bool = True


class _Wanted(BaseModel):
    q: str = Field("", max_length=200)
    mount: Id | None = None
    covers_mm: float | None = Field(None, gt=0, le=5000)
    contacts: bool | None = None
    hand: Hand | None = None
    price_up_to: float | None = Field(None, ge=0)
    mass_up_to_g: float | None = Field(None, ge=0)
    tag: str | None = Field(None, max_length=120)
    trust: Literal["assumed", "measured", "contradicted"] | None = None
    retired: bool = False
    sort: Sort = "name"
    descending: bool = False


def _page(collection: Collection, kind: Kind, id_: str) -> ItemPage:
    # The version is read first: an item that changes in between is refused later rather than overwritten.
    version = collection.version(kind, id_)
    world = collection.world()
    entry = find(world.gear, kind, id_)
    users = users_of(world.gear, kind, id_)
    said = evidence_on(world, [id_], whole=False)
    return ItemPage(kind, id_, entry_document(entry), version, users, said, world.gear.currency)


def _read(gear: Gear, kind: Kind, item: dict[str, Any], id_: str | None = None) -> Entry:
    """An item as sent; its id is the one asked for, or made of its name."""
    document = dict(item)
    if id_ is not None:
        document["id"] = id_
    elif not document.get("id"):
        name = document.get("name")
        document["id"] = free_id(name if isinstance(name, str) else "", {one.id for one in items(gear, kind)})
    return load_entry(kind, json.dumps(document).encode("utf-8", "surrogatepass"))


def _noted(collection: Collection, entry: Entry) -> Entry:
    """A rig whose grade was never noted, with what it comes to today, so that a later change is noticed."""
    if not isinstance(entry, SavedRig) or entry.grade is not None:
        return entry
    world = collection.world()
    if check_references(with_entry(world.gear, "rigs", entry.id, entry)):
        return entry
    grade = grade_of_rig(world, entry, collection.practice())
    return entry.model_copy(update={"grade": grade, "graded_on": datetime.now(UTC).date().isoformat()})


def _named(kind: Kind, entries: list[Entry]) -> str:
    return entries[0].name if len(entries) == 1 else f"{len(entries)} {kind}"


def _edit(collection: Collection, edits: list[Edit], title: str) -> None:
    try:
        collection.edit(edits, title[:200])
    except InvalidError as error:
        raise refuse_references(error.problems, edits[0].kind) from None


@router.get("/kit/{kind}", response_model=Shelf)
def get_shelf(kind: ShelfKind, collection: CollectionOf) -> Response:
    """Every item of a kind, with what its silhouette measures and what the shelf can be narrowed by."""
    return Response(_shelf_bytes(collection.world(), kind), media_type="application/json")


@kept()
def _shelf_bytes(world: World, kind: ShelfKind) -> bytes:
    return _SHELF.dump_json(shelf_of(world, kind))


@router.get("/kit/{kind}/find", response_model=tuple[str, ...])
def get_found(kind: ShelfKind, wanted: Annotated[_Wanted, Query()], collection: CollectionOf) -> Response:
    """The ids that hold every word and pass every filter, sorted."""
    found = find_on_shelf(collection.world(), kind, Wanted(**wanted.model_dump()))
    return Response(_IDS.dump_json(found), media_type="application/json")


@router.get("/kit/{kind}/usual")
def get_usual(
    kind: Literal["lenses", "bodies", "adapters"], mount: Id, collection: CollectionOf, body_mount: Id | None = None
) -> Usual:
    """Values to begin with, for a mount; for an adapter between two."""
    return usual_values(collection.world(), kind, mount, body_mount)


@router.get("/kit/{kind}/items/{id}")
def get_kit_item(kind: Kind, id: Id, collection: CollectionOf) -> ItemPage:
    """One item to look at and edit."""
    return _page(collection, kind, id)


@router.post("/kit/{kind}/items", status_code=201)
def post_kit_item(kind: Kind, new: NewItem, collection: CollectionOf) -> ItemPage:
    """Add one item, as a gear file writes it."""
    entry = _noted(collection, _read(collection.world().gear, kind, new.item))
    _edit(collection, [Edit(kind, entry.id, entry, 0)], f"{entry.name} added")
    return _page(collection, kind, entry.id)


@router.put("/kit/{kind}/items/{id}")
def put_kit_item(kind: Kind, id: Id, changed: ChangedItem, collection: CollectionOf) -> ItemPage:
    """Change one item; refused with 409, and the item as it stands, if somebody else changed it since."""
    gear = collection.world().gear
    find(gear, kind, id)
    entry = _noted(collection, _read(gear, kind, changed.item, id))
    _edit(collection, [Edit(kind, id, entry, changed.version)], f"{entry.name} changed")
    return _page(collection, kind, id)


@router.delete("/kit/{kind}/items/{id}")
def delete_kit_item(kind: Kind, id: Id, version: Annotated[int, Query(ge=1)], collection: CollectionOf) -> Turned:
    """Take one item out; refused with 409, and who uses it, if anything refers to it."""
    entry = find(collection.world().gear, kind, id)
    _edit(collection, [Edit(kind, id, None, version)], f"{entry.name} removed")
    return Turned(next(iter(collection.history(1)), None))


@router.post("/kit/{kind}/remove")
def post_remove(kind: Kind, several: Several, collection: CollectionOf) -> Turned:
    """Take several items out in one action, or none."""
    gear = collection.world().gear
    entries = [find(gear, kind, id_) for id_ in dict.fromkeys(several.ids)]
    edits = [Edit(kind, entry.id, None, collection.version(kind, entry.id)) for entry in entries]
    _edit(collection, edits, f"{_named(kind, entries)} removed")
    return Turned(next(iter(collection.history(1)), None))


@router.post("/kit/{kind}/retire")
def post_retire(kind: ShelfKind, several: Retiring, collection: CollectionOf) -> Turned:
    """Retire several items in one action, or bring them back. What is retired is kept, and no longer offered."""
    gear = collection.world().gear
    entries = [find(gear, kind, id_) for id_ in dict.fromkeys(several.ids)]
    edits = [
        Edit(kind, entry.id, _retired(entry, several.retired), collection.version(kind, entry.id))
        for entry in entries
        if isinstance(entry, Item) and entry.retired != several.retired
    ]
    if not edits:
        return Turned(None)
    _edit(collection, edits, f"{_named(kind, entries)} {'retired' if several.retired else 'brought back'}")
    return Turned(next(iter(collection.history(1)), None))


def _retired(entry: Entry, retired: bool) -> Entry:
    return entry.model_copy(update={"retired": retired})


@router.post("/kit/{kind}/effect")
def post_effect(kind: Kind, new: NewItem, practice: Annotated[Practice, Query()], collection: CollectionOf) -> Effect:
    """What adding or changing an item would do to the best grades of what is at hand, and to saved rigs."""
    world = collection.world()
    entry = _read(world.gear, kind, new.item)
    problems = check_references(with_entry(world.gear, kind, entry.id, entry))
    if problems:
        raise refuse_references(problems, kind)
    return effect_of(world, kind, entry.id, entry, practice_in(practice))


@router.get("/rigs")
def get_rigs(collection: CollectionOf) -> RigsReport:
    """Saved rigs by the owner's practice: what each comes to today, and what it came to when it was kept."""
    return kept_rigs(collection.world(), collection.practice())


@router.get("/evidence")
def get_evidence(ids: Annotated[str, Query(max_length=400)], collection: CollectionOf) -> Witnessed:
    """What is said for and against these pieces, alone or together; ids are joined by commas."""
    return evidence_on(collection.world(), [part for part in re.split(r"\s*,\s*", ids.strip()) if part])


@router.get("/history")
def get_history(collection: CollectionOf) -> History:
    """What was done, and what can be taken back."""
    undo, redo = collection.turnable()
    return History(collection.history(), undo.title if undo else None, redo.title if redo else None)


@router.post("/undo")
def post_undo(collection: CollectionOf) -> Turned:
    """Take back the latest action that stands."""
    return Turned(collection.undo())


@router.post("/redo")
def post_redo(collection: CollectionOf) -> Turned:
    """Do again what was taken back last."""
    return Turned(collection.redo())
