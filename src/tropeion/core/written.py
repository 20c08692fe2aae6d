"""How numbers are written in sentences."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from decimal import ROUND_HALF_UP, Decimal
from typing import Literal


def fixed(value: float, digits: int) -> str:
    """A number with so many decimals, an exact half away from zero, as the browser rounds it."""
    if not math.isfinite(value):
        return str(value)
    # Only an exact half would be rounded to the even side.
    if (value * 2 * 10**digits) % 1:
        return f"{value:.{digits}f}"
    return str(Decimal(value).quantize(Decimal(1).scaleb(-digits), ROUND_HALF_UP))


def millimetres(value: float) -> str:
    """A length of metal, always with two decimals."""
    return f"{fixed(abs(value), 2)} mm"


def aperture(f_number: float) -> str:
    """An f-number, rounded up to what a ring could be set to: never wider than computed."""
    if f_number >= 10:
        return f"f/{math.ceil(round(f_number, 6))}"
    return f"f/{math.ceil(round(f_number * 10, 5)) / 10:g}"


def distance(mm: float, units: Literal["metric", "imperial"]) -> str:
    """A subject distance, to three significant figures."""
    if units == "imperial":
        inches = mm / 25.4
        return f"{_figures(inches)} in" if inches < 23.95 else f"{_figures(inches / 12)} ft"
    return f"{_figures(mm / 10)} cm" if mm < 999.5 else f"{_figures(mm / 1000)} m"


def _figures(value: float) -> str:
    """A number to three significant figures; none of its whole ones is lost."""
    digits = next((digits for digits in (2, 1) if abs(float(fixed(value, digits))) < 10 ** (3 - digits)), 0)
    return f"{Decimal(fixed(value, digits)):,}"


def percent(probability: float) -> str:
    """A probability; never 0 % or 100 % for something that is only nearly so."""
    if 0 < probability < 0.01:
        return "under 1 %"
    if 0.99 < probability < 1 - 1e-9:
        return "over 99 %"
    return f"{fixed(probability * 100, 0)} %"


def listed(words: Sequence[str], last: str = "and") -> str:
    """``a, b and c``."""
    if len(words) < 2:
        return "".join(words)
    return f"{', '.join(words[:-1])} {last} {words[-1]}"


def short_name(lens: str, adapters: Sequence[str], most: int | None, at_mm: float | None = None) -> str:
    """A lens and what it stands on, in at most so many letters: the figures of a lens are what it is told by.

    ``at_mm`` is the setting of a zoom, which comes before all else. With ``most`` None or 0 the whole is written.
    """
    at = "" if at_mm is None else f" at {at_mm:g}"
    whole = " + ".join((lens + at, *adapters))
    if not most or len(whole) <= most:
        return whole
    figures = next((word for word in lens.split() if any(letter.isdigit() for letter in word)), lens).rstrip(",")
    bare, ring = figures.split("/")[0], _ends_of(adapters[-1]) if adapters else ""
    if at_mm is not None:
        tries = [f"{bare}{at}+{ring}", f"{bare}{at}", f"{at_mm:g} mm"]
    else:
        tries = [f"{figures}+{part}" for part in (ring, *re.split("[–-]", ring)[:1]) if part]
        tries += [figures, bare]
    return next((form for form in tries if len(form) <= most), tries[-1][:most])


def _ends_of(label: str) -> str:
    """The word of an adapter's label that names both its ends, else its last."""
    words = [word.strip(",") for word in label.split()]
    return next((word for word in words if "–" in word), words[-1])
