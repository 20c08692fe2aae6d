"""The log file and the records of the log: one made of the other, and nothing lost on the way."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Iterator, Sequence
from typing import Any, Final

from tropeion.core.gear.changed import told_of
from tropeion.core.gear.kinds import PieceKind
from tropeion.core.gear.made import is_made
from tropeion.core.records.log_entry import LogEntry
from tropeion.core.records.log_others import Assignment, CameraSigns, Clock, ClockSet, FilmRoll, Roll, Settled, Signs
from tropeion.core.records.logged import Logged, LoggedId
from tropeion.core.records.record import About, Record, RecordBegun, begun
from tropeion.core.records.trials import PieceEvent, PieceLife, RigTrial, Trial

from .log_file import FiledEntry, FiledTrial, LogFile

_OURS: Final = uuid.UUID("5f0b3a52-6d0e-4c39-9a43-0f6f7b6c1a00")

_KINDS: Final[dict[str, PieceKind]] = {"lens": "lenses", "body": "bodies", "adapter": "adapters"}
LOG_MODELS: Final[tuple[type[Record], ...]] = (LogEntry, CameraSigns, Clock, FilmRoll, Assignment, RigTrial, PieceLife)


def about(body: LoggedId | None, lens: LoggedId | None, via: Iterable[LoggedId]) -> tuple[About, ...]:
    """The items that a rig of the log is made of, as far as they can be items of a collection."""
    named: list[tuple[PieceKind, str]] = []
    if lens is not None:
        named.append(("lenses", told_of(lens)))
    if body is not None:
        named.append(("bodies", told_of(body)))
    named += [("adapters", id_) for id_ in via if not is_made(id_)]
    return tuple(found for found in (_about(kind, id_) for kind, id_ in dict.fromkeys(named)) if found is not None)


def begun_of(body: LoggedId) -> RecordBegun:
    """What a record of a body begins with, also of one that the collection does not know."""
    told = begun(())
    told["items"] = about(body, None, ())
    return told


def _about(kind: PieceKind, id_: str) -> About | None:
    try:
        return About(kind=kind, id=id_)
    except ValueError:
        # No item of a collection can have such an id: it is named in the record alone.
        return None


def entry_record(entry: FiledEntry) -> LogEntry:
    """An entry of the file as a record."""
    return LogEntry(
        **_fields(entry, Logged),
        id=entry.id,
        at=entry.at,
        items=about(entry.body, entry.lens, entry.via),
        struck=entry.struck is not None,
        struck_because=entry.struck or "",
    )


def entry_of(record: LogEntry, version: int = 1) -> FiledEntry:
    """A record as an entry of the file."""
    struck = record.struck_because if record.struck else None
    return FiledEntry(**_fields(record, Logged), id=record.id, at=record.at, struck=struck, version=version)


def records_in(log: LogFile, at: str) -> Iterator[Record]:
    """Every line of a log file as a record, by the same id each time; ``at`` is when those began that do not say it."""
    for entry in log.entries:
        yield entry_record(entry)
    for camera in log.cameras:
        pieces = about(camera.body, None, ())
        signs = CameraSigns(**_fields(camera, Signs), id="camera", at=at, items=pieces)
        yield signs.model_copy(update={"id": _id("camera", signs.signature)})
    for clock in log.clocks:
        yield Clock(**_fields(clock, ClockSet), id=_id("clock", _told(clock)), at=at, items=about(clock.body, None, ()))
    for roll in log.rolls:
        fields = {name: getattr(roll, name) for name in ("body", "stock", "first_number", "frames")}
        yield FilmRoll(id=_id("roll", roll.id), at=at, items=about(roll.body, None, ()), name=roll.id, **fields)
    for settled in log.assignments:
        yield assignment_record(settled, at)
    for trial in log.trials:
        yield RigTrial(
            **_fields(trial, Trial),
            id=trial.id,
            at=trial.at,
            items=about(trial.body, trial.lens, trial.via),
            struck=trial.struck is not None,
            struck_because=trial.struck or "",
        )
    for event in log.events:
        kind = event.piece.kind
        piece = _about(_KINDS.get(kind, "adapters") if kind in _KINDS else kind, event.piece.id)  # type: ignore[arg-type]
        items = () if piece is None else (piece,)
        yield PieceLife(**_fields(event, PieceEvent), id=_id("event", _told(event)), at=at, items=items)


def assignment_record(settled: Settled, at: str) -> Assignment:
    """A settled doubt as a record."""
    pieces = about(settled.body, None, ())
    assignment = Assignment(**_fields(settled, Settled), id="picture", at=at, items=pieces)
    return assignment.model_copy(update={"id": _id("picture", assignment.picture)})


def log_of(records: Sequence[tuple[Record, int]]) -> LogFile:
    """Records with their versions as a log file; entries and trials in the order of time."""
    entries, trials = [], []
    cameras: list[Signs] = []
    clocks: list[ClockSet] = []
    rolls: list[Roll] = []
    assignments: list[Settled] = []
    events: list[PieceEvent] = []
    for record, version in records:
        match record:
            case LogEntry():
                entries.append(entry_of(record, version))
            case RigTrial():
                struck = record.struck_because if record.struck else None
                trials.append(FiledTrial(**_fields(record, Trial), id=record.id, at=record.at, struck=struck))
            case _ if record.struck:
                continue
            case CameraSigns():
                cameras.append(Signs(**_fields(record, Signs)))
            case Clock():
                clocks.append(ClockSet(**_fields(record, ClockSet)))
            case FilmRoll():
                rolls.append(roll_of(record))
            case Assignment():
                assignments.append(Settled(**_fields(record, Settled)))
            case PieceLife():
                events.append(PieceEvent(**_fields(record, PieceEvent)))
    return LogFile(
        cameras=tuple(cameras),
        entries=tuple(sorted(entries, key=lambda entry: (entry.instant_us, entry.id))),
        clocks=tuple(clocks),
        rolls=tuple(rolls),
        assignments=tuple(assignments),
        trials=tuple(sorted(trials, key=lambda trial: (trial.at, trial.id))),
        events=tuple(sorted(events, key=lambda event: event.on)),
    )


def roll_of(record: FilmRoll) -> Roll:
    """A roll as the file has it."""
    return Roll(
        id=record.name, body=record.body, stock=record.stock, first_number=record.first_number, frames=record.frames
    )


def _fields(
    item: Signs | ClockSet | Settled | PieceEvent | Trial | Logged,
    model: type[Signs | ClockSet | Settled | PieceEvent | Trial | Logged],
) -> dict[str, Any]:
    return {name: getattr(item, name) for name in model.model_fields}


def _told(item: ClockSet | PieceEvent) -> str:
    return json.dumps(item.model_dump(mode="json", exclude_defaults=True), sort_keys=True)


def _id(kind: str, said: str) -> str:
    return str(uuid.uuid5(_OURS, f"{kind} {said}"))
