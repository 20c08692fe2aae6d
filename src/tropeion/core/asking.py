"""Long computations stop when the client that asked for them has disconnected."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


class NobodyAsksError(Exception):
    """The client has disconnected; the result is no longer needed."""


def _never() -> bool:
    return False


_has_left: ContextVar[Callable[[], bool]] = ContextVar("has_left", default=_never)


@contextmanager
def asked_by(has_left: Callable[[], bool]) -> Iterator[None]:
    """Compute inside for a client; ``has_left`` returns True once it has disconnected."""
    before = _has_left.set(has_left)
    try:
        yield
    finally:
        _has_left.reset(before)


def go_on() -> None:
    """Call it in the loops of long work. Raises NobodyAsksError once the client has disconnected."""
    if _has_left.get()():
        raise NobodyAsksError
