"""All that was seen and measured of one error together: where it likely is, whether it agrees, what to look at next.

Posterior ∝ prior × likelihoods on a grid of a thousandth of a millimetre; agreement by χ² (JCGM 100, G.3; Cox,
Metrologia 39, 2002).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from tropeion.core.optics.defocus import extension_for_mm
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.optics.infinity import FULL_STOPS

from .forward import shown
from .seen import EDGE, Bench, Kind, Observation, Saw, implied

__all__ = ["CONTRADICTED", "Prior", "Term", "Together", "chi_square_p", "next_best", "normal_below", "together"]

Term = Kind | Literal["prior"]
Reals = npt.NDArray[np.float64]
# Below this the terms contradict each other.
CONTRADICTED = 0.05
STEP_MM = 0.001
LEAST_SPAN_MM = 3.0
# So fine as far as a ring for another system may err; beyond that coarser, so that no span takes all memory.
MOST_POINTS = 400_000


@dataclass(frozen=True, slots=True)
class Prior:
    """What is known before anything is seen: the nominal error and its standard uncertainty."""

    mean_mm: float
    standard_uncertainty_mm: float


@dataclass(frozen=True, slots=True)
class Together:
    """The error by all together, with a 95 % interval of equal tails.

    ``agreement_p`` is None where fewer than two terms speak; ``most_at_odds`` the one whose removal raises it most,
    where they contradict and there are three or more. ``both_at_odds``: of two that contradict nobody can say which.
    """

    mean_mm: float
    standard_uncertainty_mm: float
    interval_mm: tuple[float, float]
    agreement_p: float | None
    most_at_odds: Term | None
    both_at_odds: bool


def together(bench: Bench, prior: Prior | None, seen: Sequence[Observation]) -> Together:
    """The error by prior (None: a nameless ring, flat) and observations. Raises ValueError where nothing is said."""
    if prior is None and not seen:
        raise ValueError("nothing is known and nothing was seen")
    at = _grid(prior, seen)
    # Nothing is narrower than the grid can tell.
    least = float(at[1] - at[0]) / 2
    log = np.zeros_like(at)
    if prior is not None:
        log -= ((at - prior.mean_mm) / max(prior.standard_uncertainty_mm, least)) ** 2 / 2
    for one in seen:
        log += _log_likelihood(at, one, bench, least)
    weight = np.exp(log - log.max())
    weight /= weight.sum()
    mean = float(weight @ at)
    deviation = math.sqrt(float(weight @ (at - mean) ** 2))
    below = np.cumsum(weight)
    low, high = (float(at[int(np.searchsorted(below, share))]) for share in (0.025, 0.975))
    p, odd, both = _agreement(prior, seen)
    return Together(mean, deviation, (low, high), p, odd, both)


def _grid(prior: Prior | None, seen: Sequence[Observation]) -> Reals:
    ends = []
    if prior is not None:
        ends += [prior.mean_mm + sign * 8 * prior.standard_uncertainty_mm for sign in (-1, 1)]
    for one in seen:
        normal = one.as_normal
        middle, u = normal if normal is not None else (one.a_mm, one.b_mm)
        ends += [middle - 6 * u, middle + 6 * u]
        if normal is None:
            # Open to one side: as far beyond as anything is looked for.
            ends.append(one.a_mm + (LEAST_SPAN_MM if one.form == "above" else -LEAST_SPAN_MM))
    low, high = min(*ends, -LEAST_SPAN_MM), max(*ends, LEAST_SPAN_MM)
    step = STEP_MM * max(1, math.ceil((high - low) / STEP_MM / MOST_POINTS))
    steps = np.arange(math.floor(low / step), math.ceil(high / step) + 1)
    return steps.astype(np.float64) * step


# The normal distribution below z.
normal_below = np.vectorize(lambda z: 0.5 * math.erfc(-z / math.sqrt(2)), otypes=[float])


def _log_likelihood(at: Reals, one: Observation, bench: Bench, least: float) -> Reals:
    if one.form == "normal":
        found: Reals = -(((at - one.a_mm) / max(one.b_mm, least)) ** 2) / 2
        return found
    past = bench.magnification**2 * bench.past_infinity_mm
    if one.form == "band":
        # Each edge is as soft as a share of itself, what is turned past infinity apart.
        low, high = EDGE * abs(one.a_mm - past), EDGE * abs(one.b_mm - past)
        share = normal_below((at - one.a_mm) / max(low, least)) - normal_below((at - one.b_mm) / max(high, least))
    else:
        sign = 1 if one.form == "above" else -1
        share = normal_below(sign * (at - one.a_mm) / max(one.b_mm, least))
    logs: Reals = np.log(np.maximum(share, 1e-300))
    return logs


def _agreement(prior: Prior | None, seen: Sequence[Observation]) -> tuple[float | None, Term | None, bool]:
    terms: list[tuple[Term, float, float]] = []
    if prior is not None:
        terms.append(("prior", prior.mean_mm, max(prior.standard_uncertainty_mm, STEP_MM / 2)))
    for one in seen:
        normal = one.as_normal
        if normal is not None:
            terms.append((one.kind, *normal))
    if len(terms) < 2:
        return None, None, False
    p = _p_of(terms)
    if p >= CONTRADICTED:
        return p, None, False
    if len(terms) == 2:
        return p, None, True
    without = [_p_of(terms[:number] + terms[number + 1 :]) for number in range(len(terms))]
    return p, terms[without.index(max(without))][0], False


def _p_of(terms: Sequence[tuple[Term, float, float]]) -> float:
    weights = [1 / u**2 for _, _, u in terms]
    mean = math.fsum(w * value for w, (_, value, _) in zip(weights, terms, strict=True)) / math.fsum(weights)
    chi_square = math.fsum(w * (value - mean) ** 2 for w, (_, value, _) in zip(weights, terms, strict=True))
    return chi_square_p(chi_square, len(terms) - 1)


def chi_square_p(chi_square: float, freedom: int) -> float:
    """The probability of at least so much by chance: Q(ν/2, χ²/2), by its recursion from Q(½) or Q(1)."""
    half = chi_square / 2
    found, a = (math.erfc(math.sqrt(half)), 0.5) if freedom % 2 else (math.exp(-half), 1.0)
    while a < freedom / 2:
        found += math.exp(a * math.log(half) - half - math.lgamma(a + 1)) if half > 0 else 0.0
        a += 1
    return min(1.0, found)


# What there is to look at next, and how a caliper does.
_CALIPER_MM = 0.02
_NEXT: tuple[Kind, ...] = ("far_limit", "near_limit", "past_infinity", "scale", "infinity_from", "length")
_SCALE_MM = 3000.0


def next_best(bench: Bench, so_far: Together, seen: Sequence[Observation]) -> Kind | None:
    """The kind of observation that would narrow most: the least variance to expect, where the error likely is.

    What was seen already is not looked at again; None where nothing is left that this rig can show.
    """
    variance = so_far.standard_uncertainty_mm**2
    known = {one.kind for one in seen}
    found: list[tuple[float, int, Kind]] = []
    for order, kind in enumerate(_NEXT):
        doubt = None if kind in known else _expected_doubt_mm(bench, kind, so_far.mean_mm)
        if doubt is not None:
            found.append((variance * doubt**2 / (variance + doubt**2), order, kind))
    return min(found)[2] if found else None


def _expected_doubt_mm(bench: Bench, kind: Kind, error_mm: float) -> float | None:
    """The doubt of an observation if the error is this; None where the rig would show nothing of the kind."""
    if kind == "length":
        return _CALIPER_MM
    saw = _would_see(bench, kind, error_mm)
    if saw is None:
        return None
    try:
        normal = implied(bench, saw).as_normal
    except ValueError:
        return None
    return None if normal is None else normal[1]


def _would_see(bench: Bench, kind: Kind, error_mm: float) -> Saw | None:
    """What a rig with this error shows of a kind."""
    found = shown(bench, error_mm, 0.0)
    if kind == "scale":
        read = extension_for_mm(bench.focal_length_mm, _SCALE_MM)
        x = 0.0 if read is None else read + error_mm / bench.magnification**2
        true = object_distance_mm(bench.focal_length_mm, x) - bench.offset_mm if x > 0 else None
        return None if true is None else Saw(kind, (true, _SCALE_MM))
    if kind == "infinity_from":
        stop = found.sharp_from_f_number
        sharp = None if stop is None or found.far_m is None else next((n for n in FULL_STOPS if n >= stop), None)
        if sharp is None or sharp <= bench.f_number:
            return None
        soft = max((one for one in FULL_STOPS if one < sharp), default=bench.f_number)
        return Saw(kind, (sharp, max(soft, bench.f_number)))
    distances = {"far_limit": found.far_m, "near_limit": found.near_m, "past_infinity": found.past_at_m}
    distance = distances.get(kind)
    return None if distance is None else Saw(kind, (distance * 1000,))
