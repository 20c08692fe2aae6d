"""Records of every kind through one resource: listed, read, struck out, brought back."""

from __future__ import annotations

import json
from collections.abc import Iterator

import httpx

from tests.api.answers import good
from tests.core.measured.rendered import lit, picture_file
from tropeion.store.records import MODELS

RIG = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
CARD = {"lens": "kel-55", "body": "o7", "adapters": "kel-ost-plain", "day": "2026-12-05"}
PLACE = {"number": 1, "label": "Kelvane 55", "lens": "kel-55", "adapters": ["kel-ost-plain"], "marked_mm": 55.0}
READ = {"kind": "adapters", "id": "kel-ost-plain", "quantity": "length"}


def one_of_each(own: httpx.Client) -> None:
    """A record of every kind, each about the lens or the ring of one rig."""
    good(own.put("/cards", json={**CARD, "ticked": ["Power off."], "version": 0}))
    place = {**PLACE, "focal_length_mm": 55.0, "version": 0}
    good(own.put("/stored", params={"body": "o7"}, json=place))
    corners = {"day": "2026-12-05", "seen": [{"travel": 0.0, "dark": False}, {"travel": 1.0, "dark": True}]}
    good(own.post("/corners", params=RIG, json=corners))
    good(own.post("/outings", json={"name": "Nave", "shots": [{"name": "Window", "rig": "gallery"}]}))
    good(own.post("/bench/series", params=READ, json={"readings": [{"mm": 25.8}], "day": "2026-12-05"}))
    saw = {"saw": [{"kind": "length", "values": [0.03, 0.02]}], "day": "2026-12-05"}
    good(own.post("/bench/trials", params=RIG, json=saw))
    demand = {"lens": "kel-55", "bodies": ["o7"]}
    good(own.post("/plans", json={"name": "Nave", "question": {"demands": [demand]}}))
    rig = {"body": "o7", "lens": "kel-55", "via": ["kel-ost-plain"]}
    moment = "2026-11-21T14:00:00+01:00"
    settled = {"files": ["A.JPG"], "taken_at": "2026-11-21T14:00:00", "body": "o7"}
    log = {
        "entries": [{**rig, "id": "e1", "at": moment}],
        "cameras": [{"body": "o7", "make": "Ostrel", "model": "O7"}],
        "clocks": [{"body": "o7", "seconds": 420}],
        "rolls": [{"id": "w", "body": "o7"}],
        "assignments": [settled],
        "trials": [{**rig, "id": "t1", "at": moment, "use": "web", "aperture": 4.0, "centre": "sharp"}],
        "events": [{"piece": {"kind": "lens", "id": "kel-55"}, "on": "2026-11-21", "what": "checked"}],
    }
    good(own.post("/log/file", params={"take": "new"}, content=json.dumps(log)))
    asked: Iterator[dict[str, str | float]] = (
        {"skill": "reach", "trap": "tube", "wanted": 0.5, "seed": seed} for seed in range(200)
    )
    questions = ((one, good(own.get("/exercises/question", params=one))) for one in asked)
    bare = ((one, found) for one, found in questions if "kel-ost-plain" not in found["about"]["adapters"])
    answered, question = next((one, found) for one, found in bare if found["about"]["lens"] == "kel-55")
    good(own.post("/exercises/answers", json={**answered, "answered": question["choices"][0]["id"]}))
    lit_frame = picture_file(lit(72, 48, 200.0, 2.0))
    laid = good(own.post("/measured/pictures", content=lit_frame))["id"]
    work = good(own.post("/measured/work", json={"what": "circle", "picture": laid, **RIG}))
    while work["state"] == "working":
        work = good(own.get(f"/measured/work/{work['id']}"))
    good(own.post("/measured/kept", json={"work": work["id"], "day": "2026-12-05"}))


def test_every_kind_is_listed_read_struck_out_and_brought_back(own: httpx.Client) -> None:
    one_of_each(own)
    for kind, model in MODELS.items():
        [listed] = good(own.get(f"/records/{kind}"))
        place = f"/records/{kind}/{listed['record']['id']}"
        assert good(own.get(place)) == listed
        strike = {"reason": "the wrong ring", "version": listed["version"]}
        gone = good(own.post(f"{place}/strike", json=strike))
        assert gone["record"] == {**listed["record"], "struck": True, "struck_because": "the wrong ring"}
        assert gone["version"] == listed["version"] + 1
        assert good(own.get(f"/records/{kind}")) == []
        assert good(own.get(f"/records/{kind}", params={"struck": True})) == [gone]
        again = own.post(f"{place}/strike", json={"reason": "again"})
        assert (again.status_code, again.json()["detail"]) == (422, "it is struck out already")
        latest = good(own.get("/history"))["actions"][0]
        assert latest["title"].startswith(model.called.capitalize())
        assert latest["title"].endswith("struck out: the wrong ring")
        good(own.post("/undo"))
        back = good(own.get(place))
        assert (back["record"], back["version"]) == (listed["record"], listed["version"] + 2)


def test_they_are_found_by_what_they_are_about(own: httpx.Client) -> None:
    one_of_each(own)

    def about(id_: str) -> set[str]:
        return {kind for kind in MODELS if good(own.get(f"/records/{kind}", params={"about": id_}))}

    of_bodies = {"assignments", "clocks", "camera_signs", "film_rolls"}
    assert about("kel-55") == set(MODELS) - {"reading_series"} - of_bodies
    assert about("kel-ost-plain") == set(MODELS) - {"plans", "events", "reviews"} - of_bodies
    assert about("o7") >= of_bodies
    assert about("vigil") == set()


def test_what_changed_meanwhile_is_not_struck_out(own: httpx.Client) -> None:
    one_of_each(own)
    [listed] = good(own.get("/records/cards"))
    good(own.put("/cards", json={**CARD, "ticked": ["Power off.", "Power on."], "version": listed["version"]}))
    strike = f"/records/cards/{listed['record']['id']}/strike"
    refused = own.post(strike, json={"version": listed["version"]})
    assert (refused.status_code, refused.json()["type"]) == (409, "stale")
    assert refused.json()["current"]["ticked"] == ["Power off.", "Power on."]


def test_what_is_not_there_or_has_no_reason_is_refused(own: httpx.Client) -> None:
    one_of_each(own)
    nothing = "00000000-0000-0000-0000-000000000000"
    for kind, model in MODELS.items():
        for answer in (own.get(f"/records/{kind}/{nothing}"), own.post(f"/records/{kind}/{nothing}/strike", json={})):
            told = answer.json()
            wants = answer.request.method == "POST" and model.wants_reason
            assert (answer.status_code, told["type"]) == ((422, "invalid") if wants else (404, "unknown_id"))
            if not wants:
                assert told["detail"] == f"no {model.called} has the id '{nothing}'"
    [trial] = good(own.get("/records/bench_trials"))
    told = own.post(f"/records/bench_trials/{trial['record']['id']}/strike", json={}).json()
    assert told["detail"] == "a trial is struck out with a reason"
    assert own.get("/records/entries").status_code == 422


def test_what_is_told_of_a_body_that_no_collection_can_have_is_kept(own: httpx.Client) -> None:
    """As in a log file: it is named in the record alone."""
    told = good(own.post("/log/cameras", json={"body": "Old: one", "make": "Ostrel"}))
    assert told["signs"]["body"] == "Old: one"
    roll = {"id": "r-1", "body": "Old: one"}
    assert good(own.put("/log/rolls", json={"roll": roll, "version": 0}))["roll"]["body"] == "Old: one"
