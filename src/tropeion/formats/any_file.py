"""A file that somebody brings: a gear file or a table, told apart by how it begins."""

from __future__ import annotations

from tropeion.core.gear.gear import Gear

from . import gear_file
from .tables import load_table

__all__ = ["load_any"]


def load_any(data: bytes, mine: Gear) -> Gear:
    """Read it, to be merged into ``mine``. Raises GearFileError with every problem at once."""
    # A gear file begins with a brace, in UTF-16 too; so does no table.
    if data.lstrip(b"\xef\xbb\xbf\xff\xfe\x00 \t\r\n")[:1] in {b"{", b"["}:
        return gear_file.load(data)
    return load_table(data, mine)[1]
