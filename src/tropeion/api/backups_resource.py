"""Everything in one file, and back again: looked at first, then taken, as one action."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Final, cast

from fastapi import Query, Request, Response
from starlette.concurrency import run_in_threadpool

from tropeion.core.frozen import frozen
from tropeion.store.acting import Setting, ShelfChange, changes_to, shelf_changes
from tropeion.store.backup import backup, look
from tropeion.store.collection import Collection
from tropeion.store.errors import of_the_disk
from tropeion.store.files import workspace
from tropeion.store.journal import Action
from tropeion.store.whole import Whole

from .items_resource import Turned
from .looked import LookedAt
from .resource import resource
from .shared import BYTES, CollectionOf, attached

RESTORE_PATH = "/api/v1/restore"
MOST_BYTES: Final = 512 * 1024 * 1024
router = resource("/api/v1", "files")


@frozen
class BackupLookedAt:
    """A backup that was looked at."""

    name: str
    whole: Whole


@frozen
class BackupPreview:
    """What is in a backup. ``token`` names it when it is restored; it is forgotten after a few others.

    ``last`` is the last thing that was done in it; ``settings`` are those that restoring it would change; ``same``: it
    would change nothing.
    """

    token: str
    name: str
    last: Action | None
    shelves: tuple[ShelfChange, ...]
    settings: tuple[Setting, ...]
    same: bool


@router.get("/backup", response_class=Response)
def get_backup(collection: CollectionOf) -> Response:
    """Everything in one file, journal included, as it stands at this moment."""
    with workspace(collection.path.parent) as folder:
        target = folder / "backup.sqlite"
        backup(collection.path, target)
        data = target.read_bytes()
    return attached(data, "tropeion-backup.sqlite", "application/vnd.sqlite3")


@router.post("/restore", openapi_extra=BYTES)
async def post_backup(
    request: Request, collection: CollectionOf, name: Annotated[str, Query(max_length=200)] = "backup"
) -> BackupPreview:
    """Look through a backup, without writing anything: what is in it, and how it differs from what is there now.

    It goes to the disk as it comes.
    """
    folder = collection.path.parent
    with workspace(folder) as place:
        source = place / "backup.sqlite"
        try:
            with source.open("xb") as file:
                async for part in request.stream():
                    await run_in_threadpool(file.write, part)
        except OSError as error:
            raise of_the_disk(folder, error) from None
        return await run_in_threadpool(_look, request, collection, source, name)


def _look(request: Request, collection: Collection, source: Path, name: str) -> BackupPreview:
    with look(collection.path, source, name) as contents:
        whole, last = contents.whole, contents.last
    now = collection.whole()
    changes = changes_to(now, whole)
    token = _backups(request).keep(BackupLookedAt(name, whole))
    settings = tuple(changes.after or ())
    return BackupPreview(token, name, last, shelf_changes(now, whole, changes), settings, not changes)


@router.post("/restore/{token}")
def post_restored(token: str, request: Request, collection: CollectionOf) -> Turned:
    """Make everything what a backup holds that was looked at: one action, which undo takes back."""
    looked = _backups(request).find(token)
    return Turned(collection.restore(looked.whole, f"{looked.name} restored"))


def _backups(request: Request) -> LookedAt[BackupLookedAt]:
    return cast(LookedAt[BackupLookedAt], request.app.state.backups)
