"""Rings that are not listed as chains of a table: where each stands, and the listed piece beside it."""

from __future__ import annotations

import operator
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import Structure, Systems, World
from tropeion.core.joints.mechanics import STACKED_RING_MM, has_room, smallest_ring_mm
from tropeion.core.keeping import kept
from tropeion.core.optics.seats import link_of
from tropeion.core.rig.unlisted import HELICOID_MM, made_ring

from .chain_table import (
    STEP_ARRAYS_OF,
    ChainTable,
    Floats,
    Ints,
    Steps,
    bare,
    columns,
    in_front,
    joined,
    padded,
    put_together,
)
from .chains import Group, group_of


@frozen
class RingPlace:
    """Where a ring would stand, how long it would have to be, and the listed piece before or behind it."""

    front: Mount
    rear: Mount
    length_mm: float
    before: Adapter | None = None
    behind: Adapter | None = None

    @property
    def alone(self) -> bool:
        """Whether no listed piece is beside it."""
        return self.before is None and self.behind is None

    def practical(self, world: World, *, opens: bool) -> bool | None:
        """Whether there is room for it, with a helicoid if it ``opens``; None where that is not known."""
        if self.length_mm <= 0:
            return False
        least = smallest_ring_mm(world.structure, self.front, self.rear)
        if opens:
            least = (STACKED_RING_MM if least is None else least) + HELICOID_MM
        return has_room(self.length_mm, least)

    def chain(self, ring: Adapter) -> tuple[Adapter, ...]:
        return tuple(adapter for adapter in (self.before, ring, self.behind) if adapter is not None)


Does = Mapping[str, object]


@frozen(eq=False)
class Beside:
    """Listed pieces that meet at one interface, in the order of the collection, and what they do to a register."""

    adapters: tuple[Adapter, ...]
    order: tuple[int, ...]
    to_buy: tuple[bool, ...]
    squared: Floats
    adds_mm: Floats


Ordered = tuple[int, Adapter]


@kept(most=1)
def _meeting(structure: Structure) -> tuple[Mapping[str, list[Ordered]], Mapping[str, list[Ordered]]]:
    """By the interface of a body the pieces that go onto it, by that of a lens those that take it; in their order."""
    behind: dict[str, list[Ordered]] = {}
    before: dict[str, list[Ordered]] = {}
    order = 0
    for (takes, onto), adapters in structure.adapters_by_joints.items():
        for adapter in adapters:
            if not adapter.retired:
                behind.setdefault(onto, []).append((order, adapter))
                before.setdefault(takes, []).append((order, adapter))
                order += 1
    return behind, before


@kept(most=4_000)
def beside_of(structure: Structure, joint: str, side: int) -> Beside:
    """The pieces behind a ring that go onto a body (``side`` 0), or before it and take a lens (1)."""
    some = _meeting(structure)[side].get(joint, [])
    adapters, order = tuple([adapter for _, adapter in some]), tuple([place for place, _ in some])
    if structure.like is not None:
        base = beside_of(structure.like, joint, side)
        if len(base.adapters) == len(adapters) and all(map(operator.is_, base.adapters, adapters)):
            return replace(base, order=order)
    links = [link_of(structure, adapter.id) for adapter in adapters]
    squared = np.array([link.magnification**2 for link in links], dtype=np.float64)
    glass = [link.glass or (0.0, 0.0) for link in links]
    adds = [
        link.error_mm + k * expects - delivers
        for link, k, (expects, delivers) in zip(links, squared.tolist(), glass, strict=True)
    ]
    return Beside(
        adapters, order, tuple([not adapter.at_hand for adapter in adapters]), squared, np.array(adds, dtype=np.float64)
    )


def ring_table(world: World, rings: Sequence[tuple[RingPlace, Does]]) -> ChainTable:
    """Rings at their places as chains of a table, with the listed piece beside them; in their order."""
    groups: dict[int, int] = {}
    alike: dict[str, int] = {}
    listed: list[Adapter] = []
    kinds: list[Adapter] = []
    which = []
    for place, does in rings:
        # Many rings do the very same.
        key = id(does)
        if key not in groups:
            groups[key] = alike.setdefault(repr(does), len(kinds))
            if groups[key] == len(kinds):
                kinds.append(made_ring(world, place.front, place.rear, 1.0, does))
        which.append(groups[key])
    places: dict[str, int] = {}
    for place, _ in rings:
        for piece in (place.before, place.behind):
            if piece is not None and piece.id not in places:
                places[piece.id] = len(listed)
                listed.append(piece)
    made = columns(world.structure, [_joint(world.structure.systems, piece) for piece in kinds])
    lengths = np.array([place.length_mm for place, _ in rings], dtype=np.float64)
    beside = columns(world.structure, [_joint(world.structure.systems, piece) for piece in listed])
    steps = put_together(_as_long(made, np.array(which, dtype=np.int64), lengths), beside)
    ring = np.arange(len(rings))
    behind, before = (
        np.array([-1 if piece is None else len(rings) + places[piece.id] for piece in pieces], dtype=np.int64)
        for pieces in ([place.behind for place, _ in rings], [place.before for place, _ in rings])
    )
    order, tables = [], []
    nothing = bare(steps, 0, 0)
    for rows, chain in (
        (np.flatnonzero((behind < 0) & (before < 0)), (ring,)),
        (np.flatnonzero(behind >= 0), (behind, ring)),
        (np.flatnonzero(before >= 0), (ring, before)),
    ):
        table = nothing.of(np.zeros(len(rows), dtype=np.int64))
        for pieces in chain:
            table = in_front(steps, pieces[rows], table)
        order.append(rows)
        tables.append(padded(table, 2))
    return joined(*tables).of(np.argsort(np.concatenate(order)))


@kept(most=4_000)
def _joint(systems: Systems, piece: Adapter) -> tuple[tuple[str, str], Group]:
    mounts = systems.mounts
    return (mounts[piece.lens_mount].joint, mounts[piece.body_mount].joint), group_of([piece])


def _as_long(steps: Steps, which: Ints, lengths_mm: Floats) -> Steps:
    """Plain rings like those of some kinds, each of its own length."""
    groups = tuple([steps.groups[number] for number in which.tolist()])
    made = Steps(groups, steps.interfaces, *[column[which] for column in STEP_ARRAYS_OF(steps)])
    return replace(made, length_mm=lengths_mm, error_mm=lengths_mm)
