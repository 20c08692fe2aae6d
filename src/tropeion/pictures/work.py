"""What is done in the worker process: headers and pictures read. It has little memory, and is ended when it hangs.

``python -m tropeion.pictures.work`` reads a JSON object a line and answers each with a line. It opens files by itself,
from a folder that it is told, and writes none.
"""

from __future__ import annotations

import base64
import dataclasses
import io
import json
import os
import resource
import signal
import sys
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Final

from tropeion.formats.picture_header import UnreadError, header_of, read_header

from .folders import FolderError, open_file, opened_folder

MEMORY_BYTES: Final = 1024 * 1024 * 1024
FILE_WITHIN_S: Final = 2.0
MEASURED_WITHIN_S: Final = 60.0
MOST_PIXELS: Final = 120_000_000
# Where a part of a picture is: how far to the right and down.
PLACES: Final = {
    "centre": (0.5, 0.5),
    "top_left": (0.0, 0.0),
    "top_right": (1.0, 0.0),
    "bottom_left": (0.0, 1.0),
    "bottom_right": (1.0, 1.0),
}


class _SlowError(Exception):
    pass


def _alarm(*_: object) -> None:
    raise _SlowError


@contextmanager
def _in_time(seconds: float) -> Iterator[None]:
    signal.signal(signal.SIGALRM, _alarm)
    signal.setitimer(signal.ITIMER_REAL, seconds)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)


def _headers(asked: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """The headers of files in one folder, an answer each."""
    names = [os.fsencode(name) for name in asked["names"]]
    try:
        with opened_folder(Path(asked["root"]), os.fsencode(asked["folder"])) as folder:
            for name in names:
                yield _header(name, folder)
    except FolderError as error:
        for _ in names:
            yield {"why": str(error)}


def _header(name: bytes, folder: int) -> dict[str, Any]:
    try:
        with _in_time(FILE_WITHIN_S), os.fdopen(open_file(name, folder), "rb") as file:
            return {"header": dataclasses.asdict(read_header(file))}
    except UnreadError as error:
        return {"why": str(error)}
    except _SlowError:
        return {"why": f"its header took longer than {FILE_WITHIN_S:g} s"}
    except MemoryError:
        return {"why": "its header takes too much memory"}
    except OSError as error:
        return {"why": (error.strerror or str(error)).lower()}


def _head(asked: dict[str, Any]) -> dict[str, Any]:
    """The header of the head of a file that was sent."""
    try:
        with _in_time(FILE_WITHIN_S):
            return {"header": dataclasses.asdict(header_of(base64.b64decode(asked["data"]), whole=asked["whole"]))}
    except UnreadError as error:
        return {"why": str(error)}
    except (_SlowError, MemoryError):
        return {"why": "its header cannot be read in time"}


def _thumbnail(asked: dict[str, Any]) -> dict[str, Any]:
    """A small picture, encoded anew as JPEG, upright; with a ``place`` that part of it as it is, pixel for pixel."""
    from PIL import Image, ImageOps  # noqa: PLC0415  headers need none of it

    Image.MAX_IMAGE_PIXELS = None
    try:
        with (
            _in_time(asked.get("seconds", 10.0)),
            opened_folder(Path(asked["root"]), os.fsencode(asked["folder"])) as folder,
            os.fdopen(open_file(os.fsencode(asked["name"]), folder), "rb") as file,
            Image.open(file, formats=["JPEG", "TIFF", "PNG"]) as picture,
        ):
            # The header says how many there are, before any of them is decoded.
            if picture.width * picture.height > MOST_PIXELS:
                return {"why": f"more than {MOST_PIXELS // 1_000_000} megapixels"}
            side, place = asked["side"], asked.get("place")
            if place is None:
                picture.draft("RGB", (side, side))
            upright = ImageOps.exif_transpose(picture)
            if place is None:
                upright.thumbnail((side, side))
            else:
                upright = upright.crop(_part(upright.size, side, place))
            target = io.BytesIO()
            upright.convert("RGB").save(target, "JPEG", quality=82 if place is None else 92)
            return {"jpeg": base64.b64encode(target.getvalue()).decode()}
    except FolderError as error:
        return {"why": str(error)}
    except Exception as error:  # a decoder may stumble over anything
        return {"why": f"no picture can be made of it: {' '.join(str(error).split())[:120] or type(error).__name__}"}


def _measure(asked: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """What is measured of a picture: progress, and then the answer, or why there is none."""
    from .decoding import UndecodedError  # noqa: PLC0415  headers need none of it
    from .measuring import measured  # noqa: PLC0415

    try:
        with (
            _in_time(MEASURED_WITHIN_S),
            opened_folder(Path(asked["root"]), os.fsencode(asked["folder"])) as folder,
            os.fdopen(open_file(os.fsencode(asked["name"]), folder), "rb") as file,
        ):
            yield from measured(file, asked)
    except (FolderError, UndecodedError, ValueError) as error:
        yield {"why": str(error)}
    except _SlowError:
        yield {"why": f"it took longer than {MEASURED_WITHIN_S:g} s"}
    except MemoryError:
        yield {"why": "it takes too much memory"}
    except OSError as error:
        yield {"why": (error.strerror or str(error)).lower()}


def _part(size: tuple[int, int], side: int, place: str) -> tuple[int, int, int, int]:
    """A square of a picture at its centre or in a corner, in pixels; smaller where the picture is."""
    width, height = (min(side, whole) for whole in size)
    right, down = PLACES[place]
    left, top = round((size[0] - width) * right), round((size[1] - height) * down)
    return left, top, left + width, top + height


def main() -> None:
    """Answer until the line is closed."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    warnings.simplefilter("ignore")
    for line in sys.stdin:
        asked = json.loads(line)
        match asked["do"]:
            case "headers":
                answers: Iterator[dict[str, Any]] = _headers(asked)
            case "measure":
                answers = _measure(asked)
            case "head":
                answers = iter([_head(asked)])
            case _:
                answers = iter([_thumbnail(asked)])
        for answer in answers:
            sys.stdout.write(json.dumps(answer) + "\n")
            sys.stdout.flush()


if __name__ == "__main__":
    main()
