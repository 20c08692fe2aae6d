"""A rig's set-up and a flange's code through HTTP."""

from __future__ import annotations

import json
from collections.abc import Iterator
from xml.etree import ElementTree

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.terminal import run

Query = dict[str, str]
RIG: Query = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address + "/api/v1") as client:
        yield client


def test_it_is_what_the_command_tells(api: httpx.Client) -> None:
    found = api.get("/setup", params={**RIG, "accessories": "hood-52"}).json()
    rig = ["--lens", "kel-55", "--body", "o7", "--via", "kel-ost-plain", "--with", "hood-52"]
    command = json.loads(run("setup", "sample", *rig, "--json").stdout)
    # The command calls the joints by the name that the page of reports gives them.
    command["balance"]["joints"] = command["balance"].pop("joints_nm")
    assert found == command


def test_each_step_says_when_it_is_done_and_they_come_in_that_order(api: httpx.Client) -> None:
    stages = ["before", "join", "joined", "power_on", "first_frame"]
    for lens, body in (("kel-55", "o7"), ("qlk-50", "vigil"), ("kel-28-80", "lark"), ("lis-40", "verge")):
        routes = api.get("/match", params={"lens": lens, "body": body}).json()["routes"]
        asked = {"lens": lens, "body": body, "via": ",".join(routes[0]["adapters"])}
        found = [step["stage"] for step in api.get("/setup", params=asked).json()["steps"]]
        assert found == sorted(found, key=stages.index)
        assert {"join", "joined", "first_frame"} <= set(found)
    steps = api.get("/setup", params=RIG).json()["steps"]
    said = {step["text"].split(" ")[0]: step["stage"] for step in steps}
    assert (said["Power"], said["Verify"], said["Allow"], said["Check"]) == (
        "joined",
        "joined",
        "power_on",
        "first_frame",
    )


def test_the_sentence_tells_what_tips(api: httpx.Client) -> None:
    level = api.get("/setup", params=RIG).json()
    assert level["balance_says"] == f"1,025 g, tips forward on Ostrel O7 by {level['balance']['tipping_nm']:.2f} N·m."


@pytest.mark.parametrize(
    ("path", "asked", "status", "said"),
    [
        ("/setup", {**RIG, "accessories": "hood-53"}, 404, "hood-52"),
        ("/setup", {**RIG, "held_by": "kel-55"}, 422, "has no foot"),
        ("/code/read", {"mount": "lisken", "digits": "10"}, 422, "7 fields"),
        ("/code/read", {"mount": "ostrel", "digits": "1"}, 422, "has no code"),
        ("/code/template", {"mount": "lisken", "digits": "1012011"}, 422, "each 0 or 1"),
        ("/code/nearest", {"mount": "lisken", "lens": "kel-56"}, 404, "kel-55"),
    ],
)
def test_what_cannot_be_is_refused(api: httpx.Client, path: str, asked: Query, status: int, said: str) -> None:
    answer = api.get(path, params=asked)
    assert answer.status_code == status
    assert said in answer.text


def test_a_code_is_told_read_and_drawn(api: httpx.Client) -> None:
    near = api.get("/code/nearest", params={"mount": "lisken", "lens": "lis-40"}).json()
    assert (near["coded"], near["fields"], near["dark_is"], near["believed"]) == (True, 7, 1, "Lisken 40/2")
    assert not api.get("/code/nearest", params={"mount": "ostrel", "lens": "lis-40"}).json()["coded"]
    read = api.get("/code/read", params={"mount": "lisken", "digits": "1010011"}).json()
    assert read["lenses"][0]["id"] == "lis-40"
    drawn = api.get("/code/template", params={"mount": "lisken", "digits": "1010011"})
    assert drawn.headers["content-type"] == "image/svg+xml"
    fields = [one for one in ElementTree.fromstring(drawn.content).iter() if one.tag.endswith("rect")]
    assert "".join(one.get("data-digit") or "" for one in fields) == "1010011"
