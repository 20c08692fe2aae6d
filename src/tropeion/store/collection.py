"""A collection in one SQLite file.

Writes are one transaction an action, in WAL mode with full synchronisation: after a kill the file holds the state
before or after an action, never between. The compiled world is swapped whole when the revision in the file moves.
"""

from __future__ import annotations

import json
import sqlite3
import threading
import uuid
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, delete, event, insert, select, text, update
from sqlalchemy.exc import DatabaseError
from sqlalchemy.pool import StaticPool

from tropeion.core.gear import Gear
from tropeion.core.practice import Practice
from tropeion.core.world import World, compile_world

from .tables import TABLES, JournalRow, MetaRow

__all__ = ["Collection", "StoreError"]

_MIGRATIONS = Path(__file__).parent / "migrations"
_ORDER = ("protocols", "mounts", "bodies", "lenses", "adapters", "rigs")


class StoreError(Exception):
    """A database that cannot be used, in one line."""


class Collection:
    """An open collection. Safe to use from several threads; writes queue up."""

    def __init__(self, path: Path) -> None:
        """Open or create the database at ``path`` and bring its schema up to date.

        Raises StoreError if the folder cannot be written, the file is damaged or from a newer version.
        """
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(f"cannot create the folder {path.parent}: {error.strerror}") from None
        self._writer = _engine(path)
        self._reader = _engine(path, readonly=True)
        self._write_lock = threading.Lock()
        self._world_lock = threading.Lock()
        self._world: World | None = None
        self._world_revision = -1
        try:
            with self._writer.begin() as connection:
                _migrate(connection, path)
        except DatabaseError as error:
            self.close()
            raise StoreError(f"cannot use the database {path}: {error.orig}") from None
        except StoreError:
            self.close()
            raise

    def close(self) -> None:
        """Release the file."""
        self._reader.dispose()
        self._writer.dispose()

    @property
    def revision(self) -> int:
        """Counts the actions that changed the collection."""
        with self._reader.connect() as connection:
            return int(_meta(connection, "revision") or 0)

    def world(self) -> World:
        """The compiled collection as it is now."""
        with self._world_lock:
            revision = self.revision
            if self._world is None or revision != self._world_revision:
                self._world, self._world_revision = compile_world(self.gear()), revision
            return self._world

    def gear(self) -> Gear:
        """The whole collection."""
        with self._reader.connect() as connection:
            parts = [
                f'"{kind}": [{",".join(connection.scalars(select(row.document).order_by(row.position)))}]'
                for kind, row in TABLES.items()
            ]
            currency = _meta(connection, "currency") or "EUR"
        head = f'"format": "tropeion-gear", "version": 1, "currency": {json.dumps(currency)}'
        return Gear.model_validate_json("{" + ", ".join([head, *parts]) + "}")

    def replace(self, gear: Gear) -> int:
        """Make the collection equal to ``gear`` in one action; returns how many items changed.

        What is not in ``gear`` is removed. Every change is journalled.
        """
        wanted = {kind: _documents(gear, kind) for kind in _ORDER}
        action = str(uuid.uuid4())
        changes = 0
        with self._write() as connection:
            connection.execute(text("PRAGMA defer_foreign_keys = ON"))
            for kind in _ORDER:
                changes += _replace_kind(connection, kind, wanted[kind], gear, action)
            if changes or (_meta(connection, "currency") or "EUR") != gear.currency:
                _set_meta(connection, "currency", gear.currency)
                _set_meta(connection, "revision", str(int(_meta(connection, "revision") or 0) + 1))
        return changes

    def practice(self) -> Practice:
        """The owner's own practice."""
        with self._reader.connect() as connection:
            stored = _meta(connection, "practice")
        return Practice.model_validate_json(stored) if stored else Practice()

    def set_practice(self, practice: Practice) -> None:
        """Keep the owner's practice."""
        with self._write() as connection:
            _set_meta(connection, "practice", practice.model_dump_json())

    @contextmanager
    def _write(self) -> Iterator[Connection]:
        with self._write_lock, self._writer.begin() as connection:
            yield connection


def _engine(path: Path, *, readonly: bool = False) -> Engine:
    """An engine for one file; the reading one cannot write."""
    # A writer is one connection used under a lock; readers come from the default pool.
    options = {} if readonly else {"poolclass": StaticPool}
    engine = create_engine(f"sqlite:///{path}", connect_args={"check_same_thread": False, "timeout": 10}, **options)

    def connected(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        for pragma in ("journal_mode = WAL", "synchronous = FULL", "foreign_keys = ON", "trusted_schema = OFF"):
            connection.execute(f"PRAGMA {pragma}")
        if readonly:
            connection.execute("PRAGMA query_only = ON")

    def begun(connection: Connection) -> None:
        connection.exec_driver_sql("BEGIN" if readonly else "BEGIN IMMEDIATE")

    event.listen(engine, "connect", connected)
    event.listen(engine, "begin", begun)
    return engine


def _migrate(connection: Connection, path: Path) -> None:
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.set_main_option("path_separator", "os")
    config.attributes["connection"] = connection
    known = {revision.revision for revision in ScriptDirectory.from_config(config).walk_revisions()}
    found = connection.exec_driver_sql("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").scalar()
    if found is not None:
        current = connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()
        if current is not None and current not in known:
            raise StoreError(f"the database {path} is of a newer version of Tropeion: update the program")
    command.upgrade(config, "head")


def _meta(connection: Connection, key: str) -> str | None:
    return connection.scalar(select(MetaRow.value).where(MetaRow.key == key))


def _set_meta(connection: Connection, key: str, value: str) -> None:
    if _meta(connection, key) is None:
        connection.execute(insert(MetaRow).values(key=key, value=value))
    else:
        connection.execute(update(MetaRow).where(MetaRow.key == key).values(value=value))


def _documents(gear: Gear, kind: str) -> dict[str, str]:
    return {
        item.id: json.dumps(item.model_dump(mode="json", by_alias=True, exclude_defaults=True), ensure_ascii=False)
        for item in getattr(gear, kind)
    }


def _columns(gear: Gear, kind: str) -> Mapping[str, dict[str, str | None]]:
    """What stands in columns of its own, for each item."""
    match kind:
        case "mounts":
            return {m.id: {"interface": m.interface} for m in gear.mounts}
        case "bodies":
            return {b.id: {"mount_id": b.mount} for b in gear.bodies}
        case "lenses":
            return {item.id: {"mount_id": item.mount, "protocol_id": item.protocol} for item in gear.lenses}
        case "adapters":
            return {a.id: {"lens_mount_id": a.lens_mount, "body_mount_id": a.body_mount} for a in gear.adapters}
        case "rigs":
            return {r.id: {"lens_id": r.lens, "body_id": r.body} for r in gear.rigs}
        case _:
            return {p.id: {} for p in gear.protocols}


def _replace_kind(connection: Connection, kind: str, wanted: dict[str, str], gear: Gear, action: str) -> int:
    table = TABLES[kind]
    at = datetime.now(UTC).isoformat(timespec="milliseconds")
    rows = connection.execute(select(table.id, table.version, table.document, table.position))
    have = {row.id: (row.version, row.document, row.position) for row in rows}
    columns = _columns(gear, kind)
    names = {item.id: item.name for item in getattr(gear, kind)}
    journal = []

    def note(item_id: str, version: int, before: str | None, after: str | None) -> None:
        entry = {"action": action, "at": at, "kind": kind, "item_id": item_id}
        journal.append({**entry, "version": version, "before": before, "after": after})

    for gone in have.keys() - wanted.keys():
        connection.execute(delete(table).where(table.id == gone))
        note(gone, have[gone][0] + 1, have[gone][1], None)
    added = []
    for position, (id_, document) in enumerate(wanted.items()):
        values = {"position": position, "name": names[id_], "document": document, **columns[id_]}
        if id_ not in have:
            added.append({"id": id_, "version": 1, **values})
            note(id_, 1, None, document)
        elif have[id_][1] != document:
            version = have[id_][0] + 1
            connection.execute(update(table).where(table.id == id_).values(version=version, **values))
            note(id_, version, have[id_][1], document)
        elif have[id_][2] != position:
            connection.execute(update(table).where(table.id == id_).values(position=position))
    if added:
        connection.execute(insert(table), added)
    if journal:
        connection.execute(insert(JournalRow), journal)
    return len(journal)
