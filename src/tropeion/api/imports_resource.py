"""Files that are brought in: looked through first, then taken, all or nothing, with progress."""

from __future__ import annotations

import asyncio
import json
import threading
from collections.abc import AsyncIterator
from dataclasses import replace
from typing import Annotated, Any, Literal, cast

from fastapi import Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, Field

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.merge import STATUSES, ItemChange, can_be_owned, chosen, compare, merged, owned_where_new
from tropeion.core.gear.references import ReferenceProblem as Place
from tropeion.core.gear.references import check_references
from tropeion.formats.any_file import leaves_ownership_open, load_any
from tropeion.formats.gear_reading import GearFileError
from tropeion.store.collection import Collection
from tropeion.store.errors import MovedError, StoreError

from .looked import LookedAt
from .resource import resource
from .shared import BYTES, CollectionOf, Sent

PREVIEW_PATH = "/api/v1/import"
router = resource("/api/v1/import", "files")


@frozen
class ImportPreview:
    """What a file would do, item by item. ``token`` names it when it is taken; it is forgotten after a few others.

    ``asks_owned``: it is a table of what can be owned, and does not say whether it is.
    """

    token: str
    name: str
    new: int
    changed: int
    conflict: int
    same: int
    changes: tuple[ItemChange, ...]
    asks_owned: bool


@frozen
class ImportLookedAt:
    """A file and what it would do to the collection of a revision."""

    name: str
    theirs: Gear
    changes: tuple[ItemChange, ...]
    revision: int
    asks_owned: bool


class Taking(BaseModel):
    """Which changes to take: all of these kinds of change, but for the ones named, and those named besides."""

    statuses: list[Literal["new", "changed", "conflict"]] = ["new", "changed"]
    leave: list[tuple[Kind, str]] = []
    also: list[tuple[Kind, str]] = []
    owned: bool = Field(False, description="What is new and does not say so is owned.")


def _previews(request: Request) -> LookedAt[ImportLookedAt]:
    return cast(LookedAt[ImportLookedAt], request.app.state.previews)


@router.post("", openapi_extra=BYTES)
def post_import(
    sent: Sent, request: Request, collection: CollectionOf, name: Annotated[str, Query(max_length=200)] = "file"
) -> ImportPreview:
    """Look through a gear file or a table, without writing anything."""
    looked = look(sent, name, collection)
    counts = {status: sum(change.status == status for change in looked.changes) for status in STATUSES}
    return ImportPreview(
        token=_previews(request).keep(looked), name=name, changes=looked.changes, asks_owned=looked.asks_owned, **counts
    )


def look(data: bytes, name: str, collection: Collection) -> ImportLookedAt:
    """Read a file and compare it with the collection."""
    # The revision first: a write in between is refused later rather than overwritten.
    revision, world = collection.revision, collection.world()
    theirs = load_any(data, world.gear)
    changes = compare(world.gear, theirs)
    asks = can_be_owned(changes) and leaves_ownership_open(data)
    return ImportLookedAt(name, theirs, changes, revision, asks)


@router.post(
    "/{token}",
    response_class=StreamingResponse,
    responses={200: {"content": {"application/x-ndjson": {"schema": {"type": "string"}}}}},
)
async def post_taken(token: str, taking: Taking, request: Request, collection: CollectionOf) -> StreamingResponse:
    """Take what was chosen of a file, all or nothing; answers a line of JSON for each step. Leaving it rolls it back.

    Lines are ``{"done", "of"}`` while it is written, and at last ``{"written"}``, or ``{"problem"}``.
    """
    looked = _previews(request).find(token)
    taken = chosen(looked.changes, taking.statuses, leave=set(taking.leave), also=set(taking.also))
    if taking.owned and looked.asks_owned:
        looked = replace(looked, theirs=owned_where_new(looked.theirs, looked.changes))
    gear = await run_in_threadpool(_merge, collection, looked, taken)
    return StreamingResponse(_written(collection, gear, looked, request, token), media_type="application/x-ndjson")


def _merge(collection: Collection, looked: ImportLookedAt, taken: frozenset[tuple[str, str]]) -> Gear:
    if collection.revision != looked.revision:
        raise MovedError
    gear = merged(collection.world().gear, looked.theirs, taken)
    problems = check_references(gear)
    if problems:
        raise GearFileError((*problems[:50], *_hint(problems)))
    return gear


def _hint(problems: tuple[Place, ...]) -> tuple[Place, ...]:
    return (Place("choice", "what was chosen needs what was left out", "choose that too"),) if problems else ()


class _LeftError(Exception):
    """Whoever asked has left."""


async def _written(
    collection: Collection, gear: Gear, looked: ImportLookedAt, request: Request, token: str
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
        except StoreError as error:
            tell({"problem": str(error)})
        except Exception:
            tell({"problem": "an error in Tropeion; the log of the terminal has more"})
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
