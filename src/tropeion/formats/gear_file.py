"""The gear file: one JSON document, whole or refused whole.

A refusal carries every error with its place and what would be right. Reading never returns half a collection.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from functools import cache
from typing import Any, Final, get_args

from pydantic import BaseModel, ValidationError

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.references import Problem, check_references
from tropeion.core.gear.world import nearest

__all__ = ["FORMAT", "MAX_BYTES", "VERSION", "GearFileError", "dump", "json_schema", "load", "parse", "translated"]

FORMAT: Final = "tropeion-gear"
VERSION: Final = 1
MAX_BYTES: Final = 32 * 1024 * 1024
MAX_DEPTH: Final = 32
MAX_PROBLEMS: Final = 200


class GearFileError(ValueError):
    """A gear file that is refused, with all that is wrong with it."""

    def __init__(self, problems: tuple[Problem, ...]) -> None:
        self.problems = problems
        super().__init__("\n".join(str(problem) for problem in problems))


def load(data: bytes) -> Gear:
    """Read a gear file. Raises GearFileError with every problem at once."""
    document = parse(data)
    _check_head(document)
    try:
        # Validated from the bytes, where an array may stand for a tuple but text never for a number.
        gear = Gear.model_validate_json(data)
    except ValidationError as error:
        raise GearFileError(tuple(translated(error, document))) from None
    problems = check_references(gear)
    if problems:
        raise GearFileError(problems[:MAX_PROBLEMS])
    return gear


def dump(gear: Gear) -> bytes:
    """Write a gear file: one object a line, defaults left out."""
    document = gear.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    document = {"format": FORMAT, "version": VERSION, "currency": gear.currency, **document}
    lines = []
    for key, value in document.items():
        if isinstance(value, list):
            items = ",\n".join(f"    {_compact(item)}" for item in value)
            lines.append(f'  "{key}": [\n{items}\n  ]')
        else:
            lines.append(f'  "{key}": {_compact(value)}')
    return ("{\n" + ",\n".join(lines) + "\n}\n").encode()


@cache
def json_schema() -> dict[str, Any]:
    """The JSON Schema of the gear file, from the models that read it."""
    schema = Gear.model_json_schema(by_alias=True)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Tropeion gear file",
        **{key: value for key, value in schema.items() if key != "title"},
    }


def _compact(value: object) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(", ", ": "))


class _DuplicateKeyError(ValueError):
    pass


def _unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise _DuplicateKeyError(key)
        found[key] = value
    return found


def _no_constant(name: str) -> None:
    raise _ConstantError(name)


class _ConstantError(ValueError):
    pass


def _refuse(place: str, message: str, hint: str = "") -> GearFileError:
    return GearFileError((Problem(place, message, hint),))


def _depth(text: str) -> int:
    """Nesting of brackets outside of strings."""
    depth = deepest = 0
    for match in re.finditer(r'"(?:[^"\\]|\\.)*"|[\[{]|[\]}]', text):
        mark = match.group()
        if mark in "[{":
            depth += 1
            deepest = max(deepest, depth)
        elif mark in "]}":
            depth -= 1
    return deepest


def parse(data: bytes) -> dict[str, Any]:
    """One JSON object, bounded in size and depth. Raises GearFileError."""
    if len(data) > MAX_BYTES:
        raise _refuse("file", f"larger than {MAX_BYTES // 1024 // 1024} MB")
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise _refuse(f"byte {error.start}", "not UTF-8", "save the file as UTF-8") from None
    if text.startswith("\ufeff"):
        raise _refuse("byte 0", "a byte-order mark", "save the file as UTF-8 without one")
    if _depth(text) > MAX_DEPTH:
        raise _refuse("file", f"nested deeper than {MAX_DEPTH} levels")
    try:
        document = json.loads(text, object_pairs_hook=_unique, parse_constant=_no_constant)
    except _DuplicateKeyError as error:
        raise _refuse("file", f"the field '{error}' stands twice in one object", "keep one of them") from None
    except _ConstantError as error:
        raise _refuse("file", f"{error} is not a number", "leave the field out if it is unknown") from None
    except json.JSONDecodeError as error:
        raise _refuse(f"line {error.lineno}, column {error.colno}", f"not JSON: {error.msg}") from None
    if not isinstance(document, dict):
        raise _refuse("file", "not a gear file", "it is one JSON object")
    return document


def _check_head(document: dict[str, Any]) -> None:
    if document.get("format") != FORMAT:
        raise _refuse("format", "not a gear file", f"format is '{FORMAT}'")
    version = document.get("version")
    if isinstance(version, int) and version > VERSION:
        raise _refuse("version", f"version {version} is newer than this program reads ({VERSION})", "update Tropeion")


def _place(location: tuple[str | int, ...], document: object) -> str:
    """``lenses[3].focal_length_mm[0]``, with the item's id where it has one."""
    place = ""
    for part in location:
        place += f"[{part}]" if isinstance(part, int) else f".{part}" if place else part
    if len(location) > 1 and isinstance(location[1], int) and isinstance(document, dict):
        try:
            id_ = document[location[0]][location[1]]["id"]
        except (KeyError, IndexError, TypeError):
            return place
        if isinstance(id_, str) and len(id_) <= 64:
            return f"{place} ({id_})"
    return place


def _models_in(annotation: object) -> Iterator[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for argument in get_args(annotation):
        yield from _models_in(argument)


def _fields_at(location: tuple[str | int, ...], model: type[BaseModel]) -> list[str]:
    """The field names of the model in which the last part of a location stands."""
    for part in location[:-1]:
        if isinstance(part, int):
            continue
        field = next((f for name, f in model.model_fields.items() if part in {name, f.alias}), None)
        inner = next(_models_in(field.annotation), None) if field else None
        if inner is None:
            return []
        model = inner
    return [field.alias or name for name, field in model.model_fields.items()]


def translated(error: ValidationError, document: object, model: type[BaseModel] = Gear) -> Iterator[Problem]:
    """What Pydantic found, in our words, each with its place in a document of ``model``."""
    for entry in error.errors()[:MAX_PROBLEMS]:
        location, kind = entry["loc"], entry["type"]
        place = _place(location, document) or "file"
        message = entry["msg"].removeprefix("Value error, ")
        hint = ""
        if kind == "extra_forbidden":
            name = str(location[-1])
            near = nearest(name, _fields_at(location, model), 1)
            message, hint = "unknown field", f"did you mean '{near[0]}'?" if near else ""
        elif kind == "missing":
            message = "missing"
        elif kind == "string_pattern_mismatch" and entry["ctx"]["pattern"].startswith("^[a-z0-9]"):
            message = "an id is made of small letters, digits, dots, hyphens and underscores"
        elif kind == "string_pattern_mismatch":
            message = "control characters, or not of the expected form"
        elif kind == "literal_error":
            expected = entry.get("ctx", {}).get("expected", "")
            near = nearest(str(entry["input"]), re.findall(r"'([^']*)'", str(expected)), 1)
            message = f"'{str(entry['input'])[:60]}' is not one of {expected}"
            hint = f"did you mean '{near[0]}'?" if near else ""
        elif kind == "finite_number":
            message = "not a finite number"
        yield Problem(place, message[:1].lower() + message[1:], hint)
