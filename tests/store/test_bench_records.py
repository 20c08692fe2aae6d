"""Readings and trials in their tables: journalled, undone, struck out, outliving what they are about."""

from __future__ import annotations

import sqlite3
import uuid
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from tests.prepared import sample_at
from tropeion.core.gear.rig import Rig
from tropeion.core.records.bench_trial import BenchTrial, SawRecord
from tropeion.core.records.reading_series import Reading, ReadingSeries
from tropeion.core.records.record import About, begun
from tropeion.formats import gear_file
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, Edit
from tropeion.store.records import Kept

RING = "kel-ost-plain"
RIG = Rig.of("kel-55", "o7", [RING]).id


def series(*values: float, minute: int = 0, piece: str = RING, **more: object) -> ReadingSeries:
    return ReadingSeries(
        id=str(uuid.uuid4()),
        at=f"2026-11-26T09:{minute:02d}:00.000+00:00",
        items=(About(kind="adapters", id=piece),),
        piece_kind="adapters",
        piece=piece,
        quantity="length",
        day="2026-11-26",
        readings=tuple(Reading(mm=one) for one in values),
        **more,  # type: ignore[arg-type]
    )


def trial(error: float) -> BenchTrial:
    return BenchTrial(
        id=str(uuid.uuid4()),
        at="2026-11-26T10:00:00.000+00:00",
        items=begun(Rig.of("kel-55", "o7", [RING]).items)["items"],
        rig=RIG,
        day="2026-11-26",
        saw=(SawRecord(kind="length", values=(error, 0.01)),),
        error_mm=error,
        standard_uncertainty_mm=0.01,
    )


@pytest.fixture
def kept(tmp_path: Path) -> Iterator[Collection]:
    with closing(sample_at(tmp_path / "collection.sqlite")) as collection:
        yield collection


def of_ring(collection: Collection) -> tuple[ReadingSeries, ...]:
    return tuple(found.record for found in collection.records_of(ReadingSeries, piece_kind="adapters", piece=RING))


def test_series_of_a_piece_come_the_latest_first_and_those_of_another_apart(kept: Collection) -> None:
    first, second, other = series(25.8), series(25.9, minute=5), series(25.6, minute=9, piece="kel-ost-short")
    for one in (first, second, other):
        kept.keep_record(one, "readings")
    assert of_ring(kept) == (second, first)
    [found] = kept.records_of(ReadingSeries, piece_kind="adapters", piece="kel-ost-short")
    assert (found.record, found.version) == (other, 1)
    assert kept.record_of(ReadingSeries, id=first.id) == Kept(first, 1)
    assert kept.record_of(ReadingSeries, id=str(uuid.uuid4())) is None
    # A trial of the same id would be another thing.
    assert kept.record_of(BenchTrial, id=first.id) is None


def test_a_struck_series_is_still_there_and_undo_takes_the_striking_back(kept: Collection) -> None:
    one = series(25.8, 25.81)
    kept.keep_record(one, "readings")
    struck = one.model_copy(update={"struck": True, "struck_because": "dust"})
    kept.keep_record(struck, "struck out")
    assert of_ring(kept) == (struck,)
    assert kept.undo() is not None
    assert of_ring(kept) == (one,)
    assert kept.undo() is not None
    assert of_ring(kept) == ()
    assert kept.redo() is not None
    assert kept.redo() is not None
    assert of_ring(kept) == (struck,)


def test_a_reading_that_is_struck_out_does_not_count(kept: Collection) -> None:
    one = series(25.8, 25.9).model_copy(update={"readings": (Reading(mm=25.8), Reading(mm=25.9, struck="askew"))})
    kept.keep_record(one, "readings")
    [found] = of_ring(kept)
    assert [reading.mm for reading in found.counting] == [25.8]


def test_records_leave_the_world_and_its_revision_as_they_are(kept: Collection) -> None:
    world, revision = kept.world(), kept.revision
    kept.keep_record(series(25.8), "readings")
    kept.keep_record(trial(0.05), "a trial")
    assert kept.world() is world
    assert kept.revision == revision


def test_a_ring_with_readings_is_archived_rather_than_taken_out(kept: Collection) -> None:
    kept.keep_record(series(25.8), "readings")
    rigs = [one.id for one in kept.gear().rigs if RING in one.adapters]
    kept.edit([Edit("rigs", one, None, kept.version("rigs", one)) for one in rigs], "rigs removed")
    pairs = [one.id for one in kept.gear().pairs if RING in {one.a, one.b}]
    if pairs:
        kept.edit([Edit("pairs", one, None, kept.version("pairs", one)) for one in pairs], "pairs removed")
    kept.edit([Edit("adapters", RING, None, kept.version("adapters", RING))], "ring removed")
    assert kept.world().adapter(RING).retired
    assert kept.history(1)[0].title == "ring removed: archived, since records name it"


def test_they_travel_in_backups_and_not_in_gear_files(kept: Collection, tmp_path: Path) -> None:
    one, seen = series(25.8), trial(0.05)
    kept.keep_record(one, "readings")
    kept.keep_record(seen, "a trial")
    assert one.id.encode() not in gear_file.dump(kept.gear())
    copy = tmp_path / "backup.sqlite"
    backup(kept.path, copy)
    kept.keep_record(series(26.0, minute=3), "more readings")
    kept.keep_record(seen.model_copy(update={"struck": True}), "struck out")
    restore(kept.path, copy)
    assert of_ring(kept) == (one,)
    assert [found.record for found in kept.records_of(BenchTrial, rig=RIG)] == [seen]


def test_trials_are_found_by_their_rig_and_by_what_they_are_about(kept: Collection) -> None:
    seen = trial(0.05)
    kept.keep_record(seen, "a trial")
    assert [found.record for found in kept.records_of(BenchTrial, rig=RIG)] == [seen]
    assert kept.records_of(BenchTrial, rig=Rig.of("kel-55", "o7", []).id) == ()
    with closing(sqlite3.connect(kept.path)) as connection:
        rows = connection.execute("SELECT item_id FROM record_item WHERE kind = 'bench_trials' ORDER BY item_id")
        assert [one for (one,) in rows] == ["kel-55", "kel-ost-plain", "o7"]


def test_what_searching_needs_stands_in_columns_and_an_index(kept: Collection) -> None:
    with closing(sqlite3.connect(kept.path)) as connection:
        plan = " ".join(
            row[3]
            for row in connection.execute(
                "EXPLAIN QUERY PLAN SELECT document FROM reading_series WHERE piece_kind = ? AND piece = ?", ("a", "b")
            )
        )
    assert "ix_reading_series_piece" in plan
