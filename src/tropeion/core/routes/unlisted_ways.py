"""The ring that is not listed and that would do: judged like any other, marked as not listed, and without a price.

Where a ring from the lens to the body would not do by itself, one beside a single listed piece may. Rings are bounded
before any is judged, those of all pairs at once; what would be no better than what is listed is not looked at.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cache, partial
from typing import NamedTuple

import numpy as np

from tropeion.core import findings
from tropeion.core.findings import Grade, rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import is_unlisted
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.usual import taken_body, taken_for, taken_in
from tropeion.core.gear.world import Systems, World
from tropeion.core.keeping import kept
from tropeion.core.optics.seats import Seat, seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.rig.unlisted import RingWanted, kinds_for, made_ring, wanted_of
from tropeion.core.working import tidy

from .bounds import bounds_of
from .judging import judging_of
from .pair_columns import pairs_of
from .ring_table import Does, RingPlace, beside_of, ring_table
from .standings import NOTHING, StandingGrade, level_of

# So many places beside listed pieces are tried, those at hand first.
_MOST_BESIDE = 8
_MANUAL, _FULL = rank("manual"), rank("full")


@frozen
class Unlisted:
    """A pair with a ring in its chain that is not listed, judged; ``practical`` is None where its room is not known."""

    judged: Assessment
    practical: bool | None

    @property
    def chain(self) -> tuple[Adapter, ...]:
        """The pieces, lens first."""
        return self.judged.rig.adapters

    @property
    def grade(self) -> Grade:
        return self.judged.grade

    @property
    def surely(self) -> bool:
        return not self.judged.unsure

    @property
    def tolerance_mm(self) -> float:
        """What the ring may be too long or too short so that infinity is sharp at the widest aperture.

        Half the depth of focus there, less what the two mounts may be off by.
        """
        rig = self.judged.rig
        widest = min(end.f_number for end in self.judged.ends)
        ends = seat_of(rig.lens, rig.stack.lens_mount), seat_of(rig.body, rig.stack.body_mount)
        return tidy(max(0.0, widest * rig.blur_mm - sum(end.tolerance_mm for end in ends)))

    @property
    def ring(self) -> Adapter:
        return next(adapter for adapter in self.chain if is_unlisted(adapter.id))

    @property
    def works(self) -> bool:
        """Whether it takes pictures, surely."""
        return self.surely and findings.works(self.grade)

    @property
    def ids(self) -> tuple[str, ...]:
        """The chain by its ids, lens first."""
        return tuple(adapter.id for adapter in self.chain)


@frozen
class Listed:
    """A lens and a body, and how well they stand by what is listed.

    ``not_alone``: it is known that no ring by itself does, so that only one beside a listed piece may.
    """

    lens: Lens
    body: Body
    standing: StandingGrade
    not_alone: bool = False


def unlisted_if_better(
    world: World, lens: Lens, body: Body, listed: StandingGrade, practice: Practice
) -> Unlisted | None:
    """The ring that is not listed, where no listed way is as good as what it comes to."""
    (way,) = _better(world, [Listed(lens, body, listed)], practice)
    return None if way is None else _told(world, lens, body, practice, way)


@frozen
class UnlistedGrade:
    """What a ring that is not listed comes to, and whether it stands there ``alone``; None: none is better."""

    grade: Grade | None
    alone: bool


def unlisted_grades(world: World, wanted: Sequence[Listed], practice: Practice) -> list[UnlistedGrade]:
    """The grades of these, for many pairs, where they are better than what is listed."""
    return [
        _NONE if way is None else UnlistedGrade(way.grade, way.place.alone) for way in _better(world, wanted, practice)
    ]


_NONE = UnlistedGrade(None, alone=False)


def unlisted_for(world: World, lens: Lens, body: Body, practice: Practice) -> Unlisted | None:
    """The ring that would do for a pair and comes to the best, the plainest of these; None where none can be made.

    It is told although a listed way may be as good. A ring alone comes before one beside a listed piece.
    """
    (found,) = unlisted_for_each(world, [(lens, body)], practice)
    return found


def unlisted_for_each(
    world: World, pairs: Sequence[tuple[Lens, Body]], practice: Practice
) -> Iterator[Unlisted | None]:
    """The same of many pairs."""
    search = _Search(world, practice)
    wanted = [Listed(lens, body, NOTHING) for lens, body in pairs]
    alone = search.alone(wanted)
    more = [place for place, way in enumerate(alone) if way is None or not way.works]
    ways = list(alone)
    for place, beside in zip(more, search.beside([wanted[place] for place in more]), strict=True):
        ways[place] = beside or alone[place]
    for (lens, body), way in zip(pairs, ways, strict=True):
        yield None if way is None else _told(world, lens, body, practice, way)


def _told(world: World, lens: Lens, body: Body, practice: Practice, way: _Way) -> Unlisted:
    judged = assess(world, lens, way.chain(world), body, practice)
    return Unlisted(judged, way.place.practical(world, opens=wanted_of(taken_for(world, lens)).opens))


def _better(world: World, wanted: Sequence[Listed], practice: Practice) -> list[_Way | None]:
    """The rings that are better than what is listed, by the place of their pair."""
    search = _Search(world, practice)
    found: list[_Way | None] = [None] * len(wanted)
    open_ = [place for place, one in enumerate(wanted) if search.may_better(one)]
    first = [place for place in open_ if not wanted[place].not_alone]
    alone = dict(zip(first, search.alone([wanted[place] for place in first]), strict=True))
    for place, way in alone.items():
        if way is not None and way.works and way.level > wanted[place].standing.level:
            found[place] = way
    open_ = [
        place
        for place in open_
        if not wanted[place].standing.works and not ((way := alone.get(place)) is not None and way.works)
    ]
    for place, way in zip(open_, search.beside([wanted[place] for place in open_]), strict=True):
        if way is not None and way.level > wanted[place].standing.level:
            found[place] = way
    return found


@frozen
class _Way:
    """A ring at its place, what it does besides, and what it comes to."""

    place: RingPlace
    does: Does
    rank: int
    surely: bool

    @property
    def grade(self) -> Grade:
        return findings.GRADES[self.rank]

    @property
    def level(self) -> int:
        return level_of(self.grade, surely=self.surely)

    @property
    def works(self) -> bool:
        return self.surely and findings.works(self.grade)

    def chain(self, world: World) -> tuple[Adapter, ...]:
        ring = made_ring(world, self.place.front, self.place.rear, self.place.length_mm, self.does)
        return self.place.chain(ring)


@frozen
class _BeforeRing:
    """What of a lens a ring has to do with."""

    mount: Mount
    seat: Seat
    wanted: RingWanted


@frozen
class _BehindRing:
    """What of a body a ring has to do with; ``heard`` are its protocols."""

    mount: Mount
    seat: Seat
    heard: tuple[str, ...]


class _Gap(NamedTuple):
    """What decides where rings can stand: the mounts before and behind them, and how far from the sensor these are.

    None: not known. ``opens``: a helicoid has to open in it.
    """

    front: str
    rear: str
    lens_mm: float | None
    body_mm: float | None
    opens: bool


@kept(most=10_000)
def _before_ring(systems: Systems, lens: Lens) -> _BeforeRing:
    mount = systems.mounts[lens.mount or ""]
    return _BeforeRing(mount, seat_of(lens, mount), wanted_of(taken_in(systems, lens)))


class _Search:
    """Looks for rings for many pairs, by one practice."""

    def __init__(self, world: World, practice: Practice) -> None:
        self._world, self._practice = world, practice
        self._judging = judging_of(world, practice)
        # Ends are looked at once, whatever they are paired with.
        self._front = cache(self._front_of)
        self._rear = cache(self._rear_of)
        self._kinds = cache(self._kinds_for)
        self._rings: dict[str, int] = {}
        # Lenses of one mount, on bodies of one, want rings at the same places.
        self._alone = cache(self._between)
        self._beside = cache(self._places)

    def _front_of(self, lens_id: str) -> _BeforeRing:
        lens = self._world.lenses[lens_id]
        self._world.mount_of(lens)
        return _before_ring(self._world.structure.systems, lens)

    def _rear_of(self, body_id: str) -> _BehindRing:
        body = self._world.bodies[body_id]
        mount = self._world.mount_of(body)
        return _BehindRing(mount, seat_of(body, mount), taken_body(self._world, body).protocols)

    def _kinds_for(self, wanted: RingWanted, heard: tuple[str, ...]) -> tuple[tuple[Does, ...], int]:
        kinds = kinds_for(self._world, wanted, heard)
        return kinds, _MANUAL if all("link" not in does for does in kinds) else _FULL

    def may_better(self, one: Listed) -> bool:
        """Whether a ring could come to more than what is listed, by whether it can speak for the lens."""
        level = one.standing.level
        if not 2 * _MANUAL <= level < 2 * _FULL:
            return level < 2 * _MANUAL
        return level < 2 * self._kinds(self._front(one.lens.id).wanted, self._rear(one.body.id).heard)[1]

    def alone(self, wanted: Sequence[Listed]) -> list[_Way | None]:
        """For each pair the ring between its own mounts that comes to the best; None where there is no room, or where
        none can be better than what is listed.
        """
        ways = self._best(wanted, [self._alone(self._gap(one)) for one in wanted])
        return [next(iter(some), None) for some in ways]

    def beside(self, wanted: Sequence[Listed]) -> list[_Way | None]:
        """For each pair the best that works with a ring before or behind one listed piece, of those tried."""
        best: list[_Way | None] = []
        places = [self._beside(self._gap(one)) for one in wanted]
        for ways in self._best(wanted, places, only_working=True):
            best.append(max(ways, key=lambda way: way.rank, default=None))
        return best

    def _does(self, one: Listed) -> tuple[Does, ...]:
        return self._kinds(self._front(one.lens.id).wanted, self._rear(one.body.id).heard)[0]

    def _gap(self, one: Listed) -> _Gap:
        front, rear = self._front(one.lens.id), self._rear(one.body.id)
        mm = front.seat.register_mm if front.seat.known else None, rear.seat.register_mm if rear.seat.known else None
        return _Gap(front.mount.id, rear.mount.id, *mm, opens=front.wanted.opens)

    def _between(self, gap: _Gap) -> Sequence[RingPlace]:
        """Where a ring alone could stand."""
        if gap.lens_mm is None or gap.body_mm is None:
            return []
        mounts = self._world.mounts
        place = RingPlace(mounts[gap.front], mounts[gap.rear], tidy(gap.lens_mm - gap.body_mm))
        return [] if place.practical(self._world, opens=gap.opens) is False else [place]

    def _places(self, gap: _Gap) -> Sequence[RingPlace]:
        """Where a ring could stand beside one listed piece, as long as infinity wants it; those at hand first."""
        world = self._world
        front, rear = world.mounts[gap.front], world.mounts[gap.rear]
        if gap.lens_mm is None or gap.body_mm is None:
            return []
        behind, before = beside_of(world.structure, rear.joint, 0), beside_of(world.structure, front.joint, 1)
        sides = (
            (behind, gap.lens_mm - (gap.body_mm + behind.adds_mm) / behind.squared),
            (before, before.squared * gap.lens_mm - gap.body_mm - before.adds_mm),
        )
        # Those at hand first, then in the order of the collection.
        found = sorted(
            (beside.to_buy[number], beside.order[number], side, number, float(lengths[number]))
            for side, (beside, lengths) in enumerate(sides)
            for number in np.flatnonzero(lengths > 0).tolist()
        )
        places: list[RingPlace] = []
        for *_, side, number, length in found:
            adapter = sides[side][0].adapters[number]
            if side:
                place = RingPlace(world.mounts[adapter.body_mount], rear, tidy(length), before=adapter)
            else:
                place = RingPlace(front, world.mounts[adapter.lens_mount], tidy(length), behind=adapter)
            if place.practical(world, opens=gap.opens) is not False:
                places.append(place)
                if len(places) == _MOST_BESIDE:
                    break
        return places

    def _best(
        self, wanted: Sequence[Listed], places: Sequence[Sequence[RingPlace]], *, only_working: bool = False
    ) -> list[list[_Way]]:
        """The plainest ring that comes to the best at each place of each pair, where that may be better than the rest.

        With ``only_working`` those that surely work, and are better than what another place comes to.
        """
        # Pairs with the same room between them want the same rings: these are made once.
        rings: list[tuple[RingPlace, Does]] = []
        stretches: dict[tuple[int, int], range] = {}
        rows: list[int] = []
        of: list[int] = []
        for number, one in enumerate(wanted):
            kinds = self._does(one)
            key = id(places[number]), id(kinds)
            if key not in stretches:
                first = len(rings)
                rings += [(place, does) for place in places[number] for does in kinds]
                stretches[key] = range(first, len(rings))
            rows += stretches[key]
            of += [number] * len(stretches[key])
        if not rows:
            return [[] for _ in wanted]
        table = ring_table(self._world, rings).of(np.array(rows, dtype=np.int64))
        pairs = pairs_of(self._world, [(one.lens, one.body) for one in wanted], self._practice)
        found = bounds_of(table, pairs.along(np.array(of, dtype=np.int64)))
        columns = (column.tolist() for column in (found.bounds, found.sure, found.contacts))
        limits = list(zip(*columns, strict=True))
        ways: list[list[_Way]] = []
        start = 0
        for number, one in enumerate(wanted):
            mine: list[_Way] = []
            for place in places[number]:
                kinds = self._does(one)
                some = limits[start : start + len(kinds)]
                start += len(kinds)
                least = max([one.standing.level + 1, *(2 * way.rank + 1 for way in mine if only_working)])
                if 2 * max(bound for bound, *_ in some) < least:
                    continue
                way = self._plainest_best(one, place, kinds, some)
                if way.works or not only_working:
                    mine.append(way)
            ways.append(mine)
        return ways

    def _kinds_of(self, way: _Way) -> list[int]:
        """The pieces of a way as :meth:`Judging.kind_of` tells them, lens first."""
        key = repr(way.does)
        if key not in self._rings:
            ring = made_ring(self._world, way.place.front, way.place.rear, 1.0, way.does)
            self._rings[key] = self._judging.kind_of(ring)
        before, behind = way.place.before, way.place.behind
        kind_of = self._judging.kind_of
        return [*([kind_of(before)] if before else []), self._rings[key], *([kind_of(behind)] if behind else [])]

    def _plainest_best(
        self, one: Listed, place: RingPlace, kinds: Sequence[Does], limits: Sequence[tuple[int, bool, int]]
    ) -> _Way:
        best: _Way | None = None
        # What speaks for the lens comes to more than any that does not, if it comes to more at all.
        for does, (bound, sure, contacts) in reversed(list(zip(kinds, limits, strict=True))):
            if best is not None and bound < best.rank:
                continue
            way = _Way(place, does, bound, surely=True)
            if not sure:
                kinds_of = self._kinds_of(way) if contacts else None
                standing = self._judging.standing(
                    one.lens, one.body, partial(way.chain, self._world), (bound, contacts), kinds_of
                )
                assert standing.grade is not None
                way = replace(way, rank=rank(standing.grade), surely=standing.surely)
            if best is None or way.rank >= best.rank:
                best = way
        assert best is not None, "there is a plain ring at least"
        return best
