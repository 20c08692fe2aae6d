"""What a rig with a certain flange error shows: how far and near it is sharp, from which stop infinity is."""

from __future__ import annotations

import math

from tropeion.core.frozen import frozen
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.optics.infinity import from_f_number
from tropeion.core.working import tidy

from .seen import Bench


@frozen
class Shown:
    """What is seen with an error. ``far_m`` None: it reaches infinity; ``past_at_m``: infinity is sharp with the ring
    there, None where it is not reached or just at the mark. ``sharp_from_f_number`` None: at no stop.
    """

    error_mm: float
    near_m: float | None
    far_m: float | None
    past_at_m: float | None
    sharp_from_f_number: float | None
    probability: float


def sharp_between_mm(bench: Bench, f_number: float) -> tuple[float, float]:
    """Between which errors infinity is sharp at a marked aperture.

    A lens whose travel is not known is taken to come near enough.
    """
    window = bench.magnification * f_number * bench.circle_mm
    return -window - bench.reached_mm, window + bench.past_mm


def probability_of_infinity(bench: Bench, error_mm: float, uncertainty_mm: float, f_number: float) -> float:
    """How likely infinity is sharp at a marked aperture, the error taken as normal."""
    low, high = sharp_between_mm(bench, f_number)
    u = max(uncertainty_mm, 1e-9)
    above, below = ((end - error_mm) / (u * math.sqrt(2)) for end in (high, low))
    return 0.5 * (math.erf(above) - math.erf(below))


def shown(bench: Bench, error_mm: float, uncertainty_mm: float) -> Shown:
    """What a rig with this error shows; distances are in m from the sensor."""
    k2 = bench.magnification**2
    own = tidy(error_mm / k2)
    short = tidy(own - bench.past_infinity_mm)
    # A lens of unknown travel is taken to focus near enough.
    longest = math.inf if bench.travel_mm is None else own + bench.travel_mm + bench.helicoid_mm / k2
    near = None if bench.travel_mm is None else _distance_m(bench, bench.close_mm, longest)
    stop = from_f_number(bench.f_number, short * k2, longest * k2, bench.magnification, bench.circle_mm)
    return Shown(
        error_mm=error_mm,
        near_m=near,
        far_m=_distance_m(bench, bench.focal_length_mm, short) if short > 0 else None,
        past_at_m=_distance_m(bench, bench.focal_length_mm, -own) if own < 0 else None,
        sharp_from_f_number=stop if stop <= bench.smallest_f_number else None,
        probability=probability_of_infinity(bench, error_mm, uncertainty_mm, bench.f_number),
    )


def _distance_m(bench: Bench, focal_mm: float, extension_mm: float) -> float | None:
    if extension_mm <= 0:
        return None
    return (object_distance_mm(focal_mm, extension_mm) - bench.offset_mm) / 1000
