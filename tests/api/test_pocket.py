"""What is carried, over HTTP: made in the background, once for each state of the collection."""

from __future__ import annotations

import gzip
import threading
from typing import Any

import httpx
import pytest

from tests.limits import LIMIT_S, until
from tests.thorough import some
from tropeion.api import pocket_resource
from tropeion.core.asking import go_on


def carried(own: httpx.Client, have: str = "") -> dict[str, Any]:
    """The answer, once it is made."""
    return until(lambda: own.get("/pocket", params={"have": have}).json(), lambda answer: answer["state"] != "making")


def test_it_says_what_the_screens_say(own: httpx.Client) -> None:
    answer = carried(own)
    assert answer["state"] == "ready"
    pocket = answer["pocket"]
    assert len(gzip.compress(str(pocket).encode())) < 2_000_000
    assert pocket["left_out"] == []
    start = own.get("/start").json()
    assert (pocket["collection"], pocket["terms"]) == (start["collection"], start["glossary"])
    every = [system["mount"] for system in pocket["systems"]]
    looked_at = some(every, ("kelvane", "tolmer-pr", "brannoch"))
    for system in (one for one in pocket["systems"] if one["mount"] in looked_at):
        for generation in system["generations"]:
            asked = {"mount": system["mount"], "focal_mm": pocket["assumed_mm"]}
            if generation["id"] is not None:
                asked["generation"] = generation["id"]
            shown = own.get("/would-fit", params=asked).json()["report"]["fits"]
            told = {fit["id"]: fit for fit in shown}
            assert len(told) == len(generation["fits"]) == len(pocket["bodies"])
            for fit in generation["fits"]:
                of_screen = told[fit["body"]]
                for field in ("grade", "works", "surely", "possible", "sentence"):
                    assert fit[field] == of_screen[field], (asked, fit["body"], field)
    for rig in pocket["rigs"]:
        asked = {"lens": rig["lens"], "body": rig["body"], "via": ",".join(rig["adapters"])}
        set_up = own.get("/setup", params=asked).json()
        assert [step["text"] for step in rig["steps"]][:3] == [step["text"] for step in set_up["steps"]][:3]
        assert (rig["grade"], rig["sentence"]) == (set_up["grade"], set_up["sentence"])
        depth = own.get("/frame", params=asked).json()["depth"]
        assert [row["near_m"] for row in rig["depth"]] == [row["near_m"] for row in depth]
    # What the device has already is not sent again; an entry in the log makes no other answers.
    entry = {"id": "e", "at": "2026-11-30T10:00:00+00:00", "body": "o7", "lens": "kel-55", "via": [], "way": "tap"}
    own.post("/log/entries", json={"entry": {**entry, "frames": 1}})
    same = own.get("/pocket", params={"have": answer["standing"]}).json()
    assert (same["state"], same["pocket"]) == ("same", None)
    own.put("/practice", json={"glass": "avoid"})
    assert own.get("/pocket", params={"have": answer["standing"]}).json()["standing"] != answer["standing"]


def test_it_is_made_once_and_told_how_far_it_is(own: httpx.Client, monkeypatch: pytest.MonkeyPatch) -> None:
    begun, go, made = threading.Event(), threading.Event(), []

    def slow(*asked: Any) -> object:
        made.append(asked)
        asked[2](3, 14)
        begun.set()
        assert go.wait(LIMIT_S)
        raise ValueError("out of paper")

    monkeypatch.setattr(pocket_resource, "gather", slow)
    own.put("/practice", json={"glass": "avoid", "zooms": "avoid"})
    first = own.get("/pocket").json()
    assert first["state"] == "making"
    assert begun.wait(LIMIT_S)
    told = own.get("/pocket").json()
    assert (told["state"], told["done"], told["total"]) == ("making", 3, 14)
    go.set()
    failed = carried(own)
    assert (failed["state"], failed["why"]) == ("failed", "out of paper")
    assert len(made) == 1


def test_where_nobody_asks_any_more_it_stops(own: httpx.Client, monkeypatch: pytest.MonkeyPatch) -> None:
    stopped = threading.Event()

    def endless(*_: object) -> object:
        pause = threading.Event()
        try:
            for _turn in range(1000 * LIMIT_S):
                go_on()
                pause.wait(0.001)
        finally:
            stopped.set()
        raise AssertionError("it went on")

    monkeypatch.setattr(pocket_resource, "gather", endless)
    monkeypatch.setattr(pocket_resource, "_PATIENCE_S", 0.05)
    own.put("/practice", json={"glass": "avoid", "heavy": "support"})
    own.get("/pocket")
    assert stopped.wait(LIMIT_S)
