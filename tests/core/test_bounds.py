"""The best grade that a chain may get, told without judging it: never less than it does get."""

from __future__ import annotations

from typing import Any

import pytest

from tests.core.test_routes import assert_bounds_hold
from tests.worlds import body, lens, ring, world_of
from tropeion.core.practice import Practice

LENSES: dict[str, dict[str, Any]] = {
    "by hand": {},
    "past infinity": {"past_infinity_mm": 0.2},
    "by wire": {"focus": "by_wire", "protocol": "speech", "offers": ["autofocus"]},
    "by wire and mute": {"focus": "by_wire"},
    "a motor": {"focus": "motor", "protocol": "speech", "offers": ["autofocus"]},
    "a screw drive": {"focus": "screw_drive", "min_focus_m": None},
    "a lever that rests closed": {"aperture": "lever", "iris_at_rest": "closed"},
    "a lever that rests open": {"aperture": "lever", "iris_at_rest": "open"},
    "a driven aperture that rests closed": {"aperture": "electronic", "iris_at_rest": "closed", "protocol": "speech"},
    "a driven aperture that stays": {"aperture": "electronic", "iris_at_rest": "stays", "protocol": "speech"},
    "a pin": {"aperture": "pin"},
    "a zoom": {"focal_length_mm": [35, 70], "min_focus_m": 0.7},
    "unknown travel": {"min_focus_m": None},
    "no focusing": {"focus": "none", "min_focus_m": None},
    "a pupil near by": {"exit_pupil_mm": 60.0},
}
LENGTHS = (24.4, 24.95, 25.0, 25.04, 25.4, 30.0)


@pytest.mark.parametrize("case", LENSES)
@pytest.mark.parametrize("mute", [False, True], ids=["spoken to", "mute"])
def test_around_an_exact_ring_bounds_hold(case: str, mute: bool) -> None:
    """Lengths around the edges of the windows, with play, locks and tolerances that the random worlds seldom have."""
    kinds: tuple[dict[str, Any], ...] = (
        {},
        {"locking": True, "play_mm": 0.1},
        {"helicoid_mm": 1.0},
        {"tolerance_mm": 0.05, "play_mm": 0.05},
    )
    speaking = {"link": "pass"}
    every: tuple[dict[str, Any], ...] = ({}, {"play_mm": 0.2}, {"play_mm": 0.2, "locking": True})
    for seats in every:
        world = world_of(
            [
                ring(f"r{number}-{kind}", length, **{**more, **({} if mute else speaking)}, bore_mm=38.0)
                for number, length in enumerate(LENGTHS)
                for kind, more in enumerate(kinds)
            ],
            seat_tolerance_mm=0.02,
            the_lens=lens(**LENSES[case]),
            the_body=body(protocols=["speech"]),
            front=seats,
            protocols=[{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}],
        )
        for trust in ("nominal", "cautious"):
            assert_bounds_hold(world, Practice.model_validate({"trust": trust, "pieces": "1"}))
