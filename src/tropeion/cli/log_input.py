"""A log file as a command is given it."""

from __future__ import annotations

import sys
from pathlib import Path

from tropeion.core.log.log_file import LogFile
from tropeion.formats.gear_reading import GearFileError
from tropeion.formats.log_file import MAX_BYTES, load_log

from .inputs import InputRefusedError


def log_in(name: str) -> LogFile:
    """A log file by its name, or standard input. Raises InputRefusedError."""
    if name == "-":
        data = sys.stdin.buffer.read(MAX_BYTES + 1)
    else:
        try:
            with Path(name).open("rb") as file:
                data = file.read(MAX_BYTES + 1)
        except OSError as error:
            raise InputRefusedError(f"cannot read {name}: {error.strerror}", 2) from None
    try:
        return load_log(data)
    except GearFileError as error:
        lines = "\n".join(f"  {problem}" for problem in error.problems)
        raise InputRefusedError(f"{name} is refused:\n{lines}", 2) from None
