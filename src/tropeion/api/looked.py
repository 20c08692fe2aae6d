"""What was looked at and may be taken: kept under a token, the last few."""

from __future__ import annotations

import secrets
import threading
from collections import OrderedDict
from typing import Final, Generic, TypeVar

from .problems import Problem, RefusedError

T = TypeVar("T")
# For windows that look at several.
MOST: Final = 3


class LookedAt(Generic[T]):
    """The last few things that were looked at, by token."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, T] = OrderedDict()
        self._lock = threading.Lock()

    def keep(self, looked: T) -> str:
        token = secrets.token_urlsafe(12)
        with self._lock:
            self._kept[token] = looked
            while len(self._kept) > MOST:
                self._kept.popitem(last=False)
        return token

    def find(self, token: str) -> T:
        """Raises RefusedError for what is not kept any more."""
        with self._lock:
            found = self._kept.get(token)
        if found is None:
            detail = "This file is not kept any more: choose it again"
            raise RefusedError(Problem(type="not_kept", title="Not looked at", status=404, detail=detail))
        return found

    def drop(self, token: str) -> None:
        with self._lock:
            self._kept.pop(token, None)
