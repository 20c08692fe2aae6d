"""The server around the application: patient with slow clients, but not for ever, and never with too many."""

from __future__ import annotations

import asyncio
import gc
import resource
import socket
import ssl
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Final, Literal, cast

import h11
import uvicorn
from fastapi import FastAPI
from starlette.types import ASGIApp
from uvicorn.protocols.http.h11_impl import H11Protocol

from tropeion.lan.listening import Listening

from .gates import Gate, ThroughGate
from .problems import Problem, problem

# Seconds for the headers of a request to arrive.
HEADERS_WITHIN_S: Final = 10.0
# Seconds for a handshake.
HANDSHAKE_WITHIN_S: Final = 10.0
# Connections from one address in the network: a browser opens six for each of its windows.
MOST_FROM_ONE: Final = 24
# Descriptors left for files, the database, its log and the listener.
_RESERVED: Final = 64


def most_connections() -> int:
    """How many connections are held at a time: well below the descriptors that the process may have."""
    soft, _ = resource.getrlimit(resource.RLIMIT_NOFILE)
    return 200 if soft == resource.RLIM_INFINITY else max(4, min(200, (soft - _RESERVED) // 2))


class Slots:
    """How many connections a listener holds at a time, in all and from one address."""

    def __init__(self, most: int, most_from_one: int | None = None) -> None:
        self.most, self._most_from_one = most, most_from_one
        self._taken: Counter[str] = Counter()

    def take(self, address: str) -> int:
        """One more; how many there are in all."""
        self._taken[address] += 1
        return self._taken.total()

    def give(self, address: str) -> None:
        """One less."""
        self._taken[address] -= 1
        if self._taken[address] <= 0:
            del self._taken[address]

    def is_over(self, address: str) -> bool:
        """Whether there are too many, in all or from there."""
        most = self.most if self._most_from_one is None else self._most_from_one
        return self._taken.total() > self.most or self._taken[address] > most


class _Patient(H11Protocol):
    """A connection that gives up on headers that do not come, and that answers at once where there are too many."""

    headers_within_s = HEADERS_WITHIN_S
    slots = Slots(0)
    _giving_up: asyncio.TimerHandle | None = None
    _one_too_many = False

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        taken = self.slots.take("")
        if taken > 2 * self.slots.most:
            transport.abort()
            return
        # A connection too many is refused after its request is read: closing with unread data would lose the answer.
        self._one_too_many = taken > self.slots.most
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
        self._give_slot()
        super().connection_lost(exc)

    def _give_slot(self) -> None:
        self.slots.give("")

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


class _FromNetwork(_Patient):
    """A connection whose handshake is done: the door counted it, and is told of its end."""

    at_end: Callable[[], None] | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        H11Protocol.connection_made(self, transport)
        self._wait()

    def _give_slot(self) -> None:
        if self.at_end is not None:
            self.at_end()


class _Door(asyncio.Protocol):
    """A connection from the network until its handshake is done, which counts as one and has so many seconds.

    What comes right behind the handshake is kept until the connection is made.
    """

    def __init__(self, network: Network, inner: Callable[[], _FromNetwork], open_: set[_Door]) -> None:
        self._network, self._inner, self._open = network, inner, open_
        self._transport: asyncio.Transport | None = None
        self._task: asyncio.Task[None] | None = None
        self._address = ""
        self._early = bytearray()

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        assert isinstance(transport, asyncio.Transport)
        self._transport = transport
        peer = transport.get_extra_info("peername")
        self._address = str(peer[0]) if peer else ""
        self._network.slots.take(self._address)
        self._open.add(self)
        if self._network.slots.is_over(self._address):
            transport.abort()
        else:
            self._task = asyncio.get_running_loop().create_task(self._shake_hands(transport))

    def connection_lost(self, exc: Exception | None) -> None:  # noqa: ARG002
        """It ended before the handshake did."""
        self._end()

    def data_received(self, data: bytes) -> None:
        self._early += data

    def shutdown(self) -> None:
        """The server ends."""
        if self._transport is not None:
            self._transport.abort()

    async def _shake_hands(self, transport: asyncio.Transport) -> None:
        loop = asyncio.get_running_loop()
        try:
            secured = await loop.start_tls(
                transport,
                self,
                self._network.context,
                server_side=True,
                ssl_handshake_timeout=self._network.handshake_within_s,
            )
        except OSError:
            # It did not trust us, spoke something else, or said nothing.
            self._end()
            return
        if secured is None or secured.is_closing():
            self._end()
            return
        protocol = self._inner()
        protocol.at_end = self._end
        protocol.connection_made(secured)
        secured.set_protocol(protocol)
        if self._early:
            protocol.data_received(bytes(self._early))

    def _end(self) -> None:
        if self in self._open:
            self._open.discard(self)
            self._network.slots.give(self._address)


@dataclass(slots=True)
class Network:
    """The listener in one's own network: its sockets, how it speaks TLS, and what it lets in."""

    sockets: Sequence[socket.socket]
    context: ssl.SSLContext
    gate: Gate
    slots: Slots
    handshake_within_s: float = HANDSHAKE_WITHIN_S


def collects_rarely() -> None:
    """Look for garbage less often than every 700 objects, and never through what is there now: that stays.

    An answer makes many objects that live as long as it does. To look through them was a tenth of its time, and to look
    through all that the server keeps held it up by 0.1 s.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


class Server(uvicorn.Server):
    """One server on the machine, and beside it a listener in the network that may fail by itself."""

    def __init__(self, config: uvicorn.Config, network: Network | None = None) -> None:
        super().__init__(config)
        self._network = network
        self._doors: set[_Door] = set()

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Listen on the machine, then in the network."""
        await super().startup(sockets)
        collects_rarely()
        if self._network is None:
            return
        network, loop = self._network, asyncio.get_running_loop()

        class FromNetwork(_FromNetwork):
            headers_within_s = getattr(self.config.http, "headers_within_s", HEADERS_WITHIN_S)

        app = cast(ASGIApp, self.config.app)
        config = _config(ThroughGate(app, network.gate), FromNetwork, lifespan="off")
        config.load()

        def protocol() -> FromNetwork:
            return FromNetwork(config=config, server_state=self.server_state, app_state=self.lifespan.state)

        for listener in network.sockets:
            door = lambda: _Door(network, protocol, self._doors)  # noqa: E731
            self.servers.append(await loop.create_server(door, sock=listener))

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """Nobody waits for handshakes that do not come."""
        for door in tuple(self._doors):
            door.shutdown()
        await super().shutdown(sockets)


def network_of(listening: Listening, gate: Gate, *, handshake_within_s: float = HANDSHAKE_WITHIN_S) -> Network | None:
    """The listener in the network, with slots of its own; None where none stands."""
    if listening.context is None or not listening.sockets:
        return None
    slots = Slots(max(4, most_connections() // 4), MOST_FROM_ONE)
    return Network(listening.sockets, listening.context, gate, slots, handshake_within_s)


def config_of(app: FastAPI, *, headers_within_s: float = HEADERS_WITHIN_S, most: int | None = None) -> uvicorn.Config:
    """How the application is served."""

    class Patient(_Patient):
        pass

    Patient.headers_within_s, Patient.slots = headers_within_s, Slots(most_connections() if most is None else most)
    return _config(app, Patient, lifespan="on")


def _config(app: ASGIApp, protocol: type[_Patient], *, lifespan: Literal["on", "off"]) -> uvicorn.Config:
    return uvicorn.Config(
        cast(Any, app),
        http=protocol,
        ws="none",
        log_level="warning",
        lifespan=lifespan,
        server_header=False,
        # Nothing stands before it that could tell where a request comes from.
        proxy_headers=False,
        date_header=False,
    )
