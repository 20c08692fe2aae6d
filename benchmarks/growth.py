"""How work grows: each row with a size, doubled four times, and the exponent of its time.

An exponent over 1.3 is marked, unless the answer itself grows faster than the size; then it says why.
"""

from __future__ import annotations

import math
import statistics
import time
from collections.abc import Callable, Sequence
from functools import partial

from benchmarks.market import market
from benchmarks.rings import rings_both_ways
from tropeion.core.answers.effects import effect_of
from tropeion.core.answers.grid import grid_of
from tropeion.core.answers.route_list import route_list
from tropeion.core.answers.systems import systems_report
from tropeion.core.becomes.becoming_tables import lenses_of, lenses_on_body
from tropeion.core.becomes.reference import reference_of
from tropeion.core.frame.question import FrameQuestion
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.search import Wanted, search
from tropeion.core.gear.world import World, compile_world
from tropeion.core.plan.planning import planned
from tropeion.core.plan.program import Run
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.formats.frame_png import picture_of

__all__ = ["measure"]

MOST = 1.3
PRACTICE = Practice()
# What is timed once everything that it needs is there.
Timed = Callable[[], object]


def measure(sample: World) -> None:
    """Every row; prints a line each."""
    _row("grid, cold: lenses", (20, 40, 80, 160, 320), _grid)
    _row("grid, after an edit of a lens: lenses", (40, 80, 160, 320, 640), _edited)
    _row("what a change to a lens does: adapters", (320, 640, 1280, 2560, 5120), _effect)
    _row("new pair: adapters", (125, 250, 500, 1000, 2000), _pair)
    why = "every system is crossed with every other: the answer grows with the square"
    _row("matrix: systems", (12, 25, 50, 100, 200), _matrix, why)
    _row("becomes: lenses on a body", (40, 80, 160, 320, 640), _becomes)
    _row("rings on each side, three pieces", (12, 25, 50, 100, 200), _rings)
    _row("frame, tilted: pixels", (33_750, 67_500, 135_000, 270_000, 540_000), partial(_frame, sample))
    _row("plan: lenses", (8, 15, 30, 60, 120), _plan)
    _row("a keystroke: lenses", (250, 500, 1000, 2000, 4000), _keystroke)


def _row(name: str, sizes: Sequence[int], made: Callable[[int], Timed], why: str = "") -> None:
    times = [_fastest(made, size) for size in sizes]
    exponent = exponent_of(sizes, times)
    mark = "ok  " if exponent <= MOST else "why " if why else "OVER"
    spread = ", ".join(f"{took * 1000:.1f}" for took in times)
    because = f"; {why}" if why and exponent > MOST else ""
    print(f"{mark} growth: {name:<42} exponent {exponent:5.2f} of {MOST}   {spread} ms{because}", flush=True)


def _fastest(made: Callable[[int], Timed], size: int) -> float:
    """The least of three, each from anew: what else the machine does only adds."""
    times = []
    for _ in range(3):
        action = made(size)
        start = time.perf_counter()
        action()
        times.append(time.perf_counter() - start)
    return min(times)


def exponent_of(sizes: Sequence[int], times: Sequence[float]) -> float:
    """The slope of time over size, both as logarithms."""
    fit = statistics.linear_regression([math.log(size) for size in sizes], [math.log(took) for took in times])
    return fit.slope


def _grid(lenses: int) -> Timed:
    return partial(grid_of, compile_world(market(lenses=lenses)), PRACTICE)


def _edited(lenses: int) -> Timed:
    world = compile_world(market(lenses=lenses))
    grid, lens = grid_of(world, PRACTICE), world.gear.lenses[7]
    entry = lens.model_copy(update={"image_circle_mm": 20.0})
    return lambda: grid_of(compile_world(with_entry(world.gear, "lenses", lens.id, entry), world), PRACTICE, grid)


def _effect(adapters: int) -> Timed:
    world = compile_world(market(adapters=adapters))
    lens = world.gear.lenses[7]
    longer = lens.model_copy(update={"image_circle_mm": 20.0})
    # As it is typed: the letter before has been answered.
    effect_of(world, "lenses", lens.id, lens, PRACTICE)
    return partial(effect_of, world, "lenses", lens.id, longer, PRACTICE)


def _pair(adapters: int) -> Timed:
    world = compile_world(market(adapters=adapters))
    pairs = [(world.gear.lenses[number].id, world.gear.bodies[number].id) for number in range(12)]
    return lambda: [route_list(world, *pair, Practice()) for pair in pairs]


def _matrix(systems: int) -> Timed:
    return partial(systems_report, compile_world(market(systems=systems, adapters=17 * systems)), PRACTICE)


def _becomes(lenses: int) -> Timed:
    world = compile_world(market(lenses=lenses))
    reference = reference_of(world, None)
    return partial(lenses_on_body, world, world.gear.bodies[0], lenses_of(world, "all"), reference, PRACTICE)


def _rings(count: int) -> Timed:
    return partial(route_list, compile_world(rings_both_ways(count)), "l0", "b0", Practice())


def _frame(sample: World, pixels: int) -> Timed:
    rows = round(math.sqrt(pixels / 1.5))
    frame = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-tilt"]), FrameQuestion(tilt_deg=6.0))
    return partial(picture_of, frame, rows, 1)


def _plan(lenses: int) -> Timed:
    world = compile_world(market())
    bodies = tuple(body.id for body in world.gear.bodies[:6])
    demands = tuple(Demand(lens=lens.id, bodies=bodies) for lens in world.gear.lenses[:lenses])
    return lambda: planned(world, PlanQuestion(demands=demands), PRACTICE, Run(20.0))


def _keystroke(lenses: int) -> Timed:
    world = compile_world(market(lenses=lenses))
    search(world, "lenses", Wanted(q="1"))
    return partial(search, world, "lenses", Wanted(q="5"))
