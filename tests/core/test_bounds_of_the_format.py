"""Nothing in a gear file is without bounds, and what nobody sees is no name."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from tropeion.core.gear.field_types import Name, Text
from tropeion.core.gear.gear import Gear

ID, LONGER_ID = r"^[a-z0-9][a-z0-9._-]{0,63}$", r"^[a-z0-9][a-z0-9._-]{0,149}$"
BOUNDS = {
    "string": ({"maxLength"}, {"enum"}, {"const"}, {"pattern"}),
    "array": ({"maxItems"},),
    "number": ({"maximum"}, {"exclusiveMaximum"}),
    "integer": ({"maximum"}, {"const"}, {"enum"}),
}


def places(schema: dict[str, Any], place: str) -> Iterator[tuple[str, dict[str, Any]]]:
    yield place, schema
    for key in ("items", "additionalProperties"):
        if isinstance(schema.get(key), dict):
            yield from places(schema[key], f"{place}[]")
    for inner in [*schema.get("anyOf", []), *schema.get("prefixItems", [])]:
        yield from places(inner, place)
    for name, inner in schema.get("properties", {}).items():
        yield from places(inner, f"{place}.{name}")


def test_every_list_text_and_number_is_bounded() -> None:
    schema = Gear.model_json_schema(by_alias=True)
    seen = [found for name, one in [("Gear", schema), *schema["$defs"].items()] for found in places(one, name)]
    kinds = {one.get("type") for _, one in seen}
    assert kinds >= BOUNDS.keys()
    unbounded = [
        place
        for place, one in seen
        if (wanted := BOUNDS.get(one.get("type", ""))) and not any(keys <= one.keys() for keys in wanted)
    ]
    assert unbounded == []


def test_patterns_bound_what_they_match() -> None:
    """A pattern counts as a bound above: none of those that stand alone may match a text without end."""
    schema = Gear.model_json_schema(by_alias=True)
    every = [found for name, one in [("Gear", schema), *schema["$defs"].items()] for found in places(one, name)]
    alone = {one["pattern"] for _, one in every if "pattern" in one and "maxLength" not in one}
    assert alone == {
        r"^[a-z0-9][a-z0-9._-]{0,63}$",
        r"^[a-z0-9][a-z0-9._-]{0,149}$",
        r"^\d{4}-\d{2}-\d{2}$",
        r"^[A-Z]{3}$",
        r"^[01]{1,32}$",
    }


NAME, TEXT = TypeAdapter(Name), TypeAdapter(Text)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("   ", "nothing but blanks"),
        ("\u00a0\u2003", "nothing but blanks"),
        ("\u200b", "U+200B"),
        ("Owl\u200b", "U+200B"),
        ("\u202eflow\u202c", "U+202E"),
        ("Owl \u2066x\u2069", "U+2066"),
        ("\ufeffOwl", "U+FEFF"),
        ("line\u2028break", "U+2028"),
        ("\u200d", "nothing but blanks"),
        ("\u0301", "nothing but blanks"),
    ],
)
def test_a_name_can_be_seen(text: str, said: str) -> None:
    with pytest.raises(ValidationError, match=said.replace("+", r"\+")):
        NAME.validate_python(text)


@pytest.mark.parametrize("text", ["Owl", "Ö 55/2,2", "鏡", "می\u200cشود", "👩\u200d🔧 lens", "f/2.8", "?"])
def test_names_of_all_languages_are_names(text: str) -> None:
    assert NAME.validate_python(text) == text


def test_notes_turn_nothing_round() -> None:
    assert TEXT.validate_python("two\nlines\tand more") == "two\nlines\tand more"
    with pytest.raises(ValidationError, match="invisible"):
        TEXT.validate_python("sharp \u202eton")


@given(st.text(max_size=30))
def test_whatever_passes_for_a_name_shows_what_it_says(text: str) -> None:
    try:
        name = NAME.validate_python(text)
    except ValidationError:
        return
    assert name.strip()
    # None of the marks by which a text turns the order of what stands around it.
    turning = {"LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI"}
    assert not turning & {unicodedata.bidirectional(c) for c in name}
