"""Everything in one file, and back again."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from pathlib import Path

from fastapi import APIRouter, Response

from tropeion.store.backup import backup, restore

from .problems import RESPONSES
from .shared import BYTES, CollectionOf, Sent, attached

__all__ = ["RESTORE_PATH", "router"]

RESTORE_PATH = "/api/v1/restore"
router = APIRouter(prefix="/api/v1", tags=["files"], responses=RESPONSES)


@dataclass(frozen=True, slots=True)
class Restored:
    """Where the collection as it was before is kept."""

    kept: str | None


@router.get("/backup", response_class=Response)
def get_backup(collection: CollectionOf) -> Response:
    """Everything in one file, journal included, as it stands at this moment."""
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "backup.sqlite"
        backup(collection.path, target)
        data = target.read_bytes()
    return attached(data, "tropeion-backup.sqlite", "application/vnd.sqlite3")


@router.post("/restore", openapi_extra=BYTES)
def post_restore(sent: Sent, collection: CollectionOf) -> Restored:
    """Put a backup in the place of the collection, which is kept beside it; refused whole if it cannot be used."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "backup.sqlite"
        source.write_bytes(sent)
        kept = restore(collection.path, source)
    return Restored(None if kept is None else kept.name)
