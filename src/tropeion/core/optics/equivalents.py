"""What the combination becomes: focal length, aperture, crop, angle of view, light.

F = K·f and N′ = K·N are with the glass. A plain ring changes neither; glass changes the lens, not the sensor.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.working import Calc, Symbol, formula

from .modes import FormatMode

CROP = "S. F. Ray, Applied Photographic Optics, ch. 21; the reference format is 36 × 24 mm"
SAME_DEPTH = "S. F. Ray, Applied Photographic Optics, ch. 22: equal framing, distances much greater than f"
HAND_HELD = "S. F. Ray, Applied Photographic Optics, ch. 29: the hand-holding rule, with the stabiliser's stated stops"
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
    "2·log₂(N/N′) − losses",
    "stops",
    VIEW,
    f_number=Symbol("N", "f", "marked f-number"),
    with_glass=_NW,
    losses_stops=Symbol("losses", "stops", "stated losses of pieces and filters"),
)
def light_change_stops(f_number: float, with_glass: float, losses_stops: float) -> float:
    """Light gained (positive) or lost by the glass, no more than it passes at its widest."""
    return 2 * math.log2(f_number / with_glass) - losses_stops + 0.0


@formula(
    "t_number",
    "T′ = T·N′/N",
    "T",
    VIEW,
    t_number=Symbol("T", "T", "marked T-number"),
    with_glass=_NW,
    f_number=Symbol("N", "f", "marked f-number"),
)
def t_number_with_glass(t_number: float, with_glass: float, f_number: float) -> float:
    """What exposure follows where the lens states how much light it passes."""
    return t_number * with_glass / f_number


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


@formula("equivalents.crop_factor", "36/width", "×", CROP, width_mm=Symbol("width", "mm", "width of the mode in use"))
def crop_by_width(width_mm: float) -> float:
    """Crop factor by the width."""
    return 36 / width_mm


@formula("equivalents.focal_mm", "F·crop", "mm", CROP, focal_length_mm=_F, crop=_CROP)
def equivalent_focal_mm(focal_length_mm: float, crop: float) -> float:
    """Focal length that frames the same on 36 × 24 mm."""
    return focal_length_mm * crop


@formula(
    "equivalents.focal_horizontal_mm",
    "F·crop/q",
    "mm",
    CROP,
    focal_mm=Symbol("F·crop", "mm", "equivalent focal length", "equivalents.focal_mm"),
    squeeze=Symbol("q", "×", "squeeze of the lens"),
)
def equivalent_horizontal_mm(focal_mm: float, squeeze: float) -> float:
    """Focal length that frames the same width, once the squeeze is undone."""
    return focal_mm / squeeze


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
    "equivalents.slowest_shutter_s",
    "1/(F·crop)",
    "s",
    HAND_HELD,
    equivalent_mm=Symbol("F·crop", "mm", "equivalent focal length", "equivalents.focal_mm"),
)
def slowest_shutter_s(equivalent_mm: float) -> float:
    """Slowest safe shutter, hand-held, with nothing that steadies it."""
    return 1 / equivalent_mm


@formula(
    "stabiliser.slowest_shutter_s",
    "2^stops/(F·crop)",
    "s",
    HAND_HELD,
    unaided_s=Symbol("1/(F·crop)", "s", "slowest shutter without it", "equivalents.slowest_shutter_s"),
    stops=Symbol("stops", "stops", "what the body's stabiliser is stated to gain"),
)
def steadied_shutter_s(unaided_s: float, stops: float) -> float:
    """Slowest safe shutter, hand-held, with the stabiliser on."""
    return float(2**stops * unaided_s)


@formula(
    "beside.f_number",
    "N_A·crop_A·K_A/(crop_B·K_B)",
    "f",
    SAME_DEPTH,
    f_number=Symbol("N_A", "f", "marked aperture of the first rig"),
    crop_there=Symbol("crop_A", "×", "its crop factor"),
    k_there=Symbol("K_A", "", "magnification of its glass"),
    crop_here=Symbol("crop_B", "×", "crop factor of the second rig"),
    k_here=Symbol("K_B", "", "magnification of its glass"),
)
def same_depth_f_number(f_number: float, crop_there: float, k_there: float, crop_here: float, k_here: float) -> float:
    """The aperture on the second rig's ring that gives the depth of the first, at equal framing."""
    return f_number * crop_there * k_there / (crop_here * k_here)


@formula(
    "beside.noise_stops",
    "−2·log₂((N′·crop)_B/(N′·crop)_A)",
    "stops",
    "S. F. Ray, Applied Photographic Optics, ch. 21: noise follows the light gathered over the whole picture",
    there=Symbol("(N′·crop)_A", "f", "total-light aperture of the first rig"),
    here=Symbol("(N′·crop)_B", "f", "total-light aperture of the second rig"),
)
def total_light_stops(there: float, here: float) -> float:
    """How much more light the second rig gathers over its picture than the first."""
    return -2 * math.log2(here / there) + 0.0


@frozen
class AngleOfView:
    """In degrees."""

    horizontal: float
    vertical: float
    diagonal: float


@frozen
class Equivalents:
    """On 36 × 24 mm. ``angle_of_view_deg`` is None for a fisheye, which has no rectilinear angle."""

    crop_factor: float
    focal_mm: float
    focal_horizontal_mm: float
    f_number: float
    angle_of_view_deg: AngleOfView | None
    slowest_shutter_s: float


def angles_of(
    *, mode: FormatMode, focal_length_mm: float, squeeze: float, fisheye: bool, calc: Calc
) -> AngleOfView | None:
    """Angles of view in the mode in use, of a lens with its glass; None for a fisheye."""
    if fisheye:
        return None
    width = squeeze * mode.width_mm
    sides = (width, mode.height_mm, math.hypot(width, mode.height_mm))
    return AngleOfView(
        *[
            calc.under(f"equivalents.angle_of_view_deg.{name}")(angle_of_view_deg, side, focal_length_mm)
            for name, side in zip(("horizontal", "vertical", "diagonal"), sides, strict=True)
        ]
    )


def equivalents_of(
    *,
    mode: FormatMode,
    focal_length_mm: float,
    f_number: float,
    squeeze: float,
    fisheye: bool,
    crop: Literal["diagonal", "width"],
    calc: Calc,
) -> Equivalents:
    """Equivalents and angles of view in the mode in use, of a lens with its glass."""
    factor = calc(crop_by_diagonal, mode.diagonal_mm) if crop == "diagonal" else calc(crop_by_width, mode.width_mm)
    focal = calc(equivalent_focal_mm, focal_length_mm, factor)
    angles = angles_of(mode=mode, focal_length_mm=focal_length_mm, squeeze=squeeze, fisheye=fisheye, calc=calc)
    return Equivalents(
        crop_factor=factor,
        focal_mm=focal,
        focal_horizontal_mm=calc(equivalent_horizontal_mm, focal, squeeze),
        f_number=calc(equivalent_f_number, f_number, factor),
        angle_of_view_deg=angles,
        slowest_shutter_s=calc(slowest_shutter_s, focal),
    )
