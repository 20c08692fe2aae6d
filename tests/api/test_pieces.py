"""A piece's own record, who has what, and what was used."""

from __future__ import annotations

import csv
import io
from datetime import date, timedelta
from typing import Any

import httpx
import pytest

from tropeion.sample import log_bytes

TODAY = date.today()


def day(ahead: int) -> str:
    return (TODAY + timedelta(days=ahead)).isoformat()


def noted(
    own: httpx.Client, what: str, on: str, *, id_: str = "kel-55", kind: str = "lens", **more: Any
) -> httpx.Response:
    event = {"piece": {"kind": kind, "id": id_}, "on": on, "what": what, **more}
    return own.post("/pieces/events", json={"event": event})


@pytest.fixture
def logged(own: httpx.Client) -> httpx.Client:
    own.post("/log/file", params={"take": "new"}, content=log_bytes()).raise_for_status()
    return own


def test_a_record_is_one_time_line(logged: httpx.Client) -> None:
    reading = {"readings": [{"mm": 25.84, "angle_deg": 0}], "day": "2026-10-20"}
    logged.post("/bench/series?kind=adapters&id=kel-ost-plain&quantity=length", json=reading).raise_for_status()
    page = logged.get("/pieces/lenses/kel-55/record").json()
    told = [(one["on"], one["what"]) for one in page["life"]]
    assert told == sorted(told, key=lambda one: one[0], reverse=True)
    kinds = [what for _, what in told]
    assert kinds.count("trial") == 7
    assert {"inherited", "serviced", "pictures"} <= set(kinds)
    says = {one["what"]: one["says"] for one in page["life"]}
    assert says["inherited"] == (
        "Inherited from an uncle who tuned organs. first coating. Why it is had: the case at the west end."
    )
    assert says["serviced"] == "Serviced by a repairer, for 85. Grease in the helicoid."
    ring = logged.get("/pieces/adapters/kel-ost-plain/record").json()
    assert "readings" in [one["what"] for one in ring["life"]]
    assert logged.get("/pieces/bodies/o7/record").json()["life"][0]["what"] == "pictures"


def test_what_happened_is_noted_struck_out_and_taken_back(own: httpx.Client) -> None:
    page = noted(own, "bought", day(-30), by="a shop", price=60.0).json()
    assert [one["says"] for one in page["life"]] == ["Bought from a shop, for 60."]
    event = page["life"][0]["event"]
    own.post(f"/records/events/{event}/strike", json={"reason": "another lens"}).raise_for_status()
    assert own.get("/pieces/lenses/kel-55/record").json()["life"] == []
    own.post("/undo")
    assert len(own.get("/pieces/lenses/kel-55/record").json()["life"]) == 1
    titles = [action["title"] for action in own.get("/history").json()["actions"]]
    assert "Kelvane 55/2.2: Bought from a shop, for 60." in titles


def away(own: httpx.Client) -> dict[str, dict[str, Any]]:
    return {piece["id"]: piece for piece in own.get("/pieces/away").json()["pieces"]}


def test_who_has_a_piece_follows_from_its_last_move(own: httpx.Client) -> None:
    noted(own, "borrowed", day(-20), by="St. Wend Workshop", until=day(10))
    found = away(own)["kel-55"]
    assert (found["state"], found["due"], found["soon"]) == ("borrowed", day(10), True)
    assert found["says"] == f"Borrowed from St. Wend Workshop, until {day(10)}"
    # Later, and nothing that is no move changes it.
    noted(own, "serviced", day(-1), by="a repairer")
    assert "kel-55" in away(own)
    noted(own, "given_back", day(0))
    assert away(own)["kel-55"]["state"] == "gone"
    noted(own, "lent", day(-5), id_="o7", kind="bodies", by="a friend", until=day(-1))
    assert away(own)["o7"]["says"].endswith(": it is overdue")
    noted(own, "returned", day(0), id_="o7", kind="body")
    assert "o7" not in away(own)
    noted(own, "lent", day(-5), id_="kel-ost-plain", kind="adapter", until=day(60))
    assert away(own)["kel-ost-plain"]["soon"] is False


def test_a_code_that_has_to_be_renewed_is_told_in_time(own: httpx.Client) -> None:
    noted(own, "coded", day(-300), by="matt ink", until=day(60))
    assert away(own) == {}
    noted(own, "coded", day(-200), by="matt ink", until=day(3))
    found = away(own)["kel-55"]
    assert (found["state"], found["says"]) == ("renew", f"Coded by matt ink, to be renewed by {day(3)}")
    noted(own, "coded", day(0), by="matt ink", until=day(300))
    assert away(own) == {}


def test_what_has_to_be_back_first_stands_first(own: httpx.Client) -> None:
    for id_, until in (("kel-55", day(40)), ("kel-85", day(5)), ("kel-45", day(20))):
        noted(own, "borrowed", day(-1), id_=id_, until=until)
    assert [piece["id"] for piece in own.get("/pieces/away").json()["pieces"]] == ["kel-85", "kel-45", "kel-55"]


@pytest.mark.parametrize(
    ("event", "status"),
    [
        ({"what": "bought", "on": day(1)}, 422),
        ({"what": "stolen", "on": day(0)}, 422),
        ({"what": "lent", "on": day(0), "until": day(-1)}, 422),
        ({"what": "bought", "on": day(0), "id_": "nothing"}, 404),
        ({"what": "bought", "on": day(0), "kind": "tripod"}, 422),
    ],
)
def test_what_cannot_have_happened_is_refused(own: httpx.Client, event: dict[str, Any], status: int) -> None:
    assert noted(own, **event).status_code == status
    assert own.get("/pieces/lenses/kel-55/record").json()["life"] == []


def test_what_was_used_by_frames_and_by_days(logged: httpx.Client) -> None:
    report = logged.get("/pieces/used").json()
    frames = [rig["frames"] for rig in report["rigs"]]
    assert frames == sorted(frames, reverse=True)
    entries = logged.get("/log/entries", params={"limit": 500}).json()["entries"]
    assert sum(frames) == sum(line["entry"]["frames"] for line in entries if line["entry"]["struck"] is None)
    rig = next(rig for rig in report["rigs"] if (rig["lens"], rig["via"]) == ("kel-55", ["kel-ost-plain"]))
    prices = [
        logged.get(f"/kit/{kind}/items/{id_}").json()["item"]["price"]
        for kind, id_ in (("lenses", "kel-55"), ("adapters", "kel-ost-plain"), ("bodies", "o7"))
    ]
    assert rig["price"] == sum(prices)
    assert (rig["outings"], rig["last"]) == (1, "2026-11-21")
    rows = list(csv.DictReader(io.StringIO(logged.get("/pieces/used/table").text)))
    assert [int(row["frames"]) for row in rows] == frames


def test_what_would_go_with_a_lens(logged: httpx.Client) -> None:
    lenses = {lens["lens"]: lens for lens in logged.get("/pieces/used").json()["lenses"]}
    cells = logged.get("/grid").json()["report"]["cells"]
    works = {(cell["lens"], cell["body"]) for cell in cells if cell["works_now"]}
    assert lenses["kel-55"]["rigs"] == ["Gallery camera"]
    assert lenses["kel-55"]["unused"] is False
    never = [lens for lens in lenses.values() if lens["last"] is None]
    assert never
    assert all(lens["unused"] for lens in never)
    # By hand: a view goes with a lens where no other that works on the body comes within a tenth of it.
    gear = logged.get("/gear").json()
    bodies = {body["id"]: body["name"] for body in gear["bodies"] if body.get("owned") or body.get("borrowed")}
    ends = {lens["id"]: lens["focal_length_mm"] for lens in gear["lenses"] if lens["id"] in lenses}
    for id_, lens in lenses.items():
        views = [
            f"{mm:g} mm on {name}"
            for body, name in bodies.items()
            if (id_, body) in works
            for mm in dict.fromkeys(ends[id_])
            if not any(
                other != id_ and (other, body) in works and low * 0.9 <= mm <= high * 1.1
                for other, (low, high) in ends.items()
            )
        ]
        assert lens["views"] == views
        assert lens["bodies"] == [name for body, name in bodies.items() if (id_, body) in works]
    assert lenses["lis-40"]["views"] == ["40 mm on Lisken Verge"]
