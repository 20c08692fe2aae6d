"""By which chains each demand of a plan can be met: all that may matter for its cost, and judged where they do."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion

from .candidate_pool import JUDGED_AT_ONCE, Candidate, Pool, Ways
from .program import JUDGED_BY, Run
from .reduce import needed_ways


@frozen
class CopyOfPiece:
    """One copy of an adapter, at hand or to be bought."""

    id: str
    bought: bool


def ways_of(world: World, question: PlanQuestion, practice: Practice, run: Run | None = None) -> Ways:
    """Every way that may matter, judged: what is left out or still unjudged cannot make a plan cheaper.

    The best that a chain can come to is known before it is judged. Of what the cheapest plans could be made of, all is
    judged; what fails is taken away, until nothing does. What overloads a joint is taken where nothing else serves.
    Where the time of ``run`` is up, what was found until then is all.
    """
    run = run or Run(math.inf)
    ways = Ways(question.demands, [[] for _ in question.demands], {})
    pool = Pool(world, question, practice, ways, run)
    while True:
        ways.candidates = pool.candidates()
        task, fine = ways.task(question)
        unknown = [
            (candidate, demand)
            for demand, some in zip(question.demands, ways.candidates, strict=True)
            for candidate in some
            if not candidate.known
        ]
        if len(unknown) > JUDGED_AT_ONCE:
            kept = needed_ways(task, lambda: run.within(JUDGED_BY))
            unknown = [
                (fine[number][place], question.demands[number])
                for number, places in enumerate(kept)
                for place in places
                if not fine[number][place].known
            ]
        for place, (candidate, demand) in enumerate(unknown):
            if not run.within(JUDGED_BY):
                return _cut_short(ways, unknown[place:])
            run.check()
            candidate.judge(demand, practice, full_speed=question.full_speed)
        failed = [candidate.row for candidate, _ in unknown if not candidate.fine]
        if failed:
            pool.fails(failed)
        elif not pool.takes_what_overloads():
            return ways


def _cut_short(found: Ways, unjudged: Sequence[tuple[Candidate, Demand]]) -> Ways:
    """What has been judged by now; nothing that has not."""
    found.cut = True
    for candidate, _ in unjudged:
        candidate.fine = False
    for some in found.candidates:
        for candidate in some:
            candidate.fine = candidate.fine and candidate.known
    return found


def copies_for(one: Candidate, there: Mapping[str, Sequence[CopyOfPiece]]) -> tuple[CopyOfPiece, ...]:
    """The copies that a chain is made of, from the lens to the body: the first of those that are there."""
    left = {piece: list(copies) for piece, copies in there.items()}
    return tuple(left[group.first.id].pop(0) for group in one.chain)
