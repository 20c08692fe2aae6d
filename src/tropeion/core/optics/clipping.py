"""What stands in the way of the light: bores, the throat, and steep rays at the corners. Angles in degrees."""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.words import word
from tropeion.core.working import Calc, Symbol, formula, tidy

PUPIL = "Cone from the exit pupil: W. J. Smith, Modern Optical Engineering, ch. 9 (vignetting)"


@formula(
    "coverage.corner_ray_angle_deg",
    "atan(half diagonal/(P + δ))",
    "°",
    PUPIL,
    half_diagonal_mm=Symbol("half diagonal", "mm", "of the mode in use"),
    exit_pupil_mm=Symbol("P", "mm", "exit pupil before the lens's own image plane"),
    error_mm=Symbol("δ", "mm", f"{word('flange_error')}", "register_error_mm"),
)
def corner_ray_angle_deg(half_diagonal_mm: float, exit_pupil_mm: float, error_mm: float) -> float:
    """How steeply the light reaches the corner."""
    return math.degrees(math.atan2(half_diagonal_mm, exit_pupil_mm + error_mm))


@frozen
class Bore:
    """A round opening of ``diameter_mm`` that stands ``at_mm`` before the sensor."""

    link: str
    at_mm: float
    diameter_mm: float


@frozen
class Clipping:
    """Image heights in mm up to which the whole cone, and its centre ray, pass, and the bores that cut them there.

    ``axis_f_number`` is set where even the cone on the axis is cut: the working f-number there.
    """

    link: str
    centre_link: str
    full_cone_mm: float
    centre_ray_mm: float
    axis_f_number: float | None


@formula(
    "coverage.clipping.full_cone_mm",
    "(T/2 − z/(2N′))/(1 − z/P′)",
    "mm",
    PUPIL,
    bore_mm=Symbol("T", "mm", "diameter of the bore"),
    at_mm=Symbol("z", "mm", "its distance from the sensor"),
    f_number=Symbol("N′", "f", "f-number at the sensor"),
    pupil_mm=Symbol("P′", "mm", "exit pupil before the sensor, P + δ"),
)
def full_cone_height_mm(bore_mm: float, at_mm: float, f_number: float, pupil_mm: float) -> float:
    """Image height up to which a bore lets the whole cone pass."""
    return (bore_mm / 2 - at_mm / (2 * f_number)) / (1 - at_mm / pupil_mm)


@formula(
    "coverage.clipping.dark_from_mm",
    "(T/2 + z/(2N′))/(1 − z/P′)",
    "mm",
    PUPIL,
    bore_mm=Symbol("T", "mm", "diameter of the bore"),
    at_mm=Symbol("z", "mm", "its distance from the sensor"),
    f_number=Symbol("N′", "f", "f-number at the sensor"),
    pupil_mm=Symbol("P′", "mm", "exit pupil before the sensor, P + δ"),
)
def dark_height_mm(bore_mm: float, at_mm: float, f_number: float, pupil_mm: float) -> float:
    """Image height from which a bore lets nothing of the cone pass."""
    return (bore_mm / 2 + at_mm / (2 * f_number)) / (1 - at_mm / pupil_mm)


@formula(
    "coverage.clipping.centre_ray_mm",
    "(T/2)/(1 − z/P′)",
    "mm",
    PUPIL,
    bore_mm=Symbol("T", "mm", "diameter of the bore"),
    at_mm=Symbol("z", "mm", "its distance from the sensor"),
    pupil_mm=Symbol("P′", "mm", "exit pupil before the sensor, P + δ"),
)
def centre_ray_height_mm(bore_mm: float, at_mm: float, pupil_mm: float) -> float:
    """Image height up to which a bore lets the cone's centre ray pass."""
    return bore_mm / 2 / (1 - at_mm / pupil_mm)


def throat_clipping(bores: Sequence[Bore], *, f_number: float, pupil_mm: float | None, calc: Calc) -> Clipping | None:
    """What bores cut off the light: the whole cone by the tightest, its centre ray by the one that cuts it first.

    ``pupil_mm`` is the exit pupil's distance from the sensor, P + δ, not from the native image plane: a ring that is
    long carries the pupil away with the lens. Bores at or before the pupil are not assessed; None where none can be.
    """
    if pupil_mm is None or pupil_mm <= 0:
        return None
    assessed = [bore for bore in bores if bore.at_mm < pupil_mm]
    if not assessed:
        return None
    tight = min(assessed, key=lambda bore: full_cone_height_mm(bore.diameter_mm, bore.at_mm, f_number, pupil_mm))
    first = min(assessed, key=lambda bore: centre_ray_height_mm(bore.diameter_mm, bore.at_mm, pupil_mm))
    height = calc(full_cone_height_mm, tight.diameter_mm, tight.at_mm, f_number, pupil_mm)
    return Clipping(
        tight.link,
        first.link,
        height,
        calc(centre_ray_height_mm, first.diameter_mm, first.at_mm, pupil_mm),
        tight.at_mm / tight.diameter_mm if tidy(height) < 0 else None,
    )
