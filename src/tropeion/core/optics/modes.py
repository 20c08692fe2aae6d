"""The parts of a sensor that can be used, and which of them a circle covers."""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.working import tidy


@frozen
class FormatMode:
    """A part of the sensor in use; width and height in mm. ``whole``: it is the sensor, whatever its name."""

    name: str
    width_mm: float
    height_mm: float
    megapixels: float | None
    automatic: bool = False
    whole: bool = False

    @property
    def diagonal_mm(self) -> float:
        return math.hypot(self.width_mm, self.height_mm)


def modes_of(body: Body, use: str) -> tuple[FormatMode, ...]:
    """The modes to choose from, the full sensor first; ``use`` is ``still`` or ``film``."""
    full = FormatMode("full", *body.sensor_mm, body.megapixels, whole=True)
    return (
        full,
        *(
            FormatMode(mode.name, *mode.sensor_mm, mode.megapixels, mode.automatic)
            for mode in body.modes
            if mode.use in {use, "both"}
        ),
    )


def mode_named(body: Body, use: str, name: str) -> FormatMode | None:
    """A mode by its name, the whole sensor's being ``full``; None where the body has none of it."""
    return next((mode for mode in modes_of(body, use) if mode.name == name), None)


def choose_mode(modes: Sequence[FormatMode], circle_mm: float | None) -> tuple[FormatMode, bool]:
    """The covered mode with the most pixels, then the larger area; else the full sensor, not covered.

    A full sensor of unknown pixel count ranks above its own modes. An unknown circle keeps the full sensor.
    """
    full = modes[0]
    if circle_mm is None:
        return full, True
    covered = [mode for mode in modes if tidy(circle_mm - mode.diagonal_mm) >= 0]
    if not covered:
        return full, False

    def size(mode: FormatMode) -> tuple[float, float]:
        pixels = mode.megapixels
        if pixels is None:
            pixels = math.inf if mode is full else 0.0
        return pixels, mode.width_mm * mode.height_mm

    return max(covered, key=size), True
