"""How numbers are written in sentences."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

__all__ = ["aperture", "distance", "listed", "millimetres", "percent"]


def millimetres(value: float) -> str:
    """A length of metal, always with two decimals."""
    return f"{abs(value):.2f} mm"


def aperture(f_number: float) -> str:
    """An f-number, rounded up to what a ring could be set to: never wider than computed."""
    if f_number >= 10:
        return f"f/{math.ceil(round(f_number, 6))}"
    return f"f/{math.ceil(round(f_number * 10, 5)) / 10:g}"


def distance(mm: float, units: Literal["metric", "imperial"]) -> str:
    """A subject distance."""
    if units == "imperial":
        inches = mm / 25.4
        if inches < 23.95:
            return f"{inches:.1f} in"
        if inches < 119.5:
            feet, rest = divmod(round(inches), 12)
            return f"{feet} ft {rest} in" if rest else f"{feet} ft"
        return f"{inches / 12:,.0f} ft"
    if mm < 999.5:
        return f"{mm / 10:.1f} cm"
    if mm < 9950:
        return f"{mm / 1000:.1f} m"
    return f"{mm / 1000:,.0f} m"


def percent(probability: float) -> str:
    """A probability; never 0 % or 100 % for something that is only nearly so."""
    if 0 < probability < 0.01:
        return "under 1 %"
    if 0.99 < probability < 1 - 1e-9:
        return "over 99 %"
    return f"{probability * 100:.0f} %"


def listed(words: Sequence[str]) -> str:
    """``a, b and c``."""
    if len(words) < 2:
        return "".join(words)
    return f"{', '.join(words[:-1])} and {words[-1]}"
