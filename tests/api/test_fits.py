"""What fits one end, and the key, through HTTP and at the terminal."""

from __future__ import annotations

import json
from collections.abc import Iterator

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.terminal import run


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address) as client:
        yield client


def test_what_fits_a_lens(api: httpx.Client) -> None:
    report = api.get("/api/v1/fits", params={"lens": "kel-55"}).json()
    assert report["given"] == "lens"
    fits = {fit["id"]: fit for fit in report["fits"]}
    assert (fits["stave-1"]["grade"], fits["o7"]["grade"]) == ("native", "manual")
    # Two rings, 1.90 mm together, do not keep a rack of 2.2 mm off a probe of 1.7 mm.
    assert fits["stave-3"]["grade"] == "danger"
    assert fits["stave-3"]["sentence"].startswith("Do not mount this.")


@pytest.mark.parametrize("query", [{}, {"lens": "kel-55", "body": "o7"}])
def test_exactly_one_end_is_asked_for(api: httpx.Client, query: dict[str, str]) -> None:
    answer = api.get("/api/v1/fits", params=query)
    assert answer.status_code == 422
    assert "not both" in answer.json()["detail"]


def test_the_key_asks_and_answers(api: httpx.Client) -> None:
    first = api.get("/api/v1/mounts/kelvane/key").json()
    assert first["question"]["question"].endswith("?")
    assert not first["settled"]
    last = api.get(
        "/api/v1/mounts/kelvane/key",
        params={"yes": "rack-long", "no": "no-ring,double-index", "unknown": "stepped-shoe"},
    ).json()
    assert last["settled"]
    assert last["remaining"][0]["generation"] == "kelvane-1"
    assert {place["effect"] for place in last["may_mount"]} == {"meters", "safe_after", "damage"}


def test_the_key_refuses_what_it_does_not_know(api: httpx.Client) -> None:
    assert api.get("/api/v1/mounts/kelvain/key").json()["near"] == ["kelvane"]
    answer = api.get("/api/v1/mounts/kelvane/key", params={"yes": "rack-lung"})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["place"] == "rack-lung"
    assert "rack-long" in answer.json()["near"]


def test_everything_shows_what_is_folded(api: httpx.Client) -> None:
    query = {"lens": "mrw-92", "body": "o7"}
    folded = api.get("/api/v1/match", params=query).json()
    whole = api.get("/api/v1/match", params={**query, "everything": "true"}).json()
    assert folded["folded"] > 0
    assert whole["folded"] == 0
    assert whole["total"] == folded["total"]
    assert len(whole["routes"]) > len(folded["routes"])


def test_fits_at_the_terminal() -> None:
    done = run("fits", "sample", "--body", "o7", "--json")
    assert json.loads(done.stdout)["fits"][0]["grade"] == "native"
    assert b"[danger] Kelvane Stave III: Do not mount this." in run("fits", "sample", "--lens", "kel-55").stdout
    assert run("fits", "sample", "--lens", "kel-5").returncode == 2


def test_key_at_the_terminal() -> None:
    done = run("key", "sample", "--mount", "kelvane", "--yes", "rack-long", "--no", "no-ring,double-index", "--json")
    assert json.loads(done.stdout)["settled"]
    assert b"next:" in run("key", "sample", "--mount", "kelvane").stdout
    wrong = run("key", "sample", "--mount", "kelvane", "--yes", "rack-lung")
    assert (wrong.returncode, b"rack-lung" in wrong.stderr) == (2, True)
