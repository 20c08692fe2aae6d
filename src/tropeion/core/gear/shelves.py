"""The shelves: every item of a kind as one row with its silhouette's measures; found, filtered and sorted."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from tropeion.core.keeping import kept

from .adapters import Adapter
from .bodies import Body
from .items import Evidence, Item, Piece
from .kinds import Kind
from .kit import items
from .lenses import Lens
from .mounts import Mount, Protocol
from .search import folded, mount_words
from .world import World

__all__ = ["Format", "Hand", "Row", "Shelf", "ShelfKind", "Sort", "Wanted", "find_on_shelf", "shelf_of"]

ShelfKind = Literal["protocols", "mounts", "bodies", "lenses", "adapters"]
Hand = Literal["owned", "borrowed", "at_hand", "wanted"]
Sort = Literal["name", "focal_length", "f_number", "length", "register", "price", "mass"]


@dataclass(frozen=True, slots=True)
class Row:
    """One item on its shelf; measures are None where they are unknown.

    The silhouette is ``width_mm`` along the axis (a body's width, a mount's register) and ``height_mm`` across, with
    an opening of ``inner_mm``, a body's centred ``centre_x_mm`` from its left and ``centre_y_mm`` from its top.
    ``circle_mm`` is a lens's image circle, or a body's sensor diagonal; ``covers`` the largest known format inside.
    ``confirmed`` and ``contradicted`` count its evidence.
    """

    id: str
    name: str
    mount: str
    detail: str
    owned: int
    borrowed: int
    price: float | None
    mass_g: float | None
    retired: bool
    tags: tuple[str, ...]
    assumed: int
    measured: bool
    confirmed: int
    contradicted: int
    contacts: bool
    glass: bool
    width_mm: float | None
    height_mm: float | None
    inner_mm: float | None
    centre_x_mm: float | None
    centre_y_mm: float | None
    circle_mm: float | None
    covers: str | None


@dataclass(frozen=True, slots=True)
class Format:
    """A sensor or gate size that the collection knows."""

    name: str
    diagonal_mm: float


@dataclass(frozen=True, slots=True)
class Choice:
    """A mount that a shelf can be narrowed to."""

    id: str
    name: str


@dataclass(frozen=True, slots=True)
class Shelf:
    """All rows of a kind, in the order of the collection, and what they can be narrowed by."""

    kind: ShelfKind
    rows: tuple[Row, ...]
    mounts: tuple[Choice, ...]
    formats: tuple[Format, ...]
    tags: tuple[str, ...]
    currency: str


@dataclass(frozen=True, slots=True)
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


@kept()
def shelf_of(world: World, kind: ShelfKind) -> Shelf:
    """Every item of a kind."""
    shelf = _items(world, kind)
    formats = _formats(world)
    rows = tuple(_row(world, item, formats) for item in shelf)
    used = {mount for item in shelf for mount in _mounts_of(item)}
    return Shelf(
        kind=kind,
        rows=rows,
        mounts=tuple(Choice(one.id, one.name) for one in sorted(world.gear.mounts, key=_by_name) if one.id in used),
        formats=formats,
        tags=tuple(sorted({tag for row in rows for tag in row.tags}, key=str.casefold)),
        currency=world.gear.currency,
    )


def find_on_shelf(world: World, kind: ShelfKind, wanted: Wanted) -> tuple[str, ...]:
    """The ids that hold every word and pass every filter, sorted; what is unknown comes last either way."""
    words = folded(wanted.q).split()
    found = _index(world, kind)[wanted.retired]
    for word in words:
        found = [entry for entry in found if word in entry.text]
    for passes in _tests(wanted):
        found = [entry for entry in found if passes(entry)]
    # The index stands by name already, and the sort is stable.
    if wanted.sort == "name":
        if wanted.descending:
            found = found[::-1]
        elif words:
            whole = " ".join(words)
            found = sorted(found, key=lambda entry: not entry.name.startswith(whole))
        return tuple([entry.row.id for entry in found])
    keyed = [(_key(entry.item, wanted.sort, world), entry.row.id) for entry in found]
    known = [(key, id_) for key, id_ in keyed if key is not None]
    known.sort(key=lambda one: one[0], reverse=wanted.descending)
    return (*(id_ for _, id_ in known), *(id_ for key, id_ in keyed if key is None))


@dataclass(frozen=True, slots=True)
class _Entry:
    item: Item
    row: Row
    name: str
    text: str
    mounts: frozenset[str]
    circle_mm: float | None


@kept()
def _index(world: World, kind: ShelfKind) -> tuple[list[_Entry], list[_Entry]]:
    """Those that stand on the shelf and those that are retired, each by name."""
    rows = shelf_of(world, kind).rows
    words = {mount.id: folded(" | ".join(mount_words(mount))) for mount in world.gear.mounts}
    found = []
    for item, row in zip(_items(world, kind), rows, strict=True):
        mounts = _mounts_of(item)
        own = folded(" | ".join([item.name, *item.aliases, item.id, *row.tags, row.detail]))
        text = " ".join([own, *(words[mount] for mount in mounts if not isinstance(item, Mount))])
        if isinstance(item, Mount):
            text += " " + words[item.id]
        found.append(_Entry(item, row, folded(item.name), text, frozenset(mounts), _circle_of(item)))
    found.sort(key=lambda entry: (entry.name, entry.row.id))
    return [entry for entry in found if not entry.row.retired], [entry for entry in found if entry.row.retired]


def _items(world: World, kind: Kind) -> tuple[Item, ...]:
    return tuple(item for item in items(world.gear, kind) if isinstance(item, Item))


def _mounts_of(item: Item) -> tuple[str, ...]:
    match item:
        case Mount():
            return (item.id,)
        case Body() | Lens():
            return (item.mount,)
        case Adapter():
            return (item.lens_mount, item.body_mount)
        case _:
            return ()


def _circle_of(item: Item) -> float | None:
    if isinstance(item, Body):
        return math.hypot(*item.sensor_mm)
    return item.image_circle_mm if isinstance(item, Lens | Adapter) else None


_COVERS_HAIR_MM = 0.005


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
    return abs(spare) <= 0.05 if isinstance(entry.item, Body) else spare >= -_COVERS_HAIR_MM


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
            return item.price if isinstance(item, Piece) else None
        case "mass":
            return item.mass_g if isinstance(item, Piece) else None
        case "name":
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
    mounts = _mounts_of(item)
    return world.mounts[mounts[0]].register_mm if mounts else None


def _formats(world: World) -> tuple[Format, ...]:
    """Every sensor size and mode of the collection, small ones first."""
    found: dict[str, float] = {}
    for body in world.gear.bodies:
        for size in (body.sensor_mm, *(mode.sensor_mm for mode in body.modes)):
            found.setdefault(f"{size[0]:g} × {size[1]:g}", math.hypot(*size))
    return tuple(Format(name, diagonal) for name, diagonal in sorted(found.items(), key=lambda one: one[1]))


def _covers(item: Item, formats: Sequence[Format]) -> str | None:
    if isinstance(item, Body):
        return f"{item.sensor_mm[0]:g} × {item.sensor_mm[1]:g}"
    if not isinstance(item, Lens) or item.image_circle_mm is None:
        return None
    inside = [one.name for one in formats if one.diagonal_mm <= item.image_circle_mm + _COVERS_HAIR_MM]
    return inside[-1] if inside else None


def _by_name(item: Item) -> str:
    return item.name.casefold()


def _row(world: World, item: Item, formats: Sequence[Format]) -> Row:
    piece = item if isinstance(item, Piece) else None
    evidence: Sequence[Evidence] = piece.evidence if piece else ()
    width, height, inner, centre = _silhouette(world, item)
    return Row(
        id=item.id,
        name=item.name,
        mount=" → ".join(world.mounts[mount].name for mount in _mounts_of(item)) if piece else "",
        detail=_detail(item),
        owned=piece.owned if piece else 0,
        borrowed=piece.borrowed if piece else 0,
        price=piece.price if piece else None,
        mass_g=piece.mass_g if piece else None,
        retired=item.retired,
        tags=item.character if isinstance(item, Body | Lens) else (),
        assumed=len(item.assumed),
        measured=_measured(item),
        confirmed=sum(one.verdict == "confirmed" for one in evidence),
        contradicted=sum(one.verdict == "contradicted" for one in evidence),
        contacts=_contacts(item),
        glass=isinstance(item, Adapter) and item.has_glass,
        width_mm=width,
        height_mm=height,
        inner_mm=inner,
        centre_x_mm=centre[0] if centre else None,
        centre_y_mm=centre[1] if centre else None,
        circle_mm=_circle_of(item),
        covers=_covers(item, formats),
    )


def _measured(item: Item) -> bool:
    match item:
        case Body() | Lens():
            return item.measured_register_mm is not None
        case Adapter():
            return item.measured_length_mm is not None
        case _:
            return False


def _contacts(item: Item) -> bool:
    match item:
        case Body():
            return bool(item.protocols)
        case Lens():
            return item.protocol is not None
        case Adapter():
            return item.link != "none"
        case Mount():
            return any(generation.protocol for generation in item.generations)
        case _:
            return True


def _range(ends: tuple[float, float]) -> str:
    return f"{ends[0]:g}" if ends[0] == ends[1] else f"{ends[0]:g}–{ends[1]:g}"


def _detail(item: Item) -> str:
    match item:
        case Mount():
            thread = f"{item.thread.diameter_mm:g} × {item.thread.pitch_mm:g}" if item.thread else ""
            return thread or item.coupling.replace("_", " ")
        case Body():
            return f"{item.sensor_mm[0]:g} × {item.sensor_mm[1]:g} mm"
        case Lens():
            return f"{_range(item.focal_length_mm)} mm f/{item.f_number[0]:g}"
        case Adapter():
            words = {"none": "", "reducer": "reducer", "expander": "expander", "correcting": "correcting glass"}
            glass = f"{words[item.optics]} {item.magnification:g}×" if item.has_glass else ""
            return " ".join(part for part in (f"{item.physical_length_mm:.2f} mm", glass) if part)
        case Protocol():
            return "powers " + " and ".join(item.powers) if item.powers else "powers nothing"
        case _:
            return ""


Silhouette = tuple[float | None, float | None, float | None, tuple[float, float] | None]


def _silhouette(world: World, item: Item) -> Silhouette:
    match item:
        case Mount():
            return item.register_mm, item.outer_mm, item.throat_mm, None
        case Body():
            return item.width_mm, item.height_mm, world.mounts[item.mount].throat_mm, item.mount_centre_mm
        case Lens():
            return item.length_mm, item.diameter_mm, item.rear_diameter_mm, None
        case Adapter():
            return item.physical_length_mm, item.outer_mm, item.bore_mm, None
        case _:
            return None, None, None, None
