"""Records in their tables: found, and written with the same journal as everything else.

A record's kind has a table of its own (``tables.RECORDS``) and a model (``MODELS``); a new kind is a line in each, a
migration, and its own queries here or beside.
"""

from __future__ import annotations

from collections.abc import Collection as Many
from typing import Final

from sqlalchemy import Connection, delete, func, insert, select, update

from tropeion.core.gear.kinds import Kind
from tropeion.core.records.card import Card
from tropeion.core.records.record import Record, RecordKind

from .tables import RECORDED, RECORDS, ActionRow, CardRow, JournalRow, RecordItemRow

__all__ = ["MODELS", "card_of", "going_on", "named_in_records", "write_record"]

MODELS: Final[dict[RecordKind, type[Card]]] = {"cards": Card}


def card_of(connection: Connection, rig: str, day: str) -> Card | None:
    """The card of one rig on one day."""
    found = connection.scalar(select(CardRow.document).where(CardRow.rig == rig, CardRow.day == day))
    return None if found is None else Card.model_validate_json(found)


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
        rows = [{"record": id_, "kind": kind, "item_kind": one.kind, "item_id": one.id} for one in about]
        connection.execute(insert(RecordItemRow), rows)


def going_on(connection: Connection, kind: RecordKind, id_: str) -> str | None:
    """The latest action of all, if it did nothing but change this record: ticking off a list is one thing to take back.

    None where something else was done or taken back since.
    """
    last = connection.execute(select(ActionRow).order_by(ActionRow.sequence.desc()).limit(1)).first()
    if last is None or last.undoes is not None or last.redoes is not None:
        return None
    touched = connection.execute(select(JournalRow.kind, JournalRow.item_id).where(JournalRow.action == last.id)).all()
    return str(last.id) if {tuple(one) for one in touched} == {(kind, id_)} else None
