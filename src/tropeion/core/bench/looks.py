"""What to look at next: the look after which the error is known best, averaged over all that it may bring.

Over errors drawn from the present posterior and, for each, over what the look would then show.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Final

import numpy as np

from tropeion.core.optics.defocus import extension_for_mm
from tropeion.core.optics.focus import object_distance_mm

from .forward import shown
from .posterior import Posterior, Reals, log_likelihood
from .seen import Bench, Kind, Observation, Saw, implied

# What there is to look at, and how well a caliper does.
_LOOKS: Final[tuple[Kind, ...]] = ("far_limit", "near_limit", "past_infinity", "scale", "infinity_from", "length")
_CALIPER_MM = 0.02
_SCALE_MM = 3000.0
# A look that narrows by less is not worth the walk.
_WORTH = 0.95
_QUANTILES = 41
_COARSE = 600
# Three points of Gauss and Hermite: exact for the mean of any polynomial up to the fifth degree.
_NOISE: Final = ((-math.sqrt(3), 1 / 6), (0.0, 2 / 3), (math.sqrt(3), 1 / 6))


def next_best(bench: Bench, found: Posterior, seen: Sequence[Observation]) -> Kind | None:
    """The kind of look that would narrow most; None where none narrows by a twentieth.

    What was seen already is not looked at again: its doubt would be the same, not another one.
    """
    known = {observation.kind for observation in seen}
    coarse = _coarse(found)
    best: tuple[float, int, Kind] | None = None
    for order, kind in enumerate(_LOOKS):
        expected = None if kind in known else expected_deviation_mm(bench, coarse, kind)
        if expected is not None and expected < _WORTH * found.deviation_mm:
            best = min(best or (math.inf, 0, kind), (expected, order, kind))
    return None if best is None else best[2]


def expected_deviation_mm(bench: Bench, found: Posterior, kind: Kind) -> float | None:
    """The standard deviation to expect after a look of this kind; None where the rig can show nothing of it."""
    if kind == "infinity_from":
        return _after_stops(bench, found)
    errors = found.quantiles_mm([(number + 0.5) / _QUANTILES for number in range(_QUANTILES)])
    outcomes: list[Observation] = []
    shares: list[float] = []
    silent = 0
    for error in errors:
        told = list(_outcomes(bench, kind, error))
        silent += not told
        outcomes += [observation for observation, _ in told]
        shares += [share for _, share in told]
    if not outcomes:
        return None
    after = _deviations(found, [log_likelihood(found.at, outcome) for outcome in outcomes])
    # If the rig cannot show such a thing at this error, the observation tells nothing.
    return (float(after @ np.array(shares)) + silent * found.deviation_mm) / len(errors)


def _outcomes(bench: Bench, kind: Kind, error_mm: float) -> Iterator[tuple[Observation, float]]:
    """What a look would bring if this were the error, and how likely each; nothing where the rig shows nothing."""
    if kind == "length":
        for z, share in _NOISE:
            yield Observation(kind, "normal", error_mm + z * _CALIPER_MM, _CALIPER_MM), share
        return
    saw = _would_see(bench, kind, error_mm)
    if saw is None:
        if (instead := _instead(bench, kind)) is not None:
            yield instead, 1.0
        return
    try:
        exact = implied(bench, saw)
    except ValueError:
        return
    if exact.a_mm is None or exact.b_mm is None:
        return
    for z, share in _NOISE:
        yield Observation(kind, "normal", exact.a_mm + z * exact.b_mm, exact.b_mm), share


def _would_see(bench: Bench, kind: Kind, error_mm: float) -> Saw | None:
    """What a rig with this error shows of a kind."""
    looks = shown(bench, error_mm, 0.0)
    if kind == "scale":
        read = extension_for_mm(bench.focal_length_mm, _SCALE_MM)
        x = 0.0 if read is None else read + error_mm / bench.magnification**2
        true = object_distance_mm(bench.focal_length_mm, x) - bench.offset_mm if x > 0 else None
        return None if true is None else Saw(kind, (true, _SCALE_MM))
    distances = {"far_limit": looks.far_m, "near_limit": looks.near_m, "past_infinity": looks.past_at_m}
    distance = distances.get(kind)
    return None if distance is None else Saw(kind, (distance * 1000,))


def _instead(bench: Bench, kind: Kind) -> Observation | None:
    """What it tells that a rig shows nothing of a kind."""
    if kind == "far_limit":
        # Infinity is sharp at the far stop.
        return Observation("infinity_from", "band", None, bench.window_mm + bench.past_mm, bench.past_mm)
    if kind == "past_infinity":
        # It is sharp at the mark, or not even there.
        return Observation(kind, "band", -bench.window_mm, None)
    return None


def _after_stops(bench: Bench, found: Posterior) -> float:
    """Stopped down until infinity is sharp: each outcome with the share of errors that brings it."""
    per_stop, past = bench.magnification * bench.circle_mm, bench.past_mm
    edges = [stop * per_stop + past for stop in bench.stops]
    bands = [
        Observation("infinity_from", "band", low, high, past)
        for low, high in zip((None, *edges), (*edges, None), strict=True)
    ]
    logs = [log_likelihood(found.at, band) for band in bands]
    shares = np.array([float(found.weight @ np.exp(log)) for log in logs])
    after = _deviations(found, logs)
    return float(after @ shares / shares.sum())


def _deviations(found: Posterior, logs: Sequence[Reals]) -> Reals:
    """The standard deviation of the posterior after each of these."""
    tiny = np.finfo(float).tiny
    together = np.log(np.maximum(found.weight, tiny)) + np.stack(list(logs))
    weight = np.exp(together - together.max(axis=1, keepdims=True))
    weight /= weight.sum(axis=1, keepdims=True)
    mean = weight @ found.at
    square: Reals = np.sqrt(np.maximum(weight @ found.at**2 - mean**2, 0.0))
    return square


def _coarse(found: Posterior) -> Posterior:
    """The same on fewer points, where it has any weight."""
    held = np.flatnonzero(found.weight > found.weight.max() * 1e-9)
    at, weight = found.at[held[0] : held[-1] + 1], found.weight[held[0] : held[-1] + 1]
    step = math.ceil(len(at) / _COARSE)
    at, weight = (np.pad(one, (0, -len(one) % step)) for one in (at, weight))
    blocks, shares = at.reshape(-1, step), weight.reshape(-1, step)
    total = shares.sum(axis=1)
    kept = total > 0
    return Posterior((blocks * shares).sum(axis=1)[kept] / total[kept], total[kept] / total.sum())
