"""A backup looked through whole, before anything of it takes the place of anything."""

from __future__ import annotations

import re
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from functools import cache
from pathlib import Path

from pydantic import BaseModel, ConfigDict, ValidationError
from sqlalchemy import Connection, create_engine, select

from tropeion.core.frozen import frozen
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, items
from tropeion.core.gear.references import check_references
from tropeion.core.practice import Practice
from tropeion.core.subjects import Subject

from . import records
from .acting import SETTINGS
from .engine import APPLICATION_ID, alembic_config, bring_up_to_date, known_versions, open_engine, version_in
from .errors import NO_ROOM, NoBackupError, StoreError, is_full, no_room, speaking_of
from .files import workspace
from .folding import KEEPS
from .journal import Action, turnable
from .rows import columns_of
from .tables import RECORDED, RECORDS, TABLES, JournalRow, MetaRow
from .whole import Whole, read_whole

_MAGIC = b"SQLite format 3\x00"
# The first schema whose files say whose they are.
_SIGNED_SINCE = "0004"


@frozen
class BackupContents:
    """What is in a backup. ``file`` is a copy of it in the schema of this program, while it is looked at."""

    whole: Whole
    last: Action | None
    file: Path


class _Settings(BaseModel):
    """What the journal tells of settings."""

    model_config = ConfigDict(extra="forbid")

    currency: str | None = None
    practice: Practice | None = None
    subjects: list[Subject] | None = None
    order: dict[Kind, list[str]] = {}


class _UnfitError(Exception):
    """Why it is no backup."""


@contextmanager
def looked_through(source: Path, folder: Path, name: str | None = None) -> Iterator[BackupContents]:
    """Copy a backup into ``folder``, bring the copy up to date and check all of it; the copy is gone afterwards.

    With it comes a log that stands beside it (``-wal``). Raises StoreError, which speaks of ``name``.
    """
    name = source.name if name is None else name
    with workspace(folder) as place:
        yield _copied(source, place, name)


def _copied(source: Path, place: Path, name: str) -> BackupContents:
    copy = place / "copy.sqlite"
    try:
        shutil.copyfile(source, copy)
        log = source.with_name(f"{source.name}-wal")
        if log.is_file():
            shutil.copyfile(log, place / f"{copy.name}-wal")
        _check_file(copy)
        with speaking_of(place.parent):
            return BackupContents(*_read(copy), copy)
    except (_UnfitError, sqlite3.Error) as error:
        if is_full(error):
            raise no_room(place.parent) from None
        raise NoBackupError(f"{name} is no backup of a collection: {error}") from None
    except OSError as error:
        if error.errno in NO_ROOM:
            raise no_room(place.parent) from None
        raise StoreError(f"cannot read {name}: {error.strerror}") from None


def _check_file(copy: Path) -> None:
    """Whose it is, that nothing is in it that we did not put there, and that it is sound."""
    size = copy.stat().st_size
    with copy.open("rb") as file:
        if file.read(len(_MAGIC)) != _MAGIC:
            raise _UnfitError("it is empty" if size == 0 else "it is no database")
    with closing(sqlite3.connect(copy)) as connection:
        for pragma in ("trusted_schema = OFF", "cell_size_check = ON"):
            connection.execute(f"PRAGMA {pragma}")
        _check_schema(connection)
        (said,) = connection.execute("PRAGMA integrity_check(1)").fetchone()
        if said != "ok":
            raise _UnfitError(f"it is damaged ({said.splitlines()[0]})")
        lost = connection.execute("PRAGMA foreign_key_check").fetchone()
        if lost is not None:
            raise _UnfitError(f"a row of '{lost[0]}' refers to nothing in '{lost[2]}'")


def _check_schema(connection: sqlite3.Connection) -> None:
    (owner,) = connection.execute("PRAGMA application_id").fetchone()
    have = _schema(connection)
    if ("table", "alembic_version") not in have:
        raise _UnfitError("it belongs to another program" if have or owner else "it is an empty database")
    versions = connection.execute("SELECT version_num FROM alembic_version").fetchall()
    if len(versions) != 1:
        raise _UnfitError("it does not say which version it is of")
    version = str(version_in(connection))
    if version not in known_versions():
        raise _UnfitError("it is of a newer version of Tropeion: update the program")
    if owner != APPLICATION_ID and not (owner == 0 and version < _SIGNED_SINCE):
        raise _UnfitError("it belongs to another program")
    wanted = _expected(version)
    for kind, what in wanted:
        if (kind, what) not in have:
            raise _UnfitError(f"the {kind} '{what}' is missing")
        if have[kind, what] != wanted[kind, what]:
            raise _UnfitError(f"the {kind} '{what}' is not what version {version} has")
    for kind, what in have:
        if (kind, what) not in wanted:
            raise _UnfitError(f"it holds a {kind} '{what}', which is not ours")


def _schema(connection: sqlite3.Connection) -> dict[tuple[str, str], str]:
    rows = connection.execute("SELECT type, name, tbl_name, sql FROM sqlite_master").fetchall()
    return {(str(kind).lower(), str(name)): " ".join(f"{of} {sql or ''}".split()) for kind, name, of, sql in rows}


@cache
def _expected(version: str) -> dict[tuple[str, str], str]:
    """Every table, index, trigger and view that a version makes."""
    from alembic import command  # noqa: PLC0415

    engine = create_engine("sqlite://")
    with engine.begin() as connection:
        command.upgrade(alembic_config(connection), version)
        driver = connection.connection.driver_connection
        assert isinstance(driver, sqlite3.Connection)
        names = _schema(driver)
    engine.dispose()
    return names


def _read(copy: Path) -> tuple[Whole, Action | None]:
    """All that is in it, every document read."""
    engine = open_engine(copy)
    try:
        bring_up_to_date(copy, engine)
        with engine.begin() as connection:
            whole = read_whole(connection)
            for reason in _misfits(connection, whole):
                raise _UnfitError(reason)
            last, _ = turnable(connection)
        with engine.connect() as connection:
            connection.connection.cursor().execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        raise _UnfitError(f"it holds what cannot be read: {'.'.join(map(str, first['loc']))}: {first['msg']}") from None
    except (KeyError, ValueError, TypeError) as error:
        raise _UnfitError(f"it holds what cannot be read: {error}") from None
    finally:
        engine.dispose()
    return whole, last


def _misfits(connection: Connection, whole: Whole) -> Iterator[str]:
    """What the application itself would not have written."""
    problems = check_references(whole.gear)
    if problems:
        yield str(problems[0])
    yield from _item_misfits(connection, whole)
    yield from _record_misfits(connection, whole)
    for key, value in connection.execute(select(MetaRow.key, MetaRow.value)):
        if key not in {"collection", "currency", "revision", "practice", "subjects", "history"}:
            yield f"it keeps a setting '{key}', which is not ours"
        if key == "history" and value not in KEEPS:
            yield f"it keeps its history '{value}': {', '.join(KEEPS)} are known"
        if key == "revision" and not re.fullmatch(r"\d{1,15}", value):
            yield "its revision is no number"
    yield from _journal_misfits(connection)


def _item_misfits(connection: Connection, whole: Whole) -> Iterator[str]:
    for kind in KINDS:
        table = TABLES[kind]
        rows = {row.id: row for row in connection.execute(select(*table.__table__.columns))}
        for item in items(whole.gear, kind):
            row, own = rows.get(item.id), {"name": item.name, **columns_of(item, table)}
            if row is None or any(getattr(row, column) != value for column, value in own.items()):
                yield f"the row of {kind} '{item.id}' and its document disagree"


def _record_misfits(connection: Connection, whole: Whole) -> Iterator[str]:
    for kind, kept in whole.records.items():
        table = RECORDS[kind]
        names = {column.name for column in table.__table__.columns} - RECORDED | {"id", "at", "struck"}
        for row in connection.execute(select(*table.__table__.columns)):
            if any(getattr(row, name) != getattr(kept[row.id], name) for name in names):
                yield f"the row of {kind} '{row.id}' and its document disagree"


def _journal_misfits(connection: Connection) -> Iterator[str]:
    models: dict[str, type[BaseModel]] = dict([*MODELS.items(), *records.MODELS.items()])
    for row in connection.execute(select(JournalRow.kind, JournalRow.before, JournalRow.after)):
        if row.kind == SETTINGS:
            for document in (row.before, row.after):
                _Settings.model_validate_json(document)
            continue
        if row.kind not in models:
            yield f"its history tells of '{row.kind}', which is not ours"
            continue
        for document in (row.before, row.after):
            if document is not None:
                models[row.kind].model_validate_json(document)
