"""A JSON object read piece by piece: time and memory grow with the file, never faster.

Members that are lists come one element at a time, so that no more than one stands in memory; an element is bounded.
What JSON has and a gear file has not (NaN, a field that stands twice, a number of thousands of digits) is a ``Mark`` in
its place, found again by :func:`mark_in`.
"""

from __future__ import annotations

import json
import re
from collections.abc import Generator, Iterator
from typing import Any, Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.references import ReferenceProblem

MAX_BYTES: Final = 32 * 1024 * 1024
MAX_DEPTH: Final = 32
MOST_ELEMENTS: Final = 50_000
# One item of a gear file is a few thousand characters; most fit into the first window.
_WINDOWS: Final = (16 * 1024, 1024 * 1024)
_BLANK: Final = re.compile(r"[ \t\n\r]*")
_MOST_DIGITS: Final = 40


class GearFileError(ValueError):
    """A file that is refused, with all that is wrong with it."""

    def __init__(self, problems: tuple[ReferenceProblem, ...]) -> None:
        self.problems = problems
        super().__init__("\n".join(str(problem) for problem in problems))


def refuse(place: str, message: str, hint: str = "") -> GearFileError:
    """A refusal for one reason."""
    return GearFileError((ReferenceProblem(place, message, hint),))


@frozen
class Mark:
    """What must not stand in its place: why, and what would be right."""

    message: str
    hint: str = ""


def _unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    values = dict(pairs)
    if len(values) < len(pairs):
        seen: set[str] = set()
        for key, _ in pairs:
            if key in seen:
                values[key] = _twice(key)
            seen.add(key)
    return values


def _twice(key: str) -> Mark:
    return Mark(f"the field '{key[:60]}' stands twice in one object", "keep one of them")


def _constant(name: str) -> Mark:
    return Mark(f"{name} is not a number", "leave the field out if it is unknown")


def _integer(digits: str) -> int | Mark:
    return int(digits) if len(digits) <= _MOST_DIGITS else Mark(f"a number of {len(digits)} digits")


_DECODER = json.JSONDecoder(object_pairs_hook=_unique, parse_constant=_constant, parse_int=_integer)


def mark_in(value: Any, place: str = "") -> tuple[str, Mark] | None:
    """The first mark in a value, and where it stands."""
    waiting = [(place, value)]
    while waiting:
        at, element = waiting.pop()
        if isinstance(element, Mark):
            return at, element
        if isinstance(element, dict):
            waiting += [(f"{at}.{key}" if at else key, inner) for key, inner in reversed(element.items())]
        elif isinstance(element, list):
            waiting += [(f"{at}[{number}]", inner) for number, inner in reversed(list(enumerate(element)))]
    return None


def too_deep(value: Any, most: int) -> bool:
    """Whether a value is nested deeper than ``most`` levels."""
    level, depth = [value], 0
    while level:
        level = [
            inner
            for value in level
            if isinstance(value, dict | list)
            for inner in (value.values() if isinstance(value, dict) else value)
        ]
        depth += 1
        if depth > most:
            return True
    return False


def read_value(text: str) -> Any:
    """One JSON value of a cell. Raises ValueError, also for what JSON has and a gear file has not."""
    value, end = _DECODER.raw_decode(text.strip())
    if end < len(text.strip()) or mark_in(value) is not None:
        raise ValueError
    return value


def text_of(data: bytes, *, limit: int = MAX_BYTES) -> str:
    """The text of a file in UTF-8, or in UTF-16 that says so. Raises GearFileError."""
    if len(data) > limit:
        raise refuse("file", f"larger than {limit // 1024 // 1024} MB")
    wide = data.startswith((b"\xff\xfe", b"\xfe\xff"))
    try:
        text = data.decode("utf-16" if wide else "utf-8")
    except UnicodeDecodeError as error:
        said = "not UTF-16, as it says" if wide else "not UTF-8"
        raise refuse(f"byte {error.start}", said, "save the file as UTF-8") from None
    if text.startswith("\ufeff"):
        raise refuse("byte 0", "a byte-order mark", "save the file as UTF-8 without one")
    if "\x00" in text[:64]:
        raise refuse("byte 0", "UTF-16 that does not say so", "save the file as UTF-8")
    return text


def members(text: str, most: int = MOST_ELEMENTS) -> Iterator[tuple[str, int | None, Any]]:
    """The members of one JSON object: key, None and the value; of a list key, number and each element.

    An empty list comes as a value; one of more than ``most`` elements is refused. Raises GearFileError with line and
    column where it is no JSON.
    """
    at = _blank(text, 0)
    if text[at : at + 1] != "{":
        if text[at : at + 1] == "[":
            raise refuse("file", "not a gear file", "it is one JSON object")
        raise _no_json(text, at, "it begins with '{'")
    seen: set[str] = set()
    at = _blank(text, at + 1)
    while text[at : at + 1] != "}":
        key, at = _key(text, at, seen)
        at = _blank(text, at)
        if text[at : at + 1] == "[" and text[(first := _blank(text, at + 1)) : first + 1] != "]":
            at = yield from _elements(text, first, key, most)
        else:
            value, at = _value(text, at, key)
            yield key, None, value
        at = _blank(text, at)
        mark = text[at : at + 1]
        if mark == ",":
            at = _blank(text, at + 1)
            if text[at : at + 1] == "}":
                raise _no_json(text, at, "a comma before the end")
        elif mark != "}":
            raise _no_json(text, at, "',' or '}' is missing")
    at = _blank(text, at + 1)
    if at < len(text):
        raise _no_json(text, at, "something stands after the end")


def _key(text: str, at: int, seen: set[str]) -> tuple[str, int]:
    key, after = _value(text, at, "file")
    if not isinstance(key, str):
        raise _no_json(text, at, "a field's name in quotes is missing")
    if key in seen:
        twice = _twice(key)
        raise refuse(f"line {_line(text, at)}", twice.message, twice.hint)
    seen.add(key)
    after = _blank(text, after)
    if text[after : after + 1] != ":":
        raise _no_json(text, after, "':' is missing")
    return key, after + 1


def _elements(text: str, at: int, key: str, most: int) -> Generator[tuple[str, int | None, Any], None, int]:
    """The elements of a list from the first one on; returns the place after its end."""
    for number in range(most):
        value, at = _value(text, at, f"{key}[{number}]")
        yield key, number, value
        at = _blank(text, at)
        mark = text[at : at + 1]
        if mark == "]":
            return at + 1
        if mark != ",":
            raise _no_json(text, at, "',' or ']' is missing")
        at = _blank(text, at + 1)
    raise refuse(key[:60], f"more than {most} items", "split the file")


def _value(text: str, at: int, place: str) -> tuple[Any, int]:
    """One value of bounded size, and the place after it."""
    place = place[:80]
    for window in _WINDOWS:
        part = text[at : at + window]
        whole = at + window >= len(text)
        try:
            value, length = _DECODER.raw_decode(part)
        except RecursionError:
            raise refuse(place, f"nested deeper than {MAX_DEPTH} levels") from None
        except json.JSONDecodeError as error:
            # Where the window ends, the value may go on.
            if whole or not _may_go_on(error, part):
                raise _no_json(text, at + error.pos, error.msg) from None
        else:
            if whole or length < window:
                return value, at + length
    raise refuse(place, f"larger than {_WINDOWS[-1] // 1024 // 1024} MB")


def _may_go_on(error: json.JSONDecodeError, part: str) -> bool:
    # A literal or an escape cut in two is told where it begins.
    return error.msg.startswith("Unterminated string") or error.pos > len(part) - 16


def _blank(text: str, at: int) -> int:
    match = _BLANK.match(text, at)
    return at if match is None else match.end()


def _line(text: str, at: int) -> int:
    return text.count("\n", 0, at) + 1


def _no_json(text: str, at: int, said: str) -> GearFileError:
    column = at - text.rfind("\n", 0, at)
    return refuse(f"line {_line(text, at)}, column {column}", f"not JSON: {said}")
