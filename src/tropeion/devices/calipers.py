"""The caliper of a collection's bench: a simulated one about the piece that is measured, on a line of its own."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from .caliper_line import CaliperServer
from .simulated_caliper import SimulatedCaliper

__all__ = ["Calipers", "caliper_link"]

T = TypeVar("T")


def caliper_link(folder: Path) -> Path:
    """What the caliper's line is called, in a folder of data."""
    return folder / "devices" / "caliper"


class Calipers:
    """One simulated caliper at a time. Safe to use from several threads."""

    def __init__(self, folder: Path) -> None:
        self._link = caliper_link(folder).with_name("bench-caliper")
        self._what: str | None = None
        self._server: CaliperServer | None = None
        self._turn = threading.Lock()

    def about(self, what: str, made: Callable[[], SimulatedCaliper], do: Callable[[SimulatedCaliper], T]) -> T:
        """Do something with the caliper about ``what``; it is made where it was about something else.

        Raises CaliperError where its line cannot be made, and whatever ``do`` raises.
        """
        with self._turn:
            if self._server is None or self._what != what:
                if self._server is not None:
                    self._server.close()
                    self._server = None
                self._server, self._what = CaliperServer(self._link, made()), what
            return do(self._server.caliper)

    @property
    def port(self) -> str:
        """Where the simulated one is reached by other programs."""
        return str(self._link)

    def close(self) -> None:
        """Put it away."""
        with self._turn:
            if self._server is not None:
                self._server.close()
                self._server = None
