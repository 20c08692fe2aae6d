"""The report of a rig that has been assessed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core import findings
from tropeion.core.findings import Finding
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints import contacts, coupling, mechanics
from tropeion.core.optics import equivalents
from tropeion.core.practice import Practice
from tropeion.core.working import PLAIN, Calc

from . import remarks, unknowns, verdict
from .assembly import Assembly, losses_stops, price_of, to_buy
from .ends import end_of
from .judgement import Assessment, assess, functions_of
from .report import Details, End, RegisterTolerance, Route, Wire
from .section import Section, section_of, waist_mm
from .steps import steps_of

__all__ = ["details_of", "judge", "report_on"]


def judge(
    world: World,
    lens: Lens,
    adapters: tuple[Adapter, ...],
    body: Body,
    practice: Practice,
    calc: Calc = PLAIN,
    *,
    detailed: bool = True,
) -> Route:
    """The report of one rig, adapters from the lens to the body."""
    return report_on(assess(world, lens, adapters, body, practice, calc), calc, detailed=detailed)


def report_on(assessed: Assessment, calc: Calc = PLAIN, *, detailed: bool = True) -> Route:
    """The report of a rig that has been assessed; ``detailed`` with its functions and steps."""
    rig, chain = assessed.rig, assessed.rig.chain
    ends = tuple(
        end_of(rig, focused, grade, calc.under("long_end") if number else calc)
        for number, (focused, grade) in enumerate(zip(assessed.ends, assessed.grades, strict=True))
    )
    loads = mechanics.loads_of(rig.stack, calc)
    play = mechanics.play_of(rig.stack, assessed.ends[0].window_mm(rig), calc)
    ranges = remarks.ranges_of(rig, assessed.ends[0])
    ordered = findings.in_order(
        [
            *assessed.findings,
            *mechanics.judge_mechanics(rig.stack, loads, play, rig.practice.use == "film"),
            *remarks.remarks_on(rig, assessed.ends[0], ends[0], assessed.coverage, loads, ranges),
            *unknowns.unknowns_of(rig, loads),
        ]
    )
    route = Route(
        adapters=tuple(adapter.id for adapter in rig.adapters),
        grade=assessed.grade,
        surely=not assessed.unsure,
        wrong=_wrong(assessed, ordered),
        sentence=verdict.sentence(assessed.findings, rig.adapters, coupling.actions(assessed.meetings)),
        gives_up="",
        magnification=chain.magnification,
        register_error_mm=chain.error_mm,
        lens_side_error_mm=chain.lens_error_mm,
        register_tolerance_mm=RegisterTolerance(chain.worst_case_mm, chain.standard_uncertainty_mm),
        light_change_stops=calc(equivalents.light_change_stops, chain.magnification, losses_stops(rig.adapters)),
        coverage=assessed.coverage,
        ends=ends,
        circle_of_confusion_mm=rig.blur_mm,
        wire=_wire(rig),
        findings=ordered,
        section=_section(rig, ends[0]),
        loads=loads,
        play=play,
        ranges=ranges,
        clashes=coupling.clashes_of(assessed.meetings),
        owned=not to_buy(rig.adapters),
        price=price_of(rig.adapters),
        details=None,
        interchangeable=(),
        stands_for=1,
        assumed=unknowns.assumed_in(rig, assessed.ends),
    )
    return details_of(assessed, route) if detailed else route


def _wrong(assessed: Assessment, found: Sequence[Finding]) -> str:
    """Why a ring is the wrong one of two systems that share its joint; empty where the rig focuses all the same."""
    if assessed.grade != "none" and not assessed.unsure:
        return ""
    return next((one.text for one in found if one.code == "same_thread_other_register"), "")


def _wire(rig: Assembly) -> Wire:
    return Wire(
        contacts.wire_ends_at(rig.lens, rig.adapters, rig.body, rig.signal),
        any(level == "slow" for level, _ in rig.signal.carried.values()),
    )


def _section(rig: Assembly, wide: End) -> Section:
    pupil = rig.lens.exit_pupil_mm
    return section_of(
        rig.world,
        rig.stack,
        lens_error_mm=rig.chain.lens_error_mm,
        pupil_mm=None if pupil is None or rig.chain.has_glass else pupil + rig.chain.error_mm,
        mode=rig.mode,
        f_number=wide.working_f_number,
        waist=waist_mm(wide.infinity, rig.movable, rig.chain.error_mm),
    )


def details_of(assessed: Assessment, route: Route) -> Route:
    """A route with its functions and steps, for when it is looked at."""
    metering, allowed = coupling.metering_of(assessed.meetings)
    functions = functions_of(assessed.rig, metering, detailed=True)
    details = Details(
        functions=functions,
        exposure_modes=contacts.exposure_modes_left(assessed.rig.body, functions, allowed),
        steps=steps_of(
            assessed.rig,
            grade=route.grade,
            actions=coupling.actions(assessed.meetings),
            ring_at=coupling.ring_positions(assessed.meetings),
            wide=route.wide,
            ranges=route.ranges,
            findings=route.findings,
        ),
    )
    return replace(route, details=details)
