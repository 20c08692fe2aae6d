"""The whole kit: every lens on every body, by the best grade with what is at hand, and with what could be bought."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from tropeion.core.findings import Code, Grade
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World, compile_world, with_tried
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import cautions_of
from tropeion.core.routes.grades import Best, best_of_each, regraded
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
    if since is None:
        could = best_of_each(world, lenses, bodies, practice)
        now = best_of_each(held, lenses, bodies, practice)
    else:
        could = regraded(since.world, since.could, world, lenses, bodies, practice)
        now = regraded(since.held, since.now, held, lenses, bodies, practice)
    stands = {} if since is None else since.cells
    touched = None if since is None else _touched(since.world, world)
    cells: dict[tuple[str, str], Cell] = {}
    anew: list[tuple[Lens, Body]] = []
    for lens in lenses:
        for body in bodies:
            pair = lens.id, body.id
            known = stands.get(pair)
            if (
                known is None
                or since is None
                or is_picky(lens, practice)
                or touched is None
                or since.world.lenses.get(lens.id) != lens
                or since.world.bodies.get(body.id) != body
                or not touched.isdisjoint((world.mount_of(lens).joint, world.mount_of(body).joint))
                or since.now[pair] is not now[pair]
                or since.could[pair] is not could[pair]
            ):
                anew.append((lens, body))
            else:
                cells[pair] = known
    grades = unlisted_grades(
        world, [Listed(lens, body, could[lens.id, body.id].standing) for lens, body in anew], practice
    )
    for (lens, body), unlisted in zip(anew, grades, strict=True):
        pair = lens.id, body.id
        here = _used(held, lens, body, now[pair], practice)
        told = _used(world, lens, body, could[pair], practice)
        cells[pair] = _cell(here, told, world, lens, body, unlisted)
    if since is not None:
        cells = {(lens.id, body.id): cells[lens.id, body.id] for lens in lenses for body in bodies}
    rows, columns = _ends(world, lenses, bodies, cells, 0), _ends(world, bodies, lenses, cells, 1)
    return Grid(GridReport(rows, columns, tuple(cells.values())), world, held, practice, could, now, cells)


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
    changed = [id_ for id_ in {*adapters.keys(), *other.keys()} if adapters.get(id_) != other.get(id_)]
    pieces = [piece for id_ in changed for piece in (adapters.get(id_), other.get(id_)) if piece is not None]
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
    now, could = ({end.id: 0 for end in ends} for _ in range(2))
    on_hand = dict(now)
    at_hand = {lens.id for lens in others if lens.at_hand}
    for pair, cell in cells.items():
        if cell.could_work:
            could[pair[side]] += 1
        if cell.works_now:
            now[pair[side]] += 1
            on_hand[pair[side]] += pair[1 - side] in at_hand
    return tuple(
        Ends(
            id=end.id,
            name=end.name,
            mount=world.mount_of(end).id,
            mount_name=world.mount_of(end).name,
            at_hand=end.at_hand,
            works_now=now[end.id],
            could_work=could[end.id],
            on_hand=on_hand[end.id],
        )
        for end in ends
    )
