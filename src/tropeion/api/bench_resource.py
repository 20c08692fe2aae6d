"""A piece on the bench: what of it is measured, its readings as records, and a measurement written to the piece."""

from __future__ import annotations

import json
from typing import Annotated

from fastapi import Path, Query
from pydantic import BaseModel, Field

from tropeion.core.answers.effects import Effect, effect_of
from tropeion.core.bench.quantities import PieceOnBench, Quantity, bench_piece, quantity_of
from tropeion.core.bench.rig_on_bench import before_of, rig_on_bench
from tropeion.core.bench.series import Before, SeriesReport, series_told, slips_of
from tropeion.core.bench.writing import with_measurement
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Date, Text, Word
from tropeion.core.gear.kinds import JoinedKind
from tropeion.core.gear.kit import Entry, find
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.gear.world import World
from tropeion.core.records.reading_series import Reading, ReadingSeries, Source
from tropeion.core.records.record import RecordId, begun
from tropeion.formats.entries import entry_document, load_entry
from tropeion.store.collection import Collection, Edit

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Ids, Written

router = resource("/api/v1/bench", "bench")

Mm = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]
# For a field of any unit; the model has the field's own bounds.
Value = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]
Part = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]
# Of a reading within its series, counted from 0.
Place = Annotated[int, Path(ge=0, lt=200)]


class _Piece(BaseModel):
    """The piece on the bench: a lens, a body or an adapter, by its kind and id."""

    kind: JoinedKind
    id: Id


class _Measuring(_Piece):
    """One length of a piece; the rig for which a wedge is told."""

    quantity: Word
    lens: Id | None = None
    body: Id | None = None
    via: Ids = ""


class SeriesWritten(Written):
    """Readings of one time as they are written, and what is known of the caliper."""

    readings: list[Reading] = Field([], max_length=200)
    zero_mm: Mm = 0.0
    resolution_mm: Part = 0.01
    error_mm: Part = 0.02
    source: Source = "typed"
    day: Date


class PiecePage(BaseModel):
    """A piece on the bench, every series that was read of it, the latest first, and its version.

    ``slips``: of each series the places of likely slips that nobody struck out or confirmed.
    """

    piece: PieceOnBench
    series: list[ReadingSeries]
    slips: dict[str, list[int]]
    version: int
    measured_on: str | None


class FieldChanged(BaseModel):
    """A field of a piece, as it is and as it would be."""

    name: str
    before: float | None
    after: float


class Said(BaseModel):
    """What readings say, how they came, and what of the piece that would change."""

    report: SeriesReport | None
    source: Source
    changes: list[FieldChanged]


class ReadingMarked(Written):
    """Why a reading counts no more, or that it is right."""

    struck: Text = ""
    confirmed: bool = False


class Measurement(Written):
    """What is written to a piece: fields, when they were measured, and how; upon the version that was read."""

    fields: Annotated[dict[Word, Value], Field(min_length=1, max_length=6)]
    day: Date
    says: Text
    version: Annotated[int, Field(ge=1)]


def _page(collection: Collection, kind: JoinedKind, id_: str) -> PiecePage:
    version = collection.version(kind, id_)
    world = collection.world()
    entry = find(world.gear, kind, id_)
    series = [kept.record for kept in collection.records_of(ReadingSeries, piece_kind=kind, piece=id_)]
    measured_on = getattr(entry, "measured_on", None)
    piece = bench_piece(world, kind, id_)
    lengths = {quantity.quantity: quantity for quantity in piece.quantities}
    slips = {
        reading_series.id: list(slips_of(reading_series, lengths[reading_series.quantity]))
        for reading_series in series
        if reading_series.quantity in lengths
    }
    return PiecePage(piece=piece, series=series, slips=slips, version=version, measured_on=measured_on)


def _quantity(world: World, asked: _Measuring) -> tuple[PieceOnBench, Quantity]:
    piece = bench_piece(world, asked.kind, asked.id)
    try:
        return piece, quantity_of(piece, asked.quantity)
    except ValueError as error:
        raise NotPossibleError("quantity", str(error)) from None


def _record(written: SeriesWritten, asked: _Measuring) -> ReadingSeries:
    return ReadingSeries(
        **begun([(asked.kind, asked.id)]),
        piece_kind=asked.kind,
        piece=asked.id,
        quantity=asked.quantity,
        **written.model_dump(include={"day", "zero_mm", "resolution_mm", "error_mm", "source"}),
        readings=tuple(written.readings),
    )


@router.get("/piece")
def get_bench_piece(asked: Annotated[_Piece, Query()], collection: CollectionOf) -> PiecePage:
    """A piece: what of it can be measured, where the jaws go, and what was read of it."""
    return _page(collection, asked.kind, asked.id)


@router.post("/readings")
def post_readings(written: SeriesWritten, asked: Annotated[_Measuring, Query()], collection: CollectionOf) -> Said:
    """What readings say, beside the series that were kept; with none in hand the latest kept one is told."""
    world = collection.world()
    piece, quantity = _quantity(world, asked)
    of_it = {"piece_kind": asked.kind, "piece": asked.id, "quantity": asked.quantity}
    kept = tuple(record.record for record in collection.records_of(ReadingSeries, **of_it))
    before = Before()
    if asked.lens is not None and asked.body is not None:
        rig = rig_on_bench(world, Rig(asked.lens, asked.body, ids_in(asked.via)), collection.practice())
        before = before_of(rig, asked.id)
    told = series_told(piece, quantity, _record(written, asked), kept, before)
    if told is None:
        return Said(report=None, source=written.source, changes=[])
    source, report = told
    stands = entry_document(find(world.gear, asked.kind, asked.id))
    changes = [FieldChanged(name=name, before=stands.get(name), after=value) for name, value in report.fields.items()]
    return Said(report=report, source=source, changes=changes)


@router.post("/series")
def post_series(written: SeriesWritten, asked: Annotated[_Measuring, Query()], collection: CollectionOf) -> PiecePage:
    """Keep readings of one time."""
    piece, quantity = _quantity(collection.world(), asked)
    if not written.readings:
        raise NotPossibleError("readings", "at least one reading")
    collection.keep_record(_record(written, asked), f"{piece.name}: {len(written.readings)} readings, {quantity.label}")
    return _page(collection, asked.kind, asked.id)


@router.put("/series/{id}/readings/{place}")
def put_reading(id: RecordId, place: Place, marked: ReadingMarked, collection: CollectionOf) -> PiecePage:
    """Strike out one reading, or say that it is right although it stands apart; undo takes that back."""

    def mark(series: ReadingSeries) -> ReadingSeries:
        readings = list(series.readings)
        if place >= len(readings):
            raise NotPossibleError("reading", f"the series has {len(readings)} readings, counted from 0")
        readings[place] = readings[place].model_copy(update=marked.model_dump())
        return series.model_copy(update={"readings": tuple(readings)})

    title = f"A reading struck out: {marked.struck}" if marked.struck else "A reading counts again"
    title = "A reading confirmed" if marked.confirmed else title
    series = collection.change_record(ReadingSeries, id, mark, title).record
    return _page(collection, series.piece_kind, series.piece)


def _measured(collection: Collection, kind: JoinedKind, id_: str, found: Measurement) -> Entry:
    """The piece with what was measured, its date, and the measurement among what is said of it."""
    document = entry_document(find(collection.world().gear, kind, id_))
    return load_entry(kind, json.dumps(with_measurement(document, found.fields, found.day, found.says)).encode())


@router.post("/preview")
def post_bench_preview(
    found: Measurement, asked: Annotated[_Piece, Query()], practice: PracticeOf, collection: CollectionOf
) -> Effect:
    """What writing a measurement to its piece would do to grades and saved rigs."""
    entry = _measured(collection, asked.kind, asked.id, found)
    return effect_of(collection.world(), asked.kind, asked.id, entry, practice)


@router.post("/write")
def post_bench_write(found: Measurement, asked: Annotated[_Piece, Query()], collection: CollectionOf) -> PiecePage:
    """Write a measurement to its piece; refused where the piece changed since it was read."""
    entry = _measured(collection, asked.kind, asked.id, found)
    collection.edit([Edit(asked.kind, asked.id, entry, found.version)], f"{entry.name} measured")
    return _page(collection, asked.kind, asked.id)
