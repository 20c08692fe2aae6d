"""What was said once is said still: kinds of accessories in any words, rings of focus and aperture by silence.

The kinds of accessories are a closed list: what was written in other words is one of them, and the words are kept. A
lens without a word on its focus or aperture had a ring; now nobody has said.

Revision ID: 0010
"""

import json
from collections.abc import Callable
from typing import Any

import sqlalchemy as sa
from alembic import op

from tropeion.core.gear.accessories import with_words_kept

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    _rewrite("accessory", "accessories", with_words_kept)
    _rewrite("lens", "lenses", _with_rings)


def _with_rings(document: dict[str, Any]) -> dict[str, Any]:
    assumed = document.get("assumed", [])
    rings = {name: "ring" for name in ("focus", "aperture") if name not in document and name not in assumed}
    return {**document, **rings}


def _rewrite(table: str, kind: str, change: Callable[[dict[str, Any]], dict[str, Any]]) -> None:
    """Every document of a table, and what the journal has of them."""

    def changed(document: str | None) -> str | None:
        return document and json.dumps(change(json.loads(document)), ensure_ascii=False)

    connection = op.get_bind()
    for id_, document in connection.execute(sa.text(f"SELECT id, document FROM {table}")).all():
        told = {"id": id_, "document": changed(document)}
        connection.execute(sa.text(f"UPDATE {table} SET document = :document WHERE id = :id"), told)
    rows = connection.execute(
        sa.text("SELECT sequence, before, after FROM journal WHERE kind = :kind"), {"kind": kind}
    ).all()
    for sequence, before, after in rows:
        connection.execute(
            sa.text("UPDATE journal SET before = :before, after = :after WHERE sequence = :sequence"),
            {"sequence": sequence, "before": changed(before), "after": changed(after)},
        )
