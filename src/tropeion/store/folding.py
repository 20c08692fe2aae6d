"""The journal is kept as long as its owner wants. What falls out is folded into the state, which stays as it is.

What falls out can no longer be taken back; everything later still can, and versions count on.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Final, Literal, get_args

from sqlalchemy import Connection, delete, func, or_, select, update

from .meta import meta, set_meta
from .tables import RECORDS, TABLES, ActionRow, JournalRow, Recorded, Row

Keep = Literal["all", "actions", "year"]
KEEPS: Final[tuple[Keep, ...]] = get_args(Keep)
# The number of actions that are kept, or a year of them and at least the last.
MOST_ACTIONS: Final = 1_000
LEAST_ACTIONS: Final = 50
_YEAR: Final = timedelta(days=365)
_TABLES: Final[dict[str, type[Row] | type[Recorded]]] = dict([*TABLES.items(), *RECORDS.items()])


def keep_in(connection: Connection) -> Keep:
    """How long the journal is kept."""
    name = meta(connection, "history")
    return next((keep for keep in KEEPS if keep == name), "year")


def set_keep(connection: Connection, keep: Keep) -> None:
    """Say how long the journal is kept."""
    set_meta(connection, "history", keep)


def would_fold(connection: Connection, keep: Keep, at: str) -> int:
    """How many actions would fall out."""
    first = _first_kept(connection, keep, at)
    own = (ActionRow.sequence < first, ActionRow.undone.is_not(None))
    return connection.scalar(select(func.count()).select_from(ActionRow).where(*own)) or 0


def fold(connection: Connection, at: str) -> None:
    """Let go of what falls out at a moment, inside a transaction of the caller."""
    first = _first_kept(connection, keep_in(connection), at)
    falls = select(ActionRow.id).where(ActionRow.sequence < first)
    if connection.scalar(select(func.count()).select_from(falls.subquery())) == 0:
        return
    old = JournalRow.action.in_(falls)
    latest = select(JournalRow.kind, JournalRow.item_id, func.max(JournalRow.sequence)).where(old)
    counters = [
        sequence
        for kind, item_id, sequence in connection.execute(latest.group_by(JournalRow.kind, JournalRow.item_id))
        if _counts_on(connection, kind, item_id, sequence)
    ]
    # An item that comes back counts on from the version that it had.
    nothing = {"action": "", "before": None, "after": None, "position": None}
    for sequence in counters:
        connection.execute(update(JournalRow).where(JournalRow.sequence == sequence).values(nothing))
    connection.execute(delete(JournalRow).where(old))
    connection.execute(delete(ActionRow).where(ActionRow.sequence < first))


def _counts_on(connection: Connection, kind: str, item_id: str, sequence: int) -> bool:
    """Whether this is the last that is known of something that is gone; an earlier counter of it is let go."""
    own = (JournalRow.kind == kind, JournalRow.item_id == item_id)
    connection.execute(delete(JournalRow).where(*own, JournalRow.action == ""))
    table = _TABLES.get(kind)
    if table is None:
        return False
    stands = connection.scalar(select(table.id).where(table.id == item_id)) is not None
    later = connection.scalar(select(JournalRow.sequence).where(*own, JournalRow.sequence > sequence).limit(1))
    return not stands and later is None


def _first_kept(connection: Connection, keep: Keep, at: str) -> int:
    """The place of the first action that stays."""
    if keep == "all":
        return 0
    most = MOST_ACTIONS if keep == "actions" else LEAST_ACTIONS
    own = select(ActionRow.sequence).where(ActionRow.undone.is_not(None)).order_by(ActionRow.sequence.desc())
    first = connection.scalar(own.offset(most - 1).limit(1))
    if first is None:
        return 0
    if keep == "year":
        since = (datetime.fromisoformat(at) - _YEAR).isoformat()
        young = connection.scalar(select(func.min(ActionRow.sequence)).where(ActionRow.at >= since))
        first = first if young is None else min(first, young)
    # An action is kept as long as the one that undid it.
    while True:
        turned = select(ActionRow.undoes, ActionRow.redoes).where(ActionRow.sequence >= first).subquery()
        names = or_(ActionRow.id.in_(select(turned.c.undoes)), ActionRow.id.in_(select(turned.c.redoes)))
        earlier = connection.scalar(select(func.min(ActionRow.sequence)).where(names))
        if earlier is None or earlier >= first:
            return first
        first = earlier
