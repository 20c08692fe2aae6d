"""The bare task of a plan: worked cases, and small ones against an exhaustive search."""

from __future__ import annotations

import itertools
import json
import threading
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.limits import LIMIT_S
from tests.thorough import examples
from tropeion.core.plan.curve import curve_of
from tropeion.core.plan.greedy import greedy
from tropeion.core.plan.program import Run, StoppedError, at_least, solve
from tropeion.core.plan.reduce import needed_ways
from tropeion.core.plan.task import Choice, Offer, Task, Want, Way, outcome_of, uses_of

CASES = [
    case
    for case in json.loads((Path(__file__).parent / "vectors-2.json").read_text(encoding="utf-8"))["cases"]
    if case["name"].startswith("plan ")
]


def task_of(given_: dict[str, Any]) -> Task:
    owned = given_["owned"]
    return Task(
        wants=tuple(
            Want(str(number), f"lens {number}", tuple(Way(uses_of(one)) for one in ways))
            for number, ways in enumerate(given_["routes"])
        ),
        offers={piece: Offer(100 * price, owned.get(piece, 0)) for piece, price in given_["prices"].items()},
        together=given_["together"],
        budget=100 * given_["budget"] if "budget" in given_ else None,
    )


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    solved = solve(task_of(case["given"]))
    assert solved.status == "optimal"
    assert len(solved.choice) - solved.met == case["expect"]["unmet"]
    assert solved.outcome.cost == 100 * case["expect"]["cost"]


def test_there_are_worked_cases() -> None:
    assert len(CASES) == 3


PIECES = "abcdef"


@st.composite
def tasks(draw: st.DrawFn, budget: bool = True) -> Task:
    """Up to four wants over up to six pieces, with everything that binds them now and then."""
    money = st.integers(0, 40)
    offers = {}
    for piece in PIECES:
        owned = draw(st.sampled_from([0, 0, 1, 2]))
        price = draw(st.none() | money)
        sellable = draw(st.integers(0, owned)) if draw(st.booleans()) and price is not None else 0
        offers[piece] = Offer(
            price=price,
            owned=owned,
            sellable=sellable,
            resale=draw(st.integers(0, price)) if sellable and price is not None else 0,
            mass_g=draw(st.none() | st.sampled_from([1.0, 2.0, 5.0])),
            stays=draw(st.sampled_from([True, True, True, False])),
        )
    some = st.lists(st.sampled_from(PIECES), max_size=3).map(uses_of)
    wants = draw(
        st.lists(
            st.builds(
                Want,
                st.just("want"),
                st.sampled_from("LMN"),
                st.lists(st.builds(Way, some), max_size=4).map(tuple),
                st.sampled_from(["", "", "now"]),
            ),
            min_size=1,
            max_size=4,
        )
    )
    limit = draw(st.none() | st.integers(-20, 60)) if budget else None
    weight = draw(st.none() | st.none() | st.floats(1, 12))
    return Task(tuple(wants), offers, draw(st.booleans()), limit, weight)


def every_choice(task: Task) -> list[tuple[Choice, int, int, int]]:
    """Each choice that can be: how many wants it meets, its cost, how much it buys."""
    found = []
    for choice in itertools.product(*[[None, *range(len(want.ways))] for want in task.wants]):
        outcome = outcome_of(task, choice)
        if outcome is not None:
            met = sum(one is not None for one in choice)
            found.append((choice, met, outcome.cost, sum(outcome.buy.values())))
    return found


@settings(deadline=None, max_examples=examples(360))
@given(task=tasks())
def test_the_plan_is_the_best_of_all_choices(task: Task) -> None:
    every = every_choice(task)
    if outcome_of(task, (None,) * len(task.wants)) is None:
        # A budget below what is earned by selling everything leaves no plan at all.
        return
    best = min((-met, cost, bought) for _, met, cost, bought in every)
    solved = solve(task)
    assert (-solved.met, solved.outcome.cost, sum(solved.outcome.buy.values())) == best
    assert solved.status == "optimal"
    assert solved.bound == solved.outcome.cost


@settings(deadline=None, max_examples=examples(360))
@given(task=tasks(budget=False))
def test_each_step_of_the_curve_is_the_least_for_so_many(task: Task) -> None:
    least: dict[int, int] = {}
    for _, met, cost, _ in every_choice(task):
        for count in range(met + 1):
            least[count] = min(least.get(count, cost), cost)
    # So many cost no more than fewer: they are one step.
    steps = [(met, cost) for met, cost in sorted(least.items()) if least.get(met + 1) != cost]
    assert [(step.met, step.outcome.cost) for step in curve_of(task, Run())] == steps


@settings(deadline=None, max_examples=examples(360))
@given(task=tasks())
def test_ways_that_are_left_out_are_not_missed(task: Task) -> None:
    kept = needed_ways(task)
    every = every_choice(task)
    some = [
        one
        for one in every
        if all(place is None or place in places for place, places in zip(one[0], kept, strict=True))
    ]
    for count in range(len(task.wants) + 1):
        whole = min((cost for _, met, cost, _ in every if met >= count), default=None)
        assert min((cost for _, met, cost, _ in some if met >= count), default=None) == whole


@settings(deadline=None, max_examples=examples(240))
@given(task=tasks(budget=False))
def test_more_money_never_meets_less(task: Task) -> None:
    met = [solve(Task(task.wants, task.offers, task.together, limit, task.carry_g)).met for limit in (0, 20, 50)]
    assert met == sorted(met)


def test_shopping_lens_by_lens_pays_more_than_the_plan() -> None:
    # A hub of 30 opens three lenses with rings of 5; each has a ring of its own for 20.
    wants = tuple(
        Want(str(n), f"lens {n}", (Way(uses_of([f"own {n}"])), Way(uses_of([f"part {n}", "hub"])))) for n in range(4)
    )
    offers = {
        "hub": Offer(30),
        **{f"own {n}": Offer(20) for n in range(4)},
        **{f"part {n}": Offer(5) for n in range(4)},
    }
    task = Task(wants, offers)
    alone = outcome_of(task, greedy(task, needed_ways(task)))
    assert alone is not None
    assert alone.cost == 4 * 20
    assert solve(task).outcome.cost == 30 + 4 * 5


def hard(wants: int = 18, pieces: int = 32) -> Task:
    """A task that takes the solver a while: pairs of pieces, each of which many wants share."""
    ways = [
        tuple(Way(uses_of([f"p{(7 * n + 3 * k) % pieces}", f"p{(11 * n + 5 * k * k + 1) % pieces}"])) for k in range(9))
        for n in range(wants)
    ]
    offers = {f"p{n}": Offer(100 + (37 * n) % 61) for n in range(pieces)}
    return Task(tuple(Want(str(n), str(n), some) for n, some in enumerate(ways)), offers)


def test_what_is_not_wanted_any_more_is_stopped() -> None:
    with pytest.raises(StoppedError):
        solve(hard(), Run(stopped=lambda: True))


def test_at_the_end_of_its_time_a_plan_says_how_far_it_is_proven() -> None:
    solved = solve(hard(60, 90), Run(seconds=0.05))
    assert outcome_of(hard(60, 90), solved.choice) is not None
    assert solved.met == 60
    assert solved.status == "gap"
    assert solved.bound <= solved.outcome.cost


@pytest.mark.attack
def test_whoever_waits_is_told_a_best_and_a_bound_between_which_the_answer_lies() -> None:
    said: list[tuple[int, int]] = []
    solved = solve(hard(), Run(seconds=LIMIT_S, told=lambda best, bound: said.append((best, bound))))
    assert solved.status == "optimal"
    assert all(bound <= solved.outcome.cost <= best for best, bound in said)
    assert said


def test_others_go_on_while_one_is_solved_and_may_stop_it() -> None:
    begun, enough = threading.Event(), threading.Event()

    def other() -> None:
        assert begun.wait(LIMIT_S)
        for _ in range(10):
            # Each wait gives up its turn, and has to be given one again.
            enough.wait(0.001)
        enough.set()

    def stopped() -> bool:
        begun.set()
        return enough.is_set()

    thread = threading.Thread(target=other)
    thread.start()
    with pytest.raises(StoppedError):
        solve(hard(60, 90), Run(seconds=LIMIT_S, stopped=stopped))
    thread.join(LIMIT_S)


def test_a_least_number_of_wants_may_be_met_in_more_than_one_way() -> None:
    task = task_of(CASES[0]["given"])
    assert [at_least(task, count, Run()).outcome.cost for count in range(4)] == [0, 1500, 1500, 3700]


@pytest.mark.parametrize(("holders", "cost"), [(("lens", "lens"), 100), (("lens", "another"), 200)])
def test_a_ring_left_on_its_lens_serves_that_lens_on_every_body(holders: tuple[str, str], cost: int) -> None:
    ways = (Way(uses_of(["ring"])),)
    wants = tuple(Want(str(number), holder, ways) for number, holder in enumerate(holders))
    solved = solve(Task(wants, {"ring": Offer(100)}, together=True))
    assert (solved.met, solved.outcome.cost) == (2, cost)


@pytest.mark.parametrize(("resale", "left"), [(0, [1]), (40, [1]), (60, [0, 1])])
def test_a_dearer_piece_of_the_same_use_is_left_out_where_pieces_add_up(resale: int, left: list[int]) -> None:
    """Kept ready together, each lens takes a ring of its own: the cheaper one, unless giving it up costs more."""
    ways = (Way((("dear", 1),)), Way((("cheap", 1),)))
    wants = tuple(Want(name, name, ways) for name in ("one", "other"))
    task = Task(wants, {"dear": Offer(50), "cheap": Offer(30, resale=resale)}, together=True)
    assert needed_ways(task) == [left, left]
    assert solve(task).outcome.cost == 60


def test_what_stays_on_a_lens_is_bought_once_for_all_that_the_lens_does() -> None:
    """One ring at 100 serves both wants of the lens; a piece for each would be 140."""
    wants = tuple(Want(own, "lens", (Way((("ring", 1),)), Way(((own, 1),)))) for own in ("one", "other"))
    solved = solve(Task(wants, {"ring": Offer(100), "one": Offer(70), "other": Offer(70)}, together=True))
    assert (solved.met, solved.outcome.cost, solved.status) == (2, 100, "optimal")
