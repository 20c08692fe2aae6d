"""Why a cell of the grid is what it is: with what is at hand, and with what would make it better."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.findings import rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.rig.cautions import Warned, minded_in
from tropeion.core.routes.match import best_route
from tropeion.core.routes.unlisted_ways import unlisted_if_better
from tropeion.core.words import word

from .grid import Grid


@frozen
class Better:
    """What buying some adapters makes of a pair."""

    sentence: str
    adapters: tuple[str, ...]
    price: float | None


@frozen
class Why:
    """Why a pair comes to what it does with what is at hand, in one line, and what buying something makes of it.

    ``sentence`` is of the best that is listed where nothing at hand joins them; ``adapters`` by name. ``better`` is
    there where something to buy makes more of it; ``unlisted`` says what a ring that is not listed would, where nothing
    that is listed works; ``usable_says`` what trials of the rig came to.
    """

    lens: str
    body: str
    sentence: str
    adapters: tuple[str, ...]
    price: float | None
    at_hand: bool
    better: Better | None
    cautions: tuple[Warned, ...] = ()
    unlisted: str = ""
    usable_says: tuple[str, ...] = ()


def why_of(grid: Grid, lens_id: str, body_id: str | None) -> Why:
    """Why a lens does what it does on a body; without one, on the body at hand that it works best on.

    Raises UnknownIdError, MountlessError; ValueError where there is no body at all.
    """
    world, practice = grid.world, grid.practice
    lens = world.lens(lens_id)
    world.mount_of(lens)
    body = world.body(body_id or _best_body(grid, lens.id))
    best, warnings = best_route(world, lens, body, practice)
    now, _ = best_route(grid.held, lens, body, practice)
    unlisted = _unlisted(grid, lens, body)
    if best is None:
        said = f"Nothing that is listed joins {lens.name} to {body.name}." if unlisted else ""
        said = said or f"No ring can join {lens.name} to {body.name}."
        said = " ".join(warnings) or said
        return Why(lens.id, body.id, said, (), None, at_hand=False, better=None, unlisted=unlisted)
    told = now or best
    better = None
    if now is not None and not best.owned and rank(best.grade) > rank(now.grade):
        better = Better(best.sentence, _names(world, best.adapters), best.price)
    return Why(
        lens.id,
        body.id,
        told.sentence,
        _names(world, told.adapters),
        told.price,
        now is not None,
        better,
        minded_in(told),
        unlisted,
        told.usable_says,
    )


def _best_body(grid: Grid, lens_id: str) -> str:
    cells = [cell for cell in grid.report.cells if cell.lens == lens_id]
    held = [cell for cell in cells if grid.world.bodies[cell.body].at_hand] or cells
    if not held:
        raise ValueError("there is no body in the collection")
    return max(held, key=lambda cell: (cell.works_now, cell.could_work, cell.market_grade is not None)).body


def _names(world: World, ids: Sequence[str]) -> tuple[str, ...]:
    return tuple(world.adapters[id_].name for id_ in ids)


def _unlisted(grid: Grid, lens: Lens, body: Body) -> str:
    listed = grid.could[lens.id, body.id].standing
    unlisted = None if listed.works else unlisted_if_better(grid.world, lens, body, listed, grid.practice)
    return "" if unlisted is None else f"It fits with: {unlisted.ring.name}, not listed: {word(unlisted.grade)}."
