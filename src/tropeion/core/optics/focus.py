"""Reach: focus travel, extensions, and the nearest and farthest sharp distance.

f is the lens's marked focal length and f_c the one at its closest focus, N its marked f-number, K the magnification of
all glass in the chain. An extension x is how far the lens stands, on its own side, beyond its infinity focus.
Distances D run from the lens's own image plane: the sensor, unless there is glass, which carries the image a few
millimetres on. ``sensor_offset_mm`` says how many: the real sensor is that much nearer to the subject. All lengths in
mm.
"""

from __future__ import annotations

import math
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.usual import SHORTEST_LENS_MM
from tropeion.core.words import word
from tropeion.core.working import Calc, Symbol, formula, tidy

from .symbols import GLASS, MARKED_F_NUMBER, MARKED_FOCAL_LENGTH

# "unknown": whether anything comes into focus cannot be told, since nobody knows how far the lens is focused out.
# "inside": all that would be sharp lies inside the lens.
FocusState = Literal["none", "finite", "to_infinity", "unknown", "inside"]
GAUSS = "Gaussian lens equation: W. J. Smith, Modern Optical Engineering, ch. 2"
CLOSE_FOCAL_LENGTH = Symbol("f_c", "mm", f"focal length at {word('nearest_focus')}", "focus.close_focal_length_mm")


@formula(
    "focus.close_magnification",
    "m = (b − √(b² − 4))/2, b = D/f − 2",
    "×",
    GAUSS,
    distance_mm=Symbol("D", "mm", f"stated {word('nearest_focus')}, from the sensor plane of its own body"),
    focal_length_mm=MARKED_FOCAL_LENGTH,
)
def close_magnification(distance_mm: float, focal_length_mm: float) -> float | None:
    """Magnification at the stated closest focus; nothing below D = 4f, which no thin lens reaches."""
    b = distance_mm / focal_length_mm - 2
    return None if b < 2 else (b - math.sqrt(b * b - 4)) / 2


@formula(
    "focus.travel_mm",
    "e = m·f_c",
    "mm",
    GAUSS,
    magnification=Symbol("m", "×", f"magnification at {word('nearest_focus')}", "focus.close_magnification"),
    focal_length_mm=CLOSE_FOCAL_LENGTH,
)
def travel_mm(magnification: float, focal_length_mm: float) -> float:
    """The lens's own focus travel from infinity."""
    return magnification * focal_length_mm


@formula(
    "focus.close_focal_length_mm",
    "f_c = D/(2 + m + 1/m)",
    "mm",
    GAUSS,
    distance_mm=Symbol("D", "mm", f"stated {word('nearest_focus')}, from the sensor plane of its own body"),
    magnification=Symbol("m", "×", "stated magnification there"),
)
def close_focal_length_mm(distance_mm: float, magnification: float) -> float:
    """Focal length at the closest focus, where both are stated: focusing inside the lens shortens it."""
    return distance_mm / (2 + magnification + 1 / magnification)


@frozen
class Travel:
    """How far a lens focuses out: ``travel_mm`` from infinity, ``close_mm`` its focal length at the closest focus."""

    travel_mm: float
    close_mm: float


def travel(
    focal_length_mm: float, min_focus_m: float | None, max_magnification: float | None, calc: Calc
) -> Travel | None:
    """The focus travel in mm, from the closest focus, the stated magnification there, or both; None if unknown."""
    close, m = focal_length_mm, max_magnification
    if min_focus_m is not None:
        if m is None:
            m = calc(close_magnification, min_focus_m * 1000, focal_length_mm)
        else:
            close = calc(close_focal_length_mm, min_focus_m * 1000, m)
    return None if m is None else Travel(calc(travel_mm, m, close), close)


@formula(
    "focus.travel_assumed_mm",
    "e₀ = 0.02·f",
    "mm",
    f"Assumed where neither {word('nearest_focus')} nor {word('greatest_magnification')} is known: focus on "
    f"some 50 focal lengths",
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
    lens_error_mm=Symbol("δ_lens", "mm", f"{word('flange_error')} as the lens sees it", "lens_side_error_mm"),
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
    lens_error_mm=Symbol("δ_lens", "mm", f"{word('flange_error')} as the lens sees it", "lens_side_error_mm"),
    travel=Symbol("e", "mm", "the lens's own focus travel", "focus.travel_mm"),
    helicoid_mm=Symbol("helicoids", "mm", "what opened helicoids add"),
)
def extension_long_mm(lens_error_mm: float, travel: float, helicoid_mm: float) -> float:
    """Greatest extension: the lens at its closest focus, helicoids open."""
    # Not rounded: near the infinity mark a nanometre of extension is metres of distance.
    return lens_error_mm + travel + helicoid_mm


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
    "focus.close_distance_mm",
    "D = f_c·(2 + m′ + 1/m′), m′ = x_long/f_c",
    "mm",
    GAUSS,
    close_mm=CLOSE_FOCAL_LENGTH,
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
)
def close_distance_mm(close_mm: float, long_mm: float) -> float:
    """Distance of the sharp subject at the greatest extension, for x_long > 0."""
    m = long_mm / close_mm
    return close_mm * (2 + m + 1 / m)


@formula(
    "focus.near_mm",
    "least D over x_short … x_long",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    close_mm=CLOSE_FOCAL_LENGTH,
    short_mm=Symbol("x_short", "mm", "least extension", "focus.extension_short_mm"),
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
)
def near_mm(focal_length_mm: float, close_mm: float, short_mm: float, long_mm: float) -> float:
    """Nearest sharp distance. D falls until the scale is 1:1 (where it is 4f) and grows again beyond."""
    least = close_distance_mm(close_mm, long_mm)
    if short_mm > 0:
        least = min(least, object_distance_mm(focal_length_mm, short_mm))
    return min(least, 4 * close_mm) if short_mm < close_mm < long_mm else least


@formula(
    "focus.far_mm",
    "greatest D over x_short … x_long",
    "mm",
    GAUSS,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    close_mm=CLOSE_FOCAL_LENGTH,
    short_mm=Symbol("x_short", "mm", "least extension", "focus.extension_short_mm"),
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
)
def far_mm(focal_length_mm: float, close_mm: float, short_mm: float, long_mm: float | None) -> float:
    """Farthest sharp distance of a rig that does not reach infinity."""
    farthest = object_distance_mm(focal_length_mm, short_mm)
    return farthest if long_mm is None else max(farthest, close_distance_mm(close_mm, long_mm))


@formula(
    "focus.max_magnification",
    "K·x_long/f_c",
    "×",
    GAUSS,
    k=GLASS,
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
    close_mm=CLOSE_FOCAL_LENGTH,
)
def max_magnification(k: float, long_mm: float, close_mm: float) -> float:
    """Greatest magnification on the sensor."""
    return k * long_mm / close_mm


@formula(
    "focus.close_f_number",
    "N·(f_c/f)·K·(1 + m′)",
    "f",
    "S. F. Ray, Applied Photographic Optics, ch. 9 (bellows factor, pupil ratio 1)",
    f_number=MARKED_F_NUMBER,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    close_mm=CLOSE_FOCAL_LENGTH,
    k=GLASS,
    long_mm=Symbol("x_long", "mm", "greatest extension", "focus.extension_long_mm"),
)
def close_f_number(f_number: float, focal_length_mm: float, close_mm: float, k: float, long_mm: float) -> float:
    """The aperture that exposure follows at the closest focus."""
    return f_number * close_mm / focal_length_mm * k * (1 + long_mm / close_mm)


@formula(
    "focus.front_mm",
    "R_l + δ_lens + length",
    "mm",
    GAUSS,
    lens_register_mm=Symbol("R_l", "mm", f"{word('flange_focal_distance')} of the lens"),
    lens_error_mm=Symbol("δ_lens", "mm", f"{word('flange_error')} as the lens sees it", "lens_side_error_mm"),
    length_mm=Symbol("length", "mm", "of the lens at infinity, mount face to front"),
)
def front_mm(lens_register_mm: float, lens_error_mm: float, length_mm: float) -> float:
    """Where the front of the lens stands before its own image plane, focused at infinity."""
    return lens_register_mm + lens_error_mm + length_mm


@formula(
    "focus.near_from_front_mm",
    "near − front − what it moves out, at least 0",
    "mm",
    GAUSS,
    near=Symbol("near", "mm", "nearest sharp distance", "focus.near_mm"),
    front=Symbol("front", "mm", "front of the lens at infinity", "focus.front_mm"),
    grows_mm=Symbol("out", "mm", "its own travel, unless it focuses inside, and opened helicoids"),
)
def near_from_front_mm(near: float, front: float, grows_mm: float) -> float:
    """Working distance at the closest focus."""
    return max(0.0, tidy(near - front - grows_mm))


@formula(
    "focus.far_from_front_mm",
    "far − front, at least 0",
    "mm",
    GAUSS,
    far=Symbol("far", "mm", "farthest sharp distance", "focus.far_mm"),
    front=Symbol("front", "mm", "front of the lens at infinity", "focus.front_mm"),
)
def far_from_front_mm(far: float, front: float) -> float:
    """Distance from the front of the lens to the farthest sharp subject."""
    return max(0.0, tidy(far - front))


@formula(
    "focus.sensor_offset_mm",
    "R_l + δ_lens − R_b − ΣL",
    "mm",
    GAUSS,
    lens_register_mm=Symbol("R_l", "mm", f"{word('flange_focal_distance')} of the lens"),
    lens_error_mm=Symbol("δ_lens", "mm", f"{word('flange_error')} as the lens sees it", "lens_side_error_mm"),
    body_register_mm=Symbol("R_b", "mm", f"{word('flange_focal_distance')} of the body"),
    length_mm=Symbol("ΣL", "mm", "physical length of the whole chain"),
)
def sensor_offset_mm(lens_register_mm: float, lens_error_mm: float, body_register_mm: float, length_mm: float) -> float:
    """With glass: how much nearer to the subject the sensor is than the lens's own image plane."""
    return tidy(lens_register_mm + lens_error_mm - body_register_mm - length_mm)


@frozen
class Reach:
    """What distances can be focused, in mm; ``far_mm`` is None in the state ``to_infinity``.

    Distances from the real sensor are these less ``sensor_offset_mm``, which is 0 without glass. Those from the front
    of the lens are cut there, and None where its length is not known.
    """

    state: FocusState
    near_mm: float | None
    far_mm: float | None
    max_magnification: float | None
    close_f_number: float | None
    sensor_offset_mm: float
    near_from_front_mm: float | None
    far_from_front_mm: float | None

    @classmethod
    def nothing(cls, state: FocusState, offset_mm: float = 0.0) -> Reach:
        """A range that says nothing."""
        return cls(state, None, None, None, None, offset_mm, None, None)


@frozen
class Front:
    """Where the glass of a lens begins, in mm before its own image plane.

    Its seat stands ``register_mm`` + ``error_mm`` there; ``length_mm`` is from the seat to the front at infinity (None:
    not known), ``grows_mm`` what its travel and the helicoids add at the closest focus.
    """

    register_mm: float
    error_mm: float
    length_mm: float | None
    grows_mm: float

    @property
    def least_mm(self) -> float:
        """The least distance at which a front can stand."""
        length = SHORTEST_LENS_MM if self.length_mm is None else self.length_mm
        return self.register_mm + self.error_mm + length


# An inner focusing lens does not grow; one whose focal length at closest focus is this near the marked one does.
EXTENDS_FROM = 0.95


def reach(
    focal_length_mm: float,
    close_mm: float,
    f_number: float,
    k: float,
    short_mm: float,
    long_mm: float | None,
    offset_mm: float,
    front: Front,
    calc: Calc,
) -> Reach:
    """The range of sharp distances of a lens that can be focused, over its extensions in mm."""
    near = far = m = stop = None
    if long_mm is not None and tidy(long_mm) > 0:
        m = calc(max_magnification, k, long_mm, close_mm)
        stop = calc(close_f_number, f_number, focal_length_mm, close_mm, k, long_mm)
        calc(close_distance_mm, close_mm, long_mm)
        near = calc(near_mm, focal_length_mm, close_mm, max(short_mm, 0.0), long_mm)
    state: FocusState = "to_infinity"
    if short_mm > 0:
        far = calc(far_mm, focal_length_mm, close_mm, short_mm, long_mm)
        state = "inside" if tidy(far - front.least_mm) < 0 else "finite"
    near_front = far_front = None
    if front.length_mm is not None:
        stands = calc(front_mm, front.register_mm, front.error_mm, front.length_mm)
        near_front = None if near is None else calc(near_from_front_mm, near, stands, front.grows_mm)
        far_front = None if far is None else calc(far_from_front_mm, far, stands)
    return Reach(state, near, far, m, stop, offset_mm, near_front, far_front)
