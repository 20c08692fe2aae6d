"""How far a camera's clock is off, from taps and pictures alone.

The value of an offset is the greatest Σ(20 s − |Δ|) over pairings of taps with pictures, each |Δ| < 20 s. Offsets of
whole seconds at which a tap and a picture meet are tried, the most promising first, until none can be better any more.
"""

from __future__ import annotations

import heapq
import math
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from tropeion.core.asking import go_on
from tropeion.core.frozen import frozen
from tropeion.core.records.moments import SECOND_US

from .pairing import Barred, Times, pairing, pairing_value

REACH_US: Final = 20 * SECOND_US
# An offset farther than this from the best one must be worth less than this share of it.
_APART_S: Final = 60
_RIVAL: Final = 0.6
_LEAST_PAIRS: Final = 5
# So many differences are looked at at once; of more, regions that promise most come first.
_AT_ONCE: Final = 2_000_000
_LEAST_BIN_S: Final = 8
_MOST_BINS: Final = 2**21
# Taps looked at in all, before a search that does not end is given up: its result is not certain then.
_MOST_WORK: Final = 60_000_000


@frozen
class Matched:
    """The offset at which taps and pictures agree best: log minus camera, and how many pairs it brings together.

    ``doubt_us`` is the largest deviation of a pair from the median. ``certain``: enough pairs, and nothing rivals it.
    """

    offset_us: int
    pairs: int
    doubt_us: int
    certain: bool


def matched_offset(
    taps: Times, pictures: Times, barred: Barred | None = None, *, taps_in_all: int = 0
) -> Matched | None:
    """The best offset of sorted times in µs; None where there are no taps or no pictures.

    ``taps_in_all``: of how many taps half must find a picture, where it is not those given.
    """
    if not len(taps) or not len(pictures):
        return None
    search = _Search(taps, pictures, barred)
    best = search.best()
    offset_us = best.seconds * SECOND_US
    _, pairs = pairing(taps, pictures + offset_us, REACH_US, barred)
    if not pairs:
        return None
    off = np.array([taps[tap] - pictures[picture] - offset_us for tap, picture in pairs], np.int64)
    median = round(float(np.median(off)))
    enough = len(pairs) >= _LEAST_PAIRS and 2 * len(pairs) >= max(len(taps), taps_in_all)
    certain = enough and not search.rivalled(best)
    return Matched(offset_us + median, len(pairs), int(np.abs(off - median).max()), certain)


@frozen
class _Candidate:
    seconds: int
    value: int

    def beats(self, other: _Candidate | None) -> bool:
        if other is None or self.value != other.value:
            return other is None or self.value > other.value
        return (abs(self.seconds), self.seconds) < (abs(other.seconds), other.seconds)


class _Search:
    """Offsets by what they can be worth at most, evaluated as far as is needed.

    Three bounds, each tighter than the last: of a region of offsets, by which bins of time are occupied; of an offset,
    the sum over all its pairs; then each tap with its nearest picture.
    """

    def __init__(self, taps: Times, pictures: Times, barred: Barred | None) -> None:
        self._taps, self._pictures, self._barred = taps, pictures, barred
        self._evaluated: list[_Candidate] = []
        self._work = 0
        # (-bound, whether it is of the nearest pictures, offset in seconds)
        self._heap: list[tuple[int, bool, int]] = []
        self._regions = _regions(taps, pictures) if len(taps) * len(pictures) > _AT_ONCE else _Regions.none()
        if not self._regions:
            self._add(np.sort(np.subtract.outer(taps, pictures).ravel()))

    def best(self) -> _Candidate:
        best = _Candidate(0, -1)
        while (candidate := self._next(max(best.value, 0))) is not None:
            if candidate.beats(best):
                best = candidate
        return best

    def rivalled(self, best: _Candidate) -> bool:
        """Whether another offset, more than a minute away, is worth nearly as much."""
        least = math.ceil(_RIVAL * best.value)
        while self._next(least) is not None:
            pass
        return self._given_up or any(
            abs(one.seconds - best.seconds) > _APART_S and one.value >= least for one in self._evaluated
        )

    @property
    def _given_up(self) -> bool:
        return self._work > _MOST_WORK

    def _next(self, least: int) -> _Candidate | None:
        """The next offset, evaluated, of those that can be worth so much; None when there are no more."""
        while not self._given_up:
            go_on()
            self._work += len(self._taps)
            bound = -self._heap[0][0] if self._heap else -1
            if self._regions and self._regions.bound >= max(bound, least):
                self._add(self._regions.differences(self._taps, self._pictures))
                continue
            if bound < max(least, 1):
                return None
            _, nearest, seconds = heapq.heappop(self._heap)
            moved = self._pictures + seconds * SECOND_US
            if nearest:
                value = pairing_value(self._taps, moved, REACH_US, self._barred)
                self._evaluated.append(_Candidate(seconds, value))
                return self._evaluated[-1]
            heapq.heappush(self._heap, (-_nearest_bound(self._taps, moved), True, seconds))
        return None

    def _add(self, differences: Times) -> None:
        """Offsets at which a tap and a picture meet, of sorted differences in µs; those of a region alone."""
        seconds = np.unique((differences + SECOND_US // 2) // SECOND_US)
        if self._regions:
            low_s, high_s = self._regions.opened
            seconds = seconds[(seconds >= low_s) & (seconds < high_s)]
        bounds = np.minimum(
            _sum_bounds(differences, seconds * SECOND_US), REACH_US * min(len(self._taps), len(self._pictures))
        )
        for bound, offset in zip(bounds.tolist(), seconds.tolist(), strict=True):
            heapq.heappush(self._heap, (-bound, False, offset))


def _sum_bounds(differences: Times, offsets: Times) -> Times:
    """Σ(reach − |difference − offset|) over the differences within reach of each offset, all sorted, in µs."""
    sums = np.concatenate([[0], np.cumsum(differences, dtype=np.int64)])
    low = np.searchsorted(differences, offsets - REACH_US)
    middle = np.searchsorted(differences, offsets)
    high = np.searchsorted(differences, offsets + REACH_US)
    below = (REACH_US - offsets) * (middle - low) + sums[middle] - sums[low]
    above = (REACH_US + offsets) * (high - middle) - sums[high] + sums[middle]
    bounds: Times = below + above
    return bounds


def _nearest_bound(taps: Times, pictures: Times) -> int:
    """Σ(reach − |Δ|) with each tap at its nearest picture."""
    at = np.searchsorted(pictures, taps)
    before = np.abs(taps - pictures[np.maximum(at - 1, 0)])
    after = np.abs(taps - pictures[np.minimum(at, len(pictures) - 1)])
    return int(np.maximum(REACH_US - np.minimum(before, after), 0).sum())


@dataclass(slots=True)
class _Regions:
    """Regions of offsets, the most promising first: each from ``first_s`` on, one bin wide."""

    first_s: Times
    bounds: Times
    bin_s: int
    at: int = 0

    @classmethod
    def none(cls) -> _Regions:
        return cls(np.zeros(0, np.int64), np.zeros(0, np.int64), 0)

    def __bool__(self) -> bool:
        return len(self.bounds) > 0

    @property
    def bound(self) -> int:
        """What any offset in the next region can be worth at most; -1 where there is none left."""
        return int(self.bounds[self.at]) if self.at < len(self.bounds) else -1

    @property
    def opened(self) -> tuple[int, int]:
        """The offsets of the region that was opened last, in seconds."""
        low_s = int(self.first_s[self.at - 1])
        return low_s, low_s + self.bin_s

    def differences(self, taps: Times, pictures: Times) -> Times:
        """Open the next region: all differences of a tap and a picture that count in it, sorted, in µs."""
        self.at += 1
        low_us, high_us = (second * SECOND_US for second in self.opened)
        low = np.searchsorted(pictures, taps - high_us - 2 * REACH_US)
        high = np.searchsorted(pictures, taps - low_us + 2 * REACH_US)
        counts = high - low
        pairs = np.repeat(low - np.concatenate([[0], np.cumsum(counts)[:-1]]), counts) + np.arange(counts.sum())
        return np.sort(np.repeat(taps, counts) - pictures[pairs])


def _regions(taps: Times, pictures: Times) -> _Regions:
    """By correlation of the bins of time that hold taps with those that hold pictures, to either side.

    With tap bin a, region k and a reach of e bins, a picture within reach lies in the bins a − k − 1 − e … a − k + e.
    """
    spread_us = max(np.ptp(taps), np.ptp(pictures))
    bin_s = max(_LEAST_BIN_S, math.ceil(spread_us / SECOND_US / _MOST_BINS))
    tap_bins, picture_bins = taps // (bin_s * SECOND_US), pictures // (bin_s * SECOND_US)
    reach = math.ceil(REACH_US / SECOND_US / bin_s)
    first_tap, first_picture = int(tap_bins[0]) - reach - 2, int(picture_bins[0]) - reach - 2
    lines = int(max(tap_bins[-1] - first_tap, picture_bins[-1] - first_picture)) + reach + 4
    size = 1 << (2 * lines - 1).bit_length()
    counts = [
        np.bincount(bins - first, minlength=lines).astype(np.float64)
        for bins, first in ((tap_bins, first_tap), (picture_bins, first_picture))
    ]
    near_pictures = _near(counts[1], range(-1 - reach, reach + 1))
    near_taps = _near(counts[0], range(-reach, reach + 2))
    forward = np.fft.rfft(counts[0], size) * np.conj(np.fft.rfft(near_pictures, size))
    backward = np.fft.rfft(near_taps, size) * np.conj(np.fft.rfft(counts[1], size))
    pairs = np.minimum(np.fft.irfft(forward, size), np.fft.irfft(backward, size))
    # What FFT rounds off must not cost a pair.
    bounds = np.floor(pairs + 0.25).astype(np.int64) * REACH_US
    lags = np.flatnonzero(bounds > 0)
    lags = lags[np.argsort(-bounds[lags], kind="stable")]
    shift = np.where(lags > size // 2, lags - size, lags)
    return _Regions((shift + first_tap - first_picture) * bin_s, bounds[lags], bin_s)


def _near(counts: npt.NDArray[np.float64], places: range) -> npt.NDArray[np.float64]:
    """1 where any of the bins at these places relative to it is occupied."""
    occupied = np.zeros_like(counts, dtype=bool)
    for place in places:
        occupied |= np.roll(counts, -place) > 0
    return occupied.astype(np.float64)
