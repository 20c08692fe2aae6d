"""A collection in one SQLite file.

Writes are one transaction an action, in WAL mode with full synchronisation: after a kill the file holds the state
before or after an action, never between. The compiled world is swapped whole when the revision in the file moves.
"""

from __future__ import annotations

import threading
import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from typing import cast

from sqlalchemy import Connection, insert, select, text
from sqlalchemy.exc import DatabaseError

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, Entry, find, users_of, with_entry
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.card import Card
from tropeion.core.records.record import Record, RecordKind, now

from . import records
from .engine import bring_up_to_date, open_engine
from .errors import InUseError, InvalidError, MovedError, StaleError
from .files import StoreError
from .journal import Action, actions, turnable
from .meta import count_revision, meta, revision_of, set_meta
from .rows import Write, differences, read_gear, reordered, version_of, write_rows
from .tables import ActionRow, JournalRow

__all__ = ["Action", "Collection", "Edit", "InUseError", "InvalidError", "MovedError", "StaleError", "StoreError"]

# Rows are written so many at a time, with a word on how far it is after each.
_BATCH = 250

Progress = Callable[[int, int], None]


@dataclass(frozen=True, slots=True)
class Edit:
    """One item put in, changed, or (None) taken out. ``version`` is the one it was read at; 0 for a new item."""

    kind: Kind
    id: str
    entry: Entry | None
    version: int


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
        self._writer = open_engine(path)
        self._reader = open_engine(path, readonly=True)
        self._write_lock = threading.Lock()
        self._world_lock = threading.Lock()
        self._world: World | None = None
        self._world_revision = -1
        try:
            bring_up_to_date(path, self._writer)
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
            return revision_of(connection)

    def world(self) -> World:
        """The compiled collection as it is now."""
        with self._world_lock:
            if self._world is None or self.revision != self._world_revision:
                with self._reader.begin() as connection:
                    self._world, self._world_revision = compile_world(read_gear(connection)), revision_of(connection)
            return self._world

    def gear(self) -> Gear:
        """The whole collection."""
        with self._reader.connect() as connection:
            return read_gear(connection)

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
            if since is not None and since != revision_of(connection):
                raise MovedError
            before = self._current(connection)
            writes = [write for kind in KINDS for write in differences(before, gear, kind)]
            self._apply(connection, writes, title, progress=progress)
            moved = sum(reordered(connection, kind, gear) for kind in KINDS)
            if moved or before.currency != gear.currency:
                set_meta(connection, "currency", gear.currency)
                count_revision(connection)
        return len(writes)

    def version(self, kind: Kind, id_: str) -> int:
        """How often an item was changed; 0 if there is none of this id."""
        with self._reader.connect() as connection:
            return version_of(connection, kind, id_)

    def edit(self, edits: Sequence[Edit], title: str) -> str:
        """Change single items in one action; returns the action's id.

        An item that records are about is retired rather than taken out, and the title says so. Raises StaleError if
        one changed since it was read, InUseError if one that is taken out is referred to, InvalidError if a reference
        would lead to nothing.
        """
        with self._write() as connection:
            gear = self._current(connection)
            for edit in edits:
                version = version_of(connection, edit.kind, edit.id)
                if version != edit.version:
                    current = find(gear, edit.kind, edit.id) if version else None
                    raise StaleError(edit.kind, edit.id, current, version)
            asked, edits = edits, [_retiring(connection, gear, edit) for edit in edits]
            if edits != asked:
                title = f"{title}: kept as retired, since cards name it"[:200]
            for edit in edits:
                gear = with_entry(gear, edit.kind, edit.id, edit.entry)
            for edit in edits:
                users = users_of(gear, edit.kind, edit.id) if edit.entry is None else ()
                if users:
                    raise InUseError(edit.kind, edit.id, users)
            problems = check_references(gear)
            if problems:
                raise InvalidError(problems)
            action, _ = self._apply(connection, [Write(one.kind, one.id, one.entry) for one in edits], title)
            revision = revision_of(connection)
        # What was just written need not be read again.
        with self._world_lock:
            self._world, self._world_revision = compile_world(gear, self._world), revision
        return action

    def history(self, limit: int = 50) -> tuple[Action, ...]:
        """What was done, the latest first; what takes something back is not told by itself."""
        with self._reader.connect() as connection:
            return tuple(reversed(actions(connection)))[:limit]

    def turnable(self) -> tuple[Action | None, Action | None]:
        """What undo would take back and redo do again."""
        with self._reader.connect() as connection:
            return turnable(actions(connection))

    def undo(self) -> Action | None:
        """Take back the latest action that stands; None if there is none. May be done again and again."""
        with self._write() as connection:
            action, _ = turnable(actions(connection))
            if action is not None:
                self._turn(connection, action, "undoes")
            return action

    def redo(self) -> Action | None:
        """Do again what was taken back last; None if there is none, or something else was done since."""
        with self._write() as connection:
            _, action = turnable(actions(connection))
            if action is not None:
                self._turn(connection, action, "redoes")
            return action

    def _turn(self, connection: Connection, action: Action, way: str) -> None:
        """Write the journal's documents of an action back, those of records and those of items."""
        writes, kept = [], []
        columns = (JournalRow.kind, JournalRow.item_id, JournalRow.before, JournalRow.after, JournalRow.position)
        rows = select(*columns).where(JournalRow.action == action.id).order_by(JournalRow.sequence)
        for row in connection.execute(rows):
            document = row.before if way == "undoes" else row.after
            if row.kind in records.MODELS:
                kind = cast(RecordKind, row.kind)
                record = None if document is None else records.MODELS[kind].model_validate_json(document)
                kept.append((kind, row.item_id, record))
            else:
                model = MODELS[cast(Kind, row.kind)]
                entry = None if document is None else model.model_validate_json(document)
                writes.append(Write(row.kind, row.item_id, entry, row.position))
        title = f"{'Undone' if way == 'undoes' else 'Done again'}: {action.title}"[:200]
        turned, at = self._apply(connection, writes, title, {way: action.id}, always=bool(kept))
        for kind, id_, record in kept:
            records.write_record(connection, kind, id_, record, turned, at, amend=False)

    def _current(self, connection: Connection) -> Gear:
        """The collection as the writing connection sees it, read only if another program wrote."""
        with self._world_lock:
            if self._world is not None and self._world_revision == revision_of(connection):
                return self._world.gear
        return read_gear(connection)

    def _apply(
        self,
        connection: Connection,
        writes: Sequence[Write],
        title: str,
        turns: Mapping[str, str] | None = None,
        *,
        progress: Progress | None = None,
        always: bool = False,
    ) -> tuple[str, str]:
        """Write rows, journal and revision; returns the action's id and time. Nothing is done where nothing changes."""
        action, at = str(uuid.uuid4()), now()
        if not writes and not always:
            return action, at
        connection.execute(text("PRAGMA defer_foreign_keys = ON"))
        connection.execute(insert(ActionRow).values(id=action, at=at, title=title, **(turns or {})))
        done = 0
        for kind in KINDS:
            rows = [write for write in writes if write.kind == kind]
            for start in range(0, len(rows), _BATCH):
                batch = rows[start : start + _BATCH]
                write_rows(connection, kind, batch, action, at)
                done += len(batch)
                if progress is not None:
                    progress(done, len(writes))
        if writes:
            count_revision(connection)
        return action, at

    def card(self, rig: str, day: str) -> Card | None:
        """The card of a rig on one day."""
        with self._reader.connect() as connection:
            return records.card_of(connection, rig, day)

    def keep_card(self, card: Card, title: str) -> Card:
        """Keep the card of a rig for its day, upon the one that is there; ticking off a list is one action."""
        with self._write() as connection:
            standing = records.card_of(connection, card.rig, card.day)
            if standing is not None:
                card = card.model_copy(update={"id": standing.id, "at": standing.at})
            if card != standing:
                self._keep(connection, "cards", card, title)
        return card

    def _keep(self, connection: Connection, kind: RecordKind, record: Record, title: str) -> None:
        action = records.going_on(connection, kind, record.id)
        if action is not None:
            at = now()
            records.write_record(connection, kind, record.id, record, action, at, amend=True)
            return
        action, at = self._apply(connection, (), title[:200], always=True)
        records.write_record(connection, kind, record.id, record, action, at, amend=False)

    def practice(self) -> Practice:
        """The owner's own practice."""
        with self._reader.connect() as connection:
            stored = meta(connection, "practice")
        return Practice.model_validate_json(stored) if stored else Practice()

    def set_practice(self, practice: Practice) -> None:
        """Keep the owner's practice."""
        with self._write() as connection:
            set_meta(connection, "practice", practice.model_dump_json())

    @contextmanager
    def _write(self) -> Iterator[Connection]:
        with self._write_lock, self._writer.begin() as connection:
            yield connection


def _retiring(connection: Connection, gear: Gear, edit: Edit) -> Edit:
    """An edit that takes out what records are about retires it."""
    if edit.entry is not None or not records.named_in_records(connection, edit.kind, [edit.id]):
        return edit
    return replace(edit, entry=find(gear, edit.kind, edit.id).model_copy(update={"retired": True}))
