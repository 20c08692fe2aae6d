"""One collection taken into another: what is new, changed field by field, the same, and in conflict."""

from __future__ import annotations

import json
from collections.abc import Container, Iterable, Sequence
from typing import Any, Final, Literal, get_args

from tropeion.core.frozen import frozen

from .gear import Gear
from .kinds import KINDS, PIECES, Kind
from .kit import Entry, items

Status = Literal["new", "changed", "conflict", "same"]
STATUSES: Final = get_args(Status)

# Where these differ, one id most likely stands for two things.
_IDENTITY = frozenset({"mount", "lens_mount", "body_mount", "interface", "coupling"})


@frozen
class FieldChange:
    """One field before and after, as a gear file writes it; None where it is left out."""

    field: str
    before: str | None
    after: str | None


@frozen
class ItemChange:
    """What taking one item of the other collection would do.

    ``conflict``: the id is taken by something that sits on another mount, so that it is most likely another thing.
    """

    kind: Kind
    id: str
    name: str
    status: Status
    fields: tuple[FieldChange, ...] = ()


def compare(mine: Gear, theirs: Gear) -> tuple[ItemChange, ...]:
    """What each item of ``theirs`` would do to ``mine``, in the order of a gear file."""
    item_changes: list[ItemChange] = []
    for kind in KINDS:
        have = {item.id: item for item in items(mine, kind)}
        item_changes += [_change(kind, have.get(item.id), item) for item in items(theirs, kind)]
    return tuple(item_changes)


def merged(mine: Gear, theirs: Gear, taken: Container[tuple[str, str]]) -> Gear:
    """``mine`` with the items of ``theirs`` whose (kind, id) is among ``taken``; their order is kept, new ones last.

    The currency stays. References are not checked.
    """
    update: dict[str, Any] = {}
    for kind in KINDS:
        coming = {item.id: item for item in items(theirs, kind) if (kind, item.id) in taken}
        mine_now = [coming.pop(item.id, item) for item in items(mine, kind)]
        update[kind] = (*mine_now, *coming.values())
    return mine.model_copy(update=update)


def chosen(
    changes: Iterable[ItemChange],
    statuses: Container[Status],
    *,
    leave: Container[tuple[str, str]] = (),
    also: Container[tuple[str, str]] = (),
) -> frozenset[tuple[str, str]]:
    """Which items (kind, id) to take: those of some kinds of change but for a few, and a few besides."""
    return frozenset(
        key
        for change in changes
        for key in [(change.kind, change.id)]
        if key in also or (change.status in statuses and key not in leave)
    )


def _changed_fields(before: Entry, after: Entry) -> tuple[FieldChange, ...]:
    """The fields in which two states of one item differ."""
    old, new = _written(before), _written(after)
    return tuple(
        FieldChange(field, _said(old.get(field)), _said(new.get(field)))
        for field in sorted(old.keys() | new.keys())
        if old.get(field) != new.get(field)
    )


def _written(item: Entry) -> dict[str, Any]:
    return item.model_dump(mode="json", by_alias=True, exclude_defaults=True)


def _change(kind: Kind, before: Entry | None, after: Entry) -> ItemChange:
    if before is None:
        return ItemChange(kind, after.id, after.name, "new")
    fields = _changed_fields(before, after)
    if not fields:
        return ItemChange(kind, after.id, after.name, "same")
    conflict = any(change.field in _IDENTITY for change in fields)
    return ItemChange(kind, after.id, after.name, "conflict" if conflict else "changed", fields)


def _said(value: object) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)


def can_be_owned(changes: Sequence[ItemChange]) -> bool:
    """Whether something that is new is of a kind that somebody owns."""
    return any(change.status == "new" and change.kind in PIECES for change in changes)


def owned_where_new(theirs: Gear, changes: Sequence[ItemChange]) -> Gear:
    """A collection with what is new in it as owned."""
    new = {(change.kind, change.id) for change in changes if change.status == "new"}
    update: dict[str, Any] = {
        kind: tuple(
            value.model_copy(update={"owned": max(1, value.owned)}) if (kind, value.id) in new else value
            for value in getattr(theirs, kind)
        )
        for kind in PIECES
    }
    return theirs.model_copy(update=update)
