"""Whoever asks may leave before there is an answer: long work looks now and then, and stops."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


class NobodyAsksError(Exception):
    """Who asked has left; what was being computed is of use to nobody."""


def _never() -> bool:
    return False


_has_left: ContextVar[Callable[[], bool]] = ContextVar("has_left", default=_never)


@contextmanager
def asked_by(has_left: Callable[[], bool]) -> Iterator[None]:
    """What is computed inside is for somebody of whom ``has_left`` tells whether they wait no longer."""
    before = _has_left.set(has_left)
    try:
        yield
    finally:
        _has_left.reset(before)


def go_on() -> None:
    """Called in the loops of long work. Raises NobodyAsksError where who asked has left."""
    if _has_left.get()():
        raise NobodyAsksError
