"""The bench: worked cases, sums by hand, what is hidden and found again, what contradicts."""

from __future__ import annotations

import itertools
import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.bench.agreement import chi_square_p
from tropeion.core.bench.combined import together
from tropeion.core.bench.posterior import Prior
from tropeion.core.bench.readings import measured, wedge_of
from tropeion.core.bench.seen import Bench, Kind, Observation, Saw, implied
from tropeion.core.bench.shims import Foils, shim_for
from tropeion.core.optics.focus import object_distance_mm, travel
from tropeion.core.working import PLAIN, tidy

CASES = {
    case["name"]: case
    for case in json.loads((Path(__file__).parent / "vectors-2.json").read_text(encoding="utf-8"))["cases"]
}
SEEN = [name for name in CASES if name.startswith("seen")]
TOGETHER = [name for name in CASES if name.startswith("together")]
CIRCLE = 0.028844410203711916


def like(value: float | None) -> object:
    """The cases are written to six decimals."""
    return None if value is None else pytest.approx(value, abs=6e-7)


def bench_of(given_: dict[str, Any]) -> Bench:
    focal = given_["focal_length_mm"]
    own = travel(focal, given_.get("min_focus_m"), given_.get("max_magnification"), PLAIN)
    travel_mm = given_.get("focus_travel_mm", None if own is None else own.travel_mm)
    return Bench(
        focal_length_mm=focal,
        f_number=given_["f_number"],
        smallest_f_number=given_.get("smallest_f_number", 22),
        magnification=given_["magnification"],
        circle_mm=given_["circle_of_confusion_mm"],
        travel_mm=travel_mm,
        close_mm=focal if own is None else own.close_mm,
        past_infinity_mm=given_.get("past_infinity_mm", 0.0),
    )


@pytest.mark.parametrize("name", ["three readings of a ring", "one reading to a painted mark"])
def test_readings(name: str) -> None:
    asked, wanted = CASES[name]["given"], CASES[name]["expect"]
    found = measured(
        asked["readings_mm"],
        zero_mm=asked["zero_mm"],
        resolution_mm=asked["resolution_mm"],
        error_mm=asked["error_mm"],
        mark_mm=asked.get("mark_half_width_mm", 0.0),
        nominal_mm=asked.get("nominal_mm"),
        tolerance_mm=asked.get("tolerance_mm"),
    )
    for key, value in wanted.items():
        assert getattr(found, key) == like(value), key


def test_a_wedge() -> None:
    asked, wanted = CASES["a wedge of 0.06 over 62 mm"]["given"], CASES["a wedge of 0.06 over 62 mm"]["expect"]
    found = wedge_of(
        asked["spread_mm"],
        asked["seat_mm"],
        asked["width_mm"],
        asked["magnification_behind"],
        asked["magnification"],
        asked["circle_of_confusion_mm"],
    )
    for key, value in wanted.items():
        assert getattr(found, key) == like(value), key


@pytest.mark.parametrize("name", SEEN)
def test_what_is_seen(name: str) -> None:
    asked, wanted = CASES[name]["given"], CASES[name]["expect"]
    found = implied(bench_of(asked), Saw(asked["kind"], tuple(map(float, asked["values"]))))
    assert (found.form, found.a_mm, found.b_mm) == (wanted["form"], like(wanted["a_mm"]), like(wanted["b_mm"]))
    assert found.offset_mm == like(wanted.get("offset_mm", 0.0))


@pytest.mark.parametrize("name", TOGETHER)
def test_all_together(name: str) -> None:
    asked, wanted = CASES[name]["given"], CASES[name]["expect"]
    bench = bench_of(asked)
    prior = None if asked["prior"] == "flat" else Prior(*asked["prior"])
    seen = [implied(bench, Saw(kind, tuple(map(float, values)))) for kind, *values in asked["observations"]]
    found = together(bench, prior, seen)
    # On a grid of a thousandth.
    assert found.mean_mm == pytest.approx(wanted["mean_mm"], abs=1e-5)
    assert found.standard_uncertainty_mm == pytest.approx(wanted["standard_uncertainty_mm"], abs=1e-5)
    assert list(found.interval_mm) == pytest.approx(wanted["interval_mm"], abs=6e-7)
    assert found.agreement_p == pytest.approx(wanted["agreement_p"], abs=6e-7)
    assert found.most_at_odds_index == wanted["odds_index"]


# Readings


def test_one_reading_takes_the_resolution_for_its_repeatability_and_says_so() -> None:
    one = measured([25.80])
    assert one.assumed
    # 0.01² + 0.01²/12 + 0.02²/3
    assert one.standard_uncertainty_mm == pytest.approx(math.sqrt(1e-4 + 1e-4 / 12 + 4e-4 / 3))
    assert measured([25.80], repeatability_mm=0.05).standard_uncertainty_mm > one.standard_uncertainty_mm
    with pytest.raises(ValueError, match="at least one"):
        measured([])


@pytest.mark.parametrize(("nominal", "doubt"), [(25.80, False), (25.84, False), (25.85, True)])
def test_beyond_two_uncertainties_the_nominal_is_in_doubt(nominal: float, doubt: bool) -> None:
    assert measured([25.81, 25.80, 25.79], nominal_mm=nominal, tolerance_mm=0.03).in_doubt is doubt


def test_a_nominal_without_a_tolerance_has_the_usual_one() -> None:
    stated = measured([25.9], nominal_mm=25.8, tolerance_mm=0.05)
    assert measured([25.9], nominal_mm=25.8).nominal_score == stated.nominal_score


@given(st.lists(st.floats(20, 30), min_size=2, max_size=9), st.floats(-1, 1))
def test_a_zero_error_shifts_the_mean_and_nothing_else(values: list[float], zero: float) -> None:
    plain, shifted = measured(values), measured(values, zero_mm=zero)
    assert shifted.mean_mm == pytest.approx(plain.mean_mm - zero)
    assert shifted.standard_uncertainty_mm == plain.standard_uncertainty_mm
    # √3·u taken as rectangular gives u back.
    assert plain.measured_tolerance_mm / math.sqrt(3) == pytest.approx(plain.standard_uncertainty_mm)


# What is seen

PLAIN_55 = Bench(55, 2.2, 22, 1.0, CIRCLE, 6.9859159585920745, 55.0)


@pytest.mark.parametrize(
    ("saw", "said"),
    [
        (Saw("far_limit", (150.0,)), "too near to tell"),
        (Saw("near_limit", (200.0,)), "nearer than any thin lens"),
        (Saw("infinity_from", (5.6, 8.0)), "the next wider one"),
        (Saw("length", (0.1, 0.0)), "more than 0"),
        (Saw("scale", (2400.0,)), "missing, or too many"),
        (Saw("far_limit", ()), "missing, or too many"),
    ],
)
def test_what_cannot_be_seen_is_refused(saw: Saw, said: str) -> None:
    with pytest.raises(ValueError, match=said):
        implied(PLAIN_55, saw)


def test_what_depends_on_an_unknown_travel_says_so() -> None:
    unknown = Bench(55, 2.2, 22, 1.0, CIRCLE, None, 55.0)
    for saw in (Saw("near_limit", (520.0,)), Saw("nothing_anywhere")):
        with pytest.raises(ValueError, match="not known"):
            implied(unknown, saw)


@given(st.floats(-3.0, 3.0), st.sampled_from([0.71, 1.0, 1.4]), st.floats(0, 0.3))
def test_there_and_back(error: float, k: float, past: float) -> None:
    """An error makes a rig show something, and that implies the error again."""
    bench = Bench(55, 2.2, 22, k, CIRCLE, 7.0, 55.0, past)
    own = error / k**2
    shown: list[Saw] = []
    if own - past > 0.02:
        shown.append(Saw("far_limit", (object_distance_mm(55, own - past),)))
    if own > 0.02:
        shown.append(Saw("far_limit_mark", (object_distance_mm(55, own),)))
    if own < -0.02:
        shown.append(Saw("past_infinity", (object_distance_mm(55, -own),)))
    shown.append(Saw("near_limit", (object_distance_mm(55, 7.0 + own),)))
    x = 1.0
    if x + own > 0.05:
        shown.append(Saw("scale", (object_distance_mm(55, x + own), object_distance_mm(55, x))))
    for saw in shown:
        if saw.kind != "near_limit" and min(saw.values) < 4.1 * 55:
            continue
        assert implied(bench, saw).a_mm == pytest.approx(error, abs=1e-6), saw


# Together


def test_with_the_prior_alone_it_is_the_prior() -> None:
    found = together(PLAIN_55, Prior(0.1, 0.03), [])
    assert found.mean_mm == pytest.approx(0.1)
    assert found.standard_uncertainty_mm == pytest.approx(0.03, abs=1e-5)
    assert (found.agreement_p, found.most_at_odds) == (None, None)
    with pytest.raises(ValueError, match="nothing is known"):
        together(PLAIN_55, None, [])


def test_two_normals_are_their_weighted_mean() -> None:
    seen = [Observation("length", "normal", 0.2, 0.03), Observation("far_limit", "normal", 0.1, 0.04)]
    found = together(PLAIN_55, None, seen)
    weights = 1 / 0.03**2, 1 / 0.04**2
    assert found.mean_mm == pytest.approx((0.2 * weights[0] + 0.1 * weights[1]) / sum(weights), abs=1e-4)
    assert found.standard_uncertainty_mm == pytest.approx(sum(weights) ** -0.5, abs=1e-4)


def test_of_three_the_one_that_lies_is_named_and_of_two_both_stand() -> None:
    true = [Observation("length", "normal", 0.0, 0.02), Observation("scale", "normal", 0.01, 0.03)]
    liar = Observation("far_limit", "normal", 0.5, 0.05)
    found = together(PLAIN_55, None, [*true, liar])
    assert (found.most_at_odds, found.both_at_odds) == ("far_limit", False)
    pair = together(PLAIN_55, None, [true[0], liar])
    assert (pair.most_at_odds, pair.both_at_odds) == (None, True)
    assert together(PLAIN_55, None, true).most_at_odds is None
    # The nominal length may be what lies.
    assert together(PLAIN_55, Prior(1.0, 0.03), true).most_at_odds == "prior"


@pytest.mark.parametrize(("saw", "side"), [(Saw("nothing_at_any_stop"), 1), (Saw("infinity_from", (2.2,)), -1)])
def test_what_is_open_to_one_side_moves_to_it(saw: Saw, side: int) -> None:
    found = together(PLAIN_55, Prior(side * -0.2, 0.3), [implied(PLAIN_55, saw)])
    assert side * found.mean_mm > -0.2


@given(st.floats(0, 60), st.integers(1, 9))
def test_chi_square_against_a_sum_of_its_density(chi_square: float, freedom: int) -> None:
    """Integrated by the trapezium rule over the tail."""
    at = np.linspace(chi_square, chi_square + 160, 400_001)[1:]
    half = freedom / 2
    density = np.exp((half - 1) * np.log(at / 2) - at / 2 - math.lgamma(half)) / 2
    # Near nought the density of one degree has no bound: from the whole instead.
    if chi_square > 0.5:
        assert chi_square_p(chi_square, freedom) == pytest.approx(float(np.trapezoid(density, at)), abs=2e-4)
    assert 0 <= chi_square_p(chi_square, freedom) <= 1


def test_what_was_hidden_is_found_again() -> None:
    """Two thousand rigs with a known error, seen with noise as large as the stated doubt: the intervals hold it."""
    random = np.random.default_rng(20261126)
    held = contradicted = 0
    rounds = 2_000
    for _ in range(rounds):
        error = float(random.normal(0.0, 0.05))
        seen = []
        for kind, u in (("length", 0.03), ("far_limit", 0.05), ("scale", 0.08)):
            name: Kind = kind  # type: ignore[assignment]
            seen.append(Observation(name, "normal", error + float(random.normal(0, u)), u))
        found = together(PLAIN_55, Prior(0.0, 0.05), seen)
        held += found.interval_mm[0] <= error <= found.interval_mm[1]
        contradicted += found.most_at_odds is not None
    assert 0.93 <= held / rounds <= 0.97
    assert contradicted / rounds < 1 / 15


def test_a_planted_contradiction_is_named_in_nine_of_ten() -> None:
    random = np.random.default_rng(7)
    named = 0
    for _ in range(300):
        error = float(random.normal(0.0, 0.05))
        wrong = int(random.integers(0, 3))
        kinds: tuple[Kind, ...] = ("length", "far_limit", "scale")
        seen = [
            Observation(
                kind, "normal", error + float(random.normal(0, 0.04)) + (0.35 if number == wrong else 0.0), 0.04
            )
            for number, kind in enumerate(kinds)
        ]
        named += together(PLAIN_55, Prior(0.0, 0.05), seen).most_at_odds == kinds[wrong]
    assert named / 300 >= 0.9


def test_what_is_absurdly_far_takes_no_more_memory() -> None:
    found = together(PLAIN_55, None, [Observation("length", "normal", 90_000.0, 0.01)])
    assert found.mean_mm == pytest.approx(90_000.0, abs=1.0)
    # As fine as ever where a ring may err.
    near = together(PLAIN_55, None, [Observation("length", "normal", 14.0, 0.01)])
    assert near.standard_uncertainty_mm == pytest.approx(0.01, rel=1e-3)


# Shims


@pytest.mark.parametrize("name", [name for name in CASES if name.startswith("shims")])
def test_shims(name: str) -> None:
    asked, wanted = CASES[name]["given"], CASES[name]["expect"]
    foils = [Foils(thickness, count) for thickness, count in asked["foils"]]
    behind = asked.get("magnification_behind", 1.0)
    found = shim_for(asked["error_mm"], asked["margin_mm"], foils, behind**2)
    assert found.wanted_mm == like(wanted["wanted_mm"])
    assert (list(found.foils), found.sum_mm) == (wanted["foils"], like(wanted["sum_mm"]))


@given(
    st.floats(-0.6, 0.1),
    st.floats(0, 0.1),
    st.lists(
        st.tuples(st.sampled_from([0.02, 0.03, 0.05, 0.1, 0.2]), st.integers(0, 5)),
        max_size=4,
        unique_by=lambda f: f[0],
    ),
)
def test_no_choice_of_foils_comes_nearer(error: float, margin: float, kit: list[tuple[float, int]]) -> None:
    found = shim_for(error, margin, [Foils(*one) for one in kit])
    pieces = [thickness for thickness, count in kit for _ in range(count)]
    choices = {tuple(sorted(one)) for size in range(5) for one in itertools.combinations(pieces, size)}
    allowed = [one for one in choices if sum(one) <= -error + 1e-9]
    if found.wanted_mm > 0:
        # The nearest, of these the fewest, of these the thinnest.
        best = min((round(abs(sum(one) - found.wanted_mm), 6), len(one), one) for one in allowed)
        assert found.foils == best[2]
        assert error + found.sum_mm <= 1e-9
    else:
        assert found.foils == ()


def test_a_hundred_and_twenty_thicknesses_are_no_more_than_their_pairs() -> None:
    """Counted in looks at a sum: of four out of so many there are over nine million choices."""
    kit = [Foils(round(0.01 + 0.0037 * number, 4), 3) for number in range(120)]
    looks = 0

    def counted(value: float) -> float:
        nonlocal looks
        looks += 1
        return tidy(value)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("tropeion.core.bench.shims.tidy", counted)
        found = shim_for(-1.0, 0.02, kit)
    assert found.sum_mm == pytest.approx(0.98, abs=2e-4)
    assert looks < 1_000_000
