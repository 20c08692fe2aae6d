"""The near limit against the stated one, and distances from the front of the lens."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import GLASS, codes, rig
from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.gear.world import compile_world
from tropeion.core.optics import focus
from tropeion.core.rig.rig_report import MatchReport
from tropeion.core.routes.match import match
from tropeion.core.working import PLAIN

focal_lengths = st.floats(8, 400)
# Of the marked focal length, at the closest focus.
shortened = st.floats(0.5, 1.3)
scales = st.floats(0.02, 1.5)


@given(focal_lengths, shortened, scales)
def test_at_no_error_the_nearest_distance_is_the_stated_one(f: float, share: float, m: float) -> None:
    """Focusing inside the lens shortens it: both figures stay what its maker says."""
    stated_m = share * f * (2 + m + 1 / m) / 1000
    travel = focus.travel(f, stated_m, m, PLAIN)
    assert travel is not None
    assert travel.close_mm == pytest.approx(share * f)
    front = focus.Front(0.0, 0.0, 0.0, 0.0)
    found = focus.reach(f, travel.close_mm, 2.0, 1.0, 0.0, travel.travel_mm, 0.0, front, PLAIN)
    # Beyond life size what is nearest is life size.
    assert found.near_mm == pytest.approx(stated_m * 1000 if m <= 1 else 4 * share * f)
    assert found.max_magnification == pytest.approx(m)


@given(focal_lengths, st.floats(4.2, 200))
def test_with_the_distance_alone_the_focal_length_stays(f: float, share: float) -> None:
    travel = focus.travel(f, share * f / 1000, None, PLAIN)
    assert travel is not None
    assert travel.close_mm == f
    # D = 2f + f²/x + x at x = e.
    assert 2 * f + f**2 / travel.travel_mm + travel.travel_mm == pytest.approx(share * f)


def test_a_zooms_magnification_belongs_to_its_long_end() -> None:
    zoom = lens(focal_length_mm=[35, 70], min_focus_m=0.5, max_magnification=0.25)
    found = rig(the_lens=zoom)
    assert found.long is not None
    assert (found.long.focus.max_magnification, found.long.focus.near_mm) == pytest.approx((0.25, 500.0))
    # The wide end by its distance alone: b = 500/35 − 2, m = (b − √(b² − 4))/2.
    b = 500 / 35 - 2
    assert found.wide.focus.max_magnification == pytest.approx((b - (b * b - 4) ** 0.5) / 2)
    assert found.wide.focus.near_mm == pytest.approx(500.0)


def test_the_aperture_up_close_follows_the_shortened_lens() -> None:
    # f_c = 230/(2 + 0.5 + 2) = 51.1 mm of 62: N·(f_c/f)·(1 + m).
    macro = rig(the_lens=lens(focal_length_mm=[62, 62], f_number=[2.8, 32], min_focus_m=0.23, max_magnification=0.5))
    assert macro.wide.focus.close_f_number == pytest.approx(2.8 * (230 / 4.5) / 62 * 1.5)


# From the front of the lens


def test_a_lens_that_moves_out_takes_its_travel_from_the_working_distance() -> None:
    # e = 6.35 mm at D = 500: its front stands 45 + 40 mm before the sensor, and 6.35 further out there.
    b = 500 / 50 - 2
    e = 50 * (b - (b * b - 4) ** 0.5) / 2
    found = rig(the_lens=lens(length_mm=40.0)).wide.focus
    assert found.near_from_front_mm == pytest.approx(500 - 45 - 40 - e)
    assert found.far_from_front_mm is None


def test_an_inner_focusing_lens_does_not_grow() -> None:
    # f_c = 230/4.5 = 51.1 mm of 62.
    macro = lens(focal_length_mm=[62, 62], min_focus_m=0.23, max_magnification=0.5, length_mm=72.0)
    assert rig(the_lens=macro).wide.focus.near_from_front_mm == pytest.approx(230 - 45 - 72)


def test_a_helicoid_carries_the_front_along() -> None:
    found = rig(the_lens=lens(length_mm=40.0, focus="none", min_focus_m=None), helicoid_mm=10.0).wide.focus
    assert found.near_mm == pytest.approx(100 + 2500 / 10 + 10)
    assert found.near_from_front_mm == pytest.approx(360 - 45 - 40 - 10)


def test_the_range_is_cut_at_the_front() -> None:
    # 40 mm too long: D = 100 + 62.5 + 40 = 202.5 mm at infinity; the front stands 45 + 40 + 110 mm before the sensor.
    found = rig(65.0, the_lens=lens(length_mm=110.0))
    assert found.wide.focus.far_from_front_mm == pytest.approx(202.5 - 195)
    assert found.wide.focus.near_from_front_mm == 0.0
    assert (found.grade, found.wide.focus.state) == ("close_up", "finite")
    assert "from contact to 0.75 cm before the lens" in found.sentence


@pytest.mark.parametrize("length_mm", [118.0, 200.0])
def test_what_lies_inside_the_lens_is_nothing(length_mm: float) -> None:
    found = rig(65.0, the_lens=lens(length_mm=length_mm))
    assert (found.grade, found.wide.focus.state) == ("none", "inside")
    assert found.sentence == "Nothing comes into focus: all that would be sharp lies inside the lens."
    assert (found.wide.focus.near_from_front_mm, found.wide.focus.far_from_front_mm) == (0.0, 0.0)


def test_an_unknown_length_leaves_them_unknown_and_is_said_up_close_alone() -> None:
    said = {"working_distance_unknown", "focus_perhaps_inside"}
    close, far = rig(), rig(the_lens=lens(min_focus_m=None, max_magnification=0.05))
    assert said.isdisjoint(codes(far) | codes(close))
    long = rig(45.0)
    assert (long.wide.focus.near_from_front_mm, long.wide.focus.far_from_front_mm) == (None, None)
    # Even the far end may lie inside it.
    assert said & codes(long) == {"focus_perhaps_inside"}


def without_a_ring(the_lens: dict[str, Any], lens_mm: float = 45.0, body_mm: float = 20.0) -> MatchReport:
    document = {
        "mounts": [mount("front", lens_mm, interface="one"), mount("rear", body_mm, interface="other")],
        "lenses": [the_lens],
        "bodies": [body()],
    }
    return match(compile_world(gear_of(document)), "lens", "body")


def test_no_ring_for_close_up_is_promised_that_would_be_sharp_inside_the_lens() -> None:
    # 4 mm of ring on a body 60 mm too deep: 64 mm too far, D = 100 + 39 + 64 = 203 mm at infinity, 206.5 up close.
    needs = {need.kind: need for need in without_a_ring(lens(length_mm=40.0), 45.0, 105.0).would_need}
    assert needs["close_up"].practical
    assert "before the lens" in needs["close_up"].text
    inside = {need.kind: need for need in without_a_ring(lens(length_mm=120.0), 45.0, 105.0).would_need}
    assert not inside["close_up"].practical
    assert "lies inside the lens" in inside["close_up"].text


def test_a_lens_that_cannot_focus_wants_a_helicoid_and_no_plain_ring() -> None:
    kinds = {need.kind: need for need in without_a_ring(lens(focus="none", min_focus_m=None)).would_need}
    assert "ring" not in kinds
    # 25 mm of room; to a metre m = (18 − √(18² − 4))/2 = 0.0557, and 50·m of travel.
    m = (18 - (18**2 - 4) ** 0.5) / 2
    assert kinds["helicoid"].length_mm == 25.0
    assert f"at most 25.00 mm closed, that opens by {50 * m:.2f} mm" in kinds["helicoid"].text


# Iris and shift


def test_an_iris_in_the_chain_is_the_aperture_that_can_be_set() -> None:
    """A lens without an iris of its own on a ring a little too long: only the iris behind it brings infinity."""
    fixed = lens(aperture="none", f_number=[2, 2])
    assert rig(25.2, the_lens=fixed).grade == "close_up"
    stopped = rig(25.2, the_lens=fixed, aperture_control="iris")
    # 0.2 / (43.27/1500).
    assert stopped.wide.infinity.from_f_number == pytest.approx(0.2 / (1872**0.5 / 1500))
    assert stopped.grade == "partial"
    assert "iris_behind_lens" in codes(stopped)


@pytest.mark.parametrize(("rest", "grade", "working"), [("open", "manual", 2.0), ("closed", "partial", 16.0)])
def test_an_iris_behind_a_lens_that_rests_closed_opens_nothing(rest: str, grade: str, working: float) -> None:
    found = rig(the_lens=lens(aperture="lever", iris_at_rest=rest), aperture_control="iris")
    assert (found.grade, found.wide.working_f_number) == (grade, working)


@pytest.mark.parametrize(
    ("modes", "generation", "moved"),
    [(["P", "A", "S", "M"], "old", True), (["A", "M"], "old", False), (["A", "M"], "new", True), ([], "old", False)],
)
def test_a_lens_without_a_ring_wants_a_body_that_moves_its_iris(modes: list[str], generation: str, moved: bool) -> None:
    parts = {"generations": [{"id": "old", "label": "I"}, {"id": "new", "label": "II"}]}
    world = world_of(
        lens_register_mm=45.0,
        the_lens=lens(aperture="lever", iris_at_rest="closed", generation="new"),
        the_body=body(mount="front", exposure_modes=modes, generation=generation),
        front=parts,
    )
    (found,) = match(world, "lens", "body", via=[]).routes
    assert ("lever_not_moved" in codes(found)) is not moved
    assert found.wide.working_f_number == (2.0 if moved else 16.0)
    assert (found.grade == "native") is moved


def test_another_systems_body_moves_nothing() -> None:
    world = world_of(lens_register_mm=20.0, the_lens=lens(aperture="lever"))
    (found,) = match(world, "lens", "body", via=[]).routes
    assert "lever_not_moved" in codes(found)


def test_room_to_shift_is_the_least_of_circle_and_mechanism() -> None:
    circle = lens(image_circle_mm=60.0)
    # √(30² − 18²) − 12 = 12 mm.
    assert rig(the_lens=circle).coverage.shift_room_mm is None
    assert rig(the_lens=circle, shift_mm=8.0).coverage.shift_room_mm == pytest.approx(8.0)
    assert rig(the_lens=circle, shift_mm=15.0).coverage.shift_room_mm == pytest.approx(12.0)
    assert rig(the_lens=lens(image_circle_mm=None), shift_mm=8.0).coverage.shift_room_mm is None


def test_a_filter_stands_on_one_side_of_the_glass() -> None:
    # 2 mm of glass with n = 1.5 take 2/3 mm; in front of a reducer of 0.7 by 0.49.
    reducer: dict[str, Any] = {"optics": "reducer", "magnification": 0.7, **GLASS}
    for side, error in (("body", -2 / 3), ("lens", -2 / 3 * 0.49)):
        slot = {"side": side, "glass_mm": 2.0, "refractive_index": 1.5}
        assert rig(filter_slot=slot, **reducer).register_error_mm == pytest.approx(error, abs=1e-6)


def test_a_measured_tolerance_is_no_bound() -> None:
    assert rig().register_tolerance_mm.bounded
    assert rig(measured_length_mm=25.0).register_tolerance_mm.bounded
    assert not rig(measured_length_mm=25.0, measured_tolerance_mm=0.01).register_tolerance_mm.bounded


def test_the_long_and_the_short_equivalent_of_a_squeezed_lens_stand_beside_each_other() -> None:
    found = match(world_of([ring()], the_lens=lens(squeeze=1.6)), "lens", "body", via=["ring"]).routes[0]
    assert found.wide.equivalents.focal_horizontal_mm == pytest.approx(50 / 1.6)
    assert found.becomes == "full-frame equivalent 31 mm across, 50 mm upright"
