"""Every operation at the edges of its own schema, two fields at a time: whatever stands there, no answer is a 500."""

from __future__ import annotations

import itertools
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew
from tests.thorough import EVERYWHERE, some

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
        asked = [one for one in found["get"].get("parameters", []) if one["in"] == "query"]
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
    names = {one["name"] for one in DOCUMENT["paths"][path]["get"]["parameters"]}
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
