"""The chains of a plan that could be good enough, by what bounds them, before any is judged."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from functools import partial
from typing import Final, NamedTuple

import numpy as np

from tropeion.core.findings import rank
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import PlanQuestion
from tropeion.core.routes.along import chains_along
from tropeion.core.routes.bounds import bounds_of, may_come_to
from tropeion.core.routes.chain_table import Bools, ChainTable, Ints, padded
from tropeion.core.routes.chains import Group
from tropeion.core.routes.loads import overloaded_in
from tropeion.core.routes.pair_columns import pairs_of
from tropeion.core.routes.table import count_along

from .market import group_offer
from .program import LOOKED_BY, LOOKED_ONCE_BY, Run
from .sources import Source
from .task import Offer

# So many chains are looked at together.
_TOGETHER: Final = 60_000


class Rows(NamedTuple):
    """Chains that could be good enough: their sources and groups, what they promise, and whether that is sure.

    ``numbers`` has a column for each chain, with -1 after its last group; ``over``: it overloads a joint.
    """

    source: Ints
    numbers: Ints
    promised: Ints
    sure: Bools
    over: Bools


def one_after_another(question: PlanQuestion) -> bool:
    """Whether every demand has all pieces to itself, and none weighs anything."""
    return question.carry_g is None and not (question.together or any(demand.at_once for demand in question.demands))


def marked(count: int, numbers: Ints) -> Bools:
    """Which of so many groups are named; a last one more, for an empty place, never is."""
    found = np.zeros(count + 1, dtype=np.bool_)
    found[numbers] = True
    found[-1] = False
    return found


class Alone:
    """What each demand can do with a single piece, and which can be met without paying.

    A longer chain with such a piece takes more and meets no more; what is met for nothing need not be paid for.
    """

    def __init__(self, question: PlanQuestion, groups: Sequence[Group]) -> None:
        self._question, self._groups = question, groups
        self._does = np.zeros((len(question.demands), len(groups) + 1), dtype=np.bool_)
        self.met: Bools = np.zeros(len(question.demands), dtype=np.bool_)
        # Those at hand come first in a group.
        free = [n for n, group in enumerate(groups) if group.first.at_hand and group_offer(group, question).free]
        self._free = marked(len(groups), np.array(free, dtype=np.int64))
        self._free[-1] = True

    def note(self, demand: Ints, numbers: Ints) -> None:
        """Some chains do, each for a demand; nothing is counted for their lens and body."""
        ones = (numbers >= 0).sum(axis=0) == 1
        self._does[demand[ones], numbers[:, ones].max(axis=0, initial=-1)] = True
        self._does[:, -1] = False
        if one_after_another(self._question):
            self.met[demand[self._free[numbers].all(axis=0)]] = True

    def needs(self, demand: Ints, numbers: Ints, plain: Bools) -> Bools:
        """Which chains may still be needed; ``plain``: nothing is counted for their lens and body."""
        longer = (numbers >= 0).sum(axis=0) != 1
        costless = plain & self._free[numbers].all(axis=0)
        needed: Bools = ~(longer & self._does[demand, numbers].any(axis=0)) & (costless | ~self.met[demand])
        return needed


class LookedAt:
    """The chains of all sources that could be good enough; ``cut``: the time was up before all were looked at."""

    def __init__(
        self, world: World, question: PlanQuestion, practice: Practice, sources: Sequence[Source], run: Run
    ) -> None:
        self._world, self._question, self._run = world, question, run
        self._joints = [(world.mount_of(one.lens).joint, world.mount_of(one.body).joint) for one in sources]
        self._most = int(practice.pieces)
        self._columns = pairs_of(world, [(source.lens, source.body) for source in sources], practice)
        demands = [question.demands[source.demand] for source in sources]
        self._demand = np.array([source.demand for source in sources], dtype=np.int64)
        self._plain = np.array([not source.extra for source in sources], dtype=np.bool_)
        self._least = np.array([rank(demand.grade) for demand in demands], dtype=np.int64)
        # What is sure of a grade is not yet sure of the rest that is asked.
        certain = practice.zooms == "use" and not question.full_speed
        self._certain = np.array([certain and not demand.probability for demand in demands], dtype=np.bool_)
        self._offers: dict[int, Offer] = {}
        self.groups: tuple[Group, ...] = ()
        self.cut = False
        none, no = np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.bool_)
        nothing = Rows(none, np.zeros((self._most, 0), dtype=np.int64), none, no, no)
        self.rows = Rows(*(np.concatenate(some, axis=-1) for some in zip(nothing, *self._found(), strict=True)))

    def _found(self) -> Iterator[Rows]:
        """All at once; where they are many, single pieces first, and longer chains where these do not do."""
        every = np.arange(len(self._joints))
        if self._most < 2 or count_along(self._world.structure, self._joints, self._most) <= _TOGETHER:
            yield from self._in_turns(every, 0, self._most)
            return
        ones = [*self._in_turns(every, 0, 1)]
        yield from ones
        alone = Alone(self._question, self.groups)
        for rows in ones:
            had = self.can_be_had(rows.numbers) & rows.sure & ~rows.over & self._plain[rows.source]
            alone.note(self._demand[rows.source[had]], rows.numbers[:, had])
        yield from self._in_turns(every[~alone.met[self._demand]], 2, self._most, alone)

    def _in_turns(self, sources: Ints, least: int, most: int, alone: Alone | None = None) -> Iterator[Rows]:
        """The chains of so many pieces, in turns: where time runs short each demand has something."""
        for first, turn in enumerate(self._turns(sources)):
            share = LOOKED_BY if first else LOOKED_ONCE_BY
            sieve = partial(self._able, turn, least, alone, share)
            for table, of in chains_along(self._world.structure, [self._joints[place] for place in turn], most, sieve):
                yield self._bounded(padded(table, self._most), turn[of])

    def _turns(self, sources: Ints) -> list[Ints]:
        """The first source of each demand, the second, and so on."""
        turns: list[list[int]] = []
        met: Counter[int] = Counter()
        for place, demand in zip(sources.tolist(), self._demand[sources].tolist(), strict=True):
            if met[demand] == len(turns):
                turns.append([])
            turns[met[demand]].append(place)
            met[demand] += 1
        return [np.array(turn, dtype=np.int64) for turn in turns]

    def _able(
        self, turn: Ints, least: int, alone: Alone | None, share: float, table: ChainTable, places: Ints
    ) -> Bools:
        """Which rows of a table may do for which sources of a turn, and may be needed; none where the time is up."""
        self._run.check()
        self.groups = table.groups
        if not self._run.within(share):
            self.cut = True
            return np.zeros((len(places), len(table)), dtype=np.bool_)
        sources = turn[places]
        may = may_come_to(table, self._columns.at(sources), self._least[sources, np.newaxis])
        may = np.broadcast_to(may & (table.pieces >= least), (len(sources), len(table)))
        if alone is not None:
            may = may.copy()
            pair, rows = np.nonzero(may)
            of = sources[pair]
            may[pair, rows] = alone.needs(self._demand[of], table.numbers[rows].T, self._plain[of])
        return may

    def _bounded(self, table: ChainTable, of: Ints) -> Rows:
        """The chains that could be good enough of some from the sources ``of`` each.

        A longer chain with a piece of which it is certain that it does alone takes more and meets no more.
        """
        along = self._columns.along(of)
        limits = bounds_of(table, along)
        good = np.flatnonzero(limits.bounds >= self._least[of])
        of, numbers = of[good], table.numbers[good].T
        sure = limits.sure[good] & self._certain[of]
        over = overloaded_in(self._world, table, good, along.at(good))
        single = table.pieces[good] == 1
        ones = np.flatnonzero(single & sure & ~over)
        ones = ones[self.can_be_had(numbers[:, ones])]
        sources, place = np.unique(of, return_inverse=True)
        does = np.zeros((len(sources), len(self.groups) + 1), dtype=np.bool_)
        does[place[ones], numbers[:1, ones]] = True
        needed = single | ~does[place, numbers].any(axis=0)
        return Rows(of[needed], numbers[:, needed], limits.bounds[good][needed], sure[needed], over[needed])

    def offers_in(self, numbers: Ints) -> dict[int, Offer]:
        """The offers of the groups that stand in some chains."""
        named = np.flatnonzero(marked(len(self.groups), numbers)).tolist()
        for number in named:
            if number not in self._offers:
                self._offers[number] = group_offer(self.groups[number], self._question)
        return {number: self._offers[number] for number in named}

    def can_be_had(self, numbers: Ints) -> Bools:
        """Which chains are of pieces that are at hand or have a price."""
        offers = self.offers_in(numbers)
        lacking = [number for number, offer in offers.items() if not offer.owned and offer.price is None]
        had: Bools = ~np.any(marked(len(self.groups), np.array(lacking, dtype=np.int64))[numbers], axis=0)
        return had
