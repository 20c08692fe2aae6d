"""A pair and its routes, best first; the working of one route."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from tropeion.core import catalogue, findings, words, written
from tropeion.core.findings import rank, works
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import part_of
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import is_unlisted
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.optics import register
from tropeion.core.optics.seats import cancels, seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.rig.pieces import piece_of
from tropeion.core.rig.reporting import judge, report_on
from tropeion.core.rig.rig_report import MatchReport, MountChange, Route
from tropeion.core.rig.section import section_apart
from tropeion.core.rig.would_need import what_would_be_needed
from tropeion.core.working import PLAIN, Calc, Step, Working

from .bounds import bounds_of, pairs_of
from .chain_table import ways_in
from .chains import Chain, ways
from .promising import to_judge
from .ranking import Merit, gives_up, merit_of, preference, serves, unbeaten
from .standings import StandingGrade, level_of
from .table import count_ways, table_of
from .unlisted_ways import unlisted_if_better

# At most this many routes are reported; the rest are counted.
MOST_ROUTES = 60
MOST_WARNINGS = 4


def _used(routes: Sequence[Route]) -> list[str]:
    """The ids of all adapters that are told of."""
    said = (ids for route in routes for ids in (route.adapters, *route.interchangeable))
    return sorted({id_ for ids in said for id_ in ids})


def match(
    world: World,
    lens_id: str,
    body_id: str,
    practice: Practice | None = None,
    via: Sequence[str] | None = None,
    *,
    everything: bool = False,
    detailed: bool = True,
) -> MatchReport:
    """Judge a pair over all its routes, or over the one chain ``via`` (lens to body; empty: bare).

    Routes that another beats in everything are folded, unless ``everything`` is asked for. Without ``detailed`` only
    the first route is told with its functions and steps. Raises UnknownIdError for an id that is not in the collection.
    """
    practice = practice or Practice()
    lens, body = world.lens(lens_id), world.body(body_id)
    total = folded = left_out = not_judged = 0
    if via is None:
        ranked = _ranked(world, lens.id, body.id, practice, everything)
        total = count_ways(world, lens, body, int(practice.pieces))
        folded, not_judged = ranked.folded, ranked.not_judged
        left_out = max(0, len(ranked.judged) - MOST_ROUTES)
        routes = list(_written(world, lens.id, body.id, practice, everything, detailed))
    else:
        total = 1
        routes = [judge(world, lens, tuple(world.adapter(id_) for id_ in via), body, practice)]
    if routes:
        routes = [replace(route, gives_up=gives_up(route, routes[0])) for route in routes]
    unlisted = None if via is not None else _unlisted(world, lens, body, practice, routes)
    gap = _gap_mm(world, lens, body)
    warnings = tuple(_warning(world, route) for route in routes if route.grade == "danger" and via is None)
    if via is None:
        warnings += binding(world, lens, body)
    reaches = any(route.surely and findings.rank(route.grade) > findings.rank("close_up") for route in routes)
    needs = () if reaches or via is not None else what_would_be_needed(world, lens, body, practice)
    nothing = _nothing_fits(lens, body, gap, len(needs) > 0)
    if unlisted is not None:
        ring = next(world.adapters[id_] for id_ in unlisted.adapters if is_unlisted(id_))
        nothing = f"Nothing in the collection joins {lens.name} to {body.name}. It fits with: {ring.name}, not listed."
    used = _used([*routes, unlisted] if unlisted else routes)
    items: list[Lens | Adapter | Body] = [lens, *(world.adapters[id_] for id_ in used), body]
    return MatchReport(
        lens=lens.id,
        body=body.id,
        gap_mm=gap,
        sentence=routes[0].sentence if routes else " ".join([*warnings, nothing]),
        routes=tuple(routes),
        total=total,
        folded=folded,
        left_out=left_out,
        not_judged=not_judged,
        would_need=needs,
        warnings=warnings,
        changes=tuple(change for id_ in (lens.id, body.id) for change in _changes(world, id_)),
        apart=None if routes else section_apart(world, lens, body, practice.use),
        unlisted=unlisted,
        works=any(serves(route) for route in routes),
        pieces={item.id: piece_of(world, item) for item in items},
        currency=world.gear.currency,
        practice=practice,
    )


def _unlisted(world: World, lens: Lens, body: Body, practice: Practice, routes: Sequence[Route]) -> Route | None:
    """The route with a ring that is not listed, where none of those that are listed is as good."""
    levels = [level_of(route.grade, surely=route.surely) for route in routes]
    unlisted = unlisted_if_better(world, lens, body, StandingGrade(max(levels, default=-1)), practice)
    return None if unlisted is None else judge(world, lens, unlisted.chain, body, practice)


@dataclass(frozen=True, slots=True)
class _Judged:
    """A chain of groups, assessed by its handiest pieces."""

    chain: Chain
    assessment: Assessment
    merit: Merit

    def report(self, *, detailed: bool) -> Route:
        return replace(
            report_on(self.assessment, detailed=detailed),
            interchangeable=tuple(tuple(member.id for member in group.members) for group in self.chain),
            stands_for=ways(self.chain),
        )


@dataclass(frozen=True, slots=True)
class _Ranked:
    """The chains of a pair that are told, best first; how many chains of pieces were folded, and not looked at."""

    judged: tuple[_Judged, ...]
    folded: int
    not_judged: int


@kept(most=24)
def _ranked(world: World, lens_id: str, body_id: str, practice: Practice, everything: bool) -> _Ranked:
    """The chains that no other beats in everything, or all of them, of those that are judged."""
    lens, body = world.lenses[lens_id], world.bodies[body_id]
    table = table_of(world, lens, body, int(practice.pieces))
    bounds, sure, _ = bounds_of(table, pairs_of(world, [(lens, body)], practice))
    # Chains that cannot work are folded by the first that surely does.
    hopeless = (bounds[0] <= rank("none")) & (table.pieces > 1) & (not everything)
    told = np.zeros(len(table), dtype=np.bool_)
    something = False
    judged: list[_Judged] = []
    for index in to_judge(table, bounds[0], sure[0], practice).tolist():
        told[index] = True
        if something and hopeless[index]:
            continue
        assessment = assess(world, lens, table.adapters(index), body, practice)
        all_judged = _Judged(table.chain(index), assessment, merit_of(assessment))
        judged.append(all_judged)
        something |= works(all_judged.merit.grade) and not all_judged.merit.unsure
    told |= hopeless & something
    looked_at = ways_in(table.of(told)).sum()
    if not everything:
        stays = unbeaten([option.merit for option in judged])
        judged = [option for option, stay in zip(judged, stays, strict=True) if stay]
    total = count_ways(world, lens, body, int(practice.pieces))
    return _Ranked(
        tuple(sorted(judged, key=lambda judged: preference(judged.merit, practice))),
        folded=int(looked_at) - sum(ways(option.chain) for option in judged),
        not_judged=total - int(looked_at),
    )


@kept(most=24)
def _written(
    world: World, lens_id: str, body_id: str, practice: Practice, everything: bool, detailed: bool
) -> tuple[Route, ...]:
    """The routes of a pair that are written out in full."""
    judged = _ranked(world, lens_id, body_id, practice, everything).judged[:MOST_ROUTES]
    return tuple(option.report(detailed=detailed or number == 0) for number, option in enumerate(judged))


def best_route(world: World, lens: Lens, body: Body, practice: Practice) -> tuple[Route | None, tuple[str, ...]]:
    """The first of a pair's routes, in full (None if nothing joins them), and warnings of what must not be done."""
    judged = _ranked(world, lens.id, body.id, practice, False).judged
    warnings = [option.report(detailed=False) for option in judged[1:] if option.merit.grade == "danger"]
    said = (*(_warning(world, route) for route in warnings), *binding(world, lens, body))
    return judged[0].report(detailed=False) if judged else None, said


def show_working(world: World, rig: Rig, practice: Practice | None = None) -> tuple[Step, ...]:
    """The working of every number of one route, in the order of computation.

    Raises UnknownIdError for an id that is not in the collection.
    """
    lens, chain, body = world.pieces_of(rig)
    working = Working()
    _gap_mm(world, lens, body, working)
    judge(world, lens, chain, body, practice or Practice(), working)
    return tuple(working.steps)


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


def _gap_mm(world: World, lens: Lens, body: Body, calc: Calc = PLAIN) -> float | None:
    """Room between a lens and a body; None where a register is not known."""
    front, rear = world.mount_of(lens), world.mount_of(body)
    seats = seat_of(lens, front), seat_of(body, rear)
    if not (all(seat.known for seat in seats) or cancels(*seats, one_mount=front is rear)):
        return None
    ends = (seat.register_mm for seat in seats)
    return calc(register.gap_mm, *ends)


def _warning(world: World, route: Route) -> str:
    """What must not be done, though another route is shown first."""
    how = " + ".join(world.adapters[id_].name for id_ in route.adapters) or "Without an adapter"
    return f"{how}: {route.sentence}"


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
