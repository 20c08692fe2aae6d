"""Flange focal distance: gaps, flange errors and their uncertainty.

Lengths in mm. A chain runs from the lens to the body and is cut at each glass element. δ > 0: the lens stands
too far from the sensor and infinity is lost; δ < 0: it stands too near and focuses past infinity.
"""

from __future__ import annotations

import math
import operator
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Mount
from tropeion.core.words import word
from tropeion.core.working import Calc, Symbol, formula, tidy

from .seats import PARAXIAL, Link, Seat
from .spread import wide_enough

UNCERTAINTY = "JCGM 100, 4.3.7 (rectangular distribution) and 5.1.2"


@formula(
    "gap_mm",
    "gap = R_l − R_b",
    "mm",
    PARAXIAL,
    lens_register_mm=Symbol("R_l", "mm", f"{word('flange_focal_distance')} of the lens"),
    body_register_mm=Symbol("R_b", "mm", f"{word('flange_focal_distance')} of the body"),
)
def gap_mm(lens_register_mm: float, body_register_mm: float) -> float:
    """Room for plain adapters between the two flange focal distances."""
    return tidy(lens_register_mm - body_register_mm)


def room_mm(front: Mount, rear: Mount) -> float | None:
    """Room between two mounts by their nominal registers; None where one of them is not known, but for one mount."""
    if front is rear:
        return 0.0
    if front.register_mm is None or rear.register_mm is None:
        return None
    return gap_mm(front.register_mm, rear.register_mm)


@formula(
    "segment_error_mm",
    "R behind + Σ(L − p(n − 1)/n) − R in front",
    "mm",
    PARAXIAL,
    behind_mm=Symbol(
        "R behind", "mm", f"{word('flange_focal_distance')} of the body, or what the glass behind expects"
    ),
    errors_mm=Symbol("L", "mm", "what each plain piece adds (a filter takes p(n − 1)/n away)"),
    in_front_mm=Symbol(
        "R in front", "mm", f"{word('flange_focal_distance')} of the lens, or what the glass in front delivers"
    ),
)
def segment_error_mm(behind_mm: float, errors_mm: Sequence[float], in_front_mm: float) -> float:
    """Error of one segment of the chain, between two cuts at glass."""
    return behind_mm + math.fsum(errors_mm) - in_front_mm


@formula(
    "register_error_mm",
    "δ = Σ (segment's error × Πk² behind it)",
    "mm",
    PARAXIAL,
    errors_mm=Symbol("error", "mm", "each segment's own error, lens first", "segment_error_mm"),
    sensitivities=Symbol("Πk²", "", "product of k² of all glass behind that segment"),
)
def register_error_mm(errors_mm: Sequence[float], sensitivities: Sequence[float]) -> float:
    """How far the lens stands from where it should, seen at the sensor."""
    return tidy(math.fsum(map(operator.mul, errors_mm, sensitivities)))


@formula(
    "magnification", "K = Πk", "", PARAXIAL, magnifications=Symbol("k", "", "magnification of each piece, lens first")
)
def magnification(magnifications: Sequence[float]) -> float:
    """Magnification of all glass in the chain."""
    return math.prod(magnifications)


@formula(
    "lens_side_error_mm",
    "δ_lens = δ/K²",
    "mm",
    PARAXIAL,
    error_mm=Symbol("δ", "mm", f"{word('flange_error')} at the sensor", "register_error_mm"),
    k=Symbol("K", "", "magnification of all glass", "magnification"),
)
def lens_side_error_mm(error_mm: float, k: float) -> float:
    """The flange error as the lens sees it."""
    return tidy(error_mm / k**2)


@formula(
    "register_tolerance_mm.worst_case",
    "Σ s·t",
    "mm",
    UNCERTAINTY,
    tolerances_mm=Symbol("t", "mm", "half-width of each tolerance: lens mount, pieces, body mount"),
    sensitivities=Symbol("s", "", "sensitivity of each: Πk² of the glass behind it, times max(1, k²) of its own"),
)
def worst_case_mm(tolerances_mm: Sequence[float], sensitivities: Sequence[float]) -> float:
    """All tolerances against us at once."""
    return math.fsum(map(operator.mul, sensitivities, tolerances_mm))


@formula(
    "register_tolerance_mm.standard_uncertainty",
    "u = √(Σ(s·t)²/3)",
    "mm",
    UNCERTAINTY,
    tolerances_mm=Symbol("t", "mm", "half-width of each tolerance: lens mount, pieces, body mount"),
    sensitivities=Symbol("s", "", "sensitivity of each: Πk² of the glass behind it, times max(1, k²) of its own"),
)
def standard_uncertainty_mm(tolerances_mm: Sequence[float], sensitivities: Sequence[float]) -> float:
    """Standard uncertainty of the flange error, each tolerance taken as rectangular."""
    return math.sqrt(math.fsum([(s * t) ** 2 for s, t in zip(sensitivities, tolerances_mm, strict=True)]) / 3)


@formula(
    "register_tolerance_mm.assumed",
    "usual of its kind",
    "mm",
    "Assumed: nobody stated it (±0.02 mm for a mount, ±0.05 mm for an adapter)",
    usual_mm=Symbol("t", "mm", "what is usual"),
)
def tolerance_assumed_mm(usual_mm: float) -> float:
    """A tolerance that is assumed."""
    return usual_mm


@frozen
class Chain:
    """What the registers of one rig come to. Lengths in mm; ``length_mm`` is the physical sum of the pieces.

    ``helicoid_mm`` is what open helicoids add at the sensor, already scaled by the glass behind them.
    ``half_widths_mm`` are the tolerances at the sensor that count, ``bounded`` where none of them was measured;
    ``before_glass_mm`` is what of the error comes from in front of the rearmost glass.
    """

    lens: Seat
    body: Seat
    length_mm: float
    error_mm: float
    lens_error_mm: float
    magnification: float
    worst_case_mm: float
    standard_uncertainty_mm: float
    helicoid_mm: float
    has_glass: bool
    half_widths_mm: tuple[float, ...]
    bounded: bool
    before_glass_mm: float


@dataclass(slots=True)
class _Segment:
    """Between two cuts at glass: what is expected behind it, what is delivered in front of it."""

    in_front_mm: float
    errors_mm: list[float]
    helicoid_mm: float = 0.0
    behind_mm: float = 0.0


def _segments(lens: Seat, links: Sequence[Link], body: Seat) -> list[_Segment]:
    """The chain cut at each glass element, lens first."""
    current = _Segment(lens.register_mm, [])
    segments = [current]
    for link in links:
        if link.glass is not None:
            current.behind_mm, delivers = link.glass
            if link.front_error_mm:
                current.errors_mm.append(link.front_error_mm)
            current = _Segment(delivers, [])
            segments.append(current)
        if link.error_mm or link.glass is None:
            current.errors_mm.append(link.error_mm)
        current.helicoid_mm += link.helicoid_mm
    current.behind_mm = body.register_mm
    return segments


def sensitivities(links: Sequence[Link]) -> tuple[list[float], list[float]]:
    """Πk² of the glass behind each segment, and how each piece's tolerance counts; lens first.

    A tolerance of a piece with glass may lie on either side of it: the worse side counts.
    """
    behind = 1.0
    segments, pieces = [1.0], []
    for link in reversed(links):
        squared = link.magnification**2
        pieces.append(behind * (max(1.0, squared) if link.glass is not None else 1.0))
        if link.glass is not None:
            behind *= squared
            segments.append(behind)
    return segments[::-1], pieces[::-1]


def chain_of(lens: Seat, links: Sequence[Link], body: Seat, calc: Calc) -> Chain:
    """Add up a chain of adapters, ``links`` running from the lens to the body."""
    segments = _segments(lens, links, body)
    of_segments, of_pieces = sensitivities(links)
    errors = [
        (calc.under(f"segment {number}") if len(segments) > 1 else calc)(
            segment_error_mm, segment.behind_mm, segment.errors_mm, segment.in_front_mm
        )
        for number, segment in enumerate(segments, 1)
    ]
    seats: tuple[Seat | Link, ...] = (lens, *links, body)
    for number, seat in enumerate(seats if calc.records else ()):
        if seat.assumed:
            calc.under(f"piece {number + 1}")(tolerance_assumed_mm, seat.tolerance_mm)
    tolerances = [lens.tolerance_mm, *(link.tolerance_mm for link in links), body.tolerance_mm]
    weights = [of_segments[0], *of_pieces, 1.0]
    error = calc(register_error_mm, errors, of_segments)
    k = calc(magnification, [link.magnification for link in links])
    return Chain(
        lens=lens,
        body=body,
        length_mm=math.fsum([link.length_mm for link in links]),
        error_mm=error,
        lens_error_mm=calc(lens_side_error_mm, error, k),
        magnification=k,
        worst_case_mm=calc(worst_case_mm, tolerances, weights),
        standard_uncertainty_mm=calc(standard_uncertainty_mm, tolerances, weights),
        helicoid_mm=math.fsum([segment.helicoid_mm * s for segment, s in zip(segments, of_segments, strict=True)]),
        has_glass=len(segments) > 1,
        half_widths_mm=wide_enough(tuple(map(operator.mul, weights, tolerances))),
        bounded=all(seat.bounded for seat in seats),
        before_glass_mm=tidy(math.fsum(map(operator.mul, errors[:-1], of_segments[:-1]))) if len(segments) > 1 else 0.0,
    )
