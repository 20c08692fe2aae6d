"""`tropeion bench`, as its users run it."""

from __future__ import annotations

import json
import math
from typing import Any, cast

import pytest

from tests.terminal import run

RIG = ["sample", "--lens", "kel-55", "--body", "o7", "--via", "kel-ost-plain"]


def bench(*arguments: str) -> dict[str, Any]:
    done = run("bench", *arguments, "--json")
    assert done.returncode == 0, done.stderr.decode()
    return cast(dict[str, Any], json.loads(done.stdout))


def refused(*arguments: str) -> str:
    done = run("bench", *arguments)
    assert (done.returncode, done.stdout) == (2, b"")
    return done.stderr.decode()


def test_readings_have_the_usual_caliper_unless_it_is_said() -> None:
    values = ["readings", "--values", "25.81,25.83,25.80"]
    plain = bench(*values)
    assert plain["mean_mm"] == pytest.approx(25.81 + 0.01 / 3)
    assert plain["nominal_score"] is None
    # s² = 0.000233 over three; 0.01²/12; 0.02²/3.
    u = math.sqrt(0.0002333333 / 3 + 0.01**2 / 12 + 0.02**2 / 3)
    assert plain["standard_uncertainty_mm"] == pytest.approx(u, abs=1e-6)
    assert bench(*values, "--error", "0.03")["standard_uncertainty_mm"] > u
    scored = bench(*values, "--nominal", "25.8", "--tolerance", "0.03")
    assert scored["nominal_score"] == pytest.approx(
        (plain["mean_mm"] - 25.8) / math.hypot(u, 0.03 / math.sqrt(3)), abs=1e-6
    )


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["readings", "--values", "25.8,long"], "--values: “long” is no number"),
        (["readings", "--values", ","], "--values: at least one reading"),
        (["readings", "--values", "25.8", "--error", "-1"], "--error: 0 or more"),
        (["seen", *RIG, "--saw", "far_limmit=2"], "near it: far_limit"),
        (["seen", *RIG, "--saw", "far_limit=0.1"], "too near to tell: from 0.22 m on"),
        (["seen", *RIG, "--saw", "length=0.04"], "with its standard uncertainty"),
        (["seen", *RIG, "--saw", "infinity_from=5.6:8"], "the next wider one"),
        (["seen", *RIG, "--prior", "flat"], "nothing is known and nothing was seen"),
        (["seen", *RIG, "--saw", "length=0±0.1", "--foils", "0.1x1.5"], "a thickness and a count"),
        (["seen", "sample", "--lens", "kel-555", "--body", "o7"], "near it: kel-55"),
        (["mountless", "sample", "--lens", "head-75", "--body", "o7"], "was not measured: find it first"),
        (["mountless", "sample", "--lens", "barrel-99", "--body", "o7"], "near it: barrel-90"),
        (["thread", "sample", "--outer", "-3", "--crests", "11/10"], "each more than 0"),
        (["thread", "sample", "--outer", "46", "--crests", "ten"], "--crests: “ten” is no number"),
    ],
)
def test_bad_values_are_refused_with_their_place(arguments: list[str], said: str) -> None:
    assert said in refused(*arguments)


def test_what_is_seen_of_a_ring_that_is_too_short_wants_a_shim() -> None:
    found = bench("seen", *RIG, "--saw", "length=-0.17+-0.01", "--prior", "flat", "--foils", "0.02x5,0.05x2,0.1x2")
    assert found["mean_mm"] == pytest.approx(-0.17, abs=1e-4)
    # Less twice the doubt: 0.15 mm.
    assert found["shim"]["wanted_mm"] == pytest.approx(0.15, abs=1e-3)
    assert found["shim"]["foils"] == [0.05, 0.1]
    assert found["observations"] == [{"kind": "length", "mean_mm": -0.17, "standard_uncertainty_mm": 0.01}]
    assert (found["agreement_p"], found["most_at_odds"]) == (None, None)
    # A ring that is too long has nothing to add.
    assert bench("seen", *RIG, "--saw", "length=0.2±0.01", "--prior", "flat")["shim"]["foils"] == []


def test_a_caliper_against_what_is_seen() -> None:
    found = bench("seen", *RIG, "--saw", "length=-0.4±0.05", "--saw", "far_limit=2.0", "--saw", "scale=2.4:3.0")
    assert found["agreement_p"] < 0.05
    assert found["most_at_odds"] in {"length", "far_limit"}
    assert found["next_best"] is not None
    low, high = found["interval_mm"]
    assert low < found["mean_mm"] < high


def test_what_is_open_to_one_side_has_no_middle() -> None:
    found = bench("seen", *RIG, "--saw", "nothing_at_any_stop", "--prior", "flat")
    assert found["observations"] == [{"kind": "nothing_at_any_stop", "mean_mm": None, "standard_uncertainty_mm": None}]
    # Beyond f/22 · 0.0288 mm = 0.63 mm.
    assert found["mean_mm"] > 0.63


def test_a_barrel_comes_into_focus_through_a_helicoid() -> None:
    found = bench("mountless", "sample", "--lens", "barrel-90", "--body", "o7", "--near-m", "2")
    # Its shoulder is sharp 71.4 mm before the sensor, the seat at 22.4.
    assert found["fill_mm"] == pytest.approx(49.0)
    best = found["builds"][0]
    assert (best["pieces"], best["closed_mm"], best["open_mm"]) == (["tub-ost-close"], 30.0, 55.0)
    # 49 − 0.3 − 30 of spacers, so that infinity lies at its closed stop; opened by 25 it stands 24.7 mm beyond:
    # D = 2 · 90 + 90²/24.7 + 24.7.
    assert best["rest_mm"] == pytest.approx(18.7)
    assert best["near_m"] == pytest.approx((180 + 8100 / 24.7 + 24.7) / 1000)
    assert (best["far_m"], best["grade"]) == (None, "manual")
    assert "clearance_unknown" in best["findings"]
    assert best["magnification"] == pytest.approx(24.7 / 90)
    # A barrel of 42.4 mm with 0.1 of clearance into a thread of 53.
    assert best["sleeve"] == {"into": "tube-53", "bore_mm": pytest.approx(42.5), "wall_mm": pytest.approx(5.25)}
    nearer = bench("mountless", "sample", "--lens", "barrel-90", "--body", "o7", "--near-m", "0.3")["builds"]
    assert all(not one["near_met"] or one["near_m"] <= 0.3 for one in nearer)


def test_more_margin_than_there_is_room_leaves_nothing() -> None:
    assert bench("mountless", "sample", "--lens", "barrel-90", "--body", "o7", "--margin", "60")["builds"] == []


def test_a_thread_is_told_by_diameter_and_pitch() -> None:
    found = bench("thread", "sample", "--outer", "45.86", "--crests", "11.0/10")
    assert found["pitch_mm"] == pytest.approx(1.1)
    first, second, *others = found["candidates"]
    # Two systems share the thread; 45.86 is 0.02 mm from 46 − 0.16.
    assert {first["mount"], second["mount"]} == {"tolmer", "tolmer-pr"}
    assert first["score"] == pytest.approx(math.exp(-((0.02 / 0.08) ** 2) / 2))
    assert first["turns"] is None
    assert all(one["score"] < 1e-6 for one in others)
    # 53 × 1.0 against 1.1: 0.12/0.1.
    assert next(one["turns"] for one in others if one["mount"] == "tube-53") == pytest.approx(1.2)


def test_the_fine_thread_is_told_from_the_coarse_one() -> None:
    coarse = bench("thread", "sample", "--outer", "52.84", "--crests", "10.0/10")["candidates"][0]
    fine = bench("thread", "sample", "--outer", "52.84", "--crests", "7.0/10")["candidates"][0]
    assert (coarse["mount"], fine["mount"]) == ("tube-53", "tube-53-fine")
    # A bore: 53 − 1.0825 · 1.0 + 0.10.
    female = bench("thread", "sample", "--bore", "52.02", "--crests", "10.0/10")["candidates"][0]
    assert (female["mount"], female["score"]) == ("tube-53", pytest.approx(1.0, abs=1e-3))
