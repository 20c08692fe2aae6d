"""What the trials of a log file come to, with the gear that it names."""

from __future__ import annotations

from tropeion.core.gear.tried import UsableFrom, by_rig
from tropeion.core.gear.world import World, with_tried
from tropeion.core.records.usable_from import Dated, firmware_in, usable_rows

from .log_file import LogFile


def usable_in_log(log: LogFile, world: World) -> tuple[UsableFrom, ...]:
    """From which stop each rig is usable, by the trials of a log and what happened to its pieces."""
    trials = [Dated(trial, trial.at, trial.struck is not None) for trial in log.trials]
    return usable_rows(trials, log.events, firmware_in(world.gear))


def world_tried(world: World, log: LogFile) -> World:
    """The collection with the trials of a log."""
    return with_tried(world, by_rig(usable_in_log(log, world)))
