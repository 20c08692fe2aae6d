"""Shims from the foils at hand: what is wanted, and which come nearest without making a ring too long."""

from __future__ import annotations

import bisect
import math
from collections.abc import Iterator, Sequence
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.rig.assembly import Assembly
from tropeion.core.working import tidy

from .combined import Estimate
from .forward import probability_of_infinity
from .seen import Bench

# What foil keeps to where it is not stated.
USUAL_TOLERANCE_MM = 0.005


@frozen
class Foils:
    """Foils of one thickness, and how many there are; ± ``tolerance_mm`` each, as is usual unless it is stated."""

    thickness_mm: float
    count: int
    tolerance_mm: float = USUAL_TOLERANCE_MM
    material: str | None = None


@frozen
class Shim:
    """What to add at a joint: ``wanted_mm``, the ``foils`` that come nearest, thinnest first, and their sum.

    ``uncertainty_mm`` is the standard uncertainty of the sum, each foil's tolerance taken as rectangular.
    """

    wanted_mm: float
    foils: tuple[float, ...]
    sum_mm: float
    uncertainty_mm: float = 0.0


def shim_for(error_mm: float, margin_mm: float, foils: Sequence[Foils], sensitivity: float = 1.0) -> Shim:
    """The shim for an error at a joint whose length counts ``sensitivity``-fold at the sensor.

    Nothing where it is not too short by more than it may be (δ ≥ −margin). Of all sums of at most four foils that leave
    δ + Σ·S ≤ 0 the one nearest to what is wanted, then the one of fewest.
    """
    wanted = tidy((-error_mm - margin_mm) / sensitivity)
    if wanted <= 0:
        return Shim(0.0, (), 0.0)
    best = _nearest(sorted(foils, key=lambda foils: foils.thickness_mm), wanted, tidy(-error_mm / sensitivity))
    tolerances = {foil.thickness_mm: foil.tolerance_mm for foil in foils}
    return Shim(wanted, best, tidy(sum(best)), math.sqrt(sum(tolerances[value] ** 2 for value in best) / 3))


@frozen
class ShimAt:
    """The joint where foils go: a side of a piece. ``counts`` is S, k² of all glass nearer the sensor."""

    piece: str
    side: Literal["lens", "body"]
    counts: float
    where: str


@frozen
class Shimmed:
    """Foils laid at a joint, and its consequence: the error at the sensor, and infinity at the widest aperture."""

    at: ShimAt
    counts: float
    wanted_mm: float
    foils: tuple[float, ...]
    sum_mm: float
    after_mm: float
    after_uncertainty_mm: float
    infinity_probability: float


def shim_at(rig: Assembly) -> ShimAt:
    """Under the plain piece nearest the sensor, towards the body; without one under the lens's mount ring.

    Plates of a piece with glass are left alone: its glass is set against them.
    """
    adapters = rig.adapters
    for place in reversed(range(len(adapters))):
        piece = adapters[place]
        if not piece.has_glass:
            where = f"under the plate of {piece.name} that meets the body"
            return ShimAt(piece.id, "body", _counts(rig, place + 1), where)
    return ShimAt(rig.lens.id, "body", _counts(rig, 0), f"under the mount ring of {rig.lens.name}")


def _counts(rig: Assembly, first: int) -> float:
    return math.prod(adapter.magnification**2 for adapter in rig.adapters[first:])


def shimmed(bench: Bench, at: ShimAt, found: Estimate, margin_mm: float, foils: Sequence[Foils]) -> Shimmed:
    """The foils that come nearest to what an answer of the bench wants, laid at a joint."""
    shim = shim_for(found.mean_mm, margin_mm, foils, at.counts)
    after = found.mean_mm + at.counts * shim.sum_mm
    u = math.hypot(found.standard_uncertainty_mm, at.counts * shim.uncertainty_mm)
    probability = probability_of_infinity(bench, after, u, bench.f_number)
    return Shimmed(at, at.counts, shim.wanted_mm, shim.foils, shim.sum_mm, after, u, probability)


def _nearest(foils: Sequence[Foils], wanted_mm: float, most_mm: float) -> tuple[float, ...]:
    """The choice of foils whose sum is nearest to what is wanted and no more than ``most_mm``.

    At most four: more do not lie flat.

    Of equally near ones that of fewest, then of the thinnest. Two and two: of each two the others that come nearest.
    """
    have = {foil.thickness_mm: foil.count for foil in foils}
    twos = sorted((tidy(sum(some)), some) for some in _up_to_two(foils))
    sums = [total for total, _ in twos]
    best: tuple[float, int, tuple[float, ...]] = (wanted_mm, 0, ())
    for total, some in twos:
        at = bisect.bisect_left(sums, wanted_mm - total)
        for places in (range(at, len(twos)), range(at - 1, -1, -1)):
            for place in places:
                both = tidy(total + sums[place])
                if tidy(abs(both - wanted_mm)) > best[0] or both > most_mm:
                    # Farther away in this direction nothing comes nearer.
                    break
                chosen = tuple(sorted((*some, *twos[place][1])))
                if all(chosen.count(value) <= have[value] for value in set(chosen)):
                    best = min(best, (tidy(abs(both - wanted_mm)), len(chosen), chosen))
    return best[2]


def _up_to_two(foils: Sequence[Foils]) -> Iterator[tuple[float, ...]]:
    yield ()
    for number, foil in enumerate(foils):
        if foil.count:
            yield (foil.thickness_mm,)
        if foil.count > 1:
            yield (foil.thickness_mm, foil.thickness_mm)
        yield from (
            (foil.thickness_mm, other.thickness_mm) for other in foils[number + 1 :] if foil.count and other.count
        )
