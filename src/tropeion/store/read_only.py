"""A collection that is only read: nothing is made, migrated or locked."""

from __future__ import annotations

from pathlib import Path

from tropeion.core.gear.gear import Gear

from .collection import Collection
from .engine import HEAD, reading_engine
from .errors import speaking_of
from .meta import schema_of
from .rows import read_gear


def read_only_gear(path: Path) -> Gear:
    """All items of the collection at ``path``; empty where there is none yet. Raises StoreError.

    An older database is brought up to date first, which wants to write.
    """
    if not path.is_file():
        return Gear(format="tropeion-gear", version=1)
    with speaking_of(path):
        engine = reading_engine(path)
        try:
            with engine.connect() as connection:
                if schema_of(connection) == HEAD:
                    return read_gear(connection)
        finally:
            engine.dispose()
    collection = Collection(path)
    try:
        return collection.gear()
    finally:
        collection.close()
