"""The cameras of a collection: whatever answers at a body's socket; where nothing does, a simulated one is put."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

from tropeion.core.camera.state import CameraState
from tropeion.core.gear.bodies import Body

from .line import CameraServer, ask, is_served
from .protocol import Request, Verb
from .simulated_body import SimulatedBody


def socket_of(folder: Path, body_id: str) -> Path:
    """Where the camera of a body is reached, in a folder of data."""
    return folder / "devices" / f"body-{body_id}.sock"


# At most this many simulated cameras run at a time; each has a socket and a thread.
MOST_ON: Final = 8
# Seconds without use after which one is switched off.
IDLE_S: Final = 600.0


@dataclass(slots=True)
class _On:
    """A simulated camera that is on; ``used_s``: when it was asked last."""

    body: Body
    server: CameraServer
    used_s: float


class Cameras:
    """Lines to cameras. Safe to use from several threads. ``clock`` counts seconds."""

    def __init__(self, folder: Path, clock: Callable[[], float] = time.monotonic) -> None:
        self._folder, self._clock = folder, clock
        # The longest unused stands first.
        self._on: dict[str, _On] = {}
        self._turn = threading.Lock()
        self._timer: threading.Timer | None = None

    @property
    def on(self) -> tuple[str, ...]:
        """Bodies whose simulated camera is on, the longest unused first."""
        with self._turn:
            return tuple(self._on)

    def state(self, body: Body) -> CameraState:
        """How the camera of a body stands; one that is off, as it is when it is switched on. Starts nothing.

        Raises LineError.
        """
        path = socket_of(self._folder, body.id)
        with self._turn:
            if self._standing(body) is None and not is_served(path):
                return SimulatedBody(body).do(Request(id=1, do="state"))
        return ask(path, "state")

    def ask(self, body: Body, do: Verb, value: Any = None) -> CameraState:
        """One request to the camera of a body, which is switched on for it. Raises LineError, NotDoneError.

        Of the simulated ones the longest unused goes when there are ``MOST_ON``.
        """
        path = socket_of(self._folder, body.id)
        with self._turn:
            if self._standing(body) is None and not is_served(path):
                while len(self._on) >= MOST_ON:
                    self._off(next(iter(self._on)))
                self._on[body.id] = _On(body, CameraServer(path, SimulatedBody(body)), self._clock())
                self._wait()
        return ask(path, do, value)

    def _standing(self, body: Body) -> _On | None:
        """The simulated camera of a body, which is used now. A body whose data changed is another body."""
        self._idle_off()
        standing = self._on.get(body.id)
        if standing is not None and standing.body != body:
            self._off(body.id)
            return None
        if standing is not None:
            standing.used_s = self._clock()
            self._on[body.id] = self._on.pop(body.id)
        return standing

    def _off(self, id_: str) -> None:
        self._on.pop(id_).server.close()

    def _idle_off(self) -> None:
        now_s = self._clock()
        for id_ in [id_ for id_, one in self._on.items() if now_s - one.used_s >= IDLE_S]:
            self._off(id_)

    def _wait(self) -> None:
        """Look again when the longest unused may go."""
        if self._timer is None and self._on:
            least_s = min(one.used_s for one in self._on.values()) + IDLE_S - self._clock()
            self._timer = threading.Timer(max(least_s, 0.05), self._look)
            self._timer.daemon = True
            self._timer.start()

    def _look(self) -> None:
        with self._turn:
            self._timer = None
            self._idle_off()
            self._wait()

    def close(self) -> None:
        """Put away what was started."""
        with self._turn:
            if self._timer is not None:
                self._timer.cancel()
                self._timer = None
            for id_ in tuple(self._on):
                self._off(id_)
