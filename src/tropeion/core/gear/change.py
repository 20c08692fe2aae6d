"""What is advised, as a change of a collection: pieces bought, pieces made, plates that something could be given.

One function applies it to a copy, which is then judged like any collection.
"""

from __future__ import annotations

from collections import ChainMap
from dataclasses import replace
from typing import TypeVar, cast

from tropeion.core.frozen import frozen
from tropeion.core.keeping import Keeper

from .adapters import Adapter
from .bodies import Body
from .items import SwappableMount
from .lenses import Lens
from .world import World, compile_world

C = TypeVar("C", bound=Lens | Body)


@frozen
class Change:
    """One more of each of ``buy`` (ids of adapters, lenses or bodies; of the latter one is there already).

    ``make`` are adapters that is not listed; ``plates`` pairs of a lens or body and a mount that it can then be
    given; ``registers`` pairs of a mount and the flange focal distance that it is taken to have, in mm.
    """

    buy: tuple[str, ...] = ()
    make: tuple[Adapter, ...] = ()
    plates: tuple[tuple[str, str], ...] = ()
    registers: tuple[tuple[str, float], ...] = ()


def changed(world: World, change: Change) -> World:
    """A copy of a collection with what is advised; what is bought or made is at hand."""
    made = tuple(adapter.model_copy(update={"owned": max(1, adapter.owned)}) for adapter in change.make)
    taken = {adapter.id for adapter in made}
    adapters = tuple(
        _bought(adapter, change) if change.buy else adapter
        for adapter in world.gear.adapters
        if adapter.id not in taken
    )
    if not (change.buy or change.plates or change.registers):
        return compile_world(world.gear.model_copy(update={"adapters": (*adapters, *made)}), world)
    registers = dict(change.registers)
    gear = world.gear.model_copy(
        update={
            "mounts": tuple(
                mount.model_copy(update={"register_mm": registers[mount.id]}) if mount.id in registers else mount
                for mount in world.gear.mounts
            ),
            "adapters": (*adapters, *made),
            "lenses": tuple(_plated(_bought(lens, change), change) for lens in world.gear.lenses),
            "bodies": tuple(_plated(_bought(body, change), change) for body in world.gear.bodies),
        }
    )
    return compile_world(gear, world)


def with_piece(world: World, piece: Adapter) -> World:
    """The same collection, to judge a chain with a piece that it does not list: no other chain leads through it."""
    adapters = ChainMap({piece.id: piece}, cast("dict[str, Adapter]", world.adapters))
    structure = replace(world.structure, adapters=adapters, keeper=Keeper())
    return replace(world, structure=structure, adapters=adapters, keeper=Keeper())


B = TypeVar("B", Adapter, Lens, Body)


def _bought(item: B, change: Change) -> B:
    count = change.buy.count(item.id)
    # A lens or a body that is asked about is there, whether or not it is noted so.
    there = item.owned if isinstance(item, Adapter) else max(1, item.owned)
    return item.model_copy(update={"owned": there + count}) if count else item


def _plated(item: C, change: Change) -> C:
    more = tuple(SwappableMount(mount=mount) for id_, mount in change.plates if id_ == item.id)
    update = {"swappable_mounts": (*item.swappable_mounts, *more)}
    return cast("C", item.model_copy(update=update)) if more else item
