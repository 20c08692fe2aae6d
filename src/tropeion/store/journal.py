"""What was done: actions, the latest first, and what undo and redo would turn."""

from __future__ import annotations

from sqlalchemy import Connection, Row, Select, func, select

from tropeion.core.frozen import frozen

from .tables import ActionRow


@frozen
class Action:
    """Something that was done. ``undone`` while it is taken back."""

    id: str
    at: str
    title: str
    undone: bool
    items: int


def latest_actions(connection: Connection, limit: int) -> tuple[Action, ...]:
    """The actions that do something of their own, the latest first, with what was taken back since."""
    own = _own().where(ActionRow.undone.is_not(None)).order_by(ActionRow.sequence.desc()).limit(limit)
    return tuple(_action(row) for row in connection.execute(own))


def turnable(connection: Connection) -> tuple[Action | None, Action | None]:
    """The last action that stands, and the first one after it that was taken back and not given up since.

    What was taken back before something else was done is given up: doing it again would not lead where it led.
    """
    stands = _own().where(ActionRow.undone.is_(False)).order_by(ActionRow.sequence.desc()).limit(1)
    last = connection.execute(stands).first()
    after = -1 if last is None else last.sequence
    latest = connection.scalar(select(func.max(ActionRow.sequence)).where(ActionRow.undone.is_not(None))) or 0
    since = select(ActionRow.undoes).where(ActionRow.sequence > latest, ActionRow.undoes.is_not(None))
    undone = ActionRow.undone.is_(True), ActionRow.sequence > after, ActionRow.id.in_(since)
    first = connection.execute(_own().where(*undone).order_by(ActionRow.sequence).limit(1)).first()
    return None if last is None else _action(last), None if first is None else _action(first)


def _own() -> Select[int, str, str, str, bool | None, int]:
    return select(ActionRow.sequence, ActionRow.id, ActionRow.at, ActionRow.title, ActionRow.undone, ActionRow.items)


def _action(row: Row[int, str, str, str, bool | None, int]) -> Action:
    return Action(row.id, row.at, row.title, bool(row.undone), row.items)
