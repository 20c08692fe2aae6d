"""Where everything stands: seats and faces add up, apart and alone; which parts break each other."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import ring, world_of
from tropeion.core.gear.world import World
from tropeion.core.rig.report import Station
from tropeion.core.rig.section import stations_apart
from tropeion.core.routes.match import match


def at(stations: tuple[Station, ...], kind: str) -> float:
    return next(station.at_mm for station in stations if station.kind == kind)


lengths = st.lists(st.floats(0.5, 40).map(lambda value: round(value, 2)), max_size=3)


@given(lengths)
def test_pieces_stand_one_behind_the_other_from_the_bodys_seat(found: list[float]) -> None:
    rings = [ring(f"r{index}", length) for index, length in enumerate(found)]
    (route,) = match(world_of(rings), "lens", "body", via=[str(one["id"]) for one in rings]).routes
    faces = [s.at_mm for s in route.stations if s.kind in {"adapter_rear", "adapter_front"}]
    assert at(route.stations, "body_seat") == 20.0
    assert at(route.stations, "lens_seat") == pytest.approx(20.0 + sum(found))
    ends = [20.0 + sum(found[len(found) - index :]) for index in range(len(found) + 1)]
    assert faces == pytest.approx([end for pair in itertools.pairwise(ends) for end in pair])
    # Where the lens should stand: its own register, whatever is there.
    assert at(route.stations, "needed_seat") == pytest.approx(45.0)


def test_apart_the_lens_stands_at_its_own_register_and_the_body_at_its(sample: World) -> None:
    report = match(sample, "lis-28", "vigil")
    assert report.routes == ()
    assert at(report.apart, "lens_seat") == 30.30
    assert at(report.apart, "body_seat") == 22.40
    assert at(report.apart, "lens_seat") - at(report.apart, "body_seat") == pytest.approx(report.gap_mm)
    assert at(report.apart, "rear_vertex") == pytest.approx(30.30 - 14.0)
    assert match(sample, "kel-55", "o7").apart == ()


def test_one_end_alone(sample: World) -> None:
    lens = stations_apart(sample, sample.lenses["kel-55"], None, "still")
    assert {station.link for station in lens} == {"kel-55"}
    body = stations_apart(sample, None, sample.bodies["o7"], "still")
    assert {station.link for station in body} == {"o7"}
    assert stations_apart(sample, None, None, "still") == ()


def test_the_parts_that_break_each_other_are_named(sample: World) -> None:
    (route,) = match(sample, "kel-55", "stave-3", via=[]).routes
    (clash,) = route.clashes
    assert [part.id for part in clash.lens_parts] == ["collar-full"]
    assert [part.id for part in clash.body_parts] == ["tongue-fixed"]
    assert match(sample, "kel-55", "stave-1", via=[]).routes[0].clashes == ()
