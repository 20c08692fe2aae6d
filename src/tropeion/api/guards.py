"""What every request passes: the host it names, where it comes from, how large it is, and the headers it gets back."""

from __future__ import annotations

import asyncio
import re
import secrets
import threading
from collections import deque
from collections.abc import Callable, Iterable

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from tropeion.core.asking import asked_by

from .problems import Problem, problem

MEGABYTE = 1024 * 1024
_SAFE = {"GET", "HEAD", "OPTIONS"}
# Reading these copies the collection or asks a device: another site has no business there.
_AT_WORK = {"/api/v1/backup", "/api/v1/camera"}
_HOST = re.compile(r"(?P<name>\[[0-9A-Fa-f:.]+\]|[^:\[\]@/]+)(?::[0-9]{1,5})?")


def content_security_policy(nonce: str) -> str:
    """Only our own files; styles that the components write at run time carry the nonce of the page."""
    return "; ".join(
        (
            "default-src 'none'",
            "script-src 'self'",
            f"style-src 'self' 'nonce-{nonce}'",
            "img-src 'self' data:",
            "font-src 'self'",
            "connect-src 'self'",
            "manifest-src 'self'",
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


class _BodyError(Exception):
    """A body that is refused while it comes."""

    def __init__(self, found: Problem) -> None:
        super().__init__(found.title)
        self.problem = found


class _RequestBody:
    """What is sent, part by part: no more than the limit, and not for ever. ``whole``: all of it is here."""

    def __init__(self, receive: Receive, limit: int, at_end: Callable[[], None]) -> None:
        self._receive, self._limit, self._at_end = receive, limit, at_end
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
        try:
            message = await asyncio.wait_for(self._receive(), self._taken_late / AFTERWARDS_BYTES_S + 1.0 - late_s)
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


class _Reply:
    """What is answered, with the headers that every answer has."""

    def __init__(self, send: Send, nonce: str, body: _RequestBody) -> None:
        self._send, self._nonce, self._body = send, nonce, body
        self.started = False

    async def send(self, message: Message) -> None:
        if self._body.refused is not None and not self.started:
            # Whatever the application answered to half a body.
            raise self._body.refused
        await self.send_anyway(message)

    async def send_anyway(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.started = True
            found = MutableHeaders(scope=message)
            found["content-security-policy"] = content_security_policy(self._nonce)
            found["x-content-type-options"] = "nosniff"
            found["referrer-policy"] = "no-referrer"
            found["cross-origin-opener-policy"] = "same-origin"
            found["cross-origin-resource-policy"] = "same-origin"
            found.setdefault("cache-control", "no-store")
        await self._send(message)


class Guards:
    """Pure ASGI middleware around the application."""

    def __init__(
        self,
        app: ASGIApp,
        *,
        hosts: Iterable[str],
        limits: dict[str, int],
        most_on_their_way: int,
        limit: int = 5 * MEGABYTE,
    ) -> None:
        """``most_on_their_way`` is the most request bodies that are waited for at a time."""
        self._app, self._hosts, self._limits, self._limit = app, frozenset(hosts), limits, limit
        self._most = {False: most_on_their_way, True: MOST_UPLOADS // 2}
        # Incomplete bodies: all, and those of large files.
        self._coming = {False: 0, True: 0}
        self._uploads = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        nonce = secrets.token_urlsafe(16)
        left = threading.Event()
        # The connection reports its own loss.
        scope["state"] = {**scope.get("state", {}), "nonce": nonce, "left": left}
        if scope["method"] == "HEAD":
            # The answer is that to GET; the server leaves out its body.
            scope = {**scope, "method": "GET"}
        limit = self._limits.get(scope["path"], self._limit)
        headers = Headers(scope=scope)
        large = scope["path"] in self._limits and scope["method"] not in _SAFE
        kinds = (False, True) if large else (False,)
        held = False

        def let_go() -> None:
            nonlocal held
            for kind in kinds if held else ():
                self._coming[kind] -= 1
            held = False

        body = _RequestBody(receive, limit, let_go)
        answer = _Reply(send, nonce, body)
        refusal = self._refusal(scope, headers, limit)
        if refusal is None and _has_body(headers):
            if all(self._coming[kind] < self._most[kind] for kind in kinds):
                held = True
                for kind in kinds:
                    self._coming[kind] += 1
            elif not await body.is_here():
                refusal = _BUSY if large else _BODIES
        if refusal is not None:
            await problem(refusal)(scope, receive, answer.send_anyway)
            return
        self._uploads += large
        try:
            with asked_by(left.is_set):
                await self._app(scope, body.receive, answer.send)
        except _BodyError as error:
            if not answer.started:
                await problem(error.problem)(scope, receive, answer.send_anyway)
        finally:
            self._uploads -= large
            let_go()

    def _refusal(self, scope: Scope, headers: Headers, limit: int) -> Problem | None:
        # A name, or an address in brackets, and after a colon a port: digits, or it is another name.
        named = _HOST.fullmatch(headers.get("host", ""))
        if named is None or named["name"].lower() not in self._hosts:
            return Problem(
                type="other_host", title="Unknown host", status=421, detail="Tropeion answers to this machine only"
            )
        if scope["method"] not in _SAFE or scope["path"] in _AT_WORK:
            origin = headers.get("origin")
            own = origin is None or origin.split("://", 1)[-1].lower() == headers.get("host", "").lower()
            if not own or headers.get("sec-fetch-site", "same-origin") not in {"same-origin", "none"}:
                return Problem(
                    type="other_site",
                    title="From another site",
                    status=403,
                    detail="Only Tropeion's own pages may ask for this",
                )
        if scope["path"] in self._limits and scope["method"] not in _SAFE and self._uploads >= MOST_UPLOADS:
            return _BUSY
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > limit:
            return _too_large(limit)
        return None


def _has_body(headers: Headers) -> bool:
    return headers.get("content-length", "0") != "0" or "transfer-encoding" in headers


def _too_large(limit: int) -> Problem:
    return Problem(
        type="too_large", title="Too large", status=413, detail=f"At most {limit // MEGABYTE} MB; nothing was written"
    )
