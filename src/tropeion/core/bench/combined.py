"""All that was seen and measured of one error together: where it likely is, and whether all of it agrees."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frozen import frozen

from .agreement import CONTRADICTED, Term, agreement_of
from .forward import sharp_between_mm
from .posterior import Posterior, Prior, grid_of, log_likelihood, log_prior, posterior_of
from .seen import Bench, Observation


@frozen
class Estimate:
    """An error in mm with a 95 % interval of equal tails, and whether all that it rests on agrees."""

    mean_mm: float
    standard_uncertainty_mm: float
    interval_mm: tuple[float, float]
    agreement_p: float | None

    @property
    def agrees(self) -> bool:
        """Nothing speaks against it."""
        return self.agreement_p is None or self.agreement_p >= CONTRADICTED


@frozen
class Combined(Estimate):
    """The error by all together.

    ``agreement_p`` is None where nothing can be held against anything. ``most_at_odds`` is the kind of what is,
    ``most_at_odds_index`` its place in the list (None: the prior), and ``without`` the answer without it;
    ``both_at_odds``: of two that contradict nobody can say which. ``infinity_probability`` is at the widest aperture,
    by the answer that is the headline.
    """

    most_at_odds: Term | None
    most_at_odds_index: int | None
    both_at_odds: bool
    without: Estimate | None
    infinity_probability: float

    @property
    def headline(self) -> Estimate:
        """Without the stated length, where that is what is most at odds and all that was seen agrees."""
        without = self.without
        return without if without is not None and _is_better(self.most_at_odds, without) else self


def posterior(prior: Prior | None, seen: Sequence[Observation]) -> Posterior:
    """Prior (None: flat) × all that was seen. Raises ValueError where nothing is said."""
    if prior is None and not seen:
        raise ValueError("nothing is known and nothing was seen")
    at = grid_of(prior, seen)
    return posterior_of(at, sum((log_likelihood(at, observation) for observation in seen), log_prior(at, prior)))


def together(bench: Bench, prior: Prior | None, seen: Sequence[Observation]) -> Combined:
    """The error by prior (None: a nameless ring, flat) and observations. Raises ValueError where nothing is said."""
    whole = posterior(prior, seen)
    agreement = agreement_of(whole.at, prior, seen)
    without, headline = None, whole
    if agreement.most_at_odds is not None:
        rest_prior = prior if agreement.place is not None else None
        rest = [observation for place, observation in enumerate(seen) if place != agreement.place]
        if rest_prior is not None or rest:
            other = posterior(rest_prior, rest)
            without = _answer(other, agreement_of(other.at, rest_prior, rest).p)
            if _is_better(agreement.most_at_odds, without):
                headline = other
    own = _answer(whole, agreement.p)
    return Combined(
        mean_mm=own.mean_mm,
        standard_uncertainty_mm=own.standard_uncertainty_mm,
        interval_mm=own.interval_mm,
        agreement_p=own.agreement_p,
        most_at_odds=agreement.most_at_odds,
        most_at_odds_index=agreement.place,
        both_at_odds=agreement.both,
        without=without,
        infinity_probability=headline.share_between(*sharp_between_mm(bench, bench.f_number)),
    )


def _is_better(left_out: Term | None, without: Estimate) -> bool:
    """Whether the answer without what is most at odds is the headline: all that was seen agrees, the prior does not."""
    return left_out == "prior" and without.agrees


def _answer(found: Posterior, p: float | None) -> Estimate:
    low, high = found.quantiles_mm((0.025, 0.975))
    return Estimate(found.mean_mm, found.deviation_mm, (low, high), p)
