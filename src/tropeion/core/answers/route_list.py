"""A pair as it is listed: every route in a line, and the one that is open in full.

Lengths in mm. A line carries what its miniature draws: where the lens and each adapter stand before the sensor.
"""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import price_of
from tropeion.core.rig.pieces import piece_of
from tropeion.core.rig.purpose import group_of, purpose_of
from tropeion.core.rig.reporting import light_change_of, wrong_of
from tropeion.core.rig.rig_report import Group, MountChange, Piece, Route, WouldNeed
from tropeion.core.rig.section import Box, Section, boxes_of
from tropeion.core.routes.pair import Judged, Ranked, along, ranked, told_of
from tropeion.core.routes.ranking import gives_up


@frozen
class RouteLine:
    """One route of the list: as ``Route`` tells it, without what is only looked at when it is open.

    ``drawn`` is its miniature: the lens, then the adapters from the lens to the body.
    """

    adapters: tuple[str, ...]
    grade: Grade
    surely: bool
    wrong: str
    group: Group
    purpose: str
    gives_up: str
    register_error_mm: float | None
    owned: bool
    price: float | None
    interchangeable: tuple[tuple[str, ...], ...]
    drawn: tuple[Box, ...]


@frozen
class RouteList:
    """A pair as ``MatchReport`` tells it, its routes as lines.

    ``open`` is the route that is looked at, the first or the chain that was asked for, and ``pieces`` are what it is
    made of. ``names`` are those of the pieces of all routes; ``owned`` and ``with_glass`` say which of them are so. A
    route with a ring that is not listed stands among the others: first where none of them works, else last.
    """

    lens: str
    body: str
    gap_mm: float | None
    sentence: str
    routes: tuple[RouteLine, ...]
    open: Route | None
    total: int
    folded: int
    left_out: int
    not_judged: int
    would_need: tuple[WouldNeed, ...]
    warnings: tuple[str, ...]
    changes: tuple[MountChange, ...]
    apart: Section | None
    works: bool
    pieces: dict[str, Piece]
    names: dict[str, str]
    owned: tuple[str, ...]
    with_glass: tuple[str, ...]
    currency: str
    practice: Practice


def route_list(
    world: World,
    lens_id: str,
    body_id: str,
    practice: Practice,
    via: Sequence[str] | None = None,
    *,
    everything: bool = False,
) -> RouteList:
    """A pair with its first route open, or the one chain ``via``, as ``match`` judges it.

    Raises UnknownIdError for an id that is not in the collection.
    """
    lens, body = world.lens(lens_id), world.body(body_id)
    if via is None:
        found = ranked(world, lens.id, body.id, practice, everything)
        first, lines = _listed(world, lens.id, body.id, practice, everything)
    else:
        found = along(world, lens, via, body, practice)
        first, lines = _lines(found)
    told = told_of(world, lens, body, found, first, practice, one=via is not None)
    if told.unlisted is not None:
        line = _line(told.unlisted, told.unlisted)
        lines = (*lines, line) if told.works else (line, *lines)
        first = first if told.works else told.unlisted.report(told.unlisted, detailed=True)
    on = [world.adapters[id_] for id_ in first.adapters] if first else []
    shown: list[Lens | Adapter | Body] = [lens, *on, body]
    adapters = [world.adapters[id_] for id_ in told.used]
    items: list[Lens | Adapter | Body] = [lens, *adapters, body]
    return RouteList(
        lens=lens.id,
        body=body.id,
        gap_mm=told.gap_mm,
        sentence=told.sentence,
        routes=lines,
        open=first,
        total=found.total,
        folded=found.folded,
        left_out=found.left_out,
        not_judged=found.not_judged,
        would_need=told.would_need,
        warnings=told.warnings,
        changes=told.changes,
        apart=told.apart,
        works=told.works,
        pieces={item.id: piece_of(world, item) for item in shown},
        names={item.id: item.name for item in items},
        owned=tuple(item.id for item in items if item.at_hand),
        with_glass=tuple(adapter.id for adapter in adapters if adapter.optics != "none"),
        currency=world.gear.currency,
        practice=practice,
    )


@kept(most=24)
def _listed(
    world: World, lens_id: str, body_id: str, practice: Practice, everything: bool
) -> tuple[Route | None, tuple[RouteLine, ...]]:
    return _lines(ranked(world, lens_id, body_id, practice, everything))


def _lines(found: Ranked) -> tuple[Route | None, tuple[RouteLine, ...]]:
    """The first route in full, and all of them in lines."""
    told = found.told
    if not told:
        return None, ()
    return told[0].report(told[0], detailed=True), tuple(_line(option, told[0]) for option in told)


def _line(option: Judged, best: Judged) -> RouteLine:
    assessed, rig = option.assessment, option.assessment.rig
    alike = option.interchangeable
    return RouteLine(
        adapters=tuple(adapter.id for adapter in rig.adapters),
        grade=assessed.grade,
        surely=not assessed.unsure,
        wrong=wrong_of(assessed),
        group=group_of(assessed),
        purpose=purpose_of(assessed, light_change_of(assessed)),
        gives_up=gives_up(assessed, best.assessment),
        register_error_mm=rig.chain.error_mm if rig.stack.known else None,
        owned=option.merit.owned,
        price=price_of(rig.adapters),
        interchangeable=alike if any(len(ids) > 1 for ids in alike) else (),
        drawn=boxes_of(rig.world, rig.stack),
    )
