"""Folders of pictures and long logs: headers read, a folder read again, entries matched."""

from __future__ import annotations

import io
import json
import random
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import exifread
from PIL import Image

from tropeion.core.log.clock import REACH_US, matched_offset
from tropeion.core.log.header import Header, PictureFile
from tropeion.core.log.matching import match_pictures
from tropeion.core.log.pairing import pairing_value
from tropeion.core.records.moments import SECOND_US, wall_us
from tropeion.formats.log_file import load_log
from tropeion.pictures.library import Library

__all__ = ["measure"]

Report = Callable[..., None]
PICTURES, ENTRIES = 5_000, 100_000
_START = datetime(2026, 1, 3, 10, tzinfo=UTC)


def measure(report: Report) -> None:
    """The figures of the log, each beside a naive way in the same run."""
    with tempfile.TemporaryDirectory() as place:
        root, data = Path(place) / "root", Path(place) / "data"
        root.mkdir()
        data.mkdir()
        _fill(root)
        library = Library(data, [root])
        try:
            (source,) = library.sources()
            first = _seconds(lambda: library.read(source.number, lambda: False, lambda *_: None))
            naive = _seconds(lambda: _all_of_it(root))
            report(f"{PICTURES} JPEG headers", first, 10, "s", naive, "every tag and thumbnail of them")
            again = _seconds(lambda: library.read(source.number, lambda: False, lambda *_: None))
            report("the same folder again", again, 2, "s", first, "reading it")
        finally:
            library.close()
    _entries(report)
    _clock(report)


def _seconds(action: Callable[[], object]) -> float:
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


def _fill(root: Path) -> None:
    target = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F], exif[0x0110] = "Ostrel", "O7"
    exif.get_ifd(0x8769)[0x9003] = "2026:01:03 10:00:00"
    Image.new("RGB", (600, 400), (90, 80, 70)).save(target, "JPEG", exif=exif)
    for number in range(PICTURES):
        (root / f"A{number:05d}.JPG").write_bytes(target.getvalue())


def _all_of_it(root: Path) -> None:
    for path in sorted(root.iterdir()):
        with path.open("rb") as file:
            exifread.process_file(file)
        with Image.open(path) as picture:
            picture.thumbnail((480, 480))


def _steps(count: int) -> list[int]:
    dice, at, steps = random.Random(35), 0, []
    for number in range(count):
        at += dice.choice([20, 45, 90, 200]) if number % 400 else 86_400
        steps.append(at)
    return steps


def _entries(report: Report) -> None:
    steps, dice = _steps(ENTRIES), random.Random(36)
    rows: list[dict[str, Any]] = [
        {
            "id": f"e{number}",
            "at": (_START + timedelta(seconds=step)).isoformat(),
            "body": "o7",
            "lens": "kel-55",
            "aperture": dice.choice([4.0, 5.6]),
        }
        for number, step in enumerate(steps)
    ]
    cameras = [{"body": "o7", "make": "Ostrel", "model": "O7"}]
    log = load_log(json.dumps({"cameras": cameras, "entries": rows}).encode())
    start = wall_us(_START.replace(tzinfo=None).isoformat())
    files = [
        PictureFile(f"A{number}.JPG", Header(make="Ostrel", model="O7", taken_us=start + (step - 420) * SECOND_US))
        for number, step in enumerate(steps[40_000:40_600])
    ]
    report(f"{ENTRIES} entries, 600 pictures matched", _seconds(lambda: match_pictures(log, files)), 10, "s")


def _clock(report: Report) -> None:
    import numpy as np  # noqa: PLC0415

    taps = np.array(_steps(60), np.int64) * SECOND_US
    dice = random.Random(37)
    pictures = np.sort(np.array([tap + dice.randrange(9) * SECOND_US for tap in taps.tolist()] * 5, np.int64))
    moved = pictures - 420 * SECOND_US

    def naive() -> None:
        offsets = {(tap - picture) // SECOND_US for tap in taps.tolist() for picture in moved.tolist()}
        max(pairing_value(taps, moved + offset * SECOND_US, REACH_US) for offset in offsets)

    found = _seconds(lambda: matched_offset(taps, moved))
    report("a clock by 60 taps and 300 pictures", found, 2, "s", _seconds(naive), "trying every offset")
