"""Deeds that were done away from the server, each kept once; and an id of the collection.

Revision ID: 0012
"""

import uuid

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.create_table(
        "deed",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
    )
    op.execute(
        sa.text("INSERT OR IGNORE INTO meta (key, value) VALUES ('collection', :id)").bindparams(id=str(uuid.uuid4()))
    )
