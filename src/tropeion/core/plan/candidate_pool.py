"""Chains by the numbers that bound them: which of them a plan has to have judged."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Container, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Final, NamedTuple

import numpy as np

from tropeion.core.findings import GRADES, Grade, rank
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import changed_id
from tropeion.core.gear.items import SwappableMount
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints.signal import FunctionName
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.routes.bounds import bounds_of, may_come_to
from tropeion.core.routes.chain_table import Bools, ChainTable, Ints, joined
from tropeion.core.routes.chains import Chain, Group
from tropeion.core.routes.loads import overloaded_in
from tropeion.core.routes.pair_columns import Pairs, pairs_of
from tropeion.core.routes.table import table_between

from .alike import frames_alike
from .market import cents, group_offer, offer_of
from .program import LOOKED_BY, LOOKED_ONCE_BY, Run
from .task import Offer, Task, Want, Way, uses_of

# Up to this many chains are judged at once, rather than one by one as they turn out to be needed.
JUDGED_AT_ONCE = 1500
# With more chains than this, those that no plan needs are dropped first.
_MANY = 2_000
# So many rows are looked at together.
_TOGETHER: Final = 60_000
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


@dataclass(frozen=True, slots=True)
class _Source:
    """A lens on a body for a demand, as they are or with another mount; the pieces that are counted for these."""

    demand: int
    lens: Lens
    body: Body
    extra: tuple[str, ...]


class _Rows(NamedTuple):
    """Chains that could be good enough: their sources and groups, what they promise, and whether that is sure.

    ``numbers`` has a column for each chain.
    """

    source: Ints
    numbers: Ints
    promised: Ints
    sure: Bools
    over: Bools


class Pool:
    """Every chain of every demand that could be good enough, a row each; less what cannot make a plan cheaper.

    Rows are many: what they are made of is told apart as numbers, before anything is made of them.
    """

    def __init__(self, world: World, question: PlanQuestion, practice: Practice, found: Ways, run: Run) -> None:
        self._world, self._question, self._found = world, question, found
        self._sources = list(self._ends(world, question))
        self._demand = np.array([source.demand for source in self._sources], dtype=np.int64)
        self._groups: tuple[Group, ...] = ()
        looked = [_no_rows(int(practice.pieces)), *self._looked(world, practice, run)]
        rows = _Rows(*(np.concatenate(columns, axis=-1) for columns in zip(*looked, strict=True)))
        order = np.argsort(rows.source, kind="stable")
        self._source, self._numbers = rows.source[order], rows.numbers[:, order]
        self._promised, self._sure, self._over = rows.promised[order], rows.sure[order], rows.over[order]
        self._offers = self._offered()
        self._had: Bools = self._can_be_had()
        self._stands: Bools = self._had & ~self._over
        self._made: dict[int, Candidate] = {}

    def _looked(self, world: World, practice: Practice, run: Run) -> Iterator[_Rows]:
        """Every lens on every body that is asked for, in turns: where time runs short each demand has something."""
        columns = pairs_of(world, [(source.lens, source.body) for source in self._sources], practice)
        least = np.array([rank(self._question.demands[source.demand].grade) for source in self._sources])
        plain = practice.zooms == "use" and not self._question.full_speed
        unlikely = np.array([self._question.demands[source.demand].probability > 0 for source in self._sources])
        certain = plain & ~unlikely
        for first, turn in enumerate(self._turns()):
            tables: list[ChainTable] = []
            of: list[Ints] = []
            for (front, rear), places in turn.items():
                run.check()
                if not run.within(LOOKED_BY if first else LOOKED_ONCE_BY):
                    self._found.cut = True
                    continue
                table = table_between(world.structure, front, rear, int(practice.pieces))
                for some in _portions(places, max(1, _TOGETHER // max(1, len(table)))):
                    able = may_come_to(table, columns.at(some), least[some, np.newaxis])
                    pair, rows = np.nonzero(np.broadcast_to(able, (len(some), len(table))))
                    tables.append(table.of(rows))
                    of.append(some[pair])
                if sum(map(len, of)) > _TOGETHER:
                    yield self._bounded(joined(*tables), np.concatenate(of), columns, least, certain)
                    tables, of = [], []
            if tables:
                yield self._bounded(joined(*tables), np.concatenate(of), columns, least, certain)

    def _turns(self) -> list[dict[tuple[str, str], Ints]]:
        """The first source of each demand, the second, and so on; those of a turn by the interfaces that they join."""
        turns: list[dict[tuple[str, str], list[int]]] = []
        met: Counter[int] = Counter()
        for place, source in enumerate(self._sources):
            if met[source.demand] == len(turns):
                turns.append({})
            ends = self._world.mount_of(source.lens).joint, self._world.mount_of(source.body).joint
            turns[met[source.demand]].setdefault(ends, []).append(place)
            met[source.demand] += 1
        return [{ends: np.array(places) for ends, places in turn.items()} for turn in turns]

    def _bounded(self, table: ChainTable, of: Ints, columns: Pairs, least: Ints, certain: Bools) -> _Rows:
        """The chains that could be good enough of some from the sources ``of`` each.

        A longer chain with a piece of which it is ``certain`` that it does alone takes more and meets no more.
        """
        self._groups = table.groups
        along = columns.along(of)
        limits = bounds_of(table, along)
        good = np.flatnonzero(limits.bounds >= least[of])
        of, numbers = of[good], table.numbers[good].T
        sure = limits.sure[good] & certain[of]
        over = overloaded_in(self._world, table, good, along.at(good))
        single = table.pieces[good] == 1
        ones = np.flatnonzero(single & sure & ~over)
        wanted = np.zeros(len(table.groups) + 1, dtype=np.bool_)
        for number in np.unique(numbers[:1, ones]).tolist():
            offer = group_offer(table.groups[number], self._question)
            wanted[number] = offer.owned > 0 or offer.price is not None
        sources, place = np.unique(of, return_inverse=True)
        alone = np.zeros((len(sources), len(wanted)), dtype=np.bool_)
        alone[place[ones], numbers[:1, ones]] = wanted[numbers[:1, ones]]
        needed = single | ~alone[place, numbers].any(axis=0)
        return _Rows(of[needed], numbers[:, needed], limits.bounds[good][needed], sure[needed], over[needed])

    def _ends(self, world: World, question: PlanQuestion) -> Iterator[_Source]:
        """Each demand by its place, with a lens and a body for it and the pieces that are counted for these."""
        for number, demand in enumerate(question.demands):
            fronts = [world.lens(demand.lens), *_stand_ins(world, demand, question)]
            for lens_id, lens_extra in (
                variant
                for front in fronts
                if front.mount is not None
                for variant in _variants(front, demand, question, self._found)
            ):
                for on_id in demand.bodies:
                    for body_id, body_extra in _variants(world.body(on_id), demand, question, self._found):
                        lens, body = world.lenses[lens_id], world.bodies[body_id]
                        yield _Source(number, lens, body, (*lens_extra, *body_extra))

    def _offered(self) -> dict[int, Offer]:
        """The offers of the groups that stand in some row."""
        offers = {}
        for number in np.flatnonzero(_marked(len(self._groups), self._numbers)).tolist():
            group = self._groups[number]
            offers[number] = group_offer(group, self._question)
            self._found.offers[group.first.id] = offers[number]
            self._found.groups[group.first.id] = (group,)
        return offers

    def _can_be_had(self) -> Bools:
        lacking = [number for number, offer in self._offers.items() if not offer.owned and offer.price is None]
        return ~self._holds(self._numbers, lacking)

    def _holds(self, numbers: Ints, groups: Sequence[int]) -> Bools:
        """Where a chain holds one of some groups."""
        marked = _marked(len(self._groups), np.array(groups, dtype=np.int64))
        holds: Bools = np.any(marked[numbers], axis=0)
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
        demand = self._demand[source]
        plain = np.array([not source.extra for source in self._sources])[source]
        single = (numbers >= 0).sum(axis=0) == 1
        # What each demand can do with a single piece; the last column is of an empty place.
        alone = np.zeros((len(self._question.demands), len(self._groups) + 1), dtype=np.bool_)
        ones = plain & single
        alone[demand[ones], numbers[:, ones].max(axis=0, initial=-1)] = True
        alone[:, -1] = False
        needed: Bools = single | ~alone[demand, numbers].any(axis=0)
        if self._question.carry_g is None and not (
            self._question.together or any(want.at_once for want in self._question.demands)
        ):
            free = np.zeros(len(self._groups) + 1, dtype=np.bool_)
            free[[number for number, offer in self._offers.items() if offer.free] + [-1]] = True
            costless = plain & free[numbers].all(axis=0)
            served = np.zeros(len(self._question.demands), dtype=np.bool_)
            served[demand[costless]] = True
            needed &= costless | ~served[demand]
        return needed

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
                if self._costs_no_more(other, number) and np.isin(own[number], own[other], assume_unique=True).all():
                    gone.append(number)
                    break
        return gone

    def _costs_no_more(self, other: int, number: int) -> bool:
        offer, two, question = self._offers[number], self._offers[other], self._question
        if question.carry_g is not None and (two.mass_g or 0.0) > (offer.mass_g or 0.0):
            return False
        if question.carry_g is None and not (question.together or any(want.at_once for want in question.demands)):
            have, need = offer.cost(1), two.cost(1)
            return have is not None and need is not None and need <= have
        return offer.price is not None and two.price is not None and max(two.price, two.resale) <= offer.price


def _no_rows(pieces: int) -> _Rows:
    none, no = np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.bool_)
    return _Rows(none, np.zeros((pieces, 0), dtype=np.int64), none, no, no)


def _portions(places: Ints, most: int) -> Iterator[Ints]:
    for start in range(0, len(places), most):
        yield places[start : start + most]


def _marked(count: int, numbers: Ints) -> Bools:
    """Which of so many groups are named; a last one more, for an empty place, never is."""
    marked = np.zeros(count + 1, dtype=np.bool_)
    marked[numbers] = True
    marked[-1] = False
    return marked


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


def _stand_ins(world: World, demand: Demand, question: PlanQuestion) -> Iterator[Lens]:
    """Lenses that may be bought and that frame nearly as the one that is asked for."""
    wanted = world.lens(demand.lens)
    for id_ in question.buy:
        other = world.lenses.get(id_)
        if other is not None and other.id != wanted.id and frames_alike(wanted, other):
            yield other


def _variants(
    item: Lens | Body, demand: Demand, question: PlanQuestion, found: Ways
) -> Iterator[tuple[str, tuple[str, ...]]]:
    """A lens or body as it is, and with each of its other mounts; with the pieces that are counted for it."""
    id_, kind = item.id, "lens" if isinstance(item, Lens) else "body"
    own: tuple[str, ...] = ()
    if id_ in question.buy or id_ in question.sell or demand.at_once:
        key = f"{kind}:{id_}"
        # Only adapters count as weight to carry.
        offer = replace(offer_of([item], question, stays=False), mass_g=0.0)
        if id_ not in question.buy:
            offer = Offer(None, max(1, offer.owned), offer.sellable, offer.resale, offer.mass_g, stays=False)
        found.offers[key] = offer
        own = (key,)
    yield id_, own
    for swap in item.swappable_mounts:
        changed = changed_id(item, swap.mount)
        key = f"mount:{changed}"
        found.offers[key] = _plate(swap)
        yield changed, (*own, key)


def _plate(swap: SwappableMount) -> Offer:
    """Another mount of one piece; what has no price cannot be bought."""
    return Offer(None if swap.price is None else cents(swap.price), stays=False, mass_g=0.0)
