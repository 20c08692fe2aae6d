"""Chains of adapters: groups of interchangeable pieces, and how many chains of pieces they stand for.

Pieces that differ only in name, price and ownership are searched as one group and told apart when a route is looked
at. A piece is used at most as often as it is owned; what is sold, or belongs to the market, is unlimited.
"""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Hashable, Iterator, Mapping, Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.agreeing import all_but
from tropeion.core.gear.items import UNJUDGED
from tropeion.core.gear.world import Structure
from tropeion.core.keeping import kept
from tropeion.core.optics.seats import Link

UNLIMITED = 1_000_000


@frozen(eq=False)
class Group:
    """Interchangeable pieces, the owned and the cheap ones first; ``limited`` where some are few."""

    members: tuple[Adapter, ...]
    link: Link
    limited: bool

    @property
    def first(self) -> Adapter:
        return self.members[0]


Chain = tuple[Group, ...]


def copies_of(adapter: Adapter) -> int:
    """How often a piece may be used: as often as it is owned, unless the market has more of it."""
    return adapter.at_hand if adapter.at_hand and adapter.price is None else UNLIMITED


@kept(most=1)
def groups_of(structure: Structure) -> Mapping[tuple[str, str], Mapping[Hashable, Group]]:
    """The groups, by the interfaces of their lens side and camera side, and by :func:`likeness`.

    Retired pieces are left out.
    """
    grouped: dict[tuple[str, str], dict[Hashable, Group]] = {}
    for joint, adapters in structure.adapters_by_joints.items():
        alike: dict[Hashable, list[Adapter]] = {}
        for adapter in adapters:
            if not adapter.retired:
                alike.setdefault(likeness(structure, adapter), []).append(adapter)
        if alike:
            grouped[joint] = {key: group_of(members) for key, members in alike.items()}
    return grouped


def likeness(structure: Structure, adapter: Adapter) -> Hashable:
    """What interchangeable pieces have in common. One that a lens's maker excludes by its id is like no other."""
    return adapter.id if adapter.id in structure.excluded else all_but(adapter, UNJUDGED)


def group_of(members: Sequence[Adapter]) -> Group:
    """A group of pieces that are alike, in the order of the collection."""
    handy = tuple(sorted(members, key=_handy))
    return Group(handy, Link.of(handy[0]), any(copies_of(member) < UNLIMITED for member in handy))


def _handy(adapter: Adapter) -> tuple[bool, float]:
    return (not adapter.at_hand, math.inf if adapter.price is None else adapter.price)


def ways(chain: Chain) -> int:
    """How many concrete chains a chain of groups stands for, each piece used at most as often as there are copies."""
    if not any(group.limited for group in chain):
        return math.prod(len(group.members) for group in chain)
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
    if not any(group.limited for group in chain):
        return itertools.product(*(group.members for group in chain))

    def walk(position: int, so_far: tuple[Adapter, ...]) -> Iterator[tuple[Adapter, ...]]:
        if position == len(chain):
            yield so_far
            return
        for member in chain[position].members:
            if sum(adapter is member for adapter in so_far) < copies_of(member):
                yield from walk(position + 1, (*so_far, member))

    return walk(0, ())
