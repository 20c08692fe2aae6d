"""The collection on disk."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import create_engine

from tropeion.core.gear.gear import Gear
from tropeion.core.practice import Practice
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes
from tropeion.store.collection import Collection
from tropeion.store.engine import APPLICATION_ID, HEAD, known_versions
from tropeion.store.errors import StoreError
from tropeion.store.tables import Base


def test_what_is_stored_is_what_is_read(empty_collection: Collection, sample_gear: Gear) -> None:
    empty_collection.replace(sample_gear)
    assert gear_file.dump(empty_collection.gear()) == sample_bytes()


def test_a_new_collection_is_empty(empty_collection: Collection) -> None:
    assert gear_file.dump(empty_collection.gear()) == gear_file.dump(Gear(format="tropeion-gear", version=1))


def _without(gear: Gear, lens: str) -> Gear:
    lenses = tuple(item for item in gear.lenses if item.id != lens)
    rigs = tuple(rig for rig in gear.rigs if rig.lens != lens)
    return gear.model_copy(update={"lenses": lenses, "rigs": rigs})


def _journal(path: Path) -> list[tuple[str, str, int, bool, bool]]:
    with closing(sqlite3.connect(path)) as connection:
        rows = connection.execute(
            "SELECT kind, item_id, version, before IS NOT NULL, after IS NOT NULL FROM journal ORDER BY sequence"
        )
        return [(kind, id_, version, bool(before), bool(after)) for kind, id_, version, before, after in rows]


def test_every_change_is_journalled_once(empty_collection: Collection, sample_gear: Gear) -> None:
    total = empty_collection.replace(sample_gear)
    assert total == len(_journal(empty_collection.path))
    assert empty_collection.replace(sample_gear) == 0
    assert empty_collection.replace(_without(sample_gear, "brn-52")) == 1
    assert _journal(empty_collection.path)[-1] == ("lenses", "brn-52", 2, True, False)
    renamed = sample_gear.lenses[0].model_copy(update={"name": "Another name"})
    changed = _without(sample_gear, "brn-52").model_copy(
        update={"lenses": (renamed, *_without(sample_gear, "brn-52").lenses[1:])}
    )
    assert empty_collection.replace(changed) == 1
    assert _journal(empty_collection.path)[-1] == ("lenses", "kel-55", 2, True, True)


def test_the_order_of_the_file_is_kept(empty_collection: Collection, sample_gear: Gear) -> None:
    empty_collection.replace(sample_gear)
    turned = sample_gear.model_copy(update={"lenses": tuple(reversed(sample_gear.lenses))})
    empty_collection.replace(turned)
    assert empty_collection.gear() == turned


def test_the_world_is_swapped_after_a_write_and_only_then(empty_collection: Collection, sample_gear: Gear) -> None:
    empty_collection.replace(sample_gear)
    before = empty_collection.world()
    assert empty_collection.world() is before
    empty_collection.set_practice(Practice(trust="cautious"))
    assert empty_collection.world() is before
    empty_collection.replace(_without(sample_gear, "brn-52"))
    assert "brn-52" not in empty_collection.world().lenses
    assert "brn-52" in before.lenses


def test_a_write_of_another_program_is_seen(empty_collection: Collection, sample_gear: Gear) -> None:
    assert len(empty_collection.world().lenses) == 0
    with closing(Collection(empty_collection.path)) as other:
        other.replace(sample_gear)
    assert len(empty_collection.world().lenses) == len(sample_gear.lenses)


def test_practice_is_kept(empty_collection: Collection) -> None:
    assert empty_collection.practice() == Practice()
    wanted = Practice(trust="cautious", distances="imperial")
    empty_collection.set_practice(wanted)
    with closing(Collection(empty_collection.path)) as again:
        assert again.practice() == wanted


def test_the_migrations_make_the_tables_of_the_models(empty_collection: Collection) -> None:
    engine = create_engine(f"sqlite:///{empty_collection.path}")
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
    engine.dispose()


def test_the_newest_schema_is_that_of_the_last_migration(empty_collection: Collection) -> None:
    assert known_versions()[-1] == HEAD
    with closing(sqlite3.connect(empty_collection.path)) as connection:
        assert connection.execute("PRAGMA application_id").fetchone() == (APPLICATION_ID,)


def test_it_runs_in_wal_with_foreign_keys(empty_collection: Collection, sample_gear: Gear) -> None:
    empty_collection.replace(sample_gear)
    with closing(sqlite3.connect(empty_collection.path)) as connection:
        assert connection.execute("PRAGMA journal_mode").fetchone() == ("wal",)
        connection.execute("PRAGMA foreign_keys = ON")
        with pytest.raises(sqlite3.IntegrityError):
            connection.execute("DELETE FROM mount WHERE id = 'kelvane'")


def test_a_reader_cannot_write(empty_collection: Collection) -> None:
    with empty_collection._reader.connect() as connection, pytest.raises(Exception, match="readonly"):
        connection.exec_driver_sql("DELETE FROM mount")


def test_a_newer_database_is_refused(empty_collection: Collection) -> None:
    empty_collection.close()
    with closing(sqlite3.connect(empty_collection.path)) as connection, connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    with pytest.raises(StoreError, match="newer version"):
        Collection(empty_collection.path)
