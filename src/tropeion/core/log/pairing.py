"""Taps and pictures paired one to one, in the order of time: the greatest sum of how far each pair is within reach.

Two pairs that cross can be uncrossed at no loss, so a pairing in order is as good as any. What stands farther from
everything than the reach cuts the line into pieces that do not know of each other.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from tropeion.core.frozen import frozen

Times = npt.NDArray[np.int64]


@frozen
class Barred:
    """Which pictures may not go with which taps: kinds of both, and a table of shape (kinds of taps, of pictures)."""

    taps: npt.NDArray[np.intp]
    pictures: npt.NDArray[np.intp]
    table: npt.NDArray[np.bool_]


@frozen
class _Row:
    """One tap: the pictures within its reach from ``low`` on, what each is worth, and the best sum from each of them
    (and from just after the last) on, with this tap and the later ones."""

    tap: int
    low: int
    worth: list[int]
    best: list[int]

    @property
    def high(self) -> int:
        return self.low + len(self.worth)


def _rows(taps: Times, pictures: Times, reach_us: int, barred: Barred | None) -> list[_Row]:
    """The sums of all taps that have pictures within reach, computed from the last one back."""
    low = np.searchsorted(pictures, taps - reach_us, side="right")
    high = np.searchsorted(pictures, taps + reach_us, side="left")
    near = np.flatnonzero(high > low)
    windows = zip(near.tolist(), taps[near].tolist(), low[near].tolist(), high[near].tolist(), strict=True)
    at_us: list[int] = pictures.tolist()
    rows: list[_Row] = []
    low_after, best_after = 0, [0]
    for tap, tap_us, first, last in reversed(list(windows)):
        worth = [reach_us - abs(picture_us - tap_us) for picture_us in at_us[first:last]]
        if barred is not None:
            bars = barred.table[barred.taps[tap], barred.pictures[first:last]].tolist()
            worth = [0 if bar else value for bar, value in zip(bars, worth, strict=True)]
        # Before its first picture a row's sum is that of the first; it never ends before the one that comes earlier.
        without = [best_after[max(at - low_after, 0)] if rows else 0 for at in range(first, last + 1)]
        best = without[:]
        most = 0
        for place in range(last - first - 1, -1, -1):
            if worth[place] > 0:
                most = max(most, worth[place] + without[place + 1])
            best[place] = max(without[place], most)
        rows.append(_Row(tap, first, worth, best))
        low_after, best_after = first, best
    rows.reverse()
    return rows


def _pairs(rows: Sequence[_Row]) -> list[tuple[int, int]]:
    """The pairing of the greatest sum; of several the one with the earlier tap, then the earlier picture."""
    pairs, at = [], 0
    for place, row in enumerate(rows):
        after = rows[place + 1] if place + 1 < len(rows) else None
        for picture in range(max(at, row.low), row.high):
            worth = row.worth[picture - row.low]
            rest = 0 if after is None else after.best[max(picture + 1 - after.low, 0)]
            if worth > 0 and worth + rest == row.best[max(at - row.low, 0)]:
                pairs.append((row.tap, picture))
                at = picture + 1
                break
    return pairs


def pairing(
    taps: Times, pictures: Times, reach_us: int, barred: Barred | None = None
) -> tuple[int, Sequence[tuple[int, int]]]:
    """The greatest Σ(reach − |Δ|) over pairings of sorted times with every |Δ| < reach, in µs; and that pairing."""
    rows = _rows(taps, pictures, reach_us, barred)
    return _value(rows), _pairs(rows)


def pairing_value(taps: Times, pictures: Times, reach_us: int, barred: Barred | None = None) -> int:
    """The greatest sum alone."""
    return _value(_rows(taps, pictures, reach_us, barred))


def _value(rows: Sequence[_Row]) -> int:
    return rows[0].best[0] if rows else 0
