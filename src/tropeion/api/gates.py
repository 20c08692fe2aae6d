"""What each listener lets in: the hosts that it answers to, how much comes at a time, and who.

Where a request came in is known by the listener that took it, and by nothing that the request says.
"""

from __future__ import annotations

import threading
from collections.abc import Iterable
from dataclasses import field
from typing import Final, cast

from starlette.types import ASGIApp, Receive, Scope, Send

from tropeion.core.frozen import frozen
from tropeion.lan.listening import Listening
from tropeion.lan.paired import Device, Paired

GATE: Final = "tropeion.gate"
COOKIE: Final = "__Host-tropeion"
COOKIE_DAYS: Final = 90


@frozen
class Visit:
    """A request that came in from the network; ``device`` None: nobody was let in."""

    address: str
    device: Device | None


class Gate:
    """One listener. ``most_coming`` are the request bodies that are waited for at a time, all and large ones."""

    def __init__(
        self, hosts: Iterable[str], most_coming: int, most_uploads: int, *, listening: Listening | None = None
    ) -> None:
        self.hosts = frozenset(hosts)
        self.listening = listening
        self.most_coming = {False: most_coming, True: most_uploads}
        # Incomplete bodies: all, and those of large files.
        self.coming = {False: 0, True: 0}
        self.uploads = 0
        self._lock = threading.Lock()
        self._running: dict[str, set[threading.Event]] = {}
        self._revoked: set[str] = set()

    @property
    def paired(self) -> Paired | None:
        """Who may come in; None at the machine itself, where everybody may."""
        return None if self.listening is None else self.listening.paired

    def enters(self, device: str, left: threading.Event) -> None:
        """A device waits for an answer."""
        with self._lock:
            self._running.setdefault(device, set()).add(left)

    def leaves(self, device: str, left: threading.Event) -> None:
        with self._lock:
            waiting = self._running.get(device, set())
            waiting.discard(left)
            if not waiting:
                self._running.pop(device, None)

    def is_revoked(self, device: str) -> bool:
        return device in self._revoked

    def revoke(self, device: str) -> bool:
        """Nobody comes in by this session any more, and what it waits for is not answered; False: there is none."""
        paired = self.paired
        if paired is None or not paired.revoke(device):
            return False
        with self._lock:
            self._revoked.add(device)
            for left in self._running.get(device, ()):
                left.set()
        return True


@frozen
class ThroughGate:
    """The application as a listener serves it."""

    app: ASGIApp
    gate: Gate = field(repr=False)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        await self.app({**scope, GATE: self.gate}, receive, send)


def gate_in(scope: Scope, otherwise: Gate) -> Gate:
    """The gate that a request came through."""
    return cast(Gate, scope.get(GATE, otherwise))


def cookie_of(token: str) -> str:
    """The cookie of a session: for this host alone, over TLS, never for scripts or other sites."""
    return f"{COOKIE}={token}; Path=/; Max-Age={COOKIE_DAYS * 86400}; Secure; HttpOnly; SameSite=Strict"


GONE: Final = f"{COOKIE}=; Path=/; Max-Age=0; Secure; HttpOnly; SameSite=Strict"
