"""What a lens that is set for one distance makes of a point at another: extension for a distance, and blur.

Distances D run from the lens's own image plane, u from the lens. Lengths in mm.
"""

from __future__ import annotations

import math
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from tropeion.core.working import Symbol, formula

from .symbols import GLASS, MARKED_F_NUMBER, MARKED_FOCAL_LENGTH

GAUSS = "Gaussian lens equation: W. J. Smith, Modern Optical Engineering, ch. 2"
TRIANGLES = "Similar triangles, pupil ratio 1: S. F. Ray, Applied Photographic Optics, ch. 22"
# Nearer than this many focal lengths, extension changes too steeply with distance to be derived from it.
TOO_NEAR = 4.05


@formula(
    "frame.extension_mm",
    "x = ((D − 2f) − √((D − 2f)² − 4f²))/2",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    distance_mm=Symbol("D", "mm", "distance that is to be sharp; infinity: x = 0"),
)
def extension_for_mm(focal_length_mm: float, distance_mm: float) -> float | None:
    """Extension beyond infinity focus at which a distance is sharp; None below 4f, which no thin lens reaches."""
    if math.isinf(distance_mm):
        return 0.0
    b = distance_mm - 2 * focal_length_mm
    if b < 2 * focal_length_mm:
        return None
    # The same as (b − √(b² − 4f²))/2, without the loss of digits at great distances.
    return 2 * focal_length_mm**2 / (b + math.sqrt(b * b - 4 * focal_length_mm**2))


@formula(
    "frame.extension_uncertainty_mm",
    "u_x = |x²/(f² − x²)|·u_D",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    distance_mm=Symbol("D", "mm", "distance that is to be sharp"),
    uncertainty_mm=Symbol("u_D", "mm", "its standard uncertainty"),
)
def extension_uncertainty_mm(focal_length_mm: float, distance_mm: float, uncertainty_mm: float) -> float | None:
    """How unsure the extension is with the distance; None nearer than 4.05 f, which is too near to tell."""
    if distance_mm < TOO_NEAR * focal_length_mm:
        return None
    x = extension_for_mm(focal_length_mm, distance_mm)
    return None if x is None else abs(x * x / (focal_length_mm**2 - x * x)) * uncertainty_mm


@formula(
    "frame.blur.diameter_mm",
    "b = K·(f/N)·|x/f − (f + x)/u|, u = D − f − x",
    "mm",
    TRIANGLES,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    f_number=MARKED_F_NUMBER,
    k=GLASS,
    extension_mm=Symbol("x", "mm", "how far the lens stands beyond its infinity focus", "frame.set_mm"),
    distance_mm=Symbol("D", "mm", "distance of the point"),
)
def blur_diameter_mm(
    focal_length_mm: float, f_number: float, k: float, extension_mm: float, distance_mm: float
) -> float | None:
    """Diameter of the blur disc of a point at the sensor; None for a point inside the lens."""
    if math.isinf(distance_mm):
        return infinity_blur_mm(f_number, k, extension_mm)
    u = distance_mm - focal_length_mm - extension_mm
    if u <= 0:
        return None
    return blur_by_nearness_mm(focal_length_mm, f_number, k, extension_mm, 1 / u)


N = TypeVar("N", float, npt.NDArray[np.float64], npt.NDArray[np.float32])


def blur_by_nearness_mm(focal_length_mm: float, f_number: float, k: float, extension_mm: float, nearness: N) -> N:
    """The same by 1/u, in 1/mm: one number, or one for each pixel of a picture."""
    away = extension_mm / focal_length_mm - (focal_length_mm + extension_mm) * nearness
    return k * focal_length_mm / f_number * abs(away)


@formula(
    "frame.blur.infinity_mm",
    "b∞ = K·|x|/N",
    "mm",
    TRIANGLES,
    f_number=MARKED_F_NUMBER,
    k=GLASS,
    extension_mm=Symbol("x", "mm", "how far the lens stands beyond its infinity focus", "frame.set_mm"),
)
def infinity_blur_mm(f_number: float, k: float, extension_mm: float) -> float:
    """Diameter of the blur disc of a star."""
    return k * abs(extension_mm) / f_number
