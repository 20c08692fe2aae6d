"""The blur of an edge in a picture, as the flange errors that it may mean: it says how far, not to which side.

d = |δ + K²·(x_ring − x(D))| / (N′·(1 + x(D)/f)): similar triangles behind the lens, its pupil as far as it is bright.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

from tropeion.core.frozen import frozen
from tropeion.core.optics.defocus import extension_for_mm

if TYPE_CHECKING:
    from .seen import Bench

# Nearer than so many focal lengths the thin lens is too rough.
_LEAST_FOCALS: Final = 10.0


@frozen
class BlurAt:
    """A disc on the sensor ± one standard uncertainty, at a marked stop, of an edge so far away.

    ``distance_mm`` is inf for far things. ``ring_mm`` is the distance on the scale of the ring, inf on its ∞ mark, None
    at its far stop.
    """

    blur_mm: float
    doubt_mm: float
    f_number: float
    distance_mm: float
    ring_mm: float | None


@frozen
class Hills:
    """Two errors that are as likely: so far to either side of where there would be no blur; ± one uncertainty each."""

    middle_mm: float
    apart_mm: float
    standard_uncertainty_mm: float


def hills_of(bench: Bench, at: BlurAt) -> Hills:
    """The errors that a blur may mean. Raises ValueError for a distance or a stop at which it tells nothing."""
    f = bench.focal_length_mm
    if not (at.blur_mm >= 0 and at.doubt_mm > 0 and at.f_number > 0):
        raise ValueError("a blur of 0 or more, its doubt and the stop, each more than 0")
    x = _extension(bench, at.distance_mm)
    ring = -bench.past_infinity_mm if at.ring_mm is None else _extension(bench, at.ring_mm)
    per_blur = bench.magnification * at.f_number * (1 + x / f)
    middle = bench.magnification**2 * (x - ring)
    return Hills(middle, at.blur_mm * per_blur, at.doubt_mm * per_blur)


def _extension(bench: Bench, distance_mm: float) -> float:
    if math.isinf(distance_mm):
        return 0.0
    least = _LEAST_FOCALS * bench.focal_length_mm
    x = extension_for_mm(bench.focal_length_mm, distance_mm + bench.offset_mm)
    if distance_mm < least or x is None:
        raise ValueError(f"{distance_mm / 1000:g} m is too near to tell: from {least / 1000:.2f} m on")
    return x


def errors_of(bench: Bench, at: BlurAt) -> tuple[tuple[float, float], ...]:
    """The errors in mm at the sensor that a blur may mean, each ± one standard uncertainty, the lesser first.

    One alone where the two cannot be told apart.
    """
    found = hills_of(bench, at)
    if found.apart_mm <= found.standard_uncertainty_mm:
        return ((found.middle_mm, max(found.apart_mm, found.standard_uncertainty_mm)),)
    ends = (found.middle_mm - found.apart_mm, found.middle_mm + found.apart_mm)
    return tuple((end, found.standard_uncertainty_mm) for end in sorted(ends, key=abs))
