"""What is done to a record in one action: kept in its place, or changed; upon the version that was read."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

from sqlalchemy import Connection

from tropeion.core.frozen import frozen
from tropeion.core.records.record import Record, now

from .acting import Changes, RecordWrite, act
from .errors import MovedError, RecordMovedError, UnknownRecordError
from .records import Kept, going_on, in_place_of, record_kept, write_record

R = TypeVar("R", bound=Record)


def keep(connection: Connection, record: R, title: str, version: int | None) -> Kept[R]:
    """Keep a record upon the one in its place, whose id and beginning it takes. Raises RecordMovedError, MovedError."""
    standing = in_place_of(connection, record)
    if standing is not None:
        record = record.model_copy(update={"id": standing.record.id, "at": standing.record.at})
    return _write(connection, standing, record, title, version)


def change(
    connection: Connection, model: type[R], id_: str, changed: Callable[[R], R], title: str, version: int | None
) -> Kept[R]:
    """Write what becomes of a record that stands. Raises UnknownRecordError, RecordMovedError."""
    standing = record_kept(connection, model, {"id": id_})
    if standing is None or standing.record.struck:
        raise UnknownRecordError(model.called, id_)
    return _write(connection, standing, changed(standing.record), title, version)


@frozen
class Taken:
    """What became of records that were brought in: begun, the same as what stands, and other than that."""

    new: tuple[Record, ...]
    same: tuple[Record, ...]
    other: tuple[Record, ...]


def take(
    connection: Connection, records: Sequence[Record], title: str, *, replacing: bool, dry_run: bool = False
) -> Taken:
    """Begin records in one action, each once however often it comes; ``replacing`` puts others in their places too.

    ``dry_run``: nothing is written.
    """
    new: list[Record] = []
    same: list[Record] = []
    other: list[Record] = []
    for record in records:
        standing = in_place_of(connection, record)
        if standing is None:
            new.append(record)
            continue
        # What came from elsewhere begins when it was brought in: that is not what it says.
        as_standing = record.model_copy(update={"id": standing.record.id, "items": standing.record.items})
        if "instant" not in type(record).__dict__:
            as_standing = as_standing.model_copy(update={"at": standing.record.at})
        (same if as_standing == standing.record else other).append(as_standing)
    writes = [*new, *(other if replacing else ())]
    if writes and not dry_run:
        act(
            connection, Changes(records=[RecordWrite(record.kind, record.id, record) for record in writes]), title[:200]
        )
    return Taken(tuple(new), tuple(same), tuple(other))


def _write(connection: Connection, standing: Kept[R] | None, record: R, title: str, version: int | None) -> Kept[R]:
    _check(standing, version)
    if standing is not None and standing.record == record:
        return standing
    action = None
    if standing is not None and _only_ticked(standing.record, record):
        title = f"{title}{record.ticked_as}"
        action = going_on(connection, record, title)
    if action is None:
        act(connection, Changes(records=[RecordWrite(record.kind, record.id, record)]), title[:200])
    else:
        write_record(connection, record.kind, record.id, record, action, now(), amend=True)
    written = in_place_of(connection, record)
    assert written is not None
    return written


def _only_ticked(before: Record, after: Record) -> bool:
    """Whether nothing but a list that is ticked off differs: ticking it off is one thing to take back."""
    ticks = after.ticks
    return ticks != "" and before.model_copy(update={ticks: getattr(after, ticks)}) == after


def _check(standing: Kept[R] | None, version: int | None) -> None:
    """That a record is at the version that somebody read (0: not begun); None: whichever it is."""
    if version is None:
        return
    if standing is None and version:
        raise MovedError
    if standing is not None and version != standing.version:
        raise RecordMovedError(standing.record.kind, standing.record, standing.version)
