"""The kit through HTTP: shelves, items, versions, undo, evidence, rigs, and what would fit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew
from tropeion.core.gear.gear import Gear
from tropeion.store import folding


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address + "/api/v1") as client:
        yield client


@pytest.fixture
def own(own_server: Served, sample_gear: Gear) -> Iterator[httpx.Client]:
    """The sample world in a collection of its own, for tests that write."""
    begin_anew(own_server.collection)
    own_server.collection.replace(sample_gear, "The sample world loaded")
    with client_of(own_server.address + "/api/v1") as client:
        yield client


def _item(client: httpx.Client, kind: str, id_: str) -> dict[str, Any]:
    answer = client.get(f"/kit/{kind}/items/{id_}")
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_a_shelf_and_what_is_found_on_it(api: httpx.Client, sample_gear: Gear) -> None:
    shelf = api.get("/kit/lenses").json()
    assert [row["id"] for row in shelf["rows"]] == [lens.id for lens in sample_gear.lenses]
    found = api.get("/kit/lenses/find", params={"q": "KLV 55", "sort": "price"}).json()["ids"]
    assert "kel-55" in found
    assert {row["mount"] for row in shelf["rows"] if row["id"] in found} == {"Kelvane"}
    assert api.get("/kit/lenses/find", params={"sort": "colour"}).status_code == 422


def test_an_item_says_who_needs_it(api: httpx.Client) -> None:
    page = _item(api, "mounts", "kelvane")
    assert page["version"] == 1
    assert {"kind": "lenses", "id": "kel-55", "name": "Kelvane 55/2.2", "how": "has this mount"} in page["users"]
    missing = api.get("/kit/mounts/items/kelvan")
    assert (missing.status_code, missing.json()["near"][0]) == (404, "kelvane")


def test_added_changed_retired_brought_back_and_undone(own: httpx.Client) -> None:
    new = {"name": "Kelvane 70/3", "mount": "kelvane", "focal_length_mm": [70, 70], "f_number": [3, 22], "owned": 1}
    added = own.post("/kit/lenses/items", json={"item": new})
    assert added.status_code == 201
    assert added.json()["id"] == "kelvane-70-3"
    changed = {**added.json()["item"], "price": 70.0}
    put = own.put("/kit/lenses/items/kelvane-70-3", json={"item": changed, "version": 1})
    assert (put.json()["item"]["price"], put.json()["version"]) == (70.0, 2)
    own.post("/kit/lenses/retire", json={"ids": ["kelvane-70-3", "kel-45"]})
    assert "kelvane-70-3" not in own.get("/kit/lenses/find").json()["ids"]
    assert "kelvane-70-3" in own.get("/kit/lenses/find", params={"retired": True}).json()["ids"]
    own.post("/kit/lenses/retire", json={"ids": ["kelvane-70-3"], "retired": False})
    titles = [action["title"] for action in own.get("/history").json()["actions"]]
    assert titles[:2] == ["Kelvane 70/3 restored from the archive", "2 lenses archived"]
    assert titles[2:4] == ["Kelvane 70/3 changed", "Kelvane 70/3 added"]
    for _ in range(4):
        assert own.post("/undo").json()["action"] is not None
    assert own.get("/kit/lenses/items/kelvane-70-3").status_code == 404
    assert own.get("/history").json()["redo"] == "Kelvane 70/3 added"
    own.post("/redo")
    assert _item(own, "lenses", "kelvane-70-3")["item"] == {**new, "id": "kelvane-70-3", "focal_length_mm": [70, 70]}


def test_the_history_is_kept_as_long_as_somebody_wants(own: httpx.Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(folding, "MOST_ACTIONS", 2)
    # A year unless somebody says something else.
    assert own.get("/history").json()["keep"] == "year"
    for retired in (True, False, True):
        own.post("/kit/lenses/retire", json={"ids": ["kel-45"], "retired": retired}).raise_for_status()
    told = own.get("/history").json()
    assert told["lets_go"] == {"all": 0, "actions": len(told["actions"]) - 2, "year": 0}
    assert own.put("/history/keep", json={"keep": "for ever"}).status_code == 422
    kept = own.put("/history/keep", json={"keep": "actions"}).json()
    assert (kept["keep"], kept["lets_go"]["actions"]) == ("actions", 0)
    assert [action["title"] for action in kept["actions"]] == [action["title"] for action in told["actions"][:2]]


def test_the_second_of_two_windows_is_told_and_shown_both(own: httpx.Client) -> None:
    first = _item(own, "lenses", "kel-55")
    own.put("/kit/lenses/items/kel-55", json={"item": {**first["item"], "price": 75.0}, "version": first["version"]})
    late = own.put("/kit/lenses/items/kel-55", json={"item": {**first["item"], "notes": "mine"}, "version": 1})
    assert late.status_code == 409
    assert late.json()["current"]["price"] == 75.0
    assert late.json()["version"] == 2
    assert "changed meanwhile" in late.json()["detail"]
    assert _item(own, "lenses", "kel-55")["item"]["price"] == 75.0


def test_what_is_in_use_does_not_vanish(own: httpx.Client) -> None:
    refused = own.delete("/kit/mounts/items/kelvane", params={"version": 1})
    assert refused.status_code == 409
    assert {"lenses", "adapters"} <= {user["kind"] for user in refused.json()["users"]}
    several = own.post("/kit/adapters/remove", json={"ids": ["kel-ost-plain", "kel-mrw-penny"]})
    assert several.status_code == 409
    assert "kel-mrw-penny" in {row["id"] for row in own.get("/kit/adapters").json()["rows"]}
    free = own.delete("/kit/rigs/items/gallery", params={"version": 1})
    assert free.status_code == 200


def test_a_wrong_item_is_refused_by_its_fields(own: httpx.Client) -> None:
    new = {"name": "X", "mount": "nowhere", "focal_length_mm": [70, 70], "f_number": [3, 22]}
    refused = own.post("/kit/lenses/items", json={"item": new})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["place"] == "mount"
    wrong = own.post("/kit/lenses/items", json={"item": {**new, "focal_lenght_mm": 3}})
    assert {"place": "focal_lenght_mm", "message": "unknown field", "hint": "did you mean 'focal_length_mm'?"} in (
        wrong.json()["errors"]
    )
    assert own.get("/history").json()["actions"][0]["title"] == "The sample world loaded"


def test_a_new_mount_system_needs_no_code(own: httpx.Client) -> None:
    """A system, its lens and a ring for it, all through the form's way; then the pair is judged."""
    system = {"name": "Wick", "interface": "wick-bayonet", "coupling": "bayonet", "register_mm": 44.0}
    added = own.post("/kit/mounts/items", json={"item": {**system, "tolerance_mm": 0.02, "lens_kind": "reflex"}})
    assert added.status_code == 201, added.text
    lens = {"name": "Wick 40/2", "mount": "wick", "focal_length_mm": [40, 40], "f_number": [2, 16], "owned": 1}
    assert own.post("/kit/lenses/items", json={"item": lens}).status_code == 201
    usual = own.get("/kit/adapters/usual", params={"mount": "wick", "body_mount": "ostrel"}).json()
    (length,) = usual["sure"]
    assert length["value"] == pytest.approx(44.0 - 22.4)
    ring = {"name": "Wick ring", "lens_mount": "wick", "body_mount": "ostrel", "length_mm": length["value"]}
    effect = own.post("/kit/adapters/effect", json={"item": ring}).json()
    assert ("wick-40-2", "o7") in {(pair["lens"], pair["body"]) for pair in effect["pairs"]}
    assert own.post("/kit/adapters/items", json={"item": ring}).status_code == 201
    report = own.get("/match", params={"lens": "wick-40-2", "body": "o7"}).json()
    assert report["routes"][0]["adapters"] == ["wick-ring"]


def test_measured_beats_nominal_and_both_stay(own: httpx.Client) -> None:
    page = _item(own, "adapters", "kel-mrw-penny")
    measured = {"measured_length_mm": 5.9, "measured_tolerance_mm": 0.01, "measured_on": "2026-11-20"}
    own.put("/kit/adapters/items/kel-mrw-penny", json={"item": {**page["item"], **measured}, "version": 1})
    after = _item(own, "adapters", "kel-mrw-penny")["item"]
    assert after["length_mm"] == page["item"]["length_mm"] != 5.9
    query = {"lens": "kel-55", "body": "corran", "via": "kel-mrw-penny"}
    bodies = {row["name"]: row["id"] for row in own.get("/kit/bodies").json()["rows"]}
    report = own.get("/match", params={**query, "body": bodies["Marwick Corran"]}).json()
    assert report["pieces"]["kel-mrw-penny"]["length_mm"] == 5.9
    assert report["pieces"]["kel-mrw-penny"]["measured"] is True


def test_a_kept_rig_tells_when_a_correction_changes_it(own: httpx.Client) -> None:
    rig = _item(own, "rigs", "gallery")
    now = next(one for one in own.get("/rigs").json()["rigs"] if one["id"] == "gallery")
    noted = {**rig["item"], "grade": now["grade"], "graded_on": "2026-11-02"}
    own.put("/kit/rigs/items/gallery", json={"item": noted, "version": 1})
    ring = _item(own, "adapters", "kel-ost-plain")
    longer = {**ring["item"], "measured_length_mm": 27.0}
    told = own.post("/kit/adapters/effect", json={"item": longer}).json()
    assert next(change["id"] for change in told["rigs"]) == "gallery"
    own.put("/kit/adapters/items/kel-ost-plain", json={"item": longer, "version": ring["version"]})
    after = next(one for one in own.get("/rigs").json()["rigs"] if one["id"] == "gallery")
    assert after["changed"] is True
    assert (after["kept_grade"], after["grade"]) == (now["grade"], told["rigs"][0]["after"])


def test_a_trial_of_a_pair_is_counted(own: httpx.Client) -> None:
    ring = _item(own, "adapters", "kel-ost-plain")
    trial = {"claim": "locks firmly", "verdict": "contradicted", "source": "own", "on": "2026-11-20"}
    evidence = [{**trial, "with": ["kel-55", "o7"]}]
    own.put("/kit/adapters/items/kel-ost-plain", json={"item": {**ring["item"], "evidence": evidence}, "version": 1})
    said = own.get("/evidence", params={"ids": "kel-55,kel-ost-plain,o7"}).json()
    assert (said["confirmed"], said["contradicted"], said["own"]) == (0, 1, 1)
    assert own.get("/evidence", params={"ids": "kel-55,kel-ost-plain"}).json()["testimonies"] == []
    assert _item(own, "bodies", "o7")["witnessed"]["contradicted"] == 1
    gone = own.delete("/kit/lenses/items/kel-45", params={"version": 1})
    assert gone.status_code == 200


def test_would_it_fit_answers_for_every_body_at_hand(api: httpx.Client, sample_gear: Gear) -> None:
    read = api.get("/lens-read", params={"text": "Kelvane 1:2.2/55, black"}).json()
    assert (read["mount"], read["sure"], read["focal_mm"], read["f_number"], read["doubts"]) == (
        "kelvane",
        True,
        55.0,
        2.2,
        [],
    )
    answer = api.get("/would-fit", params={"mount": "kelvane", "focal_mm": 55}).json()
    fits = {fit["id"]: fit for fit in answer["report"]["fits"]}
    assert set(fits) == {body.id for body in sample_gear.bodies if body.at_hand}
    assert fits["o7"]["adapters"] == ["kel-ost-plain"]
    unsure = api.get("/lens-read", params={"text": "Tolmer 2.8/135"}).json()
    assert (unsure["sure"], unsure["focal_mm"], len(unsure["doubts"])) == (False, 135.0, 1)
    assert api.get("/would-fit", params={"mount": "nowhere", "focal_mm": 55}).status_code == 404
    assert api.get("/would-fit", params={"mount": "kelvane", "focal_mm": 0}).status_code == 422


@pytest.mark.parametrize(
    ("text", "mm", "f"),
    [
        ("55/2.2", 55, 2.2),
        ("135 mm f/3.5", 135, 3.5),
        ("1:2/35", 35, 2),
        ("2,8/135", 135, 2.8),
        ("46 × 1.1 50mm", 50, None),
        ("a 28 somewhere", 28, None),
        ("M46x1.1", None, None),
    ],
)
def test_engravings_are_read(api: httpx.Client, text: str, mm: float | None, f: float | None) -> None:
    read = api.get("/lens-read", params={"text": text}).json()
    assert (read["focal_mm"], read["f_number"]) == (mm, f)
