"""Shims from the foils at hand: what is wanted, and which come nearest without making a ring too long."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.working import tidy

__all__ = ["USUAL_TOLERANCE_MM", "Foils", "Shim", "shim_for"]

# What foil keeps to where nobody stated it.
USUAL_TOLERANCE_MM = 0.005
# More in one joint do not lie flat.
MOST_FOILS = 4


@dataclass(frozen=True, slots=True)
class Foils:
    """Foils of one thickness, and how many there are; ± ``tolerance_mm`` each, as is usual unless it is stated."""

    thickness_mm: float
    count: int
    tolerance_mm: float = USUAL_TOLERANCE_MM
    material: str | None = None


@dataclass(frozen=True, slots=True)
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
    best: tuple[float, int, tuple[float, ...]] = (wanted, 0, ())
    most = tidy(-error_mm / sensitivity)
    for chosen in _chosen(sorted(foils, key=lambda one: one.thickness_mm), MOST_FOILS):
        total = tidy(sum(chosen))
        if total <= most:
            best = min(best, (tidy(abs(total - wanted)), len(chosen), chosen))
    tolerances = {one.thickness_mm: one.tolerance_mm for one in foils}
    return Shim(wanted, best[2], tidy(sum(best[2])), math.sqrt(sum(tolerances[one] ** 2 for one in best[2]) / 3))


def _chosen(foils: Sequence[Foils], room: int) -> list[tuple[float, ...]]:
    """Every choice of at most ``room`` foils."""
    if not foils or room == 0:
        return [()]
    first, rest = foils[0], foils[1:]
    found = []
    for number in range(min(first.count, room) + 1):
        found += [(first.thickness_mm,) * number + more for more in _chosen(rest, room - number)]
    return found
