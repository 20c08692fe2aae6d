"""A plan solved, before anything is told of it: its demands turned into a task, and the best choice of that."""

from __future__ import annotations

from dataclasses import replace

from tropeion.core.findings import rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import PlanQuestion

from .candidate_pool import Candidate, Ways
from .candidates import ways_of
from .program import Run, solve
from .ruled_out import RuledOut, ruled_out, world_for
from .task import Choice, Outcome, Solved, Task, outcome_of, uses_of


@frozen(eq=False)
class Solving:
    """What was asked, by which ways it can be met, and the choice that is best. ``market`` is without the ruled out."""

    world: World
    market: World
    question: PlanQuestion
    practice: Practice
    gone: tuple[RuledOut, ...]
    ways: Ways
    task: Task
    fine: list[list[Candidate]]
    solved: Solved
    choice: Choice

    @property
    def outcome(self) -> Outcome:
        outcome = outcome_of(self.task, self.choice)
        assert outcome is not None, "a choice has to stand"
        return outcome

    @property
    def met(self) -> int:
        return sum(place is not None for place in self.choice)

    def meets(self, number: int) -> bool:
        """Whether a demand, by its place, is met."""
        return self.choice[number] is not None


def solving(world: World, question: PlanQuestion, practice: Practice, run: Run) -> Solving:
    """Solve what is asked. Raises UnknownIdError, StoppedError."""
    gone = ruled_out(world, question, practice)
    market = world_for(world, gone)
    ways = ways_of(market, question, practice, run)
    task, fine = ways.task(question)
    solved = solve(task, run)
    if ways.cut:
        # Chains that were not judged might cost nothing and meet more.
        solved = replace(solved, bound=-task.sold_all, proven_unmet=False)
    choice = _best_of_what_is_there(task, fine, ways, solved, (question, practice))
    return Solving(world, market, question, practice, gone, ways, task, fine, solved, choice)


def _best_of_what_is_there(
    task: Task, fine: list[list[Candidate]], ways: Ways, solved: Solved, asked: tuple[PlanQuestion, Practice]
) -> Choice:
    """Each demand by the fewest pieces of those that are there then, and the best of these.

    One after another every demand has all pieces to itself; else what was chosen stays.
    """
    choice = solved.choice
    if task.together or task.coupled:
        return choice
    question, practice = asked
    outcome = solved.outcome
    have = {
        piece: offer.owned - outcome.sell.get(piece, 0) + outcome.buy.get(piece, 0)
        for piece, offer in task.offers.items()
    }
    numbers: list[int | None] = []
    for number, place in enumerate(choice):
        if place is None:
            numbers.append(None)
            continue
        able: dict[int, list[int]] = {}
        for other, candidate in enumerate(fine[number]):
            if all(count <= have[piece] for piece, count in uses_of(candidate.pieces)):
                able.setdefault(len(candidate.pieces), []).append(other)
        best = place
        for size in sorted(able):
            for other in able[size]:
                fine[number][other].judge(ways.demands[number], practice, full_speed=question.full_speed)
            some = [other for other in able[size] if fine[number][other].fine]
            if some:
                best = min(some, key=lambda other: (*_merit(task, fine[number][other]), other))
                break
        numbers.append(best)
    changed = tuple(numbers)
    after = outcome_of(task, changed)
    return changed if after is not None and after.cost <= outcome.cost else choice


def _merit(task: Task, one: Candidate) -> tuple[float, ...]:
    """Of as many pieces: the best grade, full speed, what is at hand before what is bought, the surest infinity."""
    bought = sum(max(0, count - task.offers[piece].owned) for piece, count in uses_of(one.pieces))
    return -(one.promised if one.grade is None else rank(one.grade)), bool(one.slow), bought, -(one.probability or 0.0)
