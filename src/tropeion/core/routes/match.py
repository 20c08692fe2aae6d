"""A pair and its routes, best first; the working of one route."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tropeion.core import findings, words
from tropeion.core.gear.gear import Adapter, Body, Lens
from tropeion.core.gear.world import World
from tropeion.core.optics import register
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess, judge, report_on
from tropeion.core.rig.report import MatchReport, Piece, Route
from tropeion.core.rig.section import stations_apart
from tropeion.core.rig.would_need import what_would_be_needed
from tropeion.core.working import Step, Working

from .bounds import bounds_of, costs_of, promise_of, prospect_of
from .chains import Chain, ways
from .ranking import Merit, beats, gives_up, merit_of, preference, unbeaten
from .table import count_ways, outlines_of

__all__ = ["MOST_ROUTES", "best_route", "match", "piece_of", "show_working"]

# So many routes are written out in full; the rest is counted.
MOST_ROUTES = 60


def match(
    world: World,
    lens_id: str,
    body_id: str,
    practice: Practice | None = None,
    via: Sequence[str] | None = None,
    *,
    everything: bool = False,
) -> MatchReport:
    """Judge a pair over all its routes, or over the one chain ``via`` (lens to body; empty: bare).

    Routes that another beats in everything are folded, unless ``everything`` is asked for. Raises UnknownIdError for
    an id that is not in the collection.
    """
    practice = practice or Practice()
    lens, body = world.lens(lens_id), world.body(body_id)
    total = folded = 0
    if via is None:
        judged = _ranked(world, lens, body, practice, everything=everything)
        total = count_ways(world, lens, body, int(practice.pieces))
        folded = total - sum(ways(one.chain) for one in judged)
        routes = [one.report() for one in judged[:MOST_ROUTES]]
    else:
        total = 1
        routes = [judge(world, lens, tuple(world.adapter(id_) for id_ in via), body, practice)]
    if routes:
        routes = [replace(route, gives_up=gives_up(route, routes[0])) for route in routes]
    gap = register.gap_mm(
        register.seat_of(lens, world.mounts[lens.mount]).register_mm,
        register.seat_of(body, world.mounts[body.mount]).register_mm,
    )
    warnings = tuple(_warning(world, route) for route in routes if route.grade == "danger" and via is None)
    reaches = any(findings.rank(route.grade) > findings.rank("close_up") for route in routes)
    needs = () if reaches or via is not None else what_would_be_needed(world, lens, body, practice)
    used = {id_ for route in routes for id_ in (*route.adapters, *(i for ids in route.interchangeable for i in ids))}
    items: list[Lens | Adapter | Body] = [lens, *(world.adapters[id_] for id_ in sorted(used)), body]
    return MatchReport(
        lens=lens.id,
        body=body.id,
        gap_mm=gap,
        sentence=routes[0].sentence if routes else _nothing_fits(lens, body, gap, len(needs) > 0),
        routes=tuple(routes),
        total=total,
        folded=folded,
        would_need=needs,
        warnings=warnings,
        apart=() if routes else stations_apart(world, lens, body, practice.use),
        pieces={item.id: piece_of(world, item) for item in items},
        currency=world.gear.currency,
        practice=practice,
    )


@dataclass(frozen=True, slots=True)
class _Judged:
    """A chain of groups, assessed by its handiest pieces."""

    chain: Chain
    assessment: Assessment
    merit: Merit

    def report(self) -> Route:
        return replace(
            report_on(self.assessment),
            interchangeable=tuple(tuple(member.id for member in group.members) for group in self.chain),
            stands_for=ways(self.chain),
        )


def _ranked(world: World, lens: Lens, body: Body, practice: Practice, *, everything: bool = False) -> list[_Judged]:
    """The chains that no other beats in everything, or all of them, best first.

    A chain whose promise is beaten by one that has been judged is not judged at all.
    """
    judged: list[_Judged] = []
    prospect = prospect_of(world, lens, body, practice)
    outlines = outlines_of(world, lens, body, int(practice.pieces))
    bounds = bounds_of(outlines, [prospect])[0][0]
    costs = costs_of(world, lens, body, int(practice.pieces))
    promised = [
        (promise_of(outlines, index, int(bound), costs[index], prospect), index) for index, bound in enumerate(bounds)
    ]
    # The most promising first: they beat the others before these are judged.
    promised.sort(key=lambda pair: preference(pair[0], practice))
    for promise, index in promised:
        beaten = costs[index].pieces > 1 and any(beats(one.merit, promise, practice, promised=True) for one in judged)
        if beaten and not everything:
            continue
        assessment = assess(world, lens, outlines.pieces(index), body, practice)
        judged.append(_Judged(outlines.chain(index), assessment, merit_of(assessment)))
    if not everything:
        kept = unbeaten([one.merit for one in judged], practice)
        judged = [one for one, stays in zip(judged, kept, strict=True) if stays]
    return sorted(judged, key=lambda one: preference(one.merit, practice))


def best_route(world: World, lens: Lens, body: Body, practice: Practice) -> tuple[Route | None, tuple[str, ...]]:
    """The first of a pair's routes, in full (None if nothing joins them), and warnings of what must not be done."""
    judged = _ranked(world, lens, body, practice)
    warnings = [one.report() for one in judged[1:] if one.merit.grade == "danger"]
    return judged[0].report() if judged else None, tuple(_warning(world, route) for route in warnings)


def show_working(
    world: World, lens_id: str, body_id: str, via: Sequence[str], practice: Practice | None = None
) -> tuple[Step, ...]:
    """The working of every number of one route, in the order of computation.

    Raises UnknownIdError for an id that is not in the collection.
    """
    lens, body = world.lens(lens_id), world.body(body_id)
    working = Working()
    working(
        register.gap_mm,
        register.seat_of(lens, world.mounts[lens.mount]).register_mm,
        register.seat_of(body, world.mounts[body.mount]).register_mm,
    )
    chain = tuple(world.adapter(id_) for id_ in via)
    judge(world, lens, chain, body, practice or Practice(), working)
    return tuple(working.steps)


def _warning(world: World, route: Route) -> str:
    """What must not be done, though another route is shown first."""
    how = " + ".join(world.adapters[id_].name for id_ in route.adapters) or "Without an adapter"
    return f"{how}: {route.sentence}"


def _nothing_fits(lens: Lens, body: Body, gap: float, needed: bool) -> str:
    said = f"Nothing in the collection joins {lens.name} to {body.name}."
    if gap > 0:
        said += f" Between their registers there is room for {words.millimetres(gap)}."
    elif gap < 0:
        said += f" The lens needs {words.millimetres(gap)} less than the body has: no plain ring can do it."
    else:
        said += " Their registers are equal: a ring would have no length."
    return said if needed else said + " Nothing known here would."


def piece_of(world: World, item: Lens | Adapter | Body) -> Piece:
    """What a drawing has to know of one item."""
    mount = world.mounts[item.lens_mount if isinstance(item, Adapter) else item.mount]
    if isinstance(item, Adapter):
        measured = item.measured_length_mm is not None
        register_mm, length, tolerance = None, register.Link.of(item).length_mm, item.tolerance_mm
    else:
        seat = register.seat_of(item, mount)
        measured, register_mm, tolerance, length = seat.measured, seat.register_mm, seat.tolerance_mm, None
    return Piece(
        id=item.id,
        name=item.name,
        kind="lens" if isinstance(item, Lens) else "body" if isinstance(item, Body) else "adapter",
        mount=mount.id,
        mount_name=mount.name,
        rear_mount=item.body_mount if isinstance(item, Adapter) else item.mount,
        register_mm=register_mm,
        length_mm=length,
        tolerance_mm=tolerance,
        measured=measured,
        optics=item.optics if isinstance(item, Adapter) else "none",
        link=item.link if isinstance(item, Adapter) else "none",
        focus=item.focus if isinstance(item, Lens) else "",
        aperture=item.aperture if isinstance(item, Lens) else "",
        iris=isinstance(item, Adapter) and item.aperture_control == "iris",
        filter=isinstance(item, Adapter) and item.filter_slot is not None,
        helicoid_mm=item.helicoid_mm if isinstance(item, Adapter) else 0.0,
        tilt_deg=0.0 if isinstance(item, Body) else item.tilt_deg,
        shift_mm=0.0 if isinstance(item, Body) else item.shift_mm,
        squeeze=item.squeeze if isinstance(item, Lens) else 1.0,
        positions=mount.positions,
        sensor_width_mm=item.sensor_mm[0] if isinstance(item, Body) else None,
        sensor_height_mm=item.sensor_mm[1] if isinstance(item, Body) else None,
        stabiliser_travel_mm=item.stabiliser.travel_mm if isinstance(item, Body) and item.stabiliser else None,
        image_circle_mm=None if isinstance(item, Body) else item.image_circle_mm,
        owned=item.at_hand,
        price=item.price,
        locking=item.locking if isinstance(item, Adapter) else mount.locking,
        assumed=item.assumed,
    )
