"""What was read from picture files, kept beside the database. All of it can be read again: it is in no backup.

A file by its number, so that no address carries a path; a folder likewise. Another edition of the index, or a damaged
one, is begun anew.
"""

from __future__ import annotations

import dataclasses
import json
import threading
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Final

from sqlalchemy import (
    Column,
    Connection,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    Table,
    Text,
    UniqueConstraint,
    create_engine,
    delete,
    event,
    insert,
    select,
)
from sqlalchemy.exc import DatabaseError
from sqlalchemy.pool import StaticPool

from tropeion.core.frozen import frozen
from tropeion.core.log.header import Header

from .folders import Found

_EDITION: Final = 1
# A folder that was dropped on the page has no place on the disk.
DROPPED: Final = ""
_METADATA = MetaData()
_FOLDERS = Table(
    "folder",
    _METADATA,
    Column("number", Integer, primary_key=True),
    Column("root", Text, nullable=False),
    Column("path", LargeBinary, nullable=False),
    Column("read_at", Text),
    UniqueConstraint("root", "path"),
)
_FILES = Table(
    "file",
    _METADATA,
    Column("number", Integer, primary_key=True),
    Column("folder", Integer, nullable=False),
    Column("path", LargeBinary, nullable=False),
    Column("size", Integer, nullable=False),
    Column("mtime_ns", Integer, nullable=False),
    Column("header", Text),
    Column("why", Text),
    UniqueConstraint("folder", "path"),
    Index("ix_file_folder", "folder"),
)

_SIDECARS = Table(
    "sidecar",
    _METADATA,
    Column("folder", Integer, primary_key=True),
    Column("path", LargeBinary, primary_key=True),
    Column("data", LargeBinary, nullable=False),
)


@frozen
class PictureFolder:
    """A folder below a root; ``read_at`` None: not read yet."""

    number: int
    root: str
    path: bytes
    read_at: str | None


@frozen
class Indexed:
    """A file as it was read: its header, or why there is none."""

    number: int
    path: bytes
    size: int
    mtime_ns: int
    header: Header | None
    why: str | None

    def is_still(self, found: Found) -> bool:
        """Whether a file is what it was."""
        return (found.size, found.mtime_ns) == (self.size, self.mtime_ns)


class PictureIndex:
    """The index, in a file of its own. Safe to use from several threads."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._turn = threading.Lock()
        try:
            self._open()
        except DatabaseError:
            self._engine.dispose()
            for beside in ("", "-wal", "-shm"):
                path.with_name(path.name + beside).unlink(missing_ok=True)
            self._open()

    def _open(self) -> None:
        self._engine = create_engine(
            f"sqlite:///{self._path}", connect_args={"check_same_thread": False, "timeout": 10}, poolclass=StaticPool
        )
        event.listen(self._engine, "connect", lambda connection, _: connection.execute("PRAGMA journal_mode = WAL"))
        with self._engine.begin() as connection:
            edition = connection.exec_driver_sql("PRAGMA user_version").scalar()
            if edition != _EDITION:
                _METADATA.drop_all(connection)
                connection.exec_driver_sql(f"PRAGMA user_version = {_EDITION}")
            _METADATA.create_all(connection)

    def close(self) -> None:
        """Release the file."""
        self._engine.dispose()

    def folder(self, number: int) -> PictureFolder | None:
        """A folder by its number."""
        with self._turn, self._engine.begin() as connection:
            row = connection.execute(select(_FOLDERS).where(_FOLDERS.c.number == number)).first()
            return None if row is None else PictureFolder(row.number, row.root, row.path, row.read_at)

    def folder_at(self, root: str, path: bytes) -> PictureFolder:
        """The folder at a place, with a number from now on."""
        with self._turn, self._engine.begin() as connection:
            return _folder_at(connection, root, path)

    def folders_read(self) -> tuple[PictureFolder, ...]:
        """The folders that were read, the latest first."""
        with self._turn, self._engine.begin() as connection:
            rows = select(_FOLDERS).where(_FOLDERS.c.read_at.is_not(None)).order_by(_FOLDERS.c.read_at.desc())
            return tuple(PictureFolder(row.number, row.root, row.path, row.read_at) for row in connection.execute(rows))

    def files(self, folder: int) -> tuple[Indexed, ...]:
        """What was read of a folder, by path."""
        with self._turn, self._engine.begin() as connection:
            rows = connection.execute(select(_FILES).where(_FILES.c.folder == folder).order_by(_FILES.c.path))
            return tuple(
                Indexed(row.number, row.path, row.size, row.mtime_ns, _header(row.header), row.why) for row in rows
            )

    def file(self, number: int) -> tuple[PictureFolder, bytes] | None:
        """A file by its number: its folder, and its path from there."""
        with self._turn, self._engine.begin() as connection:
            row = connection.execute(
                select(_FILES.c.path, _FOLDERS.c.number, _FOLDERS.c.root, _FOLDERS.c.path.label("of"))
                .join(_FOLDERS, _FOLDERS.c.number == _FILES.c.folder)
                .where(_FILES.c.number == number)
            ).first()
            return None if row is None else (PictureFolder(row.number, row.root, row.of, None), row.path)

    def keep(self, folder: int, read: Iterable[tuple[Found, Header | str]]) -> None:
        """Keep what was read of files, in place of what was kept of them."""
        rows = [
            {
                "folder": folder,
                "path": found.path,
                "size": found.size,
                "mtime_ns": found.mtime_ns,
                "header": json.dumps(dataclasses.asdict(header)) if isinstance(header, Header) else None,
                "why": None if isinstance(header, Header) else header,
            }
            for found, header in read
        ]
        with self._turn, self._engine.begin() as connection:
            known = {
                row.path: row.number
                for row in connection.execute(
                    select(_FILES.c.path, _FILES.c.number).where(
                        _FILES.c.folder == folder, _FILES.c.path.in_([row["path"] for row in rows])
                    )
                )
            }
            old = [known[row["path"]] for row in rows if row["path"] in known]
            connection.execute(delete(_FILES).where(_FILES.c.number.in_(old)))
            numbered = [{**row, "number": known.get(row["path"])} for row in rows]
            if numbered:
                connection.execute(insert(_FILES), numbered)

    def keep_sidecar(self, folder: int, path: bytes, data: bytes) -> None:
        """Keep a sidecar that was dropped beside its pictures: it is merged, not replaced."""
        with self._turn, self._engine.begin() as connection:
            own = (_SIDECARS.c.folder == folder) & (_SIDECARS.c.path == path)
            connection.execute(delete(_SIDECARS).where(own))
            connection.execute(insert(_SIDECARS).values(folder=folder, path=path, data=data))

    def sidecars(self, folder: int) -> dict[bytes, bytes]:
        """The sidecars that were dropped, by path."""
        with self._turn, self._engine.begin() as connection:
            rows = connection.execute(select(_SIDECARS).where(_SIDECARS.c.folder == folder))
            return {row.path: row.data for row in rows}

    def end(self, folder: int, read_at: str, gone: Sequence[bytes]) -> None:
        """A folder has been read: what is there no more goes."""
        with self._turn, self._engine.begin() as connection:
            for start in range(0, len(gone), 500):
                some = gone[start : start + 500]
                connection.execute(delete(_FILES).where(_FILES.c.folder == folder, _FILES.c.path.in_(some)))
            connection.execute(_FOLDERS.update().where(_FOLDERS.c.number == folder).values(read_at=read_at))


def _folder_at(connection: Connection, root: str, path: bytes) -> PictureFolder:
    at = (_FOLDERS.c.root == root) & (_FOLDERS.c.path == path)
    row = connection.execute(select(_FOLDERS).where(at)).first()
    if row is None:
        connection.execute(insert(_FOLDERS).values(root=root, path=path))
        row = connection.execute(select(_FOLDERS).where(at)).one()
    return PictureFolder(row.number, row.root, row.path, row.read_at)


def _header(document: str | None) -> Header | None:
    fields: Mapping[str, object] | None = None if document is None else json.loads(document)
    return None if fields is None else Header(**fields)  # type: ignore[arg-type]
