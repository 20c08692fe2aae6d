"""The one search: items of a kind by any part of their names, narrowed, and sorted."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.keeping import kept

from .adapters import Adapter
from .bodies import Body
from .folded_words import folded, mount_words
from .items import Item, PieceItem
from .kinds import ShelfKind
from .lenses import Lens
from .mounts import Mount
from .shelf_rows import COVERS_HAIR_MM, Row, circle_of, mounts_of
from .shelves import shelf_items, shelf_of
from .world import World

Hand = Literal["owned", "borrowed", "at_hand", "wanted"]
Sort = Literal["name", "nearest", "focal_length", "f_number", "length", "register", "price", "mass"]


@frozen
class Wanted:
    """What is looked for. ``covers_mm`` is the diagonal that a lens has to cover, or that a body has."""

    q: str = ""
    mount: str | None = None
    covers_mm: float | None = None
    contacts: bool | None = None
    hand: Hand | None = None
    price_up_to: float | None = None
    mass_up_to_g: float | None = None
    tag: str | None = None
    trust: Literal["assumed", "measured", "contradicted"] | None = None
    retired: bool = False
    sort: Sort = "name"
    descending: bool = False


def search(world: World, kind: ShelfKind, wanted: Wanted) -> tuple[str, ...]:
    """The ids of :func:`hits`."""
    return tuple(item.id for item in hits(world, kind, wanted))


def hits(world: World, kind: ShelfKind, wanted: Wanted) -> list[Item]:
    """The items that hold every word and pass every filter, sorted; what is unknown comes last either way.

    Sorted by ``nearest``, a name that begins with the words comes first, then a word that does, then any part; each in
    the order of what is at hand. There only names and the mount's names are searched, else all that the shelf tells.
    """
    words = folded(wanted.q).split()
    nearest = wanted.sort == "nearest"
    entries = _index(world, kind)[wanted.retired]
    for word in words:
        entries = [entry for entry in entries if word in (entry.names if nearest else entry.text)]
    for passes in _tests(wanted):
        entries = [entry for entry in entries if passes(entry)]
    if nearest:
        return [entry.item for entry in _by_nearness(entries, words)]
    if wanted.sort == "name":
        return [entry.item for entry in _by_name(entries, words, wanted.descending)]
    keyed = [(_key(entry.item, wanted.sort, world), entry.item) for entry in entries]
    known = [(key, item) for key, item in keyed if key is not None]
    known.sort(key=lambda pair: pair[0], reverse=wanted.descending)
    return [*(item for _, item in known), *(item for key, item in keyed if key is None)]


@frozen
class _Entry:
    """``text`` is all that is searched on a shelf, ``names`` what a picker knows: names, and those of the mounts."""

    item: Item
    row: Row
    name: str
    text: str
    names: str
    mounts: frozenset[str]
    circle_mm: float | None


def _by_name(found: list[_Entry], words: list[str], descending: bool) -> list[_Entry]:
    """The index stands by name already, and the sort is stable."""
    if descending:
        return found[::-1]
    whole = " ".join(words)
    return sorted(found, key=lambda entry: not entry.name.startswith(whole)) if words else found


def _by_nearness(found: list[_Entry], words: list[str]) -> list[_Entry]:
    whole, begins = " ".join(words), f" {words[0]}" if words else " "

    def rank(entry: _Entry) -> tuple[int, bool]:
        near = 0 if entry.name.startswith(whole) else 1 if begins in entry.names else 2
        return near, entry.row.owned + entry.row.borrowed == 0

    return sorted(found, key=rank)


@kept()
def _index(world: World, kind: ShelfKind) -> tuple[list[_Entry], list[_Entry]]:
    """Those that stand on the shelf and those that are retired, each by name."""
    rows = shelf_of(world, kind).rows
    words = {mount.id: folded(" | ".join(mount_words(mount))) for mount in world.gear.mounts}
    entries = []
    for item, row in zip(shelf_items(world, kind), rows, strict=True):
        mounts = mounts_of(item)
        own = folded(" | ".join([item.name, *item.aliases, item.id]))
        told = folded(" | ".join([*row.tags, row.detail]))
        of_mounts = " | ".join(words[mount] for mount in mounts)
        entries.append(
            _Entry(
                item=item,
                row=row,
                name=folded(item.name),
                text=f"{own} | {told} {of_mounts}",
                names=f" {own} | {of_mounts}",
                mounts=frozenset(mounts),
                circle_mm=circle_of(item),
            )
        )
    entries.sort(key=lambda entry: (entry.name, entry.row.id))
    return [entry for entry in entries if not entry.row.retired], [entry for entry in entries if entry.row.retired]


def _tests(wanted: Wanted) -> Iterator[Callable[[_Entry], bool]]:
    """One test for each filter that is set."""
    mount, tag, hand, contacts = wanted.mount, wanted.tag, wanted.hand, wanted.contacts
    price, mass = wanted.price_up_to, wanted.mass_up_to_g
    if mount is not None:
        yield lambda entry: mount in entry.mounts
    if wanted.covers_mm is not None:
        covers = wanted.covers_mm
        yield lambda entry: _covers_at_least(entry, covers)
    if contacts is not None:
        yield lambda entry: entry.row.contacts == contacts
    if hand is not None:
        yield lambda entry: _in_hand(entry.row, hand)
    if price is not None:
        yield lambda entry: entry.row.price is not None and entry.row.price <= price
    if mass is not None:
        yield lambda entry: entry.row.mass_g is not None and entry.row.mass_g <= mass
    if tag is not None:
        yield lambda entry: tag in entry.row.tags
    match wanted.trust:
        case "assumed":
            yield lambda entry: entry.row.assumed > 0
        case "measured":
            yield lambda entry: entry.row.measured
        case "contradicted":
            yield lambda entry: entry.row.contradicted > 0


def _covers_at_least(entry: _Entry, diagonal_mm: float) -> bool:
    """A lens or an adapter covers the diagonal; a body has it."""
    if entry.circle_mm is None:
        return False
    spare = entry.circle_mm - diagonal_mm
    return abs(spare) <= 0.05 if isinstance(entry.item, Body) else spare >= -COVERS_HAIR_MM


def _in_hand(row: Row, hand: Hand) -> bool:
    match hand:
        case "owned":
            return row.owned > 0
        case "borrowed":
            return row.borrowed > 0
        case "at_hand":
            return row.owned + row.borrowed > 0
        case "wanted":
            return row.owned + row.borrowed == 0


def _key(item: Item, sort: Sort, world: World) -> float | None:
    match sort:
        case "focal_length":
            return item.focal_length_mm[0] if isinstance(item, Lens) else None
        case "f_number":
            return item.f_number[0] if isinstance(item, Lens) else None
        case "length":
            return _length_of(item)
        case "register":
            return _register_of(item, world)
        case "price":
            return item.price if isinstance(item, PieceItem) else None
        case "mass":
            return item.mass_g if isinstance(item, PieceItem) else None
        case "name" | "nearest":
            return None


def _length_of(item: Item) -> float | None:
    if isinstance(item, Adapter):
        return item.physical_length_mm
    if isinstance(item, Lens):
        return item.length_mm
    return item.depth_mm if isinstance(item, Body) else None


def _register_of(item: Item, world: World) -> float | None:
    if isinstance(item, Mount):
        return item.register_mm
    mounts = mounts_of(item)
    return world.mounts[mounts[0]].register_mm if mounts else None
