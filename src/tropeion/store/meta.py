"""Single values kept with a collection: its currency, its revision, the practice of its owner."""

from __future__ import annotations

from sqlalchemy import Connection, insert, inspect, select, text, update

from .tables import MetaRow


def meta(connection: Connection, key: str) -> str | None:
    """One value, None if it was never kept."""
    return connection.scalar(select(MetaRow.value).where(MetaRow.key == key))


def set_meta(connection: Connection, key: str, value: str) -> None:
    """Keep one value."""
    if meta(connection, key) is None:
        connection.execute(insert(MetaRow).values(key=key, value=value))
    else:
        connection.execute(update(MetaRow).where(MetaRow.key == key).values(value=value))


def revision_of(connection: Connection) -> int:
    """Counts the actions that changed the gear."""
    return int(meta(connection, "revision") or 0)


def count_revision(connection: Connection) -> None:
    """One action more."""
    set_meta(connection, "revision", str(revision_of(connection) + 1))


def schema_of(connection: Connection) -> str | None:
    """The version of the schema, None where it says none."""
    if not inspect(connection).has_table("alembic_version"):
        return None
    version = connection.scalar(text("SELECT version_num FROM alembic_version"))
    return None if version is None else str(version)
