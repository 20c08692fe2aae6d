"""A piece's own record, who has what, and what was used."""

from __future__ import annotations

import csv
import io
from datetime import date
from typing import Annotated, cast

from fastapi import Depends, Request, Response
from pydantic import BaseModel

from tropeion.core.answers.used import UsedReport, used_report
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.log_records import records_in
from tropeion.core.log.log_words import name_of
from tropeion.core.log.piece_record import Happening, RecordedKind, Whereabouts, event_said, life_of, whereabouts
from tropeion.core.records.reading_series import ReadingSeries
from tropeion.core.records.record import Record, now
from tropeion.core.records.trials import PieceEvent, PieceLife, RigTrial
from tropeion.core.records.usable_from import Dated
from tropeion.formats.cells import text_cell
from tropeion.store.collection import Collection

from .grid_resource import Grids
from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Written, attached

router = resource("/api/v1/pieces", "log")


class PieceRecordPage(BaseModel):
    """A piece's record, the latest first; ``at`` says who has it where that is not simply oneself."""

    kind: RecordedKind
    id: str
    name: str
    at: Whereabouts | None
    life: list[Happening]


class EventNoted(Written):
    """Something that happened to a piece."""

    event: PieceEvent


class AwayPage(BaseModel):
    """What is lent, borrowed or gone; what has to be given back soon first."""

    pieces: list[Whereabouts]


def _grids(request: Request) -> Grids:
    return cast(Grids, request.app.state.grids)


GridsHere = Annotated[Grids, Depends(_grids)]


def _events(collection: Collection) -> list[tuple[str, PieceEvent]]:
    return [(kept.record.id, kept.record) for kept in collection.records_of(PieceLife, struck=False)]


def _record_page(collection: Collection, kind: RecordedKind, id_: str) -> PieceRecordPage:
    world = collection.world()
    shelf = {"lenses": world.lens, "bodies": world.body, "adapters": world.adapter}
    name = shelf[kind](id_).name
    events = _events(collection)
    series = [kept.record for kept in collection.records_of(ReadingSeries, struck=False)]
    trials = [Dated(kept.record, kept.record.at) for kept in collection.records_of(RigTrial, struck=False)]
    away = whereabouts(world, [event for _, event in events], date.today())
    return PieceRecordPage(
        kind=kind,
        id=id_,
        name=name,
        at=next((one for one in away if (one.kind, one.id) == (kind, id_)), None),
        life=list(life_of(world, kind, id_, events, series, trials, collection.log().entries)),
    )


@router.get("/away")
def get_pieces_away(collection: CollectionOf) -> AwayPage:
    """What is lent, borrowed or gone."""
    events = [event for _, event in _events(collection)]
    return AwayPage(pieces=list(whereabouts(collection.world(), events, date.today())))


@router.get("/used")
def get_used(practice: PracticeOf, collection: CollectionOf, grids: GridsHere) -> UsedReport:
    """What was used, by rig; and what would be lost with each lens."""
    return used_report(grids.of(collection, practice), collection.log().entries, date.today())


@router.get("/used/table", response_class=Response)
def get_used_table(practice: PracticeOf, collection: CollectionOf, grids: GridsHere) -> Response:
    """The same by rig, as a CSV table."""
    report = used_report(grids.of(collection, practice), collection.log().entries, date.today())
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["lens", "via", "body", "rig_name", "body_name", "frames", "outings", "last", "price"])
    for rig in report.rigs:
        words = [text_cell(text) for text in (rig.lens, " ".join(rig.via), rig.body, rig.rig_name, rig.body_name)]
        rows.writerow([*words, rig.frames, rig.outings, rig.last, "" if rig.price is None else rig.price])
    return attached(out.getvalue().encode(), "tropeion-used.csv", "text/csv; charset=utf-8")


@router.get("/{kind}/{id}/record")
def get_piece_record(kind: RecordedKind, id: Id, collection: CollectionOf) -> PieceRecordPage:
    """Everything that is known of one piece, along the time."""
    return _record_page(collection, kind, id)


@router.post("/events")
def post_piece_event(noted: EventNoted, collection: CollectionOf) -> PieceRecordPage:
    """Note what happened to a piece."""
    event, world = noted.event, collection.world()
    kind: RecordedKind = {"lens": "lenses", "body": "bodies", "adapter": "adapters"}.get(  # type: ignore[assignment]
        event.piece.kind, event.piece.kind
    )
    if event.on > date.today().isoformat():
        raise NotPossibleError("event.on", f"{event.on} is yet to come")
    _record_page(collection, kind, event.piece.id)
    records: list[Record] = list(records_in(LogFile(events=(event,)), now()))
    collection.take_records(records, f"{name_of(world, event.piece.id)}: {event_said(event)}"[:200])
    return _record_page(collection, kind, event.piece.id)
