"""One rig through all of the rest: numbers, grade and findings. A bad rig is a report with findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields, replace

from . import contacts, coupling, equivalents, findings, mechanics, register, section, verdict, words
from .gear import Adapter, Body, Lens
from .practice import Practice
from .report import (
    LongEnd,
    MatchReport,
    Piece,
    RegisterTolerance,
    Route,
    Wire,
)
from .rig import at_focal_length, build, coverage_at, losses_stops
from .routes import find_chains
from .steps import steps_of
from .working import PLAIN, Calc, Step, Working
from .world import World

__all__ = ["judge", "match", "show_working"]


def match(
    world: World,
    lens_id: str,
    body_id: str,
    practice: Practice | None = None,
    via: Sequence[str] | None = None,
) -> MatchReport:
    """Judge a pair over all its routes, or over the one chain ``via`` (lens to body; empty: bare).

    Raises UnknownIdError for an id that is not in the collection.
    """
    practice = practice or Practice()
    lens, body = world.lens(lens_id), world.body(body_id)
    chains = find_chains(world, lens, body) if via is None else (tuple(world.adapter(id_) for id_ in via),)
    routes = sorted((judge(world, lens, chain, body, practice) for chain in chains), key=_preference)
    routes = [replace(route, gives_up=_gives_up(route, routes[0])) for route in routes]
    gap = register.gap_mm(
        register.seat_of(lens, world.mounts[lens.mount]).register_mm,
        register.seat_of(body, world.mounts[body.mount]).register_mm,
    )
    items: list[Lens | Adapter | Body] = [lens, *{a.id: a for chain in chains for a in chain}.values(), body]
    return MatchReport(
        lens=lens.id,
        body=body.id,
        gap_mm=gap,
        sentence=routes[0].sentence if routes else _nothing_fits(world, lens, body, gap),
        routes=tuple(routes),
        pieces={item.id: _piece(world, item) for item in items},
        currency=world.gear.currency,
        practice=practice,
    )


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


def _preference(route: Route) -> tuple[float, ...]:
    unsure = (route.infinity.probability or 0.0) < 0.95
    return (
        -findings.rank(route.grade),
        len(route.adapters),
        unsure,
        not route.owned,
        route.price or 0.0,
        abs(route.register_error_mm),
    )


def _gives_up(route: Route, best: Route) -> str:
    """In a phrase, what a route gives up against the best one."""
    if route is best:
        return ""
    had = {f.gives_up for f in best.findings}
    lost = findings.decisive([f for f in route.findings if f.gives_up and f.gives_up not in had])
    if lost is not None and lost.gives_up:
        return lost.gives_up
    if (route.infinity.probability or 0) < (best.infinity.probability or 0) - 0.005:
        return f"infinity less sure, {words.percent(route.infinity.probability or 0)}"
    if not route.owned and best.owned:
        return "to be bought"
    return "nothing"


def _nothing_fits(world: World, lens: Lens, body: Body, gap: float) -> str:
    names = f"{world.mounts[lens.mount].name} to {world.mounts[body.mount].name}"
    if 0 < gap < 1:
        return (
            f"Nothing in the collection joins {lens.name} to {body.name}: between the registers there is room for "
            f"{words.millimetres(gap)} of ring, less than two couplings usually take."
        )
    if gap > 0:
        return (
            f"Nothing in the collection joins {lens.name} to {body.name}. "
            f"A plain {names} ring of {words.millimetres(gap)} would."
        )
    if gap == 0:
        return (
            f"Nothing joins {lens.name} to {body.name}: the registers are equal, so a ring would have no length. "
            "Only a change of mount or plate would."
        )
    return (
        f"No plain ring can join {lens.name} to {body.name}: the lens needs {words.millimetres(gap)} less than "
        f"the body has. Correcting glass, or a ring from {names} for close-up alone, would."
    )


def _piece(world: World, item: Lens | Adapter | Body) -> Piece:
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
        register_mm=register_mm,
        length_mm=length,
        tolerance_mm=tolerance,
        measured=measured,
        optics=item.optics if isinstance(item, Adapter) else "none",
        link=item.link if isinstance(item, Adapter) else "none",
        focus=item.focus if isinstance(item, Lens) else "",
        aperture=item.aperture if isinstance(item, Lens) else "",
        iris=isinstance(item, Adapter) and item.aperture_control == "iris",
        owned=item.owned,
        price=item.price,
        locking=item.locking if isinstance(item, Adapter) else mount.locking,
    )


def _meetings(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> list[coupling.Meeting]:
    """Each joint where coupling parts of one system meet. A camera side of an adapter carries none."""

    def systems(front: str, rear: str) -> tuple[str, ...]:
        if world.mounts[front].interface != world.mounts[rear].interface:
            return ()
        return (front,) if front == rear else (front, rear)

    rear_id, rear_mount, rear_name = (
        (adapters[0].id, adapters[0].lens_mount, adapters[0].name) if adapters else (body.id, body.mount, body.name)
    )
    meets = coupling.adapter_lens_side(world, adapters[0]) if adapters else coupling.features_of(world, body)
    ids = systems(lens.mount, rear_mount)
    return [
        coupling.Meeting(
            rear_id,
            tuple(world.mounts[id_] for id_ in ids),
            coupling.features_of(world, lens),
            meets,
            lens.name,
            rear_name,
            drives_meter=not adapters,
        )
    ]


def judge(
    world: World,
    lens: Lens,
    adapters: tuple[Adapter, ...],
    body: Body,
    practice: Practice,
    calc: Calc = PLAIN,
) -> Route:
    """Judge one rig, adapters from the lens to the body. Any chain is judged, even one that does not mate."""
    rig = build(world, lens, adapters, body, practice, calc)
    chain = rig.chain
    wide = at_focal_length(rig, lens.focal_length_mm[0], lens.f_number[0], calc)
    tele = None
    if lens.is_zoom:
        widest = lens.f_number_at_long_end or lens.f_number[0]
        tele = at_focal_length(rig, lens.focal_length_mm[1], widest, calc.under("long_end"))

    cover = coverage_at(rig, wide, calc)
    left = contacts.functions_left(lens, adapters, body, rig.signal, rig.iris)
    meetings = _meetings(world, lens, adapters, body)
    shared = [
        *(found for meeting in meetings for found in coupling.judge_coupling(meeting)),
        *verdict.exclusions(lens, adapters, body),
        *mechanics.judge_joints(world, lens, adapters, body),
        *mechanics.judge_clearance(world, lens, adapters, body, chain.body.register_mm),
        *verdict.coverage_findings(rig, cover),
        *verdict.glass_and_iris(rig),
    ]
    at_wide = verdict.reach_findings(rig, wide)
    at_tele = verdict.reach_findings(rig, tele) if tele is not None else []
    found = verdict.merged(shared, at_wide, at_tele)
    found += verdict.function_findings(rig, left)
    ordered = findings.in_order(found)
    grade = findings.worst(ordered)
    long_end = None
    if tele is not None:
        long_grade = findings.worst([*shared, *at_tele, *(f for f in ordered if f.code in verdict.FUNCTION_CODES)])
        long_end = LongEnd(**{f.name: getattr(tele, f.name) for f in fields(tele)}, grade=long_grade)
    light = calc(equivalents.light_change_stops, chain.magnification, losses_stops(adapters))
    return Route(
        adapters=tuple(adapter.id for adapter in adapters),
        grade=grade,
        sentence=verdict.sentence(ordered, adapters),
        gives_up="",
        magnification=chain.magnification,
        register_error_mm=chain.error_mm,
        lens_side_error_mm=chain.lens_error_mm,
        register_tolerance_mm=RegisterTolerance(chain.worst_case_mm, chain.standard_uncertainty_mm),
        infinity=wide.infinity,
        focus=wide.focus,
        focal_length_mm=wide.focal_length_mm,
        f_number=wide.f_number,
        working_f_number=wide.working_f_number,
        light_change_stops=light,
        coverage=cover,
        equivalents=wide.equivalents,
        stabiliser=wide.stabiliser,
        depth_of_field=wide.depth_of_field,
        native=wide.native,
        long_end=long_end,
        circle_of_confusion_mm=rig.circle_mm,
        functions=left,
        wire=Wire(
            contacts.wire_ends_at(lens, adapters, body, rig.signal),
            any(level == "slow" for level, _ in rig.signal.carried.values()),
        ),
        findings=ordered,
        stations=section.stations_of(
            world,
            lens,
            adapters,
            body,
            chain=chain,
            mode=rig.mode,
            f_number=wide.working_f_number,
            waist=section.waist_mm(wide.infinity, rig.movable, chain.error_mm),
        ),
        steps=steps_of(
            world,
            lens,
            adapters,
            body,
            grade=grade,
            actions=coupling.actions(meetings),
            iris=rig.iris,
            lens_is_recognised=rig.signal.broken_at is None or any(a.link == "chip" for a in adapters),
            stabiliser=wide.stabiliser,
            from_f_number=wide.infinity.from_f_number,
            findings=ordered,
        ),
        owned=all(adapter.owned for adapter in adapters),
        price=_price(adapters),
    )


def _price(adapters: Sequence[Adapter]) -> float | None:
    """What has to be bought; None where a price is not known."""
    missing = [adapter.price for adapter in adapters if not adapter.owned]
    known = [price for price in missing if price is not None]
    return sum(known) if len(known) == len(missing) else None
