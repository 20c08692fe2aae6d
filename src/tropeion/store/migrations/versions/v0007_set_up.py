"""Records of setting up: stored lenses of a body, corners that were looked at, outings.

Revision ID: 0007
"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def _recorded(name: str, *columns: sa.Column[object] | sa.UniqueConstraint) -> None:
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
        "stored_lens",
        sa.Column("body", sa.String(64), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.UniqueConstraint("body", "number", name="uq_stored_lens_body_number"),
    )
    _recorded(
        "corner_check",
        sa.Column("rig", sa.String(600), nullable=False),
        sa.Column("day", sa.String(10), nullable=False),
    )
    op.create_index("ix_corner_check_rig", "corner_check", ["rig"])
    _recorded("outing", sa.Column("name", sa.String(120), nullable=False))
