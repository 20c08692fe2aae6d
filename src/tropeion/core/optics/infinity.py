"""Infinity: from which aperture it is sharp, how likely that is, and the windows of the hundredths strip.

K is the magnification of all glass in the chain, c the circle of confusion on the sensor. All lengths in mm.
"""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.words import word
from tropeion.core.working import Calc, Symbol, formula, tidy

from .spread import share_between
from .symbols import BLUR, GLASS, MARKED_F_NUMBER

TOLERANCE = f"Depth of focus N′·c (Ray, ch. 22) over the sum of rectangular {word('flange_error')}s (JCGM 100, 4.3.7)"
_S = Symbol("s", "mm", "short end of the focus range at the sensor", "infinity.short_end_mm")
_S_LONG = Symbol("s_long", "mm", "long end of the focus range at the sensor", "infinity.long_end_mm")


@formula(
    "infinity.short_end_mm",
    "s = δ − K²·past infinity",
    "mm",
    TOLERANCE,
    error_mm=Symbol("δ", "mm", f"{word('flange_error')} at the sensor", "register_error_mm"),
    k=GLASS,
    past_infinity_mm=Symbol("past infinity", "mm", "travel beyond the infinity mark"),
)
def short_end_mm(error_mm: float, k: float, past_infinity_mm: float) -> float:
    """Where the image of infinity falls with the lens at its infinity stop; positive in front of the sensor."""
    return tidy(error_mm - k**2 * past_infinity_mm)


@formula(
    "infinity.long_end_mm",
    "s_long = δ + K²·e",
    "mm",
    TOLERANCE,
    error_mm=Symbol("δ", "mm", f"{word('flange_error')} at the sensor", "register_error_mm"),
    k=GLASS,
    travel=Symbol("e", "mm", "the lens's own focus travel", "focus.travel_mm"),
    helicoid_mm=Symbol("helicoids", "mm", "what opened helicoids add, at the sensor"),
)
def long_end_mm(error_mm: float, k: float, travel: float, helicoid_mm: float) -> float:
    """Where the image of infinity falls with the lens at its closest focus."""
    return tidy(error_mm + k**2 * travel + helicoid_mm)


@formula(
    "infinity.from_f_number",
    "max(N, s/(K·c), −s_long/(K·c))",
    "f",
    TOLERANCE,
    f_number=MARKED_F_NUMBER,
    short_mm=_S,
    long_mm=_S_LONG,
    k=GLASS,
    circle_mm=BLUR,
    allowance_mm=Symbol("worst case", "mm", "added to s, taken from s_long, by the cautious school"),
)
def from_f_number(
    f_number: float, short_mm: float, long_mm: float, k: float, circle_mm: float, allowance_mm: float = 0.0
) -> float:
    """The widest marked aperture at which infinity is sharp."""
    window = k * circle_mm
    return max(f_number, tidy(short_mm + allowance_mm) / window, -tidy(long_mm - allowance_mm) / window)


@formula(
    "infinity.probability",
    "P(−K·N·c − s_long ≤ ε ≤ K·N·c − s), ε = Σ rectangular ±s·t",
    "",
    TOLERANCE,
    f_number=MARKED_F_NUMBER,
    short_mm=_S,
    long_mm=_S_LONG,
    k=GLASS,
    circle_mm=BLUR,
    half_widths_mm=Symbol("s·t", "mm", "half-width of each tolerance at the sensor"),
)
def probability(
    f_number: float, short_mm: float, long_mm: float, k: float, circle_mm: float, half_widths_mm: tuple[float, ...]
) -> float:
    """How likely infinity is sharp at this aperture, given the tolerances of every piece."""
    window = k * f_number * circle_mm
    return share_between(half_widths_mm, -window - long_mm, window - short_mm)


@formula("infinity.margin_mm", "−s", "mm", TOLERANCE, short_mm=_S)
def margin_mm(short_mm: float) -> float:
    """How far the lens turns past infinity; negative: how much is missing."""
    return tidy(-short_mm)


@frozen
class Stop:
    """One full stop on the hundredths strip: half-width of its window in mm and the share that falls inside."""

    f_number: float
    window_mm: float
    probability: float


@frozen
class Infinity:
    """Whether infinity is sharp. ``from_f_number`` is the marked aperture, None above the smallest stop.

    Where it depends on a focus travel that is not known, ``reached`` is None, and so is all that follows from it;
    where on a register, so is all the rest.
    """

    reached: bool | None
    margin_mm: float | None
    from_f_number: float | None
    probability: float | None
    stops: tuple[Stop, ...]
    short_end_mm: float | None
    long_end_mm: float | None
    travel_known: bool = True


NOT_KNOWN = Infinity(None, None, None, None, (), None, None)
FULL_STOPS = (1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0, 45.0, 64.0)


def infinity(
    *,
    error_mm: float,
    past_infinity_mm: float,
    travel: float,
    travel_known: bool = True,
    helicoid_mm: float,
    f_numbers: tuple[float, float],
    k: float,
    circle_mm: float,
    half_widths_mm: tuple[float, ...],
    allowance_mm: float,
    calc: Calc,
) -> Infinity:
    """Judge infinity over the usable marked apertures ``f_numbers``, widest and smallest.

    ``allowance_mm`` is the worst case of the tolerances for the cautious school, 0 for the nominal one. Where the
    ``travel`` is only assumed and does not bring the near side of infinity, nothing is known of infinity.
    ``helicoid_mm`` is scaled to the sensor. The windows of the strip are left to :func:`stops_of`.
    """
    widest, smallest = f_numbers
    short = calc(short_end_mm, error_mm, k, past_infinity_mm)
    long = calc(long_end_mm, error_mm, k, travel, helicoid_mm)
    if not travel_known and tidy(long - allowance_mm + k * widest * circle_mm) < 0:
        margin = calc(margin_mm, short)
        return Infinity(None, margin, None, None, (), short, long, travel_known=False)
    needed = calc(from_f_number, widest, short, long, k, circle_mm, allowance_mm)
    chance = calc(probability, widest, short, long, k, circle_mm, half_widths_mm)
    return Infinity(
        reached=needed <= widest,
        margin_mm=calc(margin_mm, short),
        from_f_number=needed if needed <= smallest else None,
        probability=chance,
        stops=(),
        short_end_mm=short,
        long_end_mm=long,
        travel_known=travel_known,
    )


def stops_of(
    found: Infinity, f_numbers: tuple[float, float], *, k: float, circle_mm: float, half_widths_mm: tuple[float, ...]
) -> tuple[Stop, ...]:
    """The windows of the hundredths strip: the widest usable aperture and every full stop above it."""
    widest, smallest = f_numbers
    short, long = found.short_end_mm, found.long_end_mm
    if short is None or long is None:
        return ()
    return tuple(
        Stop(n, k * n * circle_mm, probability(n, short, long, k, circle_mm, half_widths_mm))
        for n in (widest, *(n for n in FULL_STOPS if widest < n <= smallest))
    )
