"""Best grades of many pairs, without their reports.

Each chain is first bounded by what its lengths and contacts still allow; only chains that could better the best
found so far are assessed. Pairs that agree in everything that is judged are judged once, those that meet at the same
interfaces together.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from tropeion.core.findings import GRADES, Grade, rank, works
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import is_changed
from tropeion.core.gear.items import UNJUDGED
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints.mechanics import loads_of, overloads
from tropeion.core.optics.stack import stack_of
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.rig.unlisted import Unlisted, ring_kinds, unlisted_for
from tropeion.core.working import PLAIN

from .bounds import bounds_of, prospect_of
from .chain_table import Bools, ChainTable, Ints, interfaces_of
from .loads import overloaded_in
from .promising import MOST_JUDGED, to_judge
from .table import are_light, chains_through, count_rows, table_of


@dataclass(frozen=True, slots=True, order=True)
class StandingGrade:
    """How well a pair stands: its best route's grade, None if nothing joins them.

    Not ``surely`` where all that is better than close-up depends on a focus travel that is not known.
    """

    level: int

    @property
    def grade(self) -> Grade | None:
        return None if self.level < 0 else _UNSURE_GRADE if self.level == _UNSURE else GRADES[self.level // 2]

    @property
    def surely(self) -> bool:
        return self.level != _UNSURE

    @property
    def works(self) -> bool:
        """Whether it takes pictures: what breaks, changes for good or is not known does not count."""
        return self.grade is not None and self.surely and works(self.grade)


# Levels are twice the ranks of the grades: what is not known stands between two of them, below close-up.
_UNSURE = 2 * rank("close_up") - 1
_UNSURE_GRADE: Grade = "partial"
NOTHING = StandingGrade(-1)


@dataclass(frozen=True, slots=True)
class Best:
    """How well a pair stands, and the adapters of one chain by which it does; None where nothing joins them."""

    standing: StandingGrade
    by: tuple[str, ...] | None


_NO_WAY = Best(NOTHING, None)


def level_of(grade: Grade | None, *, surely: bool) -> int:
    """By how much one is better than another; −1 where nothing joins them."""
    return -1 if grade is None else 2 * rank(grade) if surely else _UNSURE


def standing_of(assessed: Assessment) -> StandingGrade:
    """How well one judged rig stands."""
    return StandingGrade(level_of(assessed.grade, surely=not assessed.unsure))


def unlisted_if_better(
    world: World, lens: Lens, body: Body, listed: StandingGrade, practice: Practice
) -> Unlisted | None:
    """The ring that is not listed, where no listed way is as good as what it comes to."""
    if listed.level >= 2 * _most_with(world, lens, body):
        return None
    unlisted = unlisted_for(world, lens, body, practice, beside=not listed.works)
    if unlisted is None or not unlisted.works or level_of(unlisted.grade, surely=True) <= listed.level:
        return None
    return unlisted


def _most_with(world: World, lens: Lens, body: Body) -> int:
    """The best grade that a ring could come to, by whether it can speak for the lens."""
    return rank("manual" if all("link" not in does for does in ring_kinds(world, lens, body)) else "full")


def best_grade(world: World, lens: Lens, body: Body, practice: Practice) -> Grade | None:
    """The best grade over all routes of a pair; None if nothing joins them."""
    return _best_of(world, [(lens, body)], practice)[0].standing.grade


def _best_of(world: World, pairs: Sequence[tuple[Lens, Body]], practice: Practice) -> list[Best]:
    """The best standings of pairs that all meet at the same two interfaces."""
    table = table_of(world, *pairs[0], int(practice.pieces))
    if not len(table):
        return [_NO_WAY] * len(pairs)
    bounds, sure = bounds_of(table, [prospect_of(world, lens, body, practice) for lens, body in pairs])
    best = bounds.max(axis=1)
    surely_best = sure & (bounds == best[:, np.newaxis])
    settled, first = surely_best.any(axis=1), surely_best.argmax(axis=1)
    return [
        Best(
            StandingGrade(2 * int(best[row])),
            _ids(table, _borne(world, pair, table, surely_best[row], int(first[row]))),
        )
        if settled[row]
        else _searched(world, pair, practice, table, bounds[row], sure[row], _NO_WAY)
        for row, pair in enumerate(pairs)
    ]


def _borne(world: World, pair: tuple[Lens, Body], table: ChainTable, equal: Bools, index: int) -> int:
    """One of some chains that are as good; one in which every joint bears its load, where there is any."""
    if not _overloads(world, pair, table, index):
        return index
    fine = np.flatnonzero(equal & ~overloaded_in(world, *pair, table))
    return int(fine[0]) if len(fine) else index


def _overloads(world: World, pair: tuple[Lens, Body], table: ChainTable, index: int) -> bool:
    lens, body = pair
    if lens.mass_g is None or lens.centre_of_mass_mm is None:
        return False
    return any(overloads(load) for load in loads_of(stack_of(world, lens, table.pieces(index), body), PLAIN))


def _ids(table: ChainTable, index: int) -> tuple[str, ...]:
    return tuple(adapter.id for adapter in table.pieces(index))


def _searched(
    world: World, pair: tuple[Lens, Body], practice: Practice, table: ChainTable, bounds: Ints, sure: Bools, best: Best
) -> Best:
    """The best of some chains, where it is better than the ``best`` that is known."""
    lens, body = pair
    level, by = best.standing.level, -1
    for index in to_judge(table, bounds, sure, practice):
        if level >= 2 * bounds[index]:
            break
        if sure[index]:
            level, by = 2 * int(bounds[index]), int(index)
            break
        number = standing_of(assess(world, lens, table.pieces(int(index)), body, practice)).level
        if number > level:
            level, by = number, int(index)
    if by >= 0 and _overloads(world, pair, table, by):
        able = np.flatnonzero((2 * bounds >= level) & ~overloaded_in(world, lens, body, table))[:MOST_JUDGED]
        rigs = ((int(index), assess(world, lens, table.pieces(int(index)), body, practice)) for index in able)
        by = next((index for index, assessment in rigs if standing_of(assessment).level == level), by)
    return best if by < 0 else Best(StandingGrade(level), _ids(table, by))


def _signature(item: Lens | Body) -> str:
    return f"{is_changed(item)} {item.model_dump_json(exclude=set(UNJUDGED))}"


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
    lens_signatures = {lens.id: _signature(lens) for lens in lenses}
    body_signatures = {body.id: _signature(body) for body in bodies}
    alike_lenses = {lens_signatures[lens.id]: lens for lens in lenses}
    alike_bodies = {body_signatures[body.id]: body for body in bodies}
    meeting: dict[tuple[str, str], list[tuple[str, str]]] = {}
    for lens_signature, lens in alike_lenses.items():
        for body_signature, body in alike_bodies.items():
            ends = (world.mount_of(lens).joint, world.mount_of(body).joint)
            meeting.setdefault(ends, []).append((lens_signature, body_signature))
    judged: dict[tuple[str, str], Best] = {}
    for keys in meeting.values():
        pairs = [(alike_lenses[front], alike_bodies[rear]) for front, rear in keys]
        judged.update(zip(keys, _best_of(world, pairs, practice), strict=True))
    return {
        (lens.id, body.id): judged[lens_signatures[lens.id], body_signatures[body.id]]
        for lens in lenses
        for body in bodies
    }


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
    bounds, sure = bounds_of(table, [prospect_of(world, lens, body, practice) for lens in lenses])
    fits = table.fronts == np.array([at[lens.id] for lens in lenses])[:, np.newaxis]
    promised = 2 * np.where(fits, bounds, -1).max(axis=1)
    for row, lens in enumerate(lenses):
        best = found[lens.id, body.id]
        if best is not None and promised[row] > best.standing.level:
            rows = np.flatnonzero(fits[row])
            ways = table.of(rows), bounds[row][rows], sure[row][rows]
            found[lens.id, body.id] = _searched(world, (lens, body), practice, *ways, best)
