"""A flange focal distance by difference: against a lens, or a body, of which it is known."""

from __future__ import annotations

import math

from tropeion.core.frozen import frozen
from tropeion.core.working import Symbol, formula

GUM = "JCGM 100, 5.1.2 (what both share drops out)"


@formula(
    "bench.lens_by_difference_mm",
    "R_l2 = R_l1 + (δ₁ − δ₂)/K²",
    "mm",
    GUM,
    known_mm=Symbol("R_l1", "mm", "of the lens that is known"),
    known_error_mm=Symbol("δ₁", "mm", "error with the known lens"),
    error_mm=Symbol("δ₂", "mm", "error with the other, on the same ring and body"),
    k=Symbol("K", "", "magnification of all glass"),
)
def lens_by_difference_mm(known_mm: float, known_error_mm: float, error_mm: float, k: float) -> float:
    """Where the other lens wants its seat to stand."""
    return known_mm + (known_error_mm - error_mm) / k**2


@formula(
    "bench.body_by_difference_mm",
    "R_b2 = R_b1 + δ₂ − δ₁",
    "mm",
    GUM,
    known_mm=Symbol("R_b1", "mm", "of the body that is known"),
    known_error_mm=Symbol("δ₁", "mm", "error on the known body"),
    error_mm=Symbol("δ₂", "mm", "error on the other, with the same lens and ring"),
)
def body_by_difference_mm(known_mm: float, known_error_mm: float, error_mm: float) -> float:
    """How far the seat of the other body stands from its sensor: behind all glass its error counts once."""
    return known_mm + error_mm - known_error_mm


@frozen
class ByDifference:
    """A register and its doubt; the ring that both share drops out of it. ``measured_tolerance_mm`` is √3·u."""

    register_mm: float
    standard_uncertainty_mm: float

    @property
    def measured_tolerance_mm(self) -> float:
        return math.sqrt(3) * self.standard_uncertainty_mm


def lens_by_difference(
    known_mm: tuple[float, float], known_error_mm: tuple[float, float], error_mm: tuple[float, float], k: float
) -> ByDifference:
    """A lens against a known one; each value with its standard uncertainty. Raises ValueError for k ≤ 0."""
    if k <= 0:
        raise ValueError("magnification: more than 0")
    mean = lens_by_difference_mm(known_mm[0], known_error_mm[0], error_mm[0], k)
    u = math.sqrt(known_mm[1] ** 2 + (known_error_mm[1] ** 2 + error_mm[1] ** 2) / k**4)
    return ByDifference(mean, u)


def body_by_difference(
    known_mm: tuple[float, float], known_error_mm: tuple[float, float], error_mm: tuple[float, float]
) -> ByDifference:
    """A body against a known one, by the same lens and ring; each value with its standard uncertainty."""
    mean = body_by_difference_mm(known_mm[0], known_error_mm[0], error_mm[0])
    u = math.sqrt(known_mm[1] ** 2 + known_error_mm[1] ** 2 + error_mm[1] ** 2)
    return ByDifference(mean, u)
