"""Records get tables of their own; the first are the cards of rigs.

Revision ID: 0003
"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "card",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("struck", sa.Boolean, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("rig", sa.String(600), nullable=False),
        sa.Column("day", sa.String(10), nullable=False),
        sa.UniqueConstraint("rig", "day", name="uq_card_rig_day"),
    )
    op.create_table(
        "record_item",
        sa.Column("record", sa.String(36), primary_key=True),
        sa.Column("item_kind", sa.String(16), primary_key=True),
        sa.Column("item_id", sa.String(64), primary_key=True),
        sa.Column("kind", sa.String(16), nullable=False),
    )
    op.create_index("ix_record_item_item", "record_item", ["item_kind", "item_id"])
