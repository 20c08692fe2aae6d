"""Everything in one file, while the application runs; and back again."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from .collection import Collection
from .errors import DamagedError, NoBackupError, StoreError, speaking_of
from .files import check_soundness, copy_database, spare_name
from .inspection import BackupContents, looked_through


def backup(path: Path, target: Path) -> None:
    """Write the database at ``path`` into the new file ``target``, whole or not at all.

    Raises StoreError if there is no such database or the target is there already.
    """
    if not path.is_file():
        raise StoreError(f"there is no collection at {path}")
    copy_database(path, target)


@contextmanager
def look(path: Path, source: Path, name: str | None = None) -> Iterator[BackupContents]:
    """What is in the backup ``source``, for the collection at ``path``. Raises StoreError where it is none."""
    if not source.is_file():
        raise NoBackupError(f"there is no backup at {source}")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StoreError(f"cannot create the folder {path.parent}: {error.strerror}") from None
    with looked_through(source, path.parent, name) as contents:
        yield contents


def restore(path: Path, source: Path) -> Path | None:
    """Make the collection at ``path`` what the backup ``source`` holds.

    Into a sound collection it goes as one action, which undo takes back, and which a running application sees whole or
    not at all. Where there is none, or a damaged one, the backup takes its place as a file, with its own history;
    returns where the damaged one is kept. Raises StoreError if the backup cannot be used.
    """
    with look(path, source) as contents:
        if path.is_file() and _is_sound(path):
            with closing(Collection(path)) as collection:
                collection.restore(contents.whole, f"{source.name} restored")
            return None
        with speaking_of(path):
            return _put_in_place(path, contents.file)


def _is_sound(path: Path) -> bool:
    try:
        check_soundness(path)
    except DamagedError:
        return False
    return path.stat().st_size > 0


def _put_in_place(path: Path, file: Path) -> Path | None:
    """At any moment either the old file stands at ``path`` or the new one."""
    kept = None
    log = path.with_name(f"{path.name}-wal")
    if path.is_file():
        kept = spare_name(path, "damaged")
        shutil.copyfile(path, kept)
        if log.is_file():
            log.rename(kept.with_name(f"{kept.name}-wal"))
    log.unlink(missing_ok=True)
    path.with_name(f"{path.name}-shm").unlink(missing_ok=True)
    with file.open("rb") as written:
        os.fsync(written.fileno())
    os.replace(file, path)
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
    return kept
