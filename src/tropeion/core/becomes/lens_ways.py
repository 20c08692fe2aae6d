"""The ways from lenses to bodies that make different lenses of them: without glass, and through each kind of it.

For each kind of glass the best chain, and among equals the one that is at hand, then the cheaper, then the shorter.
Chains with more than one piece of glass count only where there are no others.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tropeion.core.findings import rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import Structure, World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import Assembly, price_of, to_buy
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.routes.bounds import bounds_of, pairs_of
from tropeion.core.routes.chain_table import Bools, ChainTable, Ints
from tropeion.core.routes.chains import Group
from tropeion.core.routes.promising import MOST_JUDGED
from tropeion.core.routes.standings import StandingGrade, standing_of
from tropeion.core.routes.table import table_between


@dataclass(frozen=True, slots=True)
class LensWay:
    """A lens on a body through adapters, lens first, and how well that stands; ``rig`` where it is put together."""

    lens: Lens
    body: Body
    adapters: tuple[Adapter, ...]
    standing: StandingGrade
    rig: Assembly | None = None

    @property
    def magnification(self) -> float:
        return math.prod(adapter.magnification for adapter in self.adapters)

    def gives_views(self, practice: Practice) -> bool:
        """Whether it takes the pictures it is meant for: one that only works close up, where close-up is meant."""
        return self.standing.works and (self.standing.grade != "close_up" or practice.purpose == "close_up")

    @property
    def to_buy(self) -> tuple[Adapter, ...]:
        return to_buy(self.adapters)


# What glass does to a picture: magnification, widest f-number, circle; unknown is None.
_Glass = tuple[float, float | None, float | None]


def _glass_of(group: Group) -> _Glass | None:
    if group.link.glass is None and group.link.magnification == 1:
        return None
    first = group.first
    return first.magnification, first.widest_f_number, first.image_circle_mm


@kept(most=4_000)
def _kinds(structure: Structure, front: str, rear: str, most: int) -> tuple[Ints, ...]:
    """The chains between two interfaces by their glass, each kind with the handiest chain first."""
    table = table_between(structure, front, rear, most)
    all_kinds: dict[tuple[_Glass, ...], list[int]] = {}
    for row in range(len(table)):
        glasses = tuple(kinds for group in table.chain(row) if (kinds := _glass_of(group)) is not None)
        all_kinds.setdefault(glasses, []).append(row)
    few = {glasses: rows for glasses, rows in all_kinds.items() if len(glasses) <= 1} or all_kinds

    def handy(row: int) -> tuple[bool, float, int]:
        pieces = table.adapters(row)
        price = price_of(pieces)
        return bool(to_buy(pieces)), math.inf if price is None else price, len(pieces)

    return tuple(np.array(sorted(rows, key=handy), dtype=np.int64) for _, rows in sorted(few.items(), key=_plain_first))


def _plain_first(kind: tuple[tuple[_Glass, ...], list[int]]) -> tuple[float, ...]:
    """No glass, then the strongest reducer, expanders last."""
    glasses, rows = kind
    return len(glasses), math.prod(k for k, _, _ in glasses), rows[0]


def ways_of(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], tuple[LensWay, ...]]:
    """The ways of every pair, by (lens id, body id), without glass first; none where nothing joins them."""
    return _ways(world, tuple(lens.id for lens in lenses), tuple(body.id for body in bodies), practice)


@kept(most=200)
def _ways(
    world: World, lens_ids: tuple[str, ...], body_ids: tuple[str, ...], practice: Practice
) -> Mapping[tuple[str, str], tuple[LensWay, ...]]:
    lenses, bodies = [world.lens(id_) for id_ in lens_ids], [world.body(id_) for id_ in body_ids]
    meeting: dict[tuple[str, str], list[tuple[Lens, Body]]] = {}
    for lens in lenses:
        for body in bodies:
            meeting.setdefault((world.mount_of(lens).joint, world.mount_of(body).joint), []).append((lens, body))
    ways: dict[tuple[str, str], tuple[LensWay, ...]] = {}
    most = int(practice.pieces)
    for (front, rear), pairs in meeting.items():
        table = table_between(world.structure, front, rear, most)
        kinds = _kinds(world.structure, front, rear, most) if len(table) else ()
        if not kinds:
            ways.update({(lens.id, body.id): () for lens, body in pairs})
            continue
        bounds, sure, _ = bounds_of(table, pairs_of(world, pairs, practice))
        for row, (lens, body) in enumerate(pairs):
            chosen = (_best(world, lens, body, practice, table, rows, bounds[row], sure[row]) for rows in kinds)
            ways[lens.id, body.id] = _without_the_like(tuple(chosen))
    return ways


# Glass of which the magnifications differ by less than this share makes the same lens of a lens.
ALIKE_GLASS = 0.05


def _without_the_like(ways: tuple[LensWay, ...]) -> tuple[LensWay, ...]:
    """Without ways through glass that another does as well with fewer pieces, or as many."""

    def beaten(place: int, way: LensWay) -> bool:
        return any(
            abs(other.magnification / way.magnification - 1) <= ALIKE_GLASS
            and other.standing >= way.standing
            and (len(other.adapters), number) < (len(way.adapters), place)
            and len(other.to_buy) <= len(way.to_buy)
            for number, other in enumerate(ways)
            if number != place and other.magnification != 1
        )

    return tuple(way for place, way in enumerate(ways) if way.magnification == 1 or not beaten(place, way))


def _best(
    world: World, lens: Lens, body: Body, practice: Practice, table: ChainTable, rows: Ints, bounds: Ints, sure: Bools
) -> LensWay:
    """The best of the chains of one kind; the first of them among equals.

    A grade that a late infinity and a small circle share is no better for being cheap: there, one that is surely well
    within its window is taken, else of the first few equals the one that reaches infinity at the widest stop.
    """
    limits, certain = bounds[rows], sure[rows]
    shared = limits == _SHARED
    best: LensWay | None = None
    earliest, looked = math.inf, 0
    for index in rows[np.lexsort((shared & ~certain, -limits))][:MOST_JUDGED]:
        bound = StandingGrade(2 * int(bounds[index]))
        equal = best is not None and best.standing == bound
        if best is not None and (best.standing > bound or (equal and bounds[index] != _SHARED)):
            break
        if equal and (looked >= MOST_EQUALS or earliest <= lens.f_number[0]):
            break
        pieces = table.adapters(int(index))
        if sure[index]:
            return LensWay(lens, body, pieces, bound)
        judged = assess(world, lens, pieces, body, practice)
        way, late = LensWay(lens, body, pieces, standing_of(judged), judged.rig), _late(judged)
        looked += equal
        if best is None or way.standing > best.standing or (way.standing == best.standing and late < earliest):
            best, earliest = way, late
    assert best is not None
    return best


# At most this many chains of one grade are looked at, the handiest first.
MOST_EQUALS = 6
# Several faults lead to this grade, some of them worse for a picture than others.
_SHARED = rank("partial")


def _late(judged: Assessment) -> float:
    """From which stop infinity is sharp at the later end of a zoom; endless where it never is, or nobody knows."""
    stops = [end.infinity.from_f_number for end in judged.ends]
    known = [stop for stop in stops if stop is not None]
    return max(known) if len(known) == len(stops) else math.inf
