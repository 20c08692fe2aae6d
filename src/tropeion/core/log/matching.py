"""Pictures told what they were taken with: clocks, assignments, doubts. Source: *Log* in the formulas."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Final, Literal

from tropeion.core.asking import go_on
from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.records.log_others import Says, Settled
from tropeion.core.records.moments import SECOND_US, wall_of, wall_us

from .assigning import Claim, Entries, assigned, setting_of, taps_of
from .doubts import Doubt, is_long, means, of_the_file, says_of, silences
from .header import PictureFile, readable
from .log_file import FiledEntry, LogFile
from .offsets import ClockOffset, Clocks, Proposal, match_clock, matched_or_assumed, one_each, photographed_in
from .pictures import Picture, pictures_of
from .rig_facts import RigReader
from .rolls import scans_of

State = Literal["matched", "doubtful", "has_lens", "none"]
_U_US: Final = 5 * SECOND_US
_LEAST_LEFT: Final = 5


@frozen
class Told:
    """A picture, the entry that it belongs to, and what speaks against that. ``at_us`` is when it was by the log."""

    picture: Picture
    body: str | None
    entry: FiledEntry | None
    state: State
    doubts: tuple[Doubt, ...] = ()
    at_us: int | None = None
    settled: bool = False
    previous: FiledEntry | None = None


@frozen
class Matching:
    """The whole answer, pictures in the order of their names; ``warnings`` name what could not be used."""

    clocks: tuple[ClockOffset, ...]
    pictures: tuple[Told, ...]
    warnings: tuple[str, ...]


def match_pictures(
    log: LogFile, files: Sequence[PictureFile], world: World | None = None, folder_name: str = ""
) -> Matching:
    """Which entry each picture belongs to. ``folder_name`` is that of the folder that the paths start from.

    Raises NobodyAsksError where who asked has left.
    """
    rolls = {roll.id.casefold(): roll for roll in log.rolls}
    folders = {file.path.rpartition("/")[0] for file in files}
    scan_folders = {
        folder: roll
        for folder in folders
        if (roll := rolls.get((folder.rpartition("/")[2] or folder_name).casefold())) is not None
    }
    pictures = pictures_of(files, log.cameras, frozenset(scan_folders))
    entries = [entry for entry in log.entries if entry.struck is None]
    told: dict[int, Told] = {}
    warnings: list[str] = []
    settled = _settled(pictures, log.assignments, {entry.id: entry for entry in log.entries}, warnings)
    by_roll: dict[str, list[int]] = defaultdict(list)
    by_body: dict[str, list[int]] = defaultdict(list)
    for place, picture in enumerate(pictures):
        if picture.folder in scan_folders:
            by_roll[picture.folder].append(place)
        elif place in settled:
            told[place] = settled[place]
        elif picture.body is None or picture.clock_us is None:
            told[place] = Told(picture, picture.body, None, "has_lens" if picture.lens else "none")
        else:
            by_body[picture.body].append(place)
    for folder, places in by_roll.items():
        roll = scan_folders[folder]
        of_roll = [entry for entry in entries if entry.roll == roll.id]
        for place, (entry, doubts) in zip(places, scans_of(roll, of_roll, len(places)), strict=True):
            state: State = "doubtful" if doubts else "none" if entry is None else "matched"
            told[place] = settled.get(place) or Told(pictures[place], roll.body, entry, state, doubts)
    photographed, missing = photographed_in(log.clocks, pictures)
    warnings += missing
    used = Counter(one.entry.id for one in settled.values() if one.entry is not None)
    reader = RigReader(world)
    clocks: list[ClockOffset] = []
    for body, places in by_body.items():
        go_on()
        of_body = _Body(
            body=body,
            entries=[entry for entry in entries if entry.body == body and entry.roll is None],
            clocks=Clocks(
                body,
                [clock for clock in log.clocks if clock.body == body and clock.seconds is not None],
                photographed.get(body, ()),
            ),
            says=[says for camera in log.cameras if camera.body == body for says in camera.says],
            rigs=reader,
            used=used,
            # Whose entry is settled still tells how the clock runs.
            settled=[
                pictures[place]
                for place, one in settled.items()
                if one.entry is not None and pictures[place].body == body and pictures[place].clock_us is not None
            ],
        )
        found, more = of_body.told([pictures[place] for place in places], entries)
        told.update(zip(places, found, strict=True))
        clocks += more
    return Matching(tuple(clocks), tuple(told[place] for place in range(len(pictures))), tuple(warnings))


def _settled(
    pictures: Sequence[Picture], assignments: Sequence[Settled], entries: dict[str, FiledEntry], warnings: list[str]
) -> dict[int, Told]:
    """Pictures that somebody assigned, by place; of several assignments of one the last."""
    exact: dict[tuple[str, int | None], Settled] = {}
    by_name: dict[tuple[str, int], Settled] = {}
    for assignment in assignments:
        taken_us = _digits_us(assignment.taken_at)
        for file in assignment.files:
            exact[file, taken_us] = assignment
            if taken_us is not None:
                by_name[file.rpartition("/")[2], taken_us] = assignment
    told = {}
    for place, picture in enumerate(pictures):
        for file in picture.files:
            at, path = picture.taken_us, readable(file)
            said = exact.get((path, at)) or (None if at is None else by_name.get((path.rpartition("/")[2], at)))
            if said is None:
                continue
            entry = None if said.entry is None else entries.get(said.entry)
            if said.entry is not None and not _counts(entry):
                why = "is not in the log" if entry is None else "is struck out"
                warnings.append(f"{said.files[0]} was assigned to {said.entry}, which {why}")
                break
            body = said.body or (entry.body if entry is not None else picture.body)
            state: State = "none" if entry is None else "matched"
            told[place] = Told(picture, body, entry, state, settled=True)
            break
    return told


def _digits_us(taken_at: str | None) -> int | None:
    """The digits of a camera's clock, whatever zone stands behind them; None where they tell no time."""
    try:
        return None if taken_at is None else wall_us(taken_at)
    except ValueError:
        return None


def _counts(entry: FiledEntry | None) -> bool:
    return entry is not None and entry.struck is None


@dataclass(slots=True)
class _Body:
    """One body and its entries; ``settled`` are its pictures that somebody assigned, ``used`` counts them by entry."""

    body: str
    entries: list[FiledEntry]
    clocks: Clocks
    says: list[Says]
    rigs: RigReader
    used: Counter[str]
    settled: list[Picture]

    def may_not(self, entry: FiledEntry, picture: Picture) -> bool:
        """Whether a picture with a lens's name cannot be of an entry: nothing in its chain speaks as a lens does."""
        if not picture.lens:
            return False
        return self.rigs.facts(entry).tells_lens_data is False and not means(says_of(picture, self.says), entry)

    def told(
        self, pictures: Sequence[Picture], everybody: Sequence[FiledEntry]
    ) -> tuple[list[Told], list[ClockOffset]]:
        known = [self.clocks.known(picture) for picture in pictures]
        by_kind: dict[bool, ClockOffset] = {}
        for zoned in (False, True):
            left = [one for one, clock in zip(pictures, known, strict=True) if clock is None and one.zoned == zoned]
            if left:
                zones = self.entries or everybody
                told = [one for one in self.settled if one.zoned == zoned and self.clocks.known(one) is None]
                taps = one_each(self.entries)
                by_kind[zoned] = matched_or_assumed(self.body, taps, [*left, *told], zones, self.may_not)
        clocks = [by_kind[one.zoned] if clock is None else clock for one, clock in zip(pictures, known, strict=True)]
        entries = Entries(self.entries)
        taps = taps_of(entries.all, settled=self.used)
        at_us = [(one.clock_us or 0) + clock.offset_us for one, clock in zip(pictures, clocks, strict=True)]
        claims = assigned(entries, taps, pictures, at_us, self.may_not)
        near = self._near_change(entries, taps, pictures, at_us, clocks, claims)
        jumped, proposals = self._jumps(pictures, clocks, claims)
        silent = silences(sorted([*entries.times_us, *at_us]))
        rows = [
            self._told(entries, picture, at, claim, changed or claim.both, silent, place in jumped)
            for place, (picture, at, claim, changed) in enumerate(zip(pictures, at_us, claims, near, strict=True))
        ]
        return rows, [replace(clock, proposal=proposals.get(clock, clock.proposal)) for clock in dict.fromkeys(clocks)]

    def _near_change(
        self,
        entries: Entries,
        taps: Sequence[FiledEntry],
        pictures: Sequence[Picture],
        at_us: Sequence[int],
        clocks: Sequence[ClockOffset],
        claims: Sequence[Claim],
    ) -> list[bool]:
        """Where lens, chain, aperture or focal length are others if the clock is off by its doubt."""
        changed = [False] * len(pictures)
        for sign in (-1, 1):
            moved = [at + sign * (_U_US + clock.doubt_us) for at, clock in zip(at_us, clocks, strict=True)]
            for place, claim in enumerate(assigned(entries, taps, pictures, moved, self.may_not)):
                changed[place] |= setting_of(claim) != setting_of(claims[place])
        return changed

    def _told(
        self,
        entries: Entries,
        picture: Picture,
        at_us: int,
        claim: Claim,
        near: bool,
        silent: Sequence[int],
        jumped: bool,
    ) -> Told:
        entry = claim.entry
        doubts: list[Doubt] = ["near_change"] if near else []
        previous = None
        if entry is not None:
            previous = entries.with_another_rig(entry)
            doubts += of_the_file(picture, entry, previous, says_of(picture, self.says), self.rigs)
            if entry.way != "tap" and is_long(entry, at_us, silent):
                doubts.append("long_gap")
        if jumped and not (picture.lens and entry is None):
            doubts.append("clock_jump")
        if doubts:
            state: State = "doubtful"
        elif entry is not None:
            state = "matched"
        else:
            state = "has_lens" if picture.lens else "none"
        return Told(picture, self.body, entry, state, tuple(doubts), at_us, previous=previous)

    def _jumps(
        self, pictures: Sequence[Picture], clocks: Sequence[ClockOffset], claims: Sequence[Claim]
    ) -> tuple[set[int], dict[ClockOffset, Proposal]]:
        """Pictures whose clock may have been set meanwhile: it runs backwards, or taps left over say so."""
        if not self.entries:
            return set(), {}
        jumped: set[int] = set()
        proposals: dict[ClockOffset, Proposal] = {}
        for clock in dict.fromkeys(clocks):
            of_clock = [place for place, other in enumerate(clocks) if other == clock]
            if clock.from_ != "stated":
                jumped |= _after_running_backwards(pictures, of_clock)
            left = [place for place in of_clock if not claims[place].by_tap]
            if not clock.certain or not left:
                continue
            used = {claim.entry.id for claim in claims if claim.entry is not None and claim.by_tap}
            taps_left = [tap for tap in one_each(self.entries) if tap.id not in used and not self.used[tap.id]]
            if len(taps_left) < _LEAST_LEFT:
                continue
            other = match_clock(taps_left, [pictures[place] for place in left], self.may_not)
            if other is None or not other.certain:
                continue
            paired = _within(pictures, left, taps_left, other.offset_us)
            jumped |= set(paired)
            times = [pictures[place].taken_us or 0 for place in paired]
            proposals[clock] = Proposal(
                other.offset_us / SECOND_US, other.pairs, wall_of(min(times)), wall_of(max(times))
            )
        return jumped, proposals


def _within(pictures: Sequence[Picture], left: Sequence[int], taps: Sequence[FiledEntry], offset_us: int) -> list[int]:
    """The pictures between the first and the last of these taps, with the clock at another offset."""
    first, last = taps[0].instant_us, taps[-1].instant_us
    low, high = min(first, last) - 20 * SECOND_US, max(first, last) + 20 * SECOND_US
    return [place for place in left if low <= (pictures[place].clock_us or 0) + offset_us <= high]


def _after_running_backwards(pictures: Sequence[Picture], places: Sequence[int]) -> set[int]:
    """The pictures of a folder from the first one on whose clock shows less than that of the one before it, by name.

    From one folder to the next the names tell no order.
    """
    after: set[int] = set()
    of_kind: dict[tuple[str, bool], list[int]] = defaultdict(list)
    for place in places:
        of_kind[pictures[place].folder, pictures[place].zoned].append(place)
    for some in of_kind.values():
        for at, (earlier, later) in enumerate(pairwise(some)):
            if (pictures[later].clock_us or 0) < (pictures[earlier].clock_us or 0):
                after |= set(some[at + 1 :])
                break
    return after
