"""What to tell a stabiliser, and how far it may move inside the image circle."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Stabiliser
from tropeion.core.working import Calc, Symbol, formula, tidy

from .coverage import CIRCLE
from .modes import FormatMode
from .symbols import CIRCLE_AT_SENSOR, MODE_HEIGHT, MODE_WIDTH


@formula(
    "stabiliser.entry_mm",
    "F, rounded to the body's step and held in its range",
    "mm",
    "The body's entry field; the actual focal length, never the equivalent",
    focal_length_mm=Symbol("F", "mm", "focal length with the glass", "focal_length_mm"),
    step_mm=Symbol("step", "mm", "step of the entry"),
    limits_mm=Symbol("range", "mm", "least and greatest entry"),
)
def stabiliser_entry_mm(focal_length_mm: float, step_mm: float, limits_mm: tuple[float, float]) -> float:
    """What to enter for the stabiliser."""
    entry = math.floor(tidy(focal_length_mm / step_mm) + 0.5) * step_mm
    return tidy(min(max(entry, limits_mm[0]), limits_mm[1]))


@formula(
    "stabiliser.entry_mm",
    "the preset nearest to F",
    "mm",
    "The presets of the body; the actual focal length, never the equivalent",
    focal_length_mm=Symbol("F", "mm", "focal length with the glass", "focal_length_mm"),
    presets_mm=Symbol("presets", "mm", "what the body offers"),
)
def stabiliser_preset_mm(focal_length_mm: float, presets_mm: Sequence[float]) -> float:
    """What to choose for the stabiliser, where it takes presets alone: the nearest by ratio, the longer of two."""
    return min(presets_mm, key=lambda preset: (abs(tidy(math.log(preset / focal_length_mm))), -preset))


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


@frozen
class StabiliserEntry:
    """What to tell the stabiliser: the focal length with the glass, never the equivalent; and how far it may move.

    ``held`` says what kept the entry from being that focal length: the body's range, or its presets. The step is
    ``decided`` by a measured circle; a stated or usual one, which is a minimum, only says where to look first
    (``look_at_corners``).
    """

    entry_mm: float
    held: Literal["range", "preset"] | None
    travel_fraction: float | None
    travel_step: float | None
    decided: bool
    look_at_corners: bool

    @property
    def on(self) -> bool:
        return self.travel_step != 0


def entry_of(
    stabiliser: Stabiliser,
    focal_length_mm: float,
    mode: FormatMode,
    circle_mm: float | None,
    *,
    measured: bool,
    calc: Calc,
) -> StabiliserEntry:
    """What to tell a stabiliser of a lens that does not identify itself; an unknown circle leaves the travel open."""
    entry, held = told_to(stabiliser, focal_length_mm, calc)
    if circle_mm is None:
        return StabiliserEntry(entry, held, None, None, decided=False, look_at_corners=True)
    fraction = calc(travel_fraction, circle_mm, mode.width_mm, mode.height_mm, stabiliser.travel_mm)
    largest = max(stabiliser.travel_steps, default=1.0)
    step = calc(travel_step, fraction, stabiliser.travel_steps) if measured else largest
    return StabiliserEntry(
        entry, held, fraction, step, decided=measured, look_at_corners=not measured and tidy(fraction - largest) < 0
    )


def told_to(
    stabiliser: Stabiliser, focal_length_mm: float, calc: Calc
) -> tuple[float, Literal["range", "preset"] | None]:
    """The nearest to a focal length that a stabiliser can be told, and what kept it from being that."""
    presets, step = stabiliser.presets_mm, stabiliser.entry_step_mm
    if presets:
        value = calc(stabiliser_preset_mm, focal_length_mm, presets)
        return value, "preset" if tidy(abs(value - focal_length_mm) - step / 2) > 0 else None
    value = calc(stabiliser_entry_mm, focal_length_mm, step, stabiliser.entry_mm)
    return value, "range" if tidy(abs(value - focal_length_mm) - step / 2) > 0 else None
