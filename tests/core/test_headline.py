"""What a set-up says first: the camera, then whether the rig wants a support."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import body, lens, ring, world_of
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.setup.setup import SetUp, set_up_of

RIG = Rig.of("lens", "body", ("ring",))
STEADY: dict[str, Any] = {"stabiliser": {"travel_mm": 3, "entry_mm": [10, 500], "entry_step_mm": 1}}


def set_up(**more: Any) -> SetUp:
    return set_up_of(world(**more), RIG)


def world(the_body: dict[str, Any] | None = None, the_ring: dict[str, Any] | None = None, **of_lens: Any) -> World:
    return world_of([ring(**(the_ring or {}))], the_lens=lens(**of_lens), the_body=body(**(the_body or {})))


@pytest.mark.parametrize(
    ("the_body", "said"),
    [
        ({"bare_release": "off"}, "release without a lens"),
        (STEADY, "50 mm for the stabiliser"),
        ({"exposure_modes": ["M"]}, "manual exposure"),
        ({"exposure_modes": ["A", "M"]}, "aperture priority or manual"),
    ],
)
def test_what_is_set_on_the_camera_comes_first(the_body: dict[str, Any], said: str) -> None:
    found = set_up(the_body=the_body)
    assert found.camera_says.startswith("On the camera: ")
    assert said in found.camera_says


@pytest.mark.parametrize("field", ["bare_release", "exposure_modes", "stabiliser"])
def test_what_nobody_stated_is_not_nothing(field: str) -> None:
    assert set_up().camera_says == "Nothing has to be set on the camera."
    assert "not stated" in set_up(the_body={"assumed": [field]}).camera_says
    both = set_up(the_body={**STEADY, "assumed": [field]}).camera_says
    assert "50 mm for the stabiliser" in both
    assert "not stated" in both


def test_a_support_that_is_there_is_named() -> None:
    rated: dict[str, Any] = {"load_rating_nm": 10.0}
    foot = lens(mass_g=900, centre_of_mass_mm=60.0, tripod_foot=True, foot_mm=50.0)
    made = world_of(
        [ring(mass_g=100, load_rating_nm=10.0)], the_lens=foot, the_body=body(mass_g=600), front=rated, rear=rated
    )
    found = set_up_of(made, RIG)
    assert found.balance.held_by.link == "lens"
    assert found.support_says == "Held by Test lens, it needs no other support."


def test_a_rig_that_fails_says_why_instead() -> None:
    found = set_up(the_ring={"length_mm": 10.0})
    assert found.camera_says == found.sentence
    assert "too near" in found.camera_says


@pytest.mark.parametrize(
    ("rating", "mass", "said"),
    [(10.0, 300, "It needs no support."), (0.1, 3000, "Support it"), (None, 300, "not known"), (10.0, None, "nobody")],
)
def test_a_support_is_asked_for_and_not_guessed(rating: float | None, mass: float | None, said: str) -> None:
    heavy: dict[str, Any] = {} if mass is None else {"mass_g": mass, "centre_of_mass_mm": 60.0}
    made = world_of(
        [ring(mass_g=100, load_rating_nm=rating)],
        the_lens=lens(**heavy),
        the_body=body(mass_g=600),
        rear={"load_rating_nm": rating},
        front={"load_rating_nm": rating},
    )
    assert said in set_up_of(made, RIG).support_says
