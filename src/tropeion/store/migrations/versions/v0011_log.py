"""The log: entries, settled pictures, clocks, signatures of cameras, rolls, trials, events.

Revision ID: 0011
"""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def _recorded(name: str, *columns: sa.Column[str] | sa.Column[int] | sa.UniqueConstraint) -> None:
    op.create_table(
        name,
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("struck", sa.Boolean, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        *columns,
    )


def _text(name: str, length: int, *, nullable: bool = False) -> sa.Column[str]:
    return sa.Column(name, sa.String(length), nullable=nullable)


def upgrade() -> None:
    _recorded(
        "log_entry",
        _text("body", 150),
        sa.Column("instant", sa.BigInteger, nullable=False),
        _text("roll", 120, nullable=True),
    )
    op.create_index("ix_log_entry_instant", "log_entry", ["instant"])
    op.create_index("ix_log_entry_body", "log_entry", ["body", "instant"])
    op.create_index("ix_log_entry_roll", "log_entry", ["roll"])
    _recorded("assignment", _text("picture", 600))
    op.create_index("ix_assignment_picture", "assignment", ["picture"])
    _recorded("clock", _text("body", 150))
    op.create_index("ix_clock_body", "clock", ["body"])
    signature = sa.UniqueConstraint("signature", name="uq_camera_signs_signature")
    _recorded("camera_signs", _text("body", 150), _text("signature", 620), signature)
    _recorded("film_roll", _text("name", 120), sa.UniqueConstraint("name", name="uq_film_roll_name"))
    _recorded("trial", _text("lens", 150))
    op.create_index("ix_trial_lens", "trial", ["lens"])
    _recorded("piece_event", _text("piece_id", 150), _text("on", 10))
    op.create_index("ix_piece_event_piece_id", "piece_event", ["piece_id"])
