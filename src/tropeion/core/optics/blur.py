"""The blur that still passes for sharp."""

from __future__ import annotations

import math

from tropeion.core.working import Calc, Symbol, formula

from .modes import FormatMode


@formula(
    "circle_of_confusion_mm",
    "c = diagonal/divisor",
    "mm",
    "S. F. Ray, Applied Photographic Optics, ch. 22; the divisor is a setting",
    diagonal_mm=Symbol("diagonal", "mm", "diagonal of the mode in use"),
    divisor=Symbol("divisor", "", "1500, 2000 or 3000"),
)
def circle_of_confusion_mm(diagonal_mm: float, divisor: float) -> float:
    """The blur that still passes for sharp."""
    return diagonal_mm / divisor


@formula(
    "circle_of_confusion_mm",
    "c = 2·√(w·h/pixels)",
    "mm",
    "Two pixels, from the mode's own count",
    width_mm=Symbol("w", "mm", "width of the mode in use"),
    height_mm=Symbol("h", "mm", "its height"),
    megapixels=Symbol("pixels", "million", "its pixels"),
)
def two_pixels_mm(width_mm: float, height_mm: float, megapixels: float) -> float:
    """The blur that still passes for sharp, two pixels wide."""
    return 2 * math.sqrt(width_mm * height_mm / (megapixels * 1e6))


def blur_of(mode: FormatMode, choice: str, calc: Calc) -> float:
    """The circle of confusion in a mode, in mm: two of its pixels, or its diagonal by the divisor chosen.

    Where the pixels are not known, two pixels are taken as a 1500th of the diagonal.
    """
    if choice == "two_pixels" and mode.megapixels is not None:
        return calc(two_pixels_mm, mode.width_mm, mode.height_mm, mode.megapixels)
    return calc(circle_of_confusion_mm, mode.diagonal_mm, 1500.0 if choice == "two_pixels" else float(choice))
