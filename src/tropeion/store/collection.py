"""A collection in one SQLite file.

Writes are one transaction an action, in WAL mode with full synchronisation: after a kill the file holds the state
before or after an action, never between. The compiled world is swapped whole when the revision in the file moves.
"""

from __future__ import annotations

import json
import sqlite3
import threading
import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, bindparam, create_engine, delete, event, func, insert, select, text, update
from sqlalchemy.exc import DatabaseError
from sqlalchemy.pool import StaticPool

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, Entry, User, find, items, users_of, with_entry
from tropeion.core.gear.references import Problem, check_references
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice

from .files import StoreError, check_soundness, copy_database, spare_name
from .tables import DOCUMENTED, TABLES, ActionRow, JournalRow, MetaRow, Row

__all__ = ["Action", "Collection", "Edit", "InUseError", "InvalidError", "MovedError", "StaleError", "StoreError"]

_MIGRATIONS = Path(__file__).parent / "migrations"
# Rows are written so many at a time, with a word on how far it is after each.
_BATCH = 250

Progress = Callable[[int, int], None]


class StaleError(Exception):
    """Somebody else changed the item since: ``current`` is as it stands, None if it is gone."""

    def __init__(self, kind: Kind, id_: str, current: Entry | None, version: int) -> None:
        self.kind, self.id, self.current, self.version = kind, id_, current, version
        super().__init__(f"{kind} '{id_}' has changed since")


class MovedError(Exception):
    """The collection is not what it was when it was read: writing all of it would undo what was done since."""


class InUseError(Exception):
    """An item that others refer to cannot go."""

    def __init__(self, kind: Kind, id_: str, users: tuple[User, ...]) -> None:
        self.kind, self.id, self.users = kind, id_, users
        super().__init__(f"{kind} '{id_}' is in use")


class InvalidError(Exception):
    """A change that would leave references to nothing."""

    def __init__(self, problems: tuple[Problem, ...]) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))


@dataclass(frozen=True, slots=True)
class Edit:
    """One item put in, changed, or (None) taken out. ``version`` is the one it was read at; 0 for a new item."""

    kind: Kind
    id: str
    entry: Entry | None
    version: int


@dataclass(frozen=True, slots=True)
class Action:
    """Something that was done. ``undone`` while it is taken back."""

    id: str
    at: str
    title: str
    undone: bool
    items: int


@dataclass(frozen=True, slots=True)
class _Write:
    """One row to change: its document after (None: removed), and the place it goes to."""

    kind: Kind
    id: str
    after: Entry | None
    position: int | None = None


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
            if path.is_file():
                check_soundness(path)
                _keep_before_migration(path)
            with self._writer.begin() as connection:
                command.upgrade(_alembic(connection), "head")
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
            return _revision(connection)

    def world(self) -> World:
        """The compiled collection as it is now."""
        with self._world_lock:
            if self._world is None or self.revision != self._world_revision:
                with self._reader.begin() as connection:
                    self._world, self._world_revision = compile_world(_read(connection)), _revision(connection)
            return self._world

    def gear(self) -> Gear:
        """The whole collection."""
        with self._reader.connect() as connection:
            return _read(connection)

    def replace(
        self,
        gear: Gear,
        title: str = "The whole collection replaced",
        progress: Progress | None = None,
        since: int | None = None,
    ) -> int:
        """Make the collection equal to ``gear`` in one action; returns how many items changed.

        What is not in ``gear`` is removed. Every change is journalled. ``progress`` is told (rows written, rows to
        write); if it raises, nothing is changed. With ``since``, the revision that ``gear`` was made from, raises
        MovedError if anything was written after it.
        """
        with self._write() as connection:
            if since is not None and since != _revision(connection):
                raise MovedError
            before = self._current(connection)
            writes = [write for kind in KINDS for write in _differences(before, gear, kind)]
            self._apply(connection, writes, title, progress=progress)
            moved = sum(_reordered(connection, kind, gear) for kind in KINDS)
            if moved or before.currency != gear.currency:
                _set_meta(connection, "currency", gear.currency)
                _count_revision(connection)
        return len(writes)

    def version(self, kind: Kind, id_: str) -> int:
        """How often an item was changed; 0 if there is none of this id."""
        with self._reader.connect() as connection:
            return _version(connection, kind, id_)

    def edit(self, edits: Sequence[Edit], title: str) -> str:
        """Change single items in one action; returns the action's id.

        Raises StaleError if one changed since it was read, InUseError if one that is taken out is referred to,
        InvalidError if a reference would lead to nothing.
        """
        with self._write() as connection:
            gear = self._current(connection)
            for edit in edits:
                version = _version(connection, edit.kind, edit.id)
                if version != edit.version:
                    current = find(gear, edit.kind, edit.id) if version else None
                    raise StaleError(edit.kind, edit.id, current, version)
                gear = with_entry(gear, edit.kind, edit.id, edit.entry)
            for edit in edits:
                users = users_of(gear, edit.kind, edit.id) if edit.entry is None else ()
                if users:
                    raise InUseError(edit.kind, edit.id, users)
            problems = check_references(gear)
            if problems:
                raise InvalidError(problems)
            action = self._apply(connection, [_Write(one.kind, one.id, one.entry) for one in edits], title)
            revision = _revision(connection)
        # What was just written need not be read again.
        with self._world_lock:
            self._world, self._world_revision = compile_world(gear, self._world), revision
        return action

    def history(self, limit: int = 50) -> tuple[Action, ...]:
        """What was done, the latest first; what takes something back is not told by itself."""
        with self._reader.connect() as connection:
            return tuple(reversed(_actions(connection)))[:limit]

    def turnable(self) -> tuple[Action | None, Action | None]:
        """What undo would take back and redo do again."""
        with self._reader.connect() as connection:
            return _turnable(_actions(connection))

    def undo(self) -> Action | None:
        """Take back the latest action that stands; None if there is none. May be done again and again."""
        with self._write() as connection:
            action, _ = _turnable(_actions(connection))
            if action is not None:
                self._turn(connection, action, "undoes")
            return action

    def redo(self) -> Action | None:
        """Do again what was taken back last; None if there is none, or something else was done since."""
        with self._write() as connection:
            _, action = _turnable(_actions(connection))
            if action is not None:
                self._turn(connection, action, "redoes")
            return action

    def _turn(self, connection: Connection, action: Action, way: str) -> None:
        writes = []
        rows = select(JournalRow.kind, JournalRow.item_id, JournalRow.before, JournalRow.after, JournalRow.position)
        for row in connection.execute(rows.where(JournalRow.action == action.id).order_by(JournalRow.sequence)):
            kind: Kind = row.kind
            document = row.before if way == "undoes" else row.after
            entry = None if document is None else MODELS[kind].model_validate_json(document)
            writes.append(_Write(kind, row.item_id, entry, row.position))
        title = f"{'Undone' if way == 'undoes' else 'Done again'}: {action.title}"[:200]
        self._apply(connection, writes, title, {way: action.id})

    def _current(self, connection: Connection) -> Gear:
        """The collection as the writing connection sees it, read only if another program wrote."""
        with self._world_lock:
            if self._world is not None and self._world_revision == _revision(connection):
                return self._world.gear
        return _read(connection)

    def _apply(
        self,
        connection: Connection,
        writes: Sequence[_Write],
        title: str,
        turns: Mapping[str, str] | None = None,
        progress: Progress | None = None,
    ) -> str:
        """Write rows, journal and revision; returns the action's id."""
        action, at = str(uuid.uuid4()), datetime.now(UTC).isoformat(timespec="milliseconds")
        if not writes:
            return action
        connection.execute(text("PRAGMA defer_foreign_keys = ON"))
        connection.execute(insert(ActionRow).values(id=action, at=at, title=title, **(turns or {})))
        done = 0
        for kind in KINDS:
            rows = [write for write in writes if write.kind == kind]
            for start in range(0, len(rows), _BATCH):
                batch = rows[start : start + _BATCH]
                _write_rows(connection, kind, batch, action, at)
                done += len(batch)
                if progress is not None:
                    progress(done, len(writes))
        _count_revision(connection)
        return action

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


def _alembic(connection: Connection | None = None) -> Config:
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.set_main_option("path_separator", "os")
    config.attributes["connection"] = connection
    return config


def _keep_before_migration(path: Path) -> None:
    """Refuse a newer database; keep a copy of an older one beside it."""
    scripts = ScriptDirectory.from_config(_alembic())
    with closing(sqlite3.connect(path)) as connection:
        found = connection.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if found else None
    if row is None or row[0] == scripts.get_current_head():
        return
    if row[0] not in {revision.revision for revision in scripts.walk_revisions()}:
        raise StoreError(f"the database {path} is of a newer version of Tropeion: update the program")
    copy_database(path, spare_name(path, f"before-update-from-{row[0]}"))


def _meta(connection: Connection, key: str) -> str | None:
    return connection.scalar(select(MetaRow.value).where(MetaRow.key == key))


def _set_meta(connection: Connection, key: str, value: str) -> None:
    if _meta(connection, key) is None:
        connection.execute(insert(MetaRow).values(key=key, value=value))
    else:
        connection.execute(update(MetaRow).where(MetaRow.key == key).values(value=value))


def _revision(connection: Connection) -> int:
    return int(_meta(connection, "revision") or 0)


def _count_revision(connection: Connection) -> None:
    _set_meta(connection, "revision", str(_revision(connection) + 1))


def _version(connection: Connection, kind: Kind, id_: str) -> int:
    table = TABLES[kind]
    return connection.scalar(select(table.version).where(table.id == id_)) or 0


def _read(connection: Connection) -> Gear:
    parts = [
        f'"{kind}": [{",".join(connection.scalars(select(row.document).order_by(row.position, row.id)))}]'
        for kind, row in TABLES.items()
    ]
    currency = _meta(connection, "currency") or "EUR"
    head = f'"format": "tropeion-gear", "version": 1, "currency": {json.dumps(currency)}'
    return Gear.model_validate_json("{" + ", ".join([head, *parts]) + "}")


def _document(entry: Entry) -> str:
    return json.dumps(entry.model_dump(mode="json", by_alias=True, exclude_defaults=True), ensure_ascii=False)


def _columns(entry: Entry, table: type[Row]) -> dict[str, str | None]:
    """What stands in columns of its own: fields as they are, and the ids of items that a field names."""
    fields = {column.name: column.name.removesuffix("_id") for column in table.__table__.columns}
    own = {column: field for column, field in fields.items() if column not in DOCUMENTED}
    return {column: getattr(entry, field) for column, field in own.items()}


def _differences(before: Gear, after: Gear, kind: Kind) -> Iterator[_Write]:
    have = {item.id: item for item in items(before, kind)}
    wanted = {item.id for item in items(after, kind)}
    for id_ in have:
        if id_ not in wanted:
            yield _Write(kind, id_, None)
    for item in items(after, kind):
        if have.get(item.id) != item:
            yield _Write(kind, item.id, item)


def _reordered(connection: Connection, kind: Kind, gear: Gear) -> bool:
    """Put a shelf into the order of ``gear``, if it stands in another."""
    table = TABLES[kind]
    stands = list(connection.scalars(select(table.id).order_by(table.position, table.id)))
    wanted = [item.id for item in items(gear, kind)]
    if stands == wanted:
        return False
    connection.execute(
        update(table).where(table.id == bindparam("item")).values(position=bindparam("place")),
        [{"item": id_, "place": place} for place, id_ in enumerate(wanted)],
    )
    return True


def _write_rows(connection: Connection, kind: Kind, writes: Sequence[_Write], action: str, at: str) -> None:
    table = TABLES[kind]
    ids = [write.id for write in writes]
    rows = connection.execute(select(table.id, table.version, table.document, table.position).where(table.id.in_(ids)))
    have = {row.id: row for row in rows}
    # An item that comes back counts on from where it was, so that nothing read before passes for it.
    journalled = connection.execute(
        select(JournalRow.item_id, func.max(JournalRow.version))
        .where(JournalRow.kind == kind, JournalRow.item_id.in_(ids))
        .group_by(JournalRow.item_id)
    )
    counted: dict[str, int] = {row[0]: row[1] for row in journalled}
    last = connection.scalar(select(func.max(table.position)))
    last = -1 if last is None else last
    added, changed, journal = [], [], []
    for write in writes:
        row = have.get(write.id)
        version = max(row.version if row else 0, counted.get(write.id, 0)) + 1
        after = None if write.after is None else _document(write.after)
        position = row.position if row else write.position
        if write.after is not None:
            values = {"name": write.after.name, "version": version, "document": after, **_columns(write.after, table)}
            if row is None:
                if position is None:
                    last = position = last + 1
                added.append({"id": write.id, "position": position, **values})
            else:
                changed.append({"item": write.id, **values})
        journal.append(
            {
                "action": action,
                "at": at,
                "kind": kind,
                "item_id": write.id,
                "version": version,
                "before": row.document if row else None,
                "after": after,
                "position": position,
            }
        )
    gone = [write.id for write in writes if write.after is None]
    if gone:
        connection.execute(delete(table).where(table.id.in_(gone)))
    if changed:
        columns: dict[str, Any] = {key: bindparam(key) for key in changed[0] if key != "item"}
        connection.execute(update(table).where(table.id == bindparam("item")).values(columns), changed)
    if added:
        connection.execute(insert(table), added)
    connection.execute(insert(JournalRow), journal)


def _actions(connection: Connection) -> list[Action]:
    """The actions that do something of their own, in order, with what was taken back since."""
    undone: dict[str, bool] = {}
    own = []
    columns = (ActionRow.id, ActionRow.at, ActionRow.title, ActionRow.undoes, ActionRow.redoes)
    for row in connection.execute(select(*columns).order_by(ActionRow.sequence)):
        if row.undoes is not None:
            undone[row.undoes] = True
        elif row.redoes is not None:
            undone[row.redoes] = False
        else:
            own.append(row)
    counts = {
        row[0]: row[1]
        for row in connection.execute(select(JournalRow.action, func.count()).group_by(JournalRow.action))
    }
    return [Action(row.id, row.at, row.title, undone.get(row.id, False), counts.get(row.id, 0)) for row in own]


def _turnable(actions: Sequence[Action]) -> tuple[Action | None, Action | None]:
    """The last action that stands, and the first one after it that was taken back."""
    standing = [number for number, action in enumerate(actions) if not action.undone]
    undone = actions[standing[-1] + 1 if standing else 0 :]
    return actions[standing[-1]] if standing else None, undone[0] if undone else None
