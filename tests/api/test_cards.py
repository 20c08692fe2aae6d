"""The card of a rig over HTTP: ticks by day, unknown pieces refused, undone with everything else."""

from __future__ import annotations

from collections.abc import Iterator

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew

RIG = {"lens": "kel-55", "body": "o7", "adapters": "kel-ost-plain", "day": "2026-11-25"}


@pytest.fixture
def own(own_server: Served) -> Iterator[httpx.Client]:
    begin_anew(own_server.collection, sample=True)
    with client_of(f"{own_server.address}/api/v1") as client:
        yield client


def ticked(own: httpx.Client, **other: str) -> list[str]:
    found: list[str] = own.get("/cards", params={**RIG, **other}).raise_for_status().json()["ticked"]
    return found


def test_ticks_stay_with_the_rig_and_the_day(own: httpx.Client) -> None:
    assert ticked(own) == []
    answer = own.put("/cards", json={**RIG, "ticked": ["Power off.", "Power on."], "version": 0}).raise_for_status()
    assert answer.json() == {"day": RIG["day"], "ticked": ["Power off.", "Power on."], "version": 1}
    assert ticked(own) == ["Power off.", "Power on."]
    assert ticked(own, day="2026-11-26") == []
    assert ticked(own, adapters="") == []
    assert own.get("/history").json()["undo"] == "Card of Kelvane 55/2.2 on Ostrel O7, 2026-11-25"
    own.post("/undo").raise_for_status()
    assert ticked(own) == []


@pytest.mark.parametrize(
    ("wrong", "status", "kind"),
    [
        ({"lens": "kel-5"}, 404, "unknown_id"),
        ({"adapters": "kel-ost-plain,nothing"}, 404, "unknown_id"),
        ({"day": "tomorrow"}, 422, "invalid"),
        ({"ticked": ["x" * 4001]}, 422, "invalid"),
        ({"ticked": ["x"] * 201}, 422, "invalid"),
    ],
)
def test_what_cannot_be_kept_is_refused(own: httpx.Client, wrong: dict[str, object], status: int, kind: str) -> None:
    answer = own.put("/cards", json={**RIG, "ticked": ["Power off."], "version": 0, **wrong})
    assert (answer.status_code, answer.json()["type"]) == (status, kind)
    assert ticked(own) == []
    assert own.get("/history").json()["actions"][0]["title"] == "The whole collection replaced"


def test_the_second_of_two_windows_is_told_what_the_first_ticked(own: httpx.Client) -> None:
    own.put("/cards", json={**RIG, "ticked": ["Power off."], "version": 0}).raise_for_status()
    own.put("/cards", json={**RIG, "ticked": ["Power off.", "Power on."], "version": 1}).raise_for_status()
    late = own.put("/cards", json={**RIG, "ticked": ["Power off.", "Lens on."], "version": 1})
    told = late.json()
    assert (late.status_code, told["type"], told["version"]) == (409, "stale", 2)
    assert told["current"]["ticked"] == ["Power off.", "Power on."]
    both = [*told["current"]["ticked"], "Lens on."]
    own.put("/cards", json={**RIG, "ticked": both, "version": told["version"]}).raise_for_status()
    assert ticked(own) == ["Power off.", "Power on.", "Lens on."]
    assert own.put("/cards", json={**RIG, "ticked": []}).status_code == 422


def test_a_card_that_was_taken_back_meanwhile_does_not_come_back_by_a_tick(own: httpx.Client) -> None:
    own.put("/cards", json={**RIG, "ticked": ["Power off."], "version": 0}).raise_for_status()
    own.post("/undo").raise_for_status()
    late = own.put("/cards", json={**RIG, "ticked": ["Power off.", "Power on."], "version": 1})
    assert (late.status_code, late.json()["type"]) == (409, "moved")
    assert ticked(own) == []
