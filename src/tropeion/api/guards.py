"""What every request passes: the host it names, where it comes from, how large it is, and the headers it gets back."""

from __future__ import annotations

import asyncio
import re
import secrets
from collections.abc import Iterable

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import Problem, problem

__all__ = ["Guards", "content_security_policy"]

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


# So many large files are taken at a time; more are turned away.
MOST_UPLOADS = 4
# The next part of a body has to come within so many seconds.
BODY_WITHIN_S = 30.0
_SLOW = Problem(type="bad_request", title="The file did not come", status=408, detail="Nothing was written; try again")
_BUSY = Problem(
    type="busy", title="Too many files at once", status=503, detail="Nothing was written; try again in a moment"
)


class _BodyError(Exception):
    """A body that is refused while it comes."""

    def __init__(self, found: Problem) -> None:
        super().__init__(found.title)
        self.problem = found


class _Body:
    """What is sent, part by part: no more than the limit, and not for ever."""

    def __init__(self, receive: Receive, limit: int) -> None:
        self._receive, self._limit = receive, limit
        self._taken, self._ended = 0, False
        self.refused: _BodyError | None = None

    async def receive(self) -> Message:
        if self._ended:
            return await self._receive()
        try:
            message = await asyncio.wait_for(self._receive(), BODY_WITHIN_S)
        except TimeoutError:
            raise self._refuse(_SLOW) from None
        if message["type"] == "http.request":
            self._taken += len(message.get("body", b""))
            self._ended = not message.get("more_body", False)
            if self._taken > self._limit:
                raise self._refuse(_too_large(self._limit))
        return message

    def _refuse(self, found: Problem) -> _BodyError:
        self.refused = _BodyError(found)
        return self.refused


class _Answer:
    """What is answered, with the headers that every answer has."""

    def __init__(self, send: Send, nonce: str, body: _Body) -> None:
        self._send, self._nonce, self._body = send, nonce, body
        self.started = False

    async def send(self, message: Message) -> None:
        if self._body.refused is not None and not self.started:
            # Whatever the application makes of half a body.
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
        self, app: ASGIApp, *, hosts: Iterable[str], limits: dict[str, int], limit: int = 5 * MEGABYTE
    ) -> None:
        self._app, self._hosts, self._limits, self._limit = app, frozenset(hosts), limits, limit
        self._uploads = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        if scope["method"] == "HEAD":
            # The answer is that to GET; the server leaves out its body.
            scope = {**scope, "method": "GET"}
        nonce = secrets.token_urlsafe(16)
        scope["state"] = {**scope.get("state", {}), "nonce": nonce}
        limit = self._limits.get(scope["path"], self._limit)
        body = _Body(receive, limit)
        answer = _Answer(send, nonce, body)
        refusal = self._refusal(scope, Headers(scope=scope), limit)
        if refusal is not None:
            await problem(refusal)(scope, receive, answer.send)
            return
        large = scope["path"] in self._limits and scope["method"] not in _SAFE
        self._uploads += large
        try:
            await self._app(scope, body.receive, answer.send)
        except _BodyError as error:
            if not answer.started:
                await problem(error.problem)(scope, receive, answer.send_anyway)
        finally:
            self._uploads -= large

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


def _too_large(limit: int) -> Problem:
    return Problem(
        type="too_large", title="Too large", status=413, detail=f"At most {limit // MEGABYTE} MB; nothing was written"
    )
