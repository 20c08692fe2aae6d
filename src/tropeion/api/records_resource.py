"""Records of every kind: listed, read, struck out. What is written is the resource's own; undo is the history's."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, Field

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Text
from tropeion.core.records.record import Record, RecordId, RecordKind
from tropeion.store.errors import UnknownRecordError
from tropeion.store.records import Kept
from tropeion.store.tables import RECORDS

from .resource import resource
from .shared import CollectionOf, Id, Written

router = resource("/api/v1/records", "records")


class RecordPage(BaseModel):
    """A record, and how often it was written."""

    version: int
    record: dict[str, Any]


class Strike(Written):
    """Why a record counts no more, and the version that was read; without one: whichever it is."""

    reason: Text = ""
    version: Annotated[int, Field(ge=1)] | None = None


def _page(kept: Kept[Any]) -> RecordPage:
    return RecordPage(version=kept.version, record=kept.record.model_dump(mode="json"))


@router.get("/{kind}")
def get_records(
    kind: RecordKind, collection: CollectionOf, about: Id | None = None, struck: bool = False
) -> list[RecordPage]:
    """The records of a kind, the latest first: those that count, or those struck out; ``about`` one item alone."""
    kept = collection.records_of(RECORDS[kind].model, struck=struck)
    return [_page(page) for page in kept if about is None or any(item.id == about for item in page.record.items)]


@router.get("/{kind}/{id}")
def get_record(kind: RecordKind, id: RecordId, collection: CollectionOf) -> RecordPage:
    """One record, struck out or not."""
    model = RECORDS[kind].model
    kept = collection.record_of(model, id=id)
    if kept is None:
        raise UnknownRecordError(model.called, id)
    return _page(kept)


@router.post("/{kind}/{id}/strike")
def post_record_strike(kind: RecordKind, id: RecordId, strike: Strike, collection: CollectionOf) -> RecordPage:
    """Strike a record out: it stays to be seen, counts no more, and undo brings it back."""
    model = RECORDS[kind].model
    kept = collection.record_of(model, id=id)
    if kept is not None and kept.record.struck:
        raise NotPossibleError("record", "it is struck out already")

    if model.wants_reason and not strike.reason:
        raise NotPossibleError("reason", f"a {model.called} is struck out with a reason")

    def struck(record: Record) -> Record:
        return record.model_copy(update={"struck": True, "struck_because": strike.reason})

    name = getattr(kept.record, "name", "") if kept is not None else ""
    called = model.called.capitalize() + (f" “{name}”" if name else "")
    title = f"{called} struck out{f': {strike.reason}' if strike.reason else ''}"
    return _page(collection.change_record(model, id, struck, title, strike.version))
