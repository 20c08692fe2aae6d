"""The cameras of a collection: whatever answers at a body's socket; where nothing does, a simulated one is put."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import Any

from tropeion.core.camera.state import CameraState
from tropeion.core.gear.bodies import Body

from .line import CameraServer, ask, is_served
from .protocol import Verb
from .simulated_body import SimulatedBody

__all__ = ["Cameras", "socket_of"]


def socket_of(folder: Path, body_id: str) -> Path:
    """Where the camera of a body is reached, in a folder of data."""
    return folder / "devices" / f"body-{body_id}.sock"


class Cameras:
    """Lines to cameras. Safe to use from several threads."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._started: dict[str, tuple[Body, CameraServer]] = {}
        self._turn = threading.Lock()

    def ask(self, body: Body, do: Verb, value: Any = None) -> CameraState:
        """One request to the camera of a body. Raises LineError, NotDoneError."""
        path = socket_of(self._folder, body.id)
        with self._turn:
            started = self._started.get(body.id)
            # A body whose data changed is another body.
            if started is not None and started[0] != body:
                started[1].close()
                del self._started[body.id]
                started = None
            if started is None and not is_served(path):
                self._started[body.id] = (body, CameraServer(path, SimulatedBody(body)))
        return ask(path, do, value)

    def close(self) -> None:
        """Put away what was started."""
        with self._turn:
            for _, server in self._started.values():
                server.close()
            self._started.clear()
