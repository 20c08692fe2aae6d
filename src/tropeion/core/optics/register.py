"""Flange focal distance: gaps, register errors and their uncertainty.

Lengths in mm. A chain runs from the lens to the body and is cut at each glass element. δ > 0: the lens stands
too far from the sensor and infinity is lost; δ < 0: it stands too near and focuses past infinity.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.gear.gear import Adapter, Body, Lens, Mount
from tropeion.core.working import Calc, Symbol, formula, tidy

__all__ = ["Chain", "Link", "Seat", "chain_of", "gap_mm", "seat_of"]

PARAXIAL = "Thin lens, paraxial: W. J. Smith, Modern Optical Engineering, ch. 2 and 5"
UNCERTAINTY = "JCGM 100, 4.3.7 (rectangular distribution) and 5.1.2"


@dataclass(frozen=True, slots=True)
class Seat:
    """A register and its tolerance: the measured ones where there are any, else the mount's nominal ones."""

    register_mm: float
    tolerance_mm: float
    measured: bool


def seat_of(item: Lens | Body, mount: Mount) -> Seat:
    """The register that counts for one lens or body. A measured value outranks the nominal one."""
    if item.measured_register_mm is None:
        return Seat(mount.register_mm, mount.tolerance_mm, measured=False)
    tolerance = item.measured_tolerance_mm
    return Seat(item.measured_register_mm, mount.tolerance_mm if tolerance is None else tolerance, measured=True)


@dataclass(frozen=True, slots=True)
class Link:
    """One adapter as the optics see it. Lengths in mm; ``length_mm`` is the physical one, seat to seat.

    ``error_mm`` is what it adds to the focus of its segment: its length if it is plain, its measured deviation
    if it holds glass, less the focus shift of a plane filter.
    """

    length_mm: float
    error_mm: float
    tolerance_mm: float
    magnification: float
    glass: tuple[float, float] | None
    helicoid_mm: float

    @classmethod
    def of(cls, adapter: Adapter) -> Link:
        measured = adapter.measured_length_mm
        length = adapter.physical_length_mm
        tolerance = adapter.tolerance_mm
        if measured is not None and adapter.measured_tolerance_mm is not None:
            tolerance = adapter.measured_tolerance_mm
        glass = None
        error = length
        if adapter.register_in_mm is not None and adapter.register_out_mm is not None:
            glass = (adapter.register_in_mm, adapter.register_out_mm)
            error = length - adapter.length_mm
        slot = adapter.filter_slot
        if slot is not None:
            error -= filter_shift_mm(slot.glass_mm, slot.refractive_index)
        return cls(length, error, tolerance, adapter.magnification, glass, adapter.helicoid_mm)


@formula(
    "gap_mm",
    "gap = R_l − R_b",
    "mm",
    PARAXIAL,
    lens_register_mm=Symbol("R_l", "mm", "register of the lens"),
    body_register_mm=Symbol("R_b", "mm", "register of the body"),
)
def gap_mm(lens_register_mm: float, body_register_mm: float) -> float:
    """Room for plain adapters between the two registers."""
    return tidy(lens_register_mm - body_register_mm)


@formula(
    "filter_shift_mm",
    "p(n − 1)/n",
    "mm",
    PARAXIAL,
    thickness_mm=Symbol("p", "mm", "thickness of the plane glass"),
    refractive_index=Symbol("n", "", "its refractive index"),
)
def filter_shift_mm(thickness_mm: float, refractive_index: float) -> float:
    """How far plane glass behind the lens moves the focus back."""
    return thickness_mm * (refractive_index - 1) / refractive_index


@formula(
    "segment_error_mm",
    "R behind + Σ(L − p(n − 1)/n) − R in front",
    "mm",
    PARAXIAL,
    behind_mm=Symbol("R behind", "mm", "register of the body, or what the glass behind expects"),
    errors_mm=Symbol("L", "mm", "what each plain piece adds (a filter takes p(n − 1)/n away)"),
    in_front_mm=Symbol("R in front", "mm", "register of the lens, or what the glass in front delivers"),
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
    return tidy(math.fsum(e * s for e, s in zip(errors_mm, sensitivities, strict=True)))


@formula(
    "magnification",
    "K = Πk",
    "",
    PARAXIAL,
    magnifications=Symbol("k", "", "magnification of each piece, lens first"),
)
def magnification(magnifications: Sequence[float]) -> float:
    """Magnification of all glass in the chain."""
    return math.prod(magnifications)


@formula(
    "lens_side_error_mm",
    "δ_lens = δ/K²",
    "mm",
    PARAXIAL,
    error_mm=Symbol("δ", "mm", "register error at the sensor", "register_error_mm"),
    k=Symbol("K", "", "magnification of all glass", "magnification"),
)
def lens_side_error_mm(error_mm: float, k: float) -> float:
    """The register error as the lens sees it."""
    return tidy(error_mm / k**2)


@formula(
    "register_tolerance_mm.worst_case",
    "Σ s·t",
    "mm",
    UNCERTAINTY,
    tolerances_mm=Symbol("t", "mm", "half-width of each tolerance: lens seat, pieces, body seat"),
    sensitivities=Symbol("s", "", "sensitivity of each, Πk² of the glass behind it"),
)
def worst_case_mm(tolerances_mm: Sequence[float], sensitivities: Sequence[float]) -> float:
    """All tolerances against us at once."""
    return math.fsum(s * t for s, t in zip(sensitivities, tolerances_mm, strict=True))


@formula(
    "register_tolerance_mm.standard_uncertainty",
    "u = √(Σ(s·t)²/3)",
    "mm",
    UNCERTAINTY,
    tolerances_mm=Symbol("t", "mm", "half-width of each tolerance: lens seat, pieces, body seat"),
    sensitivities=Symbol("s", "", "sensitivity of each, Πk² of the glass behind it"),
)
def standard_uncertainty_mm(tolerances_mm: Sequence[float], sensitivities: Sequence[float]) -> float:
    """Standard uncertainty of the register error, each tolerance taken as rectangular."""
    return math.sqrt(math.fsum((s * t) ** 2 for s, t in zip(sensitivities, tolerances_mm, strict=True)) / 3)


@dataclass(frozen=True, slots=True)
class Chain:
    """What the registers of one rig come to. Lengths in mm; ``length_mm`` is the physical sum of the pieces.

    ``helicoid_mm`` is what open helicoids add at the sensor, already scaled by the glass behind them.
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


def chain_of(lens: Seat, links: Sequence[Link], body: Seat, calc: Calc) -> Chain:
    """Add up a chain of adapters, ``links`` running from the lens to the body."""
    ahead = lens.register_mm
    pending: list[float] = []
    helicoid = 0.0
    segments: list[tuple[float, list[float], float, float]] = []  # behind, errors, in front, helicoids
    for link in links:
        if link.glass is not None:
            expects, delivers = link.glass
            segments.append((expects, pending, ahead, helicoid))
            ahead, pending, helicoid = delivers, [], 0.0
        if link.error_mm or link.glass is None:
            pending.append(link.error_mm)
        helicoid += link.helicoid_mm
    segments.append((body.register_mm, pending, ahead, helicoid))

    # Πk² of the glass behind each segment and each piece, built up from the body.
    behind = 1.0
    segment_sensitivity = [1.0]
    piece_sensitivity = []
    for link in reversed(links):
        piece_sensitivity.append(behind)
        if link.glass is not None:
            behind *= link.magnification**2
            segment_sensitivity.append(behind)
    segment_sensitivity.reverse()
    piece_sensitivity.reverse()

    errors = [
        calc.under(f"segment {number}")(segment_error_mm, *segment[:3])
        if len(segments) > 1
        else calc(segment_error_mm, *segment[:3])
        for number, segment in enumerate(segments, 1)
    ]
    tolerances = [lens.tolerance_mm, *(link.tolerance_mm for link in links), body.tolerance_mm]
    sensitivities = [segment_sensitivity[0], *piece_sensitivity, 1.0]
    error = calc(register_error_mm, errors, segment_sensitivity)
    k = calc(magnification, [link.magnification for link in links])
    return Chain(
        lens=lens,
        body=body,
        length_mm=math.fsum(link.length_mm for link in links),
        error_mm=error,
        lens_error_mm=calc(lens_side_error_mm, error, k),
        magnification=k,
        worst_case_mm=calc(worst_case_mm, tolerances, sensitivities),
        standard_uncertainty_mm=calc(standard_uncertainty_mm, tolerances, sensitivities),
        helicoid_mm=math.fsum(segment[3] * s for segment, s in zip(segments, segment_sensitivity, strict=True)),
        has_glass=len(segments) > 1,
    )
