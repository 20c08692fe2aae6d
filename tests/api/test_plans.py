"""The whole kit and plans through HTTP: kept, marked when they no longer hold; work begun, asked after, stopped."""

from __future__ import annotations

import csv
import io
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.api.answers import good
from tests.conftest import Serve
from tests.limits import LIMIT_S, client_of
from tests.prepared import sample_at
from tests.thorough import EVERYWHERE


@pytest.fixture
def own(serve: Serve, tmp_path: Path) -> Iterator[httpx.Client]:
    collection = sample_at(tmp_path / "collection.sqlite")
    with client_of(serve(collection).address + "/api/v1") as client:
        yield client


def made(client: httpx.Client, question: dict[str, Any], **more: Any) -> dict[str, Any]:
    """The answer of a piece of work, once it is done."""
    work = good(client.post("/plans/work", json={"question": question, "practice": {}, **more}))
    return until(client, work["id"], lambda found: found["state"] != "working")


def until(client: httpx.Client, id_: str, wanted: Callable[[dict[str, Any]], bool]) -> dict[str, Any]:
    # Asking is what the browser does too; each answer takes its time.
    for _ in range(2000):
        found: dict[str, Any] = good(client.get(f"/plans/work/{id_}"))
        if wanted(found):
            return found
    raise AssertionError("it never came to an end")


def pair(lens: str, *bodies: str, **more: Any) -> dict[str, Any]:
    return {"lens": lens, "bodies": list(bodies), **more}


# The grid


def test_the_grid_follows_an_edit_and_its_table_says_the_same(own: httpx.Client) -> None:
    report = good(own.get("/grid"))["report"]
    assert len(report["cells"]) == len(report["lenses"]) * len(report["bodies"])
    before = next(one for one in report["cells"] if (one["lens"], one["body"]) == ("kel-28-80", "o7"))
    assert (before["owned_grade"], before["market_grade"]) == ("partial", "manual")
    ring = good(own.get("/kit/adapters/items/kel-ost-lever"))
    item = {**ring["item"], "owned": 1}
    good(own.put("/kit/adapters/items/kel-ost-lever", json={"item": item, "version": ring["version"]}))
    after = good(own.get("/grid"))["report"]
    now = next(one for one in after["cells"] if (one["lens"], one["body"]) == ("kel-28-80", "o7"))
    assert now["owned_grade"] == "manual"
    rows = list(csv.DictReader(io.StringIO(own.get("/grid/csv").text)))
    told = [(one["lens"], one["body"], one["owned_grade"] or "", one["market_grade"] or "") for one in after["cells"]]
    assert [(row["lens"], row["body"], row["owned_grade"], row["market_grade"]) for row in rows] == told


def test_why_is_told_with_what_is_at_hand_and_with_what_would_make_it_better(own: httpx.Client) -> None:
    why = good(own.get("/grid/why", params={"lens": "kel-28-80", "body": "o7"}))
    assert why["at_hand"]
    assert why["better"]["adapters"] == ["Ferrule KLV–OST with aperture ring"]
    assert why["better"]["price"] == 96
    alone = good(own.get("/grid/why", params={"lens": "qlk-50", "body": "o7"}))
    assert (alone["at_hand"], alone["better"]) == (False, None)
    assert good(own.get("/grid/why", params={"lens": "kel-55"}))["body"]
    assert own.get("/grid/why", params={"lens": "gone", "body": "o7"}).status_code == 404
    mountless = own.get("/grid/why", params={"lens": "head-75"})
    assert (mountless.status_code, "no mount of its own" in mountless.text) == (422, True)


def test_what_a_change_would_do_changes_nothing(own: httpx.Client) -> None:
    before = good(own.get("/grid"))
    told = good(own.post("/grid/change", json={"changes": [{"what": "sold", "id": "o7"}], "practice": {}}))
    assert told["worse"] > 0
    assert {one["body"] for one in told["pairs"]} == {"o7"}
    assert good(own.get("/grid")) == before
    lacking = own.post("/grid/change", json={"changes": [{"what": "converted", "id": "kel-55"}], "practice": {}})
    assert (lacking.status_code, "which mount" in lacking.text) == (422, True)
    differing = good(own.get("/grid/bodies", params={"one": "o7", "other": "lark"}))
    assert {one["lens"] for one in differing}
    swayed = good(own.post("/grid/compare", json={"one": {}, "other": {"pieces": "1"}}))
    assert swayed["pairs"]


# Plans


def test_a_plan_is_made_kept_marked_when_a_price_changes_and_taken_back(own: httpx.Client) -> None:
    question = {"demands": [pair("kel-28-80", "o7")]}
    page = good(own.post("/plans", json={"name": "Nave", "question": question}))
    work = made(own, page["question"])
    report = work["answer"]["report"]
    assert (work["state"], report["status"]) == ("done", "optimal")
    assert [one["id"] for one in report["bought"]] == ["kel-ost-lever"]
    assert report["cost"] == report["bound"] == work["best"] == 96
    assert [step["cost"] for step in work["answer"]["curve"]["steps"]] == [0, 96]
    kept = good(own.put(f"/plans/{page['id']}/kept", json={"work": work["id"]}))
    assert (kept["standing"]["holds"], kept["kept"]["cost"]) == (True, 96)
    ring = good(own.get("/kit/adapters/items/kel-ost-lever"))
    dearer = {"item": {**ring["item"], "price": 120.0}, "version": ring["version"]}
    good(own.put("/kit/adapters/items/kel-ost-lever", json=dearer))
    page = good(own.get(f"/plans/{page['id']}"))
    assert not page["standing"]["holds"]
    assert page["standing"]["cost_now"] == 120
    assert "was 96, is 120" in page["standing"]["changes"][0]["text"]
    assert [one["holds"] for one in good(own.get("/plans"))] == [False]
    good(own.post(f"/records/plans/{page['id']}/strike", json={}))
    assert good(own.get("/plans")) == []
    assert own.get(f"/plans/{page['id']}").status_code == 404


def test_another_question_lets_go_of_what_was_kept(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "All"}))
    assert page["question"]["demands"]
    work = made(own, page["question"], curve=False)
    assert work["answer"]["curve"] is None
    good(own.put(f"/plans/{page['id']}/kept", json={"work": work["id"]}))
    named = {"name": "Most", "question": page["question"], "version": page["version"] + 1}
    renamed = good(own.put(f"/plans/{page['id']}", json=named))
    assert (renamed["kept"] is not None, renamed["version"]) == (True, page["version"] + 2)
    less = {**page["question"], "demands": page["question"]["demands"][:3]}
    fewer = {"name": "Most", "question": less, "version": renamed["version"]}
    assert good(own.put(f"/plans/{page['id']}", json=fewer))["kept"] is None


def test_two_windows_on_one_plan_take_back_nothing_of_each_other(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "All"}))
    place, version = f"/plans/{page['id']}", page["version"]
    dear = {"name": "All", "question": {**page["question"], "budget": 100}, "version": version}
    good(own.put(place, json=dear))
    # The other window still has the version that it read: it gets both sides, and nothing is written.
    late = own.put(place, json={"name": "Mine", "question": page["question"], "version": version})
    found = late.json()
    assert (late.status_code, found["type"], found["version"]) == (409, "stale", version + 1)
    assert (found["current"]["name"], found["current"]["question"]["budget"]) == ("All", 100)
    assert good(own.get(place))["question"]["budget"] == 100
    good(own.put(place, json={"name": "Mine", "question": page["question"], "version": version + 1}))
    # As it stands already, it is written no further.
    same = {"name": "Mine", "question": page["question"], "version": version + 2}
    assert good(own.put(place, json=same))["version"] == version + 2


def test_an_answer_to_another_question_is_not_kept(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "Nave", "question": {"demands": [pair("kel-55", "o7")]}}))
    place = f"/plans/{page['id']}"
    work = made(own, page["question"], curve=False)
    other = {"demands": [pair("kel-28-80", "o7")]}
    good(own.put(place, json={"name": "Nave", "question": other, "version": page["version"]}))
    late = own.put(f"{place}/kept", json={"work": work["id"]})
    assert (late.status_code, "another question" in late.json()["title"]) == (409, True)
    assert good(own.get(place))["kept"] is None
    # Nor one under other preferences.
    anew = made(own, other, curve=False)
    assert own.put(f"{place}/kept", params={"practice[glass]": "avoid"}, json={"work": anew["id"]}).status_code == 409
    assert good(own.put(f"{place}/kept", json={"work": anew["id"]}))["kept"] is not None


def test_nothing_is_kept_while_there_is_no_answer_yet(own: httpx.Client, monkeypatch: pytest.MonkeyPatch) -> None:
    page = good(own.post("/plans", json={"name": "Nave", "question": {"demands": [pair("kel-55", "o7")]}}))
    goes_on = threading.Event()
    monkeypatch.setattr("tropeion.api.plans_resource._make", lambda *_: goes_on.wait(LIMIT_S))
    work = good(own.post("/plans/work", json={"question": page["question"], "practice": {}}))
    early = own.put(f"/plans/{page['id']}/kept", json={"work": work["id"]})
    goes_on.set()
    assert (early.status_code, early.json()["type"]) == (422, "invalid")


def at_once(asked: list[Callable[[], httpx.Response]]) -> list[int]:
    """The answers to some requests that are sent at the same moment."""
    start = threading.Barrier(len(asked))

    def sent(one: Callable[[], httpx.Response]) -> int:
        start.wait(LIMIT_S)
        return one().status_code

    with ThreadPoolExecutor(len(asked)) as threads:
        return list(threads.map(sent, asked))


def test_a_name_and_what_is_kept_do_not_take_each_other_back(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "Nave", "question": {"demands": [pair("kel-55", "o7")]}}))
    work, place = made(own, page["question"], curve=False), f"/plans/{page['id']}"
    for number in range(EVERYWHERE * 20 + 5):
        version = good(own.get(place))["version"]
        named = {"name": f"Name {number}", "question": page["question"], "version": version}
        told = at_once(
            [partial(own.put, f"{place}/kept", json={"work": work["id"]}), partial(own.put, place, json=named)]
        )
        found = good(own.get(place))
        # Whoever came second was told so, or lost nothing.
        assert told[0] == 200
        assert found["kept"] is not None
        assert (told[1] == 200) == (found["name"] == f"Name {number}")


def let_go(own: httpx.Client, work: str) -> None:
    """Nobody waits for its answer any more."""
    good(own.delete(f"/plans/work/{work}"))
    until(own, work, lambda found: found["state"] != "working")


def test_work_that_is_stopped_says_so_and_what_is_unknown_is_refused(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "All"}))
    work = good(own.post("/plans/work", json={"question": page["question"], "practice": {}}))
    good(own.delete(f"/plans/work/{work['id']}"))
    ended = until(own, work["id"], lambda found: found["state"] != "working")
    # What had come to its end before it was stopped stands.
    assert ended["state"] in {"stopped", "done"}
    gone = "00000000-0000-0000-0000-000000000000"
    assert own.get(f"/plans/work/{gone}").status_code == 404
    assert own.put(f"/plans/{page['id']}/kept", json={"work": gone}).status_code == 404
    unknown = own.post("/plans/work", json={"question": {"demands": [pair("kel-56", "o7")]}, "practice": {}})
    assert (unknown.status_code, "kel-55" in unknown.text) == (404, True)
    wrong = own.post(
        "/plans/work", json={"question": {"demands": [pair("kel-55", "o7", grade="best")]}, "practice": {}}
    )
    assert (wrong.status_code, "grade" in wrong.text) == (422, True)


def test_other_requests_are_answered_while_a_plan_is_made(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "All"}))
    work = good(own.post("/plans/work", json={"question": page["question"], "practice": {}}))
    other = good(own.get("/match", params={"lens": "kel-55", "body": "o7"}))
    assert other["routes"]
    let_go(own, work["id"])


def test_a_third_plan_at_the_same_time_is_turned_away(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "All"}))
    asked = {"question": page["question"], "practice": {}}
    answers = [own.post("/plans/work", json=asked) for _ in range(5)]
    assert {one.status_code for one in answers} <= {200, 503}
    begun = [one.json()["id"] for one in answers if one.status_code == 200]
    assert len(begun) >= 2
    for id_ in begun:
        let_go(own, id_)


# Beside it


def test_native_variants_and_filters_are_answered(own: httpx.Client) -> None:
    demands = [{"lens": lens, "bodies": ["o7"]} for lens in ("kel-55", "tol-140")]
    asked = {"question": {"demands": demands}, "body": "o7", "practice": {}}
    both = good(own.post("/buying/options", json=asked))
    told = both["options"]
    assert [one["lens"] for one in told] == ["kel-55", "tol-140"]
    assert (both["adapted"]["lenses"], both["native"]["lenses"]) == (2, 2)
    assert {option["kind"] for one in told for option in one["options"]} >= {"adapter", "native_new"}
    variants = good(own.get("/buying/variants", params={"lens": "mrw-92", "body": "o7"}))["variants"]
    assert len(variants) > 2
    page = good(own.post("/buying/filters", json={"lenses": ["kel-55", "kel-85"], "body": "o7"}))
    assert page["plan"]["size_mm"] == 67
    assert page["plan"]["buy"] == {"step-62-67": 1}
    assert page["stops"]["sets"]
    assert own.get("/buying/variants", params={"lens": "head-75", "body": "o7"}).status_code == 422
    assert own.post("/buying/filters", json={"lenses": ["tub-400"], "body": "gone"}).status_code == 404
