"""The report of a rig that has been assessed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core import findings, written
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.tried import usable_lines
from tropeion.core.gear.world import World
from tropeion.core.joints import contacts, coupling, mechanics
from tropeion.core.joints.signal import wire_ends_at
from tropeion.core.optics import equivalents
from tropeion.core.optics.spread import density_of
from tropeion.core.practice import Practice
from tropeion.core.working import PLAIN, Calc

from . import remarks, unknowns, verdict
from .assembly import Assembly, losses_stops, price_of, to_buy
from .ends import end_of
from .judgement import Assessment, assess, functions_of
from .purpose import becomes, group_of, purpose_of
from .rig_report import Details, End, Range, RegisterTolerance, Route, Wire
from .section import Section, section_of, waist_mm
from .setting_steps import StepsTold
from .steps import steps_of


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
    light = light_change_of(assessed, calc)
    ordered = findings.in_order(
        [
            *assessed.findings,
            *mechanics.judge_mechanics(rig.stack, loads, play, rig.practice.use == "film"),
            *remarks.remarks_on(rig, assessed.ends[0], ends, assessed.coverage, loads, ranges),
            *unknowns.unknowns_of(rig, loads),
        ]
    )
    usable = unknowns.usable_in(rig)
    route = Route(
        adapters=tuple(adapter.id for adapter in rig.adapters),
        grade=assessed.grade,
        slow=assessed.slow,
        surely=not assessed.unsure,
        wrong=wrong_of(assessed),
        sentence=_sentence(assessed, ends, ranges),
        group=group_of(assessed),
        purpose=purpose_of(assessed, light),
        becomes=becomes(ends, rig.lens.squeeze, fisheye=rig.lens.fisheye, practice=rig.practice),
        gives_up="",
        magnification=chain.magnification,
        register_error_mm=chain.error_mm if rig.stack.known else None,
        lens_side_error_mm=chain.lens_error_mm if rig.stack.known else None,
        register_tolerance_mm=RegisterTolerance(
            chain.worst_case_mm, chain.standard_uncertainty_mm, chain.bounded, density_of(chain.half_widths_mm)
        ),
        light_change_stops=light,
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
        usable=usable,
        usable_says=usable_lines(usable),
    )
    return details_of(assessed, route) if detailed else route


def _sentence(assessed: Assessment, ends: Sequence[End], ranges: Sequence[Range]) -> str:
    """What the rig comes to; with the aperture that gives its depth of field, for those who want it."""
    said = verdict.sentence(
        assessed.findings,
        assessed.rig.adapters,
        coupling.actions(assessed.meetings),
        [reach.for_infinity_mm for reach in ranges],
    )
    if assessed.rig.practice.equivalence == "framing" or assessed.grade in {"none", "danger"}:
        return said
    stop = written.fixed(ends[0].equivalents.f_number, 1)
    return f"{said} Its depth of field is like that of f/{stop} on full frame (36 × 24 mm)."


def light_change_of(assessed: Assessment, calc: Calc = PLAIN) -> float:
    """What the pieces of a rig give or take of the light, in stops."""
    wide = assessed.ends[0]
    losses = losses_stops(assessed.rig.adapters)
    return calc(equivalents.light_change_stops, wide.marked_f_number, wide.f_number, losses)


def wrong_of(assessed: Assessment) -> str:
    """Why a ring is the wrong one of two systems that share its joint; empty where the rig focuses all the same."""
    if assessed.grade != "none" and not assessed.unsure:
        return ""
    return next((remark.text for remark in remarks.wrong_registers(assessed.rig)), "")


def _wire(rig: Assembly) -> Wire:
    return Wire(
        wire_ends_at(rig.lens, rig.adapters, rig.body, rig.signal),
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
    meetings = assessed.meetings
    metering, allowed = coupling.metering_of(meetings)
    functions: tuple[contacts.FunctionLeft, ...] = ()
    if route.grade not in {"danger", "none"}:
        functions = functions_of(assessed.rig, metering, detailed=True)
    modes = contacts.exposure_modes_left(assessed.rig.body, functions, allowed) if functions else ()
    told = StepsTold(
        grade=route.grade,
        actions=coupling.actions(meetings),
        ring_at=coupling.ring_positions(meetings),
        after_mounting=coupling.after_mounting(meetings),
        exposure_modes=modes,
        ends=route.ends,
        ranges=route.ranges,
        findings=route.findings,
    )
    return replace(route, details=Details(functions, modes, steps_of(assessed.rig, told)))
