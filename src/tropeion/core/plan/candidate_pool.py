"""Chains by the numbers that bound them: which of them a plan has to have judged."""

from __future__ import annotations

import itertools
from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

import numpy as np

from tropeion.core.findings import GRADES, Grade, rank
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints.signal import FunctionName
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.routes.chain_table import Bools, Ints
from tropeion.core.routes.chains import Chain

from .looked_at import Alone, LookedAt, marked, one_after_another
from .market import cents
from .program import Run
from .sources import sources_of
from .task import Offer, Task, Want, Way, uses_of

# Up to this many chains are judged at once, rather than one by one as they turn out to be needed.
JUDGED_AT_ONCE = 1500
# With more chains than this, those that no plan needs are dropped first.
_MANY = 2_000
# Numbers stay below this when columns are made one.
_LARGEST: Final = 2**62


@dataclass(slots=True, eq=False)
class Candidate:
    """A chain that may meet a demand. ``promised`` is the best that it can come to; ``grade`` what it does, once known.

    ``fine``: it is as good as was asked, so far as is known.
    """

    row: int
    world: World
    lens: Lens
    body: Body
    chain: Chain
    pieces: tuple[str, ...]
    promised: int
    overloads: bool = False
    grade: Grade | None = None
    probability: float | None = None
    slow: tuple[FunctionName, ...] = ()
    known: bool = False
    fine: bool = True

    def judge(self, demand: Demand, practice: Practice, *, full_speed: bool) -> None:
        """Find out what it comes to, and how likely it reaches infinity."""
        if self.probability is not None:
            return
        chain = tuple(group.first for group in self.chain)
        assessed = assess(self.world, self.lens, chain, self.body, practice)
        self.known, self.grade, self.probability = True, assessed.grade, chance_of(assessed)
        self.slow = assessed.slow
        self.fine = meets(assessed, demand, full_speed=full_speed)


def chance_of(assessed: Assessment) -> float:
    """How likely infinity is, at the worse end of a zoom; nothing where that is not known."""
    return min(end.infinity.probability or 0.0 for end in assessed.ends)


def meets(assessed: Assessment, demand: Demand, *, full_speed: bool = False) -> bool:
    """Whether a rig is as good as was asked, and of a kind that its owner uses."""
    if full_speed and assessed.slow:
        return False
    if assessed.unsure or rank(assessed.grade) < rank(demand.grade):
        return False
    if demand.probability and chance_of(assessed) < demand.probability:
        return False
    return not assessed.rig.avoided


@dataclass(slots=True)
class Ways:
    """The candidates of each demand, and the offers of all pieces that they are made of.

    ``groups`` are the adapters that stand behind a piece of a plan: interchangeable, those at hand first. ``cut``: the
    time was up before all was looked at, so that there may be more.
    """

    demands: tuple[Demand, ...]
    candidates: list[list[Candidate]]
    offers: dict[str, Offer]
    groups: dict[str, Chain] = field(default_factory=dict)
    cut: bool = False

    def task(self, question: PlanQuestion) -> tuple[Task, list[list[Candidate]]]:
        """The bare task, and the candidate behind each of its ways."""
        fine = [[candidate for candidate in some if candidate.fine] for some in self.candidates]
        wants = tuple(
            Want(
                name=str(number),
                holder=demand.lens,
                ways=tuple(_way(candidate) for candidate in some),
                moment="at once" if demand.at_once else "",
            )
            for number, (demand, some) in enumerate(zip(self.demands, fine, strict=True))
        )
        budget = None if question.budget is None else cents(question.budget)
        return Task(wants, self.offers, question.together, budget, question.carry_g), fine


def _way(candidate: Candidate) -> Way:
    grade = candidate.promised if candidate.grade is None else rank(candidate.grade)
    return Way(
        uses_of(candidate.pieces),
        grade,
        1.0 if candidate.probability is None else candidate.probability,
        bool(candidate.slow),
    )


class Pool:
    """Every chain of every demand that could be good enough, a row each; less what cannot make a plan cheaper.

    Rows are many: what they are made of is told apart as numbers, before anything is made of them.
    """

    def __init__(self, world: World, question: PlanQuestion, practice: Practice, found: Ways, run: Run) -> None:
        self._world, self._question, self._found = world, question, found
        self._sources = sources_of(world, question, found.offers)
        self._demand = np.array([source.demand for source in self._sources], dtype=np.int64)
        looked = LookedAt(world, question, practice, self._sources, run)
        self._groups, found.cut = looked.groups, looked.cut
        rows = looked.rows
        order = np.argsort(rows.source, kind="stable")
        self._source, self._numbers = rows.source[order], rows.numbers[:, order]
        self._promised, self._sure, self._over = rows.promised[order], rows.sure[order], rows.over[order]
        self._offers = looked.offers_in(self._numbers)
        for number, offer in self._offers.items():
            group = self._groups[number]
            found.offers[group.first.id], found.groups[group.first.id] = offer, (group,)
        self._had: Bools = looked.can_be_had(self._numbers)
        self._stands: Bools = self._had & ~self._over
        self._made: dict[int, Candidate] = {}
        self._apart = one_after_another(question)

    def _holds(self, numbers: Ints, groups: Sequence[int]) -> Bools:
        """Where a chain holds one of some groups."""
        holds_one = marked(len(self._groups), np.array(groups, dtype=np.int64))
        holds: Bools = np.any(holds_one[numbers], axis=0)
        return holds

    def fails(self, rows: Sequence[int]) -> None:
        """Drop candidates that turned out not to be good enough."""
        self._stands[list(rows)] = False

    def takes_what_overloads(self) -> bool:
        """Let in what overloads a joint, for each demand that nothing else is left for; whether there was any."""
        demand = self._demand[self._source]
        count = len(self._question.demands)
        waiting = self._had & self._over
        short: Bools = np.equal(np.bincount(demand[self._stands], minlength=count), 0)
        taken: Bools = waiting & short[demand]
        self._stands[taken], self._had[taken] = True, False
        return bool(taken.any())

    def candidates(self) -> list[list[Candidate]]:
        """What is left for each demand, once no piece is left that another one replaces everywhere."""
        left = np.flatnonzero(self._stands)
        if len(left) > _MANY:
            left = left[self._is_needed(left)]
        while True:
            gone = self._replaced(left)
            if not gone:
                break
            left = left[~self._holds(self._numbers[:, left], gone)]
        all_candidates: list[list[Candidate]] = [[] for _ in self._question.demands]
        for row in left.tolist():
            candidate = self._made.get(row) or self._make(row)
            all_candidates[self._demand[self._source[row]]].append(candidate)
        return all_candidates

    def _is_needed(self, rows: Ints) -> Bools:
        """Not needed is a chain that holds a piece which alone would do, and what is bought where nothing has to be."""
        numbers, source = self._numbers[:, rows], self._source[rows]
        demand, plain = self._demand[source], np.array([not one.extra for one in self._sources])[source]
        does = Alone(self._question, self._groups)
        does.note(demand[plain], numbers[:, plain])
        return does.needs(demand, numbers, plain)

    def _make(self, row: int) -> Candidate:
        source = self._sources[self._source[row]]
        chain = tuple(self._groups[number] for number in self._numbers[:, row].tolist() if number >= 0)
        pieces = (*(group.first.id for group in chain), *source.extra)
        promised, over = int(self._promised[row]), bool(self._over[row])
        candidate = Candidate(row, self._world, source.lens, source.body, chain, pieces, promised, over)
        if self._sure[row]:
            candidate.known, candidate.grade = True, GRADES[promised]
        self._made[row] = candidate
        return candidate

    def _replaced(self, rows: Ints) -> list[int]:
        """Groups that are not needed, since another one does all that they do, for no more money and weight."""
        numbers, source = self._numbers[:, rows], self._source[rows]
        # A piece that occurs twice in a chain is not exchanged there.
        twice = np.zeros(len(rows), dtype=np.bool_)
        for one, other in itertools.combinations(numbers, 2):
            twice |= (one == other) & (one >= 0)
        firm = set(np.unique(numbers[:, twice]).tolist())
        once, source = numbers[:, ~twice], source[~twice]
        pieces, contexts = [], []
        for place, column in enumerate(once):
            has = column >= 0
            pieces.append(column[has])
            rest = once[:, has]
            rest[place] = -2
            contexts.append(np.vstack([source[has], rest]))
        if not sum(map(len, pieces)):
            return []
        piece, context = np.concatenate(pieces), _numbered(np.concatenate(contexts, axis=1))
        order = np.lexsort((context, piece))
        piece, context = piece[order], context[order]
        starts = np.flatnonzero(np.r_[True, piece[1:] != piece[:-1]])
        own = {int(piece[one]): some for one, some in zip(starts, np.split(context, starts[1:]), strict=True)}
        meeting: dict[tuple[str, str], list[int]] = {}
        for number in own:
            first = self._groups[number].first
            meeting.setdefault((first.lens_mount, first.body_mount), []).append(number)
        gone: list[int] = []
        for alike in meeting.values():
            gone += self._replaced_among(alike, own, firm)
        return gone

    def _replaced_among(self, alike: Sequence[int], own: Mapping[int, Ints], firm: Container[int]) -> list[int]:
        gone: list[int] = []
        dear = sorted(alike, key=lambda number: (-(self._offers[number].cost(1) or 0), number))
        for number in dear:
            # What is at hand may serve better once it is known what is bought.
            if number in firm or self._offers[number].owned:
                continue
            for other in reversed(dear):
                if other in gone or other == number or len(own[other]) < len(own[number]):
                    continue
                if self._costs_no_more(other, number) and _are_among(own[number], own[other]):
                    gone.append(number)
                    break
        return gone

    def _costs_no_more(self, other: int, number: int) -> bool:
        offer, two, question = self._offers[number], self._offers[other], self._question
        if question.carry_g is not None and (two.mass_g or 0.0) > (offer.mass_g or 0.0):
            return False
        if self._apart:
            have, need = offer.cost(1), two.cost(1)
            return have is not None and need is not None and need <= have
        return offer.price is not None and two.price is not None and max(two.price, two.resale) <= offer.price


def _are_among(some: Ints, many: Ints) -> bool:
    """Whether all of some numbers are among others; both ascend."""
    at = np.searchsorted(many, some)
    return bool(at[-1] < len(many) and (many[at] == some).all())


def _numbered(columns: Ints) -> Ints:
    """A number for each different column of numbers that are no less than −2."""
    found, most = np.zeros(columns.shape[1], dtype=np.int64), 1
    for row in columns:
        width = int(row.max(initial=0)) + 3
        if most * width > _LARGEST:
            _, found = np.unique(found, return_inverse=True)
            most = int(found.max(initial=0)) + 1
        found, most = found * width + row + 2, most * width
    return found
