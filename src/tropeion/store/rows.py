"""The rows of a collection's items: read as a whole, changed one by one, every change journalled."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from typing import Any

from sqlalchemy import Connection, bindparam, delete, func, insert, select, update

from tropeion.core.frozen import frozen
from tropeion.core.gear.changed import told_of
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, items

from .meta import meta
from .tables import DOCUMENTED, TABLES, JournalRow, Row


@frozen
class Write:
    """One row to change: its document after (None: removed), and the place it goes to."""

    kind: Kind
    id: str
    after: Entry | None
    position: int | None = None


def version_of(connection: Connection, kind: Kind, id_: str) -> int:
    """How often an item was changed; 0 if there is none of this id."""
    table = TABLES[kind]
    return connection.scalar(select(table.version).where(table.id == id_)) or 0


def versions_of(connection: Connection, kind: Kind, ids: Sequence[str]) -> dict[str, int]:
    """The same of many items; those that are not there are left out."""
    table = TABLES[kind]
    rows = connection.execute(select(table.id, table.version).where(table.id.in_(ids)))
    return {row.id: row.version for row in rows}


def read_gear(connection: Connection) -> Gear:
    """The whole collection."""
    parts = [
        f'"{kind}": [{",".join(connection.scalars(select(row.document).order_by(row.position, row.id)))}]'
        for kind, row in TABLES.items()
    ]
    currency = meta(connection, "currency") or "EUR"
    head = f'"format": "tropeion-gear", "version": 1, "currency": {json.dumps(currency)}'
    return Gear.model_validate_json("{" + ", ".join([head, *parts]) + "}")


def _document(entry: Entry) -> str:
    return json.dumps(entry.model_dump(mode="json", by_alias=True, exclude_defaults=True), ensure_ascii=False)


def columns_of(entry: Entry, table: type[Row]) -> dict[str, str | None]:
    """What stands in columns of its own: fields as they are, and the ids of items that a field names."""
    fields = {column.name: column.name.removesuffix("_id") for column in table.__table__.columns}
    own = {column: field for column, field in fields.items() if column not in DOCUMENTED}
    names: dict[str, str | None] = {column: getattr(entry, field) for column, field in own.items()}
    # A changed mount has no row: what is referred to is the item that it belongs to.
    return {key: told_of(id_) if id_ and key.endswith("_id") else id_ for key, id_ in names.items()}


def differences(before: Gear, after: Gear, kind: Kind) -> Iterator[Write]:
    """What has to be written of one kind to make one collection of the other."""
    have = {item.id: item for item in items(before, kind)}
    wanted = {item.id for item in items(after, kind)}
    for id_ in have:
        if id_ not in wanted:
            yield Write(kind, id_, None)
    for item in items(after, kind):
        if have.get(item.id) != item:
            yield Write(kind, item.id, item)


def put_in_order(connection: Connection, kind: Kind, order: Sequence[str]) -> None:
    """Put a shelf into an order; items that it does not name come last."""
    table = TABLES[kind]
    stands = list(connection.scalars(select(table.id).order_by(table.position, table.id)))
    named = {id_: place for place, id_ in enumerate(order)}
    wanted = sorted(stands, key=lambda id_: named.get(id_, len(named)))
    if wanted:
        connection.execute(
            update(table).where(table.id == bindparam("item")).values(position=bindparam("place")),
            [{"item": id_, "place": place} for place, id_ in enumerate(wanted)],
        )


def write_rows(connection: Connection, kind: Kind, writes: Sequence[Write], action: str, at: str) -> None:
    """Write some items of one kind, and a journal entry for each."""
    table = TABLES[kind]
    have, counted, free = _standing(connection, kind, [write.id for write in writes])
    added, changed, journal = [], [], []
    for write in writes:
        row = have.get(write.id)
        version = max(row.version if row else 0, counted.get(write.id, 0)) + 1
        position = row.position if row else write.position
        after = None if write.after is None else _document(write.after)
        if write.after is not None:
            values = {"name": write.after.name, "version": version, "document": after, **columns_of(write.after, table)}
            if row is not None:
                changed.append({"item": write.id, **values})
            else:
                if position is None:
                    position, free = free, free + 1
                added.append({"id": write.id, "position": position, **values})
        before = row.document if row else None
        told = {"item_id": write.id, "version": version, "before": before, "after": after, "position": position}
        journal.append({"action": action, "at": at, "kind": kind, **told})
    gone = [write.id for write in writes if write.after is None]
    if gone:
        connection.execute(delete(table).where(table.id.in_(gone)))
    if changed:
        columns: dict[str, Any] = {key: bindparam(key) for key in changed[0] if key != "item"}
        connection.execute(update(table).where(table.id == bindparam("item")).values(columns), changed)
    if added:
        connection.execute(insert(table), added)
    connection.execute(insert(JournalRow), journal)


def _standing(connection: Connection, kind: Kind, ids: Sequence[str]) -> tuple[dict[str, Any], dict[str, int], int]:
    """The rows as they are, the highest version that each item ever had, and the next free place.

    An item that comes back counts on from where it was, so that nothing read before passes for it.
    """
    table = TABLES[kind]
    rows = connection.execute(select(table.id, table.version, table.document, table.position).where(table.id.in_(ids)))
    journalled = connection.execute(
        select(JournalRow.item_id, func.max(JournalRow.version))
        .where(JournalRow.kind == kind, JournalRow.item_id.in_(ids))
        .group_by(JournalRow.item_id)
    )
    last = connection.scalar(select(func.max(table.position)))
    counted: dict[str, int] = {row[0]: row[1] for row in journalled}
    return {row.id: row for row in rows}, counted, 0 if last is None else last + 1
