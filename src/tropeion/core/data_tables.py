"""Tables of words that the package carries as JSON, checked when they are loaded."""

from __future__ import annotations

from importlib.resources import files
from typing import TypeVar

from pydantic import TypeAdapter

T = TypeVar("T")


def read_table(data: bytes, row: type[T]) -> tuple[T, ...]:
    """The rows of a table, each as a ``row`` (a dataclass). Raises ValidationError where one is none."""
    return TypeAdapter(tuple[row, ...]).validate_json(data, extra="forbid")  # type: ignore[valid-type]


def table(name: str, row: type[T]) -> tuple[T, ...]:
    """The rows of ``data/NAME.json``."""
    return read_table(files(__package__).joinpath(f"data/{name}.json").read_bytes(), row)
