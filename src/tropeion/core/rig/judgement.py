"""One rig, judged: quickly for its grade, or in full for its report. A bad rig is a report with findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

from tropeion.core import findings
from tropeion.core.findings import Finding, Grade
from tropeion.core.gear.gear import Adapter, Body, Lens
from tropeion.core.gear.world import World
from tropeion.core.joints import contacts, coupling, mechanics
from tropeion.core.optics import equivalents
from tropeion.core.optics.coverage import Coverage
from tropeion.core.practice import Practice
from tropeion.core.working import PLAIN, Calc

from . import remarks, section, verdict
from .assembly import Focused, Rig, at_focal_length, build, coverage_at, focus_at, losses_stops, settings_of
from .report import LongEnd, RegisterTolerance, Route, Wire
from .steps import steps_of

__all__ = ["Assessment", "assess", "judge", "price_of", "report_on"]


@dataclass(frozen=True, slots=True)
class Assessment:
    """What a rig is worth, without its report."""

    rig: Rig
    ends: tuple[Focused, ...]
    coverage: Coverage
    meetings: tuple[coupling.Meeting, ...]
    findings: tuple[Finding, ...]
    long_grade: Grade | None

    @property
    def grade(self) -> Grade:
        return findings.worst(self.findings)


def _meetings(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> tuple[coupling.Meeting, ...]:
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
    return (
        coupling.Meeting(
            rear_id,
            tuple(world.mounts[id_] for id_ in ids),
            coupling.features_of(world, lens),
            meets,
            lens.name,
            rear_name,
            drives_meter=not adapters,
        ),
    )


def assess(
    world: World,
    lens: Lens,
    adapters: tuple[Adapter, ...],
    body: Body,
    practice: Practice,
    calc: Calc = PLAIN,
) -> Assessment:
    """Grade one rig, adapters from the lens to the body. Any chain is judged, even one that does not mate."""
    rig = build(world, lens, adapters, body, practice, calc)
    ends = tuple(
        focus_at(rig, marked, widest, calc.under("long_end") if number else calc)
        for number, (marked, widest) in enumerate(settings_of(lens))
    )
    cover = coverage_at(rig, ends[0].f_number, calc)
    meetings = _meetings(world, lens, adapters, body)
    metering, _ = coupling.metering_of(meetings)
    left = _functions(rig, metering, detailed=False)
    shared = [
        *(found for meeting in meetings for found in coupling.judge_coupling(meeting)),
        *verdict.exclusions(lens, adapters, body),
        *mechanics.judge_joints(world, lens, adapters, body),
        *mechanics.judge_clearance(world, lens, adapters, body, rig.chain.body.register_mm),
        *verdict.coverage_findings(rig, cover),
        *verdict.glass_and_iris(rig),
    ]
    by_end = [verdict.reach_findings(rig, end) for end in ends]
    functions = verdict.function_findings(rig, left)
    found = [*verdict.merged(shared, by_end[0], by_end[-1] if len(by_end) > 1 else []), *functions]
    long_grade = findings.worst([*shared, *by_end[-1], *functions]) if len(by_end) > 1 else None
    return Assessment(rig, ends, cover, meetings, tuple(found), long_grade)


def _functions(rig: Rig, metering: contacts.Metering, *, detailed: bool) -> tuple[contacts.FunctionLeft, ...]:
    return contacts.functions_left(
        rig.lens,
        rig.adapters,
        rig.body,
        rig.signal,
        rig.iris,
        metering=metering,
        crops=rig.mode.name != "full",
        detailed=detailed,
    )


def judge(
    world: World,
    lens: Lens,
    adapters: tuple[Adapter, ...],
    body: Body,
    practice: Practice,
    calc: Calc = PLAIN,
) -> Route:
    """The report of one rig, adapters from the lens to the body."""
    return report_on(assess(world, lens, adapters, body, practice, calc), calc)


def report_on(assessed: Assessment, calc: Calc = PLAIN) -> Route:
    """The report of a rig that has been assessed."""
    rig, chain = assessed.rig, assessed.rig.chain
    world, lens, adapters, body, practice = rig.world, rig.lens, rig.adapters, rig.body, rig.practice
    wide = at_focal_length(rig, assessed.ends[0], calc)
    long_end = None
    if assessed.long_grade is not None:
        tele = at_focal_length(rig, assessed.ends[1], calc.under("long_end"))
        long_end = LongEnd(**{f.name: getattr(tele, f.name) for f in fields(tele)}, grade=assessed.long_grade)
    loads = mechanics.loads_of(world, lens, adapters, body, calc)
    play = mechanics.play_of(world, lens, adapters, body, assessed.ends[0].window_mm(rig), calc)
    ranges = remarks.ranges_of(rig, assessed.ends[0])
    ordered = findings.in_order(
        [
            *assessed.findings,
            *mechanics.judge_mechanics(world, lens, adapters, body, loads, play, practice.use == "film"),
            *remarks.remarks_on(rig, assessed.ends[0], wide, assessed.coverage, loads, ranges),
        ]
    )
    metering, allowed = coupling.metering_of(assessed.meetings)
    functions = _functions(rig, metering, detailed=True)
    grade = assessed.grade
    return Route(
        adapters=tuple(adapter.id for adapter in adapters),
        grade=grade,
        sentence=verdict.sentence(assessed.findings, adapters),
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
        light_change_stops=calc(equivalents.light_change_stops, chain.magnification, losses_stops(adapters)),
        coverage=assessed.coverage,
        equivalents=wide.equivalents,
        stabiliser=wide.stabiliser,
        depth_of_field=wide.depth_of_field,
        native=wide.native,
        long_end=long_end,
        circle_of_confusion_mm=rig.circle_mm,
        functions=functions,
        exposure_modes=contacts.exposure_modes_left(body, functions, allowed),
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
        loads=loads,
        play=play,
        ranges=ranges,
        steps=steps_of(
            rig,
            grade=grade,
            actions=coupling.actions(assessed.meetings),
            ring_at=coupling.ring_positions(assessed.meetings),
            wide=wide,
            ranges=ranges,
            findings=ordered,
        ),
        clashes=coupling.clashes_of(assessed.meetings),
        owned=all(adapter.owned for adapter in adapters),
        price=price_of(adapters),
        interchangeable=(),
        stands_for=1,
    )


def price_of(adapters: Sequence[Adapter]) -> float | None:
    """What has to be bought; None where a price is not known."""
    missing = [adapter.price for adapter in adapters if not adapter.owned]
    known = [price for price in missing if price is not None]
    return sum(known) if len(known) == len(missing) else None
