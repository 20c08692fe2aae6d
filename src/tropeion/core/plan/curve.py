"""Money against wants met: for each number of wants the least that it costs to meet so many.

Steps are alternatives, not additions: a plan that meets more need not hold what a smaller one buys.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core.frozen import frozen

from .program import Run, at_least
from .reduce import components, needed_ways
from .task import Choice, Outcome, Solved, Task, outcome_of


@frozen
class CurveStep:
    """The cheapest plan that meets at least ``met`` wants; none is below ``bound``."""

    met: int
    choice: Choice
    outcome: Outcome
    bound: int


def curve_of(task: Task, run: Run) -> tuple[CurveStep, ...]:
    """The least cost for each number of wants, as far as the time goes: steps that cost the same are one, the highest.

    A budget is no part of it: it is a line across it.
    """
    task = replace(task, budget=None)
    kept = needed_ways(task)
    parts = components(task, kept)
    # For each number of wants so far: cost, bound, and the choices of the parts.
    best: list[tuple[int, int, dict[int, int | None]]] = [(0, 0, {})]
    for part in sorted(parts, key=len):
        some = Task(tuple(task.wants[number] for number in part), task.offers, task.together, None, task.carry_g)
        steps = _of_part(some, [kept[number] for number in part], run)
        found: dict[int, tuple[int, int, dict[int, int | None]]] = {}
        for met, (cost, bound, chosen) in enumerate(best):
            for count, step in enumerate(steps):
                total, least = cost + step.outcome.cost + task.sold_all, bound + step.bound + task.sold_all
                other = found.get(met + count)
                if other is None or total < other[0]:
                    chosen_here = dict(zip(part, step.choice, strict=True))
                    least = least if other is None else min(least, other[1])
                    found[met + count] = total, least, {**chosen, **chosen_here}
                elif least < other[1]:
                    found[met + count] = other[0], least, other[2]
        best = [found[count] for count in sorted(found)]
    return _steps(task, best)


def _of_part(task: Task, kept: Sequence[Sequence[int]], run: Run) -> list[Solved]:
    """The cheapest plan for each number of wants of one part, from none on; what lies beyond the time is not told."""
    whole = at_least(task, len(task.wants), run, kept)
    all_solved = [whole]
    for count in range(whole.met - 1, -1, -1):
        if run.left_s < 0:
            # A choice that meets more also meets fewer; by how much it could be cheaper is not known.
            all_solved.append(replace(all_solved[-1], bound=-task.sold_all))
            continue
        solved = at_least(task, count, run, kept)
        all_solved.append(solved if solved.outcome.cost <= all_solved[-1].outcome.cost else all_solved[-1])
    return all_solved[::-1]


def _steps(task: Task, best: Sequence[tuple[int, int, dict[int, int | None]]]) -> tuple[CurveStep, ...]:
    steps: list[CurveStep] = []
    for met, (_, bound, chosen) in enumerate(best):
        choice = tuple(chosen[number] for number in range(len(task.wants)))
        outcome = outcome_of(task, choice)
        assert outcome is not None
        step = CurveStep(met, choice, outcome, min(bound - task.sold_all, outcome.cost))
        while steps and steps[-1].outcome.cost >= outcome.cost:
            steps.pop()
        steps.append(step)
    return tuple(steps)
