"""Reach: closest focus, infinity and depth of field.

f is the lens's marked focal length, N its marked f-number, K the magnification of all glass in the chain, c the
circle of confusion on the sensor. An extension x is how far the lens stands, on its own side, beyond its infinity
focus. Distances D run from the lens's own image plane: the sensor, unless there is glass, which carries the image a
few millimetres on. ``sensor_offset_mm`` says how many: the real sensor is that much nearer to the subject.
All lengths in mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from tropeion.core.working import Calc, Symbol, formula, tidy

__all__ = [
    "DepthOfField",
    "FocusState",
    "Infinity",
    "Reach",
    "circle_of_confusion_mm",
    "depth_of_field",
    "extensions",
    "infinity",
    "object_distance_mm",
    "reach",
    "sensor_offset_mm",
    "stops_of",
    "travel",
]

FocusState = Literal["none", "finite", "to_infinity"]

GAUSS = "Gaussian lens equation: W. J. Smith, Modern Optical Engineering, ch. 2"
RAY = "S. F. Ray, Applied Photographic Optics, ch. 22 (depth of focus and of field)"
TOLERANCE = "Depth of focus N′·c (Ray, ch. 22) over a normal register error (JCGM 100, 4.3)"

_F = Symbol("f", "mm", "marked focal length")
_N = Symbol("N", "f", "marked f-number")
_K = Symbol("K", "", "magnification of all glass", "magnification")
_C = Symbol("c", "mm", "circle of confusion", "circle_of_confusion_mm")
_S = Symbol("s", "mm", "short end of the focus range at the sensor", "infinity.short_end_mm")
_S_LONG = Symbol("s_long", "mm", "long end of the focus range at the sensor", "infinity.long_end_mm")


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


@formula(
    "focus.close_magnification",
    "m = (b − √(b² − 4))/2, b = D/f − 2",
    "×",
    GAUSS,
    distance_mm=Symbol("D", "mm", "stated closest focus, from the sensor plane of its own body"),
    focal_length_mm=_F,
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
    focal_length_mm=_F,
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
    focal_length_mm=_F,
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
    focal_length_mm=_F,
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
    focal_length_mm=_F,
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
    k=_K,
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
    focal_length_mm=_F,
)
def max_magnification(k: float, long_mm: float, focal_length_mm: float) -> float:
    """Greatest magnification on the sensor."""
    return k * long_mm / focal_length_mm


@formula(
    "focus.close_f_number",
    "N·(K + m)",
    "f",
    "S. F. Ray, Applied Photographic Optics, ch. 9 (bellows factor, pupil ratio 1)",
    f_number=_N,
    k=_K,
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


@formula(
    "infinity.short_end_mm",
    "s = δ − K²·past infinity",
    "mm",
    TOLERANCE,
    error_mm=Symbol("δ", "mm", "register error at the sensor", "register_error_mm"),
    k=_K,
    past_infinity_mm=Symbol("past infinity", "mm", "travel beyond the infinity mark"),
)
def short_end_mm(error_mm: float, k: float, past_infinity_mm: float) -> float:
    """Where the image of infinity falls with the lens at its infinity stop; positive in front of the sensor."""
    return tidy(error_mm - k**2 * past_infinity_mm)


@formula(
    "infinity.long_end_mm",
    "s_long = δ + K²·e",
    "mm",
    TOLERANCE,
    error_mm=Symbol("δ", "mm", "register error at the sensor", "register_error_mm"),
    k=_K,
    travel=Symbol("e", "mm", "the lens's own focus travel", "focus.travel_mm"),
    helicoid_mm=Symbol("helicoids", "mm", "what opened helicoids add, at the sensor"),
)
def long_end_mm(error_mm: float, k: float, travel: float, helicoid_mm: float) -> float:
    """Where the image of infinity falls with the lens at its closest focus."""
    return tidy(error_mm + k**2 * travel + helicoid_mm)


@formula(
    "infinity.from_f_number",
    "max(N, s/(K·c), −s_long/(K·c))",
    "f",
    TOLERANCE,
    f_number=_N,
    short_mm=_S,
    long_mm=_S_LONG,
    k=_K,
    circle_mm=_C,
    allowance_mm=Symbol("worst case", "mm", "added to s, taken from s_long, by the cautious school"),
)
def from_f_number(
    f_number: float,
    short_mm: float,
    long_mm: float | None,
    k: float,
    circle_mm: float,
    allowance_mm: float = 0.0,
) -> float:
    """The widest marked aperture at which infinity is sharp."""
    window = k * circle_mm
    needed = max(f_number, tidy(short_mm + allowance_mm) / window)
    return needed if long_mm is None else max(needed, -tidy(long_mm - allowance_mm) / window)


@formula(
    "infinity.probability",
    "Φ((K·N·c − s)/u) − Φ((−K·N·c − s_long)/u)",
    "",
    TOLERANCE,
    f_number=_N,
    short_mm=_S,
    long_mm=_S_LONG,
    k=_K,
    circle_mm=_C,
    uncertainty_mm=Symbol(
        "u", "mm", "standard uncertainty of the register", "register_tolerance_mm.standard_uncertainty"
    ),
)
def probability(
    f_number: float,
    short_mm: float,
    long_mm: float | None,
    k: float,
    circle_mm: float,
    uncertainty_mm: float,
) -> float:
    """How likely infinity is sharp at this aperture, given the tolerances of every piece."""
    window = k * f_number * circle_mm

    def below(distance: float) -> float:
        if uncertainty_mm == 0:
            return 1.0 if tidy(distance) >= 0 else 0.0
        return 0.5 * math.erfc(-distance / uncertainty_mm / math.sqrt(2))

    upper = below(window - short_mm)
    if long_mm is None:
        return upper
    # The far side of the step counts as sharp too: s_long = −K·N·c is just inside.
    lower = 1.0 - below(window + long_mm)
    return max(0.0, upper - lower)


@formula(
    "infinity.margin_mm",
    "−s",
    "mm",
    TOLERANCE,
    short_mm=_S,
)
def margin_mm(short_mm: float) -> float:
    """How far the lens turns past infinity; negative: how much is missing."""
    return tidy(-short_mm)


@dataclass(frozen=True, slots=True)
class Stop:
    """One full stop on the hundredths strip: half-width of its window in mm and the share that falls inside."""

    f_number: float
    window_mm: float
    probability: float


@dataclass(frozen=True, slots=True)
class Infinity:
    """Whether infinity is sharp. ``from_f_number`` is the marked aperture, None above the smallest stop."""

    reached: bool
    margin_mm: float
    from_f_number: float | None
    probability: float | None
    stops: tuple[Stop, ...]
    short_end_mm: float
    long_end_mm: float | None


_FULL_STOPS = (1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0, 45.0, 64.0)


def infinity(
    *,
    error_mm: float,
    past_infinity_mm: float,
    travel: float | None,
    helicoid_mm: float,
    f_numbers: tuple[float, float],
    k: float,
    circle_mm: float,
    uncertainty_mm: float,
    allowance_mm: float,
    calc: Calc,
) -> Infinity:
    """Judge infinity over the usable marked apertures ``f_numbers``, widest and smallest.

    ``allowance_mm`` is the worst case of the tolerances for the cautious school, 0 for the nominal one. An
    unknown ``travel`` leaves infinity to the short end alone. ``helicoid_mm`` is scaled to the sensor. The windows
    of the strip are left to :func:`stops_of`.
    """
    widest, smallest = f_numbers
    short = calc(short_end_mm, error_mm, k, past_infinity_mm)
    long = None if travel is None else calc(long_end_mm, error_mm, k, travel, helicoid_mm)
    needed = calc(from_f_number, widest, short, long, k, circle_mm, allowance_mm)
    chance = calc(probability, widest, short, long, k, circle_mm, uncertainty_mm)
    return Infinity(
        reached=needed <= widest,
        margin_mm=calc(margin_mm, short),
        from_f_number=needed if needed <= smallest else None,
        probability=chance,
        stops=(),
        short_end_mm=short,
        long_end_mm=long,
    )


def stops_of(
    found: Infinity, f_numbers: tuple[float, float], *, k: float, circle_mm: float, uncertainty_mm: float
) -> tuple[Stop, ...]:
    """The windows of the hundredths strip: the widest usable aperture and every full stop above it."""
    widest, smallest = f_numbers
    return tuple(
        Stop(
            n,
            k * n * circle_mm,
            probability(n, found.short_end_mm, found.long_end_mm, k, circle_mm, uncertainty_mm),
        )
        for n in (widest, *(n for n in _FULL_STOPS if widest < n <= smallest))
    )


@formula(
    "depth_of_field.hyperfocal_mm",
    "H = f²/(N·c/K) + f",
    "mm",
    RAY,
    focal_length_mm=_F,
    f_number=_N,
    circle_mm=_C,
    k=_K,
)
def hyperfocal_mm(focal_length_mm: float, f_number: float, circle_mm: float, k: float) -> float:
    """Hyperfocal distance, from the lens."""
    return focal_length_mm**2 / (f_number * circle_mm / k) + focal_length_mm


@formula(
    "depth_of_field.near_mm",
    "u(H − f)/(H + u − 2f), plus f + x",
    "mm",
    RAY,
    subject_mm=Symbol("u", "mm", "f + f²/x, the subject's distance from the lens"),
    hyperfocal=Symbol("H", "mm", "hyperfocal distance", "depth_of_field.hyperfocal_mm"),
    focal_length_mm=_F,
    extension_mm=Symbol("x", "mm", "extension beyond infinity focus"),
)
def depth_near_mm(subject_mm: float, hyperfocal: float, focal_length_mm: float, extension_mm: float) -> float:
    """Near end of the depth of field, from the lens's image plane."""
    near = subject_mm * (hyperfocal - focal_length_mm) / (hyperfocal + subject_mm - 2 * focal_length_mm)
    return near + focal_length_mm + extension_mm


@formula(
    "depth_of_field.far_mm",
    "u(H − f)/(H − u), plus f + x; infinite from u ≥ H",
    "mm",
    RAY,
    subject_mm=Symbol("u", "mm", "f + f²/x, the subject's distance from the lens"),
    hyperfocal=Symbol("H", "mm", "hyperfocal distance", "depth_of_field.hyperfocal_mm"),
    focal_length_mm=_F,
    extension_mm=Symbol("x", "mm", "extension beyond infinity focus"),
)
def depth_far_mm(subject_mm: float, hyperfocal: float, focal_length_mm: float, extension_mm: float) -> float | None:
    """Far end of the depth of field, from the lens's image plane; None is infinity."""
    if subject_mm >= hyperfocal:
        return None
    return subject_mm * (hyperfocal - focal_length_mm) / (hyperfocal - subject_mm) + focal_length_mm + extension_mm


@dataclass(frozen=True, slots=True)
class DepthOfField:
    """Sharp from ``near_mm`` to ``far_mm`` (None: infinity) with the subject at ``subject_mm``; D as above."""

    f_number: float
    subject_mm: float
    near_mm: float
    far_mm: float | None
    hyperfocal_mm: float


def depth_of_field(
    subject_mm: float,
    *,
    focal_length_mm: float,
    f_number: float,
    circle_mm: float,
    k: float,
    calc: Calc,
) -> DepthOfField | None:
    """Depth of field with the lens focused at ``subject_mm`` from the sensor; None nearer than 4f."""
    m = close_magnification(subject_mm, focal_length_mm)
    if m is None:
        return None
    x = m * focal_length_mm
    h = calc(hyperfocal_mm, focal_length_mm, f_number, circle_mm, k)
    u = focal_length_mm + focal_length_mm**2 / x
    near = calc(depth_near_mm, u, h, focal_length_mm, x)
    far = calc(depth_far_mm, u, h, focal_length_mm, x)
    return DepthOfField(f_number, subject_mm, near, far, h)
