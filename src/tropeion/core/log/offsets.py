"""The clock of each camera: stated, photographed, matched with the log, else assumed."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.records.log_others import ClockSet
from tropeion.core.records.moments import SECOND_US, instant_us, wall_of, wall_us, zone_us

from .assigning import MayNot, barred_by
from .clock import Matched, matched_offset
from .header import readable
from .log_file import FiledEntry
from .pictures import Picture

From = Literal["stated", "photographed", "matched", "assumed"]
_EVER_US: Final = 10**18
# What an offset may be wrong by, in µs: on which doubts of an assignment rest.
_DOUBT_US: Final = {"stated": 0, "photographed": SECOND_US, "assumed": 60 * SECOND_US}


@frozen
class Proposal:
    """An offset that taps and pictures speak for, not enough to use it unasked. ``since`` and ``until`` in camera time:
    only there."""

    seconds: float
    pairs: int
    since: str | None = None
    until: str | None = None


@frozen
class ClockOffset:
    """Log minus camera, in µs, and how it is known."""

    body: str
    offset_us: int
    from_: From
    certain: bool
    zoned: bool
    doubt_us: int
    since: str | None = None
    until: str | None = None
    proposal: Proposal | None = None


@frozen
class _Photographed:
    clock: ClockSet
    taken_us: int
    offset_us: int
    zoned: bool


def photographed_in(
    clocks: Sequence[ClockSet], pictures: Sequence[Picture]
) -> tuple[dict[str, list[_Photographed]], list[str]]:
    """The clocks that were photographed, by body; and what is said of those whose picture is not there."""
    by_file = {readable(file): picture for picture in pictures for file in picture.files}
    by_name = {file.rpartition("/")[2]: picture for file, picture in by_file.items()}
    found: dict[str, list[_Photographed]] = {}
    missing = []
    for clock in clocks:
        if clock.file is None or clock.shows is None:
            continue
        picture = by_file.get(clock.file) or by_name.get(clock.file.rpartition("/")[2])
        if picture is not None and picture.taken_us is not None:
            # A picture of the same name, of another day.
            picture = picture if _applies(clock, picture.taken_us, zoned=picture.zoned) else None
        if picture is None or picture.clock_us is None or picture.taken_us is None:
            why = "is not among the pictures" if picture is None else "states no time"
            missing.append(f"{clock.file}, whose clock was photographed, {why}")
            continue
        offset_us = instant_us(clock.shows) - picture.clock_us
        found.setdefault(clock.body, []).append(_Photographed(clock, picture.taken_us, offset_us, picture.zoned))
    return found, missing


@dataclass(slots=True)
class Clocks:
    """How the clock of one body runs, for each of its pictures."""

    body: str
    stated: Sequence[ClockSet]
    photographed: Sequence[_Photographed]

    def known(self, picture: Picture) -> ClockOffset | None:
        """The offset that somebody stated or photographed, for one picture; None where nobody did."""
        assert picture.taken_us is not None
        applying = [clock for clock in self.stated if _applies(clock, picture.taken_us, zoned=picture.zoned)]
        if applying:
            # What holds for a shorter time goes first; of two alike the later line.
            narrow = max(enumerate(applying), key=lambda one: (-_length_us(one[1]), one[0]))[1]
            assert narrow.seconds is not None
            return self._offset(round(narrow.seconds * SECOND_US), "stated", narrow, zoned=picture.zoned)
        shown = [
            one
            for one in self.photographed
            if one.zoned == picture.zoned and _applies(one.clock, picture.taken_us, zoned=picture.zoned)
        ]
        if not shown:
            return None
        taken_us = picture.taken_us
        nearest = min(shown, key=lambda one: abs(one.taken_us - taken_us))
        return self._offset(nearest.offset_us, "photographed", nearest.clock, zoned=picture.zoned)

    def _offset(self, offset_us: int, from_: From, clock: ClockSet, *, zoned: bool) -> ClockOffset:
        doubt_us = _DOUBT_US[from_]
        return ClockOffset(self.body, offset_us, from_, True, zoned, doubt_us, clock.since, clock.until)


def may_hold(clock: ClockSet, taken_us: Sequence[int]) -> bool:
    """Whether a clock was told for the time of some of these pictures, by what their cameras show."""
    since = None if clock.since is None else wall_us(clock.since)
    until = None if clock.until is None else wall_us(clock.until)
    return any((since is None or since <= one) and (until is None or one <= until) for one in taken_us)


def for_their_days(clock: ClockSet, taken_us: Sequence[int]) -> ClockSet:
    """A clock that was told of these pictures, by the digits of their cameras: it holds for their days, unless it names
    its own span. On another outing it may run otherwise, and what is stated goes before all else."""
    if clock.since is not None or clock.until is not None or not taken_us:
        return clock
    first, last = (wall_of(one)[:10] for one in (min(taken_us), max(taken_us)))
    return clock.model_copy(update={"since": f"{first}T00:00:00", "until": f"{last}T23:59:59.999999"})


def _length_us(clock: ClockSet) -> int:
    """How long a clock holds, in microseconds; longest of all where an end is open."""
    if clock.since is None or clock.until is None:
        return _EVER_US if clock.since is None and clock.until is None else _EVER_US - 1
    return wall_us(clock.until) - wall_us(clock.since)


def _applies(clock: ClockSet, taken_us: int, *, zoned: bool) -> bool:
    if clock.zoned is not None and clock.zoned != zoned:
        return False
    if clock.since is not None and taken_us < wall_us(clock.since):
        return False
    return clock.until is None or taken_us <= wall_us(clock.until)


def matched_or_assumed(
    body: str, taps: Sequence[FiledEntry], pictures: Sequence[Picture], entries: Sequence[FiledEntry], may_not: MayNot
) -> ClockOffset:
    """The offset of pictures of one kind of time, of which nobody said anything: matched if that is certain.

    ``entries`` are those whose zones tell what a clock on the wall showed, where it has to be assumed.
    """
    zoned = pictures[0].zoned
    matched = match_clock(taps, pictures, may_not)
    if matched is not None and matched.certain:
        return ClockOffset(body, matched.offset_us, "matched", True, zoned, matched.doubt_us)
    proposal = None if matched is None else Proposal(matched.offset_us / SECOND_US, matched.pairs)
    offset_us = 0 if zoned else -_zone_near(entries, pictures)
    return ClockOffset(body, offset_us, "assumed", False, zoned, _DOUBT_US["assumed"], proposal=proposal)


def match_clock(taps: Sequence[FiledEntry], pictures: Sequence[Picture], may_not: MayNot) -> Matched | None:
    """The offset at which taps and pictures agree best."""
    ordered = sorted(pictures, key=lambda picture: picture.in_time)
    tap_times = np.array([tap.instant_us for tap in taps], np.int64)
    picture_times = np.array([picture.clock_us for picture in ordered], np.int64)
    return matched_offset(tap_times, picture_times, barred_by(taps, ordered, may_not))


def _zone_near(entries: Sequence[FiledEntry], pictures: Sequence[Picture]) -> int:
    """The UTC offset of the entry that is nearest to any of the pictures, by what clocks on the wall showed."""
    if not entries:
        return 0
    by_wall = sorted((wall_us(entry.at), zone_us(entry.at)) for entry in entries)
    walls = [wall for wall, _ in by_wall]
    best: tuple[int, int] | None = None
    for picture in pictures:
        taken_us = picture.taken_us or 0
        at = bisect_left(walls, taken_us)
        for wall, zone in by_wall[max(at - 1, 0) : at + 1]:
            if best is None or abs(wall - taken_us) < best[0]:
                best = abs(wall - taken_us), zone
    return 0 if best is None else best[1]


def one_each(entries: Sequence[FiledEntry]) -> list[FiledEntry]:
    """The taps, one each whatever they count, in the order of time."""
    return sorted((entry for entry in entries if entry.way == "tap"), key=lambda entry: entry.instant_us)
