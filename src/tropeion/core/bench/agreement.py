"""Whether what is known and what was seen agree, and what of it is most at odds.

By χ² of what has a middle (JCGM 100, G.3; Cox, Metrologia 39, 2002); what is open to one side is held against the rest.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Literal

import numpy as np

from tropeion.core.frozen import frozen

from .posterior import STEP_MM, Prior, Reals, log_likelihood, log_prior, posterior_of
from .seen import Kind, Observation

Term = Kind | Literal["prior"]
# Below this the terms contradict each other.
CONTRADICTED = 0.05
# Of so many blurs every combination of sides is tried.
_MOST_SIDES = 10


@frozen
class Agreement:
    """``p`` is None where nothing can be held against anything; ``place`` that of what is most at odds, None the prior.

    ``both``: of two that contradict nobody can say which.
    """

    p: float | None = None
    most_at_odds: Term | None = None
    place: int | None = None
    both: bool = False


@frozen
class _Normal:
    """Something that has a middle, and its place among what was seen; None for the prior."""

    place: int | None
    middle_mm: float
    standard_uncertainty_mm: float


def agreement_of(at: Reals, prior: Prior | None, seen: Sequence[Observation]) -> Agreement:
    """Whether prior and observations agree, over a grid of errors."""
    normals = _normals(prior, seen)
    # A blur tells no side: each takes the hill with which all of it agrees best.
    p = _p_of(normals) if len(normals) > 1 else None
    held = _held_against_the_rest(at, prior, seen)
    # One-sided observations count where they contradict, or where there is nothing else.
    speaking = [q for q in held.values() if p is None or q < CONTRADICTED]
    least = min((value for value in (p, *speaking) if value is not None), default=None)
    if least is None or least >= CONTRADICTED:
        return Agreement(least)
    if p is not None and p < CONTRADICTED:
        if len(normals) < 3:
            return Agreement(least, both=True)
        without = [_p_of([*normals[:number], *normals[number + 1 :]]) for number in range(len(normals))]
        odd = normals[without.index(max(without))].place
    else:
        odd = min(held, key=lambda place: held[place])
    return Agreement(least, "prior" if odd is None else seen[odd].kind, odd)


def _normals(prior: Prior | None, seen: Sequence[Observation]) -> list[_Normal]:
    normals = []
    if prior is not None:
        normals.append(_Normal(None, prior.mean_mm, max(prior.standard_uncertainty_mm, STEP_MM / 2)))
    sides = [observation.hills for observation in seen]
    every = [[_Normal(place, *hill) for hill in hills] for place, hills in enumerate(sides) if hills]
    several = sum(len(hills) > 1 for hills in every)
    if several == 0 or several > _MOST_SIDES:
        return [*normals, *(hills[0] for hills in every)]
    return min(([*normals, *choice] for choice in itertools.product(*every)), key=_chi_square)


def _held_against_the_rest(at: Reals, prior: Prior | None, seen: Sequence[Observation]) -> dict[int, float]:
    """q_i = ∫ p(δ | all but i)·L_i(δ) dδ of each that is open to one side, by its place."""
    p_by_place: dict[int, float] = {}
    if all(observation.hills for observation in seen) or (prior is None and len(seen) < 2):
        return p_by_place
    logs = [log_likelihood(at, observation) for observation in seen]
    known = log_prior(at, prior)
    for place, observation in enumerate(seen):
        if not observation.hills:
            rest = [log for number, log in enumerate(logs) if number != place]
            others = posterior_of(at, known + sum(rest, np.zeros_like(at)))
            p_by_place[place] = float(others.weight @ np.exp(logs[place]))
    return p_by_place


def _p_of(terms: Sequence[_Normal]) -> float:
    return chi_square_p(_chi_square(terms), len(terms) - 1)


def _chi_square(terms: Sequence[_Normal]) -> float:
    weights = [1 / term.standard_uncertainty_mm**2 for term in terms]
    mean = math.fsum(w * normal.middle_mm for w, normal in zip(weights, terms, strict=True)) / math.fsum(weights)
    return math.fsum(w * (normal.middle_mm - mean) ** 2 for w, normal in zip(weights, terms, strict=True))


def chi_square_p(chi_square: float, freedom: int) -> float:
    """The probability of at least so much by chance: Q(ν/2, χ²/2), by its recursion from Q(½) or Q(1)."""
    half = chi_square / 2
    value, a = (math.erfc(math.sqrt(half)), 0.5) if freedom % 2 else (math.exp(-half), 1.0)
    while a < freedom / 2:
        value += math.exp(a * math.log(half) - half - math.lgamma(a + 1)) if half > 0 else 0.0
        a += 1
    return min(1.0, value)
