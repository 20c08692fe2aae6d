"""The server around the application: patient with slow clients, but not for ever, and never with too many."""

from __future__ import annotations

import asyncio
import resource
from typing import Final

import h11
import uvicorn
from fastapi import FastAPI
from uvicorn.protocols.http.h11_impl import H11Protocol

from .problems import Problem, problem

# Seconds for the headers of a request to arrive.
HEADERS_WITHIN_S: Final = 10.0
# Descriptors left for files, the database, its log and the listener.
_RESERVED: Final = 64


def most_connections() -> int:
    """How many connections are held at a time: well below the descriptors that the process may have."""
    soft, _ = resource.getrlimit(resource.RLIMIT_NOFILE)
    return 200 if soft == resource.RLIM_INFINITY else max(4, min(200, (soft - _RESERVED) // 2))


class _Patient(H11Protocol):
    """A connection that gives up on headers that do not come, and that answers at once where there are too many."""

    headers_within_s = HEADERS_WITHIN_S
    most = 0
    _giving_up: asyncio.TimerHandle | None = None
    _one_too_many = False

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        if len(self.connections) > 2 * self.most:
            transport.abort()
            return
        # A connection too many is refused after its request is read: closing with unread data would lose the answer.
        self._one_too_many = len(self.connections) > self.most
        self._wait()

    def data_received(self, data: bytes) -> None:
        if self._one_too_many:
            self._have()
            self._answer(_TOO_MANY)
            return
        super().data_received(data)
        if self.conn.their_state is h11.IDLE:
            if self._giving_up is None:
                self._wait()
        else:
            self._have()

    def connection_lost(self, exc: Exception | None) -> None:
        self._have()
        # True once the client has left: long work checks it and stops.
        left = self.cycle.scope["state"].get("left") if self.cycle and not self.cycle.response_complete else None
        if left is not None:
            left.set()
        super().connection_lost(exc)

    def _wait(self) -> None:
        self._giving_up = self.loop.call_later(self.headers_within_s, self._give_up)

    def _have(self) -> None:
        if self._giving_up is not None:
            self._giving_up.cancel()
            self._giving_up = None

    def _give_up(self) -> None:
        self._answer(_TOO_SLOW)

    def _answer(self, answer: bytes) -> None:
        if not self.transport.is_closing():
            self.transport.write(answer)
            self.transport.close()


def _raw(found: Problem, reason: str) -> bytes:
    """An answer before there is a request."""
    body = bytes(problem(found).body)
    head = (
        f"HTTP/1.1 {found.status} {reason}\r\ncontent-type: application/problem+json\r\n"
        f"content-length: {len(body)}\r\nconnection: close\r\n\r\n"
    )
    return head.encode() + body


_TOO_MANY: Final = _raw(
    Problem(type="busy", title="Too many connections", status=503, detail="Close some of Tropeion's windows"),
    "Service Unavailable",
)
_TOO_SLOW: Final = _raw(Problem(type="bad_request", title="The request did not come", status=408), "Request Timeout")


def config_of(app: FastAPI, *, headers_within_s: float = HEADERS_WITHIN_S, most: int | None = None) -> uvicorn.Config:
    """How the application is served."""

    class Patient(_Patient):
        pass

    Patient.headers_within_s, Patient.most = headers_within_s, most_connections() if most is None else most
    return uvicorn.Config(
        app, http=Patient, ws="none", log_level="warning", lifespan="on", server_header=False, date_header=False
    )
