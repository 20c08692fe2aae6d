"""A collection in one SQLite file.

Writes are one transaction an action, in WAL mode with full synchronisation: after a kill the file holds the state
before or after an action, never between. Revision and versions only grow, whatever is restored, imported or taken
back. The compiled world is swapped whole when the revision in the file moves.
"""

from __future__ import annotations

import hashlib
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import TypeVar

from sqlalchemy import Connection

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, find, users_of_each, with_entries
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import World, compile_world, with_tried
from tropeion.core.log.log_file import LogFile
from tropeion.core.practice import Practice
from tropeion.core.records.log_entry import LogEntry
from tropeion.core.records.record import Record, now
from tropeion.core.subjects import Subject

from . import record_actions
from .acting import Changes, Progress, act, changes_to, turn
from .deeds import Deed, check_new, note
from .engine import bring_up_to_date, open_engine
from .errors import BusyError, InUseError, InvalidError, MovedError, StaleError, StoreError, speaking_of
from .files import clear_workspaces
from .folding import KEEPS, Keep, fold, keep_in, set_keep, would_fold
from .journal import Action, latest_actions, turnable
from .meta import meta, revision_of, set_meta
from .record_actions import Taken
from .records import Kept, count_kept, entries_kept, in_place_of, named_in_records, read_log, record_kept, records_kept
from .rows import Write, read_gear, version_of, versions_of
from .tried_in import NOTHING_TRIED, tried_in, tried_standing
from .whole import Whole, keep_subjects, practice_in, read_records, read_whole, subjects_in

R = TypeVar("R", bound=Record)
# At most this many writes wait; more are refused, so that they do not use up all threads.
MOST_WAITING = 24
# Seconds that a write waits for its turn and for another program's lock.
PATIENCE_S = 10.0


@frozen
class Edit:
    """One item put in, changed, or (None) taken out. ``version`` is the one it was read at; 0 for a new item."""

    kind: Kind
    id: str
    entry: Entry | None
    version: int


class Collection:
    """An open collection. Safe to use from several threads; writes queue up.

    Whatever reads or writes raises StoreError, in words, where the file or the disk does not allow it.
    """

    def __init__(self, path: Path) -> None:
        """Open or create the database at ``path`` and bring its schema up to date.

        Raises StoreError if the folder cannot be written, the file is damaged or from a newer version.
        """
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(f"cannot create the folder {path.parent}: {error.strerror}") from None
        clear_workspaces(path.parent)
        self._writer = open_engine(path)
        self._reader = open_engine(path, readonly=True)
        self._waiting = threading.BoundedSemaphore(MOST_WAITING)
        self._write_lock = threading.Lock()
        self._world_lock = threading.RLock()
        self._world: World | None = None
        self._world_revision = -1
        self._tried_standing = NOTHING_TRIED
        try:
            with speaking_of(path):
                bring_up_to_date(path, self._writer)
                self._file = self._identity()
        except StoreError:
            self.close()
            raise

    def close(self) -> None:
        """Release the file."""
        self._reader.dispose()
        self._writer.dispose()

    @property
    def revision(self) -> int:
        """Counts the actions that changed the collection; never goes back."""
        with self._read() as connection:
            return revision_of(connection)

    @property
    def id(self) -> str:
        """Tells this collection from others, whatever is written or restored."""
        with self._read() as connection:
            return meta(connection, "collection") or ""

    def standing(self, models: Sequence[type[Record]]) -> str:
        """Changes with the gear, the practice, and the records of these kinds."""
        with self._read() as connection:
            told = [meta(connection, key) or "" for key in ("collection", "revision", "practice")]
            for model in models:
                told += [
                    f"{kept.record.id} {kept.version} {kept.record.struck}"
                    for kept in records_kept(connection, model, {})
                ]
        return hashlib.sha256("\n".join(told).encode()).hexdigest()[:16]

    def world(self) -> World:
        """The compiled collection as it is now."""
        with self._world_lock, self._read() as connection:
            revision, tried = revision_of(connection), tried_standing(connection)
            if self._world is None or revision != self._world_revision:
                self._world, self._world_revision = compile_world(read_gear(connection)), revision
                self._tried_standing = NOTHING_TRIED
            if tried != self._tried_standing:
                self._world, self._tried_standing = with_tried(self._world, tried_in(connection, self._world)), tried
            return self._world

    def gear(self) -> Gear:
        """The whole collection."""
        with self._read() as connection:
            return read_gear(connection)

    def whole(self) -> Whole:
        """The whole collection with its records and its owner's practice."""
        with self._read() as connection:
            return read_whole(connection)

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
            changes = changes_to(Whole(self._current(connection)), Whole(gear))
            act(connection, changes, title, progress=progress)
        return len(changes.writes)

    def restore(self, whole: Whole, title: str) -> Action | None:
        """Make everything, records and practice too, equal to a backup, in one action; None where it is already."""
        with self._write() as connection:
            kept = read_records(connection), practice_in(connection), subjects_in(connection)
            standing = Whole(self._current(connection), *kept)
            changes = changes_to(standing, whole)
            act(connection, changes, title)
            return turnable(connection)[0] if changes else None

    def version(self, kind: Kind, id_: str) -> int:
        """How often an item was changed; 0 if there is none of this id."""
        with self._read() as connection:
            return version_of(connection, kind, id_)

    def edit(self, edits: Sequence[Edit], title: str) -> str:
        """Change single items in one action; returns the action's id.

        An item that records are about is retired rather than taken out, and the title says so. Raises StaleError if
        one changed since it was read, InUseError if one that is taken out is referred to, InvalidError if a reference
        would lead to nothing.
        """
        with self._write() as connection:
            gear = self._current(connection)
            kinds = {edit.kind for edit in edits}
            stand = {
                kind: versions_of(connection, kind, [edit.id for edit in edits if edit.kind == kind]) for kind in kinds
            }
            for edit in edits:
                version = stand[edit.kind].get(edit.id, 0)
                if version != edit.version:
                    current = find(gear, edit.kind, edit.id) if version else None
                    raise StaleError(edit.kind, edit.id, current, version)
            asked, edits = edits, _retiring(connection, gear, edits)
            if edits != asked:
                title = f"{title}: archived, since records name it"
            gear = with_entries(gear, [(edit.kind, edit.id, edit.entry) for edit in edits])
            gone = [(edit.kind, edit.id) for edit in edits if edit.entry is None]
            for (kind, id_), users in users_of_each(gear, gone).items():
                if users:
                    raise InUseError(kind, id_, users)
            problems = check_references(gear)
            if problems:
                raise InvalidError(problems)
            action = act(connection, Changes([Write(edit.kind, edit.id, edit.entry) for edit in edits]), title)
            revision = revision_of(connection)
        # What was just written need not be read again.
        with self._world_lock:
            if revision > self._world_revision:
                # With other firmware trials may count no more.
                before = None if self._world is None else with_tried(self._world, {})
                self._world, self._world_revision = compile_world(gear, before), revision
                self._tried_standing = NOTHING_TRIED
        return action

    def history(self, limit: int = 50) -> tuple[Action, ...]:
        """What was done, the latest first; what takes something back is not told by itself."""
        with self._read() as connection:
            return latest_actions(connection, limit)

    def turnable(self) -> tuple[Action | None, Action | None]:
        """What undo would take back and redo do again."""
        with self._read() as connection:
            return turnable(connection)

    def keep_of_history(self) -> tuple[Keep, dict[Keep, int]]:
        """How long the history is kept, and how many actions would fall out of each choice."""
        with self._read() as connection:
            at = now()
            return keep_in(connection), {keep: would_fold(connection, keep, at) for keep in KEEPS}

    def keep_history(self, keep: Keep) -> None:
        """Keep the history so long from now on; what is older is let go, and cannot be taken back any more."""
        with self._write() as connection:
            set_keep(connection, keep)
            fold(connection, now())

    def undo(self) -> Action | None:
        """Take back the latest action that stands; None if there is none. May be done again and again."""
        with self._write() as connection:
            action, _ = turnable(connection)
            if action is not None:
                turn(connection, action, "undoes")
            return action

    def redo(self) -> Action | None:
        """Do again what was taken back last; None if there is none, or something else was done since."""
        with self._write() as connection:
            _, action = turnable(connection)
            if action is not None:
                turn(connection, action, "redoes")
            return action

    def _current(self, connection: Connection) -> Gear:
        """The collection as the writing connection sees it, read only if another program wrote."""
        with self._world_lock:
            if self._world is not None and self._world_revision == revision_of(connection):
                return self._world.gear
        return read_gear(connection)

    def records_of(self, model: type[R], **where: object) -> tuple[Kept[R], ...]:
        """Every record of a kind with these values in its columns, struck out or not, the latest first."""
        with self._read() as connection:
            return records_kept(connection, model, where)

    def record_of(self, model: type[R], **where: object) -> Kept[R] | None:
        """The record of a kind with these values in its columns, struck out or not."""
        with self._read() as connection:
            return record_kept(connection, model, where)

    def tick(self, record: R, ticked: Callable[[R], R], title: str, deed: Deed) -> Kept[R]:
        """Change the record in the place of ``record``, or begin with that, by a deed. Raises DoneAlreadyError."""
        with self._write() as connection:
            check_new(connection, deed)
            standing = in_place_of(connection, record)
            kept = record_actions.keep(connection, ticked(standing.record if standing else record), title, None)
            note(connection, deed, kept.version)
            return kept

    def keep_record(self, record: R, title: str, version: int | None = None) -> Kept[R]:
        """Keep a record in its place, in one action; ticking off its list again and again is one action.

        With ``version`` (0: not begun) only upon that one. Raises RecordMovedError, MovedError.
        """
        with self._write() as connection:
            return record_actions.keep(connection, record, title, version)

    def change_record(
        self,
        model: type[R],
        id_: str,
        changed: Callable[[R], R],
        title: str,
        version: int | None = None,
        deed: Deed | None = None,
    ) -> Kept[R]:
        """Read a record and write what becomes of it, in one transaction: nothing that was done beside it is lost.

        ``changed`` may raise: then nothing is written. Raises UnknownRecordError where none stands, RecordMovedError
        where it is not at ``version``, DoneAlreadyError for a deed that is kept.
        """
        with self._write() as connection:
            check_new(connection, deed)
            kept = record_actions.change(connection, model, id_, changed, title, version)
            note(connection, deed, kept.version)
            return kept

    def count_records(self, model: type[Record]) -> int:
        """How many records of a kind count."""
        with self._read() as connection:
            return count_kept(connection, model)

    def take_records(
        self,
        records: Sequence[Record],
        title: str,
        *,
        replacing: bool = False,
        dry_run: bool = False,
        deed: Deed | None = None,
    ) -> Taken:
        """Begin records in one action; one that stands stays as it is, unless ``replacing``.

        Raises DoneAlreadyError for a deed that is kept.
        """
        with self._write() as connection:
            check_new(connection, deed)
            taken = record_actions.take(connection, records, title, replacing=replacing, dry_run=dry_run)
            note(connection, deed, 1)
            return taken

    def entries(
        self, limit: int, since_us: int | None = None, until_us: int | None = None
    ) -> tuple[Kept[LogEntry], ...]:
        """The latest entries of the log by when they were, struck out or not."""
        with self._read() as connection:
            return entries_kept(connection, limit, since_us, until_us)

    def log(self, since_us: int | None = None, until_us: int | None = None) -> LogFile:
        """The log of a span of time, or all of it, with what is kept beside its entries."""
        with self._read() as connection:
            return read_log(connection, since_us, until_us)

    def practice(self) -> Practice:
        """The owner's own practice."""
        with self._read() as connection:
            return practice_in(connection)

    def set_practice(self, practice: Practice) -> None:
        """Keep the owner's practice."""
        with self._write() as connection:
            set_meta(connection, "practice", practice.model_dump_json())

    def subjects(self) -> tuple[Subject, ...]:
        """What its owner photographs, along the ribbon of distances."""
        with self._read() as connection:
            return subjects_in(connection)

    def set_subjects(self, subjects: Sequence[Subject]) -> None:
        """Keep what its owner photographs."""
        with self._write() as connection:
            keep_subjects(connection, subjects)

    @contextmanager
    def _read(self) -> Iterator[Connection]:
        """One state of the collection, whatever is written meanwhile."""
        with speaking_of(self.path):
            self._follow()
            with self._reader.begin() as connection:
                yield connection

    @contextmanager
    def _write(self) -> Iterator[Connection]:
        """One transaction, in turn with the others."""
        if not self._waiting.acquire(blocking=False):
            raise BusyError("too many changes wait to be written: nothing was written; try again in a moment")
        try:
            until = time.monotonic() + PATIENCE_S
            if not self._write_lock.acquire(timeout=PATIENCE_S):
                raise BusyError("other changes take long to write: nothing was written; try again in a moment")
            try:
                with speaking_of(self.path):
                    self._follow()
                    self._wait_for_others(until)
                    with self._writer.begin() as connection:
                        yield connection
            finally:
                self._write_lock.release()
        finally:
            self._waiting.release()

    def _identity(self) -> tuple[int, int]:
        found = self.path.stat()
        return found.st_dev, found.st_ino

    def _follow(self) -> None:
        """Open the file anew where another one was put in its place, by a restore over a damaged one."""
        if self._identity() == self._file:
            return
        with self._world_lock:
            self._world, self._world_revision = None, -1
            self._tried_standing = NOTHING_TRIED
        self.close()
        self._file = self._identity()

    def _wait_for_others(self, until: float) -> None:
        """Give another program what is left of the time to let go of the file."""
        connection = self._writer.raw_connection()
        left_ms = max(0, int((until - time.monotonic()) * 1000))
        connection.cursor().execute(f"PRAGMA busy_timeout = {left_ms}")
        connection.close()


def _retiring(connection: Connection, gear: Gear, edits: Sequence[Edit]) -> list[Edit]:
    """Edits that take out what records are about retire it."""
    gone: dict[Kind, list[str]] = {}
    for edit in edits:
        if edit.entry is None:
            gone.setdefault(edit.kind, []).append(edit.id)
    named = {(kind, id_) for kind, ids in gone.items() for id_ in named_in_records(connection, kind, ids)}
    return [
        replace(edit, entry=find(gear, edit.kind, edit.id).model_copy(update={"retired": True}))
        if edit.entry is None and (edit.kind, edit.id) in named
        else edit
        for edit in edits
    ]
