"""The blur of a disc, from the contrast that an edge lost against a frame of the same edge in focus.

A disc of diameter d has the MTF 2·J₁(z)/z at z = π·d·f; whatever else blurs the picture blurs the reference alike.
"""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from tropeion.core.frozen import frozen

from .slanted import EdgeMeasured, Mtf

# Without a frame in focus: the MTF50 that a sharp frame usually has, and how unsure that is.
USUAL_MTF50: Final = 0.25
USUAL_MTF50_DOUBT: Final = 0.06
# Without a reference only a blur that is strong beside it counts.
STRONG_MTF50: Final = 0.08
_SHAPE_DOUBT: Final = 0.03
# Beyond it the disc has no contrast left to be halved: the first zero of J₁.
_FIRST_ZERO: Final = 3.8317059702


def bessel_1(x: float) -> float:
    """J₁(x) = (1/π)·∫₀^π cos(θ − x·sin θ) dθ."""
    theta = (np.arange(128) + 0.5) * np.pi / 128
    return float(np.cos(theta - x * np.sin(theta)).mean())


def disc_contrast(z: float) -> float:
    """2·J₁(z)/z, 1 at 0."""
    return 1.0 if z < 1e-9 else 2 * bessel_1(z) / z


def _inverse(contrast: float) -> float:
    """The z below the first zero at which a disc leaves so much contrast."""
    if contrast >= 1:
        return 0.0
    low, high = 0.0, _FIRST_ZERO
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if disc_contrast(middle) > contrast else (low, middle)
    return (low + high) / 2


@frozen
class InFocus:
    """A frame in focus: its whole MTF, or its MTF50 alone, with one standard uncertainty of that."""

    mtf50: float = USUAL_MTF50
    uncertainty: float = USUAL_MTF50_DOUBT
    mtf: Mtf | None = None

    @classmethod
    def of(cls, edge: EdgeMeasured) -> InFocus:
        """The same edge in the sharpest frame; too short for its doubt, a tenth."""
        return cls(edge.mtf50, edge.mtf50 / 10 if edge.uncertainty is None else edge.uncertainty, edge.mtf)

    def contrast(self, frequency: float, moved: float = 0.0) -> float:
        """M₀ at a frequency, with its MTF50 moved by so much."""
        half = max(1e-6, self.mtf50 + moved)
        if self.mtf is None:
            return float(2.0 ** -((frequency / half) ** 2))
        # The same curve, stretched.
        return self.mtf.at(frequency * self.mtf50 / half)


@frozen
class Blur:
    """The diameter of a disc on the sensor, in pixels, ± one standard uncertainty. ``in_focus``: none can be told."""

    diameter_px: float
    uncertainty_px: float
    in_focus: bool


def diameter_px(mtf50: float, focus: InFocus, moved: float = 0.0) -> float:
    """The disc that takes a frame in focus to this MTF50; 0 where it is no softer."""
    if mtf50 <= 0:
        return math.inf
    left = focus.contrast(mtf50, moved)
    return 0.0 if left <= 0.5 else _inverse(0.5 / left) / (math.pi * mtf50)


def blur_of(mtf50: float, uncertainty: float, focus: InFocus | None, *, as_sharpened: bool) -> Blur | None:
    """The blur behind an edge; None without a reference where it is not strong.

    ``as_sharpened``: a camera's own JPEG, whose doubt is one pixel at least.
    """
    if focus is None and mtf50 > STRONG_MTF50:
        return None
    known = focus or InFocus()
    both = math.hypot(uncertainty, known.uncertainty)
    least = 1.0 if as_sharpened else 0.0
    if mtf50 > known.mtf50 - 2 * both:
        # As far as can be told there is none; so much could hide.
        hidden = diameter_px(max(1e-3, known.mtf50 - both), known)
        return Blur(0.0, max(hidden, least), in_focus=True)
    found = diameter_px(mtf50, known)
    by_edge = abs(diameter_px(max(1e-4, mtf50 - uncertainty), known) - diameter_px(mtf50 + uncertainty, known)) / 2
    by_focus = abs(diameter_px(mtf50, known, known.uncertainty) - diameter_px(mtf50, known, -known.uncertainty)) / 2
    doubt = math.sqrt(by_edge**2 + by_focus**2 + (_SHAPE_DOUBT * found) ** 2)
    return Blur(found, max(doubt, least), in_focus=False)
