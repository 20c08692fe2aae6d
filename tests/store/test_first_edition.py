"""A database that the program before the format's second edition left, opened by this one."""

from __future__ import annotations

import gzip
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.store.collection import Collection, Edit

OLD = Path(__file__).parents[1].joinpath("first_edition", "collection.sqlite.gz")


@pytest.fixture
def path(tmp_path: Path) -> Path:
    path = tmp_path / "collection.sqlite"
    path.write_bytes(gzip.decompress(OLD.read_bytes()))
    with closing(sqlite3.connect(path)) as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == ("0005",)
    return path


def test_every_item_is_there_and_the_old_file_is_kept(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection:
        ids = {
            table: {row[0] for row in connection.execute(f"SELECT id FROM {table}")}
            for table in ("protocol", "mount", "body", "lens", "adapter", "rig")
        }
    with closing(Collection(path)) as collection:
        gear = collection.gear()
    shelves = (gear.protocols, gear.mounts, gear.bodies, gear.lenses, gear.adapters, gear.rigs)
    assert [{item.id for item in shelf} for shelf in shelves] == list(ids.values())
    assert all(ids.values())
    assert (gear.accessories, gear.foils, gear.pairs) == ((), (), ())
    assert list(path.parent.glob("collection.before-update-from-0005-*.sqlite"))


def test_what_was_not_said_is_unknown_and_a_silent_protocol_goes_on_powering_nothing(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection:
        silent = "SELECT id FROM protocol WHERE json_extract(document, '$.powers') IS NULL"
        assert connection.execute(silent).fetchall() == [("kel-data",)]
    with closing(Collection(path)) as collection:
        world = collection.world()
    assert world.protocols["kel-data"].powers == ()
    assert world.protocols["ost-link-1"].powers == ("iris", "focus")
    assert world.mounts["tolmer"].play_mm is None
    assert world.mounts["kelvane"].play_mm == 0.03
    assert world.lenses["kel-55"].marked_f_numbers is None


def test_it_is_edited_and_taken_back_as_ever(path: Path) -> None:
    with closing(Collection(path)) as collection:
        before = find(collection.gear(), "lenses", "kel-55")
        assert before.notes == "Cleaned by the workshop."
        collection.undo()
        assert find(collection.gear(), "lenses", "kel-55").notes.startswith("Found in the organist's cupboard.")
        collection.redo()
        lens = find(collection.gear(), "lenses", "kel-55")
        assert isinstance(lens, Lens)
        assert lens == before
        bare = lens.model_copy(update={"id": "barrel", "mount": None, "generation": None, "features": None})
        collection.edit([Edit("lenses", "barrel", bare, 0)], "added")
    with closing(Collection(path)) as again:
        assert find(again.gear(), "lenses", "barrel") == bare


def test_the_new_sample_goes_over_it(path: Path, sample_gear: Gear) -> None:
    with closing(Collection(path)) as collection:
        before = collection.gear()
        collection.replace(sample_gear)
        assert collection.gear() == sample_gear
        collection.undo()
        assert collection.gear() == before
