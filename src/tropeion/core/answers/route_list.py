"""A pair as it is listed: every route in a line, and the one that is open in full.

Lengths in mm. A line carries what its miniature draws: where the lens and each adapter stand before the sensor.
"""

from __future__ import annotations

from dataclasses import dataclass

from tropeion.core.findings import Grade
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Group, MatchReport, MountChange, Piece, Route, WouldNeed
from tropeion.core.rig.section import Section

# Where a piece begins and ends before the sensor, and its diameter, in mm.
Box = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
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


def route_list(report: MatchReport) -> RouteList:
    """The report of a pair with its first route open."""
    routes = report.routes
    if report.unlisted is not None:
        routes = (*routes, report.unlisted) if report.works else (report.unlisted, *routes)
    first = routes[0] if routes else None
    shown = {report.lens, report.body, *(first.adapters if first else ())}
    return RouteList(
        lens=report.lens,
        body=report.body,
        gap_mm=report.gap_mm,
        sentence=report.sentence,
        routes=tuple(_line(route) for route in routes),
        open=first,
        total=report.total,
        folded=report.folded,
        left_out=report.left_out,
        not_judged=report.not_judged,
        would_need=report.would_need,
        warnings=report.warnings,
        changes=report.changes,
        apart=report.apart,
        works=report.works,
        pieces={id_: piece for id_, piece in report.pieces.items() if id_ in shown},
        names={id_: piece.name for id_, piece in report.pieces.items()},
        owned=tuple(id_ for id_, piece in report.pieces.items() if piece.owned),
        with_glass=tuple(id_ for id_, piece in report.pieces.items() if piece.optics != "none"),
        currency=report.currency,
        practice=report.practice,
    )


def _line(route: Route) -> RouteLine:
    return RouteLine(
        adapters=route.adapters,
        grade=route.grade,
        surely=route.surely,
        wrong=route.wrong,
        group=route.group,
        purpose=route.purpose,
        gives_up=route.gives_up,
        register_error_mm=route.register_error_mm,
        owned=route.owned,
        price=route.price,
        interchangeable=route.interchangeable if any(len(ids) > 1 for ids in route.interchangeable) else (),
        drawn=_drawn(route.section),
    )


def _drawn(section: Section) -> tuple[Box, ...]:
    lens = section.lens
    assert lens is not None
    adapters = ((piece.rear_mm, piece.front_mm, piece.outer_mm) for piece in section.adapters)
    return ((lens.seat_mm, lens.front_mm, lens.diameter_mm), *adapters)
