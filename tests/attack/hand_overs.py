"""Where a store hands over to SQLite and to the file system, and a process that is killed just there.

SQLite's trace tells of every statement, Python's audit events (PEP 578) of files: nothing in the product takes part.
"""

from __future__ import annotations

import os
import signal
import sqlite3
import sys
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

__all__ = ["DONE", "decisive", "killed_before"]

# The end of a deed, after which nothing is handed over any more.
DONE = "done"
_FILES = {"os.rename", "os.remove", "os.mkdir", "shutil.copyfile", "shutil.rmtree"}
# What makes something last, or takes it away.
_DECIDES = ("COMMIT", "VACUUM", "os.rename", "os.remove", "shutil.copyfile")


def killed_before(number: int | None, deed: Callable[[Path, Path], None], path: Path, spare: Path, tell: Any) -> None:
    """Do a deed, and tell of every hand-over before it happens; at the one of this number, die.

    ``tell`` is the parent's pipe. ``None`` walks to the end.
    """
    pipe: Connection = tell
    folder = str(path.parent)
    count = 0

    def hand_over(name: str) -> None:
        nonlocal count
        pipe.send(name)
        if count == number:
            os.kill(os.getpid(), signal.SIGKILL)
        count += 1

    def audited(event: str, arguments: tuple[Any, ...]) -> None:
        if event in _FILES and folder in str(arguments[0]):
            hand_over(event)

    connect = sqlite3.connect

    def traced(*arguments: Any, **options: Any) -> sqlite3.Connection:
        connection: sqlite3.Connection = connect(*arguments, **options)
        connection.set_trace_callback(lambda statement: hand_over(" ".join(statement.split()[:2])))
        return connection

    for module in (sqlite3, sqlite3.dbapi2):
        setattr(module, "connect", traced)  # noqa: B010  an overloaded function has no type that another one could have
    sys.addaudithook(audited)
    deed(path, spare)
    hand_over(DONE)


def decisive(hand_overs: list[str]) -> list[int]:
    """Before and after whatever makes something last, in the middle of each transaction, and at the end."""
    found: set[int] = {len(hand_overs) - 1}
    begun = None
    for number, name in enumerate(hand_overs):
        if name.startswith("BEGIN"):
            begun = number
        if name.startswith(_DECIDES):
            found |= {number, number + 1}
        if name.startswith("COMMIT") and begun is not None:
            found.add((begun + number) // 2)
            begun = None
    return sorted(found)
