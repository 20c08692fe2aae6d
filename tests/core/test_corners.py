"""Corners looked at step by step, against the circle through the corner by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, lens, ring, world_of
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics.stabiliser import travel_fraction
from tropeion.core.records.corner_check import CornerSeen
from tropeion.core.setup.corners import CornersSay, corners_say

TRAVEL = 4.0


def world(k: float = 1.0) -> World:
    """A body of 36 × 24 mm whose sensor goes 4 mm aside."""
    glass: dict[str, Any] = {"optics": "reducer", "magnification": k, "register_in_mm": 45.0, "register_out_mm": 20.0}
    steady = {"travel_mm": TRAVEL, "travel_steps": [1.0, 0.75, 0.5]}
    return world_of([ring(**(glass if k != 1 else {}))], the_lens=lens(), the_body=body(stabiliser=steady))


def say(*seen: tuple[float, bool], k: float = 1.0) -> CornersSay:
    return corners_say(
        world(k),
        Rig.of("lens", "body", ["ring"]),
        "full",
        [CornerSeen(travel=travel, dark=dark) for travel, dark in seen],
    )


def circle(share: float) -> float:
    return 2 * math.hypot(18 + share * TRAVEL, 12 + share * TRAVEL)


def test_clean_at_one_step_and_dark_at_the_next() -> None:
    found = say((0.5, False), (0.75, True))
    assert found.circle is not None
    assert found.circle.image_circle_mm == pytest.approx(circle(0.5))
    assert found.circle.tolerance_mm == pytest.approx(circle(0.75) - circle(0.5))
    # 2 · √(20² + 14²) = 48.8 mm; 2 · √(21² + 15²) = 51.6 mm.
    assert found.says == "Clean up to 50%, dark at 75%. The lens's image circle is at least 48.8 mm, up to 2.8 mm more."


def test_behind_glass_the_lens_s_own_circle_is_larger() -> None:
    found = say((0.5, False), (0.75, True), k=0.7)
    assert found.circle is not None
    assert found.circle.image_circle_mm == pytest.approx(circle(0.5) / 0.7)


def test_clean_to_the_end_bounds_it_from_below() -> None:
    found = say((0, False), (0.5, False), (1.0, False))
    assert found.circle is not None
    assert (found.clean_travel, found.circle.tolerance_mm) == (1.0, None)
    assert found.says == f"Clean up to 100%. The lens's image circle is at least {circle(1):.1f} mm."


def test_only_dark_measures_no_circle() -> None:
    found = say((0.5, True))
    assert found.circle is not None
    assert found.circle.image_circle_mm is None
    assert found.says.startswith(f"Dark at 50% already: its circle is less than {circle(0.5):.1f} mm.")


@pytest.mark.parametrize("seen", [((0.5, True), (0.75, False)), ((0.5, True), (0.5, False))])
def test_what_contradicts_itself_is_refused(seen: tuple[tuple[float, bool], ...]) -> None:
    with pytest.raises(NotPossibleError, match="one of the two was seen wrongly"):
        say(*seen)


def test_nothing_said_is_refused() -> None:
    with pytest.raises(NotPossibleError, match="at least one step"):
        say()


@given(st.floats(0.05, 0.9))
def test_a_circle_measured_so_allows_the_travel_that_was_clean(clean: float) -> None:
    """There and back: the circle found by a clean step leaves room for that step and no more."""
    found = say((clean, False), (1.0, True))
    assert found.circle is not None
    assert found.circle.image_circle_mm is not None
    assert travel_fraction(found.circle.image_circle_mm, 36, 24, TRAVEL) == pytest.approx(clean, abs=1e-6)


def test_the_ends_of_the_share_of_travel() -> None:
    assert travel_fraction(30.0, 36.0, 24.0, 0.0) == 1.0
    assert travel_fraction(30.0, 36.0, 24.0, 4.0) == 0.0
    # So small that no shift at all would bring it to the corners.
    assert travel_fraction(8.0, 36.0, 24.0, 4.0) == 0.0
