"""A file that somebody brings: a gear file or a table, told apart by how it begins."""

from __future__ import annotations

from tropeion.core.gear.gear import Gear

from . import gear_file
from .kit_tables import load_table, says_owned


def load_any(data: bytes, mine: Gear) -> Gear:
    """Read it, to be merged into ``mine``. Raises GearFileError with every problem at once."""
    return gear_file.load(data) if _is_gear_file(data) else load_table(data, mine)[1]


def _is_gear_file(data: bytes) -> bool:
    # A gear file begins with a brace, in UTF-16 too; so does no table.
    return data.lstrip(b"\xef\xbb\xbf\xff\xfe\x00 \t\r\n")[:1] in {b"{", b"["}


def leaves_ownership_open(data: bytes) -> bool:
    """Whether it is a table that does not say what its writer owns. Raises GearFileError."""
    return not _is_gear_file(data) and not says_owned(data)
