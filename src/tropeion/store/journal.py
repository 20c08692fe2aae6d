"""What was done: actions, the latest last, and what undo and redo would turn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import Connection, func, select

from .tables import ActionRow, JournalRow

__all__ = ["Action", "actions", "turnable"]


@dataclass(frozen=True, slots=True)
class Action:
    """Something that was done. ``undone`` while it is taken back."""

    id: str
    at: str
    title: str
    undone: bool
    items: int


def actions(connection: Connection) -> list[Action]:
    """The actions that do something of their own, in order, with what was taken back since."""
    undone: dict[str, bool] = {}
    own = []
    columns = (ActionRow.id, ActionRow.at, ActionRow.title, ActionRow.undoes, ActionRow.redoes)
    for row in connection.execute(select(*columns).order_by(ActionRow.sequence)):
        if row.undoes is not None:
            undone[row.undoes] = True
        elif row.redoes is not None:
            undone[row.redoes] = False
        else:
            own.append(row)
    counts = {
        row[0]: row[1]
        for row in connection.execute(select(JournalRow.action, func.count()).group_by(JournalRow.action))
    }
    return [Action(row.id, row.at, row.title, undone.get(row.id, False), counts.get(row.id, 0)) for row in own]


def turnable(actions: Sequence[Action]) -> tuple[Action | None, Action | None]:
    """The last action that stands, and the first one after it that was taken back."""
    standing = [number for number, action in enumerate(actions) if not action.undone]
    undone = actions[standing[-1] + 1 if standing else 0 :]
    return actions[standing[-1]] if standing else None, undone[0] if undone else None
