"""Circles over sensors, and what the glass makes of the lens."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.optics import clipping, coverage, equivalents, modes, stabiliser
from tropeion.core.optics.clipping import Bore
from tropeion.core.optics.modes import FormatMode
from tropeion.core.routes.match import match
from tropeion.core.working import PLAIN

FULL = FormatMode("full", 36.0, 24.0, 33.0, whole=True)
CROP = FormatMode("24 × 16", 24.0, 16.0, 14.7)
SPEECH = [{"id": "speech", "name": "Speech"}]
sides = st.floats(5, 60)
circles = st.floats(10, 120)


@given(circles, sides, sides)
def test_the_greatest_rise_just_fits(circle: float, w: float, h: float) -> None:
    rise = coverage.max_rise_mm(circle, w, h)
    if rise > 0:
        assert coverage.covers_shift(circle, w, h, (0.0, rise - 1e-5))
        assert not coverage.covers_shift(circle, w, h, (0.0, rise + 1e-5))
    else:
        assert not coverage.covers_shift(circle, w, h, (0.0, 1e-4))


@given(circles, sides, sides, st.floats(0.1, 8))
def test_the_stabiliser_stays_in_the_circle(circle: float, w: float, h: float, travel: float) -> None:
    q = stabiliser.travel_fraction(circle, w, h, travel)
    assert 0 <= q <= 1
    inside = math.hypot(w / 2 + q * travel, h / 2 + q * travel) <= circle / 2 + 1e-9
    assert inside or q == 0
    if 0 < q < 1:
        assert math.hypot(w / 2 + (q + 1e-4) * travel, h / 2 + (q + 1e-4) * travel) > circle / 2


@given(st.floats(0, 1), st.lists(st.sampled_from([1.0, 0.75, 0.5, 0.25]), min_size=1, unique=True))
def test_the_step_never_exceeds_the_room(q: float, steps: list[float]) -> None:
    step = stabiliser.travel_step(q, steps)
    assert step <= q + 1e-6
    assert all(other <= step or other > q for other in steps)


def test_most_pixels_win_among_the_covered_modes() -> None:
    assert modes.choose_mode([FULL, CROP], 45.0) == (FULL, True)
    assert modes.choose_mode([FULL, CROP], 30.0) == (CROP, True)
    assert modes.choose_mode([FULL, CROP], 20.0) == (FULL, False)
    assert modes.choose_mode([FULL, CROP], None) == (FULL, True)


def test_a_full_sensor_of_unknown_pixels_outranks_its_modes() -> None:
    unknown = FormatMode("full", 36.0, 24.0, None)
    assert modes.choose_mode([unknown, CROP], 50.0) == (unknown, True)


def test_equal_pixels_leave_the_larger_area() -> None:
    small = FormatMode("small", 10.0, 10.0, 8.0)
    large = FormatMode("large", 12.0, 12.0, 8.0)
    assert modes.choose_mode([FormatMode("full", 60.0, 60.0, 50.0), small, large], 20.0)[0] == large


def test_each_piece_of_glass_is_a_ceiling_in_its_place() -> None:
    # 40 mm through k = 0.5 is 20; a stated 15 mm stops it; a doubler behind makes 30 of that.
    assert coverage.image_circle_mm(40.0, [0.5, 2.0], [15.0, None]) == 30.0
    assert coverage.image_circle_mm(40.0, [0.5, 2.0], [None, 15.0]) == 15.0


def test_shift_in_front_of_glass_counts_k_fold() -> None:
    # Half width 18 and height 12 + 2·3 = 18 reach 25.46: a 51 mm circle holds it, a 50 mm one does not.
    assert coverage.covers_shift(51.0, 36.0, 24.0, (0.0, 3.0), k=2.0)
    assert not coverage.covers_shift(50.0, 36.0, 24.0, (0.0, 3.0), k=2.0)


def test_a_bore_at_the_sensor_passes_its_own_radius() -> None:
    found = clipping.throat_clipping([Bore("ring", 0.0, 40.0)], f_number=2.0, pupil_mm=60.0, calc=PLAIN)
    assert found is not None
    assert found.full_cone_mm == pytest.approx(20.0)
    assert found.centre_ray_mm == pytest.approx(20.0)


def test_a_narrow_far_bore_cuts_even_the_axis() -> None:
    # At z = 40 the f/2 cone is 20 wide; a 16 mm bore leaves f/2.5.
    found = clipping.throat_clipping([Bore("ring", 40.0, 16.0)], f_number=2.0, pupil_mm=80.0, calc=PLAIN)
    assert found is not None
    assert found.axis_f_number == pytest.approx(2.5)


def test_the_bore_that_cuts_most_is_named() -> None:
    bores = [Bore("wide", 20.0, 45.0), Bore("narrow", 20.0, 30.0)]
    found = clipping.throat_clipping(bores, f_number=2.8, pupil_mm=60.0, calc=PLAIN)
    assert found is not None
    assert found.link == found.centre_link == "narrow"


def test_one_bore_may_cut_the_cone_and_another_its_centre_ray() -> None:
    # At 40 of 80 mm a fast cone is wide: (24 − 14.3)/0.5 = 19.4; its centre ray passes up to 48.
    # At 4 mm the cone is narrow: (20 − 1.4)/0.95 = 19.5; the centre ray passes up to 21.1.
    bores = [Bore("far", 40.0, 48.0), Bore("near", 4.0, 40.0)]
    found = clipping.throat_clipping(bores, f_number=1.4, pupil_mm=80.0, calc=PLAIN)
    assert found is not None
    assert (found.link, found.centre_link) == ("far", "near")
    assert found.centre_ray_mm == pytest.approx(20 / 0.95)


def test_bores_before_the_pupil_are_not_assessed() -> None:
    assert clipping.throat_clipping([Bore("a", 70.0, 10.0)], f_number=2.0, pupil_mm=60.0, calc=PLAIN) is None
    assert clipping.throat_clipping([Bore("a", 10.0, 10.0)], f_number=2.0, pupil_mm=None, calc=PLAIN) is None


def test_a_pupil_as_far_as_the_half_diagonal_sends_rays_at_45_degrees() -> None:
    assert clipping.corner_ray_angle_deg(21.0, 20.0, 1.0) == pytest.approx(45.0)


@given(st.floats(1, 16), st.floats(0.3, 3), st.floats(0, 3))
def test_light_change_follows_the_square_of_the_aperture(n: float, k: float, losses: float) -> None:
    assert 2 ** equivalents.light_change_stops(n, n * k, losses) == pytest.approx(2**-losses / k**2)


def test_glass_gives_no_more_light_than_it_passes() -> None:
    # 1.4 × 0.7 would be f/0.98; the glass passes f/1.2: 2·log₂(1.4/1.2), not one stop.
    stop = equivalents.f_number_with_glass(1.4, [0.7], [1.2])
    assert equivalents.light_change_stops(1.4, stop, 0.0) == pytest.approx(2 * math.log2(1.4 / 1.2))


def test_a_t_number_goes_with_the_aperture() -> None:
    # T/2.3 at f/2; a reducer of 0.7 makes it f/1.4, and T/1.61.
    assert equivalents.t_number_with_glass(2.3, 1.4, 2.0) == pytest.approx(1.61)


def test_a_plain_ring_changes_no_light_and_leaves_no_negative_zero() -> None:
    assert math.copysign(1, equivalents.light_change_stops(2.0, 2.0, 0.0)) == 1


def test_the_reference_format_has_crop_factor_one_either_way() -> None:
    for crop in ("diagonal", "width"):
        found = equivalents.equivalents_of(
            mode=FULL, focal_length_mm=50.0, f_number=2.0, squeeze=1.0, fisheye=False, crop=crop, calc=PLAIN
        )
        assert found.crop_factor == pytest.approx(1.0)


def test_width_and_diagonal_disagree_on_another_shape() -> None:
    # 20 × 15: the diagonal is 25, the width 20.
    mode = FormatMode("full", 20.0, 15.0, None)
    by = {
        crop: equivalents.equivalents_of(
            mode=mode, focal_length_mm=50.0, f_number=2.0, squeeze=1.0, fisheye=False, crop=crop, calc=PLAIN
        )
        for crop in ("diagonal", "width")
    }
    assert by["width"].crop_factor == pytest.approx(1.8)
    assert by["diagonal"].crop_factor == pytest.approx(math.sqrt(1872) / 25)
    assert by["width"].slowest_shutter_s == pytest.approx(1 / 90)
    # Four times slower with two stops of stabiliser.
    assert equivalents.steadied_shutter_s(1 / 90, 2.0) == pytest.approx(4 / 90)


def test_squeeze_widens_the_horizontal_angle_alone() -> None:
    found = equivalents.equivalents_of(
        mode=FormatMode("full", 20.0, 20.0, None),
        focal_length_mm=20.0,
        f_number=2.0,
        squeeze=2.0,
        fisheye=False,
        crop="diagonal",
        calc=PLAIN,
    ).angle_of_view_deg
    assert found is not None
    # 2·atan(40/40) and 2·atan(20/40).
    assert found.horizontal == pytest.approx(90.0)
    assert found.vertical == pytest.approx(math.degrees(2 * math.atan(0.5)))


def test_a_fisheye_has_no_rectilinear_angle() -> None:
    found = equivalents.equivalents_of(
        mode=FULL, focal_length_mm=10.0, f_number=2.8, squeeze=1.0, fisheye=True, crop="diagonal", calc=PLAIN
    )
    assert found.angle_of_view_deg is None


@given(st.floats(1, 2000), st.sampled_from([0.1, 0.5, 1.0, 5.0]))
def test_the_stabiliser_entry_is_a_step_within_its_range(f: float, step: float) -> None:
    entry = stabiliser.stabiliser_entry_mm(f, step, (8.0, 900.0))
    assert 8.0 <= entry <= 900.0
    if 10 < f < 890:
        assert abs(entry - f) <= step / 2 + 1e-6


@pytest.mark.parametrize("name", ["full", "Full", "24 × 16", "whole"])
def test_a_crop_is_a_crop_whatever_its_name(name: str) -> None:
    """A mode may be named like the whole sensor; what is cropped is said all the same."""
    the_body = body(modes=[{"name": name, "sensor_mm": [24.0, 16.0]}], protocols=["speech"])
    world = world_of([ring()], the_lens=lens(image_circle_mm=30.0), the_body=the_body, protocols=SPEECH)
    (route,) = match(world, "lens", "body", via=["ring"], everything=True).routes
    assert (route.coverage.mode, route.coverage.whole) == (name, False)
    assert {"covers_crop_only", "crop_by_hand"} <= {found.code for found in route.findings}
    assert route.grade == "partial"
    assert f"Set the mode {name}." in [step.text for step in details(route).steps]


def test_the_whole_sensor_is_no_crop() -> None:
    (route,) = match(world_of([ring()], protocols=SPEECH), "lens", "body", via=["ring"]).routes
    assert (route.coverage.mode, route.coverage.whole) == ("full", True)
    assert not [step for step in details(route).steps if step.text.startswith("Set the mode")]
