"""Databases of older versions, made of one of today's; and one that may not grow."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from alembic import command
from sqlalchemy import create_engine

from tropeion.core.gear.gear import Gear
from tropeion.store.collection import Collection
from tropeion.store.engine import alembic_config

__all__ = ["as_of", "fill_up", "first_edition"]


def first_edition(gear: Gear) -> Gear:
    """What of a collection the format's first edition could hold."""
    gone = {lens.id for lens in gear.lenses if lens.mount is None}
    return gear.model_copy(
        update={
            "protocols": tuple(one.model_copy(update={"powers": one.powers or ()}) for one in gear.protocols),
            "lenses": tuple(lens for lens in gear.lenses if lens.id not in gone),
            "accessories": (),
            "foils": (),
            "pairs": (),
            "rigs": tuple(rig.model_copy(update={"accessories": ()}) for rig in gear.rigs if rig.lens not in gone),
        }
    )


def as_of(path: Path, version: str) -> None:
    """Make a database what a version before had: its own tables, with what they can hold."""
    engine = create_engine("sqlite://")
    with closing(sqlite3.connect(path)) as connection, engine.connect() as older:
        with older.begin():
            command.upgrade(alembic_config(older), version)
        driver = older.connection.driver_connection
        assert isinstance(driver, sqlite3.Connection)
        for table in _tables(driver) - {"alembic_version"}:
            columns = [name for name in _columns(driver, table) if name in _columns(connection, table)]
            added = {"interface": "coalesce(json_extract(document, '$.interface'), id)"} if table == "mount" else {}
            added = {name: how for name, how in added.items() if name in _columns(driver, table)}
            rows = connection.execute(f"SELECT {', '.join([*columns, *added.values()])} FROM {table}").fetchall()
            names = [*columns, *added]
            driver.executemany(f"INSERT INTO {table} ({', '.join(names)}) VALUES ({', '.join('?' * len(names))})", rows)
        driver.commit()
        driver.backup(connection)
    engine.dispose()


def _tables(connection: sqlite3.Connection) -> set[str]:
    found = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    return {name for (name,) in found}


def _columns(connection: sqlite3.Connection, table: str) -> list[str]:
    return [row[1] for row in connection.execute(f"PRAGMA table_info({table})")]


def fill_up(collection: Collection) -> None:
    """From here on the file may not grow."""
    connection = collection._writer.raw_connection()
    connection.cursor().execute("PRAGMA max_page_count = 1")
    connection.close()
