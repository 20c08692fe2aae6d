"""The sample world: all of it invented."""

from __future__ import annotations

from importlib import resources
from typing import Final

from tropeion.core.subjects import Subject

__all__ = ["SUBJECTS", "record_bytes", "sample_bytes"]

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
