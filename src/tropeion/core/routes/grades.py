"""Best grades of many pairs, without their reports.

Each chain is first bounded by what its lengths and contacts still allow, all chains of all pairs at once; only chains
that could better the best found so far are assessed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from tropeion.core.findings import Grade
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice

from .bounds import Limits, bounds_of, pairs_of
from .chain_table import Bools, ChainTable, Ints, interfaces_of
from .judging import Judging
from .loads import overloaded_in
from .promising import MOST_JUDGED, to_judge
from .standings import NOTHING, StandingGrade
from .table import are_light, chains_along, chains_through, count_rows


@dataclass(frozen=True, slots=True)
class Best:
    """How well a pair stands, and the adapters of one chain by which it does; None where nothing joins them."""

    standing: StandingGrade
    by: tuple[str, ...] | None


_NO_WAY = Best(NOTHING, None)


def best_grade(world: World, lens: Lens, body: Body, practice: Practice) -> Grade | None:
    """The best grade over all routes of a pair; None if nothing joins them."""
    return _best_of(world, [(lens, body)], practice)[0].standing.grade


def _best_of(world: World, pairs: Sequence[tuple[Lens, Body]], practice: Practice) -> list[Best]:
    """The best standings of some pairs: told where that is sure, else judged."""
    best_of_all = [_NO_WAY] * len(pairs)
    if not pairs:
        return best_of_all
    columns = pairs_of(world, pairs, practice)
    ends = [(world.mount_of(lens).joint, world.mount_of(body).joint) for lens, body in pairs]
    judging = Judging(world, practice)
    for table, of in chains_along(world.structure, ends, int(practice.pieces)):
        along = columns.along(of)
        limits = bounds_of(table, along)
        starts = np.flatnonzero(np.diff(of, prepend=-1))
        stops = np.append(starts[1:], len(of))
        best = np.repeat(np.maximum.reduceat(limits.bounds, starts), stops - starts)
        rows = _surely_best(of, limits.sure & (limits.bounds == best))[starts]
        levels = 2 * limits.bounds[rows]
        for number in np.flatnonzero(rows < 0).tolist():
            stretch = slice(int(starts[number]), int(stops[number]))
            pair = pairs[int(of[stretch.start])]
            level, row = _searched(judging, pair, table.of(stretch), limits.of(stretch), NOTHING)
            levels[number], rows[number] = level.level, stretch.start + row
        heavy = np.flatnonzero(overloaded_in(world, table.of(rows), along.at(rows)))
        for number in heavy.tolist():
            stretch = slice(int(starts[number]), int(stops[number]))
            pair, some = pairs[int(of[stretch.start])], table.of(stretch)
            able = ~overloaded_in(world, some, along.at(stretch))
            lighter = _lighter(judging, pair, some, limits.of(stretch), able, int(levels[number]))
            rows[number] = rows[number] if lighter is None else stretch.start + lighter
        for place, level, row in zip(of[starts].tolist(), levels.tolist(), rows.tolist(), strict=True):
            best_of_all[place] = Best(StandingGrade(level), _ids(table, row))
    return best_of_all


def _surely_best(of: Ints, equal: Bools) -> Ints:
    """For each row the first that is ``equal`` and of its pair; −1 where there is none."""
    rows = np.flatnonzero(equal)
    first = np.full(int(of.max()) + 1, -1, dtype=np.int64)
    pairs, at = np.unique(of[rows], return_index=True)
    first[pairs] = rows[at]
    return first[of]


def _ids(table: ChainTable, index: int) -> tuple[str, ...]:
    return tuple(adapter.id for adapter in table.adapters(index))


def _searched(
    judging: Judging, pair: tuple[Lens, Body], table: ChainTable, limits: Limits, known: StandingGrade
) -> tuple[StandingGrade, int]:
    """The best of some chains and its row, where it is better than what is ``known``; −1 where none is."""
    lens, body = pair
    level, by = known.level, -1
    bounds, sure, contacts = (column.tolist() for column in limits)
    for index in to_judge(table, limits.bounds, limits.sure, judging.practice).tolist():
        bound = bounds[index]
        if level >= 2 * bound:
            break
        if sure[index]:
            level, by = 2 * bound, index
            break
        found = judging.listed(lens, table.adapters(index), body, bound, contacts=contacts[index])
        if found.level > level:
            level, by = found.level, index
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
            contacts = bool(limits.contacts[index])
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
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], Best]:
    """How well every pair stands and by what, by (lens id, body id)."""
    pairs = [(lens, body) for lens in lenses for body in bodies]
    best_of_all = _best_of(world, pairs, practice)
    return {(lens.id, body.id): best for (lens, body), best in zip(pairs, best_of_all, strict=True)}


def regraded(
    before: World,
    known: Mapping[tuple[str, str], Best],
    world: World,
    lenses: Sequence[Lens],
    bodies: Sequence[Body],
    practice: Practice,
) -> Mapping[tuple[str, str], Best]:
    """What :func:`best_of_each` says of a world that differs in a few pieces from the one ``before``.

    Only what a changed piece can touch is judged: the pairs of a changed lens or body, those whose chain leads through
    a changed adapter, and every other chain through one that could better what is known.
    """
    if before.gear.protocols != world.gear.protocols or before.gear.mounts != world.gear.mounts:
        return best_of_each(world, lenses, bodies, practice)
    same_lenses = [lens for lens in lenses if _is_in(before.lenses, lens)]
    same_bodies = [body for body in bodies if _is_in(before.bodies, body)]
    here = {lens.id for lens in same_lenses}, {body.id for body in same_bodies}
    bests: dict[tuple[str, str], Best | None] = {
        pair: best for pair, best in known.items() if pair[0] in here[0] and pair[1] in here[1]
    }
    if before.structure is not world.structure:
        gone = frozenset(id_ for id_, adapter in before.adapters.items() if not _is_in(world.adapters, adapter))
        come = frozenset(id_ for id_, adapter in world.adapters.items() if not _is_in(before.adapters, adapter))
        onto = {world.mount_of(body).joint for body in bodies}
        light = all(are_light(side.structure, onto, int(practice.pieces)) for side in (before, world))
        if len(gone | come) > _MOST_CHANGES or not light:
            return best_of_each(world, lenses, bodies, practice)
        # Which of many chains are judged may change with any of them.
        for pair in [pair for pair in bests if any(_is_crowded(side, *pair, practice) for side in (before, world))]:
            bests[pair] = None
        _through_changed(world, bests, gone, come, same_lenses, same_bodies, practice)
    again: dict[tuple[str, ...], list[str]] = {}
    for lens in lenses:
        missing = tuple([body.id for body in bodies if bests.get((lens.id, body.id)) is None])
        if missing:
            again.setdefault(missing, []).append(lens.id)
    judged: dict[tuple[str, str], Best] = {pair: best for pair, best in bests.items() if best is not None}
    for rears, fronts in again.items():
        some = [world.lenses[id_] for id_ in fronts]
        judged.update(best_of_each(world, some, [world.bodies[id_] for id_ in rears], practice))
    return judged


# Where more adapters have changed than this, everything is judged anew.
_MOST_CHANGES = 12

T = TypeVar("T", Lens, Body, Adapter)


def _is_in(known: Mapping[str, T], one: T) -> bool:
    other = known.get(one.id)
    return other is one or other == one


def _is_crowded(world: World, lens_id: str, body_id: str, practice: Practice) -> bool:
    pieces = int(practice.pieces)
    return count_rows(world, world.lenses[lens_id], world.bodies[body_id], pieces) > MOST_JUDGED


def _through_changed(
    world: World,
    found: dict[tuple[str, str], Best | None],
    gone: frozenset[str],
    come: frozenset[str],
    lenses: Sequence[Lens],
    bodies: Sequence[Body],
    practice: Practice,
) -> None:
    """Better what is known by the chains through changed adapters; None where it hung on one that is gone."""
    for pair, best in found.items():
        if best is not None and best.by is not None and not gone.isdisjoint(best.by):
            found[pair] = None
    if not come:
        return
    numbers = interfaces_of(world.structure)
    at = {lens.id: numbers[world.mount_of(lens).joint] for lens in lenses}
    onto = {body.id: numbers[world.mount_of(body).joint] for body in bodies}
    rears = tuple(sorted({world.mount_of(body).joint for body in bodies}))
    table = chains_through(world.structure, come, rears, int(practice.pieces))
    for rear in np.unique(table.rears):
        some = table.of(np.flatnonzero(table.rears == rear))
        reached = set(some.fronts.tolist())
        near = [lens for lens in lenses if at[lens.id] in reached]
        for body in [body for body in bodies if onto[body.id] == rear] if near else ():
            _bettered(world, found, some, [lens for lens in near if found.get((lens.id, body.id))], at, body, practice)


def _bettered(
    world: World,
    found: dict[tuple[str, str], Best | None],
    table: ChainTable,
    lenses: Sequence[Lens],
    at: Mapping[str, int],
    body: Body,
    practice: Practice,
) -> None:
    """Put in what some chains onto a body make better; ``at`` is the interface of each lens."""
    if not lenses:
        return
    columns = pairs_of(world, [(lens, body) for lens in lenses], practice)
    limits = bounds_of(table, columns)
    bounds, judging = limits.bounds, Judging(world, practice)
    fits = table.fronts == np.array([at[lens.id] for lens in lenses])[:, np.newaxis]
    promised = 2 * np.where(fits, bounds, -1).max(axis=1)
    for row, lens in enumerate(lenses):
        best = found[lens.id, body.id]
        if best is not None and promised[row] > best.standing.level:
            rows = np.flatnonzero(fits[row])
            some, mine = table.of(rows), Limits(*(column[row][rows] for column in limits))
            standing, by = _searched(judging, (lens, body), some, mine, best.standing)
            if by >= 0:
                able = ~overloaded_in(world, some, columns.along(np.full(len(rows), row)))
                lighter = None if able[by] else _lighter(judging, (lens, body), some, mine, able, standing.level)
                found[lens.id, body.id] = Best(standing, _ids(some, by if lighter is None else lighter))
