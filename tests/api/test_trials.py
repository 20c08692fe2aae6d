"""Trials over HTTP: a ladder kept once, what it comes to in every room, what does not count and why."""

from __future__ import annotations

from typing import Any

import httpx
import pytest

RIG = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
AT = "2026-11-20T14:00:00+01:00"


def trial(
    id_: str, aperture: float, centre: str = "sharp", corner: str | None = "sharp", **more: Any
) -> dict[str, Any]:
    rig = {"lens": "kel-55", "via": ["kel-ost-plain"], "body": "o7", "use": "paid_still"}
    return {"id": id_, "at": AT, **rig, "aperture": aperture, "centre": centre, "corner": corner, **more}


def kept(own: httpx.Client, *trials: dict[str, Any]) -> dict[str, Any]:
    answer = own.post("/trials", json={"trials": list(trials)})
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


LADDER = (trial("a", 2.2, "soft", "smeared", character=["swirl"]), trial("b", 4.0), trial("c", 8.0))
SAID = "Paid stills: usable from f/4 (3 trials: 3 own; the newest of 2026-11-20)"


def test_a_ladder_is_one_thing_to_take_back_and_kept_once(own: httpx.Client) -> None:
    page = kept(own, *LADDER)
    assert [line["trial"]["aperture"] for line in page["trials"]] == [2.2, 4.0, 8.0]
    assert [line["says"] for line in page["usable"]] == [SAID]
    assert len(kept(own, *LADDER)["trials"]) == 3
    assert own.get("/history").json()["actions"][0]["title"] == (
        "Tried: Kelvane 55/2.2 · Plain ring KLV–OST · Ostrel O7, 3 stops"
    )
    own.post("/undo")
    assert own.get("/trials", params=RIG).json()["trials"] == []


def test_every_room_says_the_same(own: httpx.Client) -> None:
    kept(own, *LADDER)
    pair = {"lens": "kel-55", "body": "o7"}
    route = own.get("/match", params=RIG).json()["open"]
    assert route["usable_says"] == [SAID]
    assert own.get("/setup", params=RIG).json()["usable_says"] == [SAID]
    assert own.get("/grid/why", params=pair).json()["usable_says"] == [SAID]
    page = own.get("/trials", params=RIG).json()
    assert [line["says"] for line in page["usable"]] == [SAID]
    every = own.get("/trials").json()
    assert [(rig["name"], rig["trials"]) for rig in every["rigs"]] == [
        ("Kelvane 55/2.2 · Plain ring KLV–OST · Ostrel O7", 3)
    ]


def test_contradicting_trials_stand_side_by_side_until_one_is_struck_out(own: httpx.Client) -> None:
    page = kept(own, *LADDER, trial("r", 4.0, corner="soft", source="review"))
    assert page["usable"][0]["row"]["aperture"] == 8.0
    at_four = [line for line in page["trials"] if line["trial"]["aperture"] == 4.0]
    assert sorted(line["whose"] for line in at_four) == ["a review’s", "your own"]
    assert own.post("/records/trials/r/strike", json={"reason": ""}).status_code == 422
    own.post("/records/trials/r/strike", json={"reason": "another lens of the kind"}).raise_for_status()
    page = own.get("/trials", params=RIG).json()
    assert page["usable"][0]["row"]["aperture"] == 4.0
    (struck,) = [line for line in page["trials"] if line["not_counted"]]
    assert struck["not_counted"] == "struck out: another lens of the kind"


def test_why_a_trial_does_not_count(own: httpx.Client) -> None:
    log = {
        "version": 1,
        "events": [{"piece": {"kind": "lens", "id": "kel-55"}, "on": "2026-11-25", "what": "serviced"}],
    }
    kept(own, trial("a", 4.0), trial("s", 8.0, "smeared", "smeared", cause="shake"))
    own.post("/log/file", params={"take": "new"}, json=log).raise_for_status()
    page = own.get("/trials", params=RIG).json()
    assert [line["not_counted"] for line in page["trials"]] == [
        "made before Kelvane 55/2.2 was serviced on 2026-11-25",
        "it failed for another reason than the lens",
    ]
    assert page["usable"] == []


def test_what_was_tried_in_vain_stands_last_at_its_grade(own: httpx.Client) -> None:
    pair = {"lens": "kel-55", "body": "o7"}
    before = own.get("/match", params=pair).json()["routes"]
    first = before[0]["adapters"]
    kept(own, trial("a", 2.2, "soft", via=first), trial("b", 8.0, corner="soft", via=first))
    after = own.get("/match", params=pair).json()["routes"]
    equal = [route["adapters"] for route in after if route["grade"] == before[0]["grade"]]
    assert equal[-1] == first
    assert len(equal) > 1


@pytest.mark.parametrize(
    ("sent", "place"),
    [
        ({"trials": []}, "trials"),
        ({"trials": [trial("a", 0.0)]}, "trials.0.aperture"),
        ({"trials": [trial("a", 4.0, "crisp")]}, "trials.0.centre"),
        ({"trials": [trial("a", 4.0, at="2126-01-01T00:00:00+00:00")]}, "trials.0.at"),
        ({"trials": [trial("../a", 4.0)]}, "trials"),
        ({"trials": [trial("a", 4.0, use="sport")]}, "trials.0.use"),
        ({"trials": [trial("a", 4.0)], "more": 1}, "more"),
    ],
)
def test_what_is_no_trial_is_refused_with_its_place(own: httpx.Client, sent: dict[str, Any], place: str) -> None:
    answer = own.post("/trials", json=sent)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["place"] == place
    assert own.get("/trials").json()["trials"] == []
