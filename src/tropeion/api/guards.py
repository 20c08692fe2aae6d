"""What every request passes: the host it names, where it comes from, how large it is, and the headers it gets back."""

from __future__ import annotations

import secrets
from collections.abc import Iterable

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import Problem, problem

__all__ = ["Guards", "content_security_policy"]

MEGABYTE = 1024 * 1024
_SAFE = {"GET", "HEAD", "OPTIONS"}


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


class _TooLargeError(Exception):
    pass


class Guards:
    """Pure ASGI middleware around the application."""

    def __init__(
        self, app: ASGIApp, *, hosts: Iterable[str], limits: dict[str, int], limit: int = 5 * MEGABYTE
    ) -> None:
        self._app, self._hosts, self._limits, self._limit = app, frozenset(hosts), limits, limit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        nonce = secrets.token_urlsafe(16)
        scope["state"] = {**scope.get("state", {}), "nonce": nonce}
        limit = self._limits.get(scope["path"], self._limit)
        started = False

        async def guarded_send(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                found = MutableHeaders(scope=message)
                found["content-security-policy"] = content_security_policy(nonce)
                found["x-content-type-options"] = "nosniff"
                found["referrer-policy"] = "no-referrer"
                found["cross-origin-opener-policy"] = "same-origin"
                found["cross-origin-resource-policy"] = "same-origin"
                found.setdefault("cache-control", "no-store")
            await send(message)

        refusal = self._refusal(scope, headers, limit)
        if refusal is not None:
            await problem(refusal)(scope, receive, guarded_send)
            return
        taken = 0

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            if message["type"] == "http.request":
                taken += len(message.get("body", b""))
                if taken > limit:
                    raise _TooLargeError
            return message

        try:
            await self._app(scope, counted, guarded_send)
        except _TooLargeError:
            if not started:
                await problem(_too_large(limit))(scope, receive, guarded_send)

    def _refusal(self, scope: Scope, headers: Headers, limit: int) -> Problem | None:
        host = headers.get("host", "").rsplit(":", 1)[0] if "]" not in headers.get("host", "")[-1:] else headers["host"]
        if host not in self._hosts:
            return Problem(
                type="other_host", title="Unknown host", status=421, detail="Tropeion answers to this machine only"
            )
        if scope["method"] not in _SAFE:
            origin = headers.get("origin")
            own = origin is None or origin.split("://", 1)[-1] == headers.get("host")
            if not own or headers.get("sec-fetch-site", "same-origin") not in {"same-origin", "none"}:
                return Problem(
                    type="other_site",
                    title="From another site",
                    status=403,
                    detail="Only Tropeion's own pages may write",
                )
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > limit:
            return _too_large(limit)
        return None


def _too_large(limit: int) -> Problem:
    return Problem(
        type="too_large", title="Too large", status=413, detail=f"At most {limit // MEGABYTE} MB; nothing was written"
    )
