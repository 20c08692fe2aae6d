"""What the pictures of a log come to, as the command line prints it."""

from __future__ import annotations

from typing import Any

from tropeion.core.log.header import readable
from tropeion.core.log.matching import Matching, Told
from tropeion.core.log.offsets import ClockOffset
from tropeion.core.records.moments import SECOND_US


def seconds_of(us: int) -> float:
    """Microseconds as seconds, whole ones without a fraction."""
    seconds = us / SECOND_US
    return int(seconds) if seconds == int(seconds) else seconds


def matching_json(matching: Matching) -> dict[str, Any]:
    """Offsets and pictures, with what could not be used."""
    return {
        "offsets": [offset_json(clock) for clock in matching.clocks],
        "pictures": [picture_json(told) for told in matching.pictures],
        "warnings": list(matching.warnings),
    }


def offset_json(clock: ClockOffset) -> dict[str, Any]:
    """One clock; an uncertain one, or one that was set meanwhile, with what is proposed."""
    row: dict[str, Any] = {
        "body": clock.body,
        "seconds": seconds_of(clock.offset_us),
        "from": clock.from_,
        "certain": clock.certain,
        "since": clock.since,
        "until": clock.until,
        "zoned": clock.zoned,
    }
    if clock.proposal is not None:
        proposal = clock.proposal
        row["proposal"] = {"seconds": proposal.seconds, "pairs": proposal.pairs}
        if proposal.since is not None:
            row["proposal"] |= {"since": proposal.since, "until": proposal.until}
    elif not clock.certain:
        row["proposal"] = None
    return row


def picture_json(told: Told) -> dict[str, Any]:
    """One picture."""
    return {
        "file": readable(told.picture.file),
        "files": [readable(file) for file in told.picture.files],
        "taken_at": told.picture.taken_at,
        "body": told.body,
        "entry": None if told.entry is None else told.entry.id,
        "state": told.state,
        "doubts": list(told.doubts),
    }
