"""The one limit: it ends what hangs and measures nothing. Every wait is for an event, however long that takes."""

from __future__ import annotations

import httpx

__all__ = ["LIMIT_S", "client_of", "http"]

LIMIT_S = 120


def client_of(address: str) -> httpx.Client:
    """A client of a server, at an address or at a path below it."""
    return httpx.Client(base_url=address, timeout=LIMIT_S)


# For single requests, to whatever server; no line is kept open to one that may be gone.
http = httpx.Client(timeout=LIMIT_S, limits=httpx.Limits(max_keepalive_connections=0))
