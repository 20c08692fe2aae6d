"""A backup is whole, a restore is before or after, and what it replaces is kept."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from tropeion.core.gear.gear import Gear
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, StoreError


@pytest.fixture
def smaller(sample_gear: Gear) -> Gear:
    return sample_gear.model_copy(update={"lenses": sample_gear.lenses[:5], "rigs": ()})


def test_back_and_forth_while_it_runs(tmp_path: Path, sample_gear: Gear, smaller: Gear) -> None:
    path, kept = tmp_path / "collection.sqlite", tmp_path / "away" / "monday.sqlite"
    with closing(Collection(path)) as running:
        running.replace(sample_gear)
        backup(path, kept)
        running.replace(smaller)
        assert len(running.world().lenses) == 5
        before = restore(path, kept)
        # The one that runs sees it at once, without being opened anew.
        assert running.gear() == sample_gear
        assert len(running.world().lenses) == len(sample_gear.lenses)
        running.replace(smaller)
    assert before is not None
    with closing(Collection(before)) as old:
        assert old.gear() == smaller


def test_into_a_folder_that_is_empty(tmp_path: Path, sample_gear: Gear) -> None:
    with closing(Collection(tmp_path / "a.sqlite")) as collection:
        collection.replace(sample_gear)
    backup(tmp_path / "a.sqlite", tmp_path / "b.sqlite")
    assert restore(tmp_path / "new" / "collection.sqlite", tmp_path / "b.sqlite") is None
    with closing(Collection(tmp_path / "new" / "collection.sqlite")) as collection:
        assert collection.gear() == sample_gear


def test_what_is_no_backup_changes_nothing(tmp_path: Path, sample_gear: Gear) -> None:
    path = tmp_path / "collection.sqlite"
    with closing(Collection(path)) as collection:
        collection.replace(sample_gear)
    backup(path, tmp_path / "good.sqlite")
    whole = (tmp_path / "good.sqlite").read_bytes()
    bad = {
        "text": b"no database at all, but a letter to the organist",
        "half": whole[: len(whole) // 2],
        "other": b"",
    }
    for name, data in bad.items():
        (tmp_path / name).write_bytes(data)
    with closing(sqlite3.connect(tmp_path / "other")) as connection:
        connection.execute("CREATE TABLE alembic_version (version_num TEXT)")
        connection.execute("INSERT INTO alembic_version VALUES ('9999')")
        connection.commit()
    for name in bad:
        with pytest.raises(StoreError):
            restore(path, tmp_path / name)
    with pytest.raises(StoreError, match="no backup"):
        restore(path, tmp_path / "nowhere")
    with closing(Collection(path)) as collection:
        assert collection.gear() == sample_gear


def test_nothing_is_overwritten_by_a_backup(tmp_path: Path) -> None:
    with pytest.raises(StoreError, match="no collection"):
        backup(tmp_path / "none.sqlite", tmp_path / "b.sqlite")
    with closing(Collection(tmp_path / "a.sqlite")):
        pass
    (tmp_path / "b.sqlite").write_bytes(b"mine")
    with pytest.raises(StoreError, match="there already"):
        backup(tmp_path / "a.sqlite", tmp_path / "b.sqlite")
    assert (tmp_path / "b.sqlite").read_bytes() == b"mine"
