"""Plans for collections: against every chain and every choice; prices, limits, reasons; at the terminal."""

from __future__ import annotations

import itertools
import json
from collections import Counter
from collections.abc import Iterator
from typing import Any
from unittest import mock

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.terminal import run
from tests.thorough import examples
from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.findings import rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import World, compile_world
from tropeion.core.plan import candidate_pool, looked_at
from tropeion.core.plan.candidate_pool import meets
from tropeion.core.plan.plan_report import PlanReport
from tropeion.core.plan.planning import curve_report, plan_of, planned
from tropeion.core.plan.program import Run
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.judgement import assess

PRACTICE = Practice(pieces="2")
REGISTERS = {"front": 48.0, "other": 44.0, "middle": 34.0, "rear": 20.0, "far": 18.0}


def joined(id_: str, front: str, rear: str, **more: Any) -> dict[str, Any]:
    length = round(REGISTERS[front] - REGISTERS[rear] + more.pop("by_mm", -0.02), 3)
    return ring(id_, length, lens_mount=front, body_mount=rear, **more)


def world_with(adapters: list[dict[str, Any]], **lens_more: Any) -> World:
    return compile_world(
        gear_of(
            {
                "mounts": [mount(id_, mm, interface=id_) for id_, mm in REGISTERS.items()],
                "bodies": [
                    body(id="near", mount="rear", owned=1, price=500, resale=300),
                    body(id="wide", mount="far", price=700),
                ],
                "lenses": [
                    lens(id="one", name="One", owned=1, **lens_more),
                    lens(id="two", name="Two", owned=1),
                    lens(id="three", name="Three", mount="other", owned=1, price=80, resale=40),
                    lens(id="gone", name="Gone", mount=None, owned=1),
                ],
                "adapters": adapters,
            }
        )
    )


ENDS = [("front", "rear"), ("front", "middle"), ("middle", "rear"), ("other", "rear"), ("other", "middle")]
ENDS += [("front", "far"), ("middle", "far"), ("other", "far")]


@st.composite
def markets(draw: st.DrawFn) -> World:
    rings = []
    for number in range(draw(st.integers(1, 7))):
        front, rear = draw(st.sampled_from(ENDS))
        more: dict[str, Any] = {"owned": draw(st.sampled_from([0, 0, 0, 1, 2]))}
        price = draw(st.none() | st.integers(1, 30))
        if price is not None:
            more["price"] = price
        by = draw(st.sampled_from([-0.02, -0.02, 0.1, 0.4]))
        rings.append(joined(f"r{number}", front, rear, by_mm=by, **more))
    return world_with(rings)


def chains(world: World, at: str, goal: str, most: int) -> Iterator[tuple[Adapter, ...]]:
    """Every chain of pieces, by going through all of them at every step."""
    if at == goal:
        yield ()
    if most:
        for adapter in world.gear.adapters:
            if adapter.lens_mount == at:
                for rest in chains(world, adapter.body_mount, goal, most - 1):
                    yield (adapter, *rest)


def every_way(world: World, demand: Demand) -> set[tuple[str, ...]]:
    """The pieces of every chain that meets a demand."""
    one = world.lens(demand.lens)
    assert one.mount is not None
    found = set()
    for body_id in demand.bodies:
        on = world.body(body_id)
        for chain in chains(world, one.mount, on.mount, 2):
            if meets(assess(world, one, chain, on, PRACTICE), demand):
                found.add(tuple(sorted(adapter.id for adapter in chain)))
    return found


def least(world: World, question: PlanQuestion) -> tuple[int, float]:
    """How many demands stay unmet at least, and the least cost of that, by trying every choice."""
    ways = [[None, *sorted(every_way(world, demand))] for demand in question.demands]
    best = (len(ways) + 1, 0.0)
    for choice in itertools.product(*ways):
        need: Counter[str] = Counter()
        held: dict[str, Counter[str]] = {}
        for demand, chain in zip(question.demands, choice, strict=True):
            used = Counter(chain or ())
            need |= used
            held[demand.lens] = held.get(demand.lens, Counter()) | used
        if question.together:
            need = sum(held.values(), Counter())
        cost = 0.0
        for id_, count in need.items():
            adapter = world.adapters[id_]
            more = count - adapter.at_hand
            if more > 0:
                cost += float("inf") if adapter.price is None else more * adapter.price
        if cost < float("inf") and (question.budget is None or cost <= question.budget):
            best = min(best, (choice.count(None), cost))
    return best


DEMANDS = [
    Demand(lens="one", bodies=("near",)),
    Demand(lens="two", bodies=("near", "wide")),
    Demand(lens="three", bodies=("near",), grade="partial"),
    Demand(lens="one", bodies=("wide",)),
]


@settings(deadline=None, max_examples=examples(60))
@given(world=markets(), count=st.integers(1, 4), together=st.booleans(), budget=st.none() | st.integers(0, 60))
def test_a_plan_is_the_best_of_everything_that_could_be_done(
    world: World, count: int, together: bool, budget: int | None
) -> None:
    question = PlanQuestion(demands=tuple(DEMANDS[:count]), together=together, budget=budget)
    report = plan_of(world, question, PRACTICE)
    assert (len(report.unmet), report.cost) == least(world, question)
    assert report.status == "optimal"
    holds(world, question, report)


@settings(deadline=None, max_examples=examples(60))
@given(world=markets(), count=st.integers(1, 4), together=st.booleans())
def test_a_plan_over_a_large_market_is_the_best_too(world: World, count: int, together: bool) -> None:
    question = PlanQuestion(demands=tuple(DEMANDS[:count]), together=together)
    # What is left out of large markets first is left out of any.
    with mock.patch.object(candidate_pool, "_MANY", 0), mock.patch.object(looked_at, "_TOGETHER", 0):
        report = plan_of(world, question, PRACTICE)
    assert (len(report.unmet), report.cost) == least(world, question)
    holds(world, question, report)


def holds(world: World, question: PlanQuestion, report: PlanReport) -> None:
    """What a plan says it serves is served: by what is at hand and bought, as well as was asked."""
    assert {one.demand for one in report.serves} | {one.demand for one in report.unmet} == set(
        range(len(question.demands))
    )
    assert report.cost == sum(one.count * one.price.amount for one in report.bought)
    held: dict[str, Counter[str]] = {}
    for one in report.serves:
        demand = question.demands[one.demand]
        chain = tuple(world.adapters[id_] for id_ in one.adapters)
        judged = assess(world, world.lens(one.lens), chain, world.body(one.body), PRACTICE)
        assert meets(judged, demand)
        assert (one.grade, one.body in demand.bodies) == (judged.grade, True)
        held[one.lens] = held.get(one.lens, Counter()) | Counter(one.adapters)
        assert set(one.buys) <= set(report.buy)
    needs = sum(held.values(), Counter()) if question.together else Counter()
    for used in held.values():
        needs |= used
    for id_, count in needs.items():
        assert count <= world.adapters[id_].at_hand + report.buy.get(id_, 0)
    for id_, count in report.buy.items():
        assert count == needs[id_] - world.adapters[id_].at_hand, "nothing is bought that is not needed"


def test_the_sample_plan_holds(sample: World) -> None:
    lenses = [one.id for one in sample.gear.mounted if one.at_hand]
    question = PlanQuestion(demands=tuple(Demand(lens=id_, bodies=("o7", "lark")) for id_ in lenses))
    report = plan_of(sample, question, Practice())
    assert report.status == "optimal"
    by_demand = {one.demand: one for one in report.serves}
    for number, id_ in enumerate(lenses):
        served = by_demand.get(number)
        if served is not None:
            assert served.lens == id_
            assert rank(served.grade) >= rank("manual")
    assert by_demand[lenses.index("kel-45")].adapters == ("kel-ost-plain",)


# What binds a plan


def one_of(world: World, **more: Any) -> PlanReport:
    asked = {"demands": (Demand(lens="one", bodies=("near",)),), **more}
    return plan_of(world, PlanQuestion(**asked), PRACTICE)


def test_used_where_a_used_price_is_known_and_rented_by_the_day() -> None:
    world = world_with([joined("r", "front", "rear", price=40, price_used=25, rent_per_day=3, price_on="2025-04-01")])
    assert one_of(world).cost == 40
    used = one_of(world, prices="used")
    assert (used.cost, used.bought[0].price.basis, used.bought[0].price.on) == (25, "used", "2025-04-01")
    assert one_of(world, rent=("r",), days=4).cost == 12


def test_a_piece_without_a_price_is_never_bought_and_is_named() -> None:
    report = one_of(world_with([joined("r", "front", "rear")]))
    assert (report.buy, [one.id for one in report.unpriced]) == ({}, ["r"])
    assert report.unmet[0].why == "Nobody said what R costs."


@pytest.mark.parametrize(
    ("ring_", "limit", "why"),
    [
        ({}, {"only_locking": True}, "no lock"),
        ({"tolerance_mm": 0.08}, {"worst_tolerance_mm": 0.06}, "tolerance ±0.08 mm"),
        ({"tolerance_mm": None}, {"worst_tolerance_mm": 0.04}, "tolerance ±0.05 mm, assumed"),
        ({}, {"without": ("r",)}, "ruled out"),
        ({}, {"without_words": ("R",)}, "“R” in its name"),
        ({}, {"carry_g": 500}, "nobody said what it weighs"),
    ],
)
def test_what_is_ruled_out_is_not_used_and_said_to_be(ring_: dict[str, Any], limit: dict[str, Any], why: str) -> None:
    world = world_with([joined("r", "front", "rear", price=10, **ring_)])
    report = one_of(world, **limit)
    assert [(one.id, one.why) for one in report.ruled_out] == [("r", why)]
    assert report.met == 0
    if "carry_g" not in limit:
        assert report.unmet[0].change == "Allow R."


def test_what_is_sold_out_is_not_said_to_lack_a_price() -> None:
    world = world_with([joined("r", "front", "rear", price=10)])
    report = one_of(world, sold_out=("r",))
    assert (report.met, report.unpriced) == (0, ())
    assert (report.unmet[0].why, report.unmet[0].change) == (
        "What would do is sold out.",
        "R, when it can be had again.",
    )
    held = world_with([joined("r", "front", "rear", price=10, owned=1)])
    assert one_of(held, sold_out=("r",)).met == 1


def test_what_is_carried_counts() -> None:
    world = world_with(
        [joined("heavy", "front", "rear", price=10, mass_g=400), joined("light", "front", "rear", price=60, mass_g=90)]
    )
    assert (one_of(world).cost, one_of(world).carry_g) == (10, 400)
    assert (one_of(world, carry_g=200).cost, one_of(world, carry_g=200).carry_g) == (60, 90)
    assert one_of(world, carry_g=50).met == 0


def test_what_is_sold_pays_in_unless_it_is_needed() -> None:
    rings = [joined("r", "front", "rear", price=30), joined("old", "other", "rear", owned=1, resale=12, price=20)]
    world = world_with(rings)
    sold = one_of(world, sell=("old", "three"))
    # The lens is not asked for: its 40 would be a sale of something that the plan does not know.
    assert sold.cost == 30
    both = PlanQuestion(
        demands=(Demand(lens="one", bodies=("near",)), Demand(lens="three", bodies=("near",))), sell=("old",)
    )
    assert plan_of(world, both, PRACTICE).cost == 30
    assert plan_of(world, both, PRACTICE).sold == ()


def test_a_body_to_buy_is_a_candidate_beside_adapters() -> None:
    world = world_with([joined("dear", "front", "rear", price=900), joined("cheap", "front", "far", price=50)])
    asked = (Demand(lens="one", bodies=("near", "wide")),)
    there = plan_of(world, PlanQuestion(demands=asked), PRACTICE)
    bought = plan_of(world, PlanQuestion(demands=asked, buy=("wide",)), PRACTICE)
    assert there.buy == {"cheap": 1}
    assert (bought.buy, bought.cost) == ({"cheap": 1, "wide": 1}, 750)
    cheaper = world_with([joined("dear", "front", "rear", price=700), joined("cheap", "front", "far", price=50)])
    assert plan_of(cheaper, PlanQuestion(demands=asked, buy=("wide",)), PRACTICE).buy == {"dear": 1}


def test_a_native_lens_to_buy_stands_in_and_the_old_one_pays_in() -> None:
    document = {
        "mounts": [mount("front", 48.0, interface="front"), mount("rear", 20.0, interface="rear")],
        "bodies": [body(id="near", mount="rear", owned=1)],
        "lenses": [
            lens(id="one", name="One", owned=1, resale=70),
            lens(id="own", name="Own", mount="rear", price=120, focal_length_mm=[55, 55]),
            lens(id="far", name="Far", mount="rear", price=10, focal_length_mm=[90, 90]),
        ],
        "adapters": [joined("r", "front", "rear", price=60)],
    }
    world = compile_world(gear_of(document))
    assert one_of(world, buy=("own", "far")).buy == {"r": 1}
    traded = one_of(world, buy=("own", "far"), sell=("one",))
    # 120 less the 70 that the old one brings is less than a ring for 60; 90 mm does not stand in for 50.
    assert (traded.buy, traded.cost, traded.serves[0].lens) == ({"own": 1}, 50, "own")
    assert [one.id for one in traded.sold] == ["one"]


def test_a_mount_that_can_be_swapped_is_counted_for_its_own_lens() -> None:
    swap = [{"mount": "rear", "price": 35, "tools": "", "minutes": 20}]
    world = world_with([joined("r", "front", "rear", price=60)], swappable_mounts=swap)
    report = one_of(world)
    assert report.cost == 35
    assert [(one.kind, one.price.amount) for one in report.bought] == [("mounts", 35)]
    two = PlanQuestion(demands=(Demand(lens="one", bodies=("near",)), Demand(lens="two", bodies=("near",))))
    # The other lens has no such mount: one ring does for both.
    assert plan_of(world, two, PRACTICE).buy == {"r": 1}


def test_at_once_takes_a_ring_and_a_body_each() -> None:
    world = world_with([joined("r", "front", "rear", price=10), joined("w", "front", "far", price=15)])
    asked = tuple(Demand(lens=id_, bodies=("near", "wide"), at_once=True) for id_ in ("one", "two"))
    report = plan_of(world, PlanQuestion(demands=asked), PRACTICE)
    assert report.buy == {"r": 1, "w": 1}
    assert {one.body for one in report.serves} == {"near", "wide"}
    one_body = tuple(Demand(lens=id_, bodies=("near",), at_once=True) for id_ in ("one", "two"))
    lacking = plan_of(world, PlanQuestion(demands=one_body), PRACTICE)
    assert lacking.met == 1
    assert "at the same time" in lacking.unmet[0].why


def test_a_lens_without_a_mount_and_a_pair_that_nothing_joins_say_what_it_would_take() -> None:
    world = world_with([])
    asked = PlanQuestion(demands=(Demand(lens="gone", bodies=("near",)), Demand(lens="one", bodies=("near",))))
    report = plan_of(world, asked, PRACTICE)
    assert "no mount" in report.unmet[0].why
    assert "28.00 mm" in report.unmet[1].change


def test_the_lower_grade_that_would_do_is_named() -> None:
    world = world_with([joined("r", "front", "rear", price=10)])
    report = plan_of(world, PlanQuestion(demands=(Demand(lens="one", bodies=("near",), grade="full"),)), PRACTICE)
    assert report.unmet[0].change == "Accept “manual focus and stop-down”."
    lower = plan_of(world, PlanQuestion(demands=(Demand(lens="one", bodies=("near",), grade="manual"),)), PRACTICE)
    assert lower.met == 1


def test_a_chance_that_is_asked_for_is_kept_and_never_rounded_up() -> None:
    world = world_with([joined("r", "front", "rear", by_mm=0.04, tolerance_mm=0.12, price=10)])
    found = one_of(world).serves[0].probability
    assert 0.5 < found < 1
    asked = Demand(lens="one", bodies=("near",), probability=min(1.0, found + 0.001))
    lacking = plan_of(world, PlanQuestion(demands=(asked,)), PRACTICE)
    assert f"{int(found * 100)} % at best" in lacking.unmet[0].why


def test_a_demand_left_out_by_the_budget_says_what_more_it_takes() -> None:
    world = world_with([joined("r", "front", "rear", price=10), joined("o", "other", "rear", price=50)])
    asked = (Demand(lens="one", bodies=("near",)), Demand(lens="three", bodies=("near",)))
    report = plan_of(world, PlanQuestion(demands=asked, budget=30), PRACTICE)
    assert (report.buy, report.unmet[0].name) == ({"r": 1}, "three:near")
    assert report.unmet[0].change == "30 EUR more: then 2 of 2 are met."


def test_after_the_plan_what_is_left_is_doubled_or_not_needed() -> None:
    rings = [
        joined("r", "front", "rear", owned=1),
        joined("twin", "front", "rear", owned=1, by_mm=-0.03, resale=7),
        joined("o", "other", "rear", owned=1),
    ]
    report = one_of(world_with(rings))
    spare = {one.id: one for one in report.spare}
    used = report.serves[0].adapters[0]
    other = ({"r", "twin"} - {used}).pop()
    assert spare[other].doubled_by == used.title()
    assert spare["o"].doubled_by is None
    assert {one.resale for one in report.spare} <= {None, 7}


def test_the_curve_ends_at_the_plan_and_names_what_each_step_buys() -> None:
    world = world_with([joined("r", "front", "rear", price=10), joined("o", "other", "rear", price=50)])
    asked = (Demand(lens="one", bodies=("near",)), Demand(lens="three", bodies=("near",)))
    found = planned(world, PlanQuestion(demands=asked), PRACTICE, Run())
    curve = curve_report(found, Run())
    assert [(step.met, step.cost, step.opens) for step in curve.steps] == [(0, 0, ()), (1, 10, ("R",)), (2, 60, ("O",))]
    assert curve.steps[-1].cost == found.report.cost
    assert {one.id: (one.met, one.cost) for one in curve.without} == {"r": (1, 50), "o": (1, 10)}


def test_the_next_best_plan_is_told_where_it_is_near() -> None:
    rings = [joined("r", "front", "rear", price=100), joined("s", "front", "rear", price=104, by_mm=-0.03)]
    found = planned(world_with(rings), PlanQuestion(demands=(Demand(lens="one", bodies=("near",)),)), PRACTICE, Run())
    (other,) = curve_report(found, Run()).without
    assert (other.id, other.cost, other.near, other.buys) == ("r", 104, True, ("S",))


# At the terminal


def test_the_command_plans_for_what_is_at_hand() -> None:
    done = run("plan", "sample", "--json")
    assert done.returncode == 0, done.stderr.decode()
    told = json.loads(done.stdout)
    assert told["status"] == "optimal"
    assert told["cost"] == told["bound"]
    assert {"lens", "body", "adapters", "grade", "slow"} == set(told["serves"][0])
    assert [set(one) >= {"demand", "why"} for one in told["unmet"]] == [True] * len(told["unmet"])


def test_the_command_takes_pairs_a_grade_a_budget_and_says_it_in_words() -> None:
    done = run("plan", "sample", "--pairs", "kel-55:o7,mrw-92:o7", "--grade", "full", "--budget", "10", "--json")
    told = json.loads(done.stdout)
    assert [one["lens"] for one in told["serves"]] == ["mrw-92"]
    assert [one["demand"] for one in told["unmet"]] == ["kel-55:o7"]
    words = run("plan", "sample", "--lenses", "kel-55", "--bodies", "lark").stdout.decode()
    assert words.startswith("1 of 1 for ")


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["--lenses", "kel-56"], "kel-55"),
        (["--pairs", "kel-55"], "LENS:BODY"),
        (["--probability", "1.2"], "--probability"),
        (["--budget", "nan"], "--budget"),
        (["--seconds", "0"], "--seconds"),
    ],
)
def test_the_command_refuses_what_cannot_be(words: list[str], said: str) -> None:
    done = run("plan", "sample", *words)
    assert (done.returncode, done.stdout) == (2, b"")
    assert said in done.stderr.decode()
