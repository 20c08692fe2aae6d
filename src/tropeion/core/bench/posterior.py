"""Where an error likely is: prior × likelihoods on a grid of a thousandth of a millimetre."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from tropeion.core.frozen import frozen

from .seen import Observation

Reals = npt.NDArray[np.float64]
STEP_MM = 0.001
LEAST_SPAN_MM = 3.0
# The grid is fine as far as a ring for another system may err and coarser beyond, to bound memory.
MOST_POINTS = 400_000
# Below this share the two edges of a band are told apart no more, and the tail of the nearer one counts.
_TAIL = 1e-9
# Beyond this many standard deviations the normal tail is taken from its asymptotic series: right to 1 in 10⁵.
_FAR = 8.0


@frozen
class Prior:
    """What is known before anything is seen: the nominal error and its standard uncertainty."""

    mean_mm: float
    standard_uncertainty_mm: float


@frozen
class Posterior:
    """Errors in mm on an even grid, and the weight of each; the weights add up to 1."""

    at: Reals
    weight: Reals

    @property
    def mean_mm(self) -> float:
        return float(self.weight @ self.at)

    @property
    def deviation_mm(self) -> float:
        return math.sqrt(float(self.weight @ (self.at - self.mean_mm) ** 2))

    def quantiles_mm(self, shares: Sequence[float]) -> list[float]:
        """The errors below which these shares lie."""
        below = np.cumsum(self.weight)
        last = len(self.at) - 1
        return [float(self.at[min(int(np.searchsorted(below, share)), last)]) for share in shares]

    def share_between(self, low_mm: float, high_mm: float) -> float:
        """How likely the error lies between two, both included."""
        return min(1.0, float(self.weight[(self.at >= low_mm) & (self.at <= high_mm)].sum()))


def grid_of(prior: Prior | None, seen: Sequence[Observation]) -> Reals:
    """Every error that is worth a look: as far as anything reaches, and 3 mm to both sides of a nameless ring."""
    ends = [-LEAST_SPAN_MM, LEAST_SPAN_MM] if prior is None else []
    if prior is not None:
        ends += [prior.mean_mm + sign * 8 * prior.standard_uncertainty_mm for sign in (-1, 1)]
    for observation in seen:
        hills = observation.hills
        if hills:
            ends += [middle + sign * 6 * u for middle, u in hills for sign in (-1, 1)]
            continue
        for edge, sign in zip(observation.edges, (1, -1), strict=True):
            if edge is not None:
                # One-sided: as far as the grid reaches.
                ends += [edge[0] - sign * 6 * edge[1], edge[0] + sign * LEAST_SPAN_MM]
    low, high = min(ends), max(ends)
    step = STEP_MM * max(1, math.ceil((high - low) / STEP_MM / MOST_POINTS))
    return low + step * np.arange(max(2, math.ceil((high - low) / step)) + 1).astype(np.float64)


def log_prior(at: Reals, prior: Prior | None) -> Reals:
    """The logarithm of a prior, not normalised; flat where there is none."""
    if prior is None:
        return np.zeros_like(at)
    found: Reals = -(((at - prior.mean_mm) / max(prior.standard_uncertainty_mm, _least(at))) ** 2) / 2
    return found


def log_likelihood(at: Reals, one: Observation) -> Reals:
    """The logarithm of how likely an observation is with each error.

    A band's edges are softened by a normal, and their tails are taken in logarithms: a distant edge pulls as far as
    it should.
    """
    least = _least(at)
    if one.form == "normal" and one.a_mm is not None and one.b_mm is not None:
        found: Reals = -(((at - one.a_mm) / max(one.b_mm, least)) ** 2) / 2
        return found
    if one.form == "hills" and one.a_mm is not None and one.b_mm is not None:
        # As far from where there is no blur as the blur says, to either side.
        off: Reals = (np.abs(at - one.a_mm) - one.offset_mm) / max(one.b_mm, least)
        return np.asarray(-(off**2) / 2, dtype=np.float64)
    low, high = ((None if edge is None else (edge[0], max(edge[1], least))) for edge in one.edges)
    above = np.full_like(at, math.inf) if low is None else (at - low[0]) / low[1]
    below = np.full_like(at, math.inf) if high is None else (high[0] - at) / high[1]
    share = normal_below(above) - normal_below(-below)
    tail = np.minimum(_log_normal_below(above), _log_normal_below(below))
    softened: Reals = np.where(share > _TAIL, np.log(np.maximum(share, _TAIL)), tail)
    return softened


def posterior_of(at: Reals, logs: Reals) -> Posterior:
    """The posterior of what the logarithms of prior and likelihoods add up to."""
    weight = np.exp(logs - logs.max())
    return Posterior(at, weight / weight.sum())


def _least(at: Reals) -> float:
    """Nothing is narrower than the grid can tell."""
    return float(at[1] - at[0]) / 2


def normal_below(z: Reals) -> Reals:
    """The normal distribution below z."""
    found = (z > 0).astype(np.float64)
    near = np.abs(z) < _FAR
    found[near] = [0.5 * math.erfc(-value / math.sqrt(2)) for value in z[near]]
    return found


def _log_normal_below(z: Reals) -> Reals:
    found = np.zeros_like(z)
    near, far = np.abs(z) < _FAR, z <= -_FAR
    found[near] = np.log(normal_below(z[near]))
    square = z[far] ** 2
    # Abramowitz and Stegun, 26.2.12.
    series = np.log1p(-1 / square + 3 / square**2 - 15 / square**3 + 105 / square**4)
    found[far] = -square / 2 - np.log(np.sqrt(2 * math.pi * square)) + series
    return found
