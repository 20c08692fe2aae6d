"""What can be set: the next mark of a ring or a dial."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from typing import Final

from tropeion.core.gear.lenses import Lens
from tropeion.core.working import tidy

# By thirds of a stop, as rings and dials show them.
STOPS: Final = (
    *(1.0, 1.1, 1.2, 1.4, 1.6, 1.8, 2.0, 2.2, 2.5, 2.8, 3.2, 3.5, 4.0, 4.5, 5.0, 5.6, 6.3, 7.1, 8.0, 9.0, 10.0),
    *(11.0, 13.0, 14.0, 16.0, 18.0, 20.0, 22.0, 25.0, 29.0, 32.0, 36.0, 40.0, 45.0, 51.0, 57.0, 64.0, 90.0, 128.0),
)
_PARTS: Final = (
    *(8000, 6400, 5000, 4000, 3200, 2500, 2000, 1600, 1250, 1000, 800, 640, 500, 400, 320, 250, 200, 160, 125, 100),
    *(80, 60, 50, 40, 30, 25, 20, 15, 13, 10, 8, 6, 5, 4, 3),
)
SHUTTERS_S: Final = (
    *(1 / part for part in _PARTS),
    *(0.4, 0.5, 0.6, 0.8, 1.0, 1.3, 1.6, 2.0, 2.5, 3.2, 4.0, 5.0, 6.0, 8.0, 10.0, 13.0, 15.0, 20.0, 25.0, 30.0),
)


def mark_from(lens: Lens, f_number: float) -> float:
    """The widest aperture on the ring that is no wider than this; the number itself beyond its marks.

    The marks of a lens of which nobody noted them are taken to be thirds of a stop between its ends.
    """
    ends = (lens.f_number[0], lens.f_number_at_long_end or lens.f_number[0], lens.f_number[1])
    marks = sorted(lens.marked_f_numbers or (*STOPS, *ends))
    place = bisect_left(marks, 0.0, key=lambda mark: tidy(mark - f_number))
    return marks[place] if place < len(marks) else f_number


def shutter_from(seconds: float) -> float:
    """The slowest time on a dial that is no slower than this; the time itself beyond its marks."""
    place = bisect_right(SHUTTERS_S, 0.0, key=lambda mark: tidy(mark - seconds))
    return SHUTTERS_S[place - 1] if place else seconds


def shutter_said(seconds: float) -> str:
    """A time as a dial shows it."""
    return f"{seconds:g}" if seconds >= 0.35 else f"1/{1 / seconds:.0f}"
