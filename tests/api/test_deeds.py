"""Deeds that waited on a device: kept once, in their order, with their own time."""

from __future__ import annotations

from typing import Any

import httpx
import pytest

AT = "2026-11-30T10:00:00+00:00"
RIG = {"body": "o7", "lens": "kel-55", "via": ["kel-ost-plain"]}


def entry(id_: str = "one", **fields: Any) -> dict[str, Any]:
    return {"id": id_, "at": AT, **RIG, "way": "tap", "frames": 1, "aperture": 5.6, **fields}


def send(own: httpx.Client, **deed: Any) -> httpx.Response:
    return own.post("/deeds", json={"deed": {"at": AT, **deed}})


def log(own: httpx.Client, id_: str = "one", **fields: Any) -> httpx.Response:
    return send(own, id=f"deed-{id_}", kind="entry", entry=entry(id_, **fields))


def titles(own: httpx.Client) -> list[str]:
    """What was done since the sample was loaded."""
    return [action["title"] for action in own.get("/history").json()["actions"]][:-1]


def test_sent_twice_it_is_kept_once(own: httpx.Client) -> None:
    first, again = log(own), log(own)
    assert (first.json()["state"], again.json()["state"]) == ("kept", "kept_before")
    assert first.json()["entry"] == again.json()["entry"]
    assert own.get("/log/entries").json()["in_all"] == 1
    assert titles(own) == ["Logged: Kelvane 55/2.2 · Plain ring KLV–OST f/5.6"]


def test_what_was_taken_back_is_not_kept_again(own: httpx.Client) -> None:
    """Sent again after somebody took it back: it was kept, and it was taken back."""
    log(own)
    own.post("/undo")
    assert log(own).json()["state"] == "kept_before"
    assert own.get("/log/entries").json()["in_all"] == 0


def test_a_correction_upon_one_that_waited_before_it(own: httpx.Client) -> None:
    log(own)
    corrected = {"id": "deed-two", "kind": "correction", "entry": entry(aperture=8.0), "version": 1}
    first = send(own, **corrected).json()
    assert (first["state"], first["version"], first["entry"]["entry"]["aperture"]) == ("kept", 2, 8.0)
    # Its answer was lost: sent again it is not a conflict with itself.
    again = send(own, **corrected).json()
    assert (again["state"], again["version"]) == ("kept_before", 2)


def test_corrected_on_two_devices_both_are_shown(own: httpx.Client) -> None:
    log(own)
    send(own, id="north", kind="correction", entry=entry(aperture=8.0, note="north"), version=1)
    mine = send(own, id="south", kind="correction", entry=entry(aperture=11.0, note="south"), version=1)
    assert mine.status_code == 409
    problem = mine.json()
    assert (problem["type"], problem["version"]) == ("stale", 2)
    assert problem["current"]["entry"]["note"] == "north"
    assert problem["current"]["says"].startswith("f/8")
    # Upon what stands it is kept, by the same deed: it was not kept before.
    kept = send(own, id="south", kind="correction", entry=entry(aperture=11.0, note="south"), version=2)
    assert kept.json()["entry"]["entry"]["aperture"] == 11.0


def test_what_the_rig_cannot_have_waits_for_a_reason(own: httpx.Client) -> None:
    odd = {"id": "odd", "kind": "entry", "entry": entry(aperture=3.3)}
    refused = send(own, **odd)
    assert refused.status_code == 422
    assert "f/3.3 is not on the ring" in refused.json()["detail"]
    assert send(own, **odd, because="a stop between").json()["state"] == "kept"


def test_a_strike_is_kept_once_and_the_entry_stays_to_be_seen(own: httpx.Client) -> None:
    log(own)
    strike = {"id": "strike", "kind": "strike", "entry": "one", "reason": "the wrong rig"}
    assert send(own, **strike).json()["entry"]["entry"]["struck"] == "the wrong rig"
    assert send(own, **strike).json()["state"] == "kept_before"
    # Somebody else struck it out meanwhile: there is nothing to strike.
    other = send(own, id="strike-two", kind="strike", entry="one", reason="again")
    assert (other.status_code, other.json()["type"]) == (404, "unknown_id")
    own.post("/undo")
    assert own.get("/log/entries").json()["entries"][0]["entry"]["struck"] is None


CARD = {"lens": "kel-55", "body": "o7", "adapters": "kel-ost-plain", "day": "2026-11-30"}


def ticked(own: httpx.Client) -> list[str]:
    return list(own.get("/cards", params=CARD).json()["ticked"])


def test_ticks_of_two_devices_both_stand(own: httpx.Client) -> None:
    send(own, id="a", kind="tick", **CARD, step="Power off")
    send(own, id="b", kind="tick", **CARD, step="Seat it")
    assert ticked(own) == ["Power off", "Seat it"]
    own.put("/cards", json={**CARD, "ticked": ["Seat it"], "version": 2})
    # Sent again, it does not tick again what somebody took off meanwhile.
    assert send(own, id="a", kind="tick", **CARD, step="Power off").json()["state"] == "kept_before"
    assert ticked(own) == ["Seat it"]
    send(own, id="c", kind="tick", **CARD, step="Seat it", on=False)
    assert ticked(own) == []
    # One after another they are one thing to take back.
    assert len(titles(own)) == 1


def test_what_is_packed_is_ticked_by_itself(own: httpx.Client) -> None:
    outing = own.post("/outings", json={"name": "Nave", "shots": [], "spare": ["o7"], "packed": []}).json()
    for id_, piece in (("p", "o7"), ("q", "kel-55")):
        assert send(own, id=id_, kind="pack", outing=outing["id"], piece=piece).json()["state"] == "kept"
    send(own, id="r", kind="pack", outing=outing["id"], piece="o7", on=False)
    assert own.get(f"/outings/{outing['id']}").json()["outing"]["packed"] == ["kel-55"]
    assert send(own, id="s", kind="pack", outing="nothing", piece="o7").status_code == 404


@pytest.mark.parametrize(
    "deed",
    [
        {"id": "x", "kind": "strike", "entry": "nothing"},
        {"id": "x", "kind": "correction", "entry": entry("nothing"), "version": 1},
        {"id": "x", "kind": "tick", **CARD, "lens": "nothing", "step": "Power off"},
        {"id": "x", "kind": "tick", **CARD, "adapters": "nothing", "step": "Power off"},
    ],
)
def test_upon_nothing_it_is_refused_and_can_be_sent_again(own: httpx.Client, deed: dict[str, Any]) -> None:
    for _ in range(2):
        assert send(own, **deed).status_code == 404
    assert titles(own) == []


@pytest.mark.parametrize(
    "deed",
    [
        {"id": "x", "kind": "nothing"},
        {"id": "", "kind": "strike", "entry": "one"},
        {"id": "../x", "kind": "strike", "entry": "one"},
        {"id": "x", "kind": "strike", "entry": "one", "at": "yesterday"},
        {"id": "x", "kind": "tick", **CARD, "day": "1.12.2026", "step": "x"},
        {"id": "x", "kind": "correction", "entry": entry(), "version": 0},
        {"id": "x", "kind": "entry", "entry": entry(at="2126-01-01T00:00:00+00:00")},
        {"id": "x", "kind": "entry", "entry": entry(), "more": 1},
    ],
)
def test_a_deed_that_says_nothing_is_refused_with_its_place(own: httpx.Client, deed: dict[str, Any]) -> None:
    refused = send(own, **deed)
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["place"]
    assert titles(own) == []
