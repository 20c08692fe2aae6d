"""What of a rig has to be minded though it costs no grade: where many are told of, that is what is told."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from tropeion.core.findings import Code
from tropeion.core.joints.mechanics import clearance_doubts, loads_of, overloads
from tropeion.core.optics.stack import Stack
from tropeion.core.working import PLAIN

from .rig_report import Route

MINDED: Final[tuple[Code, ...]] = ("clearance_unknown", "load_exceeded")


@dataclass(frozen=True, slots=True)
class Warned:
    """A caution of the judgement, by its code, in its own words."""

    code: Code
    text: str


def codes_of(stack: Stack) -> tuple[Code, ...]:
    """The codes alone, without a judgement."""
    over = any(overloads(load) for load in loads_of(stack, PLAIN))
    blind = bool(clearance_doubts(stack))
    return tuple(code for code, so in zip(MINDED, (blind, over), strict=True) if so)


def minded_in(route: Route) -> tuple[Warned, ...]:
    """What a judged rig is told of it."""
    return tuple(Warned(finding.code, finding.text) for finding in route.findings if finding.code in MINDED)
