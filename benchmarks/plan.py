"""The whole kit and a plan over a large market: cold, after an edit, and how long the cheapest plan takes to prove."""

from __future__ import annotations

import random
import statistics
import time
from collections.abc import Callable
from typing import Any

from benchmarks.market import market
from tropeion.core.answers.grid import grid_of
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.world import World, compile_world
from tropeion.core.plan.greedy import greedy
from tropeion.core.plan.planning import planned
from tropeion.core.plan.program import Run
from tropeion.core.plan.reduce import needed_ways
from tropeion.core.plan.task import outcome_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion

__all__ = ["measure"]

Report = Callable[..., None]
PRACTICE = Practice()


def measure(report: Report) -> None:
    """The grid of 300 × 30 over 1,000 adapters; a plan for 60 lenses on any of 6 bodies."""
    gear = market()
    world = compile_world(gear)
    start = time.perf_counter()
    grid = grid_of(world, PRACTICE)
    cold = (time.perf_counter() - start) * 1000
    report("grid: 300 × 30, cold", cold, 600, "ms")
    dice = random.Random(3)
    changes: dict[Kind, Callable[[Any], dict[str, object]]] = {
        "lenses": lambda _: {"image_circle_mm": 20.0},
        "bodies": lambda _: {"sensor_mm": (40.0, 30.0)},
        "adapters": lambda one: {"length_mm": one.length_mm + dice.choice([0.1, -0.02]), "owned": dice.choice([0, 1])},
    }
    for kind, change in changes.items():
        times = []
        for _ in range(9):
            one = dice.choice(getattr(world.gear, kind))
            entry = one.model_copy(update=change(one))
            start = time.perf_counter()
            world = compile_world(with_entry(world.gear, kind, one.id, entry), world)
            grid = grid_of(world, PRACTICE, grid)
            times.append((time.perf_counter() - start) * 1000)
        report(f"grid: after an edit of one of the {kind}", statistics.median(times), 30, "ms", cold, "anew")
    fresh = grid_of(compile_world(world.gear), PRACTICE).report
    assert fresh == grid.report, "after edits it is as if made anew"
    for name, systems in (("60 systems", 60), ("14 systems", 14)):
        for together in (False, True):
            _plan(report, compile_world(market(systems=systems)), name, together=together)


def _plan(report: Report, world: World, name: str, *, together: bool) -> None:
    bodies = tuple(one.id for one in world.gear.bodies[:6])
    demands = tuple(Demand(lens=one.id, bodies=bodies) for one in world.gear.lenses[:60])
    start = time.perf_counter()
    found = planned(world, PlanQuestion(demands=demands, together=together), PRACTICE, Run(10.0))
    took = time.perf_counter() - start
    shopping = outcome_of(found.solving.task, greedy(found.solving.task, needed_ways(found.solving.task)))
    assert shopping is not None
    how = "left on each lens" if together else "one for each mount"
    told = found.report
    print(
        f"     plan over {name}, {how}: {told.status}, {told.cost:g} (bound {told.bound:g}) for {told.met} of 60; "
        f"shopping lens by lens {shopping.cost / 100:g}"
    )
    bound = 10 if together else 1 if "60" in name else 2
    report(f"plan: 60 × 6 × 1,000, {name}, {how}", took, bound, "s")
