"""The log file: one JSON document, whole or refused whole, with every error at its place."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from functools import cache
from typing import Any, Final

from pydantic import BaseModel, ValidationError
from pydantic_core import PydanticSerializationError, to_json

from tropeion.core.gear.references import ReferenceProblem
from tropeion.core.log.log_file import MOST_ENTRIES, FiledEntry, FiledTrial, LogFile
from tropeion.core.records.log_others import ClockSet, Roll, Settled, Signs
from tropeion.core.records.trials import PieceEvent

from .gear_file import MAX_PROBLEMS, first_of, marked, translated, within
from .gear_reading import GearFileError, members, refuse, text_of

MAX_BYTES: Final = 128 * 1024 * 1024
VERSION: Final = 1
LISTS: Final[Mapping[str, type[BaseModel]]] = {
    "cameras": Signs,
    "entries": FiledEntry,
    "clocks": ClockSet,
    "rolls": Roll,
    "assignments": Settled,
    "trials": FiledTrial,
    "events": PieceEvent,
}


def load_log(data: bytes) -> LogFile:
    """Read a log file. Raises GearFileError with what is wrong: the first ones, and how many more."""
    head: dict[str, Any] = {}
    lists: dict[str, list[BaseModel]] = {name: [] for name in LISTS}
    problems: list[ReferenceProblem] = []
    more = 0
    for key, number, value in members(text_of(data, limit=MAX_BYTES), MOST_ENTRIES):
        if key not in LISTS or number is None:
            head[key] = value
            continue
        place, model = f"{key}[{number}]", LISTS[key]
        try:
            lists[key].append(model.model_validate_json(to_json(value)))
        except PydanticSerializationError:
            # A mark is no JSON.
            problems += marked(value, place)
        except ValidationError as error:
            if len(problems) < MAX_PROBLEMS:
                all_problems = [within(place, problem, value) for problem in translated(error, model)]
                problems += list(marked(value, place)) or all_problems
            else:
                more += error.error_count()
    _check_head(head)
    problems += [problem for key, value in head.items() for problem in marked(value, key)]
    if not problems:
        try:
            LogFile.model_validate_json(json.dumps(head))
        except ValidationError as error:
            problems += translated(error, LogFile)
    problems += _twice(lists)
    if problems:
        raise GearFileError(first_of(problems, more))
    return LogFile().model_copy(update={name: tuple(items) for name, items in lists.items()})


def _check_head(head: dict[str, Any]) -> None:
    version = head.get("version", VERSION)
    if isinstance(version, int) and version > VERSION:
        raise refuse("version", f"version {version} is newer than this program reads ({VERSION})", "update Tropeion")


def _twice(lists: Mapping[str, list[BaseModel]]) -> Iterator[ReferenceProblem]:
    """Ids that stand twice in one list."""
    for name in ("entries", "rolls", "trials"):
        seen: set[str] = set()
        for number, item in enumerate(lists[name]):
            id_ = str(getattr(item, "id", ""))
            if id_ in seen:
                yield ReferenceProblem(f"{name}[{number}]", f"the id '{id_}' stands twice", "each has one of its own")
            seen.add(id_)


def dump_log(log: LogFile) -> bytes:
    """Write a log file: one object a line, defaults left out."""
    lines = [f'  "version": {VERSION}']
    for name in LISTS:
        items = getattr(log, name)
        if items:
            told = (
                json.dumps(item.model_dump(mode="json", exclude_defaults=True), ensure_ascii=False) for item in items
            )
            listed = ",\n".join(f"    {item}" for item in told)
            lines.append(f'  "{name}": [\n{listed}\n  ]')
    return ("{\n" + ",\n".join(lines) + "\n}\n").encode()


@cache
def log_schema() -> dict[str, Any]:
    """The JSON Schema of the log file, from the models that read it."""
    schema = LogFile.model_json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Tropeion log file",
        **{key: value for key, value in schema.items() if key != "title"},
    }
