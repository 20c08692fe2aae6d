"""What the trials of a collection came to, read when they or the gear changed."""

from __future__ import annotations

from typing import Final

from sqlalchemy import Connection, text

from tropeion.core.gear.tried import Tried, by_rig
from tropeion.core.gear.world import World
from tropeion.core.records.trials import PieceLife, RigTrial
from tropeion.core.records.usable_from import Dated, firmware_in, usable_rows

from .records import records_kept

# How many trials and events there are, and how often they were written.
Standing = tuple[int, int, int, int]
NOTHING_TRIED: Final[Standing] = (0, 0, 0, 0)
_ASKED: Final = text(
    "SELECT (SELECT count(*) FROM trial), (SELECT coalesce(sum(version), 0) FROM trial), "
    "(SELECT count(*) FROM piece_event), (SELECT coalesce(sum(version), 0) FROM piece_event)"
)


def tried_standing(connection: Connection) -> Standing:
    """Changes with every trial and event that is written."""
    row = connection.execute(_ASKED).one()
    # Without a trial, what happened to a piece decides nothing.
    return NOTHING_TRIED if row[0] == 0 else (row[0], row[1], row[2], row[3])


def tried_in(connection: Connection, world: World) -> Tried:
    """From which stop each rig is usable, by the trials that count."""
    trials = [Dated(kept.record, kept.record.at, kept.record.struck) for kept in records_kept(connection, RigTrial, {})]
    events = [kept.record for kept in records_kept(connection, PieceLife, {}) if not kept.record.struck]
    return by_rig(usable_rows(trials, events, firmware_in(world.gear)))
