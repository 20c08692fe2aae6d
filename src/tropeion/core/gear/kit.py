"""Single items in and out of a collection, and who uses them."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container, Iterator
from dataclasses import dataclass
from typing import Final, Literal

from .gear import Adapter, Body, Gear, Lens, Mount, Protocol, Rig
from .world import UnknownIdError, nearest

__all__ = [
    "KINDS",
    "MODELS",
    "SINGULAR",
    "Entry",
    "Kind",
    "User",
    "find",
    "free_id",
    "items",
    "needs_of",
    "selection",
    "users_of",
    "with_entry",
]

Kind = Literal["protocols", "mounts", "bodies", "lenses", "adapters", "rigs"]
KINDS: Final[tuple[Kind, ...]] = ("protocols", "mounts", "bodies", "lenses", "adapters", "rigs")
Entry = Protocol | Mount | Body | Lens | Adapter | Rig
MODELS: Final[dict[Kind, type[Entry]]] = {
    "protocols": Protocol,
    "mounts": Mount,
    "bodies": Body,
    "lenses": Lens,
    "adapters": Adapter,
    "rigs": Rig,
}
SINGULAR: Final[dict[Kind, Literal["protocol", "mount", "body", "lens", "adapter", "rig"]]] = {
    "protocols": "protocol",
    "mounts": "mount",
    "bodies": "body",
    "lenses": "lens",
    "adapters": "adapter",
    "rigs": "rig",
}


@dataclass(frozen=True, slots=True)
class User:
    """An item that cannot be without another one, and how it uses it."""

    kind: Kind
    id: str
    name: str
    how: str


def items(gear: Gear, kind: Kind) -> tuple[Entry, ...]:
    """One shelf, in the order of the gear file."""
    found: tuple[Entry, ...] = getattr(gear, kind)
    return found


def find(gear: Gear, kind: Kind, id_: str) -> Entry:
    """One item. Raises UnknownIdError."""
    for item in items(gear, kind):
        if item.id == id_:
            return item
    raise UnknownIdError(SINGULAR[kind], id_, nearest(id_, [item.id for item in items(gear, kind)]))


def with_entry(gear: Gear, kind: Kind, id_: str, entry: Entry | None) -> Gear:
    """The collection with one item put in its place, added last, or (None) taken out. References are not checked."""
    shelf = items(gear, kind)
    if entry is None:
        changed = tuple(item for item in shelf if item.id != id_)
    elif any(item.id == id_ for item in shelf):
        changed = tuple(entry if item.id == id_ else item for item in shelf)
    else:
        changed = (*shelf, entry)
    return gear.model_copy(update={kind: changed})


def free_id(name: str, taken: Container[str]) -> str:
    """An id made of a name, that is not taken."""
    plain = "".join(c for c in unicodedata.normalize("NFKD", name.casefold()) if not unicodedata.combining(c))
    stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:56] or "item"
    found, number = stem, 2
    while found in taken:
        found, number = f"{stem}-{number}", number + 1
    return found


def users_of(gear: Gear, kind: Kind, id_: str) -> tuple[User, ...]:
    """Everything that refers to an item, in the order of a gear file."""
    return tuple(_users(gear, kind, id_))


def _users(gear: Gear, kind: Kind, id_: str) -> Iterator[User]:
    match kind:
        case "protocols":
            yield from _speakers(gear, id_)
        case "mounts":
            yield from _seated(gear, id_)
        case "bodies":
            yield from (User("rigs", rig.id, rig.name, "is kept with it") for rig in gear.rigs if rig.body == id_)
        case "lenses":
            yield from (User("rigs", rig.id, rig.name, "is kept with it") for rig in gear.rigs if rig.lens == id_)
        case "adapters":
            for lens in gear.lenses:
                if any(one.adapter == id_ for one in lens.not_on):
                    yield User("lenses", lens.id, lens.name, "is not to go on it, says its maker")
            yield from (User("rigs", rig.id, rig.name, "is kept with it") for rig in gear.rigs if id_ in rig.adapters)
        case "rigs":
            return
    yield from _witnesses(gear, kind, id_)


def _speakers(gear: Gear, id_: str) -> Iterator[User]:
    for protocol in gear.protocols:
        if id_ in protocol.accepts:
            yield User("protocols", protocol.id, protocol.name, "understands it")
    for mount in gear.mounts:
        if any(generation.protocol == id_ for generation in mount.generations):
            yield User("mounts", mount.id, mount.name, "has a generation that speaks it")
    for body in gear.bodies:
        if id_ in body.protocols:
            yield User("bodies", body.id, body.name, "speaks it")
    for lens in gear.lenses:
        if lens.protocol == id_:
            yield User("lenses", lens.id, lens.name, "speaks it")
    for adapter in gear.adapters:
        if id_ in {adapter.from_protocol, adapter.to_protocol}:
            yield User("adapters", adapter.id, adapter.name, "translates it")


def _seated(gear: Gear, id_: str) -> Iterator[User]:
    for body in gear.bodies:
        if body.mount == id_:
            yield User("bodies", body.id, body.name, "has this mount")
        elif any(one.mount == id_ for one in body.swappable_mounts):
            yield User("bodies", body.id, body.name, "can be given this mount")
    for lens in gear.lenses:
        if lens.mount == id_:
            yield User("lenses", lens.id, lens.name, "has this mount")
        elif any(one.mount == id_ for one in lens.swappable_mounts):
            yield User("lenses", lens.id, lens.name, "can be given this mount")
        elif any(one.mount == id_ for one in lens.not_on):
            yield User("lenses", lens.id, lens.name, "is not to go on it, says its maker")
    for adapter in gear.adapters:
        if id_ in {adapter.lens_mount, adapter.body_mount}:
            yield User("adapters", adapter.id, adapter.name, "has this mount on one side")


def _witnesses(gear: Gear, kind: Kind, id_: str) -> Iterator[User]:
    if kind not in {"bodies", "lenses", "adapters"}:
        return
    shelves: tuple[tuple[Kind, tuple[Body | Lens | Adapter, ...]], ...] = (
        ("bodies", gear.bodies),
        ("lenses", gear.lenses),
        ("adapters", gear.adapters),
    )
    for shelf, pieces in shelves:
        for piece in pieces:
            if piece.id != id_ and any(id_ in one.with_ for one in piece.evidence):
                yield User(shelf, piece.id, piece.name, "has evidence that names it")


def needs_of(entry: Entry) -> tuple[tuple[Kind, str], ...]:
    """Everything that one item refers to."""
    found: list[tuple[Kind, str | None]] = []
    match entry:
        case Protocol():
            found += [("protocols", id_) for id_ in entry.accepts]
        case Mount():
            found += [("protocols", generation.protocol) for generation in entry.generations]
        case Body():
            found += [("mounts", entry.mount), *(("mounts", one.mount) for one in entry.swappable_mounts)]
            found += [("protocols", id_) for id_ in entry.protocols]
        case Lens():
            found += [("mounts", entry.mount), *(("mounts", one.mount) for one in entry.swappable_mounts)]
            found += [("mounts", one.mount) for one in entry.not_on]
            found += [("adapters", one.adapter) for one in entry.not_on]
            found += [("protocols", entry.protocol)]
        case Adapter():
            found += [("mounts", entry.lens_mount), ("mounts", entry.body_mount)]
            found += [("protocols", entry.from_protocol), ("protocols", entry.to_protocol)]
        case Rig():
            found += [("lenses", entry.lens), ("bodies", entry.body), *(("adapters", id_) for id_ in entry.adapters)]
    return tuple((kind, id_) for kind, id_ in found if id_ is not None)


def selection(gear: Gear, kind: Kind, ids: Container[str]) -> Gear:
    """Some items of a kind, with all they need, as a collection of its own.

    Evidence that names pieces which stay behind is kept without their names.
    """
    wanted: dict[tuple[Kind, str], None] = {(kind, item.id): None for item in items(gear, kind) if item.id in ids}
    known = {(one, item.id): item for one in KINDS for item in items(gear, one)}
    waiting = list(wanted)
    while waiting:
        for need in needs_of(known[waiting.pop()]):
            if need not in wanted:
                wanted[need] = None
                waiting.append(need)
    pieces = {id_ for one, id_ in wanted if one in {"bodies", "lenses", "adapters"}}
    return gear.model_copy(
        update={
            one: tuple(_alone(item, pieces) for item in items(gear, one) if (one, item.id) in wanted) for one in KINDS
        }
    )


def _alone(entry: Entry, pieces: Container[str]) -> Entry:
    if not isinstance(entry, Body | Lens | Adapter) or not entry.evidence:
        return entry
    evidence = tuple(
        one.model_copy(update={"with_": tuple(id_ for id_ in one.with_ if id_ in pieces)}) for one in entry.evidence
    )
    return entry.model_copy(update={"evidence": evidence})
