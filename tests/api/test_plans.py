"""The whole kit and plans through HTTP: kept, marked when they no longer hold; work begun, asked after, stopped."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.conftest import Serve
from tests.limits import client_of
from tests.prepared import sample_at


@pytest.fixture
def own(serve: Serve, tmp_path: Path) -> Iterator[httpx.Client]:
    collection = sample_at(tmp_path / "collection.sqlite")
    with client_of(serve(collection).address + "/api/v1") as client:
        yield client


def good(answer: httpx.Response) -> Any:
    assert answer.status_code == 200, answer.text
    return answer.json()


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
    good(own.delete(f"/plans/{page['id']}"))
    assert good(own.get("/plans")) == []
    assert own.get(f"/plans/{page['id']}").status_code == 404


def test_another_question_lets_go_of_what_was_kept(own: httpx.Client) -> None:
    page = good(own.post("/plans", json={"name": "All"}))
    assert page["question"]["demands"]
    work = made(own, page["question"], curve=False)
    assert work["answer"]["curve"] is None
    good(own.put(f"/plans/{page['id']}/kept", json={"work": work["id"]}))
    renamed = good(own.put(f"/plans/{page['id']}", json={"name": "Most", "question": page["question"]}))
    assert renamed["kept"] is not None
    less = {**page["question"], "demands": page["question"]["demands"][:3]}
    assert good(own.put(f"/plans/{page['id']}", json={"name": "Most", "question": less}))["kept"] is None


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
