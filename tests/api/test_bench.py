"""The bench through HTTP: readings kept, struck out and written; what is seen; trials; by difference; the caliper."""

from __future__ import annotations

import os
import termios
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.api.answers import good
from tests.conftest import Served
from tests.limits import LIMIT_S
from tests.thorough import EVERYWHERE
from tropeion.devices.caliper_line import CaliperServer
from tropeion.devices.calipers import caliper_link
from tropeion.devices.simulated_caliper import CaliperErrors, MeasuredCopy, SimulatedCaliper

RIG = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
RING = {"kind": "adapters", "id": "kel-ost-plain"}
LENGTH = {**RING, "quantity": "length"}
DAY = "2026-11-26"


def series(*values: float, **more: Any) -> dict[str, Any]:
    return {"readings": [{"mm": one} for one in values], "day": DAY, **more}


def refused(answer: httpx.Response) -> str:
    assert answer.status_code == 422, answer.text
    problem = answer.json()
    return " ".join([problem["detail"], *(f"{one['place']}: {one['message']}" for one in problem["errors"])])


# Readings


def test_readings_are_kept_told_with_the_next_and_struck_out_with_a_reason(own: httpx.Client) -> None:
    page = good(own.post("/bench/series", params=LENGTH, json=series(25.82, 25.83, 25.84)))
    [kept] = page["series"]
    assert [one["mm"] for one in kept["readings"]] == [25.82, 25.83, 25.84]
    again = good(own.post("/bench/readings", params=LENGTH, json=series(25.82, 25.84)))
    assert again["report"]["pooled_mm"] == pytest.approx(25.83, abs=0.002)
    # One reading alone is struck out, then all of them; nothing is deleted.
    strike = f"/records/reading_series/{kept['id']}/strike"
    good(own.put(f"/bench/series/{kept['id']}/readings/2", json={"struck": "dust"}))
    told = good(own.post("/bench/readings", params=LENGTH, json=series()))
    assert told["report"]["measured"]["mean_mm"] == pytest.approx(25.825)
    good(own.post(strike, json={"reason": "wrong ring on the bench"}))
    page = good(own.get("/bench/piece", params=RING))
    assert page["series"][0]["struck_because"] == "wrong ring on the bench"
    assert page["series"][0]["readings"][2]["struck"] == "dust"
    assert good(own.post("/bench/readings", params=LENGTH, json=series()))["report"] is None
    assert "struck out already" in refused(own.post(strike, json={"reason": "again"}))
    good(own.post("/undo"))
    assert good(own.get("/bench/piece", params=RING))["series"][0]["struck"] is False


def test_a_series_of_no_readings_or_of_something_else_is_refused(own: httpx.Client) -> None:
    assert "at least one reading" in refused(own.post("/bench/series", params=LENGTH, json=series()))
    wrong = {**RING, "quantity": "weight"}
    assert "length, bore, outer" in refused(own.post("/bench/series", params=wrong, json=series(1.0)))
    assert own.post("/bench/series", params={**LENGTH, "id": "gone"}, json=series(1.0)).status_code == 404
    kept = good(own.post("/bench/series", params=LENGTH, json=series(25.8)))["series"][0]["id"]
    assert "counted from 0" in refused(own.put(f"/bench/series/{kept}/readings/1", json={"struck": "x"}))
    assert own.put(f"/bench/series/{kept}/readings/-1", json={"struck": "x"}).status_code == 422
    assert own.post("/bench/series", params=LENGTH, json=series(2e4)).status_code == 422


def test_simulated_readings_and_real_ones_are_never_put_together(own: httpx.Client) -> None:
    good(own.post("/bench/series", params=LENGTH, json=series(25.9, 25.9, source="simulated")))
    alone = good(own.post("/bench/readings", params=LENGTH, json=series(25.8, 25.8)))["report"]
    assert (alone["pooled_mm"], alone["apart"]) == (None, None)
    both = good(own.post("/bench/readings", params=LENGTH, json=series(25.9, 25.91, source="simulated")))
    assert both["report"]["pooled_mm"] == pytest.approx(25.9, abs=0.01)
    # With none in hand it says how those came that it tells of, whatever else was read of the ring.
    good(own.post("/bench/series", params={**RING, "quantity": "bore"}, json=series(43.0)))
    assert good(own.post("/bench/readings", params=LENGTH, json=series()))["source"] == "simulated"


def test_a_slip_holds_up_the_writing_until_it_is_confirmed_or_struck_out(own: httpx.Client) -> None:
    page = good(own.post("/bench/series", params=LENGTH, json=series(25.8, 25.81, 26.4)))
    kept = page["series"][0]["id"]
    assert page["slips"] == {kept: [2]}
    assert good(own.post("/bench/readings", params=LENGTH, json=series()))["changes"] == []
    assert "counted from 0" in refused(own.put(f"/bench/series/{kept}/readings/3", json={"confirmed": True}))
    nothing = "/bench/series/00000000-0000-0000-0000-000000000000/readings/0"
    assert own.put(nothing, json={"confirmed": True}).status_code == 404
    page = good(own.put(f"/bench/series/{kept}/readings/2", json={"confirmed": True}))
    assert page["slips"] == {kept: []}
    told = good(own.post("/bench/readings", params=LENGTH, json=series()))
    assert told["changes"][0]["after"] == pytest.approx((25.8 + 25.81 + 26.4) / 3, abs=1e-3)
    good(own.post("/undo"))
    assert good(own.get("/bench/piece", params=RING))["slips"] == {kept: [2]}
    page = good(own.put(f"/bench/series/{kept}/readings/2", json={"struck": "jaws askew"}))
    assert page["slips"] == {kept: []}


def test_readings_that_are_struck_at_once_are_all_struck(own: httpx.Client) -> None:
    for _ in range(EVERYWHERE * 20 + 5):
        kept = good(own.post("/bench/series", params=LENGTH, json=series(25.8, 25.81, 25.82, 25.83)))["series"][0]["id"]
        start = threading.Barrier(4)

        def struck(reading: int, kept: str = kept, start: threading.Barrier = start) -> int:
            start.wait(LIMIT_S)
            place = f"/bench/series/{kept}/readings/{reading}"
            return own.put(place, json={"struck": f"no. {reading}"}).status_code

        with ThreadPoolExecutor(4) as threads:
            assert list(threads.map(struck, range(4))) == [200] * 4
        [found] = [one for one in good(own.get("/bench/piece", params=RING))["series"] if one["id"] == kept]
        assert [one["struck"] for one in found["readings"]] == [f"no. {reading}" for reading in range(4)]


def written(own: httpx.Client, value: float = 26.3) -> dict[str, Any]:
    version = good(own.get("/bench/piece", params=RING))["version"]
    fields = {"measured_length_mm": value, "measured_tolerance_mm": 0.02}
    return {"fields": fields, "day": DAY, "says": f"face to face {value}", "version": version}


def test_a_measurement_is_shown_first_written_and_taken_back(own: httpx.Client) -> None:
    found = written(own)
    preview = good(own.post("/bench/preview", params=RING, json=found))
    before = good(own.get("/kit/adapters/items/kel-ost-plain"))["item"]
    [rig] = preview["rigs"]
    assert (rig["id"], rig["before"]) == ("gallery", "manual")
    assert rig["after"] != "manual"
    assert preview["judged"] > 0
    assert good(own.post("/bench/write", params=RING, json=found))["measured_on"] == DAY
    item = good(own.get("/kit/adapters/items/kel-ost-plain"))["item"]
    assert (item["measured_length_mm"], item["measured_on"]) == (26.3, DAY)
    assert item["evidence"][-1] == {
        "claim": "measured on the bench",
        "verdict": "confirmed",
        "source": "own",
        "on": DAY,
        "note": "face to face 26.3",
    }
    # The saved rig stands as the preview said.
    kept = next(one for one in good(own.get("/rigs"))["rigs"] if one["id"] == "gallery")
    assert kept["grade"] == rig["after"]
    good(own.post("/undo"))
    assert good(own.get("/kit/adapters/items/kel-ost-plain"))["item"] == before


def test_a_measurement_upon_an_older_version_is_refused_and_changes_nothing(own: httpx.Client) -> None:
    first, second = written(own), written(own, 25.9)
    good(own.post("/bench/write", params=RING, json=first))
    answer = own.post("/bench/write", params=RING, json=second)
    assert answer.status_code == 409
    assert good(own.get("/kit/adapters/items/kel-ost-plain"))["item"]["measured_length_mm"] == 26.3


def test_a_field_that_the_piece_has_not_is_refused(own: httpx.Client) -> None:
    found = written(own)
    found["fields"] = {"measured_wedge_mm": 0.1}
    assert "measured_wedge_mm" in refused(own.post("/bench/write", params=RING, json=found))
    assert own.post("/bench/write", params=RING, json={**found, "fields": {}}).status_code == 422


# What is seen


def test_what_is_seen_is_answered_in_metres_and_marked_stops(own: httpx.Client) -> None:
    saw = [{"kind": "scale", "values": [2.4, 3.0]}, {"kind": "infinity_from", "values": [8, 5.6]}]
    page = good(own.post("/bench/seen", params=RIG, json={"saw": saw}))
    report = page["report"]
    assert [one["words"] for one in report["observations"]] == [
        "the scale says 3 m and it is 2.4 m",
        "infinity is sharp from f/8, soft at f/5.6",
    ]
    assert report["nominal"]["mean_mm"] == pytest.approx(0.03)
    assert report["together"]["mean_mm"] > 0.03
    assert {one["kind"] for one in page["sights"]} >= {"far_limit", "nothing_anywhere", "length"}
    wide = good(own.post("/bench/seen", params=RIG, json={"saw": [{**saw[0], "doubt": 0.5}]}))["report"]
    usual = good(own.post("/bench/seen", params=RIG, json={"saw": saw[:1]}))["report"]
    [unsure], [sure] = wide["observations"], usual["observations"]
    assert unsure["standard_uncertainty_mm"] > sure["standard_uncertainty_mm"]


def test_foils_of_the_collection_or_those_that_are_said(own: httpx.Client) -> None:
    short = {**RIG, "via": "kel-ost-short"}
    saw = [{"kind": "length", "values": [-0.2, 0.01]}]
    at_hand = good(own.post("/bench/seen", params=short, json={"saw": saw}))["report"]["mend"]["shim"]
    # The sample has brass of 0.02, 0.05 and 0.10; its film of 0.03 is used up.
    assert set(at_hand["foils"]) <= {0.02, 0.05, 0.1}
    assert 0.03 not in at_hand["foils"]
    own_foils = [{"thickness_mm": 0.03, "count": 4}]
    said = good(own.post("/bench/seen", params=short, json={"saw": saw, "foils": own_foils}))["report"]["mend"]["shim"]
    assert set(said["foils"]) == {0.03}


def test_what_is_no_observation_is_refused(own: httpx.Client) -> None:
    answer = own.post("/bench/seen", params=RIG, json={"saw": [{"kind": "blurry"}]})
    assert "far_limit" in refused(answer)
    assert own.post("/bench/seen", params={**RIG, "lens": "gone"}, json={"saw": []}).status_code == 404


def test_a_trial_is_kept_with_what_it_came_to_and_struck_out(own: httpx.Client) -> None:
    saw = [{"kind": "far_limit", "values": [30]}]
    [kept] = good(own.post("/bench/trials", params=RIG, json={"saw": saw, "day": DAY}))
    report = good(own.post("/bench/seen", params=RIG, json={"saw": saw}))["report"]
    assert kept["trial"]["error_mm"] == report["together"]["mean_mm"]
    assert kept["told"] == ["sharp only up to 30 m, ring at its far stop"]
    # From the front it is farther from the sensor by the lens and the ring.
    front = [{**saw[0], "from_front": True}]
    told = good(own.post("/bench/seen", params=RIG, json={"saw": front}))["report"]["observations"][0]
    assert told["words"].endswith("from the front of the lens")
    assert 0 < told["mean_mm"] < report["observations"][0]["mean_mm"]
    id_ = kept["trial"]["id"]
    good(own.post(f"/records/bench_trials/{id_}/strike", json={"reason": "fog"}))
    [struck] = good(own.get("/bench/trials", params=RIG))
    assert (struck["trial"]["struck"], struck["trial"]["struck_because"]) == (True, "fog")
    assert "struck out already" in refused(own.post(f"/records/bench_trials/{id_}/strike", json={"reason": "x"}))
    good(own.post("/undo"))
    assert good(own.get("/bench/trials", params=RIG))[0]["trial"]["struck"] is False
    # Another rig has trials of its own.
    assert good(own.get("/bench/trials", params={**RIG, "via": "kel-ost-fine"})) == []


def test_a_trial_of_nothing_or_of_what_no_rig_shows_is_refused(own: httpx.Client) -> None:
    assert "at least one thing" in refused(own.post("/bench/trials", params=RIG, json={"saw": [], "day": DAY}))
    near = {"saw": [{"kind": "far_limit", "values": [0.1]}], "day": DAY}
    assert "too near to tell" in refused(own.post("/bench/trials", params=RIG, json=near))
    assert good(own.get("/bench/trials", params=RIG)) == []


def test_frames_are_kept_with_their_cause(own: httpx.Client) -> None:
    answers = ["edges_soft", "edge_sharp"]
    assert good(own.post("/bench/causes", params=RIG, json={"answers": answers}))["cause"]["cause"] == "curvature"
    [kept] = good(own.post("/bench/trials", params=RIG, json={"answers": answers, "day": DAY}))
    assert kept["told"] == ["the frames told: The field is curved"]
    assert kept["trial"]["error_mm"] is None
    assert "can show" in refused(own.post("/bench/causes", params=RIG, json={"answers": ["dark"]}))


def test_readings_of_the_ring_speak_in_the_causes(own: httpx.Client) -> None:
    body = {"answers": ["side_soft", "side_sharp", "side_stays"]}

    def told() -> str:
        open_ = good(own.post("/bench/causes", params=RIG, json=body))["open"]
        return next(str(one["evidence"]) for one in open_ if one["cause"] == "wedge_ring")

    assert "four readings would tell" in told()
    good(own.post("/bench/series", params=LENGTH, json=series(25.7, 25.83, 25.96)))
    # 0.26 mm over 63 mm: 0.074 mm at 18 mm off the middle.
    assert "±0.074 mm" in told()


def test_the_ring_drops_out_by_difference(own: httpx.Client) -> None:
    """One lens stands 0.10 too long on a ring, another 0.15: the other wants 0.05 less, whatever the ring is."""
    other = {**RIG, "lens": "kel-45"}
    for rig, error in ((RIG, 0.10), (other, 0.15)):
        saw = [{"kind": "length", "values": [error, 0.01]}]
        good(own.post("/bench/trials", params=rig, json={"saw": saw, "day": DAY}))
    found = good(own.get("/bench/differences", params=other))
    [against] = found["lens"]
    assert (against["id"], found["body"]) == ("kel-55", [])
    assert against["found"]["register_mm"] == pytest.approx(48.2 - 0.05, abs=1e-3)
    # Both trials at a hundredth, and the seat's own tolerance of 0.02.
    assert against["found"]["standard_uncertainty_mm"] == pytest.approx((2e-4 + 0.02**2 / 3) ** 0.5, rel=0.01)
    assert against["fields"]["measured_tolerance_mm"] >= 3**0.5 * against["found"]["standard_uncertainty_mm"]


def test_two_bodies_by_one_lens(own: httpx.Client) -> None:
    """The same lens and ring stand 0.04 further out on another body: its seat does."""
    ring = {"id": "second", "name": "Second body", "mount": "ostrel", "sensor_mm": [36.0, 24.0]}
    assert own.post("/kit/bodies/items", json={"item": ring}).status_code == 201
    other = {**RIG, "body": "second"}
    for rig, error in ((RIG, 0.03), (other, 0.07)):
        saw = [{"kind": "length", "values": [error, 0.01]}]
        good(own.post("/bench/trials", params=rig, json={"saw": saw, "day": DAY}))
    found = good(own.get("/bench/differences", params=other))
    [against] = found["body"]
    assert (against["id"], found["lens"]) == ("o7", [])
    assert against["found"]["register_mm"] == pytest.approx(22.4 + 0.04, abs=1e-3)
    # A trial that is struck out tells nothing any more.
    id_ = good(own.get("/bench/trials", params=RIG))[0]["trial"]["id"]
    good(own.post(f"/records/bench_trials/{id_}/strike", json={"reason": "another ring"}))
    assert good(own.get("/bench/differences", params=other)) == {"lens": [], "body": []}


def test_a_long_throw_is_written_though_it_is_no_length(own: httpx.Client) -> None:
    lens = {"kind": "lenses", "id": "kel-55"}
    version = good(own.get("/bench/piece", params=lens))["version"]
    found = {"fields": {"focus_throw_deg": 1200.0}, "day": DAY, "says": "by turning", "version": version}
    good(own.post("/bench/write", params=lens, json=found))
    assert good(own.get("/kit/lenses/items/kel-55"))["item"]["focus_throw_deg"] == 1200.0


# Without a mount, threads, throw


def test_a_barrel_is_found_then_built_for(own: httpx.Client) -> None:
    asked = {"lens": "barrel-90", "body": "o7"}
    tries = [{"length_mm": 49.0, "saw": "sharp"}, {"length_mm": 52.0, "saw": "near", "distance_m": 2.8}]
    found = good(own.post("/bench/holding", params=asked, json={"tries": tries}))
    assert found["register_mm"] == pytest.approx(71.4, abs=0.3)
    assert "how far away" in refused(
        own.post("/bench/holding", params=asked, json={"tries": [{**tries[1], "distance_m": None}]})
    )
    page = good(own.get("/bench/mountless", params={**asked, "near_m": 1.5}))
    assert len(page["report"]["builds"]) == 3
    assert all(one["near_met"] for one in page["report"]["builds"])
    unknown = good(own.get("/bench/mountless", params={**asked, "lens": "head-75"}))
    assert unknown["report"] is None
    assert "find it first, before a known body" in unknown["why"]
    assert "has a mount" in refused(own.get("/bench/mountless", params={**asked, "lens": "kel-55"}))


def test_a_thread_of_two_systems_and_a_part_that_has_none(own: httpx.Client) -> None:
    measured = {"side": "male", "diameter_mm": 45.86, "length_mm": 11.0, "pitches": 10}
    found = good(own.post("/bench/thread", json=measured))
    assert {one["mount"] for one in found["candidates"][:2]} == {"tolmer", "tolmer-pr"}
    assert "two systems" in found["says"]
    tried = [{"mount": "ostrel", "outcome": "freely"}]
    assert "has no thread" in refused(own.post("/bench/thread", json={**measured, "tried": tried}))


def test_a_throw_and_why_there_is_none(own: httpx.Client) -> None:
    asked: dict[str, Any] = {"lens": "kel-55", "turns": 0.25, "from_m": 1, "to_m": 3}
    assert good(own.get("/bench/throw", params=asked))["fields"]["focus_throw_deg"] > 90
    assert "two different distances" in refused(own.get("/bench/throw", params={**asked, "to_m": 1}))
    assert own.get("/bench/throw", params={**asked, "lens": "gone"}).status_code == 404


def test_pieces_are_found_by_any_part_of_their_names(own: httpx.Client) -> None:
    found = good(own.get("/bench/pieces", params={"q": "plain klv"}))
    assert found[0]["id"] == "kel-ost-plain"
    bare = good(own.get("/bench/pieces", params={"mountless": True}))
    assert {one["id"] for one in bare} == {"head-75", "barrel-90"}


# The caliper


def test_the_simulated_caliper_closes_on_an_invented_copy(own: httpx.Client) -> None:
    state = good(own.post("/bench/caliper", params=LENGTH, json={"do": "state"}))["state"]
    assert state["touching"] is False
    closed = good(own.post("/bench/caliper", params=LENGTH, json={"do": "jaws", "value": 0}))["state"]
    assert closed["touching"] is True
    # Stated as 25.80 ± 0.03; a warm hand adds a little.
    assert closed["opening_mm"] == pytest.approx(25.8, abs=0.04)
    read = good(own.post("/bench/caliper", params=LENGTH, json={"do": "read"}))["reading_mm"]
    assert read == pytest.approx(closed["opening_mm"], abs=0.06)
    assert "from 0 to 200" in refused(own.post("/bench/caliper", params=LENGTH, json={"do": "jaws", "value": 500}))
    unstated = {"kind": "lenses", "id": "head-75", "quantity": "rear_diameter"}
    assert "nothing to measure" in refused(own.post("/bench/caliper", params=unstated, json={"do": "state"}))


def test_a_caliper_at_a_port_takes_its_place(own: httpx.Client, own_server: Served, tmp_path: Path) -> None:
    assert all(one["name"] != "simulated, started apart" for one in good(own.get("/bench/ports")))
    caliper = SimulatedCaliper(MeasuredCopy(26.3), errors=CaliperErrors(0.0, 0.01, 0.0, 0.0))
    caliper.move_to(0.0)
    with CaliperServer(caliper_link(own_server.collection.path.parent), caliper):
        [port] = [one for one in good(own.get("/bench/ports")) if one["name"] == "simulated, started apart"]
        assert good(own.post("/bench/port", json={"port": port["port"]}))["reading_mm"] == pytest.approx(26.3)
    assert "No such file" in refused(own.post("/bench/port", json={"port": port["port"]}))
    refused_folder = refused(own.post("/bench/port", json={"port": str(tmp_path)}))
    assert "is not known as a caliper's port" in refused_folder
    assert "--caliper" in refused_folder


def test_no_other_device_of_the_machine_is_opened(own: httpx.Client) -> None:
    """A terminal that somebody works at: nothing is written to it, and its settings stay."""
    master, slave = os.openpty()
    try:
        before = termios.tcgetattr(slave)
        for name in (os.ttyname(slave), f"/dev/../{os.ttyname(slave)}", f"/dev/fd/{slave}", "/dev/ptmx", "/dev/tty"):
            assert "is not known as a caliper's port" in refused(own.post("/bench/port", json={"port": name}))
        assert termios.tcgetattr(slave) == before
        os.set_blocking(master, False)
        with pytest.raises(BlockingIOError):
            os.read(master, 100)
    finally:
        os.close(master)
        os.close(slave)
