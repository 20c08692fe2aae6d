"""Near and far of extension: a length that is only tried against a ring of that length, and the lens equation."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import lens, ring, world_of
from tropeion.core.becomes.closer import ALIKE_MM, Closer, Closest, closer_of
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice

TUBE = ring("tube", 10.0, lens_mount="front", body_mount="front", owned=1)
FOCUS = {"min_focus_m": 0.5, "length_mm": 40.0}


def world(adapters: list[dict[str, Any]], the_lens: dict[str, Any]) -> World:
    """The lens's mount is not the body's: a ring goes between them once."""
    return world_of(adapters, the_lens=the_lens, front={"interface": "lens-joint"})


def closest(world: World, *via: str, more: tuple[float, ...] = ()) -> Closest:
    adapters = tuple(world.adapter(id_) for id_ in via)
    return closer_of(world, world.lens("lens"), world.body("body"), adapters, Practice(), more)


def own_travel(f: float, closest_mm: float) -> float:
    """By D = f(2 + m + 1/m): the travel m·f of a lens that focuses to ``closest_mm``."""
    b = closest_mm / f - 2
    return f * (b - math.sqrt(b * b - 4)) / 2


def distance(f: float, x: float) -> float:
    return 2 * f + f * f / x + x


# 50 mm to 0.5 m moves out by 6.35 mm; with 10 mm more it is sharp from 212.4 mm (m 0.33) to 360 mm (m 0.2).
def test_ten_millimetres_more_by_hand() -> None:
    _, tried = closest(world([ring()], the_lens=lens(**FOCUS)), "ring", more=(10.0,)).rows
    travel = own_travel(50, 500)
    assert travel == pytest.approx(6.3508, abs=1e-4)
    assert tried.near_mm == pytest.approx(distance(50, 10 + travel))
    assert tried.far_mm == pytest.approx(360)
    assert tried.state == "finite"
    assert tried.max_magnification == pytest.approx((10 + travel) / 50)
    # It exposes by (1 + m) darker: f/2 as f/2.65.
    assert tried.close_f_number == pytest.approx(2 * (1 + (10 + travel) / 50))
    # The seat stands 45 + 10 mm before the sensor, the front 40 mm farther, and it grows by its own travel.
    assert tried.from_front_mm == pytest.approx(distance(50, 10 + travel) - 55 - 40 - travel)


@given(st.floats(0.5, 60), st.floats(0.0, 8.0))
def test_a_length_that_is_tried_is_a_ring_of_that_length(more: float, helicoid: float) -> None:
    short = world([ring(helicoid_mm=helicoid)], the_lens=lens(**FOCUS))
    long = world([ring(length_mm=25.0 + more, helicoid_mm=helicoid)], the_lens=lens(**FOCUS))
    tried = closest(short, "ring", more=(more,)).rows[-1]
    real = closest(long, "ring").rows[0]
    for name in ("extension_mm", "near_mm", "far_mm", "max_magnification", "from_front_mm", "close_f_number"):
        assert getattr(tried, name) == pytest.approx(getattr(real, name), abs=1e-4)
    assert tried.state == real.state


@given(st.floats(1, 40), st.floats(0.5, 1.4))
def test_behind_glass_a_length_counts_for_the_lens_as_often_as_the_glass_divides_it(more: float, k: float) -> None:
    glass = ring(optics="reducer" if k < 1 else "expander", magnification=k, register_in_mm=45, register_out_mm=20)
    here, tried = closest(world([glass], the_lens=lens(**FOCUS)), "ring", more=(more,)).rows
    assert tried.extension_mm is not None
    assert here.extension_mm is not None
    assert tried.extension_mm - here.extension_mm == pytest.approx(more / k**2, abs=1e-5)


def test_a_tube_and_a_helicoid_stand_beside_the_plain_ring() -> None:
    helicoid = ring("helicoid", 25.0, helicoid_mm=8.0, price=80)
    made = world([ring(owned=1), TUBE, helicoid], the_lens=lens(**FOCUS))
    found = closest(made, "ring")
    here, *others = found.rows
    assert here.here
    assert here.state == "to_infinity"
    by_chain = {row.adapters: row for row in others}
    assert by_chain["tube", "ring"].far_mm == pytest.approx(360)
    assert by_chain["tube", "ring"].owned
    # The helicoid keeps infinity and opens 8 mm.
    opened = by_chain["helicoid",]
    assert opened.state == "to_infinity"
    assert opened.far_mm is None
    assert opened.near_mm == pytest.approx(distance(50, 8 + own_travel(50, 500)))
    assert (opened.owned, opened.price) == (False, 80)
    assert found.names["tube"] == "Tube"
    held = [(row.extension_mm or 0.0) + row.travel_mm for row in others]
    assert held == sorted(held)


def test_of_two_tubes_of_one_length_the_one_at_hand_is_told() -> None:
    bought = {**TUBE, "id": "bought", "owned": 0, "price": 5, "length_mm": 10.0 + ALIKE_MM / 2}
    made = world([ring(owned=1), TUBE, bought], the_lens=lens(**FOCUS))
    chains = [row.adapters for row in closest(made, "ring").rows]
    assert ("tube", "ring") in chains
    assert ("bought", "ring") not in chains


def test_what_is_shorter_is_not_closer() -> None:
    made = world([ring(), ring("long", 27.0)], the_lens=lens(**FOCUS))
    assert [row.adapters for row in closest(made, "ring").rows] == [("ring",), ("long",)]
    assert [row.adapters for row in closest(made, "long").rows] == [("long",)]


def test_a_closest_focus_that_nobody_knows_stays_unknown() -> None:
    here, tried = closest(world([ring()], the_lens=lens(min_focus_m=None)), "ring", more=(10.0,)).rows
    assert (here.near_mm, tried.near_mm) == (None, None)
    assert (tried.max_magnification, tried.from_front_mm, tried.close_f_number) == (None, None, None)


def test_a_length_of_which_nothing_is_known_has_no_working_distance() -> None:
    tried: Closer = closest(world([ring()], the_lens=lens(length_mm=None)), "ring", more=(10.0,)).rows[-1]
    assert tried.near_mm is not None
    assert tried.from_front_mm is None


def test_every_row_of_the_sample_is_closer_than_its_rig(sample: World) -> None:
    adapter = sample.adapter("kel-ost-plain")
    lens_, body_ = sample.lens("kel-55"), sample.body("o7")
    here, *others = closer_of(sample, lens_, body_, (adapter,), Practice()).rows
    assert others
    for row in others:
        assert here.near_mm is not None
        assert row.near_mm is not None
        assert row.near_mm < here.near_mm
        assert row.from_front_mm is not None
        assert row.from_front_mm >= 0
