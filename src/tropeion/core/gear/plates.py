"""A lens or a body with another of its reversible mounts: an item of its own, by an id that tells of the change."""

from __future__ import annotations

from tropeion.core.keeping import kept

from .bodies import Body
from .items import SwappableMount
from .kinds import Kind
from .kit import with_entry
from .lenses import Lens
from .world import World, compile_world

__all__ = ["change_of", "plate_id", "with_plates"]

_PLATE, _BETWEEN, _LONGEST_ID = "plate", "..", 64


def plate_id(item: Lens | Body, mount: str) -> str | None:
    """The id of an item with its mount or plate changed; None where it would be too long."""
    id_ = _BETWEEN.join((_PLATE, item.id, mount))
    return id_ if len(id_) <= _LONGEST_ID else None


def change_of(world: World, id_: str) -> tuple[Lens | Body, SwappableMount] | None:
    """The item and the change that such an id tells of; None for an id like any other."""
    parts = id_.split(_BETWEEN)
    if len(parts) != 3 or parts[0] != _PLATE:
        return None
    item: Lens | Body | None = world.lenses.get(parts[1]) or world.bodies.get(parts[1])
    if item is None:
        return None
    return next(((item, swap) for swap in item.swappable_mounts if swap.mount == parts[2]), None)


def with_plates(world: World, lens_id: str, body_id: str) -> World:
    """The world with the changed items that the ids tell of in it."""
    for id_ in (lens_id, body_id):
        if id_ not in world.lenses and id_ not in world.bodies and change_of(world, id_) is not None:
            world = _with_plate(world, id_)
    return world


@kept(most=8)
def _with_plate(world: World, id_: str) -> World:
    found = change_of(world, id_)
    assert found is not None
    item, swap = found
    part = "mount" if isinstance(item, Lens) else "plate"
    name = f"{item.name[:90]}, {world.mounts[swap.mount].name[:20]} {part}"
    update = {"id": id_, "name": name, "mount": swap.mount, "generation": None, "swappable_mounts": ()}
    kind: Kind = "lenses" if isinstance(item, Lens) else "bodies"
    return compile_world(with_entry(world.gear, kind, id_, item.model_copy(update=update)), like=world)
