"""Chains by the numbers that bound them: which of them a plan has to have judged."""

from __future__ import annotations

from collections.abc import Container, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

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
from tropeion.core.routes.bounds import Limits, bounds_of
from tropeion.core.routes.chain_table import Bools, ChainTable, Ints
from tropeion.core.routes.chains import Chain
from tropeion.core.routes.loads import overloaded_in
from tropeion.core.routes.pair_columns import Pairs, pairs_of
from tropeion.core.routes.table import table_of

from .alike import frames_alike
from .market import cents, group_offer, offer_of
from .program import LOOKED_BY, LOOKED_ONCE_BY, Run
from .task import Offer, Task, Want, Way, uses_of

# Up to this many chains are judged at once, rather than one by one as they turn out to be needed.
JUDGED_AT_ONCE = 1500
# With more chains than this, those that no plan needs are dropped first.
_MANY = 2_000


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


@dataclass(frozen=True, slots=True, eq=False)
class _Source:
    """A lens on a body for a demand, as they are or with another mount: all chains between them."""

    demand: int
    world: World
    lens: Lens
    body: Body
    extra: tuple[str, ...]
    table: ChainTable


@dataclass(frozen=True, slots=True, eq=False)
class _Looked:
    """The rows of a source that could be good enough, with what they promise; ``place`` is that of its ends."""

    place: int
    source: _Source
    rows: Ints
    promised: Ints
    sure: Bools
    over: Bools


class Pool:
    """Every chain of every demand that could be good enough, a row each; less what cannot make a plan cheaper.

    Rows are many: what they are made of is told apart as numbers, before anything is made of them.
    """

    def __init__(self, world: World, question: PlanQuestion, practice: Practice, found: Ways, run: Run) -> None:
        self._question, self._found = question, found
        found_here = sorted(self._looked(world, question, practice, run), key=lambda looked: looked.place)
        self._sources = [looked.source for looked in found_here]
        nothing = np.zeros(0, dtype=np.int64)
        self._source = np.repeat(np.arange(len(found_here)), [len(looked.rows) for looked in found_here])
        self._row = np.concatenate([nothing, *(looked.rows for looked in found_here)])
        self._promised = np.concatenate([nothing, *(looked.promised for looked in found_here)])
        self._sure = np.concatenate([nothing, *(looked.sure for looked in found_here)]).astype(np.bool_)
        self._numbers = np.full((len(self._row), int(practice.pieces)), -1, dtype=np.int64)
        start = 0
        for looked in found_here:
            self._numbers[start : start + len(looked.rows)] = looked.source.table.numbers[looked.rows]
            start += len(looked.rows)
        self._groups = self._sources[0].table.groups if self._sources else ()
        self._offers = self._offered()
        self._over: Bools = np.concatenate([nothing, *(looked.over for looked in found_here)]).astype(np.bool_)
        self._had: Bools = self._can_be_had()
        self._stands: Bools = self._had & ~self._over
        self._made: dict[int, Candidate] = {}

    def _looked(self, world: World, question: PlanQuestion, practice: Practice, run: Run) -> Iterator[_Looked]:
        """Every lens on every body that is asked for, in turns: where time runs short each demand has something."""
        plain = practice.zooms == "use" and not question.full_speed
        ends = list(self._ends(world, question))
        turn: dict[int, int] = {}
        order = []
        for place, (number, *_) in enumerate(ends):
            turn[number] = turn.get(number, -1) + 1
            order.append((turn[number], place))
        columns = pairs_of(world, [(world.lenses[lens], world.bodies[body]) for _, lens, body, _ in ends], practice)
        for first, place in sorted(order):
            run.check()
            if not run.within(LOOKED_BY if first else LOOKED_ONCE_BY):
                self._found.cut = True
                continue
            number, lens_id, body_id, extra = ends[place]
            demand, lens, body = question.demands[number], world.lenses[lens_id], world.bodies[body_id]
            table = table_of(world, lens, body, int(practice.pieces))
            if not len(table):
                continue
            certain = plain and not demand.probability
            pair = columns.along(np.array([place], dtype=np.int64))
            rows, limits, over = _promising(world, pair, table, demand, question, certain=certain)
            yield _Looked(
                place,
                _Source(number, world, lens, body, extra, table),
                rows,
                limits.bounds,
                limits.sure & certain,
                over,
            )

    def _ends(self, world: World, question: PlanQuestion) -> Iterator[tuple[int, str, str, tuple[str, ...]]]:
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
                        yield number, lens_id, body_id, (*lens_extra, *body_extra)

    def _offered(self) -> dict[int, Offer]:
        """The offers of the groups that stand in some row."""
        offers = {}
        for number in np.unique(self._numbers).tolist():
            if number >= 0:
                group = self._groups[number]
                offers[number] = group_offer(group, self._question)
                self._found.offers[group.first.id] = offers[number]
                self._found.groups[group.first.id] = (group,)
        return offers

    def _can_be_had(self) -> Bools:
        lacking = [number for number, offer in self._offers.items() if not offer.owned and offer.price is None]
        stands: Bools = ~np.any(np.isin(self._numbers, lacking), axis=1)
        return stands

    def fails(self, rows: Sequence[int]) -> None:
        """Drop candidates that turned out not to be good enough."""
        self._stands[list(rows)] = False

    def takes_what_overloads(self) -> bool:
        """Let in what overloads a joint, for each demand that nothing else is left for; whether there was any."""
        more = False
        for number in range(len(self._question.demands)):
            mine = np.isin(self._source, [n for n, source in enumerate(self._sources) if source.demand == number])
            waiting = mine & self._had & self._over
            if waiting.any() and not (mine & self._stands).any():
                self._stands |= waiting
                self._had &= ~waiting
                more = True
        return more

    def candidates(self) -> list[list[Candidate]]:
        """What is left for each demand, once no piece is left that another one replaces everywhere."""
        left = np.flatnonzero(self._stands)
        if len(left) > _MANY:
            left = left[self._is_needed(left)]
        while True:
            gone = self._replaced(left)
            if not gone:
                break
            left = left[~np.isin(self._numbers[left], gone).any(axis=1)]
        all_candidates: list[list[Candidate]] = [[] for _ in self._question.demands]
        for row in left.tolist():
            candidate = self._made.get(row) or self._make(row)
            all_candidates[self._sources[self._source[row]].demand].append(candidate)
        return all_candidates

    def _is_needed(self, rows: Ints) -> Bools:
        """Not needed is a chain that holds a piece which alone would do, and what is bought where nothing has to be."""
        numbers = self._numbers[rows]
        demand = np.array([source.demand for source in self._sources])[self._source[rows]]
        plain = np.array([not source.extra for source in self._sources])[self._source[rows]]
        single = (numbers >= 0).sum(axis=1) == 1
        # What each demand can do with a single piece; the last column is of an empty place.
        alone = np.zeros((len(self._question.demands), len(self._groups) + 1), dtype=np.bool_)
        ones = plain & single
        alone[demand[ones], numbers[ones].max(axis=1, initial=-1)] = True
        alone[:, -1] = False
        needed: Bools = single | ~alone[demand[:, np.newaxis], numbers].any(axis=1)
        if self._question.carry_g is None and not (
            self._question.together or any(want.at_once for want in self._question.demands)
        ):
            free = np.zeros(len(self._groups) + 1, dtype=np.bool_)
            free[[number for number, offer in self._offers.items() if offer.free] + [-1]] = True
            costless = plain & free[numbers].all(axis=1)
            served = np.zeros(len(self._question.demands), dtype=np.bool_)
            served[demand[costless]] = True
            needed &= costless | ~served[demand]
        return needed

    def _make(self, row: int) -> Candidate:
        source = self._sources[self._source[row]]
        chain = source.table.chain(int(self._row[row]))
        pieces = (*(group.first.id for group in chain), *source.extra)
        promised = int(self._promised[row])
        over = bool(self._over[row])
        candidate = Candidate(row, source.world, source.lens, source.body, chain, pieces, promised, over)
        if self._sure[row]:
            candidate.known, candidate.grade = True, GRADES[promised]
        self._made[row] = candidate
        return candidate

    def _replaced(self, rows: Ints) -> list[int]:
        """Groups that are not needed, since another one does all that they do, for no more money and weight."""
        numbers, source = self._numbers[rows], self._source[rows]
        # A piece that occurs twice in a chain is not exchanged there.
        ordered = np.sort(numbers, axis=1)
        twice = ((ordered[:, 1:] == ordered[:, :-1]) & (ordered[:, 1:] >= 0)).any(axis=1)
        firm = set(np.unique(numbers[twice]).tolist())
        once, source = numbers[~twice], source[~twice]
        places, pieces, contexts = [], [], []
        for place in range(once.shape[1]):
            has = once[:, place] >= 0
            rest = once[has].copy()
            pieces.append(rest[:, place].copy())
            rest[:, place] = -2
            places.append(np.full(int(has.sum()), place))
            contexts.append(np.column_stack([source[has], rest]))
        if not pieces or not sum(map(len, pieces)):
            return []
        piece, context = np.concatenate(pieces), _numbered(np.concatenate(contexts))
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


def _promising(
    world: World, pair: Pairs, table: ChainTable, demand: Demand, question: PlanQuestion, *, certain: bool
) -> tuple[Ints, Limits, Bools]:
    """The chains of a pair that could be good enough, with what bounds them and whether they overload a joint.

    First single pieces: a longer chain with one of which it is ``certain`` that it does alone is not looked at, for it
    takes more of everything and meets no more.
    """

    def looked(rows: Ints) -> tuple[Ints, Limits, Bools]:
        # To take most of a table out of it takes longer than to bound it all; the one pair stands beside every row.
        most = 2 * len(rows) > len(table)
        limits = bounds_of(table, pair).of(rows) if most else bounds_of(table.of(rows), pair)
        good = limits.bounds >= rank(demand.grade)
        return rows[good], limits.of(good), overloaded_in(world, table, rows[good], pair)

    short = table.pieces <= 1
    ones = looked(np.flatnonzero(short))
    alone = np.zeros(len(table.groups) + 1, dtype=np.bool_)
    for number in table.numbers[ones[0][ones[1].sure & ~ones[2]], :1].ravel().tolist() if certain else ():
        if number >= 0:
            offer = group_offer(table.groups[number], question)
            alone[number] = offer.owned > 0 or offer.price is not None
    others = looked(np.flatnonzero(~short & ~alone[table.numbers].any(axis=1)))
    both = [np.concatenate([mine, more]) for mine, more in zip(ones[1], others[1], strict=True)]
    return np.concatenate([ones[0], others[0]]), Limits(*both), np.concatenate([ones[2], others[2]])


def _numbered(rows: Ints) -> Ints:
    """A number for each different row."""
    found = np.zeros(len(rows), dtype=np.int64)
    for column in rows.T:
        _, column_number = np.unique(column, return_inverse=True)
        _, found = np.unique(found * (int(column_number.max(initial=0)) + 1) + column_number, return_inverse=True)
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
