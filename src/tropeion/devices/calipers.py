"""The caliper of a collection's bench: a simulated one about the piece that is measured, on a line of its own."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TypeVar

from serial.tools import list_ports

from .caliper_line import CaliperError, CaliperServer, read_at
from .simulated_caliper import SimulatedCaliper

T = TypeVar("T")


def caliper_link(folder: Path) -> Path:
    """What the caliper's line is called, in a folder of data."""
    return folder / "devices" / "caliper"


def _device(port: str) -> str:
    """What a name leads to: a device has several."""
    return os.path.realpath(port) if "\0" not in port else port


class Calipers:
    """One simulated caliper at a time. Safe to use from several threads."""

    def __init__(self, folder: Path, named: Sequence[str] = ()) -> None:
        """``named``: ports that whoever started the program named."""
        self._apart, self._named = caliper_link(folder), tuple(named)
        self._link = self._apart.with_name("bench-caliper")
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

    def ports(self) -> tuple[tuple[str, str], ...]:
        """Where a caliper may be read, each with what it is called: no other device of this machine is opened."""
        all_ports = {str(self._apart): "simulated, started apart"} if self._apart.exists() else {}
        for port in self._named:
            all_ports.setdefault(port, "named at the start")
        for comport in list_ports.comports():
            all_ports.setdefault(comport.device, comport.description or comport.device)
        return tuple(all_ports.items())

    def read_at(self, port: str) -> float:
        """One reading in mm at one of its ports. Raises CaliperError, also for any other device."""
        listed = [name for name, _ in self.ports()]
        known = {_device(name) for name in (*listed, str(self._apart), self.port)}
        if _device(port) not in known:
            said = f"there is {', '.join(listed)}" if listed else "none is listed on this machine"
            raise CaliperError(
                f"{port[:80]} is not known as a caliper's port ({said}): name it at the start, with --caliper"
            )
        return read_at(port)

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
