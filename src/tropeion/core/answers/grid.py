"""The whole kit: every lens on every body, by the best grade with what is at hand, and with what could be bought."""

from __future__ import annotations

import itertools
import math
import operator
from collections.abc import Collection, Iterator, Mapping, Sequence, Set
from dataclasses import field
from typing import Literal, NamedTuple

import numpy as np

from tropeion.core.findings import Code, Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import those_as_before
from tropeion.core.gear.world import World, compile_world, with_tried
from tropeion.core.joints.mechanics import shortest_listed
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import cautions_of
from tropeion.core.routes.chain_table import Bools
from tropeion.core.routes.grades import Best, best_of_each, changed_adapters, regraded, whole_best
from tropeion.core.routes.judging import judging_of
from tropeion.core.routes.match import best_route
from tropeion.core.routes.ranking import is_picky, serves
from tropeion.core.routes.unlisted_ways import Listed, unlisted_grades


@frozen
class Cell:
    """A lens on a body. ``owned_grade`` is the best with what is at hand, ``market_grade`` with all that the collection
    lists; None: nothing joins them. They ``work`` where pictures are taken, and that is known. ``unlisted_grade`` is
    what a ring that is not listed would come to, where that is better. ``cautions`` are what has to be minded where it
    works, with what is at hand if it does so.
    """

    lens: str
    body: str
    owned_grade: Grade | None
    market_grade: Grade | None
    unlisted_grade: Grade | None
    works_now: bool
    could_work: bool
    cautions: tuple[Code, ...]


@frozen
class Ends:
    """A lens over all bodies, or a body over all lenses: on how many it works with what is at hand, and could.

    ``on_hand`` counts those at hand alone among them, as things are.
    """

    id: str
    name: str
    mount: str
    mount_name: str
    at_hand: int
    works_now: int
    could_work: int
    on_hand: int

    @property
    def stranded(self) -> bool:
        """Whether it works on nothing that is at hand."""
        return self.works_now == 0


@frozen
class GridReport:
    """Lenses by mount and name, bodies likewise, and a cell for each pair, lens by lens."""

    lenses: tuple[Ends, ...]
    bodies: tuple[Ends, ...]
    cells: tuple[Cell, ...]


Standings = Mapping[tuple[str, str], Best]


@frozen(eq=False)
class Grid:
    """A report, with what the next one after a small change is made of.

    ``works`` tells of each pair whether it does; ``alone`` are the pairs for which a ring that is not listed would do
    by itself.
    """

    report: GridReport
    world: World
    held: World
    practice: Practice
    ends: tuple[tuple[str, ...], tuple[str, ...]] = field(repr=False)
    could: Standings = field(repr=False)
    now: Standings = field(repr=False)
    cells: Mapping[tuple[str, str], Cell] = field(repr=False)
    works: _Works = field(repr=False)
    alone: frozenset[tuple[str, str]] = field(repr=False)


def whole_kit(world: World, practice: Practice) -> GridReport:
    """Every lens with a mount on every body; what is archived is left out."""
    return grid_of(world, practice).report


def grid_of(world: World, practice: Practice, since: Grid | None = None) -> Grid:
    """The same; where a grid of a world like this one is known, only what has changed ``since`` is judged."""
    if since is not None and since.practice != practice:
        since = None
    lenses = sorted((lens for lens in world.gear.mounted if not lens.retired), key=lambda lens: _place(world, lens))
    bodies = sorted((body for body in world.gear.bodies if not body.retired), key=lambda body: _place(world, body))
    held = _at_hand(world, None if since is None else since.held)
    judging = judging_of(world, practice)
    if since is None:
        could = whole_best(world, practice)
        now = best_of_each(held, lenses, bodies, practice, judging)
    else:
        could = regraded(since.world, since.could, world, lenses, bodies, practice)
        now = regraded(since.held, since.now, held, lenses, bodies, practice, judging)
    ends = tuple(lens.id for lens in lenses), tuple(body.id for body in bodies)
    cells: dict[tuple[str, str], Cell] = {}
    alone: set[tuple[str, str]] = set()
    if since is None:
        anew = [(lens, body, True) for lens in lenses for body in bodies]
    else:
        cells, alone = dict(since.cells), set(since.alone)
        anew = _changed(since, world, lenses, bodies, (now, could))
    grades = unlisted_grades(
        world,
        [Listed(lens, body, could[lens.id, body.id].standing, not_alone=not whole) for lens, body, whole in anew],
        practice,
    )
    picky = {lens.id for lens in lenses if is_picky(lens, practice)}
    for (lens, body, whole), unlisted in zip(anew, grades, strict=True):
        pair = lens.id, body.id
        if not whole and cells[pair].unlisted_grade == unlisted.grade:
            continue
        (alone.add if unlisted.alone else alone.discard)(pair)
        if lens.id in picky:
            here = _chosen(held, lens, body, now[pair], practice)
            told = _chosen(world, lens, body, could[pair], practice)
        else:
            here, told = _used(now[pair]), _used(could[pair])
        cells[pair] = _cell(here, told, world, lens, body, unlisted.grade)
    if since is not None and since.ends == ends:
        works = _still_works(since.works, ends, [cells[lens.id, body.id] for lens, body, _ in anew])
    else:
        cells = {(lens.id, body.id): cells[lens.id, body.id] for lens in lenses for body in bodies}
        alone &= cells.keys()
        works = _works_of(cells.values(), (len(lenses), len(bodies)))
    rows, columns = _ends(world, lenses, bodies, works)
    report = GridReport(rows, columns, tuple(cells.values()))
    return Grid(report, world, held, practice, ends, could, now, cells, works, frozenset(alone))


def _changed(
    since: Grid, world: World, lenses: Sequence[Lens], bodies: Sequence[Body], standings: tuple[Standings, Standings]
) -> list[tuple[Lens, Body, bool]]:
    """The pairs that are not what they were, and those for which another ring might do beside a changed adapter.

    Of the latter it is not asked again (the third is false) whether one by itself would; where one would, nothing is.
    """
    touched = _touched(since.world, world)
    if touched is None:
        return [(lens, body, True) for lens in lenses for body in bodies]
    could = standings[1]
    rears = [(body, body.id, world.mount_of(body).joint) for body in bodies]
    near_rears = [end for end in rears if end[2] in touched.onto]

    def met(lens: Lens) -> tuple[list[Body], list[Body]]:
        """With which bodies a ring that is not listed might be another: between the two, or beside what changed."""
        lens_id, front = lens.id, world.mount_of(lens).joint
        between, beside = [], []
        for body, body_id, rear in rears if front in touched.takes else near_rears:
            if (front, rear) in touched.ringed:
                between.append(body)
            elif not could[lens_id, body_id].standing.works and (lens_id, body_id) not in since.alone:
                beside.append(body)
        return between, beside

    same_bodies = {body.id for body in those_as_before(since.world, world, bodies)}
    same_lenses = {lens.id for lens in those_as_before(since.world, world, lenses)}
    fresh_bodies = [body for body in bodies if body.id not in same_bodies]
    others: dict[str, list[Body]] = {}
    for before, now in zip((since.now, since.could), standings, strict=True):
        for lens_id, body_id in _others(before, now):
            others.setdefault(lens_id, []).append(world.bodies[body_id])
    changed: list[tuple[Lens, Body, bool]] = []
    for lens in lenses:
        if lens.id not in same_lenses or is_picky(lens, since.practice):
            changed += [(lens, body, True) for body in bodies]
            continue
        between, beside = met(lens)
        whole = dict.fromkeys((*fresh_bodies, *between, *others.get(lens.id, ())))
        changed += [(lens, body, True) for body in whole]
        changed += [(lens, body, False) for body in beside if body not in whole]
    return changed


def _others(before: Standings, now: Standings) -> Iterator[tuple[str, str]]:
    """The pairs that do not stand as they stood."""
    if len(before) == len(now) and all(map(operator.is_, before, now)):
        # One after another: to look each up takes three times as long.
        yield from itertools.compress(now, map(operator.is_not, before.values(), now.values()))
    else:
        yield from (pair for pair, best in now.items() if before.get(pair) is not best)


def _place(world: World, one: Lens | Body) -> tuple[str, str, str]:
    return world.mount_of(one).name.casefold(), one.name.casefold(), one.id


def _at_hand(world: World, like: World | None) -> World:
    """The same world with no adapters but those at hand."""
    held = tuple(adapter for adapter in world.gear.adapters if adapter.at_hand)
    compiled = compile_world(world.gear.model_copy(update={"adapters": held, "rigs": ()}), like)
    return compiled if compiled.tried == world.tried else with_tried(compiled, world.tried)


class _Used(NamedTuple):
    """What a pair comes to, whether it works, and by which chain."""

    grade: Grade | None
    works: bool
    by: tuple[str, ...] | None


def _used(best: Best) -> _Used:
    """By the best chain."""
    stands = best.standing
    return _Used(stands.grade, stands.works, best.by)


def _chosen(world: World, lens: Lens, body: Body, best: Best, practice: Practice) -> _Used:
    """Where preferences exclude pieces, by the first route, which ranks those last."""
    stands = best.standing
    if not stands.works:
        return _used(best)
    route, _ = best_route(world, lens, body, practice)
    return _Used(stands.grade, False, None) if route is None else _Used(stands.grade, serves(route), route.adapters)


@frozen
class _Touched:
    """Where changed adapters may make another ring of one that is not listed, by the interfaces of its pair.

    ``takes``: that of the lens, ``onto``: that of the body, where it may stand beside them. Between ``ringed`` ones
    (either way round) another length is the least that is practical.
    """

    takes: Set[str] = frozenset()
    onto: Set[str] = frozenset()
    ringed: Set[tuple[str, str]] = frozenset()


def _touched(before: World, world: World) -> _Touched | None:
    """What the adapters touch in which two collections differ. None: all."""
    if before.gear.mounts != world.gear.mounts or before.gear.protocols != world.gear.protocols:
        return None
    if before.structure is world.structure:
        return _Touched()
    gone, come = changed_adapters(before, world)
    ends = {(world.mounts[piece.lens_mount].joint, world.mounts[piece.body_mount].joint) for piece in (*gone, *come)}
    was, now = shortest_listed(before.structure), shortest_listed(world.structure)
    ringed = {pair for pair in ends if was.get(pair, math.inf) != now.get(pair, math.inf)}
    # A ring with another least length may stand beside any piece.
    either = {joint for pair in ringed for joint in pair}
    return _Touched(
        takes={takes for takes, _ in ends} | either,
        onto={onto for _, onto in ends} | either,
        ringed=ringed | {pair[::-1] for pair in ringed},
    )


def _cell(here: _Used, there: _Used, world: World, lens: Lens, body: Body, unlisted: Grade | None) -> Cell:
    used = here if here.works else there
    cautions: tuple[Code, ...] = ()
    if used.works and used.by is not None:
        cautions = cautions_of(world, lens, used.by, body)
    return Cell(lens.id, body.id, here.grade, there.grade, unlisted, here.works, there.works, cautions)


# A row for each lens, a column for each body: whether they work with what is at hand, and whether they could.
_Works = tuple[Bools, Bools]


def _works_of(cells: Collection[Cell], shape: tuple[int, int]) -> _Works:
    now = np.array([cell.works_now for cell in cells], dtype=np.bool_)
    could = np.array([cell.could_work for cell in cells], dtype=np.bool_)
    return now.reshape(shape), could.reshape(shape)


def _still_works(works: _Works, ends: tuple[Sequence[str], Sequence[str]], changed: Sequence[Cell]) -> _Works:
    """The same but for some cells."""
    now, could = works[0].copy(), works[1].copy()
    rows, columns = ({id_: number for number, id_ in enumerate(side)} for side in ends)
    for cell in changed:
        at = rows[cell.lens], columns[cell.body]
        now[at], could[at] = cell.works_now, cell.could_work
    return now, could


def _ends(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], works: _Works
) -> tuple[tuple[Ends, ...], tuple[Ends, ...]]:
    """Sums of the rows and of the columns."""
    works_now, could_work = works
    held_lenses, held_bodies = (np.array([end.at_hand > 0 for end in some], np.bool_) for some in (lenses, bodies))
    on_hand = works_now & held_bodies, works_now & held_lenses[:, np.newaxis]

    def told(ends: Sequence[Lens | Body], side: Literal[0, 1]) -> tuple[Ends, ...]:
        sums = (values.sum(axis=1 - side).tolist() for values in (works_now, could_work, on_hand[side]))
        return tuple(
            Ends(
                id=end.id,
                name=end.name,
                mount=world.mount_of(end).id,
                mount_name=world.mount_of(end).name,
                at_hand=end.at_hand,
                works_now=now,
                could_work=could,
                on_hand=held,
            )
            for end, now, could, held in zip(ends, *sums, strict=True)
        )

    return told(lenses, 0), told(bodies, 1)
