"""The collection, its journal and its settings.

Revision ID: 0001
"""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


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
    _documented("protocol")
    _documented("mount", sa.Column("interface", sa.String(64), nullable=False))
    _documented("body", _reference("mount_id", "mount"))
    _documented("lens", _reference("mount_id", "mount"), _reference("protocol_id", "protocol", nullable=True))
    _documented("adapter", _reference("lens_mount_id", "mount"), _reference("body_mount_id", "mount"))
    _documented("rig", _reference("lens_id", "lens"), _reference("body_id", "body"))
    for table, column in (
        ("body", "mount_id"),
        ("lens", "mount_id"),
        ("adapter", "lens_mount_id"),
        ("adapter", "body_mount_id"),
    ):
        op.create_index(f"ix_{table}_{column}", table, [column])
    op.create_table(
        "journal",
        sa.Column("sequence", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("action", sa.String(36), nullable=False),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("item_id", sa.String(64), nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("before", sa.Text),
        sa.Column("after", sa.Text),
    )
    op.create_index("ix_journal_action", "journal", ["action"])
    op.create_index("ix_journal_item", "journal", ["kind", "item_id"])
    op.create_table(
        "meta", sa.Column("key", sa.String(32), primary_key=True), sa.Column("value", sa.Text, nullable=False)
    )
