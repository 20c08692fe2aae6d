"""The whole kit: every lens on every body, by the best grade with what is at hand, and with what could be bought."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from tropeion.core.findings import Code, Grade
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import taken_for
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.contacts import signal_of, tells_nothing_of_its_zoom
from tropeion.core.optics.stack import stack_of
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import codes_of
from tropeion.core.routes.grades import Best, best_of_each, regraded

__all__ = ["Cell", "Ends", "Grid", "GridReport", "grid_of", "whole_kit"]


@dataclass(frozen=True, slots=True)
class Cell:
    """A lens on a body. ``owned_grade`` is the best with what is at hand, ``market_grade`` with all that the collection
    lists; None: nothing joins them. They ``work`` where pictures are taken, and that is known. ``cautions`` are
    what has to be minded where it works, with what is at hand if it does so.
    """

    lens: str
    body: str
    owned_grade: Grade | None
    market_grade: Grade | None
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
        """It works on nothing as things are."""
        return self.works_now == 0


@dataclass(frozen=True, slots=True)
class GridReport:
    """Lenses by mount and name, bodies likewise, and a cell for each pair, lens by lens."""

    lenses: tuple[Ends, ...]
    bodies: tuple[Ends, ...]
    cells: tuple[Cell, ...]


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
    lenses = sorted((one for one in world.gear.mounted if not one.retired), key=lambda one: _place(world, one))
    bodies = sorted((one for one in world.gear.bodies if not one.retired), key=lambda one: _place(world, one))
    held = _at_hand(world, None if since is None else since.held)
    if since is None:
        could = best_of_each(world, lenses, bodies, practice)
        now = best_of_each(held, lenses, bodies, practice)
    else:
        could = regraded(since.world, since.could, world, lenses, bodies, practice)
        now = regraded(since.held, since.now, held, lenses, bodies, practice)
    stands = {} if since is None else since.cells
    cells: dict[tuple[str, str], Cell] = {}
    for lens in lenses:
        for body in bodies:
            pair = lens.id, body.id
            known = stands.get(pair)
            if (
                known is None
                or since is None
                or since.now[pair] is not now[pair]
                or since.could[pair] is not could[pair]
            ):
                known = _cell((lens, body), now, could, world, practice)
            cells[pair] = known
    rows, columns = _ends(world, lenses, bodies, cells, 0), _ends(world, bodies, lenses, cells, 1)
    return Grid(GridReport(rows, columns, tuple(cells.values())), world, held, practice, could, now, cells)


def _place(world: World, one: Lens | Body) -> tuple[str, str, str]:
    return world.mount_of(one).name.casefold(), one.name.casefold(), one.id


def _at_hand(world: World, like: World | None) -> World:
    """The same world with no adapters but those at hand."""
    held = tuple(one for one in world.gear.adapters if one.at_hand)
    return compile_world(world.gear.model_copy(update={"adapters": held, "rigs": ()}), like)


def _cell(ends: tuple[Lens, Body], now: Standings, could: Standings, world: World, practice: Practice) -> Cell:
    lens, body = ends
    here, there = now[lens.id, body.id], could[lens.id, body.id]
    used = here if here.standing.works else there
    fits = [one.standing.works and not _avoided(world, ends, one, practice) for one in (here, there)]
    cautions: tuple[Code, ...] = ()
    if used.standing.works and used.by is not None:
        cautions = codes_of(stack_of(world, lens, [world.adapters[id_] for id_ in used.by], body))
    now_, then = here.standing, there.standing
    return Cell(lens.id, body.id, now_.grade, then.grade, fits[0], fits[1], cautions)


def _avoided(world: World, ends: tuple[Lens, Body], best: Best, practice: Practice) -> bool:
    """Whether it stands by a zoom that the body knows nothing of, where these are avoided: a plan refuses it too."""
    lens, body = ends
    if practice.zooms != "avoid" or not lens.is_zoom or not best.by:
        return False
    lens, chain = taken_for(world, lens), [world.adapters[id_] for id_ in best.by]
    return tells_nothing_of_its_zoom(lens, chain, signal_of(world, lens, chain, body))


def _ends(
    world: World,
    ends: Sequence[Lens | Body],
    others: Sequence[Lens | Body],
    cells: Mapping[tuple[str, str], Cell],
    side: Literal[0, 1],
) -> tuple[Ends, ...]:
    """Sums of the rows (``side`` 0) or columns (1)."""
    now, could = ({one.id: 0 for one in ends} for _ in range(2))
    on_hand = dict(now)
    at_hand = {one.id for one in others if one.at_hand}
    for pair, cell in cells.items():
        if cell.could_work:
            could[pair[side]] += 1
        if cell.works_now:
            now[pair[side]] += 1
            on_hand[pair[side]] += pair[1 - side] in at_hand
    return tuple(
        Ends(
            id=one.id,
            name=one.name,
            mount=world.mount_of(one).id,
            mount_name=world.mount_of(one).name,
            at_hand=one.at_hand,
            works_now=now[one.id],
            could_work=could[one.id],
            on_hand=on_hand[one.id],
        )
        for one in ends
    )
