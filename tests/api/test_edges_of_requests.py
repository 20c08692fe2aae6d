"""Every operation at the edges of its own schema, two fields at a time: whatever stands there, no answer is a 500."""

from __future__ import annotations

import itertools
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew
from tests.thorough import EVERYWHERE, some
from tropeion.formats import gear_file

DOCUMENT = json.loads((Path(__file__).parents[2] / "docs" / "openapi.json").read_text(encoding="utf-8"))
# What gets a request past looking things up, and to where its numbers are reckoned with.
NAMED = {
    "lens": "kel-55",
    "body": "o7",
    "via": "kel-ost-plain",
    "mount": "kelvane",
    "quantity": "length",
    "q": "KLV-OST",
    "way": "stabiliser",
}
NUMBERS = {
    "mm": 50.0,
    "aperture": 4.0,
    "subject_m": 10.0,
    "distance_m": 12.0,
    "lens_m": 1.6,
    "at_m": 5.0,
    "turns": 0.25,
}
Field = tuple[str, list[Any]]


def edges(schema: dict[str, Any]) -> list[Any]:
    """The least and the greatest that a field takes; what it may not be is for other tests."""
    kinds = schema.get("anyOf", [schema])
    found: list[Any] = []
    for one in kinds:
        if one.get("type") in {"number", "integer"}:
            low, high = (
                one.get(key, one.get(other))
                for key, other in (("minimum", "exclusiveMinimum"), ("maximum", "exclusiveMaximum"))
            )
            step = 1 if one["type"] == "integer" else 1e-6
            found += [low + step if "exclusiveMinimum" in one else low] if low is not None else []
            found += [high - step if "exclusiveMaximum" in one else high] if high is not None else []
        if one.get("type") == "boolean":
            found += [True]
    return found


def operations() -> Iterator[tuple[str, list[Field]]]:
    """Every question whose query has numbers in it."""
    for path, found in DOCUMENT["paths"].items():
        if "get" not in found or "{" in path:
            continue
        # The practice is chosen from words.
        asked = [one for one in found["get"].get("parameters", []) if one.get("in") == "query"]
        fields = [(one["name"], values) for one in asked if (values := edges(one["schema"]))]
        if len(fields) > 1:
            yield path, fields


EVERY = dict(operations())
FEW = ["/api/v1/becomes/view", "/api/v1/frame/picture", "/api/v1/frame", "/api/v1/bench/throw"]


@pytest.fixture
def own(own_server: Served) -> Iterator[httpx.Client]:
    begin_anew(own_server.collection, sample=True)
    with client_of(own_server.address) as client:
        yield client


@pytest.mark.parametrize("path", some(EVERY, [one for one in FEW if one in EVERY]))
def test_no_two_edges_break_it(own: httpx.Client, path: str) -> None:
    names = {one.get("name") for one in DOCUMENT["paths"][path]["get"]["parameters"]}
    base: dict[str, Any] = {name: value for name, value in {**NAMED, **NUMBERS}.items() if name in names}
    if "rows" in names:
        base["rows"] = "300"
    asked = [
        {**base, one: first, other: second}
        for (one, firsts), (other, seconds) in itertools.combinations(EVERY[path], 2)
        for first in firsts
        for second in seconds
    ]
    for query in asked if EVERYWHERE else asked[:: max(1, len(asked) // 40)]:
        answer = own.get(path, params=query)
        assert answer.status_code < 500, (query, answer.text[:300])


# What is sent

WRITES = ("post", "put")
# Names that get a body past looking them up; of the fields of any body.
SAID: dict[str, Any] = {
    **{"lens": "kel-55", "body": "o7", "adapters": [], "via": "", "mount": "kelvane", "piece": "kel-ost-plain"},
    **{
        "day": "2026-11-30",
        "name": "One",
        "lenses": ["kel-55"],
        "bodies": ["o7"],
        "kind": "adapters",
        "rig": "gallery",
    },
    **{"lens_mount": "kelvane", "body_mount": "ostrel", "quantity": "length"},
    **{one: number for one, number in NUMBERS.items() if one != "turns"},
}
DEEP = 4


def resolved(schema: dict[str, Any], document: dict[str, Any]) -> dict[str, Any]:
    """A schema without references and without null."""
    while True:
        if "$ref" in schema:
            found: Any = document
            for part in schema["$ref"].removeprefix("#/").split("/"):
                found = found[part]
            schema = found
        elif "anyOf" in schema or "oneOf" in schema:
            kinds = [one for one in schema.get("anyOf", schema.get("oneOf", [])) if one.get("type") != "null"]
            schema = next((one for one in kinds if one.get("type") in {"number", "integer"}), kinds[0])
        else:
            return schema


def example(schema: dict[str, Any], document: dict[str, Any], name: str = "") -> Any:
    """The least that fits, with names that are known."""
    schema = resolved(schema, document)
    if "const" in schema or "enum" in schema:
        return schema.get("const", schema.get("enum", [None])[0])
    kind = schema.get("type", "object")
    if kind in {"number", "integer"}:
        low = schema.get("minimum", schema.get("exclusiveMinimum", 0))
        high = schema.get("maximum", schema.get("exclusiveMaximum", 1e6))
        wanted = min(max(SAID.get(name, 1), low), high)
        return wanted + 1 if wanted == schema.get("exclusiveMinimum") else wanted
    if kind == "array":
        ones = [example(one, document) for one in schema.get("prefixItems", [])]
        return (
            SAID[name]
            if name in SAID
            else ones or [example(schema.get("items", {}), document)] * schema.get("minItems", 0)
        )
    if kind == "object":
        fields = schema.get("properties", {})
        return {one: example(fields[one], document, one) for one in schema.get("required", [])}
    if kind == "boolean":
        return False
    return SAID.get(name, "00000000-0000-0000-0000-000000000000" if "0-9a-f" in schema.get("pattern", "") else "one")


def leaves(
    schema: dict[str, Any], document: dict[str, Any], path: tuple[str | int, ...] = ()
) -> Iterator[tuple[tuple[str | int, ...], list[Any]]]:
    """Every number of a body, those in lists and inner documents too, with its edges."""
    if len(path) > DEEP:
        return
    schema = resolved(schema, document)
    if schema.get("type") == "array":
        inner = schema.get("prefixItems") or [schema.get("items", {})]
        for place, one in enumerate(inner):
            yield from leaves(one, document, (*path, place))
        return
    for name, one in schema.get("properties", {}).items():
        yield from leaves(one, document, (*path, name))
    if path and (values := edges(schema)):
        yield path, values


def put_at(body: Any, schema: dict[str, Any], document: dict[str, Any], path: tuple[str | int, ...], value: Any) -> Any:
    """The body with a value at a place, and what has to stand around it."""
    schema = resolved(schema, document)
    if not path:
        return value
    first, rest = path[0], path[1:]
    if isinstance(first, int):
        every = schema.get("prefixItems") or [schema.get("items", {})] * (first + 1)
        there = list(body) if body and isinstance(body, list) else [example(one, document) for one in every]
        there[first] = put_at(there[first], every[first], document, rest, value)
        return there
    inner = schema["properties"][first]
    # What another edge put here may be of another form.
    fields = dict(body) if body and isinstance(body, dict) else dict(example(schema, document))
    fields[first] = put_at(fields.get(first), inner, document, rest, value)
    return fields


def bodies() -> Iterator[tuple[str, dict[str, Any]]]:
    """Every operation that takes a document, by its method and path."""
    for path, found in DOCUMENT["paths"].items():
        for method in WRITES:
            content = found.get(method, {}).get("requestBody", {}).get("content", {})
            schema = content.get("application/json", {}).get("schema")
            if schema is not None and len(list(leaves(schema, DOCUMENT))) > 1 and "{token}" not in path:
                yield f"{method.upper()} {path}", schema


BODIES = dict(bodies())
FEW_BODIES = ["POST /api/v1/bench/seen", "POST /api/v1/buying/filters", "PUT /api/v1/stored"]


def pairs_of(schema: dict[str, Any], document: dict[str, Any], base: Any) -> list[Any]:
    """The body with two of its numbers at their edges, in every way."""
    found = list(leaves(schema, document))
    every = [
        put_at(put_at(base, schema, document, one, first), schema, document, other, second)
        for (one, firsts), (other, seconds) in itertools.combinations(found, 2)
        for first in firsts
        for second in seconds
    ]
    return every[:: max(1, len(every) // (80 if EVERYWHERE else 8))]


@pytest.mark.parametrize("operation", some(BODIES, FEW_BODIES))
def test_no_two_edges_of_what_is_sent_break_it(own: httpx.Client, operation: str) -> None:
    schema = BODIES[operation]
    method, path = operation.split(" ")
    path = re.sub(r"\{(\w+)\}", lambda name: {"kind": "lenses", "id": "kel-55"}.get(name[1], "1"), path)
    query = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
    for body in pairs_of(schema, DOCUMENT, example(schema, DOCUMENT)):
        answer = own.request(method, path, json=body, params=query)
        assert answer.status_code < 500 or answer.json()["type"] == "busy", (body, answer.text[:300])


# What is kept

ITEMS = {
    "lenses": ("Lens", "kel-55"),
    "bodies": ("Body", "o7"),
    "adapters": ("Adapter", "kel-ost-plain"),
    "mounts": ("Mount", "kelvane"),
}
ROOMS = (
    "/api/v1/match?lens=kel-55&body=o7",
    "/api/v1/setup?lens=kel-55&body=o7&via=kel-ost-plain",
    "/api/v1/becomes/rig?lens=kel-55&body=o7&via=kel-ost-plain",
    "/api/v1/frame?lens=kel-55&body=o7&via=kel-ost-plain&mm=55&aperture=4&subject_m=10&distance_m=12&lens_m=1.6",
    "/api/v1/bench/rig?lens=kel-55&body=o7&via=kel-ost-plain",
    "/api/v1/grid",
)
GEAR = gear_file.json_schema()


@pytest.mark.parametrize("kind", some(ITEMS, ["lenses"]))
def test_no_two_edges_of_what_is_kept_break_a_room(own: httpx.Client, kind: str) -> None:
    """Whatever the form takes, every room can be asked about it."""
    name, id_ = ITEMS[kind]
    path = f"/api/v1/kit/{kind}/items/{id_}"
    page = own.get(path).json()
    taken = 0
    for item in pairs_of(GEAR["$defs"][name], GEAR, page["item"]):
        version = own.get(path).json()["version"]
        answer = own.put(path, json={"item": item, "version": version})
        assert answer.status_code < 500, (item, answer.text[:300])
        if answer.status_code != 200:
            continue
        taken += 1
        for room in ROOMS if EVERYWHERE else ROOMS[:3]:
            told = own.get(room)
            assert told.status_code < 500, (room, item, told.text[:300])
    assert taken > 3
