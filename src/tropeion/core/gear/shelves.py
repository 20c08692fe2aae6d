"""The shelves: every item of a kind as one row, and what a shelf can be narrowed by."""

from __future__ import annotations

import math

from tropeion.core.frozen import frozen
from tropeion.core.keeping import kept

from .items import Item
from .kinds import Kind, ShelfKind
from .kit import items
from .shelf_rows import Format, Row, mounts_of, row_of
from .world import World


@frozen
class MountChoice:
    """A mount that a shelf can be narrowed to."""

    id: str
    name: str


@frozen
class Shelf:
    """All rows of a kind, in the order of the collection, and what they can be narrowed by."""

    kind: ShelfKind
    rows: tuple[Row, ...]
    mounts: tuple[MountChoice, ...]
    formats: tuple[Format, ...]
    tags: tuple[str, ...]
    currency: str


@kept()
def shelf_of(world: World, kind: ShelfKind) -> Shelf:
    """Every item of a kind."""
    shelf = shelf_items(world, kind)
    formats = _formats(world)
    rows = tuple(row_of(world, item, formats) for item in shelf)
    used = {mount for item in shelf for mount in mounts_of(item)}
    return Shelf(
        kind=kind,
        rows=rows,
        mounts=tuple(
            MountChoice(mount.id, mount.name) for mount in sorted(world.gear.mounts, key=_by_name) if mount.id in used
        ),
        formats=formats,
        tags=tuple(sorted({tag for row in rows for tag in row.tags}, key=str.casefold)),
        currency=world.gear.currency,
    )


def shelf_items(world: World, kind: Kind) -> tuple[Item, ...]:
    return tuple(item for item in items(world.gear, kind) if isinstance(item, Item))


def _formats(world: World) -> tuple[Format, ...]:
    """Every sensor size and mode of the collection, small ones first."""
    formats: dict[str, float] = {}
    for body in world.gear.bodies:
        for size in (body.sensor_mm, *(mode.sensor_mm for mode in body.modes)):
            formats.setdefault(f"{size[0]:g} × {size[1]:g}", math.hypot(*size))
    return tuple(Format(name, diagonal) for name, diagonal in sorted(formats.items(), key=lambda pair: pair[1]))


def _by_name(item: Item) -> str:
    return item.name.casefold()
