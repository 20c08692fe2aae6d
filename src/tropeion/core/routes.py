"""Finding chains of adapters.

Pieces that differ only in name, price and ownership are searched as one group and told apart when a route is looked
at. A piece is used at most as often as it is owned; what is sold, or belongs to the market, is unlimited.
"""

from __future__ import annotations

import math
from collections import Counter, deque
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from .gear import Adapter, Body, Lens
from .world import World

__all__ = ["Chain", "Group", "chains_between", "copies_of", "expand", "find_chains", "groups_of"]

UNLIMITED = 1_000_000

# What does not change a judgement: two pieces that agree in all the rest are interchangeable.
_IDENTITY = frozenset(
    {"id", "name", "aliases", "notes", "owned", "price", "evidence", "firmware", "measured_on", "retired"}
)


@dataclass(frozen=True, slots=True, eq=False)
class Group:
    """Interchangeable pieces, the owned and the cheap ones first."""

    members: tuple[Adapter, ...]

    @property
    def first(self) -> Adapter:
        return self.members[0]


Chain = tuple[Group, ...]


def copies_of(adapter: Adapter) -> int:
    """How often a piece may be used: as often as it is owned, unless the market has more of it."""
    return adapter.owned if adapter.owned and adapter.price is None else UNLIMITED


def groups_of(world: World) -> Mapping[tuple[str, str], tuple[Group, ...]]:
    """The groups, by the interfaces of their lens side and camera side. Retired pieces are left out."""
    found = world.cache.get("groups")
    if found is None:
        found = world.cache["groups"] = _grouped(world)
    return cast("Mapping[tuple[str, str], tuple[Group, ...]]", found)


def _grouped(world: World) -> Mapping[tuple[str, str], tuple[Group, ...]]:
    excluded = {entry.adapter for lens in world.gear.lenses for entry in lens.not_on}
    grouped: dict[tuple[str, str], tuple[Group, ...]] = {}
    for joint, adapters in world.adapters_by_joints.items():
        alike: dict[str, list[Adapter]] = {}
        for adapter in adapters:
            if adapter.retired:
                continue
            # A lens's maker may exclude one piece by its id: that one is like no other.
            own = adapter.id if adapter.id in excluded else ""
            key = own + adapter.model_dump_json(exclude=set(_IDENTITY))
            alike.setdefault(key, []).append(adapter)
        if alike:
            grouped[joint] = tuple(Group(tuple(sorted(members, key=_handy))) for members in alike.values())
    return grouped


def _handy(adapter: Adapter) -> tuple[bool, float]:
    return (not adapter.owned, math.inf if adapter.price is None else adapter.price)


def chains_between(world: World, front: str, rear: str, most: int) -> tuple[Chain, ...]:
    """Every chain of at most ``most`` groups from one interface to another, short ones first.

    Chains for which there are not enough copies are left out.
    """
    key = f"chains {front} {rear} {most}"
    found = world.cache.get(key)
    if found is None:
        found = world.cache[key] = tuple(sorted(_walk(world, front, rear, most), key=len))
    return cast("tuple[Chain, ...]", found)


def _walk(world: World, front: str, rear: str, most: int) -> Iterator[Chain]:
    """Depth first, never into a branch from which the rear is out of reach with the pieces left."""
    outgoing = _outgoing(world)
    distance = _distances(world, rear)

    def walk(at: str, so_far: Chain) -> Iterator[Chain]:
        if at == rear:
            yield so_far
        left = most - len(so_far)
        for onward, group in outgoing.get(at, ()):
            if distance.get(onward, most) < left:
                chain = (*so_far, group)
                if ways(chain):
                    yield from walk(onward, chain)

    if distance.get(front, most + 1) <= most:
        yield from walk(front, ())


def _outgoing(world: World) -> Mapping[str, list[tuple[str, Group]]]:
    found = world.cache.get("outgoing")
    if found is None:
        made: dict[str, list[tuple[str, Group]]] = {}
        for (front, rear), groups in groups_of(world).items():
            made.setdefault(front, []).extend((rear, group) for group in groups)
        found = world.cache["outgoing"] = made
    return cast("Mapping[str, list[tuple[str, Group]]]", found)


def _distances(world: World, rear: str) -> Mapping[str, int]:
    """The least number of pieces from each interface to ``rear``."""
    found = world.cache.get(f"distances {rear}")
    if found is None:
        into: dict[str, list[str]] = {}
        for front, behind in groups_of(world):
            into.setdefault(behind, []).append(front)
        steps = {rear: 0}
        queue = deque([rear])
        while queue:
            at = queue.popleft()
            for front in into.get(at, ()):
                if front not in steps:
                    steps[front] = steps[at] + 1
                    queue.append(front)
        found = world.cache[f"distances {rear}"] = steps
    return cast("Mapping[str, int]", found)


def ways(chain: Chain) -> int:
    """How many concrete chains a chain of groups stands for, each piece used at most as often as there are copies."""
    total = 1
    for group, uses in Counter(chain).items():
        total *= _assignments([copies_of(member) for member in group.members], uses)
    return total


def _assignments(copies: Sequence[int], uses: int) -> int:
    """Sequences of ``uses`` members in which member i stands at most ``copies[i]`` times."""
    if min(copies) >= uses:
        return int(len(copies) ** uses)
    # Exponential generating function, kept whole by binomials.
    counts = [1] + [0] * uses
    for limit in copies:
        counts = [sum(math.comb(n, k) * counts[n - k] for k in range(min(limit, n) + 1)) for n in range(uses + 1)]
    return counts[uses]


def expand(chain: Chain) -> Iterator[tuple[Adapter, ...]]:
    """The concrete chains of a chain of groups, the handiest first."""

    def walk(position: int, so_far: tuple[Adapter, ...]) -> Iterator[tuple[Adapter, ...]]:
        if position == len(chain):
            yield so_far
            return
        for member in chain[position].members:
            if sum(one is member for one in so_far) < copies_of(member):
                yield from walk(position + 1, (*so_far, member))

    return walk(0, ())


def find_chains(world: World, lens: Lens, body: Body, most: int) -> tuple[Chain, ...]:
    """Every chain of groups that mates at every joint from this lens to this body."""
    return chains_between(world, world.mounts[lens.mount].interface, world.mounts[body.mount].interface, most)
