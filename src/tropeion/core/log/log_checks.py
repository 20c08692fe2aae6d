"""What in a log cannot be: told with its place. It stands in a file all the same, and is not taken in from one."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from tropeion.core.records.moments import read_moment

from .log_file import LogFile


def remarks_on(log: LogFile, latest: datetime) -> list[str]:
    """Entries and trials after ``latest``, frames before a roll began or past its end, a line each."""
    return list(_remarks(log, latest))


def _remarks(log: LogFile, latest: datetime) -> Iterator[str]:
    rolls = {roll.id: roll for roll in log.rolls}
    for number, entry in enumerate(log.entries):
        if read_moment(entry.at) > latest:
            yield f"entries[{number}] ({entry.id}): {entry.at} is yet to come"
        roll = rolls.get(entry.roll) if entry.roll is not None else None
        if roll is None or entry.frame_number is None:
            continue
        if entry.frame_number < roll.first_number:
            yield (
                f"entries[{number}] ({entry.id}): frame {entry.frame_number} is before roll {roll.id} began, "
                f"with {roll.first_number}"
            )
        elif roll.frames is not None and entry.frame_number >= roll.first_number + roll.frames:
            last = roll.first_number + roll.frames - 1
            said = f"frame {entry.frame_number} is past the end of roll {roll.id}, {last}"
            yield f"entries[{number}] ({entry.id}): {said}"
    for number, trial in enumerate(log.trials):
        if read_moment(trial.at) > latest:
            yield f"trials[{number}] ({trial.id}): {trial.at} is yet to come"
