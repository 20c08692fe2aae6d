"""Which entries a folder of pictures is held against."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.records.moments import SECOND_US, read_moment, wall_us

from .log_file import FiledEntry

_NEAR_US: Final = 36 * 3600 * SECOND_US


@frozen
class LogDay:
    """A day of the log, by the clock on the wall there, and how many entries it has."""

    day: str
    entries: int


def days_of(entries: Sequence[FiledEntry]) -> tuple[LogDay, ...]:
    """The days with entries that count, the latest first."""
    days = Counter(read_moment(entry.at).date().isoformat() for entry in entries if entry.struck is None)
    return tuple(LogDay(day, days[day]) for day in sorted(days, reverse=True))


def span_of(entries: Sequence[FiledEntry], taken_us: Sequence[int]) -> tuple[str, str] | None:
    """The first and the last day that pictures may be of, by what their clocks show; where no entry is near, the
    latest day: then a clock shows another day, or another year. None: there are no entries."""
    days = days_of(entries)
    if not days:
        return None
    if taken_us:
        low, high = min(taken_us) - _NEAR_US, max(taken_us) + _NEAR_US
        near = [entry for entry in entries if entry.struck is None and low <= wall_us(entry.at) <= high]
        if near:
            told = sorted(read_moment(entry.at).date().isoformat() for entry in near)
            return told[0], told[-1]
    return days[0].day, days[0].day


def within(entries: Sequence[FiledEntry], span: tuple[str, str] | None) -> tuple[FiledEntry, ...]:
    """The entries of these days, both included."""
    if span is None:
        return ()
    first, last = span
    return tuple(entry for entry in entries if first <= read_moment(entry.at).date().isoformat() <= last)
