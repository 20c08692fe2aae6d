"""Folders of pictures that were named at the start, and what is dropped on the page: read, with progress."""

from __future__ import annotations

import json
from typing import Any, Literal

from fastapi import Response
from pydantic import BaseModel

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.records.record import RecordId
from tropeion.pictures.library import HEAD_BYTES, FolderSeen

from .log_shared import LibraryOf, Number, ReadingWork, WorksOf, told_of
from .problems import Problem, RefusedError
from .resource import resource
from .shared import BYTES, Sent
from .work import Work, Works

router = resource("/api/v1/log", "log")
CropPlace = Literal["centre", "top_left", "top_right", "bottom_left", "bottom_right"]


class FolderPage(BaseModel):
    """A folder, and those directly in it."""

    folder: FolderSeen
    folders: list[FolderSeen]


@router.get("/sources")
def get_sources(library: LibraryOf) -> list[FolderSeen]:
    """The folders that were named at the start, then those read or dropped last."""
    return list(library.sources())


@router.get("/folders/{number}")
def get_folder(number: Number, library: LibraryOf) -> FolderPage:
    """A folder, and the folders in it."""
    return FolderPage(folder=library.seen(number), folders=list(library.below(number)))


@router.post("/folders/{number}/read")
def post_reading(number: Number, library: LibraryOf, works: WorksOf) -> ReadingWork:
    """Begin to read a folder: what is new in it, or changed."""
    library.seen(number)

    def read(work: Work[None]) -> None:
        def progress(done: int, total: int) -> None:
            work.progress.done, work.progress.total = done, total

        library.read(number, work.progress.stop.is_set, progress)

    return told_of(works.begin(read))


@router.get("/readings/{id}")
def get_reading(id: RecordId, works: WorksOf) -> ReadingWork:
    """How far a reading or a writing has come."""
    return told_of(_found(works, id))


@router.delete("/readings/{id}")
def delete_reading(id: RecordId, works: WorksOf) -> ReadingWork:
    """Stop it; what was read so far is kept."""
    work = _found(works, id)
    work.progress.stop.set()
    return told_of(work)


def _found(works: Works[None], id_: str) -> Work[None]:
    work = works.find(id_)
    if work is None:
        detail = "it has been forgotten: begin again"
        raise RefusedError(Problem(type="unknown_id", title="No such work", status=404, detail=detail, id=id_))
    return work


@router.post("/drops")
def post_drop(library: LibraryOf) -> FolderSeen:
    """A folder for pictures that are dropped on the page."""
    return library.drop()


@router.post("/drops/{number}/files", openapi_extra=BYTES)
def post_dropped_file(number: Number, sent: Sent, library: LibraryOf) -> dict[str, str | None]:
    """The head of one dropped file: a line of JSON with its ``name`` and ``size``, then its first 512 KB at most.

    A sidecar comes whole. Answers why it was not read, or null.
    """
    head, found, data = sent.partition(b"\n")
    try:
        said: dict[str, Any] = json.loads(head) if found else {}
        name, size = str(said["name"])[:4_000], int(said["size"])
    except (ValueError, TypeError, KeyError):
        raise NotPossibleError("body", "a line with name and size comes first") from None
    if len(data) > HEAD_BYTES and not name.lower().endswith(".xmp"):
        raise NotPossibleError("body", f"at most {HEAD_BYTES // 1024} KB of a picture are sent")
    if not name.strip("/ ."):
        raise NotPossibleError("name", "it has no name")
    return {"why": library.take_head(number, name, size, data)}


@router.get("/pictures/{number}/thumbnail", response_class=Response)
def get_thumbnail(number: Number, library: LibraryOf) -> Response:
    """A small JPEG of a picture, made anew."""
    return _jpeg(library.thumbnail(number))


@router.get("/pictures/{number}/crop", response_class=Response)
def get_crop(number: Number, place: CropPlace, library: LibraryOf) -> Response:
    """A part of a picture at 100 %: its centre, or a corner."""
    return _jpeg(library.thumbnail(number, place))


def _jpeg(found: bytes | str) -> Response:
    if isinstance(found, str):
        raise RefusedError(Problem(type="not_known", title="No thumbnail", status=404, detail=found))
    return Response(found, media_type="image/jpeg", headers={"cache-control": "private, max-age=600"})
