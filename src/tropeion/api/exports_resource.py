"""Tables and selections of the collection, to be kept as files."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from fastapi import Response
from pydantic import BaseModel

from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, items, selection
from tropeion.formats import gear_file
from tropeion.formats.kit_tables import dump_table

from .resource import resource
from .shared import CollectionOf, attached

router = resource("/api/v1/export", "files")

Decimal = Literal["point", "comma"]


class Selected(BaseModel):
    """Some items of a kind, to take out."""

    kind: Kind
    ids: list[str]
    format: Literal["gear", "table"] = "gear"
    decimal: Decimal = "point"


@router.get("", response_class=Response)
def get_export(kind: Kind, collection: CollectionOf, decimal: Decimal = "point") -> Response:
    """One kind as a table. The whole collection is the gear itself."""
    return _table(kind, items(collection.world().gear, kind), decimal)


@router.post("", response_class=Response)
def post_export(selected: Selected, collection: CollectionOf) -> Response:
    """Some items: as a gear file, with all they need, or as a table."""
    gear, chosen = collection.world().gear, frozenset(selected.ids)
    if selected.format == "gear":
        data = gear_file.dump(selection(gear, selected.kind, chosen))
        return attached(data, f"tropeion-{selected.kind}.json", "application/json")
    entries = [item for item in items(gear, selected.kind) if item.id in chosen]
    return _table(selected.kind, entries, selected.decimal)


def _table(kind: Kind, entries: Sequence[Entry], decimal: Decimal) -> Response:
    return attached(dump_table(kind, entries, decimal=decimal), f"tropeion-{kind}.csv", "text/csv; charset=utf-8")
