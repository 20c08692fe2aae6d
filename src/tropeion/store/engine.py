"""One SQLite file: its connections, and its schema brought up to date."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING, Final

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.pool import StaticPool

from .errors import StoreError
from .files import check_soundness, copy_database, spare_name

if TYPE_CHECKING:
    from alembic.config import Config

_MIGRATIONS = Path(__file__).parent / "migrations"
# "TROP", in the header of every database since the fourth schema.
APPLICATION_ID: Final = 0x54524F50
# The schema of this program; a test holds it against the migrations.
HEAD: Final = "0014"


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


def reading_engine(path: Path) -> Engine:
    """An engine that neither makes nor changes a file, nor anything beside it where its folder cannot be written."""

    def connect() -> sqlite3.Connection:
        uri = path.absolute().as_uri()
        try:
            connection = sqlite3.connect(f"{uri}?mode=ro", uri=True, timeout=10, check_same_thread=False)
            connection.execute("SELECT 1 FROM sqlite_master LIMIT 1").fetchall()
        except sqlite3.OperationalError:
            # A folder that cannot be written has no room for the index of a log that is empty.
            log = path.with_name(f"{path.name}-wal")
            if log.is_file() and log.stat().st_size:
                raise
            connection = sqlite3.connect(f"{uri}?immutable=1", uri=True, check_same_thread=False)
        connection.execute("PRAGMA trusted_schema = OFF")
        return connection

    return create_engine("sqlite://", creator=connect, poolclass=StaticPool)


def bring_up_to_date(path: Path, engine: Engine) -> None:
    """Make or migrate the schema. Raises StoreError for a damaged or newer database; an older one is kept beside it."""
    version = None
    if path.is_file() and path.stat().st_size:
        check_soundness(path)
        with closing(sqlite3.connect(path, timeout=10)) as connection:
            version = version_in(connection)
    if version == HEAD:
        return
    from alembic import command  # noqa: PLC0415  half a second that most starts do not need

    if version is not None:
        if version not in known_versions():
            raise StoreError(f"the database {path} is of a newer version of Tropeion: update the program")
        copy_database(path, spare_name(path, f"before-update-from-{version}"))
    with engine.begin() as connection:
        command.upgrade(alembic_config(connection), "head")


def version_in(connection: sqlite3.Connection) -> str | None:
    """The schema of a database, None where it says none."""
    value = connection.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
    row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if value else None
    return None if row is None else str(row[0])


def known_versions() -> tuple[str, ...]:
    """The schemas that this program can bring up to date, the first one first."""
    from alembic.script import ScriptDirectory  # noqa: PLC0415

    scripts = ScriptDirectory.from_config(alembic_config())
    return tuple(reversed([revision.revision for revision in scripts.walk_revisions()]))


def alembic_config(connection: Connection | None = None) -> Config:
    """The migrations, to be run on a connection."""
    from alembic.config import Config  # noqa: PLC0415

    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.set_main_option("path_separator", "os")
    config.attributes["connection"] = connection
    return config
