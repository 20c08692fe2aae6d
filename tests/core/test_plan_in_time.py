"""A plan whose time is up: the best so far, an honest bound, and no word on what nobody looked at."""

from __future__ import annotations

from dataclasses import dataclass, field

import pytest

from tropeion.core.findings import rank
from tropeion.core.gear.world import World
from tropeion.core.plan import program
from tropeion.core.plan.planning import plan_of
from tropeion.core.plan.program import Run, StoppedError
from tropeion.core.plan.reduce import needed_ways
from tropeion.core.plan.solving import solving
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.routes.match import match

PRACTICE = Practice(pieces="2")


@dataclass(slots=True)
class Short(Run):
    """A run of which each share of the time is gone after so many looks at the clock."""

    looks: dict[float, int] = field(default_factory=dict)

    def within(self, share: float) -> bool:
        left = self.looks.get(share, 1_000_000)
        self.looks[share] = left - 1
        return left > 0


def asked(world: World) -> PlanQuestion:
    bodies = tuple(one.id for one in world.gear.bodies if not one.retired)[:3]
    return PlanQuestion(demands=tuple(Demand(lens=one.id, bodies=bodies) for one in world.gear.mounted[:8]))


@pytest.mark.parametrize(
    "looks",
    [
        {program.LOOKED_BY: 0},
        {program.LOOKED_BY: 0, program.LOOKED_ONCE_BY: 3},
        {program.LOOKED_BY: 0, program.LOOKED_ONCE_BY: 0},
        {program.JUDGED_BY: 0},
        {program.JUDGED_BY: 5},
        {program.REDUCED_BY: 0},
    ],
)
def test_what_is_planned_in_too_little_time_is_so_and_claims_no_more(sample: World, looks: dict[float, int]) -> None:
    question = asked(sample)
    whole = plan_of(sample, question, PRACTICE)
    found = plan_of(sample, question, PRACTICE, Short(60.0, looks=dict(looks)))
    assert found.met <= whole.met
    # No plan that meets as many is cheaper than the bound, and none that is proven is dearer than the best.
    assert found.bound <= found.cost
    if found.status == "optimal":
        assert (found.met, found.cost) == (whole.met, whole.cost)
    else:
        assert found.bound <= whole.cost
    for one in found.serves:
        [route] = match(sample, one.lens, one.body, PRACTICE, via=list(one.adapters)).routes
        assert (route.grade, rank(route.grade) >= rank("manual")) == (one.grade, True)
    for unmet in found.unmet:
        assert unmet.why


def test_each_demand_is_looked_at_before_any_is_looked_at_twice(sample: World) -> None:
    question = asked(sample)
    found = solving(sample, question, PRACTICE, Short(60.0, looks={program.LOOKED_BY: 0}))
    assert found.ways.cut
    first = {one.lens: one.bodies[0] for one in question.demands}
    for demand, some in zip(question.demands, found.ways.candidates, strict=True):
        assert {one.body.id for one in some} <= {first[demand.lens]}


def test_what_was_not_looked_at_is_said_to_be_so(sample: World) -> None:
    nothing = {program.LOOKED_BY: 0, program.LOOKED_ONCE_BY: 0}
    found = plan_of(sample, asked(sample), PRACTICE, Short(60.0, looks=nothing))
    assert (found.met, found.status, found.cost) == (0, "gap", 0.0)
    assert {one.why for one in found.unmet} == {"The time was up before all of its ways were looked at."}


def test_a_task_that_is_not_reduced_is_the_same_task(sample: World) -> None:
    task = solving(sample, asked(sample), PRACTICE, Run()).task
    reduced, whole = needed_ways(task), needed_ways(task, lambda: False)
    assert all(set(one) <= set(other) for one, other in zip(reduced, whole, strict=True))
    # The cheapest of either costs the same.
    costs = {program.at_least(task, len(task.wants), Run(), kept).outcome.cost for kept in (reduced, whole)}
    assert len(costs) == 1


def test_looking_can_be_stopped(sample: World) -> None:
    with pytest.raises(StoppedError):
        plan_of(sample, asked(sample), PRACTICE, Run(60.0, stopped=lambda: True))


def test_past_its_time_no_change_is_tried_any_more(sample: World) -> None:
    hard = asked(sample).model_copy(
        update={"demands": tuple(one.model_copy(update={"grade": "native"}) for one in asked(sample).demands)}
    )
    late = plan_of(sample, hard, PRACTICE, Late(60.0))
    assert late.unmet
    assert all(one.advice is None and one.why for one in late.unmet)
    assert any(one.advice is not None for one in plan_of(sample, hard, PRACTICE).unmet)


class Late(Run):
    """A run that is over once the plan is solved."""

    @property
    def left_s(self) -> float:
        return -10.0
