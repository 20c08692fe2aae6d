"""The log over HTTP: entries sent once or twice, corrected, struck out; rolls; in and out as a file."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
import pytest

from tests.api.answers import good
from tests.logs import entry, moment
from tropeion.formats.log_file import load_log

FIRST = entry("e-1", 0, aperture=4.0)


def _log(own: httpx.Client, one: dict[str, Any], **more: Any) -> httpx.Response:
    return own.post("/log/entries", json={"entry": one, **more})


def test_an_entry_sent_twice_is_kept_once_and_a_correction_is_not_undone_by_it(own: httpx.Client) -> None:
    first = good(_log(own, FIRST))
    assert (first["version"], first["rig_name"], first["says"]) == (1, "Kelvane 55/2.2 · Plain ring KLV–OST", "f/4")
    assert good(_log(own, FIRST)) == first
    changed = {"entry": {**FIRST, "aperture": 5.6}, "version": 1}
    corrected = good(own.put("/log/entries/e-1", json=changed))
    assert (corrected["version"], corrected["entry"]["aperture"]) == (2, 5.6)
    assert good(_log(own, FIRST)) == corrected
    assert own.put("/log/entries/e-1", json=changed).status_code == 409
    page = good(own.get("/log/entries"))
    assert (len(page["entries"]), page["in_all"]) == (1, 1)
    assert datetime.fromisoformat(page["now"]).tzinfo is not None
    # Each is one step to take back.
    good(own.post("/undo"))
    assert good(own.get("/log/entries"))["entries"][0]["entry"]["aperture"] == 4.0
    good(own.post("/undo"))
    assert good(own.get("/log/entries"))["entries"] == []


def test_struck_out_it_stays_to_be_seen_and_the_file_says_why(own: httpx.Client) -> None:
    good(_log(own, FIRST))
    good(own.post("/records/log_entries/e-1/strike", json={"reason": "a slip"}))
    (line,) = good(own.get("/log/entries"))["entries"]
    assert line["entry"]["struck"] == "a slip"
    assert good(own.get("/log/rigs")) == []
    log = load_log(own.get("/log/file").content)
    assert (log.entries[0].struck, log.entries[0].version) == ("a slip", 2)


@pytest.mark.parametrize(
    ("more", "field", "said"),
    [
        ({"aperture": 3.3}, "aperture", "f/3.3 is not on the ring of Kelvane 55/2.2"),
        ({"aperture": 1.4}, "aperture", "Kelvane 55/2.2 has f/2.2 to f/22, not f/1.4"),
        ({"focal_length_mm": 85.0}, "focal_length_mm", "Kelvane 55/2.2 has 55 mm, not 85 mm"),
        ({"lens": "kel-28-80", "focal_length_mm": 100.0}, "focal_length_mm", "has 28 to 80 mm, not 100 mm"),
        ({"mode": "6 × 6"}, "mode", "has no mode “6 × 6”"),
        ({"travel": 0.33}, "travel", "has no step of 33%"),
        ({"seat": 2}, "seat", "its mount takes a lens in 1 way"),
        ({"shift_mm": [0.0, 6.0]}, "shift_mm", "nothing of it shifts more than 0 mm"),
    ],
)
def test_what_the_rig_cannot_have_is_told_and_kept_with_a_reason(
    own: httpx.Client, more: dict[str, Any], field: str, said: str
) -> None:
    odd = {**FIRST, **more}
    refused = _log(own, odd)
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["place"] == field
    assert said in refused.json()["detail"]
    assert good(own.get("/log/entries"))["entries"] == []
    kept = good(_log(own, odd, because="read off the ring"))
    assert said in kept["entry"]["note"]
    assert kept["entry"]["note"].endswith("read off the ring")
    # A correction of something else asks nothing again.
    again = {**kept["entry"], "support": "tripod"}
    assert good(own.put("/log/entries/e-1", json={"entry": again, "version": 1}))["entry"]["support"] == "tripod"


def test_an_unknown_piece_is_kept_and_named(own: httpx.Client) -> None:
    line = good(_log(own, {**FIRST, "lens": "borrowed-35", "via": ["somebodys-ring"]}))
    assert line["rig_name"] == "borrowed-35 · somebodys-ring"
    hand = good(own.get("/log/rig", params={"lens": "borrowed-35", "body": "o7", "via": "somebodys-ring"}))
    assert (hand["unknown"], hand["stops"]) == (["borrowed-35", "somebodys-ring"], [])


@pytest.mark.parametrize(
    ("one", "place"),
    [
        ({**FIRST, "at": "2026-11-21T14:00:00"}, "entry.at"),
        ({**FIRST, "at": (datetime.now(UTC) + timedelta(days=3)).isoformat()}, "at"),
        ({**FIRST, "id": "a/b"}, "id"),
        ({**FIRST, "aperture": 0}, "entry.aperture"),
        ({**FIRST, "apperture": 4}, "entry.apperture"),
    ],
)
def test_what_is_no_entry_is_refused_with_its_place(own: httpx.Client, one: dict[str, Any], place: str) -> None:
    refused = _log(own, one)
    assert (refused.status_code, refused.json()["errors"][0]["place"]) == (422, place)
    assert good(own.get("/log/entries"))["in_all"] == 0


def test_the_rig_in_hand_offers_what_it_has(own: httpx.Client) -> None:
    ring = good(own.get("/log/rig", params={"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}))
    assert ring["stops"] == [2.2, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0]
    assert (ring["stops_assumed"], ring["marks_mm"], ring["film"]) == (False, [], False)
    assert ring["tells"] == [{"mark_mm": 55.0, "told_mm": 55.0}]
    zoom = good(own.get("/log/rig", params={"lens": "kel-28-80", "body": "o7", "via": "kel-ost-plain"}))
    assert (zoom["marks_mm"][0], zoom["marks_mm"][-1]) == (28.0, 80.0)
    # Nobody noted the stops of this one: whole stops between its ends, and that is said.
    bellows = good(own.get("/log/rig", params={"lens": "tub-105", "body": "o7"}))
    assert (bellows["stops"], bellows["stops_assumed"]) == ([4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0], True)
    shift = good(own.get("/log/rig", params={"lens": "kel-30s", "body": "stave-3"}))
    assert shift["film"]
    assert shift["shifts_mm"] > 0


def test_a_roll_counts_and_is_never_renumbered(own: httpx.Client) -> None:
    roll = {"id": "windchest-21", "body": "stave-3", "stock": "Umbral 400", "first_number": 1, "frames": 36}
    begun = good(own.put("/log/rolls", json={"roll": roll}))
    assert (begun["next"], begun["logged"]) == (1, 0)
    film = {"body": "stave-3", "via": [], "roll": "windchest-21"}
    for number, second in ((1, 0), (2, 60), (4, 120)):
        good(_log(own, entry(f"f{number}", second, frame_number=number, **film)))
    (page,) = good(own.get("/log/rolls"))
    # The third was skipped: the next one is the fifth, and the others keep their numbers.
    assert (page["next"], page["logged"]) == (5, 3)
    changed = {"entry": entry("f4", 120, frame_number=3, **film), "version": 1}
    good(own.put("/log/entries/f4", json=changed))
    assert good(own.get("/log/rolls"))[0]["next"] == 4
    assert own.put("/log/rolls", json={"roll": roll}).status_code == 409
    more = good(own.put("/log/rolls", json={"roll": {**roll, "frames": 37}, "version": 1}))
    assert more["version"] == 2


def test_the_rigs_logged_last_stand_first(own: httpx.Client) -> None:
    for number, (lens, stop) in enumerate((("kel-55", 2.8), ("kel-85", 5.6), ("kel-55", 8.0))):
        good(_log(own, entry(f"e{number}", 100 * number, lens=lens, aperture=stop)))
    rigs = good(own.get("/log/rigs"))
    assert [(rig["lens"], rig["entries"], rig["last"]["aperture"]) for rig in rigs] == [
        ("kel-55", 2, 8.0),
        ("kel-85", 1, 5.6),
    ]


def test_a_log_file_is_looked_at_first_and_brought_in_once(own: httpx.Client) -> None:
    document: dict[str, Any] = {
        "version": 1,
        "cameras": [{"body": "o7", "make": "Ostrel", "model": "O7"}],
        "entries": [FIRST, entry("e-2", 90, lens="nobody-knows")],
        "clocks": [{"body": "o7", "seconds": -3180}],
    }
    data = json.dumps(document)
    look = good(own.post("/log/file", content=data))
    assert look == {"new": 4, "same": 0, "other": [], "written": False}
    assert good(own.get("/log/entries"))["in_all"] == 0
    assert good(own.post("/log/file", params={"take": "new"}, content=data))["new"] == 4
    assert good(own.post("/log/file", params={"take": "new"}, content=data)) == {
        "new": 0,
        "same": 4,
        "other": [],
        "written": True,
    }
    again = load_log(own.get("/log/file").content)
    assert (again.entries, again.cameras, again.clocks) == (
        load_log(data.encode()).entries,
        load_log(data.encode()).cameras,
        load_log(data.encode()).clocks,
    )
    document["entries"][0] = {**FIRST, "aperture": 8.0}
    other = json.dumps(document)
    assert good(own.post("/log/file", params={"take": "new"}, content=other))["other"] == ["entry e-1"]
    assert load_log(own.get("/log/file").content).entries[0].aperture == 4.0
    good(own.post("/log/file", params={"take": "replace"}, content=other))
    assert load_log(own.get("/log/file").content).entries[0].aperture == 8.0
    table = own.get("/log/table").text.splitlines()
    assert table[1].startswith("e-1,")
    assert len(table) == 3


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"{", "not JSON"),
        (b'{"entries": [{}]}', "entries[0]"),
        (json.dumps({"entries": [{**FIRST, "at": "2031-01-01T00:00:00Z"}]}).encode(), "yet to come"),
    ],
)
def test_a_bad_log_file_writes_nothing(own: httpx.Client, data: bytes, said: str) -> None:
    refused = own.post("/log/file", params={"take": "new"}, content=data)
    assert refused.status_code == 422
    assert said in refused.text
    assert good(own.get("/log/entries"))["in_all"] == 0


def test_a_backup_holds_the_log_and_a_restore_brings_it_back(own: httpx.Client) -> None:
    good(_log(own, FIRST))
    kept = own.get("/backup").content
    good(own.post("/records/log_entries/e-1/strike", json={"reason": "x"}))
    good(_log(own, entry("e-2", 60)))
    preview = good(own.post("/restore", content=kept))
    assert {shelf["kind"] for shelf in preview["shelves"]} >= {"log_entries"}
    good(own.post(f"/restore/{preview['token']}"))
    page = good(own.get("/log/entries"))
    assert [line["entry"]["id"] for line in page["entries"]] == ["e-1"]
    assert page["entries"][0]["entry"]["struck"] is None
    good(own.post("/undo"))
    assert len(good(own.get("/log/entries"))["entries"]) == 2


def test_a_piece_that_was_logged_is_archived_and_its_entries_stay(own: httpx.Client) -> None:
    good(_log(own, FIRST))
    version = good(own.get("/kit/adapters/items/kel-ost-long"))["version"]
    good(_log(own, entry("e-2", 10, via=["kel-ost-long"])))
    good(own.request("DELETE", "/kit/adapters/items/kel-ost-long", params={"version": version}))
    assert good(own.get("/kit/adapters/items/kel-ost-long"))["item"]["retired"] is True
    assert moment(10) == good(own.get("/log/entries"))["entries"][0]["entry"]["at"]


def test_a_backup_may_be_as_large_as_a_long_log_makes_it(own: httpx.Client) -> None:
    # Larger than anything else that is taken: it is looked at, not turned away for its size.
    refused = own.post("/restore", content=bytes(40 * 1024 * 1024))
    assert refused.status_code == 422
    assert "is no backup of a collection: it is no database" in refused.json()["detail"]
