"""An entry of the log as a record: what was used, when."""

from __future__ import annotations

from .logged import Logged
from .moments import Moment, instant_us
from .record import Record


class LogEntry(Logged, Record):
    """An entry. ``at`` is when the frame was taken, not when it was written down."""

    kind = "log_entries"
    called = "entry"

    at: Moment

    @property
    def instant(self) -> int:
        """When it was, in microseconds since 1970: entries are found by it."""
        return instant_us(self.at)
