"""A Unix socket for one camera, read and written by its owner alone; and the line to it."""

from __future__ import annotations

import contextlib
import errno
import json
import os
import socket
import socketserver
import stat
import sys
import threading
from pathlib import Path
from types import TracebackType
from typing import Any, Final, Self

from tropeion.core.camera.state import CameraState

from .protocol import MOST_BYTES, Answer, NotDoneError, Verb, answer_in, request_in
from .simulated_body import SimulatedBody

# Seconds of silence after which a camera counts as gone.
PATIENCE_S: Final = 5.0
# Seconds to wait for a free descriptor.
WITHOUT_FILES_S: Final = 0.5
# What the system allows for the path of a socket, with its closing zero.
MOST_PATH_BYTES: Final = 107


class LineError(Exception):
    """There is no camera at the other end, or no way to it; in words."""


class _Handler(socketserver.StreamRequestHandler):
    server: _Server

    def handle(self) -> None:
        while line := self.rfile.readline(MOST_BYTES + 1):
            self.wfile.write(self.server.answer(line).model_dump_json(exclude_none=True).encode() + b"\n")
            if len(line) > MOST_BYTES:
                return


class _Server(socketserver.ThreadingUnixStreamServer):
    daemon_threads = True
    # A line that finds the queue full is refused at once.
    request_queue_size = 128
    # Open connections are not waited for on shutdown.
    block_on_close = False

    def __init__(self, path: Path, device: SimulatedBody) -> None:
        self.device = device
        self.turn = threading.Lock()
        self._said, self._wait = False, threading.Event()
        super().__init__(str(path), _Handler)

    def get_request(self) -> tuple[Any, Any]:
        try:
            pair: tuple[Any, Any] = super().get_request()
        except OSError as error:
            if error.errno in {errno.EMFILE, errno.ENFILE}:
                # The caller retries at once while somebody waits at the socket.
                if not self._said:
                    self._said = True
                    print("tropeion: no more files can be opened: cameras answer when some are closed", file=sys.stderr)
                self._wait.wait(WITHOUT_FILES_S)
            raise
        self._said = False
        return pair

    def server_bind(self) -> None:
        # Between bind and chmod nobody else may connect: the file is never wider than its owner's.
        before = os.umask(0o177)
        try:
            super().server_bind()
        finally:
            os.umask(before)

    def answer(self, line: bytes) -> Answer:
        """One request's answer. Requests take turns, whoever sends them."""
        number = 0
        try:
            if len(line) > MOST_BYTES:
                raise NotDoneError(f"a line is no longer than {MOST_BYTES} bytes")
            request = request_in(line)
            number = request.id
            with self.turn:
                return Answer(id=number, state=self.device.do(request))
        except NotDoneError as error:
            return Answer(id=number, error=str(error))


class CameraServer:
    """A simulated body at a socket, served from a thread of its own until it is closed."""

    def __init__(self, path: Path, device: SimulatedBody) -> None:
        """Raises LineError where the socket cannot be made, or another camera is at it."""
        if len(os.fsencode(path)) > MOST_PATH_BYTES:
            raise LineError(f"the path is too long for a socket: {path}; choose a data folder with a shorter one")
        if is_served(path):
            raise LineError(f"another camera is at {path}")
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            # Left behind by a process that was killed.
            if path.exists() and stat.S_ISSOCK(path.stat().st_mode):
                path.unlink()
            self._server = _Server(path, device)
        except OSError as error:
            raise LineError(f"cannot make the socket {path}: {error.strerror}") from None
        self._thread = threading.Thread(target=self._server.serve_forever, kwargs={"poll_interval": 0.05}, daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop serving and take the socket away."""
        self._server.shutdown()
        self._server.server_close()
        self._thread.join()
        self.path.unlink(missing_ok=True)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        self.close()


def is_served(path: Path) -> bool:
    """Whether something answers at a socket."""
    with contextlib.suppress(OSError), socket.socket(socket.AF_UNIX) as line:
        line.settimeout(PATIENCE_S)
        line.connect(str(path))
        return True
    return False


def ask(path: Path, do: Verb, value: Any = None) -> CameraState:
    """One request to the camera at a socket. Raises LineError without a camera, NotDoneError where it did not do it."""
    try:
        with socket.socket(socket.AF_UNIX) as line:
            line.settimeout(PATIENCE_S)
            line.connect(str(path))
            line.sendall(json.dumps({"id": 1, "do": do, "value": value}).encode() + b"\n")
            with line.makefile("rb") as answers:
                answer = answer_in(answers.readline(MOST_BYTES * 4))
    except OSError as error:
        raise LineError(f"no camera answers at {path}: {error.strerror or error}") from None
    if answer.state is None:
        raise NotDoneError(answer.error or "the camera did not say why")
    return answer.state
