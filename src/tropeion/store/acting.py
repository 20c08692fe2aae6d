"""One action: rows, records and settings written together with their journal; and turned, back and again."""

from __future__ import annotations

import json
import uuid
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence, Set
from typing import Any, Final, Literal, cast

from sqlalchemy import Connection, insert, select, text, update

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, items
from tropeion.core.practice import Practice
from tropeion.core.records.record import Record, RecordKind, now
from tropeion.core.subjects import Subject

from . import records
from .folding import fold
from .journal import Action
from .meta import count_revision, set_meta
from .rows import Write, differences, put_in_order, write_rows
from .tables import ActionRow, JournalRow
from .whole import Whole, keep_subjects

# Rows are written in batches of this size, with progress reported after each.
_BATCH = 250
SETTINGS: Final = "settings"

Progress = Callable[[int, int], None]
Setting = Literal["currency", "practice", "subjects", "order"]
Settings = dict[Setting, Any]


@frozen
class RecordWrite:
    """A record as it shall be; None: it was never begun."""

    kind: RecordKind
    id: str
    after: Record | None


@frozen
class ShelfChange:
    """How many items or records of a kind there would be, and what becomes of those that are there now."""

    kind: Kind | RecordKind
    items: int
    added: int
    changed: int
    gone: int


@frozen
class Changes:
    """What one action changes. ``before`` and ``after`` hold the settings that move: currency, order, practice,
    marks."""

    writes: Sequence[Write] = ()
    records: Sequence[RecordWrite] = ()
    before: Settings | None = None
    after: Settings | None = None

    def __bool__(self) -> bool:
        return bool(self.writes or self.records or self.after)


def changes_to(before: Whole, after: Whole) -> Changes:
    """What makes one whole of another."""
    writes = [write for kind in KINDS for write in differences(before.gear, after.gear, kind)]
    return Changes(writes, tuple(_record_writes(before, after)), *_settings(before, after))


def shelf_changes(before: Whole, after: Whole, changes: Changes) -> tuple[ShelfChange, ...]:
    """The changes from one whole to another, counted by kind."""
    have: dict[Kind | RecordKind, Set[str]] = {kind: set(_ids(before.gear, kind)) for kind in KINDS}
    sizes: dict[Kind | RecordKind, int] = {kind: len(items(after.gear, kind)) for kind in KINDS}
    for kept in records.MODELS:
        have[kept], sizes[kept] = before.records.get(kept, {}).keys(), len(after.records.get(kept, {}))
    every: Sequence[Write | RecordWrite] = (*changes.writes, *changes.records)
    counts: Counter[tuple[str, str]] = Counter(
        (write.kind, "gone" if write.after is None else "changed" if write.id in have[write.kind] else "added")
        for write in every
    )
    return tuple(
        ShelfChange(kind, size, counts[kind, "added"], counts[kind, "changed"], counts[kind, "gone"])
        for kind, size in sizes.items()
    )


def _record_writes(before: Whole, after: Whole) -> Iterator[RecordWrite]:
    for kind in records.MODELS:
        have, wanted = before.records.get(kind, {}), after.records.get(kind, {})
        # Deletions first: a rig has one card a day.
        yield from (RecordWrite(kind, id_, None) for id_ in have if id_ not in wanted)
        yield from (RecordWrite(kind, id_, record) for id_, record in wanted.items() if have.get(id_) != record)


def _settings(before: Whole, after: Whole) -> tuple[Settings | None, Settings | None]:
    """What of the settings moves, as it is and as it shall be."""
    shelves = [kind for kind in KINDS if _reordered(before.gear, after.gear, kind)]
    moves: dict[Setting, bool] = {
        "currency": before.gear.currency != after.gear.currency,
        "practice": before.practice != after.practice,
        "subjects": before.subjects != after.subjects,
        "order": bool(shelves),
    }
    if not any(moves.values()):
        return None, None
    settings, other = (
        {
            "currency": whole.gear.currency,
            "practice": whole.practice.model_dump(mode="json"),
            "subjects": [subject.model_dump(mode="json") for subject in whole.subjects],
            "order": {kind: _ids(whole.gear, kind) for kind in shelves},
        }
        for whole in (before, after)
    )
    return {key: settings[key] for key in moves if moves[key]}, {key: other[key] for key in moves if moves[key]}


def _ids(gear: Gear, kind: Kind) -> list[str]:
    return [item.id for item in items(gear, kind)]


def _reordered(before: Gear, after: Gear, kind: Kind) -> bool:
    """Whether a shelf's order is another than taking out, and adding at the end, comes to."""
    wanted = _ids(after, kind)
    left = set(wanted)
    stay = [id_ for id_ in _ids(before, kind) if id_ in left]
    return stay != wanted[: len(stay)]


def act(
    connection: Connection,
    changes: Changes,
    title: str,
    turns: Mapping[str, str] | None = None,
    progress: Progress | None = None,
) -> str:
    """Write the changes, their journal and a new revision; returns the action's id. What changes nothing is none."""
    action, at = str(uuid.uuid4()), now()
    if not changes:
        return action
    connection.execute(text("PRAGMA defer_foreign_keys = ON"))
    total = len(changes.writes) + len(changes.records)
    told = {"at": at, "title": title[:200], "items": total, "undone": None if turns else False}
    connection.execute(insert(ActionRow).values(id=action, **told, **(turns or {})))
    _write_items(connection, changes.writes, action, at, progress)
    for record in changes.records:
        records.write_record(connection, record.kind, record.id, record.after, action, at, amend=False)
    if changes.after is not None:
        _set(connection, changes.after)
        documents = {key: json.dumps(value) for key, value in (("before", changes.before), ("after", changes.after))}
        own = {"action": action, "at": at, "kind": SETTINGS, "item_id": "", "version": 0}
        connection.execute(insert(JournalRow).values(**own, **documents))
    if changes.writes or changes.after is not None:
        count_revision(connection)
    fold(connection, at)
    return action


def _write_items(
    connection: Connection, writes: Sequence[Write], action: str, at: str, progress: Progress | None
) -> None:
    done = 0
    for kind in KINDS:
        rows = [write for write in writes if write.kind == kind]
        for start in range(0, len(rows), _BATCH):
            batch = rows[start : start + _BATCH]
            write_rows(connection, kind, batch, action, at)
            done += len(batch)
            if progress is not None:
                progress(done, len(writes))


def _set(connection: Connection, settings: Settings) -> None:
    if "currency" in settings:
        set_meta(connection, "currency", settings["currency"])
    if "practice" in settings:
        set_meta(connection, "practice", Practice.model_validate(settings["practice"]).model_dump_json())
    if "subjects" in settings:
        keep_subjects(connection, [Subject.model_validate(setting) for setting in settings["subjects"]])
    for kind, order in settings.get("order", {}).items():
        put_in_order(connection, kind, order)


def turn(connection: Connection, action: Action, way: str) -> None:
    """Write the journal's documents of an action back (``undoes``) or again (``redoes``)."""
    writes: list[Write] = []
    kept: list[RecordWrite] = []
    before = after = None
    columns = (JournalRow.kind, JournalRow.item_id, JournalRow.before, JournalRow.after, JournalRow.position)
    rows = select(*columns).where(JournalRow.action == action.id).order_by(JournalRow.sequence)
    for row in connection.execute(rows):
        document, other = (row.before, row.after) if way == "undoes" else (row.after, row.before)
        if row.kind == SETTINGS:
            before, after = json.loads(other), json.loads(document)
        elif row.kind in records.MODELS:
            kind = cast(RecordKind, row.kind)
            record = None if document is None else records.MODELS[kind].model_validate_json(document)
            kept.append(RecordWrite(kind, row.item_id, record))
        else:
            model = MODELS[cast(Kind, row.kind)]
            entry = None if document is None else model.model_validate_json(document)
            writes.append(Write(row.kind, row.item_id, entry, row.position))
    kept.sort(key=lambda record_write: record_write.after is not None)
    title = f"{'Undone' if way == 'undoes' else 'Done again'}: {action.title}"
    act(connection, Changes(writes, kept, before, after), title, {way: action.id})
    own = update(ActionRow).where(ActionRow.id == action.id)
    connection.execute(own.values(undone=way == "undoes"))
