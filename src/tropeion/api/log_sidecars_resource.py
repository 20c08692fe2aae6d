"""Sidecars: what would be written, and written; those of dropped pictures in a ZIP."""

from __future__ import annotations

import io
import zipfile
from datetime import UTC, datetime
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import Field

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Date
from tropeion.core.log.header import readable
from tropeion.core.log.rig_facts import RigReader
from tropeion.core.log.sidecar_fields import FIELDS
from tropeion.pictures.library import SidecarHow
from tropeion.pictures.sidecars import Naming, Sidecar

from .log_shared import LibraryOf, Number, ReadingWork, SidecarRow, WorksOf, held_against, told_of
from .resource import resource
from .shared import CollectionOf, Written, attached
from .work import Work

router = resource("/api/v1/log", "log")


class SidecarsAsked(Written):
    """Which sidecars are written, and how. ``dry_run``: only told."""

    naming: Naming = "stem"
    also_doubtful: bool = False
    overwrite: list[Annotated[str, Field(max_length=60)]] = Field([], max_length=40)
    dry_run: bool = True
    since: Date | None = None
    until: Date | None = None


@router.post("/folders/{number}/sidecars")
def post_sidecars(
    number: Number, asked: SidecarsAsked, library: LibraryOf, collection: CollectionOf, works: WorksOf
) -> ReadingWork:
    """Begin to write sidecars, or to tell what would be written."""
    folder, how = library.seen(number), _how(asked)
    if folder.dropped and not asked.dry_run:
        raise NotPossibleError("folder", "what was dropped is not on this disk: take the ZIP")
    matched = held_against(number, library, collection, asked.since, asked.until)
    rows: list[SidecarRow] = []

    def write(work: Work[None]) -> None:
        told = matched.matching.pictures
        work.progress.total = sum(one.entry is not None for one in told)
        rigs = RigReader(collection.world())
        for sidecar in library.sidecars(number, told, rigs, how, dry_run=asked.dry_run):
            rows.append(_sidecar_row(sidecar))
            work.progress.done = len(rows)
            if work.progress.stop.is_set():
                raise InterruptedError("stopped")

    return told_of(works.begin(write, rows))


def _how(asked: SidecarsAsked) -> SidecarHow:
    unknown = [field for field in asked.overwrite if field not in FIELDS]
    if unknown:
        raise NotPossibleError("overwrite", f"there is no field '{unknown[0]}'")
    return SidecarHow(asked.naming, asked.also_doubtful, frozenset(asked.overwrite))


def _sidecar_row(sidecar: Sidecar) -> SidecarRow:
    return SidecarRow(
        file=readable(sidecar.file),
        action=sidecar.action,
        pictures=[readable(file) for file in sidecar.pictures],
        changes=list(sidecar.changes),
        kept=list(sidecar.kept),
        why=sidecar.why,
    )


@router.get("/folders/{number}/sidecars", response_class=Response)
def get_sidecars(
    number: Number,
    library: LibraryOf,
    collection: CollectionOf,
    naming: Literal["stem", "full"] = "stem",
    also_doubtful: bool = False,
    since: Annotated[Date | None, Query()] = None,
    until: Annotated[Date | None, Query()] = None,
) -> Response:
    """The sidecars of dropped pictures as a ZIP, merged with those that were dropped with them."""
    if not library.seen(number).dropped:
        raise NotPossibleError("folder", "these lie on the disk: they are written beside their pictures")
    matched = held_against(number, library, collection, since, until)
    out = io.BytesIO()
    how = SidecarHow(naming, also_doubtful)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        rigs = RigReader(collection.world())
        for sidecar in library.sidecars(number, matched.matching.pictures, rigs, how, dry_run=True):
            if sidecar.data is not None:
                stamp = datetime.now(UTC).timetuple()[:6]
                packed.writestr(zipfile.ZipInfo(readable(sidecar.file), stamp), sidecar.data)
    return attached(out.getvalue(), "tropeion-sidecars.zip", "application/zip")
