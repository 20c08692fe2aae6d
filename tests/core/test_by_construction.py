"""A length that was taken from the gap proves nothing: the ring fits by construction."""

from __future__ import annotations

from tests.rigs import only_route
from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.beginning import begin_ring
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import compile_world
from tropeion.core.plan.planning import plan_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion


def test_infinity_is_not_known_and_the_sentence_says_why() -> None:
    found = only_route(world_of([ring(length_from="gap", tolerance_mm=None)]))
    assert (found.wide.infinity.reached, found.wide.infinity.probability) == (None, None)
    assert found.sentence.startswith("Fits by construction; focus and aperture by hand.")
    assert "measure it, or try infinity" in found.sentence
    # A ring of unknown make.
    assert "adapters[0].tolerance_mm" in found.assumed


def test_measured_it_is_a_ring_like_any_other() -> None:
    found = only_route(world_of([ring(length_from="gap", measured_length_mm=25.0, measured_tolerance_mm=0.01)]))
    assert found.wide.infinity.reached is True
    assert found.sentence.startswith("Reaches infinity")


def test_what_is_far_from_the_gap_is_still_judged() -> None:
    # Kept with a gap that another body had.
    found = only_route(world_of([ring(length_mm=45.0, length_from="gap")]))
    assert found.grade == "close_up"


def test_one_that_begins_without_a_length_gets_that_of_the_gap() -> None:
    mounts = [mount("front", 45.0), mount("rear", 20.0)]
    made = compile_world(gear_of({"mounts": mounts, "lenses": [lens()], "bodies": [body()]}))
    taken, measured = (begin_ring(made, "lens", "body", length).item for length in (None, 25.1))
    assert isinstance(taken, Adapter)
    assert isinstance(measured, Adapter)
    assert (taken.length_mm, taken.length_from) == (25.0, "gap")
    assert (measured.length_mm, measured.length_from) == (25.1, "stated")


def test_no_chance_of_infinity_is_claimed_to_a_plan() -> None:
    made = world_of([ring(length_from="gap", owned=1)], the_lens=lens(owned=1), the_body=body(owned=1))
    sure = PlanQuestion(demands=(Demand(lens="lens", bodies=("body",), probability=0.5),))
    assert not plan_of(made, sure, Practice()).serves
    assert plan_of(made, PlanQuestion(demands=(Demand(lens="lens", bodies=("body",)),)), Practice()).serves
