"""One SQLite file: its connections, and its schema brought up to date."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.pool import StaticPool

from .files import StoreError, check_soundness, copy_database, spare_name

__all__ = ["alembic_config", "bring_up_to_date", "open_engine"]

_MIGRATIONS = Path(__file__).parent / "migrations"


def open_engine(path: Path, *, readonly: bool = False) -> Engine:
    """An engine for one file; the reading one cannot write."""
    # A writer is one connection used under a lock; readers come from the default pool.
    options = {} if readonly else {"poolclass": StaticPool}
    engine = create_engine(f"sqlite:///{path}", connect_args={"check_same_thread": False, "timeout": 10}, **options)

    def connected(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        for pragma in ("journal_mode = WAL", "synchronous = FULL", "foreign_keys = ON", "trusted_schema = OFF"):
            connection.execute(f"PRAGMA {pragma}")
        if readonly:
            connection.execute("PRAGMA query_only = ON")

    def begun(connection: Connection) -> None:
        connection.exec_driver_sql("BEGIN" if readonly else "BEGIN IMMEDIATE")

    event.listen(engine, "connect", connected)
    event.listen(engine, "begin", begun)
    return engine


def bring_up_to_date(path: Path, engine: Engine) -> None:
    """Make or migrate the schema. Raises StoreError for a damaged or newer database; an older one is kept beside it."""
    if path.is_file():
        check_soundness(path)
        _keep_before_migration(path)
    with engine.begin() as connection:
        command.upgrade(alembic_config(connection), "head")


def alembic_config(connection: Connection | None = None) -> Config:
    """The migrations, to be run on a connection."""
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.set_main_option("path_separator", "os")
    config.attributes["connection"] = connection
    return config


def _keep_before_migration(path: Path) -> None:
    """Refuse a newer database; keep a copy of an older one beside it."""
    scripts = ScriptDirectory.from_config(alembic_config())
    with closing(sqlite3.connect(path)) as connection:
        found = connection.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if found else None
    if row is None or row[0] == scripts.get_current_head():
        return
    if row[0] not in {revision.revision for revision in scripts.walk_revisions()}:
        raise StoreError(f"the database {path} is of a newer version of Tropeion: update the program")
    copy_database(path, spare_name(path, f"before-update-from-{row[0]}"))
