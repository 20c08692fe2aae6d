"""Generated requests from the API's own OpenAPI document: whatever is sent, no answer is a 500."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.errors import Unsatisfiable
from schemathesis import Case, GenerationMode
from schemathesis.core.result import Ok

from tests.conftest import Serve, Served
from tests.limits import LIMIT_S
from tests.prepared import sample_at
from tests.thorough import EVERYWHERE, some
from tropeion.core.gear.gear import Gear

DOCUMENT = Path(__file__).parents[2] / "docs" / "openapi.json"
EXAMPLES = 48 if EVERYWHERE else 1
OPERATIONS = {
    found.ok().label: found.ok()
    for found in schemathesis.openapi.from_path(str(DOCUMENT)).get_all_operations()
    if isinstance(found, Ok)
}
# What replaces the whole would leave nothing for the others to meet.
LAST = ("PUT /api/v1/gear", "POST /api/v1/restore", "POST /api/v1/kit/{kind}/remove")


@pytest.fixture(scope="module")
def fuzzed(serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Served:
    """The sample world as a demo, in a collection that may be wrecked."""
    collection = sample_at(tmp_path_factory.mktemp("fuzzed") / "collection.sqlite")
    return serve_long(collection, demo=True)


def _with_known_ids(case: Case[Any], gear: Gear, pick: int) -> None:
    """Names of what is there, so that the request gets past looking it up."""
    shelves = {"lens": gear.lenses, "body": gear.bodies, "adapter": gear.adapters, "mount": gear.mounts}
    shelves |= {"lenses": gear.lenses, "bodies": gear.bodies, "adapters": gear.adapters, "mounts": gear.mounts}

    def one(kind: str) -> str:
        shelf = shelves.get(kind, gear.mounts)
        return shelf[pick % len(shelf)].id if shelf else "none"

    path, query = case.path_parameters or {}, case.query or {}
    if "id" in path:
        path["id"] = one(str(path.get("kind", "mount")))
    for name in query.keys() & {"lens", "body", "mount", "body_mount", "after", "before"}:
        query[name] = one("mount" if name in {"after", "before"} else name.removeprefix("body_") or name)


FITTING, UNFITTING = GenerationMode.POSITIVE, GenerationMode.NEGATIVE
ORDER = sorted(OPERATIONS, key=lambda label: (label in LAST, label))
EVERY = [(label, mode) for label in ORDER for mode in (FITTING, UNFITTING)]
# What changes nothing is sent what fits it.
FEW = [(label, mode) for label, mode in EVERY if mode is FITTING or not label.startswith("GET ")]


@pytest.mark.parametrize(("label", "mode"), some(EVERY, FEW))
def test_no_request_breaks_it(fuzzed: Served, sample_gear: Gear, label: str, mode: GenerationMode) -> None:
    operation = OPERATIONS[label]

    @settings(
        max_examples=EXAMPLES, suppress_health_check=list(HealthCheck), derandomize=True, deadline=None, database=None
    )
    @given(case=operation.as_strategy(generation_mode=mode), pick=st.one_of(st.none(), st.integers(0, 99)))
    def send(case: Case[Any], pick: int | None) -> None:
        if pick is not None:
            _with_known_ids(case, sample_gear, pick)
        answer = case.call(base_url=fuzzed.address, timeout=LIMIT_S)
        assert answer.status_code < 500, f"{case.method} {case.path} {case.query} {case.body!r}: {answer.text[:400]}"
        if answer.status_code >= 400:
            assert answer.headers["content-type"][0] == "application/problem+json"
            assert answer.json()["title"]

    try:
        send()
    except Unsatisfiable:
        pytest.skip("there is nothing to get wrong in it")
    assert fuzzed.collection.gear() == fuzzed.collection.world().gear
