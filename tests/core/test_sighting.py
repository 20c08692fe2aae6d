"""Circles by where a corner was seen dark, in whatever mode it was."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, ring, world_of
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.frame.sighting import sighted
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World


def test_a_corner_can_be_noted_in_a_mode_that_films_alone() -> None:
    modes = [{"name": "16:9", "sensor_mm": [36.0, 20.25], "use": "film"}]
    world = world_of([ring()], the_body=body(modes=modes, stabiliser={"travel_mm": 2.0}))
    rig = Rig.of("lens", "body", ["ring"])
    found = sighted(world, rig, way="travel", clean=0.5, dark=None, mode="16:9")
    assert found.image_circle_mm == pytest.approx(2 * math.hypot(18 + 1, 10.125 + 1))
    with pytest.raises(NotPossibleError):
        sighted(world, rig, way="travel", clean=0.5, dark=None, mode="4:3")


def test_a_dark_corner_measures_the_circle_with_its_doubt(sample: World) -> None:
    travel = sample.bodies["o7"].stabiliser
    assert travel is not None
    found = sighted(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"]), way="travel", clean=0.4, dark=0.8)
    clean = 2 * math.hypot(18 + 0.4 * travel.travel_mm, 12 + 0.4 * travel.travel_mm)
    dark = 2 * math.hypot(18 + 0.8 * travel.travel_mm, 12 + 0.8 * travel.travel_mm)
    assert found.image_circle_mm == pytest.approx(clean, abs=1e-6)
    assert found.tolerance_mm == pytest.approx(dark - clean, abs=2e-6)


def test_behind_a_reducer_the_lens_has_the_larger_circle(sample: World) -> None:
    found = sighted(sample, Rig.of("grm-98", "o7", ["grm-ost-reducer"]), way="shift_up", clean=6, dark=None)
    k = sample.adapters["grm-ost-reducer"].magnification
    assert found.image_circle_mm == pytest.approx(2 * math.hypot(18, 18) / k, abs=1e-6)
    assert found.tolerance_mm is None


def test_a_dark_corner_alone_measures_no_circle(sample: World) -> None:
    found = sighted(sample, Rig.of("kel-55", "o7", []), way="shift_across", clean=None, dark=3)
    assert found.image_circle_mm is None
    assert found.dark_mm == pytest.approx(2 * math.hypot(21, 12), abs=1e-6)
    with pytest.raises(NotPossibleError):
        sighted(sample, Rig.of("kel-55", "o7", []), way="shift_up", clean=5, dark=4)
    with pytest.raises(NotPossibleError):
        sighted(sample, Rig.of("kel-55", "stave-2", []), way="travel", clean=0.5, dark=None)
    with pytest.raises(NotPossibleError):
        sighted(sample, Rig.of("kel-55", "o7", []), way="shift_up", clean=None, dark=None)


@given(share=st.floats(0, 1), more=st.floats(0, 1))
def test_what_is_covered_aside_is_covered_nearer_to_the_middle(sample: World, share: float, more: float) -> None:
    """A stabiliser that wanders farther never sees less dark: circles by sightings grow with the travel."""
    low, high = sorted((share, more))
    if low == high:
        return
    found = sighted(sample, Rig.of("kel-55", "o7", []), way="travel", clean=low, dark=high)
    assert found.tolerance_mm is not None
    assert found.tolerance_mm >= 0
    assert (found.image_circle_mm or 0) >= math.hypot(36, 24) - 1e-6
