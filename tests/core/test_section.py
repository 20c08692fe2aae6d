"""Where everything stands: seats and faces add up, apart and alone; which parts break each other."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body as body_of
from tests.worlds import lens as lens_of
from tests.worlds import ring, world_of
from tropeion.core.gear.world import World
from tropeion.core.rig.section import PlacedBody, PlacedLens, Section, section_apart
from tropeion.core.routes.match import match

lengths = st.lists(st.floats(0.5, 40).map(lambda value: round(value, 2)), max_size=3)


def ends(section: Section) -> tuple[PlacedBody, PlacedLens]:
    assert section.body is not None
    assert section.lens is not None
    return section.body, section.lens


@given(lengths)
def test_pieces_stand_one_behind_the_other_from_the_bodys_seat(found: list[float]) -> None:
    rings = [ring(f"r{index}", length) for index, length in enumerate(found)]
    (route,) = match(world_of(rings), "lens", "body", via=[str(one["id"]) for one in rings]).routes
    the_body, the_lens = ends(route.section)
    assert the_body.seat_mm == 20.0
    assert the_lens.seat_mm == pytest.approx(20.0 + sum(found))
    faces = [(one.front_mm, one.rear_mm) for one in route.section.adapters]
    behind = [20.0 + sum(found[index:]) for index in range(len(found) + 1)]
    assert faces == [pytest.approx(pair) for pair in itertools.pairwise(behind)]
    # Where the lens should stand: its own register, whatever is there.
    assert the_lens.needed_seat_mm == pytest.approx(45.0)


def test_apart_the_lens_stands_at_its_own_register_and_the_body_at_its(sample: World) -> None:
    report = match(sample, "lis-28", "vigil")
    assert report.routes == ()
    assert report.apart is not None
    the_body, the_lens = ends(report.apart)
    assert (the_lens.seat_mm, the_body.seat_mm) == (30.30, 22.40)
    assert the_lens.seat_mm - the_body.seat_mm == pytest.approx(report.gap_mm)
    assert the_lens.rear_vertex_mm == pytest.approx(30.30 - 14.0)
    assert match(sample, "kel-55", "o7").apart is None


def test_one_end_alone(sample: World) -> None:
    lens = section_apart(sample, sample.lenses["kel-55"], None, "still")
    assert (lens.body, lens.adapters) == (None, ())
    assert lens.lens is not None
    assert lens.lens.link == "kel-55"
    body = section_apart(sample, None, sample.bodies["o7"], "still")
    assert (body.lens, body.adapters, body.waist_mm) == (None, (), None)
    assert body.body is not None
    assert body.body.link == "o7"


def test_what_nobody_measured_is_drawn_as_usual_and_named() -> None:
    """A measure is either stated in the collection, or named as assumed; never both, never neither."""
    bare = world_of([ring()])
    (route,) = match(bare, "lens", "body", via=["ring"]).routes
    the_body, the_lens = ends(route.section)
    (adapter,) = route.section.adapters
    assert set(the_body.assumed) == {"throat_mm", "outer_mm", "depth_mm", "height_mm"}
    assert set(the_lens.assumed) == {"outer_mm", "length_mm", "diameter_mm", "rear_protrusion_mm", "rear_diameter_mm"}
    assert set(adapter.assumed) == {"outer_mm", "bore_mm"}
    assert adapter.bore_mm < adapter.outer_mm
    # A flange is the mount's, a throat too; the rest are the piece's own.
    stated = world_of(
        [ring(outer_mm=62.0, bore_mm=42.0)],
        the_lens=lens_of(length_mm=48, diameter_mm=64, rear_protrusion_mm=3.0, rear_diameter_mm=30.0),
        the_body=body_of(depth_mm=62, height_mm=96),
        front={"outer_mm": 60.0},
        rear={"outer_mm": 58.0, "throat_mm": 44.0},
    )
    (route,) = match(stated, "lens", "body", via=["ring"]).routes
    the_body, the_lens = ends(route.section)
    assert (the_body.assumed, the_lens.assumed, route.section.adapters[0].assumed) == ((), (), ())
    assert (the_body.flange_mm, the_body.throat_mm, the_body.back_mm) == (58.0, 44.0, 20.0 - 62.0)
    assert (the_lens.front_mm, the_lens.rear_vertex_mm) == (45.0 + 48.0, 45.0 - 3.0)


def test_the_parts_that_break_each_other_are_named(sample: World) -> None:
    (route,) = match(sample, "kel-55", "stave-3", via=[]).routes
    (clash,) = route.clashes
    assert [part.id for part in clash.lens_parts] == ["rack-long"]
    assert [part.id for part in clash.body_parts] == ["probe-fixed"]
    assert match(sample, "kel-55", "stave-1", via=[]).routes[0].clashes == ()
