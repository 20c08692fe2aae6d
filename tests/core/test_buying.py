"""Beside a plan: the shop's list, native or adapted, variants of a ring, rings and filters; a kept plan's standing."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.findings import rank
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.world import World, compile_world
from tropeion.core.plan.filter_plan import Light, best_size, clear_angle_deg, filter_plan, stops_report
from tropeion.core.plan.native import adapt_or_native, options_for
from tropeion.core.plan.planning import plan_of
from tropeion.core.plan.shopping import shop_lines
from tropeion.core.plan.standing import kept_of, standing_of
from tropeion.core.plan.variants import variants_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion

PRACTICE = Practice()


def world(**more: Any) -> World:
    document = {
        "mounts": [
            mount("front", 45.0, interface="front", aliases=["FRT"]),
            mount("rear", 20.0, interface="rear"),
            mount("twin", 30.0, interface="front"),
        ],
        "bodies": [body(owned=1)],
        "lenses": [lens(owned=1, filter_thread_mm=52.0, character=["soft"], min_focus_m=0.5)],
        "adapters": [],
        **more,
    }
    return compile_world(gear_of(document))


QUESTION = PlanQuestion(demands=(Demand(lens="lens", bodies=("body",)),))


# The shop's list


def test_the_list_names_both_ends_what_to_refuse_and_why() -> None:
    made = world(
        adapters=[
            ring("good", price=20, aliases=["Good one"], length_mm=24.99),
            ring("long", price=9, length_mm=25.6, name="Good, long"),
        ]
    )
    (line,) = shop_lines(made, plan_of(made, QUESTION, PRACTICE), QUESTION, PRACTICE)
    assert (line.lens_end, line.camera_end, line.also_called) == ("Front (FRT)", "Rear", ("Good one",))
    refused = {one.name: one.why for one in line.refuse}
    assert set(refused) == {"Good, long", "Twin"}
    assert "15.00 mm" in refused["Twin"]
    assert "infinity" in refused["Good, long"].casefold()
    assert line.doubts == ("Nobody said from when the price is.",)


def test_mixed_reports_and_an_unstated_tolerance_are_doubts() -> None:
    said = [{"claim": "reaches infinity", "verdict": v, "source": "review"} for v in ("confirmed", "contradicted")]
    made = world(adapters=[ring(price=20, price_on="2026-01-02", evidence=said, tolerance_mm=None, length_mm=24.9)])
    (line,) = shop_lines(made, plan_of(made, QUESTION, PRACTICE), QUESTION, PRACTICE)
    assert line.doubts[0] == "Mixed reports: 1 for, 1 against."
    assert "tolerance is not stated" in line.doubts[1]


# Adapt or native


def test_every_way_to_have_the_lens_on_the_body_with_what_it_costs_and_loses() -> None:
    native = lens(
        id="own", name="Own", mount="rear", f_number=[4, 16], price=300, price_used=180, price_on="2026-02-01"
    )
    far = lens(id="far", name="Far", mount="rear", focal_length_mm=[135, 135], price=90)
    made = world(adapters=[ring(price=20, length_mm=24.99)], lenses=[*_lenses(), native, far])
    told = options_for(made, "lens", "body", PRACTICE).options
    assert [(one.kind, one.price) for one in told] == [("adapter", 20), ("native_used", 180), ("native_new", 300)]
    # Two stops between f/2 and f/4; the character is its own.
    assert told[1].loses == ("2.0 stops slower", "its character: soft")
    assert told[0].loses


def test_what_is_at_hand_and_a_lens_on_its_own_mount_cost_nothing() -> None:
    made = world(adapters=[ring(owned=1, length_mm=24.99)])
    assert [(one.kind, one.price) for one in options_for(made, "lens", "body", PRACTICE).options] == [("adapter", 0)]
    bare = world(lenses=[lens(mount="rear", owned=1)])
    assert [one.kind for one in options_for(bare, "lens", "body", PRACTICE).options] == ["none_needed"]


def test_a_price_that_is_not_known_stands_last_and_is_not_nothing() -> None:
    made = world(adapters=[ring(length_mm=24.99)], lenses=[*_lenses(), lens(id="own", name="Own", mount="rear")])
    assert [one.price for one in options_for(made, "lens", "body", PRACTICE).options] == [None, None]


def _lenses() -> list[dict[str, Any]]:
    return [lens(owned=1, filter_thread_mm=52.0, character=["soft"], min_focus_m=0.5)]


# Variants of one ring


def test_variants_are_told_against_the_simplest() -> None:
    slot = {"kind": "variable", "glass_mm": 0.0, "range_stops": [1, 6]}
    made = world(
        adapters=[
            ring("plain", price=20, length_mm=24.99),
            ring("lock", price=50, length_mm=24.99, locking=True),
            ring("grey", price=120, length_mm=24.99, filter_slot=slot, tripod_foot=True),
            ring("closed", price=5, length_mm=24.99, retired=True),
            ring("long", price=4, length_mm=35.0),
        ]
    )
    told = variants_of(made, "lens", "body", PRACTICE).variants
    by_id = {one.id: one for one in told}
    assert told[0].id in {"plain", "long"}
    assert "closed" not in by_id
    assert by_id["lock"].adds == ("a lock",)
    assert "a variable filter, 1 to 6 stops, never clear" in by_id["grey"].adds
    assert by_id["lock"].more == by_id["lock"].price - told[0].price  # type: ignore[operator]


# Rings and filters


def step(id_: str, thread: float, size: float, **more: Any) -> dict[str, Any]:
    more = {"length_mm": 4.0, **more}
    return {"id": id_, "name": id_, "kind": "step ring", "rear_thread_mm": thread, "front_thread_mm": size, **more}


def grey(id_: str, stops: float, size: float = 67.0, **more: Any) -> dict[str, Any]:
    threads = {"rear_thread_mm": size, "front_thread_mm": size}
    return {"id": id_, "name": id_, "kind": "filter", "loss_stops": stops, "length_mm": 5.0, **threads, **more}


def test_the_cheapest_row_of_rings_is_taken_and_owned_ones_cost_nothing() -> None:
    rings = [step("direct", 52, 67, price=20), step("a", 52, 58, owned=1), step("b", 58, 67, price=7)]
    made = world(accessories=[*rings, grey("g", 3)])
    plan = filter_plan(made, made.gear.lenses, 67.0, 43.27)
    (one,) = plan.lenses
    assert (one.rings, plan.buy, plan.cost) == (("a", "b"), {"b": 1}, 7)
    assert one.depth_mm == 8
    assert best_size(made, made.gear.lenses, 43.27) == 67.0


def test_a_lens_whose_thread_is_larger_or_that_no_ring_reaches_says_so() -> None:
    made = world(accessories=[step("small", 40, 46)])
    assert "cut" in filter_plan(made, made.gear.lenses, 46.0, 43.27).lenses[0].said
    lacking = filter_plan(made, made.gear.lenses, 67.0, 43.27).lenses[0]
    assert lacking.depth_mm is None
    assert "52 to 67 mm" in lacking.said


def test_a_wide_lens_sees_a_deep_stack_and_a_long_one_does_not() -> None:
    accessories = [step("s", 52, 67, price=8), grey("g", 3)]
    wide = world(accessories=accessories, lenses=[lens(focal_length_mm=[14, 14], filter_thread_mm=52.0)])
    long = world(accessories=accessories, lenses=[lens(focal_length_mm=[135, 135], filter_thread_mm=52.0)])
    # (67 − 52)/2 to the side over 4 + 5 mm: 2·atan(7.5/9) = 79.6°.
    assert clear_angle_deg(52, 67, 9) == pytest.approx(79.61, abs=0.01)
    # 2·atan(21.635/14) and 2·atan(21.635/135), corner to corner.
    for made, sees, view_deg in ((wide, True, 114.2), (long, False, 18.2)):
        one = filter_plan(made, made.gear.lenses, 67.0, 43.27).lenses[0]
        assert one.sees_it is sees
        assert one.view_deg == pytest.approx(view_deg, abs=0.05)
        assert one.clear_to_deg == pytest.approx(79.61, abs=0.01)


def test_a_depth_that_nobody_stated_is_not_taken_for_nothing() -> None:
    made = world(accessories=[step("s", 52, 67, price=8, length_mm=None), grey("g", 3)])
    one = filter_plan(made, made.gear.lenses, 67.0, 43.27).lenses[0]
    assert (one.depth_mm, one.sees_it) == (None, None)
    assert "not stated" in one.said


@given(thread=st.floats(30, 80), wider=st.floats(0, 30), depth=st.floats(0.5, 40), deeper=st.floats(0, 20))
def test_deeper_stacks_and_smaller_filters_are_seen_sooner(
    thread: float, wider: float, depth: float, deeper: float
) -> None:
    angle = clear_angle_deg(thread, thread + wider, depth)
    assert clear_angle_deg(thread, thread + wider, depth + deeper) <= angle + 1e-9
    assert clear_angle_deg(thread, thread + wider + 5, depth) >= angle - 1e-9
    # The ray of that angle ends at the edge of the filter.
    assert thread / 2 + depth * math.tan(math.radians(angle / 2)) == pytest.approx((thread + wider) / 2)


def test_the_stops_that_a_light_asks_for() -> None:
    # Sun is 1/100 s at f/16 and ISO 100, near enough: EV 14.64.
    light = Light(dim_ev=5, bright_ev=math.log2(16**2 * 100), shutter_s=1 / 50, f_number=2.8)
    # From f/16 to f/2.8 five stops and a little, from 1/100 to 1/50 one more.
    assert light.stops(light.bright_ev) == pytest.approx(2 * math.log2(16 / 2.8) + 1)
    assert light.stops(light.dim_ev) < 0


def test_fixed_filters_leave_steps_and_a_variable_one_a_hole() -> None:
    variable = {
        **grey("v", 0, price=80),
        "loss_stops": None,
        "range_stops": [2, 8],
        "cross_from_deg": 70,
        "kind": "variable filter",
    }
    made = world(accessories=[grey("three", 3, owned=1), grey("six", 6, price=40), variable])
    light = Light(dim_ev=0, bright_ev=math.log2(2.8**2 * 50) + 6, shutter_s=1 / 50, f_number=2.8)
    told = {one.ids: one for one in stops_report(made, light, 84.0).sets}
    # Nothing to six stops are asked for: with three and six the nearest is 1.5 away at worst; with three alone, 3.
    assert told[("three", "six")].within_stops == pytest.approx(1.5)
    assert told[("three",)].within_stops == pytest.approx(3.0)
    assert (told[("three",)].price, told[("six",)].price) == (0, 40)
    assert (told[("three", "six")].most, told[("six",)].most) == (9, 6)
    # Between none and its two stops the variable one has nothing: half of them at worst.
    assert told[("v",)].within_stops == pytest.approx(1.0)
    # Asked for one stop and a half to six, it lacks half a stop at the least: it comes off, or takes two.
    least = Light(math.log2(2.8**2 * 50) + 1.5, math.log2(2.8**2 * 50) + 6, shutter_s=1 / 50, f_number=2.8)
    assert {one.ids: one for one in stops_report(made, least, 84.0).sets}[("v",)].within_stops == pytest.approx(0.5)
    assert "84°" in told[("v",)].cross
    assert told[("v",)].colour_shift == "not stated"


# A plan that was kept


def kept_world(**ring_: Any) -> World:
    return world(adapters=[ring(price=20, length_mm=24.99, **ring_), ring("other", price=50, length_mm=24.98)])


@pytest.mark.parametrize(
    ("change", "said", "breaks"),
    [
        ({"price": 32}, "was 20, is 32 EUR", False),
        ({"price": None}, "has no price any more", False),
        ({"owned": 1}, "is owned now", False),
        ({"measured_length_mm": 26.5}, "is not served any more: close-up only", True),
        ({"retired": True}, "has been archived", False),
    ],
)
def test_a_kept_plan_says_what_no_longer_holds(change: dict[str, Any], said: str, breaks: bool) -> None:
    made = kept_world()
    kept = kept_of(made, plan_of(made, QUESTION, PRACTICE), PRACTICE, "2026-11-26")
    assert standing_of(made, kept, QUESTION, PRACTICE).holds
    adapter = made.adapter("ring").model_copy(update=change)
    after = compile_world(with_entry(made.gear, "adapters", "ring", adapter), made)
    standing = standing_of(after, kept, QUESTION, PRACTICE)
    assert not standing.holds
    assert any(said in one.text and one.breaks is breaks for one in standing.changes)


def test_what_is_still_to_be_paid_follows_prices_and_what_was_bought() -> None:
    made = kept_world()
    kept = kept_of(made, plan_of(made, QUESTION, PRACTICE), PRACTICE, "2026-11-26")
    costs = []
    for change in ({}, {"price": 32}, {"owned": 1}, {"price": None}):
        adapter = made.adapter("ring").model_copy(update=change)
        after = compile_world(with_entry(made.gear, "adapters", "ring", adapter), made)
        costs.append(standing_of(after, kept, QUESTION, PRACTICE).cost_now)
    assert costs == [20, 32, 0, None]


def test_pieces_that_are_gone_and_other_preferences_are_told() -> None:
    made = kept_world()
    kept = kept_of(made, plan_of(made, QUESTION, PRACTICE), PRACTICE, "2026-11-26")
    gone = compile_world(with_entry(made.gear, "adapters", "ring", None))
    assert any(one.breaks and "ring" in one.text for one in standing_of(gone, kept, QUESTION, PRACTICE).changes)
    other = standing_of(made, kept, QUESTION, Practice(pieces="2"))
    assert [one.text for one in other.changes] == ["Most adapters in a row: was “3”, is “2”."]
    sold = PlanQuestion(demands=QUESTION.demands)
    owned = world(adapters=[ring(owned=1, length_mm=24.99)])
    held = kept_of(owned, plan_of(owned, sold, PRACTICE), PRACTICE, "2026-11-26")
    ring_ = owned.adapter("ring").model_copy(update={"owned": 0})
    lost = standing_of(compile_world(with_entry(owned.gear, "adapters", "ring", ring_)), held, sold, PRACTICE)
    assert [(one.text, one.breaks) for one in lost.changes] == [("Ring is not owned any more.", True)]


def test_of_rings_that_come_to_the_same_the_cheapest_is_an_option() -> None:
    made = world(adapters=[ring("cheap", price=20), ring("dear", price=35, locking=True)])
    told = [one.adapters for one in options_for(made, "lens", "body", PRACTICE).options]
    assert told == [("cheap",)]


def test_adapt_or_native_keeps_to_what_the_plan_allows() -> None:
    made = world(
        adapters=[
            ring("plain", price=20, length_mm=24.99),
            ring("lock", price=50, length_mm=24.98, locking=True),
            ring(
                "glass",
                price=5,
                length_mm=24.97,
                optics="correcting",
                magnification=1.2,
                register_in_mm=45.0,
                register_out_mm=20.0,
            ),
        ],
        lenses=[*_lenses(), lens(id="own", name="Own", mount="rear", price=300, price_used=180)],
    )
    demands = (Demand(lens="lens", bodies=("body",)),)

    def told(**limits: Any) -> list[tuple[str, float | None]]:
        question = PlanQuestion(demands=demands, **limits)
        return [(one.name, one.price) for one in options_for(made, "lens", "body", PRACTICE, question).options]

    assert told()[0] == ("Plain", 20.0)
    assert told(only_locking=True)[0] == ("Lock", 50.0)
    assert told(without=("plain", "lock", "glass"))[0] == ("Own", 180.0)
    assert [price for _, price in told(sold_out=("plain", "lock"))][-1] is None
    assert all(name != "Own" for name, _ in told(sold_out=("own",)))
    assert told(prices="new")[0] == ("Plain", 20.0)
    full = PlanQuestion(demands=(demands[0].model_copy(update={"grade": "full"}),))
    assert all(rank(one.grade) >= rank("full") for one in options_for(made, "lens", "body", PRACTICE, full).options)


def test_both_ways_are_summed_and_what_the_others_would_bring_is_told_apart() -> None:
    """Two lenses share a ring; one native lens stands for both."""
    natives = [
        lens(id="own", name="Own", mount="rear", price=300),
        lens(id="wide", name="Wide", mount="rear", focal_length_mm=[28, 28], price=250),
    ]
    twins = [
        lens(owned=1, resale=40),
        lens(id="twin", name="Twin", owned=1),
        lens(id="far", owned=1, focal_length_mm=[200, 200]),
    ]
    made = world(adapters=[ring("plain", price=20, length_mm=24.99)], lenses=[*twins, *natives])
    demands = tuple(Demand(lens=one, bodies=("body",)) for one in ("lens", "twin", "far"))
    found = adapt_or_native(made, PlanQuestion(demands=demands, budget=1), "body", PRACTICE)
    # One ring for all three, whatever the budget of the plan; nothing native frames as the longest.
    assert (found.adapted.price, found.adapted.met, found.adapted.lenses) == (20.0, 3, 3)
    assert (found.native.price, found.native.met) == (300.0, 2)
    assert (found.native.resale, found.native.unsold) == (40.0, ("Twin",))
    assert [len(one.options) > 0 for one in found.options] == [True, True, True]
