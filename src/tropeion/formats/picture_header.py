"""What a picture's file says of itself, read from its head. Kinds are told by the first bytes, never by a name."""

from __future__ import annotations

import io
import logging
import re
from datetime import UTC, datetime
from typing import Any, BinaryIO, Final, Literal

import exifread

from tropeion.core.log.header import Header, named
from tropeion.core.records.moments import EPOCH, SECOND_US

PictureKind = Literal["jpeg", "tiff", "png", "heif", "webp"]
# What is needed to tell a kind.
FIRST_BYTES: Final = 16
_TIME = re.compile(r"(\d{4})[:\-/.](\d{2})[:\-/.](\d{2})[ T](\d{2}):(\d{2}):(\d{2})(?:\.(\d+))?")
_ZONE = re.compile(r"([+-])(\d{2}):?(\d{2})")
logging.getLogger("exifread").setLevel(logging.CRITICAL)


class UnreadError(Exception):
    """A file that is no picture or whose head cannot be read, and why."""


def kind_of(first: bytes) -> PictureKind | None:
    """The kind of a file by its first bytes; None for what is no picture. Raw files are TIFF or HEIF by their build."""
    if first[:3] == b"\xff\xd8\xff":
        return "jpeg"
    if first[:8] == b"\x89PNG\r\n\x1a\n":
        return "png"
    if first[:4] == b"RIFF" and first[8:12] == b"WEBP":
        return "webp"
    if first[4:8] == b"ftyp":
        return "heif"
    # The two letters of byte order, and a magic number of two bytes that differs from raw to raw.
    if first[:2] == b"II" and len(first) >= 8 and 0 < int.from_bytes(first[4:8], "little") < 2**31:
        return "tiff"
    if first[:2] == b"MM" and len(first) >= 8 and 0 < int.from_bytes(first[4:8], "big") < 2**31:
        return "tiff"
    return None


def read_header(file: BinaryIO, *, whole: bool = True) -> Header:
    """The claims of an open file. ``whole``: all of it is there, not its head alone. Raises UnreadError."""
    first = file.read(FIRST_BYTES)
    if not first:
        raise UnreadError("it is empty")
    kind = kind_of(first)
    if kind is None:
        raise UnreadError("no picture by its first bytes")
    file.seek(0)
    try:
        tags = exifread.process_file(file, details=False, extract_thumbnail=False)
    except Exception as error:  # whatever a library stumbles over is not read, and nothing more
        if not whole:
            raise UnreadError("its header lies beyond what was sent: read it from a folder") from None
        raise UnreadError(f"its header cannot be read: {_said(error)}") from None
    if not tags and kind in {"heif", "webp"}:
        # Not that it claims nothing: where its claims stand is not found.
        raise UnreadError(f"no header that can be read in this {kind.upper()} file")
    try:
        header = _header(tags)
    except Exception as error:  # a tag of another type than it should have
        raise UnreadError(f"its header cannot be read: {_said(error)}") from None
    if header.taken_us is None and not whole:
        raise UnreadError("no time in what was sent of it: read it from a folder")
    return header


def header_of(head: bytes, *, whole: bool) -> Header:
    """The claims of a file by its head. Raises UnreadError."""
    return read_header(io.BytesIO(head), whole=whole)


def _said(error: Exception) -> str:
    return " ".join(str(error).split())[:120] or type(error).__name__


def _header(tags: dict[str, Any]) -> Header:
    taken_us, exact = _time(tags, "EXIF DateTimeOriginal", "EXIF SubSecTimeOriginal")
    zone = _zone(_text(tags, "EXIF OffsetTimeOriginal"))
    if taken_us is None:
        taken_us, exact = _time(tags, "EXIF DateTimeDigitized", "EXIF SubSecTimeDigitized")
        zone = _zone(_text(tags, "EXIF OffsetTimeDigitized")) if zone is None else zone
    return Header(
        make=_text(tags, "Image Make"),
        model=_text(tags, "Image Model"),
        serial=_text(tags, "EXIF BodySerialNumber"),
        taken_us=taken_us,
        exact=exact,
        zone_us=zone if taken_us is not None else None,
        lens=named(_text(tags, "EXIF LensModel")),
        focal_length_mm=_number(tags, "EXIF FocalLength"),
        f_number=_number(tags, "EXIF FNumber"),
    )


def _text(tags: dict[str, Any], name: str) -> str:
    tag = tags.get(name)
    if tag is None:
        return ""
    values = tag.values
    if isinstance(values, list):
        text = bytes(value for value in values if isinstance(value, int) and 0 < value < 256).decode("utf-8", "replace")
    elif isinstance(values, bytes):
        text = values.decode("utf-8", "replace")
    else:
        text = str(values)
    text = text.replace("\x00", " ")
    # What is no text is shown as a question mark, and never breaks a line.
    return "".join(c if c.isprintable() else "\ufffd" for c in " ".join(text.split()))[:200]


def _number(tags: dict[str, Any], name: str) -> float | None:
    """A positive number that is finite; 0, 0/0 and infinity are not known."""
    tag = tags.get(name)
    if tag is None or not tag.values:
        return None
    value = tag.values[0]
    top, bottom = getattr(value, "num", value), getattr(value, "den", 1)
    if not bottom or not isinstance(top, int | float):
        return None
    number = float(top) / float(bottom)
    # All bits set stand for infinity, and for what was left out.
    return number if 0 < number < 100_000 else None


def _time(tags: dict[str, Any], name: str, parts: str) -> tuple[int | None, bool]:
    match = _TIME.match(_text(tags, name))
    if match is None:
        return None, False
    *digits, fraction = match.groups()
    try:
        moment = datetime(*(int(part) for part in digits), tzinfo=UTC)  # type: ignore[arg-type, misc]
    except ValueError:
        return None, False
    if moment.year < 1900:
        return None, False
    whole_us = int((moment - EPOCH).total_seconds()) * SECOND_US
    fraction = fraction or re.sub(r"\D", "", _text(tags, parts))
    if not fraction:
        return whole_us, False
    return whole_us + int(fraction[:6].ljust(6, "0")), True


def _zone(text: str) -> int | None:
    """The UTC offset in microseconds."""
    if text in {"Z", "z"}:
        return 0
    match = _ZONE.fullmatch(text)
    if match is None:
        return None
    sign, hours, minutes = match.groups()
    if int(hours) > 18 or int(minutes) > 59:
        return None
    return (-1 if sign == "-" else 1) * (int(hours) * 60 + int(minutes)) * 60 * SECOND_US
