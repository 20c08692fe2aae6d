"""Records in their tables: found, and written with the same journal as everything else.

A record's kind has a table of its own (``tables.RECORDS``) and a model (``MODELS``); a new kind is a line in each, a
migration, and its own queries here or beside.
"""

from __future__ import annotations

import json
from collections.abc import Collection as Many
from typing import Final, TypeVar

from sqlalchemy import Connection, delete, func, insert, select, update

from tropeion.core.gear.kinds import Kind
from tropeion.core.records.bench_trial import BenchTrial
from tropeion.core.records.card import Card, Use
from tropeion.core.records.corner_check import CornerCheck
from tropeion.core.records.outing import Outing
from tropeion.core.records.plan import Plan
from tropeion.core.records.record import Record, RecordKind
from tropeion.core.records.series import ReadingSeries
from tropeion.core.records.stored_lens import StoredLens

from .tables import (
    RECORDED,
    RECORDS,
    ActionRow,
    CardRow,
    JournalRow,
    OutingRow,
    RecordItemRow,
    StoredLensRow,
)

__all__ = [
    "MODELS",
    "card_of",
    "going_on",
    "kind_of",
    "named_in_records",
    "outing_of",
    "outings",
    "place_of",
    "read_document",
    "record_of",
    "records_of",
    "stored_in",
    "use_of_rigs",
    "version_of_record",
    "versions_stored",
    "write_record",
]

R = TypeVar("R", bound=Record)
MODELS: Final[dict[RecordKind, type[Record]]] = {
    "cards": Card,
    "stored_lenses": StoredLens,
    "corner_checks": CornerCheck,
    "outings": Outing,
    "reading_series": ReadingSeries,
    "bench_trials": BenchTrial,
    "plans": Plan,
}


def read_document(data: bytes) -> dict[RecordKind, dict[str, Record]]:
    """Records by kind and id, from a JSON document of lists by kind. Raises ValidationError."""
    found: dict[str, list[object]] = json.loads(data)
    made = {kind: [MODELS[kind].model_validate_json(json.dumps(one)) for one in found.get(kind, ())] for kind in MODELS}
    return {kind: {one.id: one for one in some} for kind, some in made.items()}


def card_of(connection: Connection, rig: str, day: str) -> Card | None:
    """The card of one rig on one day."""
    found = connection.scalar(select(CardRow.document).where(CardRow.rig == rig, CardRow.day == day))
    return None if found is None else Card.model_validate_json(found)


def use_of_rigs(connection: Connection) -> dict[str, Use]:
    """How often each rig's card was used, and on which day last; a card with nothing ticked was not."""
    found: dict[str, Use] = {}
    for rig, day, document in connection.execute(
        select(CardRow.rig, CardRow.day, CardRow.document).where(CardRow.struck.is_(False)).order_by(CardRow.day)
    ):
        if Card.model_validate_json(document).ticked:
            before = found.get(rig)
            found[rig] = Use(1 if before is None else before.days + 1, day)
    return found


def stored_in(connection: Connection, body: str) -> tuple[StoredLens, ...]:
    """What is stored in a body, by its places; emptied ones are left out."""
    rows = select(StoredLensRow.document).where(StoredLensRow.body == body, StoredLensRow.struck.is_(False))
    found = connection.scalars(rows.order_by(StoredLensRow.number))
    return tuple(StoredLens.model_validate_json(one) for one in found)


def place_of(connection: Connection, body: str, number: int) -> StoredLens | None:
    """One place of a body, emptied or not."""
    where = (StoredLensRow.body == body, StoredLensRow.number == number)
    found = connection.scalar(select(StoredLensRow.document).where(*where))
    return None if found is None else StoredLens.model_validate_json(found)


def versions_stored(connection: Connection, body: str) -> dict[int, int]:
    """The versions of the places of a body, emptied or not, by their numbers."""
    rows = connection.execute(select(StoredLensRow.number, StoredLensRow.version).where(StoredLensRow.body == body))
    return {row.number: row.version for row in rows}


def records_of(connection: Connection, model: type[R], **where: str) -> tuple[R, ...]:
    """Every record of a kind with these values in its columns, struck out or not, the latest first."""
    table = RECORDS[kind_of(model)]
    rows = select(table.document).where(*(getattr(table, column) == value for column, value in where.items()))
    return tuple(model.model_validate_json(one) for one in connection.scalars(rows.order_by(table.at.desc())))


def kind_of(model: type[Record]) -> RecordKind:
    """Under which kind a record is kept."""
    return next(kind for kind, one in MODELS.items() if one is model)


def record_of(connection: Connection, model: type[R], id_: str) -> R | None:
    """One record, struck out or not."""
    found = connection.scalar(select(RECORDS[kind_of(model)].document).where(RECORDS[kind_of(model)].id == id_))
    return None if found is None else model.model_validate_json(found)


def version_of_record(connection: Connection, model: type[Record], id_: str) -> int:
    """How often a record was written; 0 if there is none of this id."""
    table = RECORDS[kind_of(model)]
    return connection.scalar(select(table.version).where(table.id == id_)) or 0


def outing_of(connection: Connection, id_: str) -> tuple[Outing, int] | None:
    """An outing and its version, struck out or not."""
    row = connection.execute(select(OutingRow.document, OutingRow.version).where(OutingRow.id == id_)).first()
    return None if row is None else (Outing.model_validate_json(row.document), row.version)


def outings(connection: Connection) -> tuple[Outing, ...]:
    """Every outing that stands, the latest first."""
    rows = select(OutingRow.document).where(OutingRow.struck.is_(False)).order_by(OutingRow.at.desc())
    return tuple(Outing.model_validate_json(one) for one in connection.scalars(rows))


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


def going_on(connection: Connection, kind: RecordKind, id_: str, title: str | None = None) -> str | None:
    """The latest action of all, if it did nothing but change this record: ticking off a list is one thing to take back.

    None where something else was done or taken back since; with ``title``, where it was called otherwise.
    """
    last = connection.execute(select(ActionRow).order_by(ActionRow.sequence.desc()).limit(1)).first()
    if last is None or last.undoes is not None or last.redoes is not None:
        return None
    if title is not None and last.title != title:
        return None
    touched = connection.execute(select(JournalRow.kind, JournalRow.item_id).where(JournalRow.action == last.id)).all()
    return str(last.id) if {tuple(one) for one in touched} == {(kind, id_)} else None
