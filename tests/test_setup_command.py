"""`tropeion setup` and `tropeion code`, as their users run them."""

from __future__ import annotations

import json
import math
import re
from pathlib import Path
from typing import Any, cast
from xml.etree import ElementTree

import pytest

from tests.terminal import run
from tropeion.core.gear.world import World

G = 9.80665e-6


def setup(*more: str, lens: str = "kel-55", body: str = "o7") -> dict[str, Any]:
    done = run("setup", "sample", "--lens", lens, "--body", body, "--json", *more)
    assert done.returncode == 0, done.stderr.decode()
    return cast(dict[str, Any], json.loads(done.stdout))


# Lens 290 g, 22 mm before its seat at 22.40 + 25.83 mm; ring 95 g in its middle; body 640 g at −6 mm, screw at −4 mm.
def test_balance_against_a_sum_by_hand() -> None:
    balance = setup("--via", "kel-ost-plain")["balance"]
    moment = 290 * 70.23 + 95 * 35.315 - 640 * 6
    assert balance["mass_g"] == 1025
    assert balance["centre_of_mass_mm"] == pytest.approx(moment / 1025, abs=1e-6)
    assert balance["tipping_nm"] == pytest.approx(G * (moment + 1025 * 4), abs=1e-6)
    front, rear = balance["joints_nm"]
    assert (front["joint"], rear["joint"]) == ("kel-ost-plain", "o7")
    assert front["moment_nm"] == pytest.approx(G * 290 * 22, abs=1e-6)
    assert rear["moment_nm"] == pytest.approx(G * (290 * 47.83 + 95 * 12.915), abs=1e-6)


def test_the_best_chain_is_taken_unless_one_is_asked_for() -> None:
    assert setup()["adapters"] == ["kel-ost-plain"]
    assert setup("--via", "", body="stave-1")["adapters"] == []


# 28, 35, 50 and 80 mm through 0.71 ×, in whole millimetres.
def test_entries_of_a_zoom_behind_glass() -> None:
    found = setup("--via", "kel-plm-reducer", lens="kel-28-80", body="lark")
    assert [(one["focal_length_mm"], one["entry_mm"]) for one in found["entries"]] == [
        (28, 20),
        (35, 25),
        (50, 36),
        (80, 57),
    ]


def test_a_lens_that_names_itself_is_entered_nowhere() -> None:
    assert setup(lens="mrw-24-70")["entries"] == []


def test_stills_and_film_have_their_own_places() -> None:
    film, stills = (
        {step["text"] for step in setup("--use", use, "--via", "kel-ost-plain")["steps"]} for use in ("film", "stills")
    )
    assert film - stills == {"Turn the body to film.", "Set the stabiliser to film (Setup › Stabiliser › Film: film)."}
    assert stills - film == {"Set the stabiliser to still (Quick menu › Stabiliser: still)."}


def test_what_stops_a_rig_is_all_that_is_done_with_it() -> None:
    found = setup("--via", "", body="stave-3")
    assert found["grade"] == "danger"
    assert all(step["caution"] for step in found["steps"])


def test_accessories_weigh_hold_and_go_together_or_not() -> None:
    plain = setup(lens="kel-105", body="o7")
    footed = setup("--with", "foot-66,hood-52,plate-o7", lens="kel-105", body="o7")
    assert footed["balance"]["mass_g"] == plain["balance"]["mass_g"] + 150 + 25 + 70
    verdicts = {(one["a"], one["b"]): one["verdict"] for one in footed["pairs"]}
    assert {one["verdict"] for one in footed["pairs"]} <= {"works", "with_part", "fixed", "fails", "untried"}
    assert verdicts["foot-66", "plate-o7"] == "untried"
    # What somebody tried outranks what measures say; both are told with their source.
    tried = setup("--with", "plate-o7", "--via", "mrw-ost-active", lens="mrw-24-70")
    (pair,) = [one for one in tried["pairs"] if one["b"] == "mrw-ost-active"]
    assert (pair["verdict"], pair["by"], pair["source"]) == ("fails", "tried", "own")


def test_a_foot_that_does_not_fit_holds_nothing(sample: World) -> None:
    found = setup("--with", "foot-104", "--use", "film", lens="qlk-50", body="vigil")
    assert sample.lens("qlk-50").diameter_mm == 86
    assert found["balance"]["held_by"]["link"] != "foot-104"
    (pair,) = [one for one in found["pairs"] if one["b"] == "qlk-50"]
    assert (pair["verdict"], pair["by"]) == ("fails", "measures")
    assert "the barrel has 86 mm" in pair["says"]


def test_it_prints_for_people() -> None:
    out = run("setup", "sample", "--lens", "kel-55", "--body", "o7", "--with", "hood-52").stdout.decode()
    assert "Plain ring KLV–OST" in out
    assert "Power on." in out
    assert "at 55 mm enter 55 mm" in out
    assert "joint at Plain ring KLV–OST" in out
    assert "Hood 52 with Kelvane 55/2.2: works: thread 52 mm" in out


def code(*more: str) -> dict[str, Any]:
    done = run("code", "sample", "--mount", "lisken", "--json", *more)
    assert done.returncode == 0, done.stderr.decode()
    return cast(dict[str, Any], json.loads(done.stdout))


def test_a_code_is_found_read_and_drawn(tmp_path: Path) -> None:
    template = tmp_path / "template.svg"
    found = code("--lens", "kel-55", "--svg", str(template))
    assert [set(one) for one in found["nearest"]] == [{"code", "name", "distance", "wrong"}] * 3
    assert found["nearest"][0]["name"] == "Lisken 64/2.2"
    assert f"Lisken {found['nearest'][0]['code']}" in template.read_text(encoding="utf-8")
    read = code("--read", "1010011")
    assert read["code"] == "1010011"
    assert read["lenses"][0]["id"] == "lis-40"
    # The frame lines of a step ring leave two profiles.
    assert code("--lens", "tpr-36", "--via", "tpr-lsk-step")["among"] == 2


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["setup", "sample", "--lens", "kel-55", "--body", "o7", "--with", "foot-67"], "no accessory has the id"),
        (["setup", "sample", "--lens", "kel-55", "--body", "o7", "--held-by", "kel-55"], "--held-by"),
        (["setup", "sample", "--lens", "lis-28", "--body", "nave"], "nothing in the collection joins"),
        (["code", "sample", "--mount", "lisken"], "--lens says which lens"),
        (["code", "sample", "--mount", "lisken", "--read", "10100"], "--read: “10100”: Lisken has 7 fields"),
        (["code", "sample", "--mount", "ostrel", "--read", "1"], "Ostrel has no code"),
        (["code", "sample", "--mount", "liskin", "--lens", "kel-55"], "near it: lisken"),
    ],
)
def test_bad_input_is_refused_with_its_place(arguments: list[str], said: str) -> None:
    done = run(*arguments)
    assert done.returncode == 2
    assert said in done.stderr.decode()


def test_a_template_says_what_it_is_and_which_way_it_is_counted(tmp_path: Path) -> None:
    run("code", "sample", "--mount", "lisken", "--lens", "lis-40", "--svg", str(tmp_path / "t.svg"))
    drawn = ElementTree.parse(tmp_path / "t.svg").getroot()
    said = " ".join(one.text or "" for one in drawn.iter("{http://www.w3.org/2000/svg}text"))
    for text in (
        "Lisken 1010011",
        "7 fields of 2.4 × 3.2 mm",
        "groove of 50.4 mm",
        "first 118° clockwise from the mark",
    ):
        assert text in said
    # From the first field to the last, clockwise as one looks at the flange: 118° to 118 + 6 · 8.5 = 169°.
    way = next(one for one in drawn.iter("{http://www.w3.org/2000/svg}path") if one.get("id") == "way")
    x1, y1, *_, x2, y2 = (float(one) for one in re.findall(r"-?[0-9.]+", way.get("d") or ""))
    bar = next(one for one in drawn.iter("{http://www.w3.org/2000/svg}circle"))
    x, y = float(bar.get("cx") or 0), float(bar.get("cy") or 0)
    angles = [math.degrees(math.atan2(px - x, y - py)) for px, py in ((x1, y1), (x2, y2))]
    assert angles == [pytest.approx(118, abs=0.1), pytest.approx(169, abs=0.1)]


def test_a_second_support_and_short_menus_by_the_command() -> None:
    rig = ["--lens", "qlk-50", "--body", "vigil", "--via", "qlk-skn-lock", "--use", "film"]
    both = json.loads(run("setup", "sample", *rig, "--second-by", "vigil", "--json").stdout)
    assert [one["supported"] for one in both["balance"]["joints_nm"]] == [True, True]
    refused = run("setup", "sample", *rig, "--second-by", "rods-200")
    assert (refused.returncode, b"rods-200 has no foot and no screw" in refused.stderr) == (2, True)
    texts = [
        one["text"] for one in json.loads(run("setup", "sample", *rig, "--menu", "short", "--json").stdout)["steps"]
    ]
    assert "Set the stabiliser to locked on rods (full menus: Camera › Steady: locked on rods)." in texts
