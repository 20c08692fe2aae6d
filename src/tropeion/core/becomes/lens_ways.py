"""The ways from lenses to bodies that make different lenses of them: without glass, and through each kind of it.

For each kind of glass the best chain, and among equals the one that is at hand, then the cheaper, then the shorter.
Chains with more than one piece of glass count only where there are no others.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from tropeion.core.findings import rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import Structure, World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import Assembly, price_of, to_buy
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.routes.along import chains_along
from tropeion.core.routes.bounds import Limits, bounds_of
from tropeion.core.routes.chain_table import UNKNOWN_PRICE, ChainTable
from tropeion.core.routes.chains import Group
from tropeion.core.routes.pair_columns import pairs_of
from tropeion.core.routes.promising import MOST_JUDGED
from tropeion.core.routes.standings import StandingGrade, standing_of
from tropeion.core.routes.table import table_between


@frozen
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
def _kinds(structure: Structure, front: str, rear: str, most: int) -> tuple[list[int], ...]:
    """The chains between two interfaces by their glass, each kind with the handiest chain first."""
    table = table_between(structure, front, rear, most)
    all_kinds: dict[tuple[_Glass, ...], list[int]] = {}
    glass = {number: _glass_of(table.groups[number]) for number in np.unique(table.numbers).tolist() if number >= 0}
    # A last one for the padding.
    holds = np.zeros(len(table.groups) + 1, dtype=np.bool_)
    holds[[number for number, kind in glass.items() if kind is not None]] = True
    seen = holds[table.numbers].any(axis=1)
    if not seen.all():
        all_kinds[()] = np.flatnonzero(~seen).tolist()
    for row in np.flatnonzero(seen).tolist():
        glasses = tuple(kind for number in table.numbers[row].tolist() if number >= 0 and (kind := glass[number]))
        all_kinds.setdefault(glasses, []).append(row)
    few = {glasses: rows for glasses, rows in all_kinds.items() if len(glasses) <= 1} or all_kinds
    # A second copy of a piece that is at hand once is not.
    to_buy_, price = table.to_buy.copy(), table.price.copy()
    ordered = np.sort(table.numbers, axis=1)
    for row in np.flatnonzero(((ordered[:, 1:] == ordered[:, :-1]) & (ordered[:, 1:] >= 0)).any(axis=1)).tolist():
        pieces = table.adapters(row)
        known = price_of(pieces)
        to_buy_[row], price[row] = bool(to_buy(pieces)), UNKNOWN_PRICE if known is None else known
    order = np.lexsort((table.pieces, np.minimum(price, UNKNOWN_PRICE), to_buy_))
    place = np.empty_like(order)
    place[order] = np.arange(len(order))
    rows_of = {glasses: np.array(rows, dtype=np.int64) for glasses, rows in sorted(few.items(), key=_plain_first)}
    return tuple(rows[np.argsort(place[rows])].tolist() for rows in rows_of.values())


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
    pairs = [(lens, body) for lens in lenses for body in bodies]
    ways: dict[tuple[str, str], tuple[LensWay, ...]] = {(lens.id, body.id): () for lens, body in pairs}
    if not pairs:
        return ways
    most = int(practice.pieces)
    ends = [(world.mount_of(lens).joint, world.mount_of(body).joint) for lens, body in pairs]
    columns = pairs_of(world, pairs, practice)
    for table, of in chains_along(world.structure, ends, most):
        chances = _Chances.of(table, bounds_of(table, columns.along(of)))
        for start in np.flatnonzero(np.diff(of, prepend=-1)).tolist():
            place = int(of[start])
            lens, body = pairs[place]
            kinds = _kinds(world.structure, *ends[place], most)
            chosen = tuple([_best(world, lens, body, practice, chances, start, rows) for rows in kinds])
            ways[lens.id, body.id] = _without_the_like(chosen)
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


@frozen
class _Chances:
    """What bounds each row of a table, whether it comes to that, and whether only a judgement tells how good it is."""

    table: ChainTable
    bounds: list[int]
    told: list[bool]
    uncertain: list[bool]

    @classmethod
    def of(cls, table: ChainTable, limits: Limits) -> _Chances:
        shared = limits.bounds == _SHARED
        told = limits.sure & (limits.wide | ~shared)
        return cls(table, limits.bounds.tolist(), told.tolist(), (shared & ~told).tolist())

    def in_turn(self, rows: Sequence[int]) -> Iterator[int]:
        """Some rows, the most promising first, then in their order: who stops early looks at the best alone."""
        bounds = [self.bounds[row] for row in rows]
        for bound in sorted(set(bounds), reverse=True):
            equal = [row for row, own in zip(rows, bounds, strict=True) if own == bound]
            yield from sorted(equal, key=self.uncertain.__getitem__) if bound == _SHARED else equal


def _best(
    world: World, lens: Lens, body: Body, practice: Practice, chances: _Chances, start: int, rows: Sequence[int]
) -> LensWay:
    """The best of the chains of one kind, of the pair whose rows begin at ``start``; the first of them among equals.

    A grade that a late infinity and a small circle share is no better for being cheap: there, one that is surely well
    within its window is taken, else of the first few equals the one that reaches infinity at the widest stop.
    """
    best: LensWay | None = None
    earliest, looked = math.inf, 0
    for index in itertools.islice(chances.in_turn([row + start for row in rows]), MOST_JUDGED):
        bound = StandingGrade(2 * chances.bounds[index])
        equal = best is not None and best.standing == bound
        if best is not None and (best.standing > bound or (equal and chances.bounds[index] != _SHARED)):
            break
        if equal and (looked >= MOST_EQUALS or earliest <= lens.f_number[0]):
            break
        pieces = chances.table.adapters(index)
        if chances.told[index]:
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
