"""What in a log cannot be: told with its place. It stands in a file all the same, and is not taken in from one."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Final

from tropeion.core.gear.world import World
from tropeion.core.records.moments import read_moment

from .log_file import LogFile

# A clock that is ahead by more than this does not know what day it is.
_AHEAD: Final = timedelta(days=1)


def is_to_come(at: str, now: datetime) -> bool:
    """Whether a moment is later than any clock that runs could say now."""
    return read_moment(at) > now + _AHEAD


def remarks_on(log: LogFile, now: datetime) -> list[str]:
    """Entries and trials that are yet to come, frames before a roll began or past its end, a line each."""
    return list(_remarks(log, now))


def unknown_in(log: LogFile, world: World) -> list[str]:
    """The bodies, lenses and adapters that entries name and a collection does not have; none of an empty one."""
    gear = world.gear
    if not (gear.bodies or gear.lenses or gear.adapters):
        return []
    named = dict.fromkeys(
        ids
        for entry in log.entries
        for ids in (("body", entry.body), ("lens", entry.lens), *(("adapter", id_) for id_ in entry.via))
    )
    shelves = {"body": world.bodies, "lens": world.lenses, "adapter": world.adapters}
    return [f"no {kind} has the id '{id_}': kept as it is" for kind, id_ in named if shelves[kind].get(id_) is None]


def _remarks(log: LogFile, now: datetime) -> Iterator[str]:
    rolls = {roll.id: roll for roll in log.rolls}
    for number, entry in enumerate(log.entries):
        if is_to_come(entry.at, now):
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
        if is_to_come(trial.at, now):
            yield f"trials[{number}] ({trial.id}): {trial.at} is yet to come"
