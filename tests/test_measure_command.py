"""`tropeion measure`, as its users run it."""

from __future__ import annotations

import csv
import io
import json
import math
from pathlib import Path
from typing import Any, cast

import pytest

from tests.core.measured.rendered import Reals, edge, lit, picture_file, scene, true_mtf50
from tests.terminal import run

SHARP = (("gauss", 1.0),)
RIG = ["--gear", "sample", "--lens", "kel-55", "--body", "o7", "--via", "kel-ost-plain"]


def kept(tmp_path: Path, light: Reals, name: str = "A.png") -> str:
    path = tmp_path / name
    path.write_bytes(picture_file(light, "JPEG" if name.endswith("jpg") else "PNG"))
    return str(path)


def told(*arguments: str) -> dict[str, Any]:
    done = run("measure", *arguments, "--json")
    assert done.returncode == 0, done.stderr.decode()
    return cast(dict[str, Any], json.loads(done.stdout))


def refused(*arguments: str) -> str:
    done = run("measure", *arguments)
    assert (done.returncode, done.stdout) == (2, b"")
    return done.stderr.decode()


def roof(blur: tuple[tuple[str, float], ...] = SHARP) -> Reals:
    return scene(600, 400, [(240, 100, 5.0, blur)])


def test_an_edge_in_cycles_and_line_pairs(tmp_path: Path) -> None:
    picture = kept(tmp_path, roof())
    [plain] = [one for one in told("edge", picture)["edges"] if abs(one["angle_deg"]) > 2]
    assert plain["mtf50_cycles_per_pixel"] == pytest.approx(true_mtf50(5.0, SHARP), rel=0.05)
    assert plain["mtf50_lp_per_mm"] is None
    assert "blur_px" in plain
    [edge_] = told("edge", picture, "--region", "250,110,110,180", "--sensor", "36,24")["edges"]
    assert edge_["mtf50_lp_per_mm"] == pytest.approx(edge_["mtf50_cycles_per_pixel"] * 600 / 36)
    assert edge_["blur_mm"] is None
    rows = list(csv.DictReader(io.StringIO(run("measure", "edge", picture, "--csv").stdout.decode())))
    assert float(rows[0]["mtf50_cycles_per_pixel"]) == pytest.approx(plain["mtf50_cycles_per_pixel"])
    jpeg = run("measure", "edge", kept(tmp_path, roof(), "A.jpg"))
    assert "as the camera sharpened it" in jpeg.stdout.decode()


def test_a_cut_out_is_one_edge(tmp_path: Path) -> None:
    # As wide as the formulas ask: four times its rise, and what it leans.
    light = edge(5.0, (("gauss", 2.0),), columns=40)
    [found] = told("edge", kept(tmp_path, light))["edges"]
    assert found["mtf50_cycles_per_pixel"] == pytest.approx(true_mtf50(5.0, (("gauss", 2.0),)), rel=0.05)
    # Very soft, in a picture that is no larger than it has to be for that.
    soft = kept(tmp_path, scene(900, 600, [(385, 200, 5.0, (("gauss", 1.0), ("disc", 20.0)))]), "soft.png")
    [found] = [one for one in told("edge", soft)["edges"] if abs(one["angle_deg"]) > 2 and 400 < one["x"] < 500]
    wanted = true_mtf50(5.0, (("gauss", 1.0), ("disc", 20.0)))
    assert found["mtf50_cycles_per_pixel"] == pytest.approx(wanted, rel=0.05)


def test_a_circle_and_its_fall_off(tmp_path: Path) -> None:
    picture = kept(tmp_path, lit(720, 480, 690.0, 8.0))
    found = told("circle", picture, "--sensor", "36,24")
    assert abs(found["circle_mm"] - 690 * 36 / 720) <= found["doubt_mm"]
    assert set(found["falloff_stops"]) == {"half_height", "corner"}
    assert "circle_px" in told("circle", picture)


def test_a_ladder_is_sharpest_somewhere(tmp_path: Path) -> None:
    # Nine rungs; the fourth, at 90 of 240 mm, is the sharpest.
    rungs = [(60 + 190 * number, 60, 5.0, (("gauss", 1.0 + 0.35 * abs(number - 3)),)) for number in range(9)]
    picture = kept(tmp_path, scene(1800, 330, rungs))
    found = told("ladder", picture, "--from", "124.5,159.5", "--to", "1644.5,159.5")
    assert len(found["points"]) == 9
    assert found["peak"]["offset_mm"] == pytest.approx(-30.0, abs=6.0)
    assert found["peak"]["doubt_mm"] > 0
    assert "--from" in refused("ladder", picture, "--from", "1", "--to", "5,5")


def test_a_ring_by_its_blur(tmp_path: Path) -> None:
    pitch = 36.0 / 600
    stop, error_mm = 2.2, 0.9
    focus = kept(tmp_path, roof(), "focus.png")
    soft = kept(tmp_path, roof((*SHARP, ("disc", error_mm / stop / pitch))), "soft.png")
    sensor = ["--aperture", str(stop), "--distance", "inf", "--ring", "infinity_mark"]
    found = told("ring", soft, "--reference", focus, *RIG, *sensor)
    assert found["astigmatism_checked"] is False
    assert found["in_focus"] is False
    assert sorted(one["register_error_mm"] for one in found["errors"]) == pytest.approx(
        [-error_mm, error_mm], abs=2 * max(one["doubt_mm"] for one in found["errors"])
    )
    same = told("ring", focus, "--reference", focus, *RIG, *sensor)
    assert same["in_focus"] is True
    assert same["blur_mm"] == 0
    assert same["doubt_mm"] > 0


def test_what_is_wrong_is_named_with_its_place(tmp_path: Path) -> None:
    picture = kept(tmp_path, roof())
    assert "no such file" in refused("edge", str(tmp_path / "B.png"))
    assert "--mode goes with --body" in refused("edge", picture, "--mode", "full")
    assert "--region" in refused("edge", picture, "--region", "1,2,3")
    assert "which part of the sensor" in refused("edge", picture, "--sensor", "36,20")
    notes = tmp_path / "notes.txt"
    notes.write_text("no picture")
    assert "no raw file that is known" in refused("edge", str(notes))
    assert "--distance" in refused("ring", picture, *RIG, "--aperture", "4", "--distance", "far", "--ring", "far_stop")
    assert "farther from the middle" in refused(
        "ring",
        kept(tmp_path, scene(900, 600, [(20, 20, 5.0, SHARP)]), "corner.png"),
        *RIG,
        *("--aperture", "4", "--distance", "inf", "--ring", "far_stop"),
    )


def test_a_dark_frame_has_no_circle(tmp_path: Path) -> None:
    picture = kept(tmp_path, edge(5.0, SHARP, low=0.0, high=0.0))
    assert "not evenly lit" in refused("circle", picture)
    assert math.isfinite(told("circle", kept(tmp_path, lit(90, 60, 400.0, 2.0)))["at_least_px"])
