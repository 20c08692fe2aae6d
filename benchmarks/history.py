"""A collection with ten thousand actions behind it: what was done, and taking the last of it back."""

from __future__ import annotations

import tempfile
import uuid
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from sqlalchemy import func, insert, select

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.core.records.record import now
from tropeion.store.collection import Collection, Edit
from tropeion.store.tables import ActionRow, JournalRow

__all__ = ["measure"]

Report = Callable[..., None]
ACTIONS = 10_000


def measure(gear: Gear, report: Report, milliseconds: Callable[[Callable[[], object], int], float]) -> None:
    """Both figures of the issue, beside counting every action anew."""
    with tempfile.TemporaryDirectory() as folder, closing(Collection(Path(folder) / "long.sqlite")) as collection:
        collection.replace(gear)
        _grow(collection, gear)
        read = milliseconds(lambda: (collection.history(), collection.turnable()), 30)
        naive = milliseconds(lambda: _all_anew(collection), 5)
        report(f"history and what undo would turn, {ACTIONS} actions", read, 30, "ms", naive, "counting all of them")
        turned = milliseconds(lambda: (collection.undo(), collection.redo()), 30)
        report(f"undo and redo, {ACTIONS} actions", turned / 2, 30, "ms")


def _grow(collection: Collection, gear: Gear) -> None:
    """Written at once: ten thousand edits would take a minute."""
    lens = find(gear, "lenses", "kel-55")
    assert isinstance(lens, Lens)
    documents = [
        lens.model_copy(update={"price": float(price)}).model_dump_json(by_alias=True, exclude_defaults=True)
        for price in range(ACTIONS + 1)
    ]
    ids = [str(uuid.uuid4()) for _ in range(ACTIONS)]
    at = now()
    with collection._write() as connection:
        connection.execute(
            insert(ActionRow),
            [{"id": id_, "at": at, "title": "A lens changed", "undone": False, "items": 1} for id_ in ids],
        )
        connection.execute(
            insert(JournalRow),
            [
                {"action": id_, "at": at, "kind": "lenses", "item_id": lens.id, "version": number + 2}
                | {"before": documents[number], "after": documents[number + 1]}
                for number, id_ in enumerate(ids)
            ],
        )
    version = collection.version("lenses", lens.id)
    changed = lens.model_copy(update={"price": float(ACTIONS)})
    collection.edit([Edit("lenses", lens.id, changed, version)], "the last one")


def _all_anew(collection: Collection) -> int:
    with collection._read() as connection:
        rows = connection.execute(select(ActionRow.id, ActionRow.undoes, ActionRow.redoes).order_by(ActionRow.sequence))
        undone = {row.undoes for row in rows}
        counts = connection.execute(select(JournalRow.action, func.count()).group_by(JournalRow.action))
        return len(undone) + len(list(counts))
