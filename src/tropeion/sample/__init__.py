"""The sample world: all of it invented."""

from __future__ import annotations

import json
from importlib import resources
from typing import Any, Final

from tropeion.core.subjects import Subject

__all__ = ["SAMPLE_AT", "SUBJECTS", "log_bytes", "picture_list", "record_bytes", "sample_bytes"]

# When the crew began to keep what has no date of its own.
SAMPLE_AT: Final = "2026-11-21T19:00:00.000+00:00"
# What the crew photographs, and from how far.
SUBJECTS: Final = (
    Subject(name="pipe mark", distance_m=0.15),
    Subject(name="music desk", distance_m=0.8),
    Subject(name="organ case", distance_m=6.0),
    Subject(name="across the nave", distance_m=30.0),
)


def sample_bytes() -> bytes:
    """The Windchest gear file."""
    return resources.files(__package__).joinpath("windchest.json").read_bytes()


def record_bytes() -> bytes:
    """What the crew has kept: records by their kind, as JSON."""
    return resources.files(__package__).joinpath("windchest-records.json").read_bytes()


def log_bytes() -> bytes:
    """The crew's log of one outing, as a log file."""
    return resources.files(__package__).joinpath("windchest-log.json").read_bytes()


def picture_list() -> dict[str, list[list[Any]]]:
    """The pictures of that outing, as their cameras signed them, and the scans of a roll.

    ``pictures``: file, body, the digits of its clock, lens, focal length, f-number, then what was really used: focal
    length with the glass in mm and aperture. ``scans``: file and focal length.
    """
    listed: dict[str, list[list[Any]]] = json.loads(
        resources.files(__package__).joinpath("windchest-pictures.json").read_bytes()
    )
    return listed
