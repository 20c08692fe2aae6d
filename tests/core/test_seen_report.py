"""What is seen of a rig, as one answer: forwards and back, which piece, which ring, what to do, before and after."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body as a_body
from tests.worlds import gear_of, lens, mount, ring, world_of
from tropeion.core.bench.blame import blame, wrong_rings
from tropeion.core.bench.combined import Estimate
from tropeion.core.bench.forward import probability_of_infinity, shown
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.bench.seen import KINDS, Bench, Saw, implied
from tropeion.core.bench.seen_report import SeenAsked, SeenReport, seen_report
from tropeion.core.bench.shims import Foils
from tropeion.core.bench.sights import SIGHTS, told
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice

FOILS = (Foils(0.02, 5, 0.002), Foils(0.05, 3, 0.003))
BENCH = Bench(50, 2.0, 16, 1.0, 0.03, 6.0, 50.0)


def said(world: World, *saw: Saw, **more: object) -> SeenReport:
    asked = replace(SeenAsked(tuple(saw), foils=FOILS), **more)  # type: ignore[arg-type]
    return seen_report(world, Rig.of("lens", "body", ["ring"]), Practice(), asked)


def length(error: float, u: float = 0.01) -> Saw:
    return Saw("length", (error, u))


# Forwards


@given(st.floats(-0.9, 0.9), st.sampled_from([0.7, 1.0, 1.4]), st.floats(0, 0.2))
def test_what_a_rig_shows_implies_its_error_again(error: float, k: float, past: float) -> None:
    bench = replace(BENCH, magnification=k, past_infinity_mm=past)
    found = shown(bench, error, 0.01)
    told = []
    if found.far_m is not None and found.far_m > 0.3:
        told.append(implied(bench, Saw("far_limit", (found.far_m * 1000,))))
    if found.past_at_m is not None and found.past_at_m > 0.3:
        told.append(implied(bench, Saw("past_infinity", (found.past_at_m * 1000,))))
    if found.near_m is not None and found.near_m > 0.205:
        told.append(implied(bench, Saw("near_limit", (found.near_m * 1000,))))
    # A length is told to a millionth, on either side of the glass.
    for one in told:
        assert one.a_mm == pytest.approx(error, abs=4e-6), one.kind
    # Either it reaches infinity, or there is something farthest that is sharp.
    beyond = error - k**2 * past
    if abs(beyond) > 1e-5:
        assert (found.far_m is None) == (beyond < 0)


def test_a_tenth_too_long_is_sharp_from_the_stop_whose_window_holds_it() -> None:
    # 0.1 mm over 0.03 mm: f/3.3.
    assert shown(BENCH, 0.1, 0.01).sharp_from_f_number == pytest.approx(0.1 / 0.03)
    assert shown(BENCH, -0.1, 0.01).sharp_from_f_number == 2.0
    assert shown(BENCH, 0.6, 0.01).sharp_from_f_number is None


def test_a_lens_that_nothing_moves_and_that_stands_too_near_wants_stopping_down_too() -> None:
    # 0.1 mm over 0.03 mm either way, since nothing brings it out.
    stuck = replace(BENCH, travel_mm=0.0)
    assert shown(stuck, -0.1, 0.01).sharp_from_f_number == pytest.approx(0.1 / 0.03)
    # An open helicoid brings it out by a tenth.
    assert shown(replace(stuck, helicoid_mm=0.1), -0.1, 0.01).sharp_from_f_number == 2.0


@given(st.floats(-0.3, 0.3), st.floats(0.005, 0.2), st.sampled_from([2.0, 4.0, 8.0]))
def test_probability_against_a_sum_of_the_density(error: float, u: float, stop: float) -> None:
    at = np.linspace(error - 9 * u, error + 9 * u, 20_001)
    density = np.exp(-(((at - error) / u) ** 2) / 2) / (u * math.sqrt(2 * math.pi))
    inside = (at <= stop * 0.03) & (at >= -stop * 0.03 - 6.0)
    assert probability_of_infinity(BENCH, error, u, stop) == pytest.approx(
        float(np.trapezoid(density * inside, at)), abs=2e-3
    )


def test_from_the_front_of_the_lens_is_nearer_by_how_far_it_stands_before_the_sensor() -> None:
    # The seat stands 45 mm before the sensor, and the lens is 60 mm long.
    bench = rig_on_bench(world_of([ring()], the_lens=lens(length_mm=60.0)), Rig.of("lens", "body", ["ring"])).bench
    front, mark = Saw("far_limit", (2000.0,), 50.0, from_front=True), Saw("far_limit", (2105.0,), 50.0)
    assert implied(bench, front) == implied(bench, mark)
    # What is read off the ring is no taped distance.
    ring_at = Saw("past_infinity", (9000.0,), from_front=True)
    assert implied(bench, ring_at) == implied(bench, Saw("past_infinity", (9000.0,)))
    unknown = rig_on_bench(world_of([ring()]), Rig.of("lens", "body", ["ring"])).bench
    with pytest.raises(ValueError, match="measure from the film-plane mark"):
        implied(unknown, front)


def test_an_unknown_travel_leaves_the_nearest_unknown() -> None:
    found = shown(replace(BENCH, travel_mm=None), 0.1, 0.01)
    assert found.near_m is None
    assert found.far_m is not None


# Which piece


def test_each_piece_takes_its_share_of_the_variance_and_all_of_them_the_error() -> None:
    world = world_of([ring(tolerance_mm=0.06)], seat_tolerance_mm=0.03)
    found = said(world, length(0.09, 0.005))
    shares = {one.piece: one.share for one in found.blame}
    # 0.06² to twice 0.03²: two thirds, and a sixth each.
    assert shares == {"ring": pytest.approx(2 / 3), "lens": pytest.approx(1 / 6), "body": pytest.approx(1 / 6)}
    assert found.blame[0].piece == "ring"
    assert found.together is not None
    assert math.fsum(one.error_mm for one in found.blame) == pytest.approx(found.together.mean_mm)


def test_behind_a_reducer_the_seat_of_the_lens_counts_less() -> None:
    glass = ring(tolerance_mm=0.0, optics="reducer", magnification=0.7, register_in_mm=45.0, register_out_mm=20.0)
    world = world_of([glass], seat_tolerance_mm=0.03)
    rig = rig_on_bench(world, Rig.of("lens", "body", ["ring"]))
    found = {one.piece: one for one in blame(rig.rig, Estimate(0.1, 0.01, (0.08, 0.12), None))}
    # Its error counts 0.49 times at the sensor, so its share is 0.49² to 1.
    assert found["lens"].share == pytest.approx(0.49**2 / (1 + 0.49**2))
    assert found["lens"].error_mm * 0.49 + found["body"].error_mm == pytest.approx(0.1)


def test_of_a_nameless_ring_nobody_says_which_piece() -> None:
    world = world_of([ring(tolerance_mm=0.06)], seat_tolerance_mm=0.03)
    assert said(world, length(0.09), nameless=True).blame == ()


def test_without_any_tolerance_there_is_none_to_blame() -> None:
    assert said(world_of([ring()]), length(0.09)).blame == ()


# The wrong ring


def two_systems() -> World:
    """Two systems on one thread, 14 mm apart, and a ring for the first."""
    thread = {"diameter_mm": 46.0, "pitch_mm": 1.1}
    document = {
        "mounts": [
            mount("front", 45.0, thread=thread, interface="thread", coupling="screw"),
            mount("other", 31.0, thread=thread, interface="thread", coupling="screw", name="Other head"),
            mount("rear", 20.0, interface="bayonet"),
        ],
        "bodies": [a_body()],
        "lenses": [lens(), lens(id="short", name="Short", mount="other")],
        "adapters": [ring(tolerance_mm=0.05)],
    }
    return compile_world(gear_of(document))


def test_fourteen_millimetres_are_the_ring_for_the_other_system() -> None:
    world = two_systems()
    found = seen_report(world, Rig.of("short", "body", ["ring"]), Practice(), SeenAsked((Saw("far_limit", (250.0,)),)))
    # The ring of 25 mm stands a lens that wants 31 mm at 45: 14 too long, as stated already.
    assert found.nominal.mean_mm == pytest.approx(14.0)
    # Whatever is stated of it.
    for nameless in (True, False):
        wrong = said(world, length(-14.0, 0.05), nameless=nameless)
        assert [one.mount for one in wrong.wrong_rings] == ["other"]
    assert wrong.says.startswith("14.0 mm too short: this is the ring for lenses with Other head")
    assert "same thread" in wrong.says


def test_a_small_error_is_no_wrong_ring() -> None:
    world = two_systems()
    rig = rig_on_bench(world, Rig.of("lens", "body", ["ring"])).rig
    assert wrong_rings(world, rig, Estimate(-0.1, 0.02, (-0.14, -0.06), None)) == ()
    assert wrong_rings(world, rig, Estimate(-12.0, 0.02, (-12.1, -11.9), None)) == ()


# What to do


def test_too_short_is_shimmed_and_shown_before_and_after() -> None:
    world = world_of([ring(tolerance_mm=0.2)], seat_tolerance_mm=0.01)
    found = said(world, length(-0.2))
    assert found.mend is not None
    assert found.mend.kind == "shim"
    assert found.mend.shim is not None
    assert found.together is not None
    wanted = -found.together.mean_mm - 2 * found.together.standard_uncertainty_mm
    assert found.mend.shim.wanted_mm == pytest.approx(wanted, abs=1e-6)
    assert "ring" in found.mend.where.lower()
    assert any("crosswise" in one for one in found.mend.order)
    assert any("qualified repairer" in one for one in found.mend.cautions)
    assert found.before is not None
    assert found.after is not None
    assert found.after.error_mm == pytest.approx(found.before.error_mm + found.mend.shim.sum_mm)
    # Less past infinity, so the ring stands nearer to its mark, which is farther away.
    assert found.before.past_at_m is not None
    assert found.after.past_at_m is None or found.after.past_at_m > found.before.past_at_m
    foils = math.sqrt(sum({0.02: 0.002, 0.05: 0.003}[one] ** 2 for one in found.mend.shim.foils) / 3)
    assert found.after_uncertainty_mm == pytest.approx(math.hypot(found.together.standard_uncertainty_mm, foils))


def test_right_at_infinity_asks_for_more_foil_than_a_little_past_it() -> None:
    world = world_of([ring(tolerance_mm=0.2)], seat_tolerance_mm=0.01)
    past, right = said(world, length(-0.2)), said(world, length(-0.2), past_infinity=False)
    assert past.mend is not None
    assert right.mend is not None
    assert past.mend.shim is not None
    assert right.mend.shim is not None
    assert right.mend.shim.wanted_mm > past.mend.shim.wanted_mm


def test_too_long_wants_another_ring_or_a_repairer() -> None:
    found = said(world_of([ring(tolerance_mm=0.2)], seat_tolerance_mm=0.01), length(0.2))
    assert found.mend is not None
    assert (found.mend.kind, found.mend.shim) == ("another_ring", None)
    assert found.together is not None
    off = found.together.mean_mm + 2 * found.together.standard_uncertainty_mm
    assert found.mend.off_mm == pytest.approx(off)
    assert any("cannot be taken back" in one and "never by hand" in one for one in found.mend.cautions)
    assert "infinity is lost" in found.says


def test_a_lens_that_turns_past_infinity_makes_a_long_ring_good() -> None:
    world = world_of([ring(tolerance_mm=0.2)], the_lens=lens(past_infinity_mm=0.5))
    found = said(world, length(0.2))
    assert "the lens makes good" in found.says
    assert found.mend is not None
    assert found.mend.kind == "nothing"


def test_a_foil_whose_tolerance_nobody_stated_is_not_perfect() -> None:
    world = world_of([ring(tolerance_mm=0.2)])
    unstated, stated, perfect = (
        said(world, length(-0.2), foils=(Foils(0.05, 4, *more),)).after_uncertainty_mm
        for more in ((), (0.005,), (0.0,))
    )
    assert unstated == stated
    assert stated is not None
    assert perfect is not None
    assert stated > perfect


def test_without_foils_it_says_what_is_wanted() -> None:
    found = said(world_of([ring(tolerance_mm=0.2)]), length(-0.2), foils=())
    assert found.mend is not None
    assert found.mend.shim is not None
    assert (found.mend.shim.foils, found.after) == ((), None)


# Words


def test_contradictions_are_told_with_both_answers() -> None:
    world = world_of([ring(tolerance_mm=0.03)], seat_tolerance_mm=0.01)
    found = said(world, length(0.0), Saw("past_infinity", (4000.0,)))
    assert found.together is not None
    assert (found.together.most_at_odds, found.most_at_odds) == ("past_infinity", 1)
    assert "far things are sharp with the ring at 4 m" in found.more
    assert found.together.without is not None
    assert abs(found.together.without.mean_mm) < abs(found.together.mean_mm)
    two = said(world, length(0.0), Saw("past_infinity", (4000.0,)), nameless=True)
    assert "of two nobody can say which" in two.more


def test_nothing_seen_of_a_nameless_ring_is_nothing_known() -> None:
    found = said(world_of([ring()]), nameless=True)
    assert (found.together, found.mend, found.before) == (None, None, None)
    assert "say what you see" in found.says


def test_what_no_rig_shows_is_said_at_its_place_and_leaves_the_rest() -> None:
    found = said(world_of([ring(tolerance_mm=0.05)]), Saw("far_limit", (100.0,)), length(0.05))
    wrong, right = found.observations
    assert "too near to tell" in wrong.wrong
    assert (right.wrong, right.mean_mm) == ("", 0.05)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_has_words_a_way_to_look_and_its_values(kind: str) -> None:
    sight = next(one for one in SIGHTS.values() if one.kind == kind)
    assert sight.look.endswith((".", "?"))
    values = {"distance": 2500.0, "f_number": 8.0, "length": 0.04}
    saw = Saw(sight.kind, tuple(values[one.what] for one in sight.values))
    assert told(saw) not in {"", sight.label}
    assert "2500" not in told(saw)
    if sight.values and not sight.values[0].optional:
        assert told(Saw(sight.kind)) == sight.label
