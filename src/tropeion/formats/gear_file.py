"""The gear file: one JSON document, whole or refused whole.

A refusal carries every error with its place and what would be right. Reading never returns half a collection.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import Any, Final, get_args

from pydantic import BaseModel, ValidationError

from tropeion.core.gear.accessories import with_words_kept
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, Entry
from tropeion.core.gear.references import ReferenceProblem, check_references
from tropeion.core.gear.refusals import worded
from tropeion.core.gear.world import nearest

from .gear_reading import MAX_DEPTH, GearFileError, mark_in, members, refuse, text_of, too_deep

FORMAT: Final = "tropeion-gear"
VERSION: Final = 1
MAX_PROBLEMS: Final = 200
_KINDS: Final[Mapping[str, Kind]] = {kind: kind for kind in KINDS}


def load(data: bytes) -> Gear:
    """Read a gear file. Raises GearFileError with what is wrong: the first ones, and how many more."""
    head: dict[str, Any] = {}
    shelves: dict[Kind, list[Entry]] = {}
    problems: list[ReferenceProblem] = []
    more = 0
    for key, number, value in members(text_of(data)):
        kind = _KINDS.get(key)
        if kind is None or number is None:
            head[key] = value
            continue
        place = f"{kind}[{number}]"
        try:
            shelves.setdefault(kind, []).append(entry_of(kind, value))
        except TypeError:
            # A mark is no JSON.
            problems += marked(value, place)
        except ValidationError as error:
            if len(problems) < MAX_PROBLEMS:
                all_problems = [within(place, problem, value) for problem in translated(error, MODELS[kind])]
                problems += list(marked(value, place)) or all_problems
            else:
                more += error.error_count()
    _check_head(head)
    gear = _whole(head, shelves, problems)
    if not problems:
        problems += check_references(gear)
    if problems:
        raise GearFileError(first_of(problems, more))
    return gear


def entry_of(kind: Kind, document: Any) -> Entry:
    """One item from its document. Raises ValidationError."""
    # Validated as JSON, where an array may stand for a tuple but text never for a number.
    if kind == "accessories" and isinstance(document, dict):
        document = with_words_kept(document)
    return MODELS[kind].model_validate_json(json.dumps(document))


def first_of(problems: Sequence[ReferenceProblem], more: int = 0) -> tuple[ReferenceProblem, ...]:
    """The first problems, and how many more there are."""
    more += max(0, len(problems) - MAX_PROBLEMS)
    said = (ReferenceProblem("file", f"and {more} more errors"),) if more else ()
    return (*problems[:MAX_PROBLEMS], *said)


def _whole(head: dict[str, Any], shelves: Mapping[Kind, Sequence[Entry]], problems: list[ReferenceProblem]) -> Gear:
    """All of it; what is wrong with the head joins the problems."""
    gear = Gear(format=FORMAT, version=VERSION)
    marks = [problem for key, value in head.items() for problem in marked(value, key)]
    problems += marks
    try:
        gear = Gear.model_validate_json(json.dumps(head)) if not marks else gear
    except ValidationError as error:
        problems += translated(error)
    return gear.model_copy(update={kind: tuple(items) for kind, items in shelves.items()})


def marked(value: Any, place: str) -> Iterator[ReferenceProblem]:
    """What JSON has, and a gear file has not."""
    pair = mark_in(value, place)
    if pair is not None:
        yield ReferenceProblem(pair[0][:200], pair[1].message, pair[1].hint)
    elif too_deep(value, MAX_DEPTH):
        yield ReferenceProblem(place[:80], f"nested deeper than {MAX_DEPTH} levels")


def within(place: str, problem: ReferenceProblem, document: Any) -> ReferenceProblem:
    """A problem of one item, with its place in the file and the item's id where it has one."""
    id_ = document.get("id") if isinstance(document, dict) else None
    inner = "" if problem.place == "file" else f".{problem.place}"
    said = f" ({id_})" if isinstance(id_, str) and len(id_) <= 64 else ""
    return ReferenceProblem(f"{place}{inner}{said}", problem.message, problem.hint)


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


def parse(data: bytes) -> dict[str, Any]:
    """One JSON object, bounded in size and depth. Raises GearFileError."""
    values: dict[str, Any] = {}
    for key, number, value in members(text_of(data)):
        if number is None:
            values[key] = value
        else:
            values.setdefault(key, []).append(value)
    problems = tuple(problem for key, value in values.items() for problem in marked(value, key))
    if problems:
        raise GearFileError(problems)
    return values


def _check_head(document: dict[str, Any]) -> None:
    if document.get("format") != FORMAT:
        raise refuse("format", "not a gear file", f"format is '{FORMAT}'")
    version = document.get("version")
    if isinstance(version, int) and version > VERSION:
        raise refuse("version", f"version {version} is newer than this program reads ({VERSION})", "update Tropeion")


def _place(location: tuple[str | int, ...]) -> str:
    """``focal_length_mm[0]``."""
    place = ""
    for part in location:
        place += f"[{part}]" if isinstance(part, int) else f".{part}" if place else part
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


def translated(error: ValidationError, model: type[BaseModel] = Gear) -> Iterator[ReferenceProblem]:
    """What Pydantic found, in our words, each with its place in ``model``."""
    for entry in error.errors(include_url=False)[:MAX_PROBLEMS]:
        location, kind = entry["loc"], entry["type"]
        place = _place(location)[:200] or "file"
        message, hint = worded(entry), ""
        if kind == "extra_forbidden":
            near = nearest(str(location[-1]), _fields_at(location, model), 1)
            hint = f"did you mean '{near[0]}'?" if near else ""
        elif kind == "json_invalid":
            # It was read as JSON already: only this is left.
            message = "half of a character: a surrogate without its other half"
        elif kind == "literal_error":
            expected = entry.get("ctx", {}).get("expected", "")
            near = nearest(str(entry["input"]), re.findall(r"'([^']*)'", str(expected)), 1)
            message = f"'{str(entry['input'])[:60]}' is not one of {expected}"
            hint = f"did you mean '{near[0]}'?" if near else ""
        yield ReferenceProblem(place, message, hint)
