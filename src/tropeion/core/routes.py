"""Finding chains of adapters.

Pieces that differ only in name, price and ownership are searched as one group and told apart when a route is looked
at. A piece is used at most as often as it is owned; what is sold, or belongs to the market, is unlimited.
"""

from __future__ import annotations

import itertools
import math
from collections import Counter, deque
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from .gear import Adapter, Body, Lens
from .register import Link
from .world import World

__all__ = ["Chain", "Group", "Path", "copies_of", "expand", "find_chains", "find_paths", "groups_of", "ways"]

UNLIMITED = 1_000_000

# What does not change a judgement: two pieces that agree in all the rest are interchangeable.
_IDENTITY = frozenset(
    {"id", "name", "aliases", "notes", "owned", "price", "evidence", "firmware", "measured_on", "retired"}
)


@dataclass(frozen=True, slots=True, eq=False)
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
    return adapter.owned if adapter.owned and adapter.price is None else UNLIMITED


def groups_of(world: World) -> Mapping[tuple[str, str], tuple[Group, ...]]:
    """The groups, by the interfaces of their lens side and camera side. Retired pieces are left out."""
    return world.kept("groups", lambda: _grouped(world))


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
            grouped[joint] = tuple(_group(members) for members in alike.values())
    return grouped


def _group(members: list[Adapter]) -> Group:
    handy = tuple(sorted(members, key=_handy))
    return Group(handy, Link.of(handy[0]), any(copies_of(member) < UNLIMITED for member in handy))


def _handy(adapter: Adapter) -> tuple[bool, float]:
    return (not adapter.owned, math.inf if adapter.price is None else adapter.price)


@dataclass(frozen=True, slots=True)
class Path:
    """A chain and what it adds up to, built up from the body one piece at a time.

    The register error of a lens in front is R_b + ``adds_mm`` − k²·R_l. ``bores`` are (diameter, distance before the
    body's seat); ``circle_cap_mm`` is the largest circle that its glass passes.
    """

    chain: Chain
    adds_mm: float = 0.0
    k: float = 1.0
    glass: bool = False
    circle_cap_mm: float = math.inf
    slow: bool = False
    tolerance_mm: float = 0.0
    helicoid: bool = False
    silent: bool = False
    controls: bool = False
    costly: bool = False
    length_mm: float = 0.0
    glass_at_mm: float = -math.inf  # the front of the foremost glass, before the body's seat
    bores: tuple[tuple[float, float], ...] = ()

    def _glass_front_mm(self, piece: Adapter, length_mm: float) -> float:
        """Where the glass of a piece in front begins; at the far end of nowhere if that is not known."""
        return -math.inf if piece.front_glass_mm is None else self.length_mm + length_mm - piece.front_glass_mm

    def behind(self, group: Group) -> Path:
        """The same with one more piece in front."""
        link, first, squared = group.link, group.first, self.k**2
        adds = self.adds_mm + squared * link.error_mm
        if link.glass is not None:
            expects, delivers = link.glass
            adds += squared * (link.magnification**2 * expects - delivers)
        # A circle passes the front piece first, and is then scaled by all behind it.
        cap = math.inf if first.image_circle_mm is None else first.image_circle_mm * self.k
        bore, length = first.bore_mm, link.length_mm
        ends = () if bore is None else ((bore, self.length_mm), (bore, self.length_mm + length))
        return Path(
            chain=(group, *self.chain),
            adds_mm=adds,
            k=self.k * link.magnification,
            glass=self.glass or link.glass is not None,
            circle_cap_mm=min(self.circle_cap_mm, cap),
            slow=self.slow or first.widest_f_number is not None,
            tolerance_mm=self.tolerance_mm + link.tolerance_mm,
            helicoid=self.helicoid or link.helicoid_mm > 0,
            silent=self.silent or first.link in {"none", "chip"},
            controls=self.controls or first.aperture_control != "none",
            costly=self.costly or first.irreversible or first.optics == "correcting",
            length_mm=self.length_mm + length,
            glass_at_mm=self.glass_at_mm if link.glass is None else self._glass_front_mm(first, length),
            bores=(*self.bores, *ends),
        )


def paths_between(world: World, front: str, rear: str, most: int) -> tuple[Path, ...]:
    """Every chain of at most ``most`` groups from one interface to another, short ones first.

    Chains for which there are not enough copies are left out.
    """

    def find() -> tuple[Path, ...]:
        reaching = _paths(world, front, rear, most)
        if _scarce(world):
            reaching = [path for path in reaching if ways(path.chain)]
        return tuple(sorted(reaching, key=lambda path: len(path.chain)))

    return world.kept(("paths between", front, rear, most), find)


def _paths(world: World, at: str, rear: str, left: int) -> list[Path]:
    """Every way on from ``at`` with ``left`` pieces; what lies behind a piece is found once and shared."""
    if _distances(world, rear).get(at, left + 1) > left:
        return []

    def find() -> list[Path]:
        paths: list[Path] = [Path(())] if at == rear else []
        if left:
            for onward, group in _outgoing(world).get(at, ()):
                paths += [rest.behind(group) for rest in _paths(world, onward, rear, left - 1)]
        return paths

    return world.kept(("paths", at, rear, left), find)


def _scarce(world: World) -> bool:
    """Whether any piece is there only so many times."""
    every = (group for groups in groups_of(world).values() for group in groups)
    return world.kept("scarce", lambda: (any(group.limited for group in every),))[0]


def _outgoing(world: World) -> Mapping[str, list[tuple[str, Group]]]:

    def find() -> Mapping[str, list[tuple[str, Group]]]:
        made: dict[str, list[tuple[str, Group]]] = {}
        for (front, rear), groups in groups_of(world).items():
            made.setdefault(front, []).extend((rear, group) for group in groups)
        return made

    return world.kept("outgoing", find)


def _distances(world: World, rear: str) -> Mapping[str, int]:
    """The least number of pieces from each interface to ``rear``."""

    def find() -> Mapping[str, int]:
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
        return steps

    return world.kept(("distances", rear), find)


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
            if sum(one is member for one in so_far) < copies_of(member):
                yield from walk(position + 1, (*so_far, member))

    return walk(0, ())


def find_paths(world: World, lens: Lens, body: Body, most: int) -> tuple[Path, ...]:
    """Every chain of groups that mates at every joint from this lens to this body, with what it adds up to."""
    return paths_between(world, world.mounts[lens.mount].interface, world.mounts[body.mount].interface, most)


def find_chains(world: World, lens: Lens, body: Body, most: int) -> tuple[Chain, ...]:
    """Every chain of groups that mates at every joint from this lens to this body."""
    return tuple(path.chain for path in find_paths(world, lens, body, most))
