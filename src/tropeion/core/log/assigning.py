"""Which entry a picture of one body belongs to, with the clocks as they are taken to run."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from typing import Final

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.records.moments import SECOND_US

from .log_file import FiledEntry
from .pairing import Barred, pairing
from .pictures import Picture

TAP_REACH_US: Final = 120 * SECOND_US
SERIES_REACH_US: Final = 12 * 3600 * SECOND_US
# What a picture with a lens of its own name may not go with: by entry and picture.
MayNot = Callable[[FiledEntry, Picture], bool]


@frozen
class Claim:
    """What claims a picture. ``both``: a series before and one after did, and they differ."""

    entry: FiledEntry | None
    both: bool = False

    @property
    def by_tap(self) -> bool:
        return self.entry is not None and self.entry.way == "tap"


class Entries:
    """The entries of one body that count, in the order of time; of those at one moment the later line comes last."""

    def __init__(self, entries: Sequence[FiledEntry]) -> None:
        self.all = sorted(entries, key=lambda entry: entry.instant_us)
        self.times_us = [entry.instant_us for entry in self.all]

        self._place = {entry.id: place for place, entry in enumerate(self.all)}
        self._other: list[int] = []
        for place, entry in enumerate(self.all):
            earlier = place - 1
            if earlier >= 0 and _rig(self.all[earlier]) == _rig(entry):
                earlier = self._other[earlier]
            self._other.append(earlier)

    def with_another_rig(self, entry: FiledEntry) -> FiledEntry | None:
        """The last entry before one that has another rig: what this body was told then, it may have kept."""
        other = self._other[self._place[entry.id]]
        return self.all[other] if other >= 0 else None


def _rig(entry: FiledEntry) -> tuple[str, tuple[str, ...]]:
    return entry.lens, entry.via


def taps_of(entries: Sequence[FiledEntry], *, settled: dict[str, int]) -> list[FiledEntry]:
    """One tap for each frame, in order; without those whose pictures are settled already."""
    taps = []
    for entry in entries:
        if entry.way == "tap":
            taps += [entry] * max(0, entry.frames - settled.get(entry.id, 0))
    return taps


def barred_by(taps: Sequence[FiledEntry], pictures: Sequence[Picture], may_not: MayNot) -> Barred | None:
    """Which pictures may go with which taps, by kinds of rigs and of claims; None where all may."""
    if not any(picture.lens for picture in pictures):
        return None
    rigs: dict[object, int] = {}
    claims: dict[object, int] = {}
    some_taps: list[FiledEntry] = []
    some_pictures: list[Picture] = []
    tap_kinds = np.zeros(len(taps), np.intp)
    for place, tap in enumerate(taps):
        kind = rigs.setdefault((tap.lens, tap.via), len(rigs))
        tap_kinds[place] = kind
        if kind == len(some_taps):
            some_taps.append(tap)
    picture_kinds = np.zeros(len(pictures), np.intp)
    for place, picture in enumerate(pictures):
        # What a name means has its days.
        key = (picture.lens, picture.focal_length_mm, (picture.taken_at or "")[:16]) if picture.lens else None
        kind = claims.setdefault(key, len(claims))
        picture_kinds[place] = kind
        if kind == len(some_pictures):
            some_pictures.append(picture)
    table = np.array([[may_not(tap, picture) for picture in some_pictures] for tap in some_taps], np.bool_)
    return Barred(tap_kinds, picture_kinds, table) if table.any() else None


def assigned(
    entries: Entries, taps: Sequence[FiledEntry], pictures: Sequence[Picture], times_us: Sequence[int], may_not: MayNot
) -> list[Claim]:
    """Which entry claims each picture, at these times of the log: taps first, then the series around it."""
    order = sorted(range(len(pictures)), key=lambda place: (times_us[place], *pictures[place].in_time[1:]))
    ordered = [pictures[place] for place in order]
    tap_times = np.array([tap.instant_us for tap in taps], np.int64)
    picture_times = np.array([times_us[place] for place in order], np.int64)
    _, pairs = pairing(tap_times, picture_times, TAP_REACH_US, barred_by(taps, ordered, may_not))
    tapped = {order[picture]: taps[tap] for tap, picture in pairs}
    return [
        Claim(tapped[place]) if place in tapped else _by_series(entries, picture, times_us[place], may_not)
        for place, picture in enumerate(pictures)
    ]


def _by_series(entries: Entries, picture: Picture, at_us: int, may_not: MayNot) -> Claim:
    before = _allowed(_from_here_on(entries, at_us), picture, may_not)
    after = _allowed(_up_to_here(entries, at_us), picture, may_not)
    if after is None:
        return Claim(before)
    return Claim(after, before is not None and _settings(before) != _settings(after))


def _allowed(entry: FiledEntry | None, picture: Picture, may_not: MayNot) -> FiledEntry | None:
    return None if entry is None or (picture.lens and may_not(entry, picture)) else entry


def _from_here_on(entries: Entries, at_us: int) -> FiledEntry | None:
    """The entry ``before`` a picture whose series reaches to it: no other entry stands between."""
    last = bisect_right(entries.times_us, at_us) - 1
    return _series(entries, last, "before", at_us)


def _up_to_here(entries: Entries, at_us: int) -> FiledEntry | None:
    """The entry ``after`` a picture whose series reaches back to it."""
    first = bisect_left(entries.times_us, at_us)
    if first == len(entries.all):
        return None
    return _series(entries, bisect_right(entries.times_us, entries.times_us[first]) - 1, "after", at_us)


def _series(entries: Entries, last: int, way: str, at_us: int) -> FiledEntry | None:
    """Of the entries at one moment the last one of this way, if it is near enough."""
    if last < 0 or abs(entries.times_us[last] - at_us) > SERIES_REACH_US:
        return None
    place = last
    while place >= 0 and entries.times_us[place] == entries.times_us[last]:
        if entries.all[place].way == way:
            return entries.all[place]
        place -= 1
    return None


def _settings(entry: FiledEntry) -> tuple[object, ...]:
    return entry.lens, entry.via, entry.aperture, entry.focal_length_mm


def setting_of(claim: Claim) -> tuple[object, ...] | None:
    """What must be the same for two claims to be alike; None: nothing claims it."""
    return None if claim.entry is None else _settings(claim.entry)
