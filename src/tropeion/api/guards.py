"""What every request passes: the host it names, where it comes from, how large it is, and the headers it gets back."""

from __future__ import annotations

import asyncio
import re
import threading
from collections import deque
from collections.abc import Callable
from typing import Final

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from tropeion.core.asking import asked_by
from tropeion.lan.paired import Paired

from .gates import COOKIE, Gate, Visit, cookie_of, gate_in
from .problems import ON_THE_MACHINE, Problem, problem
from .rights import PAIR_PATH, may, right_of

MEGABYTE = 1024 * 1024
PAIRING_BYTES = 4096
_SAFE = {"GET", "HEAD", "OPTIONS"}
# Reading these copies the collection or asks a device: another site has no business there.
_AT_WORK = {"/api/v1/backup", "/api/v1/camera"}
_HOST = re.compile(r"(?P<name>\[[0-9A-Fa-f:.]+\]|[^:\[\]@/]+)(?::[0-9]{1,5})?")


# Only our own files.
CONTENT_SECURITY_POLICY: Final = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "manifest-src 'self'",
        "worker-src 'self'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
    )
)


# At most this many large uploads at a time; more are refused.
MOST_UPLOADS = 4
# Seconds for a request body to arrive; after that it must keep up this rate, checked every second.
BODY_WITHIN_S = 30.0
AFTERWARDS_BYTES_S = 64 * 1024
# A body that arrives with its head is accepted even where all slots for bodies are taken.
AT_ONCE_S = 0.25
AT_ONCE_BYTES = 64 * 1024
_SLOW = Problem(type="bad_request", title="The file did not come", status=408, detail="Nothing was written; try again")
_BUSY = Problem(
    type="busy", title="Too many files at once", status=503, detail="Nothing was written; try again in a moment"
)
_BODIES = Problem(
    type="busy", title="Too many requests on their way", status=503, detail="Nothing was written; try again in a moment"
)


_UNPAIRED = Problem(
    type="unpaired", title="This device is not paired", status=401, detail="Pair it by a code from the machine’s screen"
)


class _BodyError(Exception):
    """A body that is refused while it comes."""

    def __init__(self, found: Problem) -> None:
        super().__init__(found.title)
        self.problem = found


class _RequestBody:
    """What is sent, part by part: no more than the limit, and not for ever. ``whole``: all of it is here."""

    def __init__(self, receive: Receive, limit: int, at_end: Callable[[], None], *, longer: bool) -> None:
        """``longer``: what goes on fast enough may take more than its time."""
        self._receive, self._limit, self._at_end, self._longer = receive, limit, at_end, longer
        self._taken, self._taken_late = 0, 0
        self._began_s = asyncio.get_running_loop().time()
        self._here: deque[Message] = deque()
        self.whole = False
        self.refused: _BodyError | None = None

    async def receive(self) -> Message:
        if self._here:
            return self._here.popleft()
        if self.whole:
            return await self._receive()
        late_s = self._age_s() - BODY_WITHIN_S
        more_s = self._taken_late / AFTERWARDS_BYTES_S + 1.0 if self._longer else 0.0
        try:
            message = await asyncio.wait_for(self._receive(), more_s - late_s)
        except TimeoutError:
            raise self._refuse(_SLOW) from None
        if message["type"] == "http.request":
            length = len(message.get("body", b""))
            self._taken += length
            self._taken_late += length if self._age_s() > BODY_WITHIN_S else 0
            if not message.get("more_body", False):
                self._end()
            if self._taken > self._limit:
                raise self._refuse(_too_large(self._limit))
        return message

    async def is_here(self) -> bool:
        """Whether all of it has come with the head, or right after."""
        taken: deque[Message] = deque()
        try:
            async with asyncio.timeout(AT_ONCE_S):
                while not self.whole and self._taken <= AT_ONCE_BYTES:
                    message = await self.receive()
                    if message["type"] != "http.request":
                        break
                    taken.append(message)
        except (TimeoutError, _BodyError):
            return False
        self._here = taken
        return self.whole

    def _age_s(self) -> float:
        return asyncio.get_running_loop().time() - self._began_s

    def _end(self) -> None:
        self.whole = True
        self._at_end()

    def _refuse(self, found: Problem) -> _BodyError:
        self.refused = _BodyError(found)
        return self.refused


class _RevokedError(Exception):
    """A device was revoked while it waited for an answer."""


class _Reply:
    """What is answered, with the headers that every answer has; ``cookie`` is one to be set."""

    def __init__(self, send: Send, body: _RequestBody, gate: Gate) -> None:
        self._send, self._body, self._gate = send, body, gate
        self.started = False
        self.device: str | None = None
        self.cookie: str | None = None

    async def send(self, message: Message) -> None:
        if self._body.refused is not None and not self.started:
            # Whatever the application answered to half a body.
            raise self._body.refused
        if self.device is not None and self._gate.is_revoked(self.device):
            raise _RevokedError
        await self.send_anyway(message)

    async def send_anyway(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.started = True
            found = MutableHeaders(scope=message)
            found["content-security-policy"] = CONTENT_SECURITY_POLICY
            found["x-content-type-options"] = "nosniff"
            found["referrer-policy"] = "no-referrer"
            found["cross-origin-opener-policy"] = "same-origin"
            found["cross-origin-resource-policy"] = "same-origin"
            found.setdefault("cache-control", "no-store")
            if self.cookie is not None and "set-cookie" not in found:
                found.append("set-cookie", self.cookie)
        await self._send(message)


class Guards:
    """Pure ASGI middleware around the application.

    Requests come through the gate of the listener that took them; without one, through that of the machine itself.
    """

    def __init__(
        self,
        app: ASGIApp,
        *,
        gate: Gate,
        limits: dict[str, int],
        strangers_may: Callable[[str, str], bool],
        limit: int = 5 * MEGABYTE,
    ) -> None:
        """``strangers_may`` tells, by method and path, what is for devices that were not let in."""
        self._app, self._gate, self._limits, self._limit = app, gate, limits, limit
        self._strangers_may = strangers_may

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        gate = gate_in(scope, self._gate)
        left = threading.Event()
        # The connection reports its own loss.
        scope["state"] = {**scope.get("state", {}), "left": left, "visit": None}
        if scope["method"] == "HEAD":
            # The answer is that to GET; the server leaves out its body.
            scope = {**scope, "method": "GET"}
        # A stranger sends a code and a name.
        limit = PAIRING_BYTES if scope["path"] == PAIR_PATH else self._limits.get(scope["path"], self._limit)
        headers = Headers(scope=scope)
        large = scope["path"] in self._limits and scope["method"] not in _SAFE
        kinds = (False, True) if large else (False,)
        held = False

        def let_go() -> None:
            nonlocal held
            for kind in kinds if held else ():
                gate.coming[kind] -= 1
            held = False

        body = _RequestBody(receive, limit, let_go, longer=gate.paired is None)
        answer = _Reply(send, body, gate)
        refusal = self._refusal(scope, headers, limit, gate)
        if gate.paired is not None:
            refusal = await self._stranger(scope, headers, gate, gate.paired, answer, refusal)
        if refusal is None and _has_body(headers):
            if all(gate.coming[kind] < gate.most_coming[kind] for kind in kinds):
                held = True
                for kind in kinds:
                    gate.coming[kind] += 1
            elif not await body.is_here():
                refusal = _BUSY if large else _BODIES
        if refusal is not None:
            await problem(refusal)(scope, receive, answer.send_anyway)
            return
        gate.uploads += large
        if answer.device is not None:
            gate.enters(answer.device, left)
        try:
            with asked_by(left.is_set):
                await self._app(scope, body.receive, answer.send)
        except _BodyError as error:
            if not answer.started:
                await problem(error.problem)(scope, receive, answer.send_anyway)
        except _RevokedError:
            # Half an answer ends here: the server hangs up.
            if not answer.started:
                await problem(_UNPAIRED)(scope, receive, answer.send_anyway)
        finally:
            gate.uploads -= large
            if answer.device is not None:
                gate.leaves(answer.device, left)
            let_go()

    async def _stranger(
        self, scope: Scope, headers: Headers, gate: Gate, paired: Paired, answer: _Reply, refusal: Problem | None
    ) -> Problem | None:
        """Whose request it is that came from the network, and why it is refused."""
        client = scope.get("client")
        address = str(client[0]) if client else ""
        if refusal is not None:
            if refusal.type in {"other_host", "other_site"}:
                await run_in_threadpool(paired.refused, "other_host", address)
            return refusal
        token = cookie_parser(headers.get("cookie", "")).get(COOKIE)
        found = None if token is None else await run_in_threadpool(paired.device_of, token, address)
        scope["state"]["visit"] = Visit(address, None if found is None else found[0])
        method, path = scope["method"], scope["path"]
        if found is None or token is None:
            if self._strangers_may(method, path):
                return None
            await run_in_threadpool(paired.refused, "unpaired", address)
            return _UNPAIRED
        device, renewed = found
        if gate.is_revoked(device.id):
            return _UNPAIRED
        answer.device, answer.cookie = device.id, cookie_of(token) if renewed else None
        if not path.startswith("/api/") or may(device.may, method, path):
            return None
        await run_in_threadpool(paired.refused, "not_allowed", address, device.name)
        if right_of(method, path) in {None, "machine"}:
            return ON_THE_MACHINE
        detail = f"“{device.name}” may read and log; what else it may is decided on the machine, under Devices"
        return ON_THE_MACHINE.model_copy(update={"detail": detail})

    def _refusal(self, scope: Scope, headers: Headers, limit: int, gate: Gate) -> Problem | None:
        # A name, or an address in brackets, and after a colon a port: digits, or it is another name.
        named = _HOST.fullmatch(headers.get("host", ""))
        if named is None or named["name"].lower() not in gate.hosts:
            detail = "Tropeion answers to this machine only"
            if gate.paired is not None:
                detail = f"Here Tropeion answers to {', '.join(sorted(gate.hosts))}"
            return Problem(type="other_host", title="Unknown host", status=421, detail=detail)
        wary = gate.paired is not None and scope["path"].startswith("/api/")
        if scope["method"] not in _SAFE or scope["path"] in _AT_WORK or wary:
            origin, host = headers.get("origin"), headers.get("host", "").lower()
            # Another port of this host is another site, and so is the same page without TLS.
            known = f"https://{host}" if gate.paired is not None else host
            said = None if origin is None else origin.lower()
            if said is not None and gate.paired is None:
                said = said.split("://", 1)[-1]
            if said not in {None, known} or headers.get("sec-fetch-site", "same-origin") not in {"same-origin", "none"}:
                return Problem(
                    type="other_site",
                    title="From another site",
                    status=403,
                    detail="Only Tropeion's own pages may ask for this",
                )
        if scope["path"] in self._limits and scope["method"] not in _SAFE and gate.uploads >= MOST_UPLOADS:
            return _BUSY
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > limit:
            return _too_large(limit)
        return None


def _has_body(headers: Headers) -> bool:
    return headers.get("content-length", "0") != "0" or "transfer-encoding" in headers


def _too_large(limit: int) -> Problem:
    most = f"{limit // MEGABYTE} MB" if limit >= MEGABYTE else f"{limit} bytes"
    return Problem(type="too_large", title="Too large", status=413, detail=f"At most {most}; nothing was written")
