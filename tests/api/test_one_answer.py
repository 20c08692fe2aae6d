"""What the core says of a rig is what HTTP and the terminal say of it, with a plate or a mount changed as well."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.terminal import run
from tests.thorough import some
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match

PLATE = "plate..vigil..ostrel"
RIGS = [
    ("kel-55", "o7", "kel-ost-plain"),
    ("kel-55", "o7", ""),
    ("kel-85", "lark", "kel-plm-reducer"),
    ("kel-28-80", "o7", "kel-ost-plain"),
    ("kel-45", "corran", "kel-mrw-chip"),
    ("kel-55", "stave-2", ""),
    ("kel-55", "stave-3", ""),
    ("mrw-62", "o7", "mrw-ost-active"),
    ("mrw-62", "o7", "mrw-ost-slow"),
    ("mrw-62", "o7", "mrw-ost-plain"),
    ("mrw-24-70", "o7", "mrw-ost-variable"),
    ("brn-52", "o7", "brn-ost-fine"),
    ("brn-52", "corran", "brn-mrw-glass"),
    ("qlk-50", "vigil", "qlk-skn-lock"),
    ("qlk-35", "vigil", "qlk-skn-lock"),
    ("grm-98", "o7", "grm-ost-reducer"),
    ("tub-400", "o7", "tub-ost-plain"),
    ("tol-82", "o7", "tol-ost-plain"),
    ("kel-55", PLATE, "kel-ost-plain"),
    ("ost-30", PLATE, ""),
]


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address + "/api/v1") as client:
        yield client


def judged(sample: World, lens: str, body: str, via: str) -> Route:
    (route,) = match(sample, lens, body, Practice(), via=[one for one in via.split(",") if one]).routes
    return route


def codes(route: dict[str, Any]) -> list[str]:
    return [found["code"] for found in route["findings"]]


@pytest.mark.parametrize(("lens", "body", "via"), RIGS)
def test_every_resource_says_what_the_core_says(
    api: httpx.Client, sample: World, lens: str, body: str, via: str
) -> None:
    core = judged(sample, lens, body, via)
    asked = {"lens": lens, "body": body, "via": via}

    def got(path: str) -> Any:
        answer = api.get(path, params=asked)
        assert answer.status_code == 200, (path, answer.text)
        return answer.json()

    route = got("/match")["open"]
    assert (route["grade"], route["slow"], codes(route)) == (
        core.grade,
        list(core.slow),
        [found.code for found in core.findings],
    )
    assert route["light_change_stops"] == core.light_change_stops
    set_up = got("/setup")
    assert (set_up["grade"], set_up["sentence"]) == (core.grade, core.sentence)
    assert set_up["steps"] == route["details"]["steps"]
    assert got("/becomes/rig")["row"]["grade"] == core.grade
    frame = got("/frame")
    assert (frame["reason"] == "") == (core.grade not in {"danger", "none"})
    assert got("/match/working")["adapters"] == list(core.adapters)
    seen = api.post("/bench/seen", params=asked, json={"saw": []}).json()
    assert seen["report"]["adapters"] == list(core.adapters)
    for path in ("/corners", "/bench/trials", "/bench/differences", "/stored"):
        got(path)
    card = api.get("/cards", params={"lens": lens, "body": body, "adapters": via, "day": "2026-11-30"})
    assert card.json()["ticked"] == []


@pytest.mark.parametrize(("lens", "body", "via"), some(RIGS, [RIGS[8], RIGS[18]]))
def test_every_command_says_what_the_core_says(sample: World, lens: str, body: str, via: str) -> None:
    core = judged(sample, lens, body, via)
    rig = ["--lens", lens, "--body", body, "--via", via, "--json"]
    route = json.loads(run("match", "sample", *rig).stdout)["routes"][0]
    assert (route["grade"], codes(route)) == (core.grade, [found.code for found in core.findings])
    assert json.loads(run("setup", "sample", *rig).stdout)["grade"] == core.grade
    for command in (["frame", "sample"], ["bench", "seen", "sample"]):
        done = run(*command, *rig)
        assert done.returncode == 0, (command, done.stderr)


def test_a_rig_with_its_plate_changed_is_kept_and_has_a_card(own: httpx.Client) -> None:
    rig = {"id": "plated", "name": "On the other plate", "lens": "kel-55", "body": PLATE, "adapters": ["kel-ost-plain"]}
    kept = own.post("/kit/rigs/items", json={"item": rig})
    assert kept.status_code in {200, 201}, kept.text
    told = next(one for one in own.get("/rigs").json()["rigs"] if one["id"] == "plated")
    assert (told["body"], told["grade"]) == (PLATE, "manual")
    ticked = {
        "lens": "kel-55",
        "body": PLATE,
        "adapters": "kel-ost-plain",
        "day": "2026-11-30",
        "ticked": ["Power on."],
        "version": 0,
    }
    assert own.put("/cards", json=ticked).json()["ticked"] == ["Power on."]
    # The body has a record now: it is put away, not thrown away.
    gone = own.post("/kit/bodies/remove", json={"ids": ["vigil"]}).json()
    assert "archived" in gone["action"]["title"]
