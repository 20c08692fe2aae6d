"""The whole kit: every lens on every body, by the best grade with what is at hand, and with what could be bought."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, TypeVar

import numpy as np

from tropeion.core.findings import Code, Grade
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World, compile_world, with_tried
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import cautions_of
from tropeion.core.routes.grades import Best, best_of_each, regraded, whole_best
from tropeion.core.routes.judging import judging_of
from tropeion.core.routes.match import best_route
from tropeion.core.routes.ranking import is_picky, serves
from tropeion.core.routes.unlisted_ways import Listed, unlisted_grades


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class GridReport:
    """Lenses by mount and name, bodies likewise, and a cell for each pair, lens by lens."""

    lenses: tuple[Ends, ...]
    bodies: tuple[Ends, ...]
    cells: tuple[Cell, ...]


T = TypeVar("T", Lens, Body, Adapter)
Standings = Mapping[tuple[str, str], Best]


@dataclass(frozen=True, slots=True, eq=False)
class Grid:
    """A report, with what the next one after a small change is made of."""

    report: GridReport
    world: World
    held: World
    practice: Practice
    could: Standings = field(repr=False)
    now: Standings = field(repr=False)
    cells: Mapping[tuple[str, str], Cell] = field(repr=False)


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
    order = [(lens.id, body.id) for lens in lenses for body in bodies]
    same = _unchanged(since, world, lenses, bodies, practice)
    in_order = since is not None and list(since.cells) == order
    cells: dict[tuple[str, str], Cell] = dict(since.cells) if since is not None and in_order else {}
    anew: list[tuple[Lens, Body]] = []
    for lens, on in zip(lenses, same, strict=True):
        for body in bodies:
            pair = lens.id, body.id
            if (
                since is None
                or body.id not in on
                or since.now[pair] is not now[pair]
                or since.could[pair] is not could[pair]
            ):
                anew.append((lens, body))
            elif not in_order:
                cells[pair] = since.cells[pair]
    grades = unlisted_grades(
        world, [Listed(lens, body, could[lens.id, body.id].standing) for lens, body in anew], practice
    )
    for (lens, body), unlisted in zip(anew, grades, strict=True):
        pair = lens.id, body.id
        here = _used(held, lens, body, now[pair], practice)
        told = _used(world, lens, body, could[pair], practice)
        cells[pair] = _cell(here, told, world, lens, body, unlisted)
    if not in_order:
        cells = {pair: cells[pair] for pair in order}
    rows, columns = _ends(world, lenses, bodies, cells, 0), _ends(world, bodies, lenses, cells, 1)
    return Grid(GridReport(rows, columns, tuple(cells.values())), world, held, practice, could, now, cells)


def _unchanged(
    since: Grid | None, world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> list[frozenset[str]]:
    """For each lens the bodies with which it makes a pair that is what it was, and meets no changed adapter."""
    touched = None if since is None else _touched(since.world, world)
    if since is None or touched is None:
        return [frozenset()] * len(lenses)
    kept_bodies = frozenset(
        body.id for body in bodies if _is_in(since.world.bodies, body) and world.mount_of(body).joint not in touched
    )
    return [
        frozenset()
        if is_picky(lens, practice) or not _is_in(since.world.lenses, lens) or world.mount_of(lens).joint in touched
        else kept_bodies
        for lens in lenses
    ]


def _is_in(known: Mapping[str, T], one: T) -> bool:
    other = known.get(one.id)
    return other is one or other == one


def _place(world: World, one: Lens | Body) -> tuple[str, str, str]:
    return world.mount_of(one).name.casefold(), one.name.casefold(), one.id


def _at_hand(world: World, like: World | None) -> World:
    """The same world with no adapters but those at hand."""
    held = tuple(adapter for adapter in world.gear.adapters if adapter.at_hand)
    compiled = compile_world(world.gear.model_copy(update={"adapters": held, "rigs": ()}), like)
    return compiled if compiled.tried == world.tried else with_tried(compiled, world.tried)


@dataclass(frozen=True, slots=True)
class _Used:
    """What a pair comes to, whether it works, and by which chain."""

    grade: Grade | None
    works: bool
    by: tuple[str, ...] | None


def _used(world: World, lens: Lens, body: Body, best: Best, practice: Practice) -> _Used:
    """By the best chain; where preferences exclude pieces, by the first route, which ranks those last."""
    stands = best.standing
    if not stands.works or not is_picky(lens, practice):
        return _Used(stands.grade, stands.works, best.by)
    route, _ = best_route(world, lens, body, practice)
    return _Used(stands.grade, False, None) if route is None else _Used(stands.grade, serves(route), route.adapters)


def _touched(before: World, world: World) -> frozenset[str] | None:
    """The interfaces of adapters that have changed: a ring that is not listed may stand beside them. None: all."""
    if before.gear.mounts != world.gear.mounts or before.gear.protocols != world.gear.protocols:
        return None
    adapters, other = before.adapters, world.adapters
    pieces = [
        *(adapter for adapter in before.gear.adapters if not _is_in(other, adapter)),
        *(adapter for adapter in world.gear.adapters if not _is_in(adapters, adapter)),
    ]
    return frozenset(world.mounts[end].joint for piece in pieces for end in (piece.lens_mount, piece.body_mount))


def _cell(here: _Used, there: _Used, world: World, lens: Lens, body: Body, unlisted: Grade | None) -> Cell:
    used = here if here.works else there
    cautions: tuple[Code, ...] = ()
    if used.works and used.by is not None:
        cautions = cautions_of(world, lens, used.by, body)
    return Cell(lens.id, body.id, here.grade, there.grade, unlisted, here.works, there.works, cautions)


def _ends(
    world: World,
    ends: Sequence[Lens | Body],
    others: Sequence[Lens | Body],
    cells: Mapping[tuple[str, str], Cell],
    side: Literal[0, 1],
) -> tuple[Ends, ...]:
    """Sums of the rows (``side`` 0) or columns (1)."""
    shape = (len(ends), len(others)) if side == 0 else (len(others), len(ends))
    works_now, could_work = (
        np.array(values, dtype=np.bool_).reshape(shape)
        for values in ([cell.works_now for cell in cells.values()], [cell.could_work for cell in cells.values()])
    )
    at_hand = np.array([other.at_hand > 0 for other in others], dtype=np.bool_)
    on_hand = works_now & (at_hand if side == 0 else at_hand[:, np.newaxis])
    now, could, held = (
        dict(zip([end.id for end in ends], values.sum(axis=1 - side).tolist(), strict=True))
        for values in (works_now, could_work, on_hand)
    )
    return tuple(
        Ends(
            id=end.id,
            name=end.name,
            mount=world.mount_of(end).id,
            mount_name=world.mount_of(end).name,
            at_hand=end.at_hand,
            works_now=now[end.id],
            could_work=could[end.id],
            on_hand=held[end.id],
        )
        for end in ends
    )
