"""Records of the bench: series of readings, and what was seen of rigs.

Revision ID: 0008
"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def _recorded(name: str, *columns: sa.Column[object]) -> None:
    op.create_table(
        name,
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("struck", sa.Boolean, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        *columns,
    )


def upgrade() -> None:
    _recorded(
        "reading_series",
        sa.Column("piece_kind", sa.String(16), nullable=False),
        sa.Column("piece", sa.String(64), nullable=False),
        sa.Column("quantity", sa.String(64), nullable=False),
        sa.Column("day", sa.String(10), nullable=False),
    )
    op.create_index("ix_reading_series_piece", "reading_series", ["piece_kind", "piece", "quantity"])
    _recorded(
        "bench_trial", sa.Column("rig", sa.String(600), nullable=False), sa.Column("day", sa.String(10), nullable=False)
    )
    op.create_index("ix_bench_trial_rig", "bench_trial", ["rig"])
