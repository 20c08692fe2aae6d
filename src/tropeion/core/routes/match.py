"""A pair and its routes, best first; the working of one route."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.pieces import piece_of
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import MatchReport, Route
from tropeion.core.working import Step, Working

from .pair import along, binding, first_of, gap_mm, ranked, told_of, warnings_of


def match(
    world: World,
    lens_id: str,
    body_id: str,
    practice: Practice | None = None,
    via: Sequence[str] | None = None,
    *,
    everything: bool = False,
    detailed: bool = True,
) -> MatchReport:
    """Judge a pair over all its routes, or over the one chain ``via`` (lens to body; empty: bare).

    Routes that another beats in everything are folded, unless ``everything`` is asked for. Without ``detailed`` only
    the first route is told with its functions and steps. Raises UnknownIdError for an id that is not in the collection.
    """
    practice = practice or Practice()
    lens, body = world.lens(lens_id), world.body(body_id)
    if via is None:
        found = ranked(world, lens.id, body.id, practice, everything)
        routes = _written(world, lens.id, body.id, practice, everything, detailed)
    else:
        found = along(world, lens, via, body, practice)
        routes = tuple(option.report(option, detailed=True) for option in found.told)
    first = routes[0] if routes else None
    told = told_of(world, lens, body, found, first, practice, one=via is not None)
    items: list[Lens | Adapter | Body] = [lens, *(world.adapters[id_] for id_ in told.used), body]
    return MatchReport(
        lens=lens.id,
        body=body.id,
        gap_mm=told.gap_mm,
        sentence=told.sentence,
        routes=routes,
        total=found.total,
        folded=found.folded,
        left_out=found.left_out,
        not_judged=found.not_judged,
        would_need=told.would_need,
        warnings=told.warnings,
        changes=told.changes,
        apart=told.apart,
        unlisted=told.unlisted.report(told.unlisted, detailed=True) if told.unlisted else None,
        works=told.works,
        pieces={item.id: piece_of(world, item) for item in items},
        currency=world.gear.currency,
        practice=practice,
    )


@kept(most=24)
def _written(
    world: World, lens_id: str, body_id: str, practice: Practice, everything: bool, detailed: bool
) -> tuple[Route, ...]:
    """The routes of a pair that are written out in full."""
    told = ranked(world, lens_id, body_id, practice, everything).told
    return tuple(option.report(told[0], detailed=detailed or number == 0) for number, option in enumerate(told))


def best_route(world: World, lens: Lens, body: Body, practice: Practice) -> tuple[Route | None, tuple[str, ...]]:
    """The first of a pair's routes, in full (None if nothing joins them), and warnings of what must not be done."""
    first = first_of(world, lens.id, body.id, practice)
    said = (*warnings_of(world, first.dangers), *binding(world, lens, body))
    return first.best.report(first.best, detailed=False) if first.best else None, said


def show_working(world: World, rig: Rig, practice: Practice | None = None) -> tuple[Step, ...]:
    """The working of every number of one route, in the order of computation.

    Raises UnknownIdError for an id that is not in the collection.
    """
    lens, chain, body = world.pieces_of(rig)
    working = Working()
    gap_mm(world, lens, body, working)
    judge(world, lens, chain, body, practice or Practice(), working)
    return tuple(working.steps)
