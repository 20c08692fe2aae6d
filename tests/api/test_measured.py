"""Pictures measured over HTTP: sent, measured with progress, kept, compared, struck out."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from typing import Any

import httpx
import numpy as np
import pytest

from tests.api.answers import good
from tests.core.measured.rendered import lit, picture_file, scene, true_mtf50

RIG = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain"}
SHARP, SOFT = (("gauss", 1.0),), (("gauss", 2.0),)
DAY = "2026-12-05"


def laid(own: httpx.Client, data: bytes, name: str = "roof.png") -> str:
    return str(good(own.post("/measured/pictures", params={"name": name}, content=data))["id"])


def answers(own: httpx.Client, asked: dict[str, Any]) -> Iterator[dict[str, Any]]:
    work = good(own.post("/measured/work", json=asked))
    while work["state"] == "working":
        work = good(own.get(f"/measured/work/{work['id']}"))
        yield work
    yield work


def measured(own: httpx.Client, asked: dict[str, Any]) -> tuple[str, dict[str, Any]]:
    *_, work = answers(own, asked)
    assert work["state"] == "done", work["why"]
    return work["id"], work["answer"]


def frame(blur: tuple[tuple[str, float], ...], corner: tuple[tuple[str, float], ...] | None = None) -> bytes:
    """3 : 2, as the sensor is; an edge in the middle, another in a corner."""
    edges = [(685, 400, 5.0, blur), (600, 640, -5.0, blur)]
    return picture_file(scene(1500, 1000, [*edges, (30, 30, 6.0, corner or blur)]))


def test_edges_are_placed_and_told_in_line_pairs(own: httpx.Client) -> None:
    data = frame(SHARP, SOFT)
    picture = laid(own, data)
    _, answer = measured(own, {"what": "edges", "picture": picture, **RIG})
    told = answer["picture"]
    assert (told["width"], told["height"], told["size"]) == (1500, 1000, len(data))
    assert told["sha256"] == hashlib.sha256(data).hexdigest()
    body = good(own.get("/kit/bodies/items/o7"))["item"]
    assert told["pitch_mm"] == pytest.approx(body["sensor_mm"][0] / 1500)
    by_place: dict[str, list[float]] = {}
    for edge in answer["edges"]:
        by_place.setdefault(edge["place"], []).append(edge["line"]["mtf50_lp_per_mm"] * told["pitch_mm"])
    assert max(by_place["centre"]) == pytest.approx(true_mtf50(5.0, SHARP), rel=0.06)
    assert min(by_place["corner"]) == pytest.approx(true_mtf50(6.0, SOFT), rel=0.06)
    view = own.get(f"/measured/pictures/{picture}/view")
    assert view.headers["content-type"] == "image/jpeg"


def test_a_region_is_measured_or_says_why_not(own: httpx.Client) -> None:
    picture = laid(own, frame(SHARP))
    regions = [{"x": 690, "y": 405, "width": 120, "height": 190}, {"x": 300, "y": 420, "width": 100, "height": 100}]
    _, answer = measured(own, {"what": "edges", "picture": picture, "regions": regions})
    assert len(answer["edges"]) == 1
    assert [(one["x"], one["why"]) for one in answer["refused"]] == [(350, "no_edge")]
    assert answer["picture"]["pitch_mm"] is None
    assert answer["edges"][0]["line"]["mtf50_lp_per_mm"] is None


def paid_still(own: httpx.Client, query: dict[str, Any]) -> dict[str, Any]:
    page = good(own.get("/measured/kept", params=query))
    [paid] = [one for one in page["usable"] if one["demand"]["use"] == "paid_still"]
    return dict(paid)


def test_what_is_kept_tells_from_which_stop_a_use_is_met(own: httpx.Client) -> None:
    keep = {"day": DAY, "focal_length_mm": 55.0}
    for stop, blur in ((2.8, SOFT), (8.0, SHARP)):
        work, _ = measured(own, {"what": "edges", "picture": laid(own, frame(blur)), **RIG})
        page = good(own.post("/measured/kept", json={**keep, "work": work, "f_number": stop}))
    # At this pitch the soft frames have some 5 lp/mm, the sharp ones twice that.
    soft, sharp = (min(one["lp_per_mm"] for one in page["sharp"] if one["f_number"] == stop) for stop in (2.8, 8.0))
    assert sharp > 1.5 * soft
    query = {**RIG, "use": "paid_still", "lp_per_mm": (soft + sharp) / 2}
    [paid] = [
        one for one in good(own.get("/measured/kept", params=query))["usable"] if one["demand"]["use"] == "paid_still"
    ]
    assert (paid["from_f_number"], paid["no_corner"]) == (8.0, False)
    assert "as you set it" in paid["demand"]["working"]
    easy = paid_still(own, {**query, "lp_per_mm": soft / 2})
    assert (easy["from_f_number"], easy["stops"]) == (2.8, 2)
    record = page["kept"][0]["record"]
    good(own.post(f"/records/measurements/{record['id']}/strike", json={"reason": "shaken"}))
    assert len(good(own.get("/measured/kept", params=RIG))["kept"]) == 1
    assert good(own.get("/records/measurements", params={"struck": True}))[0]["record"]["sha256"] == record["sha256"]
    no_reason = own.post(f"/records/measurements/{page['kept'][1]['record']['id']}/strike", json={})
    assert no_reason.status_code == 422


def test_what_its_camera_sharpened_is_held_against_no_demand(own: httpx.Client) -> None:
    data = picture_file(scene(1500, 1000, [(685, 400, 5.0, SHARP)]), "JPEG")
    work, answer = measured(own, {"what": "edges", "picture": laid(own, data, "roof.jpg"), **RIG})
    assert answer["picture"]["as_sharpened"]
    page = good(own.post("/measured/kept", json={"work": work, "day": DAY, "f_number": 4.0}))
    assert page["as_sharpened"]
    assert page["usable"] == []
    assert "as the camera sharpened it" in page["says"].lower()
    other = {"with_lens": "kel-55", "with_body": "o7", "with_via": "kel-ost-plain"}
    same = good(own.get("/measured/compare", params={**RIG, **other}))
    assert [one["says"] for one in same["differences"]] == ["no difference that this measurement can tell"]
    nothing = good(own.get("/measured/compare", params={**RIG, **other, "with_via": "kel-ost-chip"}))
    assert nothing["differences"] == []
    assert "measured first" in nothing["why"]


def test_a_circle_is_told_for_the_lens(own: httpx.Client) -> None:
    data = picture_file(lit(720, 480, 690.0, 8.0))
    work, answer = measured(own, {"what": "circle", "picture": laid(own, data), **RIG})
    pitch = answer["picture"]["pitch_mm"]
    assert abs(answer["circle"]["circle"] - 690 * pitch) <= answer["circle"]["doubt"]
    assert answer["lens_circle_mm"] == pytest.approx(answer["circle"]["circle"])
    kept = good(own.post("/measured/kept", json={"work": work, "day": DAY}))["kept"][0]["record"]
    assert kept["circle"]["circle_mm"] == pytest.approx(answer["circle"]["circle"])


def test_a_blur_means_two_errors_and_a_second_frame_says_which(own: httpx.Client) -> None:
    pitch = good(own.get("/kit/bodies/items/o7"))["item"]["sensor_mm"][0] / 1500
    stop, error_mm = 2.2, 0.30

    def blurred(extension_mm: float) -> str:
        # d = |δ + x_ring − x(D)| / N, here in pixels; far away, x(D) is 0.
        disc = abs(error_mm + extension_mm) / stop / pitch
        return laid(own, frame((*SHARP, ("disc", disc))))

    reference = laid(own, frame(SHARP))
    lens = good(own.get("/kit/lenses/items/kel-55"))["item"]
    past, focal = lens.get("past_infinity_mm", 0.0), lens["focal_length_mm"][0]
    read_m = 30.0
    asked = {
        "what": "ring",
        "picture": blurred(-past),
        "reference": reference,
        "f_number": stop,
        "ring": "far_stop",
        **RIG,
    }
    _, answer = measured(own, asked)
    errors = answer["ring"]["errors"]
    assert answer["which"] is None
    assert answer["ring"]["astigmatism_checked"]
    assert len(errors) == 2
    assert any(abs(one["register_error_mm"] - error_mm) <= 2 * one["doubt_mm"] for one in errors)
    extension = focal**2 / (1000 * read_m - focal)
    second = {"picture": blurred(extension), "ring": read_m}
    _, told = measured(own, {**asked, "second": second})
    assert told["which"] is not None
    chosen = told["ring"]["errors"][told["which"]]
    assert abs(chosen["register_error_mm"] - error_mm) <= 2 * chosen["doubt_mm"]


def test_what_cannot_be_measured_says_why(own: httpx.Client) -> None:
    *_, work = answers(own, {"what": "edges", "picture": laid(own, b"no picture at all", "notes.txt")})
    assert work["state"] == "failed"
    assert work["why"].startswith("notes.txt: it is no JPEG")
    gone = own.post("/measured/work", json={"what": "edges", "picture": "nothing"})
    assert (gone.status_code, gone.json()["type"]) == (404, "unknown_id")
    picture = laid(own, frame(SHARP))
    for asked, place in (
        ({"what": "ladder"}, "start"),
        ({"what": "ring", **RIG}, "f_number"),
        ({"what": "series", **RIG}, "frames"),
        ({"what": "edges", "body": "o7", "mode": "huge"}, "mode"),
    ):
        refused = own.post("/measured/work", json={"picture": picture, **asked})
        assert (refused.status_code, refused.json()["errors"][0]["place"]) == (422, place), refused.text
    assert own.post("/measured/pictures", content=b"").status_code == 422
    square = laid(own, picture_file(scene(1000, 1000, [(400, 400, 5.0, SHARP)])))
    _, answer = measured(own, {"what": "edges", "picture": square, **RIG})
    assert answer["picture"]["pitch_mm"] is None
    assert "which part of the sensor" in answer["picture"]["pitch_why"]


def test_a_chart_says_from_where_to_where(own: httpx.Client) -> None:
    chart = good(own.get("/measured/chart", params={"lens": "kel-55", "body": "o7", "across": 2}))
    assert [page["label"] for page in chart["pages"]] == ["row 1, column 1", "row 1, column 2"]
    body = good(own.get("/kit/bodies/items/o7"))["item"]
    pitch = (body["sensor_mm"][0] * body["sensor_mm"][1] / (body["megapixels"] * 1e6)) ** 0.5
    assert chart["least_distance_mm"] == pytest.approx(0.1 * 55 / (0.2 * pitch))
    side = chart["pages"][0]["squares"][0]["side_mm"]
    # At the farthest an edge spans 60 pixels, and a quarter more for its ends.
    assert side * 55 / chart["most_distance_mm"] / pitch == pytest.approx(75)
    ladder = good(own.get("/measured/chart", params={"kind": "ladder"}))
    (x0, y0), (x1, y1) = ladder["pages"][0]["marks"]
    assert (x1 - x0, y1 - y0) == (0, 240)
    assert ladder["least_distance_mm"] is None
    stood = good(own.get("/measured/chart", params={"kind": "ladder", "lens": "kel-55", "body": "o7"}))
    assert stood["least_distance_mm"] is None
    assert stood["pages"][0]["squares"][0]["side_mm"] * 55 / stood["most_distance_mm"] / pitch == pytest.approx(75)
    assert own.get("/measured/chart", params={"side_mm": 500}).status_code == 422


def test_there_are_frames_to_try_it_with(own: httpx.Client) -> None:
    chart = good(own.post("/measured/pictures/sample"))["id"]
    _, answer = measured(own, {"what": "edges", "picture": chart, **RIG})
    # Fifteen squares with four edges each, softer to the corners.
    assert len(answer["edges"]) == 60
    means = {
        place: np.mean([one["line"]["mtf50_lp_per_mm"] for one in answer["edges"] if one["place"] == place])
        for place in ("centre", "between", "corner")
    }
    assert means["centre"] > means["between"] > means["corner"]
    lit_wall = good(own.post("/measured/pictures/sample", params={"kind": "lit"}))["id"]
    _, told = measured(own, {"what": "circle", "picture": lit_wall, **RIG})
    diagonal = (900**2 + 600**2) ** 0.5 * told["picture"]["pitch_mm"]
    assert abs(told["circle"]["circle"] - 0.93 * diagonal) <= told["circle"]["doubt"]


def test_a_series_tells_a_wedge_across_the_flange(own: httpx.Client) -> None:
    frames = []
    for ring_mm in (-0.12, -0.06, 0.0, 0.06, 0.12):

        def blur(best: float, ring: float = ring_mm) -> tuple[tuple[str, float], ...]:
            return (("gauss", 0.9 + 60 * (ring - best) ** 2),)

        # Left and right of the middle, at one height; sharpest 0.06 mm apart.
        light = scene(1500, 1000, [(200, 400, 5.0, blur(-0.03)), (1170, 400, 5.0, blur(0.03))])
        picture = laid(own, picture_file(light))
        frames.append({"picture": picture, "ring_mm": ring_mm, "f_number": 2.2})
    asked = {"what": "series", "picture": frames[0]["picture"], "frames": frames, **RIG}
    _, answer = measured(own, asked)
    [wedge] = answer["series"]["causes"]
    assert wedge["cause"] == "wedge"
    assert wedge["mm"] == pytest.approx(0.06, abs=0.01)
    ring = good(own.get("/kit/adapters/items/kel-ost-plain"))["item"]
    apart_mm = 970 * answer["picture"]["pitch_mm"]
    assert wedge["across_flange_mm"] == pytest.approx(wedge["mm"] / apart_mm * ring["outer_mm"], rel=0.01)
    causes = good(own.post("/bench/causes", params=RIG, json={"answers": wedge["saw"].split(",")}))
    assert {leaf["cause"] for leaf in causes["open"]} >= {"wedge_ring", "wedge_body", "play"}


def test_another_ring_stands_beside(own: httpx.Client) -> None:
    other = {**RIG, "via": "kel-ost-long"}
    for rig, blur in ((RIG, SHARP), (other, SOFT)):
        work, _ = measured(own, {"what": "edges", "picture": laid(own, frame(blur)), **rig})
        good(own.post("/measured/kept", json={"work": work, "day": DAY, "f_number": 4.0}))
    page = good(own.get("/measured/kept", params=RIG))
    [beside] = page["others"]
    assert (beside["lens"], beside["body"], beside["via"]) == ("kel-55", "o7", "kel-ost-long")
    query = {**RIG, **{f"with_{name}": value for name, value in other.items()}}
    found = good(own.get("/measured/compare", params=query))
    assert len(found["sharp"]) == len(page["sharp"])
    assert all(one["told"] and one["by_lp_per_mm"] > 0 for one in found["differences"])
    assert {one["place"] for one in found["differences"]} == {"centre", "corner"}


def test_a_ladder_between_its_marks(own: httpx.Client) -> None:
    rungs = [(40 + 180 * number, 60, 5.0, (("gauss", 1.0 + 0.4 * abs(number - 4)),)) for number in range(8)]
    picture = laid(own, picture_file(scene(1500, 330, rungs)))
    asked = {"what": "ladder", "picture": picture, "start": [104.5, 159.5], "end": [1364.5, 159.5], "length_mm": 140}
    work, answer = measured(own, asked)
    # Eight rungs, 20 mm apart; the fifth is the sharpest.
    assert len(answer["ladder"]["rungs"]) == 8
    assert answer["ladder"]["peak"]["offset_mm"] == pytest.approx(10.0, abs=5.0)
    assert answer["says"].startswith("Sharpest +")
    assert good(own.get(f"/measured/work/{work}"))["state"] == "done"


def test_it_can_be_stopped(own: httpx.Client) -> None:
    picture = good(own.post("/measured/pictures/sample"))["id"]
    begun = good(own.post("/measured/work", json={"what": "edges", "picture": picture}))
    good(own.delete(f"/measured/work/{begun['id']}"))
    work = good(own.get(f"/measured/work/{begun['id']}"))
    while work["state"] == "working":
        work = good(own.get(f"/measured/work/{begun['id']}"))
    # Stopped, unless it had ended before it was told to; the next one is measured as ever.
    assert work["state"] in {"stopped", "done"}
    _, again = measured(own, {"what": "edges", "picture": picture})
    assert len(again["edges"]) == 60


def test_marks_of_a_zoom_and_crops_are_told_apart(own: httpx.Client) -> None:
    rig = {"lens": "kel-28-80", "body": "o7", "via": "kel-ost-plain"}
    for focal, blur in ((28.0, SOFT), (80.0, SHARP)):
        work, _ = measured(own, {"what": "edges", "picture": laid(own, frame(blur)), **rig})
        keep = {"work": work, "day": DAY, "f_number": 8.0, "focal_length_mm": focal}
        page = good(own.post("/measured/kept", json=keep))
    # The latest mark alone; all are listed.
    assert len(page["kept"]) == 2
    pitch = page["kept"][0]["record"]["pitch_mm"]
    assert min(one["lp_per_mm"] for one in page["sharp"]) > 0.9 * true_mtf50(5.0, SHARP) / pitch
    whole = paid_still(own, rig)["demand"]["centre_lp_per_mm"]
    work, answer = measured(own, {"what": "edges", "picture": laid(own, frame(SHARP)), "mode": "24 × 16", **rig})
    good(own.post("/measured/kept", json={"work": work, "day": DAY, "f_number": 8.0, "focal_length_mm": 50.0}))
    # A smaller part of the sensor is enlarged more.
    assert paid_still(own, rig)["demand"]["centre_lp_per_mm"] == pytest.approx(whole * 36 / 24)
    assert answer["picture"]["pitch_mm"] == pytest.approx(24 / 1500)
