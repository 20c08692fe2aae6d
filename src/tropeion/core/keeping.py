"""Results that are computed once for an immutable object and kept with it.

A function is declared with :func:`kept`; its first argument owns the answers, the others are their key. Each answer is
computed by one thread, the others wait for it; a key is held by its value, never by an address that may be used again.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Any, Concatenate, Generic, ParamSpec, Protocol, TypeVar, cast

P = ParamSpec("P")
R = TypeVar("R")
O_contra = TypeVar("O_contra", bound="Keeping", contravariant=True)


class _Answer(Generic[R]):
    """One result, or the slot that it will fill."""

    __slots__ = ("_lock", "settled", "settled_value")

    settled_value: R

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self.settled = False

    def value(self, make: Callable[[], R]) -> R:
        """The answer, computed if nobody has done so; an error is not kept."""
        if not self.settled:
            with self._lock:
                if not self.settled:
                    self.settled_value = make()
                    self.settled = True
        return self.settled_value


class Keeper:
    """The answers that are kept with one thing: for each function the latest of them, up to its bound."""

    __slots__ = ("_answers", "_lock")

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._answers: dict[object, dict[Hashable, _Answer[Any]]] = {}

    def known(self, function: object, key: Hashable) -> _Answer[Any] | None:
        """The place of one answer, if there is one."""
        return self._answers.get(function, _NONE).get(key)

    def answer(self, function: object, key: Hashable, most: int) -> _Answer[Any]:
        """The place of one answer; the oldest makes room for a new one where there are ``most``."""
        answer = self.known(function, key)
        if answer is None:
            with self._lock:
                own = self._answers.setdefault(function, {})
                answer = own.get(key)
                if answer is None:
                    while len(own) >= most:
                        del own[next(iter(own))]
                    answer = own[key] = _Answer()
        return answer

    def __len__(self) -> int:
        """How many answers are kept."""
        with self._lock:
            return sum(len(own) for own in self._answers.values())


_NONE: dict[Hashable, _Answer[Any]] = {}


class Keeping(Protocol):
    """Something immutable that keeps answers."""

    @property
    def keeper(self) -> Keeper: ...


def kept(most: int = 1024) -> Callable[[Callable[Concatenate[O_contra, P], R]], Callable[Concatenate[O_contra, P], R]]:
    """Keep up to ``most`` answers of a function with its first argument; the others are hashable and positional."""

    def declare(function: Callable[Concatenate[O_contra, P], R]) -> Callable[Concatenate[O_contra, P], R]:
        @wraps(function)
        def asked(owner: O_contra, *args: P.args, **kwargs: P.kwargs) -> R:
            if kwargs:
                raise TypeError(f"{function.__name__} is kept by its positional arguments")
            keeper = owner.keeper
            answer = keeper.known(function, args)
            if answer is None:
                answer = keeper.answer(function, args, most)
            elif answer.settled:
                return cast(R, answer.settled_value)
            return cast(R, answer.value(lambda: function(owner, *args, **kwargs)))

        return cast(Callable[Concatenate[O_contra, P], R], asked)

    return declare
