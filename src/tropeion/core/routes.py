"""Finding chains of adapters."""

from __future__ import annotations

from .gear import Adapter, Body, Lens
from .world import World

__all__ = ["find_chains"]


def find_chains(world: World, lens: Lens, body: Body) -> tuple[tuple[Adapter, ...], ...]:
    """Every chain of no or one adapter that mates at every joint, in the order of the collection.

    Pieces that are retired are left out.
    """
    front = world.mounts[lens.mount].interface
    rear = world.mounts[body.mount].interface
    bare: tuple[tuple[Adapter, ...], ...] = ((),) if front == rear else ()
    return bare + tuple(
        (adapter,) for adapter in world.adapters_by_joints.get((front, rear), ()) if not adapter.retired
    )
