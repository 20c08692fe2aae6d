"""A collection that is only read: nothing is made, migrated or locked."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Final, TypeVar

from sqlalchemy import Connection

from tropeion.core.gear.gear import Gear
from tropeion.core.log.log_file import LogFile

from .collection import Collection
from .engine import HEAD, reading_engine
from .errors import speaking_of
from .meta import schema_of
from .records import read_log
from .rows import read_gear
from .whole import Whole, read_whole

T = TypeVar("T")
_NOTHING: Final = Gear(format="tropeion-gear", version=1)


def read_only_gear(path: Path) -> Gear:
    """All items of the collection at ``path``; empty where there is none yet. Raises StoreError.

    An older database is brought up to date first, which wants to write.
    """
    return _read(path, read_gear, _NOTHING)


def read_only_log(path: Path) -> tuple[LogFile, Gear]:
    """The whole log of a collection, and the gear that it names. Raises StoreError."""
    return _read(path, lambda connection: (read_log(connection), read_gear(connection)), (LogFile(), _NOTHING))


def read_only_whole(path: Path) -> Whole:
    """Everything in a collection; nothing where there is none yet. Raises StoreError."""
    return _read(path, read_whole, Whole(_NOTHING))


def _read(path: Path, reads: Callable[[Connection], T], nothing: T) -> T:
    if not path.is_file():
        return nothing
    with speaking_of(path):
        engine = reading_engine(path)
        try:
            with engine.connect() as connection:
                if schema_of(connection) == HEAD:
                    return reads(connection)
        finally:
            engine.dispose()
        Collection(path).close()
        engine = reading_engine(path)
        try:
            with engine.connect() as connection:
                return reads(connection)
        finally:
            engine.dispose()
