"""Files in and out, through HTTP."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew
from tests.shapes import fill_up
from tests.terminal import NEEDS_WEB, started
from tests.thorough import some
from tests.worlds import lens, mount
from tropeion.core.gear.gear import Gear
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes
from tropeion.store.collection import Collection


@pytest.fixture
def collection(own_server: Served) -> Collection:
    begin_anew(own_server.collection, sample=True)
    return own_server.collection


@pytest.fixture
def api(own_server: Served, collection: Collection) -> Iterator[httpx.Client]:
    assert own_server.collection is collection
    with client_of(own_server.address + "/api/v1") as client:
        yield client


def _look(client: httpx.Client, data: bytes, name: str = "list.json") -> dict[str, Any]:
    answer = client.post("/import", params={"name": name}, content=data)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def _take(client: httpx.Client, token: str, **choice: Any) -> list[dict[str, Any]]:
    answer = client.post(f"/import/{token}", json=choice)
    assert answer.status_code == 200, answer.text
    return [json.loads(line) for line in answer.text.splitlines()]


def _changed() -> tuple[bytes, dict[str, Any]]:
    document = json.loads(sample_bytes())
    document["lenses"][0]["price"] = 61.0
    document["lenses"][1]["mount"] = "tolmer"
    document["lenses"][1].pop("generation", None)
    document["lenses"].append({**lens(id="new-one", mount="kelvane")})
    return json.dumps(document).encode(), document


def test_the_whole_out_and_in_changes_nothing(api: httpx.Client) -> None:
    data = api.get("/gear").content
    assert data == sample_bytes()
    preview = _look(api, data)
    assert (preview["new"], preview["changed"], preview["conflict"]) == (0, 0, 0)
    for kind in ("lenses", "bodies", "adapters", "mounts", "protocols", "rigs"):
        for decimal in ("point", "comma"):
            table = api.get("/export", params={"kind": kind, "decimal": decimal}).content
            assert _look(api, table, "list.csv")["same"] == len(json.loads(sample_bytes())[kind])


def test_a_selection_stands_alone(api: httpx.Client, sample_gear: Gear) -> None:
    data = api.post("/export", json={"kind": "rigs", "ids": ["gallery"]}).content
    alone = gear_file.load(data)
    assert [rig.id for rig in alone.rigs] == ["gallery"]
    assert [one.id for one in alone.lenses] == ["kel-55"]
    assert len(alone.mounts) < len(sample_gear.mounts)
    for kind in ("lenses", "adapters", "bodies", "mounts"):
        ids = [item.id for item in getattr(sample_gear, kind)]
        data = api.post("/export", json={"kind": kind, "ids": ids}).content
        assert len(getattr(gear_file.load(data), kind)) == len(getattr(sample_gear, kind))
    asked = {"kind": "lenses", "ids": ["kel-55", "kel-45"], "format": "table"}
    rows = api.post("/export", json=asked).text.splitlines()
    assert len(rows) == 3


def test_a_preview_writes_nothing_and_tells_field_by_field(api: httpx.Client, collection: Collection) -> None:
    before = collection.revision
    preview = _look(api, _changed()[0])
    assert (preview["new"], preview["changed"], preview["conflict"]) == (1, 1, 1)
    changed = next(change for change in preview["changes"] if change["status"] == "changed")
    assert changed["fields"] == [{"field": "price", "before": "60.0", "after": "61.0"}]
    assert collection.revision == before


def test_what_is_chosen_is_taken_and_undone_in_one_go(api: httpx.Client, sample_gear: Gear) -> None:
    token = _look(api, _changed()[0])["token"]
    lines = _take(api, token, statuses=["new", "changed"], leave=[["lenses", "new-one"]])
    assert lines[-1] == {"written": 1}
    assert lines[0] == {"done": 1, "of": 1}
    assert api.get("/kit/lenses/items/new-one").status_code == 404
    assert api.get("/kit/lenses/items/kel-55").json()["item"]["price"] == 61.0
    token = _look(api, _changed()[0])["token"]
    assert _take(api, token, statuses=[], also=[["lenses", "new-one"], ["lenses", "kel-45"]])[-1] == {"written": 2}
    assert api.get("/kit/lenses/items/kel-45").json()["item"]["mount"] == "tolmer"
    assert api.post("/undo").json()["action"]["title"] == "list.json imported"
    api.post("/undo")
    assert gear_file.load(api.get("/gear").content) == sample_gear


def test_a_choice_that_leaves_out_what_it_needs_is_refused(api: httpx.Client, collection: Collection) -> None:
    document = {"format": "tropeion-gear", "version": 1, "mounts": [mount("wick", 40.0)]}
    document["lenses"] = [lens(id="wick-50", mount="wick")]
    token = _look(api, json.dumps(document).encode())["token"]
    before = collection.revision
    refused = api.post(f"/import/{token}", json={"leave": [["mounts", "wick"]]})
    assert refused.status_code == 422
    assert "no mount has the id 'wick'" in refused.json()["errors"][0]["message"]
    assert collection.revision == before
    assert _take(api, token)[-1] == {"written": 2}


def test_a_file_looked_at_before_the_collection_changed_is_looked_at_again(api: httpx.Client) -> None:
    token = _look(api, _changed()[0])["token"]
    api.post("/kit/lenses/retire", json={"ids": ["kel-45"]})
    assert api.post(f"/import/{token}", json={}).status_code == 409
    assert api.post("/import/never-seen", json={}).status_code == 404


def test_leaving_an_import_rolls_it_back(api: httpx.Client, collection: Collection) -> None:
    """The reader hangs up after the first line of progress: many more batches are to come."""
    document = {"format": "tropeion-gear", "version": 1, "mounts": [mount("wick", 40.0)]}
    document["lenses"] = [lens(id=f"w{n}", name=f"W {n}", mount="wick") for n in range(12_000)]
    token = _look(api, json.dumps(document).encode())["token"]
    before = collection.gear()
    with api.stream("POST", f"/import/{token}", json={}) as answer:
        first = json.loads(next(answer.iter_lines()))
        assert first["of"] == 12_001
    # The writer's lock is free again once it is rolled back (or written): a write of our own waits for it.
    collection.set_practice(collection.practice())
    assert collection.gear() == before


REFUSALS: list[tuple[bytes, str]] = [
    (b"[" * 100_000, "not a gear file"),
    (b'{"format": "tropeion-gear", "version": 1, "lenses": ' + b"[" * 40 + b"]" * 40 + b"}", "nested deeper"),
    (b'{"format": "tropeion-gear", "version": 1, "currency": "\xff"}', "not UTF-8"),
    (b'{"format": "tropeion-gear", "version": 1, "mounts": [{"id": "a"}, {"id": "a"}]}', "missing"),
    (b'{"format": "tropeion-gear", "version": 9}', "newer"),
    ("name,mount\n".encode("utf-16-le"), "a control character"),
    (b"name\n" + b"," * 10_000, "more than 300 columns"),
]


@pytest.mark.parametrize(("data", "said"), REFUSALS)
def test_a_bad_file_is_refused_with_its_place(
    api: httpx.Client, collection: Collection, data: bytes, said: str
) -> None:
    before = collection.revision
    answer = api.post("/import", content=data)
    assert answer.status_code == 422, answer.text
    assert any(said in error["message"] for error in answer.json()["errors"]), answer.text
    assert collection.revision == before


def _with_lens(**more: Any) -> bytes:
    document = json.loads(sample_bytes())
    document["lenses"][0].update(more)
    return json.dumps(document).encode()


def test_bad_values_are_refused_by_their_place(api: httpx.Client) -> None:
    for more, message in (
        ({"name": "n" * 10_000}, "at most 120 characters fit"),
        ({"name": "bell\x07"}, "control characters"),
        ({"price": "60"}, "a number is wanted"),
        ({"id": "kel-45"}, "already the id"),
    ):
        errors = api.post("/import", content=_with_lens(**more)).json()["errors"]
        assert any(message in error["message"] and error["place"].startswith("lenses[") for error in errors), errors


def test_bounds_of_size(api: httpx.Client) -> None:
    over = api.post("/import", content=b" " * (32 * 1024 * 1024 + 1))
    assert (over.status_code, over.json()["title"]) == (413, "Too large")
    assert api.post("/kit/lenses/items", content=b" " * (5 * 1024 * 1024 + 1)).status_code == 413


def test_a_backup_is_looked_at_then_restored_then_taken_back(api: httpx.Client, sample_gear: Gear) -> None:
    data = api.get("/backup").content
    api.post("/kit/lenses/retire", json={"ids": ["kel-45"]})
    api.put("/practice", json={"zooms": "avoid"})
    looked = api.post("/restore", content=data, params={"name": "monday.sqlite"}).json()
    shelves = {shelf["kind"]: shelf for shelf in looked["shelves"]}
    assert shelves["lenses"] == {"kind": "lenses", "items": 35, "added": 0, "changed": 1, "gone": 0}
    assert shelves["bodies"]["changed"] == shelves["cards"]["items"] == 0
    assert looked["last"]["title"] == "The whole collection replaced"
    assert (looked["settings"], looked["same"]) == (["practice"], False)
    # Nothing is written until it is asked for.
    assert api.get("/kit/lenses/items/kel-45").json()["item"]["retired"]
    done = api.post(f"/restore/{looked['token']}").json()
    assert done["action"]["title"] == "monday.sqlite restored"
    assert gear_file.load(api.get("/gear").content) == sample_gear
    assert api.get("/start").json()["practice"]["zooms"] != "avoid"
    assert api.post("/restore", content=data).json()["same"]
    api.post("/undo")
    assert api.get("/kit/lenses/items/kel-45").json()["item"]["retired"]
    assert api.get("/start").json()["practice"]["zooms"] == "avoid"


def test_a_backup_that_differs_in_order_and_currency_alone_is_not_the_same(
    api: httpx.Client, collection: Collection, sample_gear: Gear
) -> None:
    data = api.get("/backup").content
    lenses = tuple(reversed(sample_gear.lenses))
    collection.replace(sample_gear.model_copy(update={"lenses": lenses, "currency": "CHF"}))
    looked = api.post("/restore", content=data).json()
    assert (looked["same"], sorted(looked["settings"])) == (False, ["currency", "order"])
    assert not any(shelf["added"] or shelf["changed"] or shelf["gone"] for shelf in looked["shelves"])
    api.post(f"/restore/{looked['token']}")
    assert collection.gear() == sample_gear


def test_only_what_was_looked_at_is_restored(api: httpx.Client) -> None:
    refused = api.post("/restore/nothing")
    assert (refused.status_code, refused.json()["type"]) == (404, "not_kept")


def test_what_is_no_backup_is_refused(api: httpx.Client, tmp_path: Path, sample_gear: Gear) -> None:
    assert api.post("/restore", content=b"nothing of the kind").status_code == 422
    alive = tmp_path / "alive.sqlite"
    alive.write_bytes(api.get("/backup").content)
    with closing(sqlite3.connect(alive)) as connection, connection:
        connection.execute("CREATE TRIGGER t AFTER INSERT ON lens BEGIN DELETE FROM body; END")
    refused = api.post("/restore", content=alive.read_bytes(), params={"name": "alive.sqlite"})
    assert refused.json()["detail"].startswith("alive.sqlite is no backup")
    assert "a trigger 't', which is not ours" in refused.json()["detail"]
    assert gear_file.load(api.get("/gear").content) == sample_gear


def test_an_import_onto_a_full_disk_says_so_in_words(api: httpx.Client, collection: Collection) -> None:
    document = json.loads(sample_bytes())
    for one in document["lenses"]:
        one["notes"] = "wind " * 700
    token = _look(api, json.dumps(document).encode())["token"]
    fill_up(collection)
    before = collection.gear()
    lines = [json.loads(line) for line in api.post(f"/import/{token}", json={}).text.splitlines()]
    assert "make room" in lines[-1]["problem"]
    assert collection.gear() == before


@NEEDS_WEB
@pytest.mark.parametrize("share", some([0.02, 0.95], [0.95]))
def test_a_backup_sent_to_a_full_disk_is_refused_in_words(api: httpx.Client, tmp_path: Path, share: float) -> None:
    """Where little is left, and where nearly all of it fits."""
    kept = api.get("/backup").content
    with (
        started("serve", "--port", "0", "--data", str(tmp_path), file_bytes=int(len(kept) * share)) as address,
        client_of(f"{address}/api/v1") as full,
    ):
        answer = full.post("/restore", content=kept)
        assert (answer.status_code, answer.json()["type"]) == (507, "full")
        assert "make room" in answer.json()["detail"]
        assert not list(tmp_path.glob("tropeion-at-work-*"))
        assert full.get("/start").json()["lenses"] == 0


TABLE = "name;mount;focal length (mm);f-number\nSexton 40;Kelvane;40;f/2\nSexton 90;KLV;90;f/2.8\n"


@pytest.mark.parametrize("owned", [True, False])
def test_a_table_that_does_not_say_what_is_owned_asks_once(api: httpx.Client, owned: bool) -> None:
    looked = api.post("/import", params={"name": "list.csv"}, content=TABLE.encode()).json()
    assert (looked["asks_owned"], looked["new"]) == (True, 2)
    taken = api.post(f"/import/{looked['token']}", json={"owned": owned})
    assert json.loads(taken.text.splitlines()[-1])["written"] == 2
    found = {one["name"]: one.get("owned", 0) for one in api.get("/gear").json()["lenses"]}
    assert (found["Sexton 40"], found["Sexton 90"]) == (int(owned), int(owned))


def test_a_table_that_says_it_asks_nothing(api: httpx.Client) -> None:
    table = TABLE.replace("f-number", "f-number;owned").replace("f/2\n", "f/2;1\n").replace("f/2.8\n", "f/2.8;0\n")
    looked = api.post("/import", params={"name": "list.csv"}, content=table.encode()).json()
    assert looked["asks_owned"] is False
    gear = api.post("/import", params={"name": "gear.json"}, content=api.get("/gear").content).json()
    assert gear["asks_owned"] is False
