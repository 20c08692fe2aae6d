"""Database files as a whole: copied while they are in use, and looked through for damage."""

from __future__ import annotations

import fcntl
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

from .errors import ReadOnlyError, StoreError, damaged, of_the_disk, speaking_of


def spare_name(path: Path, why: str) -> Path:
    """A new name beside a database, for a copy of it."""
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S-%f")
    return path.with_name(f"{path.stem}.{why}-{stamp}.sqlite")


_WORKSPACE = "tropeion-at-work-"


@contextmanager
def workspace(folder: Path) -> Iterator[Path]:
    """A folder within ``folder`` for what is half done; locked while it is in use, gone afterwards.

    Raises StoreError where it cannot be made. What a killed program left in ``folder`` goes too.
    """
    clear_workspaces(folder)
    try:
        place = Path(tempfile.mkdtemp(prefix=f"{_WORKSPACE}{os.getpid()}-", dir=folder))
    except OSError as error:
        raise of_the_disk(folder, error) from None
    try:
        try:
            lock = os.open(place / "locking", os.O_WRONLY | os.O_CREAT, 0o600)
        except OSError as error:
            raise of_the_disk(folder, error) from None
        try:
            # Whoever clears up sees the lock only once it is held.
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            (place / "locking").rename(place / "lock")
            yield place
        finally:
            os.close(lock)
    finally:
        shutil.rmtree(place, ignore_errors=True)


def clear_workspaces(folder: Path) -> None:
    """Remove what was half done when its program was killed; what another program works on stays."""
    for place in folder.glob(f"{_WORKSPACE}*"):
        try:
            with (place / "lock").open("r+") as lock:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                shutil.rmtree(place, ignore_errors=True)
        except FileNotFoundError:
            # Being created, or its creator was killed.
            if not _is_running(place.name.removeprefix(_WORKSPACE).partition("-")[0]):
                shutil.rmtree(place, ignore_errors=True)
        except OSError:
            continue


def _is_running(number: str) -> bool:
    """Whether there is a process of this number."""
    try:
        os.kill(int(number), 0)
    except PermissionError:
        return True
    except (ValueError, OverflowError, OSError):
        return False
    return True


def copy_database(path: Path, target: Path) -> None:
    """Write the database at ``path`` into the new file ``target``, whole or not at all; others may be using it.

    Raises StoreError if it cannot be read, or ``target`` not be written or is there already.
    """
    if target.exists():
        raise StoreError(f"{target} is there already: name a new file")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with workspace(target.parent) as folder, speaking_of(path):
            part = folder / "part.sqlite"
            with closing(sqlite3.connect(path, timeout=10)) as source:
                source.execute("VACUUM INTO ?", (str(part),))
            with part.open("rb") as written:
                os.fsync(written.fileno())
            os.replace(part, target)
    except OSError as error:
        raise of_the_disk(target, error) from None


def check_soundness(path: Path) -> None:
    """Raises DamagedError, with the way back, if the file is damaged or no database."""
    try:
        with speaking_of(path), closing(sqlite3.connect(path, timeout=10)) as connection:
            said = _said_of(connection)
    except ReadOnlyError:
        # A log that cannot be made is no damage: looked at as it lies there.
        with speaking_of(path), closing(sqlite3.connect(f"{path.absolute().as_uri()}?immutable=1", uri=True)) as lying:
            said = _said_of(lying)
    if said == "ok":
        return
    raise damaged(path, said)


def _said_of(connection: sqlite3.Connection) -> str:
    """``ok``, or what is damaged."""
    try:
        (said,) = connection.execute("PRAGMA quick_check(1)").fetchone()
    except sqlite3.DatabaseError as error:
        if str(error.sqlite_errorname).startswith(("SQLITE_NOTADB", "SQLITE_CORRUPT")):
            return str(error)
        raise
    return str(said)
