"""What to tell a stabiliser, and how far it may move inside the image circle."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.gear.bodies import Stabiliser
from tropeion.core.working import Calc, Symbol, formula, tidy

from .coverage import CIRCLE
from .modes import FormatMode
from .symbols import CIRCLE_AT_SENSOR, MODE_HEIGHT, MODE_WIDTH

__all__ = ["travel_fraction", "travel_step"]


@formula(
    "stabiliser.travel_fraction",
    "largest q ≤ 1 with (w/2 + qT)² + (h/2 + qT)² ≤ (C′/2)²",
    "",
    CIRCLE,
    circle_mm=CIRCLE_AT_SENSOR,
    width_mm=MODE_WIDTH,
    height_mm=MODE_HEIGHT,
    travel_mm=Symbol("T", "mm", "travel of the stabiliser, each way"),
)
def travel_fraction(circle_mm: float, width_mm: float, height_mm: float, travel_mm: float) -> float:
    """Share of the stabiliser's travel that stays inside the circle."""
    half_w, half_h, radius = width_mm / 2, height_mm / 2, circle_mm / 2
    if travel_mm == 0:
        return 1.0
    # 2(qT)² + (w + h)·qT + (half diagonal)² − radius² = 0, its positive root
    b = half_w + half_h
    discriminant = b * b - 2 * (half_w**2 + half_h**2 - radius**2)
    if discriminant < 0:
        return 0.0
    return min(1.0, max(0.0, (math.sqrt(discriminant) - b) / 2 / travel_mm))


@formula(
    "stabiliser.travel_step",
    "largest step ≤ q, else 0 (off)",
    "",
    "The steps that the body offers",
    fraction=Symbol("q", "", "share of the travel inside the circle", "stabiliser.travel_fraction"),
    steps=Symbol("steps", "", "steps that the body offers"),
)
def travel_step(fraction: float, steps: Sequence[float]) -> float:
    """The step to set on the body."""
    return max((step for step in steps if tidy(fraction - step) >= 0), default=0.0)


@dataclass(frozen=True, slots=True)
class StabiliserEntry:
    """What to tell the stabiliser: the focal length with the glass, never the equivalent; and how far it may move."""

    entry_mm: float
    travel_fraction: float | None
    travel_step: float | None


def stabiliser_travel(
    stabiliser: Stabiliser, mode: FormatMode, circle_mm: float | None, calc: Calc
) -> tuple[float | None, float | None]:
    """Share of the travel that stays in the circle, and the step to set; None where the circle is unknown."""
    if circle_mm is None:
        return None, None
    fraction = calc(travel_fraction, circle_mm, mode.width_mm, mode.height_mm, stabiliser.travel_mm)
    return fraction, calc(travel_step, fraction, stabiliser.travel_steps)
