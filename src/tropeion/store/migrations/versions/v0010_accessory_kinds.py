"""The kinds of accessories are a closed list: what was written in other words is one of them, and the words are kept.

Revision ID: 0010
"""

import json

import sqlalchemy as sa
from alembic import op

from tropeion.core.gear.accessories import with_words_kept

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    connection = op.get_bind()
    for id_, document in connection.execute(sa.text("SELECT id, document FROM accessory")).all():
        connection.execute(
            sa.text("UPDATE accessory SET document = :document WHERE id = :id"),
            {"id": id_, "document": _listed(document)},
        )
    rows = connection.execute(sa.text("SELECT sequence, before, after FROM journal WHERE kind = 'accessories'")).all()
    for sequence, before, after in rows:
        connection.execute(
            sa.text("UPDATE journal SET before = :before, after = :after WHERE sequence = :sequence"),
            {"sequence": sequence, "before": before and _listed(before), "after": after and _listed(after)},
        )


def _listed(document: str) -> str:
    return json.dumps(with_words_kept(json.loads(document)), ensure_ascii=False)
