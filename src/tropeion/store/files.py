"""Database files as a whole: copied while they are in use, and looked through for damage."""

from __future__ import annotations

import os
import sqlite3
import tempfile
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

__all__ = ["StoreError", "check_soundness", "copy_database", "spare_name"]


class StoreError(Exception):
    """A database that cannot be used, in one line."""


def spare_name(path: Path, why: str) -> Path:
    """A new name beside a database, for a copy of it."""
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S-%f")
    return path.with_name(f"{path.stem}.{why}-{stamp}.sqlite")


def copy_database(path: Path, target: Path) -> None:
    """Write the database at ``path`` into the new file ``target``, whole or not at all; others may be using it.

    Raises StoreError if it cannot be read, or ``target`` not be written or is there already.
    """
    if target.exists():
        raise StoreError(f"{target} is there already: name a new file")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=target.parent) as folder:
            part = Path(folder) / "part.sqlite"
            with closing(sqlite3.connect(path, timeout=10)) as source:
                source.execute("VACUUM INTO ?", (str(part),))
            os.replace(part, target)
    except (OSError, sqlite3.Error) as error:
        raise StoreError(f"cannot back up {path}: {error}") from None


def check_soundness(path: Path) -> None:
    """Raises StoreError, with the way back, if the file is damaged or no database."""
    try:
        with closing(sqlite3.connect(path, timeout=10)) as connection:
            (said,) = connection.execute("PRAGMA quick_check(1)").fetchone()
    except sqlite3.DatabaseError as error:
        said = str(error)
    if said == "ok":
        return
    spares = sorted(path.parent.glob(f"{path.stem}.before-*.sqlite"), key=lambda spare: spare.stat().st_mtime)
    known = f"the latest kept beside it is {spares[-1]}" if spares else "none is kept beside it"
    raise StoreError(
        f"the database {path} is damaged ({said.splitlines()[0]}): put a backup in its place with "
        f"'tropeion restore BACKUP'; {known}. The damaged file is kept then too"
    )
