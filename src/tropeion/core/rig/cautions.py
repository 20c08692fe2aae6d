"""Cautions that cost no grade: what a list or a plan has to mention of a rig."""

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
    """The codes of such cautions, for code that has no judgement."""
    over = any(overloads(load) for load in loads_of(stack, PLAIN))
    blind = bool(clearance_doubts(stack))
    return tuple(code for code, so in zip(MINDED, (blind, over), strict=True) if so)


def minded_in(route: Route) -> tuple[Warned, ...]:
    """The cautions of a judged rig."""
    return tuple(Warned(finding.code, finding.text) for finding in route.findings if finding.code in MINDED)
