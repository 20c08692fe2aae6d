"""A camera worked on through HTTP: a card rehearsed from the swap to the frame."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.conftest import Serve, running
from tests.limits import client_of, http
from tests.prepared import sample_at
from tropeion.api.app import create_app
from tropeion.api.server import config_of
from tropeion.core.gear.gear import Gear
from tropeion.devices.cameras import socket_of
from tropeion.devices.line import CameraServer, ask, is_served
from tropeion.devices.simulated_body import SimulatedBody

RIG = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    return tmp_path


@pytest.fixture
def own(serve: Serve, folder: Path) -> Iterator[httpx.Client]:
    collection = sample_at(folder / "collection.sqlite")
    with client_of(serve(collection).address + "/api/v1") as client:
        yield client


def act(api: httpx.Client, do: str, value: object = None, rig: dict[str, str] | None = None) -> dict[str, Any]:
    answer = api.post("/camera", params=rig or RIG, json={"do": do, "value": value})
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_a_card_from_the_swap_to_the_frame(own: httpx.Client) -> None:
    begun = own.get("/camera", params=RIG).json()
    assert begun["rehearsal"]["next"] == 1
    assert begun["stored_name"] == "55/2.2+KLV"
    for do, value in (("power", False), ("attach", None), ("power", True)):
        act(own, do, value)
    refused = act(own, "release")
    assert refused["rehearsal"]["says"].startswith("The release is refused. It sees no lens")
    mends = {step["number"]: step["controls"] for step in refused["rehearsal"]["steps"]}
    assert [mends[number] for number in refused["rehearsal"]["mends"]] == [["release_without_lens"]]
    deeds: tuple[tuple[str, object], ...] = (
        ("release_without_lens", True),
        ("prompt", 55),
        ("stabiliser", "still"),
        ("travel", 0),
        ("exposure", "A"),
        ("magnifier", 5.5),
        ("focus", None),
        ("magnifier", 0),
        ("iris", "taking"),
        ("store", {"name": "55/2.2+KLV"}),
    )
    for verb, said in deeds:
        assert act(own, verb, said)["says"] == "", (verb, said)
    done = act(own, "release")
    assert done["rehearsal"]["passed"], done["rehearsal"]["says"]
    assert done["state"]["finder"] == []
    # Begun again, all of it is open.
    assert act(own, "begin")["rehearsal"]["next"] == 1


def test_what_the_camera_does_not_do_is_said_and_nothing_changes(own: httpx.Client) -> None:
    before = own.get("/camera", params=RIG).json()["state"]
    found = act(own, "exposure", "Z")
    assert found["says"] == "one of P, A, S, M"
    assert found["state"] == before


def test_a_rig_that_must_not_be_joined_has_no_camera(own: httpx.Client) -> None:
    found = own.get("/camera", params={"lens": "kel-55", "body": "stave-3", "via": ""}).json()
    assert found["state"] is None
    assert "shears off" in found["says"]
    assert act(own, "attach", rig={"lens": "kel-55", "body": "stave-3", "via": ""})["state"] is None


@pytest.mark.parametrize(
    ("sent", "status"), [({"do": "fly"}, 422), ({}, 422), ({"do": "power", "value": True, "rig": "x"}, 200)]
)
def test_what_is_no_deed_is_refused(own: httpx.Client, sent: dict[str, object], status: int) -> None:
    assert own.post("/camera", params=RIG, json=sent).status_code == status


def test_an_unknown_lens_is_named(own: httpx.Client) -> None:
    answer = own.get("/camera", params={**RIG, "lens": "kel-555"})
    assert (answer.status_code, answer.json()["near"][0]) == (404, "kel-55")


def test_a_real_bridge_takes_the_place_of_the_simulated_one(own: httpx.Client, folder: Path, sample_gear: Gear) -> None:
    lark = next(one for one in sample_gear.bodies if one.id == "lark")
    rig = {"lens": "kel-85", "body": "lark", "via": "kel-plm-reducer"}
    with CameraServer(socket_of(folder, "lark"), SimulatedBody(lark)) as bridge:
        ask(bridge.path, "exposure", "M")
        assert own.get("/camera", params=rig).json()["state"]["exposure"] == "M"
        act(own, "exposure", "A", rig)
        assert ask(bridge.path, "state").exposure == "A"


def test_it_stops_with_the_server(tmp_path: Path) -> None:
    collection = sample_at(tmp_path / "collection.sqlite")
    path = socket_of(tmp_path, "o7")
    with running(config_of(create_app(collection))) as address:
        http.get(address + "/api/v1/camera", params=RIG).raise_for_status()
        # To look begins none.
        assert not is_served(path)
        http.post(address + "/api/v1/camera", params=RIG, json={"do": "state"}).raise_for_status()
        assert is_served(path)
    assert not path.exists()


def test_another_rig_on_the_same_body_is_another_swap(own: httpx.Client) -> None:
    act(own, "attach")
    other = {**RIG, "via": "kel-ost-long"}
    found = own.get("/camera", params=other).json()
    assert found["state"]["attached"]["rig"] == "kel-55 o7 kel-ost-plain"
    mounted = next(step for step in found["rehearsal"]["steps"] if "mounted" in step["controls"])
    assert mounted["seen"] == "not_yet"
    assert act(own, "attach", rig=other)["state"]["attached"]["rig"] == found["rig"] == "kel-55 o7 kel-ost-long"
