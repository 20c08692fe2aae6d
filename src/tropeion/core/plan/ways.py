"""By which chains each demand of a plan can be met: all that may matter for its cost, and judged where they do."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from tropeion.core.findings import GRADES, Grade, rank
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import SwappableMount
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.plates import plate_id, with_plates
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.routes.bounds import bounds_of, prospect_of
from tropeion.core.routes.chains import Chain
from tropeion.core.routes.table import table_of

from .market import cents, group_offer, offer_of
from .question import Demand, PlanQuestion
from .reduce import needed_ways
from .task import Offer, Task, Want, Way, uses_of

__all__ = ["Candidate", "Copy", "Ways", "chance_of", "copies_for", "ways_of"]

# So many chains are judged at once rather than one after the other has turned out to be needed.
_JUDGED_AT_ONCE = 1500


@dataclass(frozen=True, slots=True)
class Copy:
    """One copy of an adapter, at hand or to be bought."""

    id: str
    bought: bool


@dataclass(slots=True, eq=False)
class Candidate:
    """A chain that may meet a demand. ``promised`` is the best that it can come to; ``grade`` what it does, once known.

    ``fine``: it is as good as was asked, so far as is known.
    """

    world: World
    lens: Lens
    body: Body
    chain: Chain
    pieces: tuple[str, ...]
    promised: int
    grade: Grade | None = None
    probability: float | None = None
    known: bool = False
    fine: bool = True

    def judge(self, demand: Demand, practice: Practice) -> None:
        """Find out what it comes to, and how likely it reaches infinity."""
        if self.probability is not None:
            return
        chain = tuple(group.first for group in self.chain)
        assessed = assess(self.world, self.lens, chain, self.body, practice)
        self.known, self.grade, self.probability = True, assessed.grade, chance_of(assessed)
        self.fine = meets(assessed, demand, practice)


def chance_of(assessed: Assessment) -> float:
    """How likely infinity is, at the worse end of a zoom; nothing where that is not known."""
    return min(end.infinity.probability or 0.0 for end in assessed.ends)


def meets(assessed: Assessment, demand: Demand, practice: Practice) -> bool:
    """Whether a rig is as good as was asked, and of a kind that its owner uses."""
    if assessed.unsure or rank(assessed.grade) < rank(demand.grade):
        return False
    if demand.probability and chance_of(assessed) < demand.probability:
        return False
    rig = assessed.rig
    unknown_zoom = rig.lens.is_zoom and bool(rig.adapters) and rig.signal.broken_at is not None
    return not (unknown_zoom and practice.zooms == "avoid")


@dataclass(slots=True)
class Ways:
    """The candidates of each demand, and the offers of all pieces that they are made of.

    ``groups`` are the adapters that stand behind a piece of a plan: interchangeable, those at hand first.
    """

    demands: tuple[Demand, ...]
    candidates: list[list[Candidate]]
    offers: dict[str, Offer]
    groups: dict[str, Chain] = field(default_factory=dict)

    def task(self, question: PlanQuestion) -> tuple[Task, list[list[Candidate]]]:
        """The bare task, and the candidate behind each of its ways."""
        fine = [[one for one in some if one.fine] for some in self.candidates]
        wants = tuple(
            Want(
                name=str(number),
                holder=demand.lens,
                ways=tuple(_way(one) for one in some),
                moment="at once" if demand.at_once else "",
            )
            for number, (demand, some) in enumerate(zip(self.demands, fine, strict=True))
        )
        budget = None if question.budget is None else cents(question.budget)
        return Task(wants, self.offers, question.together, budget, question.carry_g), fine


def _way(one: Candidate) -> Way:
    grade = one.promised if one.grade is None else rank(one.grade)
    return Way(uses_of(one.pieces), grade, 1.0 if one.probability is None else one.probability)


def ways_of(world: World, question: PlanQuestion, practice: Practice) -> Ways:
    """Every way that may matter, judged: what is left out or still unjudged cannot make a plan cheaper.

    The best that a chain can come to is known before it is judged. Of what the cheapest plans could be made of, all is
    judged; what fails is taken away, until nothing does.
    """
    found = Ways(question.demands, [], {})
    for demand in question.demands:
        found.candidates.append(list(_candidates(world, demand, question, practice, found)))
    while True:
        task, fine = found.task(question)
        unknown = [
            (one, demand)
            for demand, some in zip(question.demands, found.candidates, strict=True)
            for one in some
            if one.fine and not one.known
        ]
        if len(unknown) > _JUDGED_AT_ONCE:
            kept = needed_ways(task)
            unknown = [
                (fine[number][place], question.demands[number])
                for number, places in enumerate(kept)
                for place in places
                if not fine[number][place].known
            ]
        failed = False
        for one, demand in unknown:
            one.judge(demand, practice)
            failed = failed or not one.fine
        if not failed:
            return found


def _candidates(
    world: World, demand: Demand, question: PlanQuestion, practice: Practice, found: Ways
) -> Iterator[Candidate]:
    """The chains of a demand that could be good enough, by their lengths and contacts."""
    if world.lens(demand.lens).mount is None:
        return
    least = rank(demand.grade)
    certain = not demand.probability and practice.zooms == "use"
    for lens_id, lens_extra in _variants(world, demand, question, found, demand.lens):
        for body_id in demand.bodies:
            for changed_id, body_extra in _variants(world, demand, question, found, body_id):
                there = with_plates(world, lens_id, changed_id)
                lens, body = there.lenses[lens_id], there.bodies[changed_id]
                table = table_of(there, lens, body, int(practice.pieces))
                if not len(table):
                    continue
                bounds, sure = bounds_of(table, [prospect_of(there, lens, body, practice)])
                extra = (*lens_extra, *body_extra)
                for index in np.flatnonzero(bounds[0] >= least):
                    chain = table.chain(int(index))
                    if any(_put(found, question, chain, number) for number in range(len(chain))):
                        continue
                    pieces = (*(group.first.id for group in chain), *extra)
                    promised = int(bounds[0][index])
                    one = Candidate(there, lens, body, chain, pieces, promised)
                    if certain and sure[0][index]:
                        one.known, one.grade = True, GRADES[promised]
                    yield one


def _put(found: Ways, question: PlanQuestion, chain: Chain, number: int) -> bool:
    """Take a group up among the offers; True where it can never be had."""
    group = chain[number]
    key = group.first.id
    if key not in found.offers:
        found.offers[key] = group_offer(group, question)
        found.groups[key] = (group,)
    offer = found.offers[key]
    return not offer.owned and offer.price is None


def _variants(
    world: World, demand: Demand, question: PlanQuestion, found: Ways, id_: str
) -> Iterator[tuple[str, tuple[str, ...]]]:
    """A lens or body as it is, and with each of its other mounts; with the pieces that are counted for it."""
    item: Lens | Body = world.lens(id_) if id_ == demand.lens else world.body(id_)
    kind = "lens" if isinstance(item, Lens) else "body"
    own: tuple[str, ...] = ()
    if id_ in question.buy or id_ in question.sell or demand.at_once:
        key = f"{kind}:{id_}"
        # What is carried are the pieces between.
        offer = replace(offer_of([item], question, stays=False), mass_g=0.0)
        if id_ not in question.buy:
            offer = Offer(None, max(1, offer.owned), offer.sellable, offer.resale, offer.mass_g, stays=False)
        found.offers[key] = offer
        own = (key,)
    yield id_, own
    for swap in item.swappable_mounts:
        changed = plate_id(item, swap.mount)
        if changed is not None:
            key = f"mount:{changed}"
            found.offers[key] = _plate(swap)
            yield changed, (*own, key)


def _plate(swap: SwappableMount) -> Offer:
    """Another mount of one piece; what nobody priced cannot be bought."""
    return Offer(None if swap.price is None else cents(swap.price), stays=False, mass_g=0.0)


def copies_for(one: Candidate, there: Mapping[str, Sequence[Copy]]) -> tuple[Copy, ...]:
    """The copies that a chain is made of, from the lens to the body: the first of those that are there."""
    left = {piece: list(copies) for piece, copies in there.items()}
    return tuple(left[group.first.id].pop(0) for group in one.chain)
