"""Readings of one length with a caliper: their mean, how unsure it is, and what a spread of them means.

JCGM 100, 4.2 (repeated readings), 4.3.7 (limits taken as rectangular) and 5.1.2 (their sum).
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import USUAL_TOLERANCE_MM
from tropeion.core.working import Symbol, formula, tidy

GUM = "JCGM 100, 4.2, 4.3.7 and 5.1.2"
# Beyond so many standard uncertainties one of the two is in doubt.
IN_DOUBT = 2.0


@formula(
    "bench.mean_mm",
    "x̄ = Σx_i/n − z",
    "mm",
    GUM,
    readings_mm=Symbol("x_i", "mm", "readings at places around the mount face"),
    zero_mm=Symbol("z", "mm", "what the caliper reads with its jaws closed"),
)
def mean_mm(readings_mm: Sequence[float], zero_mm: float) -> float:
    """The mean of the readings, with the zero error taken off."""
    return math.fsum(readings_mm) / len(readings_mm) - zero_mm


@formula(
    "bench.standard_uncertainty_mm",
    "u² = s²/n + d²/12 + E²/3 + w²/3",
    "mm",
    GUM,
    repeatability_mm=Symbol("s", "mm", "experimental standard deviation of the readings; of one, what is usual"),
    count=Symbol("n", "", "how many"),
    resolution_mm=Symbol("d", "mm", "resolution of the caliper"),
    error_mm=Symbol("E", "mm", "greatest error that its maker allows"),
    mark_mm=Symbol("w", "mm", "half the width of a painted mark"),
)
def standard_uncertainty_mm(
    repeatability_mm: float, count: int, resolution_mm: float, error_mm: float, mark_mm: float
) -> float:
    """How unsure the mean of readings is."""
    return math.sqrt(repeatability_mm**2 / count + resolution_mm**2 / 12 + error_mm**2 / 3 + mark_mm**2 / 3)


@formula(
    "bench.nominal_score",
    "ζ = (x̄ − nominal)/√(u² + t²/3)",
    "",
    GUM,
    mean=Symbol("x̄", "mm", "mean of the readings", "bench.mean_mm"),
    uncertainty_mm=Symbol("u", "mm", "its uncertainty", "bench.standard_uncertainty_mm"),
    nominal_mm=Symbol("nominal", "mm", "as stated"),
    tolerance_mm=Symbol("t", "mm", "its tolerance"),
)
def nominal_score(mean: float, uncertainty_mm: float, nominal_mm: float, tolerance_mm: float) -> float:
    """How far a mean is from what is stated, in standard uncertainties of both; beyond 2 one of them is in doubt."""
    both = math.hypot(uncertainty_mm, tolerance_mm / math.sqrt(3))
    apart = mean - nominal_mm
    return apart / both if both else math.copysign(math.inf, apart) if apart else 0.0


@formula(
    "bench.degrees_of_freedom",
    "ν = u⁴/((s²/n)²/(n − 1))",
    "",
    "Welch and Satterthwaite (JCGM 100, G.4.1)",
    repeatability_mm=Symbol("s", "mm", "experimental standard deviation of the readings"),
    count=Symbol("n", "", "how many"),
    uncertainty_mm=Symbol("u", "mm", "of all parts together", "bench.standard_uncertainty_mm"),
)
def degrees_of_freedom(repeatability_mm: float, count: int, uncertainty_mm: float) -> float:
    """How many further readings the doubt is worth; without bound where they do not scatter."""
    scatter = (repeatability_mm**2 / count) ** 2
    # Below what a caliper could ever tell, they do not scatter.
    return (count - 1) * uncertainty_mm**4 / scatter if scatter > 1e-24 else math.inf


def coverage_factor(freedom: float) -> float:
    """t₀.₉₇₅ of Student's distribution, for one degree of freedom or more (JCGM 100, table G.2)."""
    if freedom > _NORMAL_FROM:
        return statistics.NormalDist().inv_cdf(0.975)
    # With t = √ν·tan θ the density is cos^(ν − 1) θ, and smooth.
    at = np.linspace(0.0, math.pi / 2, _STEPS)
    density = np.cos(at) ** (freedom - 1)
    below = np.concatenate([[0.0], np.cumsum(density[:-1] + density[1:])])
    return math.sqrt(freedom) * math.tan(float(np.interp(0.95, below / below[-1], at)))


@frozen
class MeanMeasured:
    """A length by its readings. ``measured_tolerance_mm`` is √3·u, so that the flange rule gives u back.

    ``nominal_score`` is None where no nominal length was given; ``repeatability_mm`` is the spread that counts,
    ``assumed`` where one reading alone cannot tell it. ``interval_mm`` holds the length in 95 of 100. ``slips`` are the
    places of what are likely slips of the hand, left out of nothing; ``other_length``: so far from the nominal that
    another length may have been measured.
    """

    mean_mm: float
    standard_uncertainty_mm: float
    measured_tolerance_mm: float
    spread_mm: float
    nominal_score: float | None
    repeatability_mm: float
    assumed: bool
    in_doubt: bool
    slips: tuple[int, ...]
    other_length: bool
    interval_mm: tuple[float, float]


# From this many degrees of freedom Student's distribution is normal within 1 in 10⁴.
_NORMAL_FROM = 30_000.0
_STEPS = 20_001
# A reading farther than this, in mm, from the median of at least three is likely a slip.
_SLIP_MM = 0.25
_SLIP_PARTS = 5.0
# A mean that is off by more than this share of the nominal: was it the right length that was measured?
_OTHER_LENGTH = 0.2


def slips_in(readings_mm: Sequence[float], *, resolution_mm: float, error_mm: float, mark_mm: float) -> tuple[int, ...]:
    """The places of likely slips: more than 5·max(d, E, w) and 0.25 mm from the median of at least three."""
    if len(readings_mm) < 3:
        return ()
    middle, most = statistics.median(readings_mm), max(_SLIP_PARTS * max(resolution_mm, error_mm, mark_mm), _SLIP_MM)
    return tuple(place for place, value in enumerate(readings_mm) if tidy(abs(value - middle) - most) > 0)


def measured(
    readings_mm: Sequence[float],
    *,
    zero_mm: float = 0.0,
    resolution_mm: float = 0.01,
    error_mm: float = 0.02,
    mark_mm: float = 0.0,
    repeatability_mm: float | None = None,
    nominal_mm: float | None = None,
    tolerance_mm: float | None = None,
) -> MeanMeasured:
    """What readings of one length say; a tolerance that is not stated is 0.05 mm.

    Raises ValueError without any, for one that is negative, and for a zero that is no length.
    """
    if not readings_mm:
        raise ValueError("at least one reading")
    for value in readings_mm:
        if not 0 <= value < math.inf:
            raise ValueError(f"{value:g} mm is no length: a caliper reads 0 or more")
    if not math.isfinite(zero_mm):
        raise ValueError(f"{zero_mm:g} mm is no zero of a caliper")
    count = len(readings_mm)
    assumed = count < 2
    usual = resolution_mm if repeatability_mm is None else repeatability_mm
    spread = usual if assumed else statistics.stdev(readings_mm)
    mean = mean_mm(readings_mm, zero_mm)
    u = standard_uncertainty_mm(spread, count, resolution_mm, error_mm, mark_mm)
    # The scatter of a few readings is itself unsure; one reading's is taken from what is usual, as if known.
    wide = coverage_factor(math.inf if assumed else degrees_of_freedom(spread, count, u)) * u
    score = None
    if nominal_mm is not None:
        score = nominal_score(mean, u, nominal_mm, USUAL_TOLERANCE_MM if tolerance_mm is None else tolerance_mm)
    return MeanMeasured(
        mean_mm=mean,
        standard_uncertainty_mm=u,
        measured_tolerance_mm=math.sqrt(3) * u,
        spread_mm=tidy(max(readings_mm) - min(readings_mm)),
        nominal_score=score,
        repeatability_mm=spread,
        assumed=assumed,
        in_doubt=score is not None and abs(score) > IN_DOUBT,
        slips=slips_in(readings_mm, resolution_mm=resolution_mm, error_mm=error_mm, mark_mm=mark_mm),
        other_length=nominal_mm is not None and abs(mean - nominal_mm) > _OTHER_LENGTH * nominal_mm,
        interval_mm=(mean - wide, mean + wide),
    )


@frozen
class Wedge:
    """A seat that is not square: by how many degrees, what it defocuses to each side, the aperture that hides it."""

    wedge_deg: float
    defocus_mm: float
    hidden_from_f_number: float


def wedge_of(
    spread_mm: float, seat_mm: float, width_mm: float, behind: float, magnification: float, circle_mm: float
) -> Wedge:
    """A spread of readings over a seat, across a sensor so wide; ``behind`` is the glass behind the wedge.

    At least so much: readings at a few places need not have met the highest and the lowest.
    """
    tangent = spread_mm / seat_mm
    defocus = width_mm / 2 * behind * tangent
    return Wedge(math.degrees(math.atan(tangent)), defocus, defocus / (magnification * circle_mm))
