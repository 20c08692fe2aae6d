"""Shift by the circle: which way a ring shifts, how much of that the circle holds, and when it has to be turned."""

from __future__ import annotations

import math
from typing import Any

import pytest

from tests.worlds import details, lens, ring, world_of
from tropeion.core.frame.question import FrameQuestion
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.rig import Rig
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match


def shifted(circle_mm: float | None = 60.0, **more: Any) -> Route:
    world = world_of([ring(shift_mm=10.0, **more)], the_lens=lens(image_circle_mm=circle_mm))
    [route] = match(world, "lens", "body", via=["ring"]).routes
    return route


def steps(route: Route) -> list[str]:
    return [one.text for one in details(route).steps]


# On 36 × 24 mm a circle of 60 holds √(30² − 18²) − 12 upwards and √(30² − 12²) − 18 across.
UP, ACROSS = math.sqrt(30**2 - 18**2) - 12, math.sqrt(30**2 - 12**2) - 18


def test_what_the_circle_holds_is_told_beside_what_the_ring_shifts() -> None:
    # Of 44 mm: √(22² − 18²) − 12 = 0.65 mm.
    assert "Shifts 10 mm, 0.65 mm of them within the image circle" in shifted(44.0).purpose
    assert "of them" not in shifted().purpose
    assert "nobody knows" in shifted(None).purpose


@pytest.mark.parametrize(
    ("axis", "rotates", "room", "turn"),
    [
        ("any", False, UP, ""),
        ("up", False, UP, ""),
        ("up", True, UP, "turn it by 90° to shift across"),
        ("across", True, UP, "turn it by 90° for a rise"),
        # It cannot rise: what it shifts across is told, and the room there.
        ("across", False, ACROSS, ""),
    ],
)
def test_the_way_it_shifts_decides_the_room_and_whether_it_is_turned(
    axis: str, rotates: bool, room: float, turn: str
) -> None:
    route = shifted(shift_axis=axis, rotates=rotates)
    assert route.coverage.shift_room_mm == pytest.approx(min(10.0, room))
    turned = [one for one in steps(route) if "by 90°" in one]
    assert [turn in one for one in turned] == ([True] if turn else [])


def test_a_ring_that_only_shifts_across_gives_no_rise_in_the_frame() -> None:
    for more, wanted in (
        ({}, 10.0),
        ({"shift_axis": "across"}, 0.0),
        ({"shift_axis": "across", "rotates": True}, 10.0),
    ):
        world = world_of([ring(shift_mm=10.0, **more)], the_lens=lens(image_circle_mm=80.0))
        found = frame_of(world, Rig.of("lens", "body", ["ring"]), FrameQuestion(correct=1.0), Practice())
        assert found.report.rise_mechanism_mm == wanted


def test_a_shift_lens_has_its_own_way_however_its_front_turns() -> None:
    """Of a lens ``rotates`` is said of its front, in focusing."""
    for axis, room in (("up", UP), ("across", ACROSS)):
        world = world_of([ring()], the_lens=lens(image_circle_mm=60.0, shift_mm=20.0, shift_axis=axis, rotates=True))
        [route] = match(world, "lens", "body", via=["ring"]).routes
        assert route.coverage.shift_room_mm == pytest.approx(room)
