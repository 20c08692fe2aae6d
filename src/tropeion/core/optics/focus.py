"""Reach: focus travel, extensions, and the nearest and farthest sharp distance.

f is the lens's marked focal length, N its marked f-number, K the magnification of all glass in the chain. An extension
x is how far the lens stands, on its own side, beyond its infinity focus. Distances D run from the lens's own image
plane: the sensor, unless there is glass, which carries the image a few millimetres on. ``sensor_offset_mm`` says how
many: the real sensor is that much nearer to the subject. All lengths in mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from tropeion.core.working import Calc, Symbol, formula, tidy

from .symbols import GLASS, MARKED_F_NUMBER, MARKED_FOCAL_LENGTH

__all__ = [
    "FocusState",
    "Reach",
    "close_magnification",
    "extensions",
    "far_mm",
    "near_mm",
    "object_distance_mm",
    "reach",
    "sensor_offset_mm",
    "travel",
    "travel_assumed_mm",
    "travel_mm",
]

# "unknown": whether anything comes into focus cannot be told, since nobody knows how far the lens is focused out.
FocusState = Literal["none", "finite", "to_infinity", "unknown"]


GAUSS = "Gaussian lens equation: W. J. Smith, Modern Optical Engineering, ch. 2"


@formula(
    "focus.close_magnification",
    "m = (b − √(b² − 4))/2, b = D/f − 2",
    "×",
    GAUSS,
    distance_mm=Symbol("D", "mm", "stated closest focus, from the sensor plane of its own body"),
    focal_length_mm=MARKED_FOCAL_LENGTH,
)
def close_magnification(distance_mm: float, focal_length_mm: float) -> float | None:
    """Magnification at the stated closest focus; nothing below D = 4f, which no thin lens reaches."""
    b = distance_mm / focal_length_mm - 2
    return None if b < 2 else (b - math.sqrt(b * b - 4)) / 2


@formula(
    "focus.travel_mm",
    "e = m·f",
    "mm",
    GAUSS,
    magnification=Symbol("m", "×", "magnification at closest focus", "focus.close_magnification"),
    focal_length_mm=MARKED_FOCAL_LENGTH,
)
def travel_mm(magnification: float, focal_length_mm: float) -> float:
    """The lens's own focus travel from infinity."""
    return magnification * focal_length_mm


def travel(
    focal_length_mm: float, min_focus_m: float | None, max_magnification: float | None, calc: Calc
) -> float | None:
    """The focus travel e in mm, from a stated magnification or from the closest focus; None if unknown."""
    m = max_magnification
    if m is None and min_focus_m is not None:
        m = calc(close_magnification, min_focus_m * 1000, focal_length_mm)
    return None if m is None else calc(travel_mm, m, focal_length_mm)


@formula(
    "focus.travel_assumed_mm",
    "e₀ = 0.02·f",
    "mm",
    "Assumed where neither closest focus nor greatest magnification is known: focus on some 50 focal lengths",
    focal_length_mm=MARKED_FOCAL_LENGTH,
)
def travel_assumed_mm(focal_length_mm: float) -> float:
    """What every lens can surely be focused out by."""
    return 0.02 * focal_length_mm


@formula(
    "focus.extension_short_mm",
    "x_short = δ_lens − past infinity",
    "mm",
    GAUSS,
    lens_error_mm=Symbol("δ_lens", "mm", "register error as the lens sees it", "lens_side_error_mm"),
    past_infinity_mm=Symbol("past infinity", "mm", "travel beyond the infinity mark"),
)
def extension_short_mm(lens_error_mm: float, past_infinity_mm: float) -> float:
    """Least extension: the lens at its infinity stop."""
    return tidy(lens_error_mm - past_infinity_mm)


@formula(
    "focus.extension_long_mm",
    "x_long = δ_lens + e + helicoids",
    "mm",
    GAUSS,
    lens_error_mm=Symbol("δ_lens", "mm", "register error as the lens sees it", "lens_side_error_mm"),
    travel=Symbol("e", "mm", "the lens's own focus travel", "focus.travel_mm"),
    helicoid_mm=Symbol("helicoids", "mm", "what opened helicoids add"),
)
def extension_long_mm(lens_error_mm: float, travel: float, helicoid_mm: float) -> float:
    """Greatest extension: the lens at its closest focus, helicoids open."""
    return tidy(lens_error_mm + travel + helicoid_mm)


def extensions(
    lens_error_mm: float, past_infinity_mm: float, travel: float | None, helicoid_mm: float, calc: Calc
) -> tuple[float, float | None]:
    """Least and greatest extension in mm; the greatest is None where the travel is unknown."""
    short = calc(extension_short_mm, lens_error_mm, past_infinity_mm)
    if travel is None:
        return short, None
    return short, calc(extension_long_mm, lens_error_mm, travel, helicoid_mm)


@formula(
    "focus.distance_mm",
    "D = 2f + f²/x + x",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    extension_mm=Symbol("x", "mm", "extension beyond infinity focus"),
)
def object_distance_mm(focal_length_mm: float, extension_mm: float) -> float:
    """Distance of the sharp subject from the lens's own image plane, for x > 0."""
    return 2 * focal_length_mm + focal_length_mm**2 / extension_mm + extension_mm


@formula(
    "focus.near_mm",
    "least D over x_short … x_long",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    short_mm=Symbol("x_short", "mm", "least extension", "focus.extension_short_mm"),
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
)
def near_mm(focal_length_mm: float, short_mm: float, long_mm: float) -> float:
    """Nearest sharp distance. D falls until x = f (where it is 4f) and grows again beyond."""
    if short_mm <= focal_length_mm <= long_mm:
        return 4 * focal_length_mm
    x = long_mm if long_mm < focal_length_mm else short_mm
    return object_distance_mm(focal_length_mm, x)


@formula(
    "focus.far_mm",
    "greatest D over x_short … x_long",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    short_mm=Symbol("x_short", "mm", "least extension", "focus.extension_short_mm"),
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
)
def far_mm(focal_length_mm: float, short_mm: float, long_mm: float | None) -> float:
    """Farthest sharp distance of a rig that does not reach infinity."""
    ends = [short_mm] if long_mm is None else [short_mm, long_mm]
    return max(object_distance_mm(focal_length_mm, x) for x in ends)


@formula(
    "focus.max_magnification",
    "K·x_long/f",
    "×",
    GAUSS,
    k=GLASS,
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
    focal_length_mm=MARKED_FOCAL_LENGTH,
)
def max_magnification(k: float, long_mm: float, focal_length_mm: float) -> float:
    """Greatest magnification on the sensor."""
    return k * long_mm / focal_length_mm


@formula(
    "focus.close_f_number",
    "N·(K + m)",
    "f",
    "S. F. Ray, Applied Photographic Optics, ch. 9 (bellows factor, pupil ratio 1)",
    f_number=MARKED_F_NUMBER,
    k=GLASS,
    magnification=Symbol("m", "×", "greatest magnification", "focus.max_magnification"),
)
def close_f_number(f_number: float, k: float, magnification: float) -> float:
    """The aperture that exposure follows at the closest focus."""
    return f_number * (k + magnification)


@formula(
    "focus.sensor_offset_mm",
    "R_l + δ_lens − R_b − ΣL",
    "mm",
    GAUSS,
    lens_register_mm=Symbol("R_l", "mm", "register of the lens"),
    lens_error_mm=Symbol("δ_lens", "mm", "register error as the lens sees it", "lens_side_error_mm"),
    body_register_mm=Symbol("R_b", "mm", "register of the body"),
    length_mm=Symbol("ΣL", "mm", "physical length of the whole chain"),
)
def sensor_offset_mm(lens_register_mm: float, lens_error_mm: float, body_register_mm: float, length_mm: float) -> float:
    """With glass: how much nearer to the subject the sensor is than the lens's own image plane."""
    return tidy(lens_register_mm + lens_error_mm - body_register_mm - length_mm)


@dataclass(frozen=True, slots=True)
class Reach:
    """What distances can be focused, in mm; ``far_mm`` is None in the state ``to_infinity``.

    Distances from the real sensor are these less ``sensor_offset_mm``, which is 0 without glass.
    """

    state: FocusState
    near_mm: float | None
    far_mm: float | None
    max_magnification: float | None
    close_f_number: float | None
    sensor_offset_mm: float = 0.0


def reach(
    focal_length_mm: float,
    f_number: float,
    k: float,
    short_mm: float,
    long_mm: float | None,
    offset_mm: float,
    calc: Calc,
) -> Reach:
    """The range of sharp distances of a lens that can be focused, over its extensions in mm."""
    m = close = None
    if long_mm is not None and long_mm > 0:
        m = calc(max_magnification, k, long_mm, focal_length_mm)
        close = calc(close_f_number, f_number, k, m)
    near = far = None
    if long_mm is not None and long_mm > 0:
        near = calc(near_mm, focal_length_mm, max(short_mm, 0.0), long_mm)
    if short_mm <= 0:
        return Reach("to_infinity", near, None, m, close, offset_mm)
    far = calc(far_mm, focal_length_mm, short_mm, long_mm)
    return Reach("finite", near, far, m, close, offset_mm)
