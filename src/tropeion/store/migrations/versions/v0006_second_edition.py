"""The second edition of the format: accessories, foils, pairs; lenses without a mount; what was not said is null.

A protocol that said nothing of what it powers powered nothing until now, and goes on powering nothing: it says so.

Revision ID: 0006
"""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def _documented(name: str, *columns: sa.Column[str]) -> None:
    op.create_table(
        name,
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        *columns,
    )


def _reference(name: str, target: str, *, nullable: bool = False) -> sa.Column[str]:
    return sa.Column(name, sa.String(64), sa.ForeignKey(f"{target}.id"), nullable=nullable)


def upgrade() -> None:
    for name in ("accessory", "foil", "pair"):
        _documented(name)
    op.drop_column("mount", "interface")
    _lenses_without_a_mount()
    _protocols_say_what_they_power()


def _lenses_without_a_mount() -> None:
    """SQLite changes no column: the table is made anew, and with it the one that refers to it."""
    head = "id, position, name, version, document"
    _documented(
        "lens_anew",
        _reference("mount_id", "mount", nullable=True),
        _reference("protocol_id", "protocol", nullable=True),
    )
    op.execute(f"INSERT INTO lens_anew SELECT {head}, mount_id, protocol_id FROM lens")
    op.execute(f"CREATE TEMPORARY TABLE rig_kept AS SELECT {head}, lens_id, body_id FROM rig")
    op.drop_table("rig")
    op.drop_table("lens")
    op.rename_table("lens_anew", "lens")
    op.create_index("ix_lens_mount_id", "lens", ["mount_id"])
    _documented("rig", _reference("lens_id", "lens"), _reference("body_id", "body"))
    op.execute("INSERT INTO rig SELECT * FROM rig_kept")
    op.execute("DROP TABLE rig_kept")


def _protocols_say_what_they_power() -> None:
    connection = op.get_bind()
    for id_, document in connection.execute(sa.text("SELECT id, document FROM protocol")).all():
        connection.execute(
            sa.text("UPDATE protocol SET document = :document WHERE id = :id"), {"id": id_, "document": _said(document)}
        )
    rows = connection.execute(sa.text("SELECT sequence, before, after FROM journal WHERE kind = 'protocols'")).all()
    for sequence, before, after in rows:
        connection.execute(
            sa.text("UPDATE journal SET before = :before, after = :after WHERE sequence = :sequence"),
            {"sequence": sequence, "before": before and _said(before), "after": after and _said(after)},
        )


def _said(document: str) -> str:
    found: dict[str, Any] = json.loads(document)
    return json.dumps({**found, "powers": found.get("powers", [])}, ensure_ascii=False)
