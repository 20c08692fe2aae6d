"""Everything in one file, while the application runs; and back again."""

from __future__ import annotations

import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from .collection import Collection
from .files import StoreError, check_soundness, copy_database, spare_name

__all__ = ["backup", "restore"]


def backup(path: Path, target: Path) -> None:
    """Write the database at ``path`` into the new file ``target``, whole or not at all.

    Raises StoreError if there is no such database or the target is there already.
    """
    if not path.is_file():
        raise StoreError(f"there is no collection at {path}")
    copy_database(path, target)


def restore(path: Path, source: Path) -> Path | None:
    """Put the backup ``source`` in the place of the database at ``path``; returns where the one before is kept.

    The backup is looked through first; the change is one transaction, so that a running application sees the
    collection before or after, never between. Raises StoreError if the backup cannot be used.
    """
    if not source.is_file():
        raise StoreError(f"there is no backup at {source}")
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy.sqlite"
        copy.write_bytes(source.read_bytes())
        _look_through(copy, source)
        kept = None
        if path.is_file():
            kept = _set_aside(path)
        # Opening it makes the folder and an empty database where there is none.
        with closing(Collection(path)) as collection:
            revision = collection.revision
        try:
            with closing(sqlite3.connect(copy)) as found, closing(sqlite3.connect(path, timeout=10)) as place:
                _count_on(found, revision)
                found.backup(place)
        except sqlite3.Error as error:
            raise StoreError(f"cannot restore into {path}: {error}") from None
    return kept


def _set_aside(path: Path) -> Path:
    """Keep what is there; a damaged file, which cannot be copied, is moved out of the way."""
    try:
        check_soundness(path)
    except StoreError:
        kept = spare_name(path, "damaged")
        path.rename(kept)
        for rest in ("-wal", "-shm"):
            path.with_name(path.name + rest).unlink(missing_ok=True)
        return kept
    kept = spare_name(path, "before-restore")
    copy_database(path, kept)
    return kept


def _look_through(copy: Path, source: Path) -> None:
    try:
        with closing(sqlite3.connect(copy)) as connection:
            connection.execute("PRAGMA trusted_schema = OFF")
            (said,) = connection.execute("PRAGMA integrity_check").fetchone()
            (alive,) = connection.execute(
                "SELECT count(*) FROM sqlite_master WHERE type IN ('trigger', 'view')"
            ).fetchone()
        if said != "ok":
            raise StoreError(f"the backup {source.name} is damaged: {said}")
        if alive:
            raise StoreError(f"{source.name} is no backup of a collection: it holds triggers or views")
        # Migrates the copy and reads all of it, so that nothing unreadable takes the collection's place.
        with closing(Collection(copy)) as collection:
            collection.world()
    except sqlite3.Error as error:
        raise StoreError(f"{source.name} is no backup of a collection: {error}") from None


def _count_on(connection: sqlite3.Connection, revision: int) -> None:
    """A running application reads the collection anew where its revision has moved."""
    (have,) = connection.execute("SELECT max(CAST(value AS INTEGER)) FROM meta WHERE key = 'revision'").fetchone()
    value = str(max(have or 0, revision) + 1)
    changed = connection.execute("UPDATE meta SET value = ? WHERE key = 'revision'", (value,)).rowcount
    if not changed:
        connection.execute("INSERT INTO meta (key, value) VALUES ('revision', ?)", (value,))
    connection.commit()
