"""Trials: how a rig did at a stop, whose test it was, which of them count, and what they come to."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.gear.tried import UsableFrom, usable_of, usable_said
from tropeion.core.gear.world import World
from tropeion.core.log.log_checks import is_to_come
from tropeion.core.log.log_file import FiledTrial, LogFile
from tropeion.core.log.log_records import records_in
from tropeion.core.log.log_words import name_of
from tropeion.core.log.trial_words import SOURCES, trial_said
from tropeion.core.records.record import Record, now
from tropeion.core.records.trials import PieceEvent, PieceLife, RigTrial, Trial
from tropeion.core.records.usable_from import Dated, corner_soft, firmware_in, not_counted
from tropeion.store.collection import Collection
from tropeion.store.records import Kept

from .resource import resource
from .shared import CollectionOf, Id, Ids, Written

router = resource("/api/v1/trials", "log")


class TrialLine(BaseModel):
    """A trial, its version, what it says in words, whose it is, and why it does not count (empty: it does)."""

    version: int
    trial: FiledTrial
    rig_name: str
    says: str
    whose: str
    not_counted: str


class UsableLine(BaseModel):
    """What the trials that count come to for one use."""

    row: UsableFrom
    says: str


class TriedRig(BaseModel):
    """A rig that was tried."""

    lens: str
    body: str | None
    via: list[str]
    name: str
    trials: int


class TrialsPage(BaseModel):
    """The trials of a rig, the widest stop first, or the latest of all; what those of a rig come to.

    Those that name no body are among those of every body. ``corners_soft``: in one that counts they are, and the centre
    is not. ``rigs`` are all that were tried.
    """

    trials: list[TrialLine]
    usable: list[UsableLine]
    corners_soft: bool
    rigs: list[TriedRig]


class TrialsSent(Written):
    """A ladder of trials, kept in one action; sent twice they are kept once."""

    trials: Annotated[list[FiledTrial], Field(min_length=1, max_length=40)]


class _TrialsOf(BaseModel):
    """A rig, or (nothing) everything that was tried; ``via`` are ids from the lens to the body, by commas."""

    lens: Id | None = None
    body: Id | None = None
    via: Ids = ""


def _filed(kept: Kept[RigTrial]) -> FiledTrial:
    record = kept.record
    fields = {name: getattr(record, name) for name in Trial.model_fields}
    return FiledTrial(**fields, id=record.id, at=record.at, struck=record.struck_because if record.struck else None)


def _pieces(world: World, trial: Trial) -> str:
    ids = (trial.lens, *trial.via, *([trial.body] if trial.body is not None else []))
    return " · ".join(name_of(world, id_) for id_ in ids)


def _not_counted(kept: Kept[RigTrial], events: list[PieceEvent], firmware: dict[str, str | None], world: World) -> str:
    record = kept.record
    why = not_counted(Dated(record, record.at, record.struck), events, firmware, lambda id_: name_of(world, id_))
    return f"{why}: {record.struck_because}" if record.struck else why


def _page(collection: Collection, asked: _TrialsOf) -> TrialsPage:
    world = collection.world()
    every = collection.records_of(RigTrial)
    events: list[PieceEvent] = [kept.record for kept in collection.records_of(PieceLife, struck=False)]
    firmware = firmware_in(world.gear)
    via = ids_in(asked.via)
    shown = [
        kept
        for kept in every
        if asked.lens is None
        or (
            kept.record.lens == asked.lens
            and kept.record.via == via
            and kept.record.body in {asked.body, None, *([kept.record.body] if asked.body is None else [])}
        )
    ]
    if asked.lens is not None:
        shown.sort(key=lambda kept: (kept.record.use, kept.record.aperture, kept.record.at))
    lines = [
        TrialLine(
            version=kept.version,
            trial=_filed(kept),
            rig_name=_pieces(world, kept.record),
            says=trial_said(kept.record),
            whose=SOURCES[kept.record.source],
            not_counted=_not_counted(kept, events, firmware, world),
        )
        for kept in shown
    ]
    rows = () if asked.lens is None else usable_of(world.tried, asked.lens, via, asked.body or "")
    return TrialsPage(
        trials=lines,
        usable=[UsableLine(row=row, says=usable_said(row)) for row in rows],
        corners_soft=asked.lens is not None and any(corner_soft(one.trial) for one in lines if not one.not_counted),
        rigs=_rigs(world, every),
    )


def _rigs(world: World, every: tuple[Kept[RigTrial], ...]) -> list[TriedRig]:
    found: dict[tuple[str, tuple[str, ...], str | None], TriedRig] = {}
    for kept in every:
        trial = kept.record
        key = trial.lens, trial.via, trial.body
        if key not in found:
            name = _pieces(world, trial)
            found[key] = TriedRig(lens=trial.lens, body=trial.body, via=list(trial.via), name=name, trials=0)
        found[key].trials += 1
    return list(found.values())


@router.get("")
def get_log_trials(asked: Annotated[_TrialsOf, Query()], collection: CollectionOf) -> TrialsPage:
    """The trials of a rig and what they come to; without one the latest of all."""
    return _page(collection, asked)


@router.post("")
def post_log_trials(sent: TrialsSent, collection: CollectionOf) -> TrialsPage:
    """Keep trials, in one action; one whose id stands already stays as it stands."""
    for number, trial in enumerate(sent.trials):
        if is_to_come(trial.at, datetime.now(UTC)):
            raise NotPossibleError(f"trials.{number}.at", f"{trial.at} is yet to come: set the clock of this device")
    try:
        records: list[Record] = list(records_in(LogFile(trials=tuple(sent.trials)), now()))
    except ValueError as error:
        raise NotPossibleError("trials", str(error)[:300]) from None
    first, world = sent.trials[0], collection.world()
    stops = "one stop" if len(records) == 1 else f"{len(records)} stops"
    collection.take_records(records, f"Tried: {_pieces(world, first)}, {stops}")
    rig = Rig(first.lens, first.body or "", first.via)
    return _page(collection, _TrialsOf(lens=rig.lens, body=first.body, via=",".join(rig.adapters)))
