"""Answers of the practice room.

Revision ID: 0013
"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.create_table(
        "review",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("struck", sa.Boolean, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("skill", sa.String(20), nullable=False),
    )
    op.create_index("ix_review_skill", "review", ["skill"])
