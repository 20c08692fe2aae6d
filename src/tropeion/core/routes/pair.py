"""A pair judged over all its routes, before they are written out."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from tropeion.core import catalogue, findings, words, written
from tropeion.core.findings import rank, works
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import part_of
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import is_unlisted
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.optics import register
from tropeion.core.optics.seats import cancels, seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.rig.reporting import report_on
from tropeion.core.rig.rig_report import MountChange, Route, WouldNeed
from tropeion.core.rig.section import Section, section_apart
from tropeion.core.rig.would_need import what_would_be_needed
from tropeion.core.working import PLAIN, Calc

from .bounds import Limits, bounds_of
from .chain_table import ChainTable, ways_in
from .chains import Chain, ways
from .pair_columns import pairs_of
from .promising import to_judge
from .ranking import Merit, gives_up, hoped_for, is_used, merit_of, preference, unbeaten
from .standings import StandingGrade, level_of
from .table import count_ways, table_of
from .unlisted_ways import unlisted_if_better

# At most this many routes are reported; the rest are counted.
MOST_ROUTES = 60
MOST_WARNINGS = 4


@frozen
class Judged:
    """A chain of groups, assessed by its handiest pieces; of pieces that were asked for by name there are no groups."""

    chain: Chain
    assessment: Assessment
    merit: Merit

    @classmethod
    def of(cls, assessment: Assessment, chain: Chain = ()) -> Judged:
        return cls(chain, assessment, merit_of(assessment))

    @property
    def adapters(self) -> tuple[Adapter, ...]:
        return self.assessment.rig.adapters

    @property
    def interchangeable(self) -> tuple[tuple[str, ...], ...]:
        """For each piece, the ids of those that could take its place without changing anything but the price."""
        return tuple(tuple(member.id for member in group.members) for group in self.chain)

    def report(self, best: Judged, *, detailed: bool) -> Route:
        """The route in full, told from the best one."""
        return replace(
            report_on(self.assessment, detailed=detailed),
            interchangeable=self.interchangeable,
            stands_for=ways(self.chain),
            gives_up=gives_up(self.assessment, best.assessment),
        )


@frozen
class Ranked:
    """The chains of a pair that are told, best first; how many chains of pieces were folded, and not looked at."""

    judged: tuple[Judged, ...]
    total: int = 1
    folded: int = 0
    not_judged: int = 0

    @property
    def told(self) -> tuple[Judged, ...]:
        """Those that are written out."""
        return self.judged[:MOST_ROUTES]

    @property
    def left_out(self) -> int:
        return len(self.judged) - len(self.told)


@frozen
class _Listed:
    """The chains of a pair before they are judged: ``rows`` are those that are, the most promising first."""

    world: World
    lens: Lens
    body: Body
    practice: Practice
    table: ChainTable
    limits: Limits
    rows: Sequence[int]

    def judged(self, row: int) -> Judged:
        pieces = self.table.adapters(row)
        return Judged.of(assess(self.world, self.lens, pieces, self.body, self.practice), self.table.chain(row))

    def hope(self, row: int) -> tuple[float, ...]:
        """How far a chain could be preferred: no chain turns out to be preferred to this."""
        table, grade = self.table, findings.GRADES[int(self.limits.bounds[row])]
        owned, price = not table.to_buy[row], float(table.price[row])
        hoped = hoped_for(grade, int(table.pieces[row]), owned=owned, price=price)
        return preference(hoped, self.practice)


def _listed(world: World, lens_id: str, body_id: str, practice: Practice) -> _Listed:
    lens, body = world.lenses[lens_id], world.bodies[body_id]
    table = table_of(world, lens, body, int(practice.pieces))
    found = bounds_of(table, pairs_of(world, [(lens, body)], practice))
    limits = Limits(*(column[0] for column in found))
    rows: list[int] = to_judge(table, limits.bounds, limits.sure, practice).tolist()
    return _Listed(world, lens, body, practice, table, limits, rows)


def _unfolded(options: Sequence[Judged], practice: Practice) -> list[Judged]:
    """Those that no other makes superfluous, the preferred first."""
    stays = unbeaten([option.merit for option in options])
    return _in_order([option for option, stay in zip(options, stays, strict=True) if stay], practice)


def _in_order(options: Sequence[Judged], practice: Practice) -> list[Judged]:
    return sorted(options, key=lambda option: preference(option.merit, practice))


@kept(most=24)
def ranked(world: World, lens_id: str, body_id: str, practice: Practice, everything: bool) -> Ranked:
    """The chains that no other beats in everything, or all of them, of those that are judged."""
    listed = _listed(world, lens_id, body_id, practice)
    table = listed.table
    # Chains that cannot work are folded by the first that surely does.
    hopeless = (listed.limits.bounds <= rank("none")) & (table.pieces > 1) & (not everything)
    told = np.zeros(len(table), dtype=np.bool_)
    something = False
    judged: list[Judged] = []
    for row in listed.rows:
        told[row] = True
        if something and hopeless[row]:
            continue
        judged.append(listed.judged(row))
        something |= _surely_works(judged[-1])
    told |= hopeless & something
    looked_at = int(ways_in(table.of(told)).sum())
    judged = _in_order(judged, practice) if everything else _unfolded(judged, practice)
    total = count_ways(world, listed.lens, listed.body, int(practice.pieces))
    return Ranked(
        tuple(judged),
        total=total,
        folded=looked_at - sum(ways(option.chain) for option in judged),
        not_judged=total - looked_at,
    )


def _surely_works(option: Judged) -> bool:
    return works(option.merit.grade) and not option.merit.unsure


@frozen
class First:
    """The chain of a pair that is told first, if there is any, and those beside it that must not be put on."""

    best: Judged | None
    dangers: tuple[Judged, ...]


@kept(most=100)
def first_of(world: World, lens_id: str, body_id: str, practice: Practice) -> First:
    """The first of what :func:`ranked` tells, and the dangerous ones of the others, without judging them all.

    What is preferred to the best that another chain may turn out to be is preferred to that chain. Nothing that could
    fold the first is left out: whatever is at least as good in everything could be preferred to it as well.
    """
    best = None if practice.purpose == "close_up" else _first_of(world, lens_id, body_id, practice)
    if best is None:
        # Where nothing surely works all are told of; how close a chain gets only its judgement says.
        found = ranked(world, lens_id, body_id, practice, False).judged
        best = First(found[0] if found else None, _dangers(found[1:]))
    return best


def _first_of(world: World, lens_id: str, body_id: str, practice: Practice) -> First | None:
    """The same, where something surely works."""
    listed = _listed(world, lens_id, body_id, practice)
    hopes = deque(sorted((listed.hope(row), row) for row in listed.rows))
    judged: dict[int, Judged] = {}

    def preferred(row: int) -> tuple[float, ...]:
        if row not in judged:
            judged[row] = listed.judged(row)
        return preference(judged[row].merit, practice)

    # Whether a single piece breaks something is told whatever comes first.
    safe = listed.limits.sure & (listed.limits.bounds > rank("danger"))
    single = [row for row in listed.rows if listed.table.pieces[row] <= 1 and not safe[row]]
    least = min(map(preferred, single), default=(math.inf,))
    while True:
        while hopes and hopes[0][0] <= least:
            least = min(least, preferred(hopes.popleft()[1]))
        options = _unfolded([judged[row] for row in listed.rows if row in judged], practice)
        if not options or not _surely_works(options[0]):
            return None
        least = preference(options[0].merit, practice)
        # What came first may be folded by what is as good in everything: then more could come before what is left.
        if not hopes or hopes[0][0] > least:
            return First(options[0], _dangers(options[1:]))


def _dangers(options: Sequence[Judged]) -> tuple[Judged, ...]:
    return tuple(option for option in options if option.merit.grade == "danger")


def along(world: World, lens: Lens, via: Sequence[str], body: Body, practice: Practice) -> Ranked:
    """The one chain that was asked for, whatever it is. Raises UnknownIdError for an id that is not there."""
    assessment = assess(world, lens, tuple(world.adapter(id_) for id_ in via), body, practice)
    return Ranked((Judged.of(assessment),))


@frozen
class PairTold:
    """What is told of a pair beside its routes, as ``MatchReport`` tells it.

    ``used`` are the ids of all adapters that are told of.
    """

    gap_mm: float | None
    sentence: str
    would_need: tuple[WouldNeed, ...]
    warnings: tuple[str, ...]
    changes: tuple[MountChange, ...]
    apart: Section | None
    unlisted: Judged | None
    works: bool
    used: tuple[str, ...]


def told_of(
    world: World, lens: Lens, body: Body, found: Ranked, first: Route | None, practice: Practice, *, one: bool
) -> PairTold:
    """What is told of a pair beside its routes, of which ``first`` is the first in full.

    Of ``one`` chain that was asked for nothing is told but itself.
    """
    options = found.told
    unlisted = None if one else _unlisted(world, lens, body, practice, options)
    gap = gap_mm(world, lens, body)
    warnings = () if one else (*warnings_of(world, options), *binding(world, lens, body))
    reaches = any(
        not option.merit.unsure and findings.rank(option.merit.grade) > findings.rank("close_up") for option in options
    )
    needs = () if reaches or one else what_would_be_needed(world, lens, body, practice)
    nothing = _nothing_fits(lens, body, gap, len(needs) > 0)
    if unlisted is not None:
        ring = next(adapter for adapter in unlisted.adapters if is_unlisted(adapter.id))
        nothing = f"Nothing in the collection joins {lens.name} to {body.name}. It fits with: {ring.name}, not listed."
    used = {id_ for option in options for ids in option.interchangeable for id_ in ids}
    used |= {adapter.id for option in (*options, *([unlisted] if unlisted else [])) for adapter in option.adapters}
    return PairTold(
        gap_mm=gap,
        sentence=first.sentence if first else " ".join([*warnings, nothing]),
        would_need=needs,
        warnings=warnings,
        changes=tuple(change for id_ in (lens.id, body.id) for change in _changes(world, id_)),
        apart=None if options else section_apart(world, lens, body, practice.use),
        unlisted=unlisted,
        works=any(is_used(option.merit) for option in options),
        used=tuple(sorted(used)),
    )


def _unlisted(world: World, lens: Lens, body: Body, practice: Practice, options: Sequence[Judged]) -> Judged | None:
    """The route with a ring that is not listed, where none of those that are listed is as good."""
    levels = [level_of(option.merit.grade, surely=not option.merit.unsure) for option in options]
    unlisted = unlisted_if_better(world, lens, body, StandingGrade(max(levels, default=-1)), practice)
    return None if unlisted is None else Judged.of(unlisted.judged)


def _changes(world: World, id_: str) -> tuple[MountChange, ...]:
    """What has to be changed first, for an item that is judged with another mount or plate."""
    changes = world.change_of(id_)
    if changes is None:
        return ()
    item, swap = changes
    if isinstance(item, Lens) and item.mount is None:
        text = f"{item.name} has no mount: it is held in {world.mounts[swap.mount].name}, which has to be made for it."
        return (MountChange(text, swap.price, swap.minutes),)
    part = part_of(item)
    effort = [swap.tools, f"{swap.minutes} minutes" if swap.minutes is not None else ""]
    text = f"First the {part} of {item.name} is changed to {world.mounts[swap.mount].name}"
    said = ", ".join(name for name in effort if name)
    return (MountChange(f"{text}{f' ({said})' if said else ''}; it can be undone.", swap.price, swap.minutes),)


def binding(world: World, lens: Lens, body: Body) -> tuple[str, ...]:
    """Threads of one diameter and two pitches, between the pair itself or a ring that leads to this body."""
    front, rear = world.mount_of(lens), world.mount_of(body)
    made = world.change_of(lens.id)
    # What is made for a thread is cut to it.
    if front.thread is None or (made is not None and made[0].mount is None):
        return ()
    names = []
    if front.binds_in(rear):
        names.append(catalogue.thread_binds(body.id, front=lens.name, rear=body.name).headline)
    for adapter in world.gear.adapters:
        arrives = world.mounts[adapter.body_mount].joint == rear.joint
        if arrives and not adapter.retired and front.binds_in(world.mounts[adapter.lens_mount]):
            names.append(catalogue.thread_binds(adapter.id, front=lens.name, rear=adapter.name).headline)
    return tuple(names[:MOST_WARNINGS])


def warnings_of(world: World, options: Sequence[Judged]) -> list[str]:
    """What must not be done, though another route is shown first."""
    return [_warning(world, report_on(danger.assessment, detailed=False)) for danger in _dangers(options)]


def _warning(world: World, route: Route) -> str:
    how = " + ".join(world.adapters[id_].name for id_ in route.adapters) or "Without an adapter"
    return f"{how}: {route.sentence}"


def gap_mm(world: World, lens: Lens, body: Body, calc: Calc = PLAIN) -> float | None:
    """Room between a lens and a body; None where a register is not known."""
    front, rear = world.mount_of(lens), world.mount_of(body)
    seats = seat_of(lens, front), seat_of(body, rear)
    if not (all(seat.known for seat in seats) or cancels(*seats, one_mount=front is rear)):
        return None
    ends = (seat.register_mm for seat in seats)
    return calc(register.gap_mm, *ends)


def _nothing_fits(lens: Lens, body: Body, gap: float | None, needed: bool) -> str:
    said = f"Nothing in the collection joins {lens.name} to {body.name}."
    distances = f"{words.word('flange_focal_distance')}s"
    if gap is None:
        return f"{said} Whether a ring could is not known, and nor is one of their {distances}."
    if gap > 0:
        said += f" Between their {distances} there is room for {written.millimetres(gap)}."
    elif gap < 0:
        said += f" The lens needs {written.millimetres(gap)} less than the body has: no plain ring can do it."
    else:
        said += f" Their {distances} are equal: a ring would have no length."
    return said if needed else said + " Nothing known here would."
