"""The log while shooting: entries, rolls, the rig in hand; in and out as a file."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import BaseModel, Field

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Text
from tropeion.core.gear.world import World
from tropeion.core.log.in_hand import CannotHave, InHand, cannot_have, in_hand
from tropeion.core.log.log_checks import is_to_come, remarks_on
from tropeion.core.log.log_file import FiledEntry, LogFile
from tropeion.core.log.log_records import begun_of, entry_of, entry_record, records_in
from tropeion.core.log.log_words import name_of, rig_said, settings_said
from tropeion.core.log.rolls import next_frame
from tropeion.core.records.log_entry import LogEntry
from tropeion.core.records.log_others import FilmRoll, Roll
from tropeion.core.records.moments import SECOND_US, read_moment
from tropeion.core.records.record import Record, RecordId, now
from tropeion.formats.log_file import dump_log, load_log, log_schema
from tropeion.formats.log_table import entries_csv
from tropeion.store.collection import Collection
from tropeion.store.deeds import Deed
from tropeion.store.records import Kept

from .resource import resource
from .shared import BYTES, CollectionOf, OfRig, Sent, Written, attached

LOG_FILE_PATH = "/api/v1/log/file"
router = resource("/api/v1/log", "log")


class EntryLine(BaseModel):
    """An entry, its version, and what it says in words."""

    version: int
    entry: FiledEntry
    body_name: str
    rig_name: str
    says: str
    shot: str | None


class LogPage(BaseModel):
    """The latest entries, struck out ones too, and the time of this machine, by which a device corrects its own."""

    now: str
    entries: list[EntryLine]
    in_all: int


class EntrySent(Written):
    """An entry; its id is made where it was logged, so that sent twice it is kept once.

    What its rig cannot have is kept only with a reason, ``because``.
    """

    entry: FiledEntry
    because: Text = ""


class EntryChanged(EntrySent):
    """An entry upon the version that was read."""

    version: Annotated[int, Field(ge=1)]


class RigUsed(BaseModel):
    """A rig that was logged: by its ids and in words; the latest entry with it tells how it was set."""

    lens: str
    body: str
    via: list[str]
    name: str
    body_name: str
    last: FiledEntry
    entries: int


class RollPage(BaseModel):
    """A roll, its version, the frames that are logged and the number that comes next."""

    version: int
    roll: Roll
    logged: int
    next: int


class RollWritten(Written):
    """A roll as it is written; ``version`` 0: a new one."""

    roll: Roll
    version: Annotated[int, Field(ge=0)] = 0


class LogImported(BaseModel):
    """What a log file brought: records that are new, the same, and other than what stands."""

    new: int
    same: int
    other: list[str]
    written: bool


def line_of(world: World, kept: Kept[LogEntry]) -> EntryLine:
    """An entry as it is listed."""
    entry = entry_of(kept.record, kept.version)
    return EntryLine(
        version=kept.version,
        entry=entry,
        body_name=name_of(world, entry.body),
        rig_name=rig_said(world, entry),
        says=settings_said(entry),
        shot=entry.shot,
    )


@router.get("/entries")
def get_entries(
    collection: CollectionOf,
    limit: Annotated[int, Query(ge=1, le=500)] = 30,
    until: Annotated[str | None, Query(max_length=40)] = None,
) -> LogPage:
    """The latest entries by when they were; ``until`` a moment, for the earlier ones."""
    until_us = None if until is None else _instant("until", until)
    world = collection.world()
    return LogPage(
        now=now(),
        entries=[line_of(world, kept) for kept in collection.entries(limit, None, until_us)],
        in_all=collection.count_records(LogEntry),
    )


def _instant(place: str, text: str) -> int:
    try:
        moment = read_moment(text)
    except ValueError as error:
        raise NotPossibleError(place, str(error)) from None
    moment = moment if moment.tzinfo is not None else moment.replace(tzinfo=UTC)
    return int(moment.timestamp() * SECOND_US)


def checked_entry(world: World, entry: FiledEntry, because: str) -> FiledEntry:
    """The entry with the reason for what its rig cannot have. Raises NotPossibleError."""
    if is_to_come(entry.at, datetime.now(UTC)):
        raise NotPossibleError("at", f"{entry.at} is yet to come: set the clock of this device")
    remarks = cannot_have(world, entry)
    if not remarks:
        return entry
    if not because.strip():
        first = remarks[0]
        raise NotPossibleError(first.field, f"{first.text}: kept with a reason")
    told = "; ".join(remark.text for remark in remarks)
    note = f"{entry.note}\n{told}: {because}".strip()
    return entry.model_copy(update={"note": note[:4000]})


@router.post("/entries")
def post_entry(sent: EntrySent, collection: CollectionOf) -> EntryLine:
    """A new entry; one whose id stands already stays as it stands."""
    world = collection.world()
    standing = collection.record_of(LogEntry, id=sent.entry.id)
    if standing is not None:
        return line_of(world, standing)
    record = record_of_entry(checked_entry(world, sent.entry, sent.because))
    collection.take_records([record], f"Logged: {rig_said(world, sent.entry)} {settings_said(sent.entry)}".strip())
    kept = collection.record_of(LogEntry, id=record.id)
    assert kept is not None
    return line_of(world, kept)


def record_of_entry(entry: FiledEntry) -> LogEntry:
    """The record of an entry. Raises NotPossibleError for an id that no record may have."""
    try:
        return entry_record(entry)
    except ValueError:
        raise NotPossibleError("id", "letters, digits, dots, colons and hyphens, at most 64") from None


def corrected_entry(
    world: World, changed: FiledEntry, because: str, version: int, collection: Collection, deed: Deed | None = None
) -> Kept[LogEntry]:
    """Write an entry as it is now, upon the version that was read. Raises RecordMovedError, NotPossibleError."""
    standing = collection.record_of(LogEntry, id=changed.id)
    before = None if standing is None else entry_of(standing.record)
    same = before is not None and cannot_have(world, before) == cannot_have(world, changed)
    entry = changed if same else checked_entry(world, changed, because)
    record = record_of_entry(entry)

    def change(_: LogEntry) -> LogEntry:
        return record

    title = f"Log corrected: {rig_said(world, entry)} {settings_said(entry)}".strip()
    return collection.change_record(LogEntry, changed.id, change, title, version, deed)


@router.put("/entries/{id}")
def put_entry(id: RecordId, changed: EntryChanged, collection: CollectionOf) -> EntryLine:
    """An entry as it is now; refused where it changed since it was read."""
    world = collection.world()
    entry = changed.entry.model_copy(update={"id": id})
    return line_of(world, corrected_entry(world, entry, changed.because, changed.version, collection))


@router.post("/entries/check")
def post_entry_check(sent: EntrySent, collection: CollectionOf) -> list[CannotHave]:
    """What the rig of an entry cannot have; nothing is kept."""
    return cannot_have(collection.world(), sent.entry)


@router.get("/rig")
def get_log_rig(question: Annotated[OfRig, Query()], collection: CollectionOf) -> InHand:
    """What can be noted of a rig: the stops on its ring, its marks, and what only some rigs have."""
    return in_hand(collection.world(), question.rig)


@router.get("/rigs")
def get_log_rigs(collection: CollectionOf) -> list[RigUsed]:
    """The rigs that were logged last, one for each, the latest first."""
    world = collection.world()
    used: dict[tuple[str, str, tuple[str, ...]], RigUsed] = {}
    for kept in collection.entries(500):
        entry = entry_of(kept.record, kept.version)
        if entry.struck is not None:
            continue
        key = entry.lens, entry.body, entry.via
        if key in used:
            used[key].entries += 1
        elif len(used) < 12:
            names = rig_said(world, entry), name_of(world, entry.body)
            used[key] = RigUsed(
                lens=entry.lens,
                body=entry.body,
                via=list(entry.via),
                name=names[0],
                body_name=names[1],
                last=entry,
                entries=1,
            )
    return list(used.values())


def _roll_page(kept: Kept[FilmRoll], frames: list[int]) -> RollPage:
    roll = kept.record
    told = Roll(id=roll.name, body=roll.body, stock=roll.stock, first_number=roll.first_number, frames=roll.frames)
    return RollPage(version=kept.version, roll=told, logged=len(frames), next=next_frame(roll.first_number, frames))


def _frames(collection: Collection, roll: str) -> list[int]:
    entries = [kept.record for kept in collection.records_of(LogEntry, roll=roll, struck=False)]
    return [entry.frame_number for entry in entries if entry.frame_number is not None]


@router.get("/rolls")
def get_rolls(collection: CollectionOf) -> list[RollPage]:
    """Rolls of film, the latest first."""
    kept = collection.records_of(FilmRoll, struck=False)
    return [_roll_page(roll, _frames(collection, roll.record.name)) for roll in kept]


@router.put("/rolls")
def put_roll(written: RollWritten, collection: CollectionOf) -> RollPage:
    """A roll, begun or changed."""
    roll = written.roll
    fields = {name: getattr(roll, name) for name in ("body", "stock", "first_number", "frames")}
    record = FilmRoll(**begun_of(roll.body), name=roll.id, **fields)
    kept = collection.keep_record(record, f"Roll {roll.id}", written.version)
    return _roll_page(kept, _frames(collection, roll.id))


@router.get("/file", response_class=Response)
def get_log_file(collection: CollectionOf) -> Response:
    """The whole log as a log file."""
    return attached(dump_log(collection.log()), "tropeion-log.json", "application/json")


@router.get("/schema")
def get_log_schema() -> dict[str, object]:
    """The JSON Schema of the log file."""
    return log_schema()


@router.get("/table", response_class=Response)
def get_log_table(collection: CollectionOf) -> Response:
    """The entries as a CSV table."""
    table = entries_csv(collection.log(), collection.world())
    return attached(table.encode(), "tropeion-log.csv", "text/csv; charset=utf-8")


@router.post("/file", openapi_extra=BYTES)
def post_log_file(
    sent: Sent, collection: CollectionOf, take: Literal["look", "new", "replace"] = "look"
) -> LogImported:
    """A log file brought in, as one action: what is new, and where it says so what is other than what stands."""
    log = load_log(sent)
    wrong = remarks_on(log, datetime.now(UTC))
    if wrong:
        raise NotPossibleError("file", "; ".join(wrong[:20]))
    records = _records_in(log)
    taken = collection.take_records(records, "Log file imported", replacing=take == "replace", dry_run=take == "look")
    other = [f"{record.called} {record.id}" for record in taken.other]
    return LogImported(new=len(taken.new), same=len(taken.same), other=other, written=take != "look")


def _records_in(log: LogFile) -> list[Record]:
    try:
        return list(records_in(log, now()))
    except ValueError as error:
        raise NotPossibleError("file", str(error)[:300]) from None
