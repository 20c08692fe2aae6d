"""The log file: what was used, when; how cameras sign and how their clocks run; trials, and each piece's own record."""

from __future__ import annotations

from typing import Annotated, Final, Literal

from pydantic import Field, StringConstraints

from tropeion.core.gear.field_types import Strict, Text
from tropeion.core.records.log_others import ClockSet, Roll, Settled, Signs
from tropeion.core.records.logged import Logged
from tropeion.core.records.moments import Moment, instant_us
from tropeion.core.records.trials import PieceEvent, Trial

MOST_ENTRIES: Final = 200_000
_Id = Annotated[str, StringConstraints(pattern=r"^[^\x00-\x1f\x7f-\x9f]{1,64}$")]


class FiledEntry(Logged):
    """A line of the log; ``struck``: why it counts no more."""

    id: _Id
    at: Moment
    struck: Text | None = None
    version: Annotated[int, Field(ge=1)] = 1

    @property
    def instant_us(self) -> int:
        """When it was, in microseconds since 1970."""
        return instant_us(self.at)


class FiledTrial(Trial):
    """A trial in the file; ``struck``: why it counts no more."""

    id: _Id
    at: Moment
    struck: Text | None = None


class LogFile(Strict):
    """All of it. Ids refer to gear; those that no collection knows are kept."""

    version: Literal[1] = 1
    cameras: tuple[Signs, ...] = ()
    entries: tuple[FiledEntry, ...] = ()
    clocks: tuple[ClockSet, ...] = ()
    rolls: tuple[Roll, ...] = ()
    assignments: tuple[Settled, ...] = ()
    trials: tuple[FiledTrial, ...] = ()
    events: tuple[PieceEvent, ...] = ()
