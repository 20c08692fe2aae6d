"""The shapes that draw coupling parts have other names; a mount of one's own is drawn by the nearest of the new ones.

Revision ID: 0005
"""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"

SHAPES = {
    "fork": "short_rack",
    "collar": "rack",
    "cut_collar": "short_rack",
    "cam": "shoe",
    "window": "hole",
    "bevel": "shoe",
    "dot": "index",
    "peg": "pinion",
    "tongue": "probe",
}


def upgrade() -> None:
    connection = op.get_bind()
    for id_, document in connection.execute(sa.text("SELECT id, document FROM mount")).all():
        connection.execute(
            sa.text("UPDATE mount SET document = :document WHERE id = :id"), {"id": id_, "document": _drawn(document)}
        )
    rows = connection.execute(sa.text("SELECT sequence, before, after FROM journal WHERE kind = 'mounts'")).all()
    for sequence, before, after in rows:
        connection.execute(
            sa.text("UPDATE journal SET before = :before, after = :after WHERE sequence = :sequence"),
            {"sequence": sequence, "before": before and _drawn(before), "after": after and _drawn(after)},
        )


def _drawn(document: str) -> str:
    found: dict[str, Any] = json.loads(document)
    looks = [feature["look_at"] for feature in found.get("features", []) if feature.get("look_at")]
    if not any(look["shape"] in SHAPES for look in looks):
        return document
    for look in looks:
        look["shape"] = SHAPES.get(look["shape"], look["shape"])
    return json.dumps(found, ensure_ascii=False)
