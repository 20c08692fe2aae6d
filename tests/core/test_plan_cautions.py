"""What the judgement is told of counts in a plan too: what works slowly, and what a joint does not bear."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest

from tests.terminal import run
from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.mechanics import loads_of, overloads
from tropeion.core.optics.stack import stack_of
from tropeion.core.plan.native import options_for
from tropeion.core.plan.planning import curve_report, plan_of, planned
from tropeion.core.plan.program import Run
from tropeion.core.plan.shopping import shop_lines
from tropeion.core.plan.variants import variants_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.routes.loads import overloaded_in
from tropeion.core.routes.match import match
from tropeion.core.routes.pair_columns import pairs_of
from tropeion.core.routes.table import table_of
from tropeion.core.working import PLAIN

PRACTICE = Practice()
SPOKEN = {"focus": "by_wire", "aperture": "electronic", "protocol": "speech", "offers": ["autofocus", "aperture"]}
LINK: dict[str, Any] = {"link": "pass", "from_protocol": "speech", "to_protocol": "speech"}


def world(adapters: list[dict[str, Any]], the_lens: dict[str, Any], **the_body: Any) -> World:
    return compile_world(
        gear_of(
            {
                "protocols": [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}],
                "mounts": [mount("front", 45.0, interface="front"), mount("rear", 20.0, interface="rear")],
                "bodies": [body(owned=1, **the_body)],
                "lenses": [lens(owned=1, **the_lens)],
                "adapters": adapters,
            }
        )
    )


def asking(**more: Any) -> PlanQuestion:
    return PlanQuestion(demands=(Demand(lens="lens", bodies=("body",), grade="manual"),), **more)


SLOW = ring("slow", price=92.0, **LINK, carries={"autofocus": "slow"})
FAST = ring("fast", price=330.0, **LINK)


def talking() -> World:
    return world([SLOW, FAST], SPOKEN, protocols=["speech"])


def test_what_works_slowly_is_said_wherever_the_judgement_says_it() -> None:
    made = talking()
    (route,) = match(made, "lens", "body", via=["slow"]).routes
    assert route.slow == ("autofocus",)
    report = plan_of(made, asking(), PRACTICE)
    assert [(one.adapters, one.slow) for one in report.serves] == [(("slow",), ("autofocus",))]
    (line,) = shop_lines(made, report, asking(), PRACTICE)
    assert line.minds[0] == "Test lens on Test body: autofocus, slowly."
    told = {one.adapters: one.loses for one in options_for(made, "lens", "body", PRACTICE).options}
    assert "autofocus, slow" in told["slow",]
    assert "autofocus, slow" not in told["fast",]


def test_full_speed_alone_can_be_asked_for() -> None:
    report = plan_of(talking(), asking(full_speed=True), PRACTICE)
    assert [(one.adapters, one.slow) for one in report.serves] == [(("fast",), ())]
    assert report.cost == 330
    assert not plan_of(world([SLOW], SPOKEN, protocols=["speech"]), asking(full_speed=True), PRACTICE).serves


def test_slow_and_fast_are_two_steps_of_the_money() -> None:
    steps = curve_report(planned(talking(), asking(), PRACTICE, Run()), Run()).steps
    assert [(one.met, one.slow, one.cost) for one in steps] == [(0, 0, 0.0), (1, 1, 92.0), (1, 0, 330.0)]
    fast = curve_report(planned(world([FAST], SPOKEN, protocols=["speech"]), asking(), PRACTICE, Run()), Run()).steps
    assert [(one.met, one.slow, one.cost) for one in fast] == [(0, 0, 0.0), (1, 0, 330.0)]


def test_of_two_for_the_same_money_the_fast_one_is_taken() -> None:
    made = world([{**SLOW, "price": 330.0}, FAST], SPOKEN, protocols=["speech"])
    assert plan_of(made, asking(), PRACTICE).serves[0].adapters == ("fast",)


def test_rings_are_compared_by_what_works_not_by_words() -> None:
    driven = {"focus": "motor", "protocol": "speech", "offers": ["autofocus"]}
    made = world([ring("plain", price=10.0), SLOW, FAST], driven, protocols=["speech"])
    found = {one.id: one for one in variants_of(made, "lens", "body", PRACTICE).variants}
    assert "autofocus, slow" in found["slow"].adds
    assert "autofocus" in found["fast"].adds
    assert found["fast"].lacks == ()
    against_slow = {one.id: one for one in variants_of(talking(), "lens", "body", PRACTICE).variants}
    assert against_slow["fast"].adds == ("autofocus at full speed",)
    assert against_slow["fast"].lacks == ()


def test_the_terminal_says_slow_and_takes_the_limit(tmp_path: Any) -> None:
    path = tmp_path / "gear.json"
    path.write_text(json.dumps({"format": "tropeion-gear", "version": 1, **_document(talking())}))
    said = json.loads(run("plan", str(path), "--json").stdout)
    assert said["serves"][0]["slow"] == ["autofocus"]
    assert b"slowly: autofocus" in run("plan", str(path)).stdout
    fast = json.loads(run("plan", str(path), "--full-speed", "--json").stdout)
    assert (fast["cost"], fast["serves"][0]["slow"]) == (330.0, [])


def _document(made: World) -> dict[str, Any]:
    found: dict[str, Any] = made.gear.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    return {key: value for key, value in found.items() if key not in {"format", "version"}}


# What a joint bears

HEAVY = {"mass_g": 1900.0, "centre_of_mass_mm": 180.0}
WEAK = ring("weak", price=19.0, mass_g=90.0, load_rating_nm=0.4)
STRONG = ring("strong", price=25.0, mass_g=90.0, load_rating_nm=8.0)


def test_a_ring_that_bears_the_lens_is_not_folded_under_one_that_does_not() -> None:
    routes = match(world([WEAK, STRONG], HEAVY), "lens", "body").routes
    assert [one.adapters for one in routes] == [("strong",), ("weak",)]
    assert [any(found.code == "load_exceeded" for found in one.findings) for one in routes] == [False, True]


def test_a_plan_buys_what_bears_the_lens() -> None:
    report = plan_of(world([WEAK, STRONG], HEAVY), asking(), PRACTICE)
    assert (report.buy, report.serves[0].cautions[1:]) == ({"strong": 1}, ())
    # Owned or not: what is overloaded serves only where nothing else does.
    assert plan_of(world([{**WEAK, "owned": 1}, STRONG], HEAVY), asking(), PRACTICE).buy == {"strong": 1}


def test_what_overloads_is_taken_where_nothing_else_serves_and_says_so() -> None:
    report = plan_of(world([WEAK], HEAVY), asking(), PRACTICE)
    assert report.buy == {"weak": 1}
    caution = next(one for one in report.serves[0].cautions if one.code == "load_exceeded")
    assert "Support the lens" in caution.text
    (line,) = shop_lines(world([WEAK], HEAVY), report, asking(), PRACTICE)
    assert any("Support the lens" in one for one in line.minds)


def test_what_is_not_known_to_be_borne_is_no_better_than_what_is() -> None:
    """One that says nothing of its load folds none that is known to bear it, and comes behind it."""
    unsaid = ring("unsaid", price=12.0, mass_g=90.0)
    routes = match(world([unsaid, STRONG], HEAVY), "lens", "body").routes
    assert ("strong",) in [one.adapters for one in routes]


@pytest.mark.parametrize("lens_id", ["mrw-24-70", "kel-85", "qlk-35", "grm-98", "tub-400"])
def test_all_chains_at_once_are_what_each_is(sample: World, lens_id: str) -> None:
    one = sample.lenses[lens_id]
    one = one.model_copy(update={"mass_g": 2500.0, "centre_of_mass_mm": 90.0})
    sample = compile_world(with_entry(sample.gear, "lenses", lens_id, one), sample)
    over = 0
    for on in sample.gear.bodies:
        table = table_of(sample, one, on, 2)
        pair = pairs_of(sample, [(one, on)], Practice())
        found = overloaded_in(sample, table, slice(None), pair.along(np.zeros(len(table), dtype=np.int64)))
        for index in range(len(table)):
            loads = loads_of(stack_of(sample, one, table.adapters(index), on), PLAIN)
            assert found[index] == any(overloads(load) for load in loads), (on.id, table.adapters(index))
            over += bool(found[index])
    assert over
