"""Records in their tables: found, and written with the same journal as everything else.

A record's kind is its class, and its table, which names that class; each has a place that holds one record of it.
"""

from __future__ import annotations

import json
from collections.abc import Collection as Many
from typing import Any, Final, Generic, TypeVar, cast

from sqlalchemy import Connection, Select, delete, func, insert, select, update

from tropeion.core.frozen import frozen
from tropeion.core.gear.kinds import Kind
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.log_records import LOG_MODELS, log_of
from tropeion.core.records.log_entry import LogEntry
from tropeion.core.records.record import Record, RecordKind

from .tables import RECORDED, RECORDS, ActionRow, JournalRow, LogEntryRow, RecordItemRow

R = TypeVar("R", bound=Record)
MODELS: Final[dict[RecordKind, type[Record]]] = {kind: table.model for kind, table in RECORDS.items()}


@frozen
class Kept(Generic[R]):
    """A record as it stands, and how often it was written."""

    record: R
    version: int


def read_document(data: bytes) -> dict[RecordKind, dict[str, Record]]:
    """Records by kind and id, from a JSON document of lists by kind. Raises ValidationError."""
    lists: dict[str, list[object]] = json.loads(data)
    made = {
        kind: [model.model_validate_json(json.dumps(each)) for each in lists.get(kind, ())]
        for kind, model in MODELS.items()
    }
    return {kind: {record.id: record for record in some} for kind, some in made.items()}


def records_kept(connection: Connection, model: type[R], where: dict[str, Any]) -> tuple[Kept[R], ...]:
    """Every record of a kind with these values in its columns, the latest first."""
    return tuple(_read(connection, model, _selected(model, where)))


def count_kept(connection: Connection, model: type[Record]) -> int:
    """How many records of a kind are not struck out."""
    table = RECORDS[model.kind]
    return connection.scalar(select(func.count()).select_from(table).where(table.struck.is_(False))) or 0


def entries_kept(
    connection: Connection, limit: int | None, since_us: int | None, until_us: int | None
) -> tuple[Kept[LogEntry], ...]:
    """The entries of the log in a span of time, struck out or not, the latest first by when they were."""
    table = LogEntryRow
    rows = select(table.document, table.version).order_by(table.instant.desc(), table.id)
    if since_us is not None:
        rows = rows.where(table.instant >= since_us)
    if until_us is not None:
        rows = rows.where(table.instant <= until_us)
    return tuple(_read(connection, LogEntry, rows.limit(limit)))


def read_log(connection: Connection, since_us: int | None = None, until_us: int | None = None) -> LogFile:
    """The entries of a span of time, and all else of the log; of two that say otherwise the later one holds."""
    entries = entries_kept(connection, None, since_us, until_us)
    others: list[Kept[Any]] = []
    for model in LOG_MODELS:
        others += () if model is LogEntry else records_kept(connection, model, {})
    return log_of([(kept.record, kept.version) for kept in (*entries, *reversed(others))])


def record_kept(connection: Connection, model: type[R], where: dict[str, Any]) -> Kept[R] | None:
    """The record with these values in its columns."""
    return next(iter(_read(connection, model, _selected(model, where).limit(1))), None)


def in_place_of(connection: Connection, record: R) -> Kept[R] | None:
    """What stands where this record belongs, struck out or not."""
    return record_kept(connection, type(record), {field: getattr(record, field) for field in record.place})


def _selected(model: type[Record], where: dict[str, Any]) -> Select[str, int]:
    table = RECORDS[model.kind]
    rows = select(table.document, table.version).order_by(table.at.desc())
    return rows.where(*(getattr(table, column) == value for column, value in where.items()))


def _read(connection: Connection, model: type[R], rows: Select[str, int]) -> list[Kept[R]]:
    return [Kept(model.model_validate_json(row.document), row.version) for row in connection.execute(rows)]


def named_in_records(connection: Connection, kind: Kind, ids: Many[str]) -> frozenset[str]:
    """Which of these items some record is about."""
    rows = select(RecordItemRow.item_id).where(RecordItemRow.item_kind == kind, RecordItemRow.item_id.in_(ids))
    return frozenset(connection.scalars(rows))


def write_record(
    connection: Connection, kind: RecordKind, id_: str, after: Record | None, action: str, at: str, *, amend: bool
) -> None:
    """Put a record in its place, or (None) take back that it was begun; journalled with ``action``.

    ``amend``: that action has changed this record already, and now ends here.
    """
    table = RECORDS[kind]
    row = connection.execute(select(table.version, table.document).where(table.id == id_)).first()
    last = select(func.max(JournalRow.version)).where(JournalRow.kind == kind, JournalRow.item_id == id_)
    version = max(row.version if row else 0, connection.scalar(last) or 0) + 1
    document = None if after is None else after.model_dump_json(exclude_defaults=True)
    if after is None:
        connection.execute(delete(table).where(table.id == id_))
    else:
        names = {column.name for column in table.__table__.columns} - RECORDED
        values = {"at": after.at, "struck": after.struck, "version": version, "document": document}
        values |= {name: getattr(after, name) for name in names}
        if row is None:
            connection.execute(insert(table).values(id=id_, **values))
        else:
            connection.execute(update(table).where(table.id == id_).values(**values))
    _point(connection, kind, id_, after)
    if amend:
        own = JournalRow.action == action
        connection.execute(update(JournalRow).where(own).values(after=document, version=version, at=at))
    else:
        told = {"version": version, "before": row.document if row else None, "after": document}
        connection.execute(insert(JournalRow).values(action=action, at=at, kind=kind, item_id=id_, **told))


def _point(connection: Connection, kind: RecordKind, id_: str, record: Record | None) -> None:
    """Keep which items a record is about."""
    connection.execute(delete(RecordItemRow).where(RecordItemRow.record == id_))
    about = [] if record is None else record.items
    if about:
        rows = [{"record": id_, "kind": kind, "item_kind": item.kind, "item_id": item.id} for item in about]
        connection.execute(insert(RecordItemRow), rows)


def going_on(connection: Connection, record: Record, title: str) -> str | None:
    """The latest action of all, if it did nothing but change this record under this title; else None."""
    last = connection.execute(select(ActionRow).order_by(ActionRow.sequence.desc()).limit(1)).first()
    if last is None or last.undoes is not None or last.redoes is not None or last.title != title:
        return None
    touched = connection.execute(select(JournalRow.kind, JournalRow.item_id).where(JournalRow.action == last.id)).all()
    return cast(str, last.id) if {tuple(row) for row in touched} == {(record.kind, record.id)} else None
