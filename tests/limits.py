"""The one limit: it ends what hangs and measures nothing. Every wait is for an event, however long that takes."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

import httpx

__all__ = ["LIMIT_S", "client_of", "http", "until"]

T = TypeVar("T")

LIMIT_S = 120


def client_of(address: str) -> httpx.Client:
    """A client of a server, at an address or at a path below it."""
    return httpx.Client(base_url=address, timeout=LIMIT_S)


# For single requests, to whatever server; no line is kept open to one that may be gone.
http = httpx.Client(timeout=LIMIT_S, limits=httpx.Limits(max_keepalive_connections=0))


def until(ask: Callable[[], T], is_so: Callable[[T], bool]) -> T:
    """What is answered as soon as it is so; the server takes things up in its own time."""
    end = time.monotonic() + LIMIT_S
    while not is_so(answer := ask()):
        assert time.monotonic() < end, answer
    return answer
