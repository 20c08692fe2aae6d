"""Logs and pictures for tests, from plain numbers."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from typing import Any

from PIL import Image
from PIL.TiffImagePlugin import IFDRational

from tropeion.core.gear.world import World
from tropeion.core.log.header import Header, PictureFile
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.matching import Matching, Told, match_pictures
from tropeion.core.records.moments import SECOND_US, wall_us
from tropeion.formats.log_file import load_log

# 14:00 at +01:00, and what a clock on the wall shows then.
START = "2026-11-21T14:00:00+01:00"
SIGNED = [{"body": "o7", "make": "Ostrel", "model": "O7"}]
PLAIN = ["kel-ost-plain"]


def moment(seconds: float, start: str = START) -> str:
    """So many seconds after the start, in the zone of the start."""
    return (datetime.fromisoformat(start) + timedelta(seconds=seconds)).isoformat()


def entry(id_: str, seconds: float, **more: Any) -> dict[str, Any]:
    """A tap with the plain ring, unless it says otherwise."""
    return {"id": id_, "at": moment(seconds), "body": "o7", "lens": "kel-55", "via": PLAIN, "way": "tap", **more}


def log_of(entries: Sequence[Mapping[str, Any]], **more: Any) -> LogFile:
    return load_log(json.dumps({"version": 1, "cameras": SIGNED, "entries": list(entries), **more}).encode())


def picture(name: str, seconds: float, *, start: str = START, **more: Any) -> PictureFile:
    """A file whose camera shows the clock on the wall so many seconds after the start."""
    taken = wall_us(start) + round(seconds * SECOND_US)
    header = {"make": "Ostrel", "model": "O7", "taken_us": taken, "exact": seconds != int(seconds), **more}
    return PictureFile(name, Header(**header))


def matched(log: LogFile, files: Sequence[PictureFile], world: World | None = None, name: str = "") -> Matching:
    return match_pictures(log, files, world, name)


def told(log: LogFile, files: Sequence[PictureFile], world: World | None = None, name: str = "") -> dict[str, Told]:
    """What each picture comes to, by its first file."""
    return {one.picture.file: one for one in matched(log, files, world, name).pictures}


def jpeg(
    taken: datetime | None = None,
    *,
    make: str = "Ostrel",
    model: str = "O7",
    lens: str = "",
    focal_mm: float | None = None,
    f_number: float | None = None,
    parts: str = "",
    zone: str = "",
    more: Mapping[int, Any] | None = None,
) -> bytes:
    """A small JPEG whose header claims so much."""
    exif = Image.Exif()
    exif[0x010F], exif[0x0110] = make, model
    shot = exif.get_ifd(0x8769)
    if taken is not None:
        shot[0x9003] = taken.strftime("%Y:%m:%d %H:%M:%S")
    for tag, text in ((0x9291, parts), (0x9011, zone), (0xA434, lens)):
        if text:
            shot[tag] = text
    for tag, value in ((0x920A, focal_mm), (0x829D, f_number)):
        if value is not None:
            ratio = Fraction(value).limit_denominator(100)
            shot[tag] = IFDRational(ratio.numerator, ratio.denominator)
    for tag, given in (more or {}).items():
        shot[tag] = given
    target = io.BytesIO()
    Image.new("RGB", (48, 32), (120, 90, 60)).save(target, "JPEG", exif=exif)
    return target.getvalue()


def wall(seconds: float, start: str = START) -> datetime:
    """What a clock on the wall shows so many seconds after the start."""
    return datetime.fromisoformat(start).replace(tzinfo=UTC) + timedelta(seconds=seconds)
