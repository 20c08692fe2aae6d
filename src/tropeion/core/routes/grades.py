"""Best grades of many pairs, without their reports.

Each chain is first bounded by what its lengths and contacts still allow, all chains of all pairs at once; only chains
that could better the best found so far are assessed.
"""

from __future__ import annotations

import itertools
from collections.abc import Collection, Iterator, Mapping, Sequence

import numpy as np

from tropeion.core.asking import go_on
from tropeion.core.findings import GRADES, Grade, rank, works
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import those_as_before
from tropeion.core.gear.world import Structure, World, changed_between
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import cautions_of, says_all_of_its_rear

from .along import chains_along, chains_among
from .bounds import Limits, bounds_of, ceilings_in, ceilings_of, may_come_to
from .chain_table import Bools, ChainTable, Ints, interfaces_of
from .judging import Judging, judging_of
from .loads import hidden_in, overloaded_in
from .pair_columns import Pairs, pairs_of
from .promising import MOST_JUDGED, in_turn
from .standings import NOTHING, StandingGrade
from .table import are_light, chains_through, count_along, ends_with_more

# So few chains are looked at together.
_FEW = 20_000
# So many chains between two interfaces are looked at before they are copied for each pair.
_CROWDED = 3_000
# What comes to less than this does not work.
_WORKS = min(rank(grade) for grade in GRADES if works(grade))


@frozen
class Best:
    """How well a pair stands, and the adapters of one chain by which it does; None where nothing joins them."""

    standing: StandingGrade
    by: tuple[str, ...] | None


_NO_WAY = Best(NOTHING, None)


def best_grade(world: World, lens: Lens, body: Body, practice: Practice) -> Grade | None:
    """The best grade over all routes of a pair; None if nothing joins them."""
    return _best_of(world, [(lens, body)], practice)[0].standing.grade


def _best_of(
    world: World, pairs: Sequence[tuple[Lens, Body]], practice: Practice, judging: Judging | None = None
) -> list[Best]:
    """The best standings of some pairs: told where that is sure, else judged."""
    best_of_all = [_NO_WAY] * len(pairs)
    if not pairs:
        return best_of_all
    judging, most = judging or judging_of(world, practice), int(practice.pieces)
    columns = pairs_of(judging.world, pairs, practice)
    ends = _ends_of(world, pairs)
    open_ = np.arange(len(pairs))
    # Short chains first: where one of them is surely as good as any could be, longer ones are not even listed.
    few = count_along(world.structure, ends, most) <= _FEW
    ceilings = None if few else ceilings_of(world.structure, ends, columns, most)
    for pieces in (most,) if few else range(min(1, most), most + 1):
        if pieces == most and _are_crowded(world.structure, [ends[place] for place in open_.tolist()], practice):
            # Where something works, nobody looks at the many that contacts and the register keep from that.
            worked = _working(world, judging, pairs, columns, ends, open_)
            best_of_all = [worked.get(place, best) for place, best in enumerate(best_of_all)]
            open_ = np.array([place for place in open_.tolist() if place not in worked], dtype=np.int64)
        for table, of in chains_along(world.structure, [ends[place] for place in open_.tolist()], pieces):
            go_on()
            told = _told(world, judging, pairs, columns, table, open_[of], None if pieces == most else ceilings)
            for place, best in told.items():
                best_of_all[place] = best
        open_ = np.array([place for place in open_.tolist() if best_of_all[place] is _NO_WAY], dtype=np.int64)
    return best_of_all


def _ends_of(world: World, pairs: Sequence[tuple[Lens, Body]]) -> list[tuple[str, str]]:
    """The interfaces of lenses and bodies, each looked up once."""
    fronts: dict[str, str] = {}
    rears: dict[str, str] = {}
    for lens, body in pairs:
        if lens.id not in fronts:
            fronts[lens.id] = world.mount_of(lens).joint
        if body.id not in rears:
            rears[body.id] = world.mount_of(body).joint
    return [(fronts[lens.id], rears[body.id]) for lens, body in pairs]


def _are_crowded(structure: Structure, ends: Sequence[tuple[str, str]], practice: Practice) -> bool:
    """Whether so many chains stand between two interfaces that it pays to look at them there first.

    Who goes close up has the longest judged as well, whatever bounds them.
    """
    count = count_along(structure, ends, int(practice.pieces))
    return practice.purpose != "close_up" and count > _CROWDED * len(set(ends))


def _working(
    world: World,
    judging: Judging,
    pairs: Sequence[tuple[Lens, Body]],
    columns: Pairs,
    ends: Sequence[tuple[str, str]],
    open_: Ints,
) -> dict[int, Best]:
    """The best of those of the pairs that are open of which some chain comes to more than others could."""

    # Pairs that meet the same interfaces stand together: nothing is copied to look at them.
    open_ = np.array(sorted(open_.tolist(), key=ends.__getitem__), dtype=np.int64)
    near = columns.at(open_)

    def may_work(table: ChainTable, places: Ints) -> Bools:
        first, last = int(places[0]), int(places[-1]) + 1
        return may_come_to(table, near.at(slice(first, last) if last - first == len(places) else places), _WORKS)

    found: dict[int, Best] = {}
    asked = [ends[place] for place in open_.tolist()]
    for table, of in chains_along(world.structure, asked, int(judging.practice.pieces), may_work):
        go_on()
        told = _told(world, judging, pairs, columns, table, open_[of], None)
        found |= {place: best for place, best in told.items() if best.standing.level > 2 * (_WORKS - 1)}
    return found


def _told(
    world: World,
    judging: Judging,
    pairs: Sequence[tuple[Lens, Body]],
    columns: Pairs,
    table: ChainTable,
    of: Ints,
    ceilings: Ints | None,
) -> dict[int, Best]:
    """The best of the pairs of which the rows of a table are; with ``ceilings`` of those that have surely come to them.

    ``of`` is the place of each row's pair.
    """
    along = columns.along(of)
    limits = bounds_of(table, along)
    starts = np.flatnonzero(np.diff(of, prepend=-1))
    stops = np.append(starts[1:], len(of))
    best = np.repeat(np.maximum.reduceat(limits.bounds, starts), stops - starts)
    rows = _surely_best(of, limits.sure & (limits.bounds == best))[starts]
    if ceilings is not None:
        there = (rows >= 0) & (limits.bounds[rows] == ceilings[of[starts]])
        starts, stops, rows = starts[there], stops[there], rows[there]
    levels = 2 * limits.bounds[rows]
    unsure = np.flatnonzero(rows < 0)
    stretches = [slice(*ends) for ends in zip(starts[unsure].tolist(), stops[unsure].tolist(), strict=True)]
    for number, stretch in zip(unsure.tolist(), stretches, strict=True):
        found, rows[number] = _searched(judging, pairs[int(of[stretch.start])], table, limits, stretch, NOTHING)
        levels[number] = found.level
    heavy = overloaded_in(world, table, rows, along.at(rows))
    for number in np.flatnonzero(heavy).tolist():
        stretch = slice(int(starts[number]), int(stops[number]))
        pair, some = pairs[int(of[stretch.start])], table.of(stretch)
        able = ~overloaded_in(world, table, stretch, along.at(stretch))
        lighter = _lighter(judging, pair, some, limits.of(stretch), able, int(levels[number]))
        if lighter is not None:
            rows[number], heavy[number] = stretch.start + lighter, False
    # A longer chain may bear what no short one does.
    stands = ~heavy if ceilings is not None else np.ones_like(heavy)
    return {
        place: Best(StandingGrade(level), ids)
        for place, level, ids, stand in zip(
            of[starts].tolist(), levels.tolist(), table.ids(rows), stands.tolist(), strict=True
        )
        if stand
    }


def _surely_best(of: Ints, equal: Bools) -> Ints:
    """For each row the first that is ``equal`` and of its pair; −1 where there is none."""
    rows = np.flatnonzero(equal)
    first = np.full(int(of.max()) + 1, -1, dtype=np.int64)
    pairs, at = np.unique(of[rows], return_index=True)
    first[pairs] = rows[at]
    return first[of]


def _searched(
    judging: Judging, pair: tuple[Lens, Body], table: ChainTable, limits: Limits, stretch: slice, known: StandingGrade
) -> tuple[StandingGrade, int]:
    """The best of a stretch of the rows and its row, where it is better than what is ``known``; −1 where none is."""
    lens, body = pair
    level, by = known.level, -1
    for row in in_turn(table, limits, stretch, judging.practice):
        bound = int(limits.bounds[row])
        if level >= 2 * bound:
            break
        if limits.sure[row]:
            level, by = 2 * bound, row
            break
        found = judging.listed(lens, table.adapters(row), body, bound, contacts=int(limits.contacts[row]))
        if found.level > level:
            level, by = found.level, row
    return StandingGrade(level), by


def _lighter(
    judging: Judging, pair: tuple[Lens, Body], table: ChainTable, limits: Limits, able: Bools, level: int
) -> int | None:
    """The first of the chains whose joints all bear their load that is as good; None where there is none."""
    lens, body = pair
    good: list[int] = np.flatnonzero((2 * limits.bounds >= level) & able)[:MOST_JUDGED].tolist()
    for index in good:
        bound = int(limits.bounds[index])
        if limits.sure[index]:
            found = StandingGrade(2 * bound)
        else:
            contacts = int(limits.contacts[index])
            found = judging.listed(lens, table.adapters(index), body, bound, contacts=contacts)
        if found.level == level:
            return index
    return None


def best_grades(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], Grade | None]:
    """The best grade of every pair, by (lens id, body id)."""
    return {
        pair: standing_grade.grade for pair, standing_grade in best_standings(world, lenses, bodies, practice).items()
    }


def best_standings(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], StandingGrade]:
    """How well every pair stands, by (lens id, body id)."""
    return {pair: best.standing for pair, best in best_of_each(world, lenses, bodies, practice).items()}


def best_of_each(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice, judging: Judging | None = None
) -> Mapping[tuple[str, str], Best]:
    """How well every pair stands and by what, by (lens id, body id).

    ``judging`` is that of a collection which has the same pieces and more adapters, where what it knows is to be used.
    """
    pairs = [(lens, body) for lens in lenses for body in bodies]
    best_of_all = _best_of(world, pairs, practice, judging)
    return {(lens.id, body.id): best for (lens, body), best in zip(pairs, best_of_all, strict=True)}


@kept(most=4)
def whole_best(world: World, practice: Practice) -> Mapping[tuple[str, str], Best]:
    """The same of every lens with a mount on every body, less what is archived."""
    lenses = [lens for lens in world.gear.mounted if not lens.retired]
    return best_of_each(world, lenses, [body for body in world.gear.bodies if not body.retired], practice)


def regraded(
    before: World,
    known: Mapping[tuple[str, str], Best],
    world: World,
    lenses: Sequence[Lens],
    bodies: Sequence[Body],
    practice: Practice,
    judging: Judging | None = None,
) -> Mapping[tuple[str, str], Best]:
    """What :func:`best_of_each` says of a world that differs in a few pieces from the one ``before``.

    Only what a changed piece can touch is judged: the pairs of a changed lens or body, those whose chain leads through
    a changed adapter, and every other chain through one that could better what is known.
    """
    if before.gear.protocols != world.gear.protocols or before.gear.mounts != world.gear.mounts:
        return best_of_each(world, lenses, bodies, practice, judging)
    same_lenses, same_bodies = those_as_before(before, world, lenses), those_as_before(before, world, bodies)
    kept_lenses, kept_bodies = {lens.id for lens in same_lenses}, {body.id for body in same_bodies}
    fresh_bodies = [body for body in bodies if body.id not in kept_bodies]
    judged = dict(known)
    again = {
        (lens.id, body.id): None for lens in lenses for body in (fresh_bodies if lens.id in kept_lenses else bodies)
    }
    if before.structure is not world.structure:
        gone, come = (frozenset(piece.id for piece in some) for some in changed_adapters(before, world))
        onto = {world.mount_of(body).joint for body in bodies}
        light = all(are_light(side.structure, onto, int(practice.pieces)) for side in (before, world))
        if len(gone | come) > _MOST_CHANGES or not light:
            return best_of_each(world, lenses, bodies, practice, judging)
        # Which of many chains are judged may change with any of them.
        crowded = frozenset().union(
            *[ends_with_more(side.structure, int(practice.pieces), MOST_JUDGED) for side in (before, world)]
        )
        for lens, body in itertools.product(same_lenses, same_bodies) if crowded else ():
            if (world.mount_of(lens).joint, world.mount_of(body).joint) in crowded:
                again[lens.id, body.id] = None
        # So does what hung on one that is gone.
        if len(gone) == 1:
            (one,) = gone
            again |= {pair: None for pair, best in judged.items() if best.by and one in best.by}
        elif gone:
            again |= {pair: None for pair, best in judged.items() if best.by and not gone.isdisjoint(best.by)}
        if come:
            judging = judging or judging_of(world, practice)
            touched = _through_changed(world, judging, judged, again, come, same_lenses, same_bodies)
            again |= dict.fromkeys(list(touched))
    if len(judged) != len(lenses) * len(bodies) or not judged.keys() >= again.keys():
        every = [(lens.id, body.id) for lens in lenses for body in bodies]
        again |= {pair: None for pair in every if pair not in judged}
        judged = {pair: judged.get(pair, _NO_WAY) for pair in every}
    pairs = [(world.lenses[pair[0]], world.bodies[pair[1]]) for pair in again if pair in judged]
    for (lens, body), found in zip(pairs, _best_of(world, pairs, practice, judging), strict=True):
        judged[lens.id, body.id] = found
    return judged


# Where more adapters have changed than this, everything is judged anew.
_MOST_CHANGES = 12


def changed_adapters(before: World, world: World) -> tuple[list[Adapter], list[Adapter]]:
    """The adapters of one collection that are not in another as they are, and those of the other that were not."""
    return changed_between(before.gear.adapters, world.gear.adapters)


def _through_changed(
    world: World,
    judging: Judging,
    found: Mapping[tuple[str, str], Best],
    again: Collection[tuple[str, str]],
    come: frozenset[str],
    lenses: Sequence[Lens],
    bodies: Sequence[Body],
) -> Iterator[tuple[str, str]]:
    """The pairs that a chain through a changed adapter betters, or that it may be told of in place of what is known.

    Those that are judged ``again`` in any case are left out.
    """
    rears = tuple(sorted({world.mount_of(body).joint for body in bodies}))
    table = chains_through(world.structure, come, rears, int(judging.practice.pieces))
    numbers = interfaces_of(world.structure)
    at: dict[int, list[Lens]] = {}
    for lens in lenses:
        at.setdefault(numbers[world.mount_of(lens).joint], []).append(lens)
    onto: dict[int, list[Body]] = {}
    for body in bodies:
        onto.setdefault(numbers[world.mount_of(body).joint], []).append(body)
    ends: list[tuple[int, int]] = []
    near: list[tuple[Lens, Body]] = []
    most: dict[tuple[int, int], int] = {}
    ceilings = ceilings_in(table).tolist()
    for front, rear, ceiling in zip(table.fronts.tolist(), table.rears.tolist(), ceilings, strict=True):
        most[front, rear] = max(most.get((front, rear), 0), ceiling)
    for (front, rear), ceiling in most.items():
        met = [
            (lens, body)
            for lens, body in itertools.product(at.get(front, ()), onto.get(rear, ()))
            if (best := found.get(ids := (lens.id, body.id)))
            and best.standing.level <= 2 * ceiling
            and ids not in again
        ]
        near += met
        ends += [(front, rear)] * len(met)
    if near:
        yield from _bettered(world, judging, found, near, *chains_among(table, ends))


def _bettered(
    world: World,
    judging: Judging,
    found: Mapping[tuple[str, str], Best],
    pairs: Sequence[tuple[Lens, Body]],
    table: ChainTable,
    of: Ints,
) -> Iterator[tuple[str, str]]:
    """Those of some pairs; ``of`` is the place of the pair that each row is of."""
    along = pairs_of(judging.world, pairs, judging.practice).along(of)
    limits = bounds_of(table, along)
    starts = np.flatnonzero(np.diff(of, prepend=-1))
    stops = np.append(starts[1:], len(of))
    met = [pairs[place] for place in of[starts].tolist()]
    known = [found[lens.id, body.id] for lens, body in met]
    most = np.maximum.reduceat(limits.bounds, starts)
    levels = np.array([best.standing.level for best in known])
    calm = ~(overloaded_in(world, table, slice(None), along) | hidden_in(world, table))
    as_good = 2 * limits.bounds >= np.repeat(levels, stops - starts)
    all_calm = np.logical_and.reduceat(calm | ~as_good, starts)
    for number in np.flatnonzero(2 * most >= levels).tolist():
        (lens, body), best = met[number], known[number]
        stretch = slice(int(starts[number]), int(stops[number]))
        if 2 * most[number] > levels[number]:
            _, by = _searched(judging, (lens, body), table, limits, stretch, best.standing)
            if by >= 0:
                yield lens.id, body.id
                continue
        # What is as good may be told of instead: that matters where more or less of it has to be minded.
        if best.by is not None and best.standing.works:
            stated = says_all_of_its_rear(lens, body, world.mount_of(body))
            if not (stated and all_calm[number]) or cautions_of(world, lens, best.by, body):
                yield lens.id, body.id
