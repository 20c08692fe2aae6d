"""Files in and out: gear files and tables with a preview, a backup of everything and its restore."""

from __future__ import annotations

import asyncio
import json
import secrets
import tempfile
import threading
from collections import OrderedDict
from collections.abc import AsyncIterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any, Literal, cast

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse
from pydantic import BaseModel

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, items, selection
from tropeion.core.gear.merge import Change, compare, merged
from tropeion.core.gear.references import Problem as Place
from tropeion.core.gear.references import check_references
from tropeion.formats import gear_file
from tropeion.formats.any_file import load_any
from tropeion.formats.tables import dump_table
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, MovedError

from .problems import RESPONSES, Problem, RefusedError
from .shared import CollectionOf

__all__ = ["PREVIEW_PATH", "RESTORE_PATH", "Previews", "router"]

PREVIEW_PATH = "/api/v1/import"
RESTORE_PATH = "/api/v1/restore"
router = APIRouter(prefix="/api/v1", tags=["files"], responses=RESPONSES)

_BYTES: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
# So many previews are kept, for windows that look at several.
MOST_PREVIEWS = 3


@dataclass(frozen=True, slots=True)
class ImportPreview:
    """What a file would do, item by item. ``token`` names it when it is taken; it is forgotten after a few others."""

    token: str
    name: str
    new: int
    changed: int
    conflict: int
    same: int
    changes: tuple[Change, ...]


@dataclass(frozen=True, slots=True)
class _Looked:
    name: str
    theirs: Gear
    changes: tuple[Change, ...]
    revision: int


class Previews:
    """The files that were looked at last."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, _Looked] = OrderedDict()
        self._lock = threading.Lock()

    def keep(self, looked: _Looked) -> str:
        token = secrets.token_urlsafe(12)
        with self._lock:
            self._kept[token] = looked
            while len(self._kept) > MOST_PREVIEWS:
                self._kept.popitem(last=False)
        return token

    def find(self, token: str) -> _Looked | None:
        with self._lock:
            return self._kept.get(token)

    def drop(self, token: str) -> None:
        with self._lock:
            self._kept.pop(token, None)


class Taking(BaseModel):
    """Which changes to take: all of these kinds of change, but for the ones named, and those named besides."""

    statuses: list[Literal["new", "changed", "conflict"]] = ["new", "changed"]
    leave: list[tuple[Kind, str]] = []
    also: list[tuple[Kind, str]] = []


@dataclass(frozen=True, slots=True)
class Restored:
    """Where the collection as it was before is kept."""

    kept: str | None


def _previews(request: Request) -> Previews:
    return cast(Previews, request.app.state.previews)


def _attached(data: bytes, name: str, media_type: str) -> Response:
    return Response(data, media_type=media_type, headers={"content-disposition": f'attachment; filename="{name}"'})


class Selected(BaseModel):
    """Some items of a kind, to take out."""

    kind: Kind
    ids: list[str]
    format: Literal["gear", "table"] = "gear"
    decimal: Literal["point", "comma"] = "point"


@router.get("/export/gear.json", response_class=Response)
def get_gear_export(collection: CollectionOf) -> Response:
    """The whole collection as a gear file."""
    return _attached(gear_file.dump(collection.gear()), "tropeion-gear.json", "application/json")


@router.get("/export/{kind}.csv", response_class=Response)
def get_table_export(kind: Kind, collection: CollectionOf, decimal: Literal["point", "comma"] = "point") -> Response:
    """One kind as a table."""
    return _table(kind, items(collection.world().gear, kind), decimal)


@router.post("/export", response_class=Response)
def post_export(selected: Selected, collection: CollectionOf) -> Response:
    """Some items: as a gear file, with all they need, or as a table."""
    gear, chosen = collection.world().gear, frozenset(selected.ids)
    if selected.format == "gear":
        data = gear_file.dump(selection(gear, selected.kind, chosen))
        return _attached(data, f"tropeion-{selected.kind}.json", "application/json")
    entries = [item for item in items(gear, selected.kind) if item.id in chosen]
    return _table(selected.kind, entries, selected.decimal)


def _table(kind: Kind, entries: Sequence[Entry], decimal: Literal["point", "comma"]) -> Response:
    return _attached(dump_table(kind, entries, decimal=decimal), f"tropeion-{kind}.csv", "text/csv; charset=utf-8")


@router.post("/import", openapi_extra=_BYTES)
async def post_import(
    request: Request, collection: CollectionOf, name: Annotated[str, Query(max_length=200)] = "file"
) -> ImportPreview:
    """Look through a gear file or a table, without writing anything."""
    data = await request.body()
    looked = await run_in_threadpool(_look, data, name, collection)
    counts = {status: sum(change.status == status for change in looked.changes) for status in _STATUSES}
    return ImportPreview(token=_previews(request).keep(looked), name=name, changes=looked.changes, **counts)


_STATUSES = ("new", "changed", "conflict", "same")


def _look(data: bytes, name: str, collection: Collection) -> _Looked:
    # The revision first: a write in between is refused later rather than overwritten.
    revision, world = collection.revision, collection.world()
    theirs = load_any(data, world.gear)
    return _Looked(name, theirs, compare(world.gear, theirs), revision)


@router.post(
    "/import/{token}",
    response_class=StreamingResponse,
    responses={200: {"content": {"application/x-ndjson": {"schema": {"type": "string"}}}}},
)
async def post_taken(token: str, taking: Taking, request: Request, collection: CollectionOf) -> StreamingResponse:
    """Take what was chosen of a file, all or nothing; answers a line of JSON for each step. Leaving it rolls it back.

    Lines are ``{"done", "of"}`` while it is written, and at last ``{"written"}``, or ``{"problem"}``.
    """
    looked = _previews(request).find(token)
    if looked is None:
        raise RefusedError(
            Problem(title="Not looked at", status=404, detail="This file is not kept any more: choose it again")
        )
    left, also = set(taking.leave), set(taking.also)
    chosen = {
        (change.kind, change.id)
        for change in looked.changes
        if (change.status in taking.statuses and (change.kind, change.id) not in left)
        or (change.kind, change.id) in also
    }
    gear = await run_in_threadpool(_merge, collection, looked, chosen)
    return StreamingResponse(_written(collection, gear, looked, request, token), media_type="application/x-ndjson")


def _merge(collection: Collection, looked: _Looked, chosen: set[tuple[Kind, str]]) -> Gear:
    if collection.revision != looked.revision:
        raise MovedError
    gear = merged(collection.world().gear, looked.theirs, chosen)
    problems = check_references(gear)
    if problems:
        raise gear_file.GearFileError((*problems[:50], *_hint(problems)))
    return gear


def _hint(problems: tuple[Place, ...]) -> tuple[Place, ...]:
    return (Place("choice", "what was chosen needs what was left out", "choose that too"),) if problems else ()


class _LeftError(Exception):
    """Whoever asked has left."""


async def _written(
    collection: Collection, gear: Gear, looked: _Looked, request: Request, token: str
) -> AsyncIterator[bytes]:
    loop, left = asyncio.get_running_loop(), threading.Event()
    told: asyncio.Queue[dict[str, Any] | None] = asyncio.Queue()

    def tell(line: dict[str, Any] | None) -> None:
        loop.call_soon_threadsafe(told.put_nowait, line)

    def progress(done: int, of: int) -> None:
        if left.is_set():
            raise _LeftError
        tell({"done": done, "of": of})

    def write() -> None:
        try:
            written = collection.replace(gear, f"{looked.name} imported"[:200], progress, looked.revision)
            tell({"written": written})
            _previews(request).drop(token)
        except _LeftError:
            pass
        except MovedError:
            tell({"problem": "the collection changed meanwhile; look at the file again"})
        except Exception as error:
            tell({"problem": str(error)})
            raise
        finally:
            tell(None)

    work = loop.run_in_executor(None, write)
    try:
        while (line := await told.get()) is not None:
            yield json.dumps(line).encode() + b"\n"
        await work
    finally:
        left.set()


@router.get("/backup", response_class=Response)
def get_backup(collection: CollectionOf) -> Response:
    """Everything in one file, journal included, as it stands at this moment."""
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "backup.sqlite"
        backup(collection.path, target)
        data = target.read_bytes()
    return _attached(data, "tropeion-backup.sqlite", "application/vnd.sqlite3")


@router.post("/restore", openapi_extra=_BYTES)
async def post_restore(request: Request, collection: CollectionOf) -> Restored:
    """Put a backup in the place of the collection, which is kept beside it; refused whole if it cannot be used."""
    data = await request.body()

    def put() -> Restored:
        with tempfile.TemporaryDirectory() as folder:
            source = Path(folder) / "backup.sqlite"
            source.write_bytes(data)
            kept = restore(collection.path, source)
        return Restored(None if kept is None else kept.name)

    return await run_in_threadpool(put)
