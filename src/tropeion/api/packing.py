"""Answers packed on their way through the network. To the machine itself they go as they are: packing takes longer."""

from __future__ import annotations

from starlette.middleware.gzip import DEFAULT_EXCLUDED_CONTENT_TYPES, GZipMiddleware
from starlette.types import ASGIApp, Receive, Scope, Send

# Databases, and progress that is told line by line.
_AS_THEY_ARE = ("application/vnd.sqlite3", "application/octet-stream", "application/x-ndjson")


class PackedForTheNetwork(GZipMiddleware):
    """Pure ASGI middleware behind the guards, who know where a request came in."""

    def __init__(self, app: ASGIApp) -> None:
        kinds = (*DEFAULT_EXCLUDED_CONTENT_TYPES, *_AS_THEY_ARE)
        super().__init__(app, minimum_size=1000, compresslevel=5, exclude_content_types=kinds)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["state"]["visit"] is None:
            await self.app(scope, receive, send)
        else:
            await super().__call__(scope, receive, send)
