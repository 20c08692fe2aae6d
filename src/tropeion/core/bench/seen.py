"""What somebody sees of a rig, as the flange error δ that it implies, with its doubt.

δ > 0: the lens stands too far from the sensor and infinity is lost. D is where it is sharpest, magnified, at the widest
aperture; what merely looks sharp lies beyond.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, Literal, get_args

from tropeion.core.frozen import frozen
from tropeion.core.optics.defocus import extension_for_mm, extension_uncertainty_mm
from tropeion.core.optics.focus import close_magnification
from tropeion.core.optics.infinity import FULL_STOPS

from .edge_blur import BlurAt, hills_of

Kind = Literal[
    "far_limit",
    "far_limit_mark",
    "near_limit",
    "scale",
    "past_infinity",
    "infinity_from",
    "nothing_at_any_stop",
    "nothing_anywhere",
    "length",
    "edge_blur",
]
KINDS: Final[tuple[Kind, ...]] = get_args(Kind)
# A distance that was paced or read off a tape, unless it is said otherwise.
USUAL_DOUBT = 0.05
LEAST_MM = 0.01
# Kinds whose first value is a distance that is measured with a tape.
_TAPED = frozenset({"far_limit", "far_limit_mark", "near_limit", "scale"})
_DISTANCES = _TAPED | {"past_infinity"}
_STEP = 1e-3
# The edges of a band are as soft as this share of themselves.
EDGE = 0.15


@frozen
class Bench:
    """A rig on the bench: f and N as marked, K of all glass, c, the lens's travel, how far it turns past infinity.

    ``close_mm`` is its focal length at the closest focus; ``travel_mm`` None: its travel is not known.
    ``helicoid_mm`` is what open helicoids add at the sensor; ``offset_mm`` what glass carries the image on;
    ``front_mm`` how far the front of the lens stands before the sensor, None where nobody knows how long it is.
    ``marked_f_numbers``: the stops on its ring; full stops where nobody noted them.
    """

    focal_length_mm: float
    f_number: float
    smallest_f_number: float
    magnification: float
    circle_mm: float
    travel_mm: float | None
    close_mm: float
    past_infinity_mm: float = 0.0
    helicoid_mm: float = 0.0
    offset_mm: float = 0.0
    front_mm: float | None = None
    marked_f_numbers: tuple[float, ...] = ()

    @property
    def stops(self) -> tuple[float, ...]:
        """The stops that can be set, the widest first."""
        marks = sorted(self.marked_f_numbers or FULL_STOPS)
        return (self.f_number, *(mark for mark in marks if self.f_number < mark <= self.smallest_f_number))

    @property
    def past_mm(self) -> float:
        """K²·π: what the lens turns past infinity, at the sensor."""
        return self.magnification**2 * self.past_infinity_mm

    @property
    def reached_mm(self) -> float:
        """K²·e + Σ s·helicoid: what focusing out adds at the sensor; without bound where the travel is not known."""
        return math.inf if self.travel_mm is None else self.magnification**2 * self.travel_mm + self.helicoid_mm

    @property
    def window_mm(self) -> float:
        """N′·c at the widest aperture."""
        return self.magnification * self.f_number * self.circle_mm

    @property
    def smallest_window_mm(self) -> float:
        """N′·c at the smallest."""
        return self.magnification * self.smallest_f_number * self.circle_mm


@frozen
class Saw:
    """Something that was seen: a kind and its values, as ``formulas`` names them. Lengths in mm.

    ``far_limit`` D; ``near_limit`` D; ``scale`` true and read D; ``past_infinity`` D on the scale; ``infinity_from``
    the stop at which infinity is sharp, and the wider one at which it is not (the next that is marked unless said);
    ``length`` δ and its standard uncertainty; ``edge_blur`` a disc, its doubt, the stop, D (0: far things) and what the
    ring says (0: ∞, left out: its far stop). ``doubt_mm`` is the standard uncertainty of a distance, of the taped one
    where there are two; ``from_front``: it was measured from the front of the lens, not from the film-plane mark.
    """

    kind: Kind
    values: tuple[float, ...] = ()
    doubt_mm: float | None = None
    from_front: bool = False


def said_in_metres(kind: Kind, values: Sequence[float], doubt: float | None = None, *, from_front: bool = False) -> Saw:
    """What was seen as people say it: distances and their doubt in m, lengths in mm, apertures as marked."""
    if kind == "edge_blur":
        return Saw(kind, (*values[:3], *(1000 * value for value in values[3:])))
    if kind not in _DISTANCES:
        return Saw(kind, tuple(values))
    return Saw(kind, tuple(1000 * value for value in values), None if doubt is None else 1000 * doubt, from_front)


@frozen
class Observation:
    """What was seen, as an error: normal about ``a_mm`` with ``b_mm``; or a band from ``a_mm`` to ``b_mm``, None where
    it is open. ``offset_mm`` is what of a band's edges comes from turning past infinity, which is not softened.

    Two hills stand at ``a_mm`` ± ``offset_mm``, each with ``b_mm``: a blur tells no side.
    """

    kind: Kind
    form: Literal["normal", "band", "hills"]
    a_mm: float | None
    b_mm: float | None
    offset_mm: float = 0.0

    @property
    def as_normal(self) -> tuple[float, float] | None:
        """Middle and standard uncertainty, as agreement reckons; None for what is bounded on one side alone."""
        if self.a_mm is None or self.b_mm is None or self.form == "hills":
            return None
        if self.form == "normal":
            return self.a_mm, self.b_mm
        middle, width = (self.a_mm + self.b_mm) / 2, self.b_mm - self.a_mm
        return middle, math.sqrt(width**2 / 12 + (EDGE * middle) ** 2)

    @property
    def hills(self) -> tuple[tuple[float, float], ...]:
        """The middles that it may have, each with its standard uncertainty: one, two for hills, none for open bands."""
        if self.form == "hills" and self.a_mm is not None and self.b_mm is not None:
            ends = dict.fromkeys((self.a_mm - self.offset_mm, self.a_mm + self.offset_mm))
            return tuple((end, self.b_mm) for end in ends)
        normal = self.as_normal
        return () if normal is None else (normal,)

    @property
    def edges(self) -> tuple[tuple[float, float] | None, tuple[float, float] | None]:
        """Lower and upper edge of a band, each with the standard deviation that softens it; None where it is open."""
        low, high = (None if at is None else (at, EDGE * abs(at - self.offset_mm)) for at in (self.a_mm, self.b_mm))
        return low, high


def implied(bench: Bench, saw: Saw) -> Observation:
    """The error that an observation implies. Raises ValueError for one that no such rig can show."""
    if saw.from_front and saw.kind in _TAPED and saw.values:
        saw = _from_mark(bench, saw)
    match saw.kind, saw.values:
        case "far_limit" | "far_limit_mark", (distance,):
            past = bench.past_infinity_mm if saw.kind == "far_limit" else 0.0
            x, doubt = _extension(bench, distance, saw.doubt_mm)
            return _normal(bench, saw.kind, x + past, doubt)
        case "near_limit", (distance,):
            return _near(bench, distance, saw.doubt_mm)
        case "scale", (true, read):
            x, doubt = _extension(bench, true, saw.doubt_mm)
            x_read, doubt_read = _extension(bench, read, None)
            return _normal(bench, saw.kind, x - x_read, math.hypot(doubt, doubt_read))
        case "past_infinity", (read,):
            x, doubt = _extension(bench, read, saw.doubt_mm)
            return _normal(bench, saw.kind, -x, doubt)
        case "infinity_from", (sharp, *soft):
            return _infinity(bench, sharp, soft)
        case "nothing_at_any_stop", ():
            return Observation(saw.kind, "band", bench.smallest_window_mm + bench.past_mm, None, bench.past_mm)
        case "nothing_anywhere", ():
            if bench.travel_mm is None:
                raise ValueError("how far the lens focuses out is not known: this says nothing")
            return Observation(saw.kind, "band", None, -bench.smallest_window_mm - bench.reached_mm, -bench.reached_mm)
        case "edge_blur", (blur, doubt, f_number, *rest) if len(rest) <= 2:
            far = [math.inf if mm == 0 else mm for mm in rest]
            away, ring = far[0] if far else math.inf, far[1] if len(far) > 1 else None
            found = hills_of(bench, BlurAt(blur, doubt, f_number, away, ring))
            return Observation("edge_blur", "hills", found.middle_mm, found.standard_uncertainty_mm, found.apart_mm)
        case "length", (error, doubt):
            if doubt <= 0:
                raise ValueError("its uncertainty is more than 0")
            return Observation("length", "normal", error, doubt)
    raise ValueError("its values are missing, or too many")


def _from_mark(bench: Bench, saw: Saw) -> Saw:
    """The same, its distance counted from the sensor; what was taped is known no better for it."""
    if bench.front_mm is None:
        raise ValueError("how long the lens is is not known: measure from the film-plane mark")
    taped, *rest = saw.values
    doubt = USUAL_DOUBT * taped if saw.doubt_mm is None else saw.doubt_mm
    return Saw(saw.kind, (taped + bench.front_mm, *rest), doubt)


def _extension(bench: Bench, distance_mm: float, doubt_mm: float | None) -> tuple[float, float]:
    """The extension for a distance from the sensor, and its doubt."""
    away = distance_mm + bench.offset_mm
    doubt = USUAL_DOUBT * distance_mm if doubt_mm is None else doubt_mm
    x, u = extension_for_mm(bench.focal_length_mm, away), extension_uncertainty_mm(bench.focal_length_mm, away, doubt)
    if x is None or u is None:
        least = 4.05 * bench.focal_length_mm / 1000
        raise ValueError(f"{distance_mm / 1000:g} m is too near to tell: from {least:.2f} m on")
    return x, u


def _normal(bench: Bench, kind: Kind, extension_mm: float, doubt_mm: float) -> Observation:
    k2 = bench.magnification**2
    u = math.sqrt((k2 * doubt_mm) ** 2 + bench.window_mm**2 / 12)
    return Observation(kind, "normal", k2 * extension_mm, max(u, LEAST_MM))


def _near(bench: Bench, distance_mm: float, doubt_mm: float | None) -> Observation:
    if bench.travel_mm is None:
        raise ValueError("how far the lens focuses out is not known: its near limit says nothing")
    away, close, k2 = distance_mm + bench.offset_mm, bench.close_mm, bench.magnification**2
    step = away * _STEP
    m, farther, nearer = (close_magnification(away + by, close) for by in (0.0, step, -step))
    if m is None or farther is None or nearer is None:
        raise ValueError(f"{distance_mm / 1000:g} m is nearer than any thin lens of {close:.0f} mm reaches")
    doubt = USUAL_DOUBT * distance_mm if doubt_mm is None else doubt_mm
    # Between two distances: at four focal lengths the slope itself has no bound.
    steep = close * abs(farther - nearer) / (2 * step)
    error = k2 * (close * m - bench.travel_mm) - bench.helicoid_mm
    u = math.sqrt((k2 * steep * doubt) ** 2 + bench.window_mm**2 / 12)
    return Observation("near_limit", "normal", error, max(u, LEAST_MM))


def _infinity(bench: Bench, sharp: float, soft: Sequence[float]) -> Observation:
    if len(soft) > 1 or sharp <= 0 or any(not 0 < value < sharp for value in soft):
        raise ValueError("the stop at which it is sharp, then the next wider one at which it is not: 8:5.6")
    past, per_stop = bench.past_mm, bench.magnification * bench.circle_mm
    # Sharp at the widest bounds it on one side; else it was soft at the next wider stop that can be set.
    wider = soft[0] if soft else max((stop for stop in bench.stops if stop < sharp), default=None)
    low = None if wider is None else wider * per_stop + past
    return Observation("infinity_from", "band", low, sharp * per_stop + past, past)
