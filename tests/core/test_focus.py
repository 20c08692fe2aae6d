"""Reach, infinity and depth of field."""

from __future__ import annotations

import dataclasses
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.optics import depth, focus
from tropeion.core.optics import infinity as at_infinity
from tropeion.core.working import PLAIN

focal_lengths = st.floats(8, 400)
f_numbers = st.floats(0.95, 16)
errors = st.floats(-1, 1)
magnifications = st.sampled_from([0.5, 0.72, 1.0, 1.24, 2.0])


def infinity(error: float, **more: object) -> at_infinity.Infinity:
    given_: dict[str, object] = {
        "past_infinity_mm": 0.0,
        "travel": 5.0,
        "helicoid_mm": 0.0,
        "f_numbers": (2.0, 16.0),
        "k": 1.0,
        "circle_mm": 0.03,
        "half_widths_mm": (),
        "allowance_mm": 0.0,
    }
    given_ |= more
    found = at_infinity.infinity(error_mm=error, calc=PLAIN, **given_)  # type: ignore[arg-type]
    stops = at_infinity.stops_of(
        found,
        given_["f_numbers"],  # type: ignore[arg-type]
        k=given_["k"],  # type: ignore[arg-type]
        circle_mm=given_["circle_mm"],  # type: ignore[arg-type]
        half_widths_mm=given_["half_widths_mm"],  # type: ignore[arg-type]
    )
    return dataclasses.replace(found, stops=stops)


def reach(f: float, short: float, long: float) -> focus.Reach:
    """Of a lens that only moves forward and has no length."""
    return focus.reach(f, f, 2.0, 1.0, short, long, 0.0, focus.Front(0.0, 0.0, 0.0, 0.0), PLAIN)


@given(focal_lengths, st.floats(0.02, 0.9))
def test_closest_focus_gives_back_the_magnification_it_came_from(f: float, m: float) -> None:
    distance = f * (2 + m + 1 / m)
    found = focus.close_magnification(distance, f)
    assert found is not None
    assert math.isclose(found, m, rel_tol=1e-6)


@given(focal_lengths, st.floats(0.5, 3.99))
def test_no_thin_lens_focuses_nearer_than_four_focal_lengths(f: float, share: float) -> None:
    assert focus.close_magnification(share * f, f) is None


@given(focal_lengths, st.floats(0.001, 3), st.floats(0, 3))
def test_near_is_never_beyond_far(f: float, short_share: float, more: float) -> None:
    short, long = short_share * f, (short_share + more) * f
    found = reach(f, short, long)
    assert found.near_mm is not None
    assert found.far_mm is not None
    assert found.near_mm <= found.far_mm + 1e-9
    # Nothing real is sharp nearer than 4f.
    assert found.near_mm >= 4 * f - 1e-6 * f


@given(focal_lengths, st.floats(0.001, 3), st.floats(0, 3), st.floats(0.1, 10))
def test_scaling_every_length_scales_the_reach(f: float, short: float, more: float, scale: float) -> None:
    one = reach(f, short * f, (short + more) * f)
    other = reach(f * scale, short * f * scale, (short + more) * f * scale)
    assert one.near_mm is not None
    assert other.near_mm is not None
    assert one.far_mm is not None
    assert other.far_mm is not None
    assert math.isclose(other.near_mm, one.near_mm * scale, rel_tol=1e-9)
    assert math.isclose(other.far_mm, one.far_mm * scale, rel_tol=1e-9)
    assert one.max_magnification is not None
    assert other.max_magnification is not None
    assert math.isclose(one.max_magnification, other.max_magnification, rel_tol=1e-9)


@given(focal_lengths, st.floats(0.01, 5), st.floats(0, 2))
def test_every_distance_between_near_and_far_has_an_extension(f: float, short: float, more: float) -> None:
    short, long = short * f, (short + more) * f
    found = reach(f, short, long)
    assert found.near_mm is not None
    assert found.far_mm is not None
    samples = [short + (long - short) * share / 20 for share in range(21)]
    for x in samples:
        distance = focus.object_distance_mm(f, x)
        assert found.near_mm - 1e-6 * distance <= distance <= found.far_mm + 1e-6 * distance


@given(errors, f_numbers, magnifications, st.floats(0, 0.3))
def test_sharp_from_is_the_first_stop_whose_window_holds_the_error(
    error: float, widest: float, k: float, past: float
) -> None:
    found = infinity(error, f_numbers=(widest, 64.0), k=k, past_infinity_mm=past)
    if found.from_f_number is None:
        return
    n = found.from_f_number
    assert found.short_end_mm is not None
    assert found.short_end_mm <= k * n * 0.03 + 1e-9
    if not found.reached:
        assert found.short_end_mm > k * widest * 0.03 or (found.long_end_mm or 0) < -k * widest * 0.03
        # A hair wider and it is not sharp any more.
        narrower = k * n * 0.999 * 0.03
        assert found.short_end_mm > narrower or (found.long_end_mm or 0) < -narrower


@given(errors, st.lists(st.floats(0.001, 0.2), max_size=6).map(tuple), magnifications)
def test_probability_grows_with_every_stop(error: float, widths: tuple[float, ...], k: float) -> None:
    chances = [stop.probability for stop in infinity(error, half_widths_mm=widths, k=k).stops]
    assert all(0 <= chance <= 1 for chance in chances)
    assert chances == sorted(chances)


@given(errors, st.floats(1e-9, 1e-7))
def test_probability_is_a_step_where_nothing_is_uncertain(error: float, width: float) -> None:
    certain = infinity(error).probability
    assert certain in {0.0, 1.0}
    assert infinity(error, half_widths_mm=(width,)).probability == certain


def test_probability_at_the_edge_of_the_window_is_one_half() -> None:
    # The error spreads evenly to both sides of the window's edge, N·c = 0.06.
    assert infinity(0.06, half_widths_mm=(0.01, 0.02)).probability == pytest.approx(0.5, abs=1e-9)


def test_one_tolerance_leaves_the_window_in_proportion() -> None:
    # ±0.02 about 0.05: the last 0.01 of 0.04 lies beyond 0.06.
    assert infinity(0.05, half_widths_mm=(0.02,)).probability == pytest.approx(0.75, abs=1e-9)


def test_ring_a_tenth_too_long_loses_infinity_wide_open() -> None:
    found = infinity(0.1)
    assert not found.reached
    # 0.1/0.03 = 3.33…
    assert found.from_f_number == pytest.approx(10 / 3)


def test_ring_a_tenth_too_long_is_saved_by_travel_past_infinity() -> None:
    assert infinity(0.1, past_infinity_mm=0.05).reached
    assert not infinity(0.1, past_infinity_mm=0.03).reached


def test_windows_of_the_strip_are_n_times_c() -> None:
    for stop in infinity(0.0, k=0.72, circle_mm=0.0288).stops:
        assert stop.window_mm == pytest.approx(0.72 * stop.f_number * 0.0288)


def test_hundredths_that_cancel_leave_infinity_sharp_at_the_edge() -> None:
    # 0.06 is N·c to the last digit; noise must not lose it.
    assert infinity(0.1 + 0.2 - 0.24).reached


@given(focal_lengths, f_numbers, st.floats(4.2, 500), magnifications)
def test_depth_of_field_holds_the_subject(f: float, n: float, share: float, k: float) -> None:
    subject = share * f
    found = depth.depth_of_field(subject, focal_length_mm=f, f_number=n, circle_mm=0.0288, k=k, calc=PLAIN)
    assert found is not None
    assert found.near_mm <= subject * (1 + 1e-9)
    assert found.far_mm is None or found.far_mm >= subject * (1 - 1e-9)


@given(focal_lengths, f_numbers)
def test_focused_at_the_hyperfocal_distance_it_is_sharp_from_half_of_it(f: float, n: float) -> None:
    # u = H makes far infinite, and near = H(H − f)/(2H − 2f) = H/2, both counted from the lens.
    h = depth.hyperfocal_mm(f, n, 0.0288, 1.0)
    assert depth.depth_far_mm(h, h, f, 0.0) is None
    assert math.isclose(depth.depth_near_mm(h, h, f, 0.0) - f, h / 2, rel_tol=1e-9)


def test_light_falls_by_the_bellows_factor_up_close() -> None:
    # At life size an f/2.8 lens exposes like f/5.6.
    assert focus.close_f_number(2.8, 60.0, 60.0, 1.0, 60.0) == pytest.approx(5.6)
    # A reducer of 0.5 in front of the sensor: half the f-number, and the lens stands as far out as before.
    assert focus.close_f_number(2.8, 60.0, 60.0, 0.5, 60.0) == pytest.approx(2.8)
