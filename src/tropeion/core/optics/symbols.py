"""Symbols that several formulas share."""

from __future__ import annotations

from typing import Final

from tropeion.core.working import Symbol

MARKED_FOCAL_LENGTH: Final = Symbol("f", "mm", "marked focal length")
MARKED_F_NUMBER: Final = Symbol("N", "f", "marked f-number")
GLASS: Final = Symbol("K", "", "magnification of all glass", "magnification")
BLUR: Final = Symbol("c", "mm", "circle of confusion", "circle_of_confusion_mm")
MODE_WIDTH: Final = Symbol("w", "mm", "width of the mode in use")
MODE_HEIGHT: Final = Symbol("h", "mm", "its height")
CIRCLE_AT_SENSOR: Final = Symbol("C′", "mm", "image circle at the sensor", "coverage.image_circle_mm")
