"""What a picture's own file says of it."""

from __future__ import annotations

import re

from tropeion.core.frozen import frozen

# A name that names nothing: blank, zeros, dashes.
_NOTHING = re.compile(r"[\s0.\-–—/*?]*")


@frozen
class Header:
    """The claims of one file. Zero, 0/0 and empty are none: not known.

    ``taken_us`` are the digits of the camera's clock in microseconds since 1970 as if they were UTC, ``exact`` where
    parts of a second stand with them; ``zone_us`` is the UTC offset that the file states.
    """

    make: str = ""
    model: str = ""
    serial: str = ""
    taken_us: int | None = None
    exact: bool = False
    zone_us: int | None = None
    lens: str = ""
    focal_length_mm: float | None = None
    f_number: float | None = None


@frozen
class PictureFile:
    """A file that was read: its path below the folder, with ``/`` between the parts."""

    path: str
    header: Header


def named(lens: str) -> str:
    """The lens that a file names; empty where it names none."""
    text = lens.strip().strip("\x00").strip()
    return "" if _NOTHING.fullmatch(text) else text


def alike(one: str, other: str) -> bool:
    """Whether two names are the same but for case and blanks."""
    return one.casefold().split() == other.casefold().split()


def readable(path: str) -> str:
    """A path as it is told: bytes that are no UTF-8 by their numbers."""
    return path.encode("utf-8", "surrogateescape").decode("utf-8", "backslashreplace")
