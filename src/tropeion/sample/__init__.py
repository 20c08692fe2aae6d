"""The sample world: all of it invented."""

from __future__ import annotations

from importlib import resources

__all__ = ["sample_bytes"]


def sample_bytes() -> bytes:
    """The Windchest gear file."""
    return resources.files(__package__).joinpath("windchest.json").read_bytes()
