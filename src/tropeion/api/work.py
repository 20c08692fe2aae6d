"""Work that takes longer than a request: begun, asked after, stopped; nothing else waits for it."""

from __future__ import annotations

import threading
import time
import uuid
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Generic, Literal, TypeVar

from .problems import Problem, RefusedError

T = TypeVar("T")
State = Literal["working", "done", "stopped", "failed"]
# At most this many run at a time, and this many are remembered.
MOST_AT_ONCE = 2
MOST_KEPT = 12


@dataclass(slots=True)
class Progress:
    """What is known of a piece of work while it goes on: its part, the best so far, and what nothing can be below; or
    how many of how many are done."""

    part: str = ""
    best: float | None = None
    bound: float | None = None
    done: int = 0
    total: int = 0
    stop: threading.Event = field(default_factory=threading.Event)


@dataclass(slots=True)
class Work(Generic[T]):
    """One piece of work. ``answer`` is there as far as it has come; it stands when the state is done.

    ``about`` is the question that it answers.
    """

    id: str
    progress: Progress
    begun: float = field(default_factory=time.monotonic)
    state: State = "working"
    answer: T | None = None
    error: Exception | None = None
    ended: float | None = None
    about: object = None

    @property
    def seconds(self) -> float:
        return (self.ended or time.monotonic()) - self.begun

    def seconds_since_end(self) -> float:
        """0 while it goes on."""
        return 0.0 if self.ended is None else time.monotonic() - self.ended


class Works(Generic[T]):
    """The pieces of work of a server. ``busy`` says what goes on already where one more is refused."""

    def __init__(self, busy: str = "Two plans are being made already") -> None:
        self._busy = busy
        self._lock = threading.Lock()
        self._works: OrderedDict[str, Work[T]] = OrderedDict()
        self._threads: dict[str, threading.Thread] = {}

    def begin(self, does: Callable[[Work[T]], T], about: object = None) -> Work[T]:
        """Begin something in a thread of its own. Raises RefusedError where too much goes on already."""
        with self._lock:
            going = [work for work in self._works.values() if work.state == "working"]
            if len(going) >= MOST_AT_ONCE:
                raise RefusedError(
                    Problem(type="busy", title=self._busy, status=503, detail="wait for one of them, or stop it")
                )
            work: Work[T] = Work(str(uuid.uuid4()), Progress(), about=about)
            self._works[work.id] = work
            while len(self._works) > MOST_KEPT:
                oldest = next(id_ for id_, work in self._works.items() if work.state != "working")
                del self._works[oldest]
            thread = threading.Thread(target=self._run, args=(work, does), daemon=True)
            self._threads[work.id] = thread
        thread.start()
        return work

    def _run(self, work: Work[T], does: Callable[[Work[T]], T]) -> None:
        try:
            work.answer = does(work)
            work.state = "done"
        except Exception as error:  # told to whoever asks after it
            work.error = error
            work.state = "stopped" if work.progress.stop.is_set() else "failed"
        finally:
            work.ended = time.monotonic()
            with self._lock:
                self._threads.pop(work.id, None)

    def find(self, id_: str) -> Work[T] | None:
        with self._lock:
            return self._works.get(id_)

    def close(self) -> None:
        """Stop everything, and wait for it."""
        with self._lock:
            threads = list(self._threads.values())
            for work in self._works.values():
                work.progress.stop.set()
        for thread in threads:
            thread.join(timeout=10)
