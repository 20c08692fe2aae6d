"""Two rigs at equal framing: the rule against depth of field in full, and what it says of noise."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.becomes.beside import RigAt, beside_of
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.optics.equivalents import same_depth_f_number, total_light_stops
from tropeion.core.practice import Practice

REDUCER = ring("reducer", optics="reducer", magnification=0.7, register_in_mm=45.0, register_out_mm=20.0)


def two_rigs(focal: float, small_mm: float, small_focal: float) -> World:
    """A lens on 36 × 24 mm, and another one on a sensor of that shape and ``small_mm`` wide."""
    wide = {"f_number": [0.5, 128], "image_circle_mm": 90.0, "min_focus_m": None, "max_magnification": 0.1}
    document = {
        "mounts": [mount("front", 45.0), mount("rear", 20.0)],
        "bodies": [body(id="large"), body(id="small", sensor_mm=[small_mm, small_mm / 1.5])],
        "lenses": [
            lens(id="one", focal_length_mm=[focal, focal], **wide),
            lens(id="other", focal_length_mm=[small_focal, small_focal], **wide),
        ],
        "adapters": [ring(), REDUCER],
    }
    return compile_world(gear_of(document))


# f/2.8 on 36 × 24 mm has the depth of f/1.87 on 24 × 16 mm; behind 0.7 × f/2.67 is set for it.
def test_the_rule_by_hand() -> None:
    assert same_depth_f_number(2.8, 1.0, 1.0, 1.5, 1.0) == pytest.approx(1.866667, abs=1e-6)
    assert same_depth_f_number(2.8, 1.0, 1.0, 1.5, 0.7) == pytest.approx(2.666667, abs=1e-6)
    assert total_light_stops(2.0, 4.0) == pytest.approx(-2)


@given(
    st.floats(20, 135),
    st.floats(0.35, 1.0),
    st.floats(1.4, 8),
    st.floats(60, 150),
    st.sampled_from(["ring", "reducer"]),
)
def test_far_away_the_rule_gives_the_depth_of_the_first(
    focal: float, share: float, stop: float, times: float, via: str
) -> None:
    k = 0.7 if via == "reducer" else 1.0
    # The second lens frames the same from the same place.
    world = two_rigs(focal, 36 * share, focal * share / k)
    first, second = RigAt("one", "large", ("ring",), f_number=stop), RigAt("other", "small", (via,))
    away = focal * times / 1000
    found = beside_of(world, first, second, away, Practice())
    assert found.closer == pytest.approx(1)
    assert found.second.f_number == pytest.approx(stop * share / k, abs=1e-5)
    # The whole depth of field, worked out in full for each: the same to a few per cent at sixty focal lengths and more.
    assert found.first.near_m is not None
    assert found.second.near_m is not None
    before = away - found.first.near_m
    assert away - found.second.near_m == pytest.approx(before, rel=0.06)
    assert found.exact
    # One depth at one framing gathers one light over the picture: the same noise at the same shutter.
    assert found.total_light_stops == pytest.approx(0, abs=1e-4)


@given(st.floats(20, 100), st.floats(0.3, 3))
def test_the_second_stands_where_it_frames_the_same(focal: float, ratio: float) -> None:
    world = two_rigs(focal, 36.0, focal * ratio)
    found = beside_of(world, RigAt("one", "large", ("ring",)), RigAt("other", "large", ("ring",)), 10, Practice())
    assert found.second.distance_m == pytest.approx(10 * ratio, abs=1e-5)


def test_there_and_back_is_the_first_again() -> None:
    world = two_rigs(50, 24.0, 35)
    one, other = RigAt("one", "large", ("ring",), f_number=4.0), RigAt("other", "small", ("reducer",))
    there = beside_of(world, one, other, 8, Practice())
    back = RigAt("other", "small", ("reducer",), f_number=there.second.f_number)
    again = beside_of(world, back, RigAt("one", "large", ("ring",)), there.second.distance_m, Practice())
    assert again.second.f_number == pytest.approx(4.0, abs=1e-5)
    assert again.second.distance_m == pytest.approx(8, abs=1e-5)


def test_a_stop_that_the_ring_has_not_is_said() -> None:
    world = two_rigs(50, 24.0, 35)
    found = beside_of(
        world, RigAt("one", "large", ("ring",), f_number=0.5), RigAt("other", "small", ("ring",)), 8, Practice()
    )
    # f/0.5 here would be f/0.33 there, and that lens opens to f/0.5.
    assert found.second.f_number == pytest.approx(0.5 * 24 / 36)
    assert not found.second.can_be_set
    assert (found.second.widest, found.second.smallest) == (0.5, 128)
    assert found.first.can_be_set


def test_close_up_the_rule_is_not_trusted() -> None:
    # At 4.5 focal lengths the first is near its limit; the second, at a ratio of its own, is not.
    world = two_rigs(100, 12.0, 20)
    found = beside_of(
        world, RigAt("one", "large", ("ring",), f_number=8.0), RigAt("other", "small", ("ring",)), 0.45, Practice()
    )
    assert found.first.near_m is not None
    assert not found.exact


def test_nearer_than_four_focal_lengths_there_is_no_depth() -> None:
    world = two_rigs(100, 36.0, 100)
    found = beside_of(world, RigAt("one", "large", ("ring",)), RigAt("other", "large", ("ring",)), 0.3, Practice())
    assert found.first.near_m is None
    assert not found.exact


def test_a_mode_and_a_setting_are_held_in_what_there_is(sample: World) -> None:
    zoom = RigAt("mrw-24-70", "o7", ("mrw-ost-active",), 500.0, None, "24 × 16")
    found = beside_of(sample, zoom, RigAt("kel-55", "o7", ("kel-ost-plain",)), 5, Practice())
    assert found.first.marked_mm == 70
    assert found.first.mode == "24 × 16"
    assert found.first.equivalent_mm == pytest.approx(70 * math.hypot(36, 24) / math.hypot(24, 16))
    assert found.names["kel-55"] == "Kelvane 55/2.2"
    with pytest.raises(UnknownIdError):
        beside_of(sample, RigAt("none", "o7"), zoom, 5, Practice())
