"""Entering what one has, over HTTP: from nothing to a rig that works."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew

BODY = {"name": "Gannet 5", "mount": "Gannet", "flange_mm": 20.4, "sensor_mm": [36, 24]}
LENS = {"engraved": "Petrel 1:2.2/55", "mount": "Petrel", "flange_mm": 46.2}


@pytest.fixture
def own(own_server: Served) -> Iterator[httpx.Client]:
    """The API over the sample world, for tests that write."""
    begin_anew(own_server.collection, sample=True)
    with client_of(own_server.address + "/api/v1") as client:
        yield client


@pytest.fixture
def nothing(own_server: Served) -> Iterator[httpx.Client]:
    """The API of an empty collection."""
    begin_anew(own_server.collection)
    with client_of(own_server.address + "/api/v1") as client:
        yield client


def test_a_body_a_lens_and_a_ring_are_all_it_takes(nothing: httpx.Client) -> None:
    body = nothing.post("/begin/body", json=BODY)
    assert body.status_code == 201
    lens = nothing.post("/begin/lens", json=LENS).json()
    assert lens["name"] == "Petrel 1:2.2/55"
    pair = {"lens": lens["id"], "body": body.json()["id"]}
    before = nothing.get("/match", params=pair).json()
    # No ring is listed: the one that would be needed stands alone.
    assert [route["adapters"] for route in before["routes"]] == [["ring..petrel..gannet..25.8"]]
    assert not before["works"]
    assert before["gap_mm"] == pytest.approx(25.8)
    ring = nothing.post("/begin/ring", json=pair).json()
    (line,) = [one for one in nothing.get("/match", params=pair).json()["routes"] if one["adapters"] == [ring["id"]]]
    route = nothing.get("/match", params={**pair, "via": ring["id"]}).json()["open"]
    assert (line["grade"], line["owned"]) == ("manual", True)
    assert (route["grade"], route["register_error_mm"], route["owned"]) == ("manual", 0.0, True)
    # What nobody stated is assumed, and said so.
    assert {"adapters[0].length_mm", "lens.f_number", "lens.aperture"} <= set(route["assumed"])
    history = [action["title"] for action in nothing.get("/history").json()["actions"]]
    assert history[:3] == ["Ring Petrel–Gannet entered", "Petrel 1:2.2/55 entered", "Gannet 5 entered"]
    # One action each: undo takes the lens's mount away with it.
    nothing.post("/undo")
    nothing.post("/undo")
    assert [mount["name"] for mount in nothing.get("/gear").json()["mounts"]] == ["Gannet"]


def test_a_known_mount_is_known_by_any_of_its_names(own: httpx.Client) -> None:
    made = own.post("/begin/lens", json={"engraved": "28-80mm 1:3.5-4.5", "mount": "klv"}).json()
    item = own.get(f"/kit/lenses/items/{made['id']}").json()["item"]
    assert (item["mount"], item["owned"]) == ("kelvane", 1)
    assert (item["focal_length_mm"], item["f_number"], item["f_number_at_long_end"]) == ([28, 80], [3.5, 16], 4.5)


def test_a_measured_ring_is_no_assumption(own: httpx.Client) -> None:
    ring = own.post("/begin/ring", json={"lens": "kel-55", "body": "o7", "length_mm": 25.7}).json()
    item = own.get(f"/kit/adapters/items/{ring['id']}").json()["item"]
    assert item["length_mm"] == 25.7
    assert "length_mm" not in item["assumed"]


@pytest.mark.parametrize(
    ("path", "sent", "place"),
    [
        ("body", {**BODY, "name": " "}, "name"),
        ("body", {**BODY, "mount": ""}, "mount"),
        ("body", {**BODY, "mount": "Skua", "flange_mm": None}, "flange_mm"),
        ("lens", {**LENS, "engraved": "a nice old one"}, "engraved"),
        ("lens", {**LENS, "engraved": "55 mm 1:0.01"}, "engraved"),
        ("ring", {"lens": "ost-30", "body": "stave-1"}, "length_mm"),
    ],
)
def test_what_is_missing_is_named_and_nothing_is_kept(own: httpx.Client, path: str, sent: Any, place: str) -> None:
    before = own.get("/gear").json()
    refused = own.post(f"/begin/{path}", json=sent)
    assert refused.status_code == 422
    assert [error["place"] for error in refused.json()["errors"]] == [place]
    assert own.get("/gear").json() == before


def test_what_one_photographs_is_kept_and_neutral_until_then(nothing: httpx.Client) -> None:
    first = nothing.get("/start").json()["subjects"]
    assert [one["name"] for one in first] == ["a coin", "a face", "a room", "a house"]
    mine = [{"name": "nest", "distance_m": 8}, {"name": "beetle", "distance_m": 0.1}]
    assert nothing.put("/subjects", json=mine).json() == mine
    assert nothing.get("/start").json()["subjects"] == mine
    assert nothing.put("/subjects", json=[]).json() == first
    for wrong in ([{"name": "", "distance_m": 1}], [{"name": "far", "distance_m": 0}], mine * 5):
        assert nothing.put("/subjects", json=wrong).status_code == 422
    assert nothing.get("/start").json()["subjects"] == first


def test_the_sample_brings_what_its_crew_photographs(nothing: httpx.Client) -> None:
    nothing.post("/gear/sample")
    assert "pipe mark" in [one["name"] for one in nothing.get("/start").json()["subjects"]]


LENSES = {
    "owned": True,
    "lenses": [
        {"name": "Petrel 1:2.8/28", "mount": "Petrel", "flange_mm": 46.2, "focal_mm": 28, "f_number": 2.8},
        {"name": "Petrel 1:2.2/55", "mount": "petrel", "focal_mm": 55, "smallest_f_number": 22, "f_number": 2.2},
    ],
}


def test_many_lenses_are_read_and_kept_in_one_action(nothing: httpx.Client) -> None:
    text = "Petrel 1:2,8/28 f/22 .3m\n\nFulmar 40-80 mm 1:4"
    lines = nothing.post("/begin/lenses/read", json={"text": text}).json()
    assert [(one["mount_name"], one["focal_mm"], one["focal_long_mm"], one["min_focus_m"]) for one in lines] == [
        ("Petrel", 28, None, 0.3),
        ("Fulmar", 40, 80, None),
    ]
    assert "lenses" not in nothing.get("/gear").json()
    kept = nothing.post("/begin/lenses", json=LENSES)
    assert (kept.status_code, [one["name"] for one in kept.json()]) == (201, ["Petrel 1:2.8/28", "Petrel 1:2.2/55"])
    gear = nothing.get("/gear").json()
    # The second names the system that the first has brought.
    assert [mount["name"] for mount in gear["mounts"]] == ["Petrel"]
    assert [lens["owned"] for lens in gear["lenses"]] == [1, 1]
    assert nothing.get("/history").json()["undo"] == "2 lenses entered"
    nothing.post("/undo")
    assert "mounts" not in nothing.get("/gear").json()


def test_one_line_that_lacks_something_keeps_none(nothing: httpx.Client) -> None:
    bad = {**LENSES, "lenses": [LENSES["lenses"][0], {"name": "x", "mount": "Fulmar", "focal_mm": 50}]}  # type: ignore[index]
    refused = nothing.post("/begin/lenses", json=bad)
    assert (refused.status_code, refused.json()["errors"][0]["place"]) == (422, "lenses.1.flange_mm")
    assert "lenses" not in nothing.get("/gear").json()
    assert nothing.post("/begin/lenses", json={"lenses": LENSES["lenses"]}).status_code == 422


def test_the_first_verdict_names_the_ring_that_nobody_lists(nothing: httpx.Client) -> None:
    body = nothing.post("/begin/body", json=BODY).json()["id"]
    lens = nothing.post("/begin/lens", json=LENS).json()["id"]
    told = nothing.get("/match", params={"lens": lens, "body": body}).json()
    assert not told["works"]
    [ring] = told["open"]["adapters"]
    assert ring == "ring..petrel..gannet..25.8"
    # Every room takes it.
    rig = {"lens": lens, "body": body, "via": ring}
    scene = {"mm": 55, "aperture": 4, "subject_m": 10, "distance_m": 12, "lens_m": 1.6}
    for path, more in (("setup", {}), ("becomes/rig", {}), ("bench/differences", {}), ("frame", scene)):
        assert nothing.get(f"/{path}", params={**rig, **more}).status_code == 200, path
    (fit,) = nothing.get("/fits", params={"lens": lens}).json()["fits"]
    assert (fit["would_need"]["length_mm"], fit["would_need"]["grade"], fit["possible"]) == (25.8, "manual", True)
    why = nothing.get("/grid/why", params={"lens": lens, "body": body}).json()
    assert why["unlisted"] == "It fits with: Ring Petrel–Gannet, 25.80 mm, not listed: manual focus and stop-down."
    (cell,) = nothing.get("/grid").json()["report"]["cells"]
    assert (cell["market_grade"], cell["unlisted_grade"]) == (None, "manual")
