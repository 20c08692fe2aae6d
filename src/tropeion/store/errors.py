"""Why a database or a write is refused, in words."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final

from pydantic import ValidationError
from sqlalchemy.exc import DBAPIError

from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, User
from tropeion.core.gear.references import ReferenceProblem
from tropeion.core.records.record import Record, RecordKind


class StoreError(Exception):
    """A database that cannot be used, in one line that says what to do."""


class BusyError(StoreError):
    """Somebody else is writing, or too many wait to."""


class FullError(StoreError):
    """There is no room to write."""


class ReadOnlyError(StoreError):
    """The file or its folder cannot be written."""


class DamagedError(StoreError):
    """The file is no database any more."""


class NoBackupError(StoreError):
    """What was given as a backup is none."""


class StaleError(Exception):
    """Somebody else changed the item since: ``current`` is as it stands, None if it is gone."""

    def __init__(self, kind: Kind, id_: str, current: Entry | None, version: int) -> None:
        self.kind, self.id, self.current, self.version = kind, id_, current, version
        super().__init__(f"{kind} '{id_}' has changed since")


class RecordMovedError(Exception):
    """Somebody else changed the record since: ``current`` is as it stands, at ``version``."""

    def __init__(self, kind: RecordKind, current: Record, version: int) -> None:
        self.kind, self.current, self.version = kind, current, version
        super().__init__(f"{kind} '{current.id}' has changed since")


class UnknownRecordError(Exception):
    """No record of this id stands; ``called``: what people call one."""

    def __init__(self, called: str, id_: str) -> None:
        self.called, self.id = called, id_
        super().__init__(f"no {called} has the id '{id_}'")


class MovedError(Exception):
    """The collection is not what it was when it was read: writing all of it would undo what was done since."""


class InUseError(Exception):
    """An item that others refer to cannot go."""

    def __init__(self, kind: Kind, id_: str, users: tuple[User, ...]) -> None:
        self.kind, self.id, self.users = kind, id_, users
        super().__init__(f"{kind} '{id_}' is in use")


class InvalidError(Exception):
    """A change that would leave references to nothing."""

    def __init__(self, problems: tuple[ReferenceProblem, ...]) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))


# The disk, a quota, or the size that a file may have.
NO_ROOM: Final = frozenset({errno.ENOSPC, errno.EDQUOT, errno.EFBIG})
_FULL = "there is no room on the disk of {}: nothing was written; make room and try again"
_READ_ONLY = (
    "{} cannot be written: nothing was changed; give yourself the right to write to the file and its folder, or name "
    "another folder with --data"
)


@contextmanager
def speaking_of(path: Path) -> Iterator[None]:
    """What SQLite, the disk or a document that does not fit has to say about ``path``, as a StoreError."""
    try:
        yield
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        place = ".".join(map(str, first["loc"])) or "a document"
        raise StoreError(
            f"the database {path} holds what this version cannot read ({place}: {first['msg']}): "
            "put a backup in its place with 'tropeion restore BACKUP'"
        ) from None
    except DBAPIError as error:
        raise _worded(path, error.orig) from None
    except sqlite3.Error as error:
        raise _worded(path, error) from None
    except FileNotFoundError:
        raise StoreError(f"the database {path} is gone: put it back, or a backup of it") from None
    except OSError as error:
        raise of_the_disk(path, error) from None


def of_the_disk(path: Path, error: OSError) -> StoreError:
    """What the disk or the folder of ``path`` refuses."""
    if error.errno in NO_ROOM:
        return no_room(path)
    if error.errno in {errno.EACCES, errno.EPERM, errno.EROFS}:
        return ReadOnlyError(_READ_ONLY.format(path))
    return StoreError(f"cannot use {path}: {error.strerror}")


def _worded(path: Path, error: BaseException | None) -> StoreError:
    name = str(getattr(error, "sqlite_errorname", ""))
    if name.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
        return BusyError(f"another program is writing to {path}: nothing was written; try again in a moment")
    if is_full(error):
        return no_room(path)
    if name.startswith(("SQLITE_READONLY", "SQLITE_CANTOPEN", "SQLITE_PERM")):
        return ReadOnlyError(_READ_ONLY.format(path))
    if name.startswith(("SQLITE_CORRUPT", "SQLITE_NOTADB")):
        return damaged(path, str(error))
    return StoreError(f"cannot use the database {path}: {error}")


def is_full(error: BaseException | None) -> bool:
    """Whether what SQLite says is that there is no room."""
    return str(getattr(error, "sqlite_errorname", "")).startswith(("SQLITE_FULL", "SQLITE_IOERR"))


def no_room(path: Path) -> FullError:
    """There is no room on the disk of ``path``."""
    return FullError(_FULL.format(path))


def damaged(path: Path, said: str) -> DamagedError:
    """The way back from damage that SQLite words as ``said``."""
    spares = sorted(path.parent.glob(f"{path.stem}.before-*.sqlite"), key=lambda spare: spare.stat().st_mtime)
    known = f"the latest kept beside it is {spares[-1]}" if spares else "none is kept beside it"
    return DamagedError(
        f"the database {path} is damaged ({said.splitlines()[0]}): put a backup in its place with "
        f"'tropeion restore BACKUP'; {known}. The damaged file is kept then too"
    )
