"""One item alone, as a gear file writes it."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import MODELS, Entry

from .gear_file import entry_of, parse, translated
from .gear_reading import GearFileError


def load_entry(kind: Kind, data: bytes) -> Entry:
    """Read one item. Raises GearFileError with every problem at once; places are fields of the item."""
    document = parse(data)
    try:
        return entry_of(kind, document)
    except ValidationError as error:
        raise GearFileError(tuple(translated(error, MODELS[kind]))) from None


def entry_document(entry: Entry) -> dict[str, Any]:
    """An item as a gear file writes it, defaults left out."""
    values: dict[str, Any] = entry.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    return values
