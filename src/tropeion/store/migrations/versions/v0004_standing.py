"""Actions know whether they are taken back and how much they changed; the file says whose it is.

Names and notes lose characters that nobody sees, which are refused from here on.

Revision ID: 0004
"""

import json
import unicodedata
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

# "TROP"; the same stands in store/engine.py.
APPLICATION_ID = 0x54524F50


def upgrade() -> None:
    op.add_column("action", sa.Column("undone", sa.Boolean))
    op.add_column("action", sa.Column("items", sa.Integer, nullable=False, server_default="0"))
    op.execute("UPDATE action SET undone = 0 WHERE undoes IS NULL AND redoes IS NULL")
    turns = "SELECT sequence, coalesce(undoes, redoes) AS turned, undoes IS NOT NULL AS undone FROM action"
    op.execute(
        f"UPDATE action SET undone = last.undone FROM (SELECT turned, undone, max(sequence) FROM ({turns}) "
        "WHERE turned IS NOT NULL GROUP BY turned) AS last WHERE action.id = last.turned"
    )
    op.execute("UPDATE action SET items = (SELECT count(*) FROM journal WHERE journal.action = action.id)")
    op.create_index("ix_action_undone", "action", ["undone", "sequence"])
    op.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    connection = op.get_bind()
    for table in ("protocol", "mount", "body", "lens", "adapter", "rig"):
        rows = connection.execute(sa.text(f"SELECT id, document FROM {table}")).all()
        for id_, document in rows:
            cleaned = _cleaned(document)
            if cleaned != document:
                values = {"id": id_, "document": cleaned, "name": json.loads(cleaned)["name"]}
                connection.execute(
                    sa.text(f"UPDATE {table} SET document = :document, name = :name WHERE id = :id"), values
                )
    for sequence, before, after in connection.execute(sa.text("SELECT sequence, before, after FROM journal")).all():
        values = {"before": before and _cleaned(before), "after": after and _cleaned(after)}
        if values != {"before": before, "after": after}:
            connection.execute(
                sa.text("UPDATE journal SET before = :before, after = :after WHERE sequence = :sequence"),
                {"sequence": sequence, **values},
            )


def _cleaned(document: str) -> str:
    """Without what nobody sees; escapes of what is not ASCII are never written."""
    if not document.isascii():
        hidden = {"Cf", "Zl", "Zp"}
        document = "".join(c for c in document if unicodedata.category(c) not in hidden or c in "\u200c\u200d")
    return _named(document)


def _named(document: str) -> str:
    found: dict[str, Any] = json.loads(document)
    name = found.get("name", "x")
    if any(unicodedata.category(c)[0] in "LNPS" for c in name):
        return document
    return json.dumps({**found, "name": found.get("id", "unnamed")}, ensure_ascii=False)
