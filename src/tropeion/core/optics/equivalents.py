"""What the combination becomes: focal length, aperture, crop, angle of view, light.

F = K·f and N′ = K·N are with the glass. A plain ring changes neither; glass changes the lens, not the sensor.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from tropeion.core.working import Calc, Symbol, formula, tidy

from .modes import FormatMode

__all__ = ["AngleOfView", "Equivalents", "equivalents_of", "f_number_with_glass", "stabiliser_entry_mm"]

CROP = "S. F. Ray, Applied Photographic Optics, ch. 21; the reference format is 36 × 24 mm"
VIEW = "S. F. Ray, Applied Photographic Optics, ch. 10 (angle of view)"

_F = Symbol("F", "mm", "focal length with the glass", "focal_length_mm")
_NW = Symbol("N′", "f", "f-number with the glass", "f_number")
_CROP = Symbol("crop", "×", "crop factor", "equivalents.crop_factor")


@formula(
    "focal_length_mm",
    "F = K·f",
    "mm",
    VIEW,
    k=Symbol("K", "", "magnification of all glass", "magnification"),
    focal_length_mm=Symbol("f", "mm", "marked focal length"),
)
def focal_length_with_glass_mm(k: float, focal_length_mm: float) -> float:
    """Focal length of the lens with the glass."""
    return k * focal_length_mm


@formula(
    "f_number",
    "N′ = K·N, no faster than each piece of glass passes",
    "f",
    VIEW,
    f_number=Symbol("N", "f", "marked f-number"),
    magnifications=Symbol("k", "", "magnification of each piece, lens first"),
    widest=Symbol("ceiling", "f", "widest f-number stated for each piece"),
)
def f_number_with_glass(f_number: float, magnifications: Sequence[float], widest: Sequence[float | None]) -> float:
    """Aperture of the lens with the glass, which exposure follows."""
    for k, ceiling in zip(magnifications, widest, strict=True):
        f_number *= k
        if ceiling is not None:
            f_number = max(f_number, ceiling)
    return f_number


@formula(
    "light_change_stops",
    "−2·log₂ K − losses",
    "stops",
    VIEW,
    k=Symbol("K", "", "magnification of all glass", "magnification"),
    losses_stops=Symbol("losses", "stops", "stated losses of pieces and filters"),
)
def light_change_stops(k: float, losses_stops: float) -> float:
    """Light gained (positive) or lost by the glass."""
    return -2 * math.log2(k) - losses_stops + 0.0


@formula(
    "equivalents.crop_factor",
    "√(36² + 24²)/diagonal",
    "×",
    CROP,
    diagonal_mm=Symbol("diagonal", "mm", "diagonal of the mode in use"),
)
def crop_by_diagonal(diagonal_mm: float) -> float:
    """Crop factor by the diagonal."""
    return math.hypot(36, 24) / diagonal_mm


@formula(
    "equivalents.crop_factor",
    "36/width",
    "×",
    CROP,
    width_mm=Symbol("width", "mm", "width of the mode in use"),
)
def crop_by_width(width_mm: float) -> float:
    """Crop factor by the width."""
    return 36 / width_mm


@formula("equivalents.focal_mm", "F·crop", "mm", CROP, focal_length_mm=_F, crop=_CROP)
def equivalent_focal_mm(focal_length_mm: float, crop: float) -> float:
    """Focal length that frames the same on 36 × 24 mm."""
    return focal_length_mm * crop


@formula("equivalents.f_number", "N′·crop", "f", CROP, f_number=_NW, crop=_CROP)
def equivalent_f_number(f_number: float, crop: float) -> float:
    """Aperture that gives the same depth of field on 36 × 24 mm. Exposure follows N′, not this."""
    return f_number * crop


@formula(
    "",
    "2·atan(d/2F)",
    "°",
    VIEW,
    side_mm=Symbol("d", "mm", "the side, times the squeeze if it is the horizontal one"),
    focal_length_mm=_F,
)
def angle_of_view_deg(side_mm: float, focal_length_mm: float) -> float:
    """Angle of view across one side or the diagonal."""
    return math.degrees(2 * math.atan2(side_mm, 2 * focal_length_mm))


@formula(
    "stabiliser.entry_mm",
    "F, rounded to the body's step and held in its range",
    "mm",
    "The body's entry field; the actual focal length, never the equivalent",
    focal_length_mm=_F,
    step_mm=Symbol("step", "mm", "step of the entry"),
    limits_mm=Symbol("range", "mm", "least and greatest entry"),
)
def stabiliser_entry_mm(focal_length_mm: float, step_mm: float, limits_mm: tuple[float, float]) -> float:
    """What to enter for the stabiliser."""
    entry = math.floor(tidy(focal_length_mm / step_mm) + 0.5) * step_mm
    return tidy(min(max(entry, limits_mm[0]), limits_mm[1]))


@formula(
    "equivalents.slowest_shutter_s",
    "2^stops/(F·crop)",
    "s",
    "S. F. Ray, Applied Photographic Optics, ch. 29: the hand-holding rule, with the stabiliser's stated stops",
    equivalent_mm=Symbol("F·crop", "mm", "equivalent focal length", "equivalents.focal_mm"),
    stops=Symbol("stops", "stops", "what the body's stabiliser is stated to gain"),
)
def slowest_shutter_s(equivalent_mm: float, stops: float) -> float:
    """Slowest safe shutter, hand-held."""
    return float(2**stops / equivalent_mm)


@dataclass(frozen=True, slots=True)
class AngleOfView:
    """In degrees."""

    horizontal: float
    vertical: float
    diagonal: float


@dataclass(frozen=True, slots=True)
class Equivalents:
    """On 36 × 24 mm. ``angle_of_view_deg`` is None for a fisheye, which has no rectilinear angle."""

    crop_factor: float
    focal_mm: float
    f_number: float
    angle_of_view_deg: AngleOfView | None
    slowest_shutter_s: float


def equivalents_of(
    *,
    mode: FormatMode,
    focal_length_mm: float,
    f_number: float,
    squeeze: float,
    fisheye: bool,
    crop: Literal["diagonal", "width"],
    stabiliser_stops: float,
    calc: Calc,
) -> Equivalents:
    """Equivalents and angles of view in the mode in use, of a lens with its glass."""
    factor = calc(crop_by_diagonal, mode.diagonal_mm) if crop == "diagonal" else calc(crop_by_width, mode.width_mm)
    focal = calc(equivalent_focal_mm, focal_length_mm, factor)
    angles = None
    if not fisheye:
        width = squeeze * mode.width_mm
        sides = (width, mode.height_mm, math.hypot(width, mode.height_mm))
        angles = AngleOfView(
            *(
                calc.under(f"equivalents.angle_of_view_deg.{name}")(angle_of_view_deg, side, focal_length_mm)
                for name, side in zip(("horizontal", "vertical", "diagonal"), sides, strict=True)
            )
        )
    return Equivalents(
        crop_factor=factor,
        focal_mm=focal,
        f_number=calc(equivalent_f_number, f_number, factor),
        angle_of_view_deg=angles,
        slowest_shutter_s=calc(slowest_shutter_s, focal, stabiliser_stops),
    )
