"""Circles by where a corner was seen dark, in whatever mode it was."""

from __future__ import annotations

import math

import pytest

from tests.worlds import body, ring, world_of
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.frame.sighting import sighted
from tropeion.core.gear.rig import Rig


def test_a_corner_can_be_noted_in_a_mode_that_films_alone() -> None:
    modes = [{"name": "16:9", "sensor_mm": [36.0, 20.25], "use": "film"}]
    world = world_of([ring()], the_body=body(modes=modes, stabiliser={"travel_mm": 2.0}))
    rig = Rig.of("lens", "body", ["ring"])
    found = sighted(world, rig, way="travel", clean=0.5, dark=None, mode="16:9")
    assert found.image_circle_mm == pytest.approx(2 * math.hypot(18 + 1, 10.125 + 1))
    with pytest.raises(NotPossibleError):
        sighted(world, rig, way="travel", clean=0.5, dark=None, mode="4:3")
