"""The log as tables for a spreadsheet: a row an entry, or a row a picture. Units stand in the headers."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence

from tropeion.core.gear.world import World
from tropeion.core.log.header import readable
from tropeion.core.log.log_file import FiledEntry, LogFile
from tropeion.core.log.matching import Matching
from tropeion.core.log.rig_facts import RigReader

from .cells import text_cell

_RIG = ("body", "lens", "via", "lens name", "focal length marked mm", "aperture marked", "focal length mm", "aperture")
_ENTRY = ("id", "at", "way", "frames", *_RIG, "distance m", "focus", "support", "use", "mode", "filter")
_FILM = ("roll", "frame number", "shot", "note", "struck out")


def entries_csv(log: LogFile, world: World | None) -> str:
    """A row for each entry, struck out ones too, with what the rig made of it."""
    rigs = RigReader(world)
    rows = (
        [
            *(entry.id, entry.at, entry.way, str(entry.frames), *_rig(entry, rigs)),
            *(_number(entry.distance_m), entry.focus, entry.support, entry.use, entry.mode, entry.filter),
            *(entry.roll, _number(entry.frame_number), entry.shot, entry.note, entry.struck),
        ]
        for entry in log.entries
    )
    return _table((*_ENTRY, *_FILM), rows)


def pictures_csv(matching: Matching, world: World | None) -> str:
    """A row for each picture: its entry, what that says of it, and the doubts."""
    rigs = RigReader(world)
    rows = (
        [
            *(" ".join(readable(file) for file in told.picture.files), told.picture.taken_at, told.state),
            *(" ".join(told.doubts), None if told.entry is None else told.entry.id),
            *([told.body, *[None] * (len(_RIG) - 1)] if told.entry is None else _rig(told.entry, rigs)),
        ]
        for told in matching.pictures
    )
    return _table(("files", "taken at", "state", "doubts", "entry", *_RIG), rows)


def _rig(entry: FiledEntry, rigs: RigReader) -> list[str | None]:
    facts = rigs.facts(entry)
    return [
        entry.body,
        entry.lens,
        ",".join(entry.via),
        None if facts.lens is None else facts.lens.name,
        _number(facts.mark_mm(entry.focal_length_mm)),
        _number(entry.aperture),
        _number(facts.with_glass_mm(entry.focal_length_mm)),
        _number(facts.with_glass_f_number(entry.aperture)),
    ]


def _number(value: float | None) -> str | None:
    return None if value is None else f"{value:.6g}"


def _table(head: Sequence[str], rows: Iterator[list[str | None]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    for row in rows:
        writer.writerow([text_cell(cell or "") for cell in row])
    return out.getvalue()
