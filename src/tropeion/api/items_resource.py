"""Single items: looked at, added, changed, taken out, retired."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Annotated, Any

from fastapi import Query, Request
from pydantic import BaseModel, Field

from tropeion.core.answers.effects import Effect, effect_of
from tropeion.core.answers.saved_rigs import noted
from tropeion.core.frozen import frozen
from tropeion.core.gear.evidence import Witnessed, evidence_on
from tropeion.core.gear.gear import Gear, SavedRig
from tropeion.core.gear.items import Item
from tropeion.core.gear.kinds import Kind, ShelfKind
from tropeion.core.gear.kit import Entry, User, find, free_id, items, users_of, with_entry
from tropeion.core.gear.references import check_references
from tropeion.formats.entries import entry_document, load_entry
from tropeion.store.collection import Collection, Edit
from tropeion.store.errors import InvalidError
from tropeion.store.journal import Action

from .practice_query import PracticeOf
from .problems import ON_THE_MACHINE, RefusedError, refuse_references
from .resource import resource
from .shared import CollectionOf, Id

router = resource("/api/v1/kit", "items")


@frozen
class ItemPage:
    """One item as a gear file writes it, the version it was read at, who uses it, and what is said of it."""

    kind: Kind
    id: str
    item: dict[str, Any]
    version: int
    users: tuple[User, ...]
    witnessed: Witnessed
    currency: str


@frozen
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
        document["id"] = free_id(name if isinstance(name, str) else "", {item.id for item in items(gear, kind)})
    return load_entry(kind, json.dumps(document).encode("utf-8", "surrogatepass"))


def _noted(collection: Collection, entry: Entry) -> Entry:
    """A rig is kept with what it comes to today."""
    if not isinstance(entry, SavedRig):
        return entry
    return noted(collection.world(), entry, collection.practice(), datetime.now(UTC).date())


def _named(kind: Kind, entries: list[Entry]) -> str:
    return entries[0].name if len(entries) == 1 else f"{len(entries)} {kind}"


def _edit(collection: Collection, edits: list[Edit], title: str) -> None:
    try:
        collection.edit(edits, title[:200])
    except InvalidError as error:
        raise refuse_references(error.problems, edits[0].kind) from None


@router.get("/{kind}/items/{id}")
def get_kit_item(kind: Kind, id: Id, collection: CollectionOf) -> ItemPage:
    """One item to look at and edit."""
    return _page(collection, kind, id)


@router.post("/{kind}/items", status_code=201)
def post_kit_item(kind: Kind, new: NewItem, collection: CollectionOf) -> ItemPage:
    """Add one item, as a gear file writes it."""
    entry = _noted(collection, _read(collection.world().gear, kind, new.item))
    _edit(collection, [Edit(kind, entry.id, entry, 0)], f"{entry.name} added")
    return _page(collection, kind, entry.id)


@router.put("/{kind}/items/{id}")
def put_kit_item(kind: Kind, id: Id, changed: ChangedItem, collection: CollectionOf, request: Request) -> ItemPage:
    """Change one item; refused with 409, and the item as it stands, if somebody else changed it since."""
    gear = collection.world().gear
    standing = find(gear, kind, id)
    entry = _noted(collection, _read(gear, kind, changed.item, id))
    if request.state.visit is not None and _is_retired(standing) != _is_retired(entry):
        raise RefusedError(ON_THE_MACHINE)
    _edit(collection, [Edit(kind, id, entry, changed.version)], f"{entry.name} changed")
    return _page(collection, kind, id)


@router.delete("/{kind}/items/{id}")
def delete_kit_item(kind: Kind, id: Id, version: Annotated[int, Query(ge=1)], collection: CollectionOf) -> Turned:
    """Take one item out; refused with 409, and who uses it, if anything refers to it."""
    entry = find(collection.world().gear, kind, id)
    _edit(collection, [Edit(kind, id, None, version)], f"{entry.name} removed")
    return Turned(next(iter(collection.history(1)), None))


@router.post("/{kind}/remove")
def post_remove(kind: Kind, several: Several, collection: CollectionOf) -> Turned:
    """Take several items out in one action, or none."""
    gear = collection.world().gear
    entries = [find(gear, kind, id_) for id_ in dict.fromkeys(several.ids)]
    edits = [Edit(kind, entry.id, None, collection.version(kind, entry.id)) for entry in entries]
    _edit(collection, edits, f"{_named(kind, entries)} removed")
    return Turned(next(iter(collection.history(1)), None))


@router.post("/{kind}/retire")
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
    done = "archived" if several.retired else "restored from the archive"
    _edit(collection, edits, f"{_named(kind, entries)} {done}")
    return Turned(next(iter(collection.history(1)), None))


def _is_retired(entry: Entry) -> bool:
    return isinstance(entry, Item) and entry.retired


def _retired(entry: Entry, retired: bool) -> Entry:
    return entry.model_copy(update={"retired": retired})


@router.post("/{kind}/effect")
def post_effect(kind: Kind, new: NewItem, practice: PracticeOf, collection: CollectionOf) -> Effect:
    """What adding or changing an item would do to the best grades of what is at hand, and to saved rigs."""
    world = collection.world()
    entry = _read(world.gear, kind, new.item)
    problems = check_references(with_entry(world.gear, kind, entry.id, entry))
    if problems:
        raise refuse_references(problems, kind)
    return effect_of(world, kind, entry.id, entry, practice)
