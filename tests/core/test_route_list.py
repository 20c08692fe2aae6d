"""A pair in a list says what it says written out in full, though the list writes out its first route alone."""

from __future__ import annotations

from collections.abc import Sequence

import pytest

from tests.thorough import EVERYWHERE
from tropeion.core.answers.route_list import RouteLine, RouteList, route_list
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import MatchReport, Route
from tropeion.core.routes.match import match

AVOIDING = Practice(zooms="avoid", trust="cautious", purpose="close_up")


def same_line(line: RouteLine, route: Route) -> None:
    for name in ("adapters", "grade", "surely", "wrong", "group", "purpose", "gives_up", "register_error_mm"):
        assert getattr(line, name) == getattr(route, name), name
    assert (line.owned, line.price) == (route.owned, route.price)
    assert line.interchangeable in {(), route.interchangeable}
    lens = route.section.lens
    assert lens is not None
    assert line.drawn == (
        (lens.seat_mm, lens.front_mm, lens.diameter_mm),
        *((one.rear_mm, one.front_mm, one.outer_mm) for one in route.section.adapters),
    )


def same(told: RouteList, report: MatchReport) -> None:
    listed, routes = list(told.routes), list(report.routes)
    if report.unlisted is not None:
        routes.insert(len(routes) if report.works else 0, report.unlisted)
    assert len(listed) == len(routes)
    for line, route in zip(listed, routes, strict=True):
        same_line(line, route)
    assert told.open == (routes[0] if routes else None)
    for name in (
        *("gap_mm", "sentence", "total", "folded", "left_out", "not_judged", "would_need", "warnings", "changes"),
        *("apart", "works"),
    ):
        assert getattr(told, name) == getattr(report, name), name
    assert told.names == {id_: piece.name for id_, piece in report.pieces.items()}
    assert told.owned == tuple(id_ for id_, piece in report.pieces.items() if piece.owned)
    assert told.with_glass == tuple(id_ for id_, piece in report.pieces.items() if piece.optics != "none")
    assert told.pieces.items() <= report.pieces.items()


def pairs(world: World) -> Sequence[tuple[str, str]]:
    every = [(lens.id, body.id) for lens in world.gear.mounted for body in world.gear.bodies]
    # Two that warn are among them.
    return every if EVERYWHERE else [*every[::9], ("kel-55", "stave-3"), ("tub-105", "bell")]


@pytest.mark.parametrize("practice", [Practice(), AVOIDING], ids=["usual", "avoiding"])
def test_every_line_says_what_its_route_says(sample: World, practice: Practice) -> None:
    found = [(route_list(sample, *pair, practice), match(sample, *pair, practice)) for pair in pairs(sample)]
    for told, report in found:
        same(told, report)
    # What is compared is there.
    lines = [line for told, _ in found for line in told.routes]
    assert any(told.warnings for told, _ in found)
    assert any(line.wrong for line in lines)
    assert any(line.gives_up not in {"", "nothing"} for line in lines)
    assert any(report.unlisted for _, report in found)


@pytest.mark.parametrize("via", [(), ("kel-ost-plain",), ("kel-ost-tilt",), ("grm-kel-plain",)])
def test_one_chain_is_told_alike(sample: World, via: tuple[str, ...]) -> None:
    same(route_list(sample, "kel-55", "o7", Practice(), via), match(sample, "kel-55", "o7", None, via))


def test_so_is_everything(sample: World) -> None:
    told = route_list(sample, "kel-55", "nave", Practice(), everything=True)
    same(told, match(sample, "kel-55", "nave", everything=True))
    assert len(told.routes) > len(route_list(sample, "kel-55", "nave", Practice()).routes)
