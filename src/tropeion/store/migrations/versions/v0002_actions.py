"""Actions have titles and can be undone; a removed item remembers its place.

Revision ID: 0002
"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "action",
        sa.Column("sequence", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("id", sa.String(36), nullable=False),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("undoes", sa.String(36)),
        sa.Column("redoes", sa.String(36)),
    )
    op.create_index("ix_action_id", "action", ["id"], unique=True)
    op.execute(
        "INSERT INTO action (id, at, title) SELECT action, min(at), 'Changed ' || count(*) || ' items' "
        "FROM journal GROUP BY action ORDER BY min(sequence)"
    )
    op.add_column("journal", sa.Column("position", sa.Integer))
