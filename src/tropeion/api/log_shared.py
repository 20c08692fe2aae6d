"""What the resources of picture folders share."""

from __future__ import annotations

from typing import Annotated, cast

from fastapi import Depends, Request
from pydantic import BaseModel, Field

from tropeion.core.frozen import frozen
from tropeion.core.log.days import span_of, within
from tropeion.core.log.header import readable
from tropeion.core.log.log_file import FiledEntry, LogFile
from tropeion.core.log.matching import Matching, match_pictures
from tropeion.core.log.offsets import may_hold
from tropeion.core.log.sidecar_fields import FieldKept, SidecarChange
from tropeion.pictures.library import Library
from tropeion.pictures.reading import Reading
from tropeion.pictures.sidecars import Action
from tropeion.store.collection import Collection

from .work import State as WorkState
from .work import Work, Works


def _library(request: Request) -> Library:
    return cast(Library, request.app.state.library)


def _works(request: Request) -> Works[None]:
    return cast(Works[None], request.app.state.readings)


LibraryOf = Annotated[Library, Depends(_library)]
WorksOf = Annotated[Works[None], Depends(_works)]
Number = Annotated[int, Field(ge=1, le=2**53)]


class SidecarRow(BaseModel):
    """What becomes of one sidecar, field by field."""

    file: str
    action: Action
    pictures: list[str]
    changes: list[SidecarChange]
    kept: list[FieldKept]
    why: str | None


class ReadingWork(BaseModel):
    """How far the reading of a folder, or the writing beside its pictures, has come."""

    id: str
    state: WorkState
    done: int
    total: int
    why: str
    sidecars: list[SidecarRow] | None = None


def told_of(work: Work[None]) -> ReadingWork:
    written = work.about if isinstance(work.about, list) else None
    return ReadingWork(
        id=work.id,
        state=work.state,
        done=work.progress.done,
        total=work.progress.total,
        why="" if work.error is None or work.state == "stopped" else str(work.error),
        sidecars=written if work.state != "working" else None,
    )


@frozen
class HeldAgainst:
    """A folder held against the log."""

    matching: Matching
    reading: Reading
    numbers: dict[str, int]
    log: LogFile
    all_entries: tuple[FiledEntry, ...]
    span: tuple[str, str] | None


def held_against(
    number: int, library: Library, collection: Collection, since: str | None, until: str | None
) -> HeldAgainst:
    reading, numbers = library.reading(number)
    name = library.name(number)
    log = collection.log()
    taken = [file.header.taken_us for file in reading.files if file.header.taken_us is not None]
    span = span_of(log.entries, taken)
    if since is not None or until is not None:
        span = since or "0000-00-00", until or "9999-12-31"
    # Frames on film are told by their numbers, not by the day.
    films = tuple(entry for entry in log.entries if entry.roll is not None)
    days = tuple(entry for entry in within(log.entries, span) if entry.roll is None)
    # What a picture was assigned to may be of another day.
    here = {readable(file.path).rpartition("/")[2] for file in reading.files}
    named = {one.entry for one in log.assignments if any(file.rpartition("/")[2] in here for file in one.files)}
    known = {entry.id for entry in (*days, *films)}
    others = tuple(entry for entry in log.entries if entry.id in named and entry.id not in known)
    clocks = tuple(clock for clock in log.clocks if may_hold(clock, taken))
    held = log.model_copy(update={"entries": (*days, *films, *others), "clocks": clocks})
    matching = match_pictures(held, reading.files, collection.world(), name)
    return HeldAgainst(matching, reading, numbers, held, log.entries, span)
