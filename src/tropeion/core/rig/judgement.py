"""One rig, judged for its grade: what decides, without its report. A bad rig is an assessment with findings."""

from __future__ import annotations

from tropeion.core import findings
from tropeion.core.asking import go_on
from tropeion.core.findings import Finding, Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints import contacts, coupling, mechanics
from tropeion.core.joints.signal import FunctionName
from tropeion.core.optics.coverage import Coverage
from tropeion.core.practice import Practice
from tropeion.core.working import PLAIN, Calc

from . import verdict
from .assembly import Assembly, build
from .ends import Focused, coverage_at, focus_at, settings_of


@frozen
class Assessment:
    """What a rig is worth. ``ends`` and ``grades`` run along the settings of the lens that were judged."""

    rig: Assembly
    ends: tuple[Focused, ...]
    grades: tuple[Grade, ...]
    coverage: Coverage
    meetings: tuple[coupling.Meeting, ...]
    functions: tuple[contacts.FunctionLeft, ...]
    findings: tuple[Finding, ...]
    grade: Grade

    @property
    def unsure(self) -> bool:
        """Whether it reaches infinity cannot be told, at one end of a zoom at least, and nothing else is against it."""
        return self.grade == "partial" and any(end.reach.state == "unknown" for end in self.ends)

    @property
    def slow(self) -> tuple[FunctionName, ...]:
        """The functions of the lens that work, and work slowly."""
        return tuple(f.function for f in self.functions if f.state == "slow" and contacts.is_carried(f.function))


def assess(
    world: World, lens: Lens, adapters: tuple[Adapter, ...], body: Body, practice: Practice, calc: Calc = PLAIN
) -> Assessment:
    """Grade one rig, adapters from the lens to the body. Any chain is judged, even one that does not mate.

    Raises NobodyAsksError where who asked has left: every long answer is made of many of these.
    """
    go_on()
    rig = build(world, lens, adapters, body, practice, calc)
    ends = tuple(
        focus_at(rig, marked, widest, calc.under("long_end") if number else calc)
        for number, (marked, widest) in enumerate(settings_of(lens))
    )
    cover = coverage_at(rig, ends[0].f_number, calc)
    meetings = coupling.meetings_of(world, rig.stack)
    metering, _ = coupling.metering_of(meetings)
    shared = [
        *(finding for meeting in meetings for finding in coupling.judge_coupling(meeting)),
        *verdict.exclusions(rig),
        *mechanics.judge_joints(rig.stack),
        *mechanics.judge_clearance(rig.stack),
        *verdict.coverage_findings(rig, cover),
        *verdict.glass_and_iris(rig),
    ]
    by_end = [verdict.reach_findings(rig, end) for end in ends]
    left = functions_of(rig, metering, detailed=False)
    functions = verdict.function_findings(rig, left)
    all_assess = [*verdict.merged(shared, by_end[0], by_end[1] if len(by_end) > 1 else []), *functions]
    grades = tuple(findings.worst([*shared, *of_end, *functions]) for of_end in by_end)
    return Assessment(rig, ends, grades, cover, meetings, left, tuple(all_assess), findings.worst(all_assess))


def functions_of(rig: Assembly, metering: contacts.Metering, *, detailed: bool) -> tuple[contacts.FunctionLeft, ...]:
    """What is left of each function; ``detailed`` with what each side offers, passes and takes."""
    return contacts.functions_left(
        rig.lens,
        rig.adapters,
        rig.body,
        rig.signal,
        rig.iris,
        metering=metering,
        crops=not rig.mode.whole,
        detailed=detailed,
    )
