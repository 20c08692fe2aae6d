"""Mounts, joints, added lenses and the gallery, through HTTP."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of, http
from tests.prepared import begin_anew
from tropeion.api.gallery_resource import STATES


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address) as client:
        yield client


@pytest.fixture
def own(own_server: Served) -> Iterator[httpx.Client]:
    begin_anew(own_server.collection, sample=True)
    with client_of(own_server.address) as client:
        yield client


def test_all_systems_and_one_whole(api: httpx.Client) -> None:
    report = api.get("/api/v1/mounts").raise_for_status().json()
    names = {system["id"]: system for system in report["systems"]}
    assert names["kelvane"]["lenses"] == 9
    assert names["tolmer"]["thread"] == "46 × 1.1"
    page = api.get("/api/v1/mounts/kelvane").raise_for_status().json()
    assert page["mount"]["generations"][0]["from"] == 1958
    missing = api.get("/api/v1/mounts/kelvan")
    assert missing.status_code == 404
    assert missing.json()["near"] == ["kelvane"]


def test_practice_reaches_the_crossings(api: httpx.Client) -> None:
    def ways(pieces: str) -> int:
        found = api.get("/api/v1/mounts", params={"practice[pieces]": pieces}).raise_for_status().json()
        crossings = found["crossings"]
        return sum(crossing["ways"] for crossing in crossings)

    assert ways("1") < ways("2") < ways("3")


def test_a_joint_offers_what_mates(api: httpx.Client) -> None:
    found = api.get("/api/v1/joints", params={"after": "lisken", "before": "ostrel"}).raise_for_status().json()
    assert found["pieces"][0]["arrives"]
    assert all(piece["mates"] for piece in found["pieces"])
    wide = api.get("/api/v1/joints", params={"after": "lisken", "before": "ostrel", "anything": "true"}).json()
    assert wide["total"] == 62
    assert api.get("/api/v1/joints", params={"after": "lisken"}).status_code == 422


ITEMS = "/api/v1/kit/lenses/items"
LENS: dict[str, Any] = {
    "id": "attic-58",
    "name": "Attic 58/2",
    "mount": "kelvane",
    "focal_length_mm": [58.0, 58.0],
    "f_number": [2.0, 16.0],
}


def test_a_lens_is_added_and_refused_twice(own: httpx.Client) -> None:
    added = own.post(ITEMS, json={"item": LENS})
    assert added.status_code == 201
    assert own.get("/api/v1/kit/lenses/items/attic-58").json()["item"]["name"] == "Attic 58/2"
    again = own.post(ITEMS, json={"item": LENS})
    assert again.status_code == 409
    assert "'attic-58' is there already" in again.json()["detail"]


@pytest.mark.parametrize(
    ("change", "place"),
    [({"mount": "kelvan"}, "mount"), ({"f_number": [16.0, 2.0]}, "file"), ({"focal_length_mm": "58"}, "focal")],
)
def test_a_bad_lens_is_refused_with_its_place_and_nothing_is_written(
    own: httpx.Client, change: dict[str, Any], place: str
) -> None:
    refused = own.post(ITEMS, json={"item": {**LENS, **change}})
    assert refused.status_code == 422
    assert any(place in entry["place"] for entry in refused.json()["errors"])
    assert own.get("/api/v1/kit/lenses/items/attic-58").status_code == 404


def test_what_is_no_json_is_refused(own: httpx.Client) -> None:
    assert own.post(ITEMS, content=b"{").status_code in {400, 422}
    assert own.post(ITEMS, content=b"x" * 6_000_000).status_code == 413


def test_the_demo_alone_has_a_gallery(api: httpx.Client, demo_server: Served) -> None:
    assert api.get("/api/v1/gallery").status_code == 404
    entries = http.get(f"{demo_server.address}/api/v1/gallery").raise_for_status().json()["entries"]
    assert [entry["id"] for entry in entries] == [state[0] for state in STATES]
    for entry in entries:
        assert (entry["report"] is None) != (entry["fits"] is None)


def test_a_label_is_read(api: httpx.Client) -> None:
    found = api.get("/api/v1/label", params={"text": "KLV → MRW"}).raise_for_status().json()
    assert found["lens_side"][0]["name"] == "Kelvane"
    assert found["body_side"][0]["mount"] == "marwick"
    assert found["serves"]
    assert api.get("/api/v1/label", params={"text": "x" * 401}).status_code == 422
