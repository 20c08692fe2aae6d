"""How a sum of independent rectangular errors spreads: shares and density, exactly. Lengths in mm.

The share below x of n errors of half-widths a is Σ ±(x + Σ ±a)₊ⁿ / (n!·Π2a) over all signs (inclusion and exclusion).
Its terms cancel almost wholly, so they are taken in whole picometres, where nothing is rounded.
"""

from __future__ import annotations

import itertools
import math
from functools import lru_cache

from tropeion.core.working import tidy

Density = tuple[float, ...]
_PER_MM = 10**9
_LEAST_MM = 1e-6


def wide_enough(half_widths_mm: tuple[float, ...]) -> tuple[float, ...]:
    """The half-widths that count, in order: those under 1 nm are dropped."""
    return tuple(sorted([width for width in half_widths_mm if width >= _LEAST_MM]))


@lru_cache(maxsize=4096)
def _corners(half_widths_mm: tuple[float, ...]) -> tuple[list[tuple[int, int]], int, int]:
    """Where the polynomial changes and with which sign, n, and n!·Π2a, in picometres."""
    whole = [round(width * _PER_MM) for width in half_widths_mm]
    signed = [
        (sum(sign * width for sign, width in zip(signs, whole, strict=True)), math.prod(signs))
        for signs in itertools.product((1, -1), repeat=len(whole))
    ]
    return signed, len(whole), math.factorial(len(whole)) * math.prod(2 * width for width in whole)


def _share_below(half_widths_mm: tuple[float, ...], reach: float, value_mm: float) -> float:
    if tidy(value_mm - reach) >= 0:
        return 1.0
    if tidy(value_mm + reach) < 0 or not half_widths_mm:
        return 0.0
    corners, n, whole = _corners(half_widths_mm)
    x = round(value_mm * _PER_MM)
    # An integer over an integer: the only rounding.
    share: float = sum(sign * (x + at) ** n for at, sign in corners if x + at > 0) / whole
    return min(1.0, max(0.0, share))


def share_between(half_widths_mm: tuple[float, ...], low_mm: float, high_mm: float) -> float:
    """P(low ≤ ε ≤ high) for the sum ε of rectangular errors; both ends count as inside.

    A sum that cannot leave the interval gives exactly 1; no error at all, 1 or 0.
    """
    widths = wide_enough(half_widths_mm)
    if not widths:
        return float(tidy(low_mm) <= 0 <= tidy(high_mm))
    reach = math.fsum(widths)
    # The density is even: what lies below low is what lies above −low.
    return max(0.0, _share_below(widths, reach, high_mm) + _share_below(widths, reach, -low_mm) - 1.0)


@lru_cache(maxsize=4096)
def density_of(half_widths_mm: tuple[float, ...], points: int = 49) -> Density:
    """Heights of the density over its peak, at even steps from one worst case to the other; none without an error."""
    widths = wide_enough(half_widths_mm)
    if not widths:
        return ()
    if len(widths) == 1:
        return (1.0,) * points
    corners, n, _ = _corners(widths)
    reach = sum(round(width * _PER_MM) for width in widths)
    heights = []
    for step in range(points):
        x = reach * (2 * step - (points - 1)) // (points - 1)
        heights.append(sum(sign * (x + at) ** (n - 1) for at, sign in corners if x + at > 0))
    peak = max(heights)
    # They are only drawn.
    return tuple(round(max(0, height) / peak, 5) for height in heights)
