"""Databases of older versions, made of one of today's; and one that may not grow."""

from __future__ import annotations

import sqlite3

from tropeion.store.collection import Collection

__all__ = ["as_of_0003", "as_of_0004", "fill_up"]


def as_of_0004(connection: sqlite3.Connection) -> None:
    """Before coupling parts were drawn by other shapes; nothing of the schema differs."""
    connection.execute("UPDATE alembic_version SET version_num = '0004'")


def as_of_0003(connection: sqlite3.Connection) -> None:
    """Before actions knew whether they stand, and files whose they are."""
    connection.execute("DROP INDEX ix_action_undone")
    connection.execute("ALTER TABLE action DROP COLUMN items")
    connection.execute("ALTER TABLE action DROP COLUMN undone")
    connection.execute("UPDATE alembic_version SET version_num = '0003'")
    connection.execute("PRAGMA application_id = 0")


def fill_up(collection: Collection) -> None:
    """From here on the file may not grow."""
    connection = collection._writer.raw_connection()
    connection.cursor().execute("PRAGMA max_page_count = 1")
    connection.close()
