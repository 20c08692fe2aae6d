"""What a validator finds, in words that a photographer reads: what is wrong with a value, and what would be right."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Final

from pydantic_core import ErrorDetails

_NUMBER = "a number is wanted"
_WORDS: Final[Mapping[str, Callable[[Mapping[str, Any]], str]]] = {
    "missing": lambda _: "missing",
    "extra_forbidden": lambda _: "unknown field",
    "float_type": lambda _: _NUMBER,
    "float_parsing": lambda _: _NUMBER,
    "int_type": lambda _: "a whole number is wanted",
    "int_parsing": lambda _: "a whole number is wanted",
    "int_from_float": lambda _: "a whole number is wanted",
    "finite_number": lambda _: "not a finite number",
    "bool_type": lambda _: "yes or no is wanted",
    "bool_parsing": lambda _: "yes or no is wanted",
    "string_type": lambda _: "words are wanted",
    "list_type": lambda _: "a list is wanted",
    "tuple_type": lambda _: "a list is wanted",
    "dict_type": lambda _: "fields with their values are wanted",
    "model_type": lambda _: "fields with their values are wanted",
    "greater_than": lambda asked: f"more than {asked['gt']:g} is wanted",
    "greater_than_equal": lambda asked: f"at least {asked['ge']:g} is wanted",
    "less_than": lambda asked: f"less than {asked['lt']:g} is wanted",
    "less_than_equal": lambda asked: f"at most {asked['le']:g} is wanted",
    "string_too_short": lambda asked: _at_least(asked["min_length"], "character"),
    "string_too_long": lambda asked: f"at most {asked['max_length']} characters fit",
    "too_short": lambda asked: _at_least(asked["min_length"], "entry"),
    "too_long": lambda asked: f"at most {asked['max_length']} entries fit",
    "literal_error": lambda asked: f"one of these is wanted: {asked['expected']}",
    "json_invalid": lambda _: "not valid JSON",
}


def _at_least(count: int, what: str) -> str:
    if count == 1:
        return "it is empty"
    return f"at least {count} {'entries' if what == 'entry' else f'{what}s'} are wanted"


def worded(error: ErrorDetails) -> str:
    """One error of a validator in words, without its place: a model's own words stay as they are."""
    kind, asked = error["type"], error.get("ctx", {})
    if kind == "string_pattern_mismatch":
        if asked["pattern"].startswith("^[a-z0-9]"):
            return "an id is made of small letters, digits, dots, hyphens and underscores"
        return "control characters, or not of the expected form"
    said = _WORDS[kind](asked) if kind in _WORDS else error["msg"].removeprefix("Value error, ")
    said = said.removeprefix("Input should be ")
    return said[:1].lower() + said[1:]
