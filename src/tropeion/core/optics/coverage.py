"""Image circles over sensors: modes, corners, shift, stabiliser travel, and what a bore cuts off.

w × h is the mode in use in mm, C′ the image circle at the sensor. Angles in degrees.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.gear.gear import Body, Stabiliser
from tropeion.core.working import Calc, Symbol, formula, tidy

__all__ = [
    "Bore",
    "Clipping",
    "Coverage",
    "FormatMode",
    "choose_mode",
    "corner_ray_angle_deg",
    "coverage_of",
    "covers_shift",
    "image_circle_mm",
    "max_rise_mm",
    "modes_of",
    "throat_clipping",
    "travel_fraction",
    "travel_step",
]

CIRCLE = "Image circle geometry: S. F. Ray, Applied Photographic Optics, ch. 28 (camera movements)"
PUPIL = "Cone from the exit pupil: W. J. Smith, Modern Optical Engineering, ch. 9 (vignetting)"

_W = Symbol("w", "mm", "width of the mode in use")
_H = Symbol("h", "mm", "its height")
_CIRCLE = Symbol("C′", "mm", "image circle at the sensor", "coverage.image_circle_mm")


@dataclass(frozen=True, slots=True)
class FormatMode:
    """A part of the sensor in use; width and height in mm. ``full`` is the whole sensor."""

    name: str
    width_mm: float
    height_mm: float
    megapixels: float | None
    automatic: bool = False

    @property
    def diagonal_mm(self) -> float:
        return math.hypot(self.width_mm, self.height_mm)


def modes_of(body: Body, use: str) -> tuple[FormatMode, ...]:
    """The modes to choose from, the full sensor first; ``use`` is ``still`` or ``film``."""
    full = FormatMode("full", *body.sensor_mm, body.megapixels)
    return (
        full,
        *(
            FormatMode(mode.name, *mode.sensor_mm, mode.megapixels, mode.automatic)
            for mode in body.modes
            if mode.use in {use, "both"}
        ),
    )


@formula(
    "coverage.image_circle_mm",
    "C′ = K·C, no more than each piece of glass passes",
    "mm",
    CIRCLE,
    circle_mm=Symbol("C", "mm", "the lens's own image circle"),
    magnifications=Symbol("k", "", "magnification of each piece, lens first"),
    ceilings_mm=Symbol("ceiling", "mm", "image circle stated for each piece"),
)
def image_circle_mm(circle_mm: float, magnifications: Sequence[float], ceilings_mm: Sequence[float | None]) -> float:
    """Image circle at the sensor."""
    for k, ceiling in zip(magnifications, ceilings_mm, strict=True):
        circle_mm *= k
        if ceiling is not None:
            circle_mm = min(circle_mm, ceiling)
    return circle_mm


def choose_mode(modes: Sequence[FormatMode], circle_mm: float | None) -> tuple[FormatMode, bool]:
    """The covered mode with the most pixels, then the larger area; else the full sensor, not covered.

    A full sensor of unknown pixel count ranks above its own modes. An unknown circle keeps the full sensor.
    """
    full = modes[0]
    if circle_mm is None:
        return full, True
    covered = [mode for mode in modes if tidy(circle_mm - mode.diagonal_mm) >= 0]
    if not covered:
        return full, False

    def size(mode: FormatMode) -> tuple[float, float]:
        pixels = mode.megapixels
        if pixels is None:
            pixels = math.inf if mode is full else 0.0
        return pixels, mode.width_mm * mode.height_mm

    return max(covered, key=size), True


@formula(
    "coverage.corner_margin_mm",
    "C′/2 − diagonal/2",
    "mm",
    CIRCLE,
    circle_mm=_CIRCLE,
    diagonal_mm=Symbol("diagonal", "mm", "diagonal of the mode in use"),
)
def corner_margin_mm(circle_mm: float, diagonal_mm: float) -> float:
    """Room between the corner and the edge of the circle."""
    return tidy(circle_mm / 2 - diagonal_mm / 2)


@formula(
    "coverage.crop_to_cover",
    "diagonal/C′",
    "×",
    CIRCLE,
    diagonal_mm=Symbol("diagonal", "mm", "diagonal of the full sensor"),
    circle_mm=_CIRCLE,
)
def crop_to_cover(diagonal_mm: float, circle_mm: float) -> float:
    """How far the picture has to be cropped until the circle covers it."""
    return diagonal_mm / circle_mm


@formula(
    "coverage.max_rise_mm",
    "√((C′/2)² − (w/2)²) − h/2, at least 0",
    "mm",
    CIRCLE,
    circle_mm=_CIRCLE,
    width_mm=_W,
    height_mm=_H,
)
def max_rise_mm(circle_mm: float, width_mm: float, height_mm: float) -> float:
    """Rise that the circle allows; a mechanism may allow less."""
    room = (circle_mm / 2) ** 2 - (width_mm / 2) ** 2
    return max(0.0, tidy(math.sqrt(room) - height_mm / 2)) if room > 0 else 0.0


def covers_shift(
    circle_mm: float, width_mm: float, height_mm: float, shift_mm: tuple[float, float], k: float = 1.0
) -> bool:
    """Whether the circle holds the frame shifted by (x, y); a shift in front of glass counts ``k``-fold.

    (w/2 + |sx|)² + (h/2 + |sy|)² ≤ (C′/2)²
    """
    x, y = (k * abs(part) for part in shift_mm)
    return tidy(circle_mm / 2 - math.hypot(width_mm / 2 + x, height_mm / 2 + y)) >= 0


@formula(
    "stabiliser.travel_fraction",
    "largest q ≤ 1 with (w/2 + qT)² + (h/2 + qT)² ≤ (C′/2)²",
    "",
    CIRCLE,
    circle_mm=_CIRCLE,
    width_mm=_W,
    height_mm=_H,
    travel_mm=Symbol("T", "mm", "travel of the stabiliser, each way"),
)
def travel_fraction(circle_mm: float, width_mm: float, height_mm: float, travel_mm: float) -> float:
    """Share of the stabiliser's travel that stays inside the circle."""
    half_w, half_h, radius = width_mm / 2, height_mm / 2, circle_mm / 2
    if travel_mm == 0:
        return 1.0
    # 2(qT)² + (w + h)·qT + (half diagonal)² − radius² = 0, its positive root
    b = half_w + half_h
    discriminant = b * b - 2 * (half_w**2 + half_h**2 - radius**2)
    if discriminant < 0:
        return 0.0
    return min(1.0, max(0.0, (math.sqrt(discriminant) - b) / 2 / travel_mm))


@formula(
    "stabiliser.travel_step",
    "largest step ≤ q, else 0 (off)",
    "",
    "The steps that the body offers",
    fraction=Symbol("q", "", "share of the travel inside the circle", "stabiliser.travel_fraction"),
    steps=Symbol("steps", "", "steps that the body offers"),
)
def travel_step(fraction: float, steps: Sequence[float]) -> float:
    """The step to set on the body."""
    return max((step for step in steps if tidy(fraction - step) >= 0), default=0.0)


@formula(
    "coverage.corner_ray_angle_deg",
    "atan(half diagonal/(P + δ))",
    "°",
    PUPIL,
    half_diagonal_mm=Symbol("half diagonal", "mm", "of the mode in use"),
    exit_pupil_mm=Symbol("P", "mm", "exit pupil before the lens's own image plane"),
    error_mm=Symbol("δ", "mm", "register error", "register_error_mm"),
)
def corner_ray_angle_deg(half_diagonal_mm: float, exit_pupil_mm: float, error_mm: float) -> float:
    """How steeply the light reaches the corner."""
    return math.degrees(math.atan2(half_diagonal_mm, exit_pupil_mm + error_mm))


@dataclass(frozen=True, slots=True)
class Bore:
    """A round opening of ``diameter_mm`` that stands ``at_mm`` before the sensor."""

    link: str
    at_mm: float
    diameter_mm: float


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class Coverage:
    """Which mode is used and how the circle lies over it. Unknown circle: everything about it is None."""

    mode: str
    image_circle_mm: float | None
    corner_margin_mm: float | None
    crop_to_cover: float | None
    max_rise_mm: float | None
    max_rise_upright_mm: float | None
    megapixels: float | None
    width_mm: float
    height_mm: float
    automatic: bool
    corner_ray_angle_deg: float | None
    clipping: Clipping | None


@dataclass(frozen=True, slots=True)
class StabiliserEntry:
    """What to tell the stabiliser: the focal length with the glass, never the equivalent; and how far it may move."""

    entry_mm: float
    travel_fraction: float | None
    travel_step: float | None


def stabiliser_travel(
    stabiliser: Stabiliser, mode: FormatMode, circle_mm: float | None, calc: Calc
) -> tuple[float | None, float | None]:
    """Share of the travel that stays in the circle, and the step to set; None where the circle is unknown."""
    if circle_mm is None:
        return None, None
    fraction = calc(travel_fraction, circle_mm, mode.width_mm, mode.height_mm, stabiliser.travel_mm)
    return fraction, calc(travel_step, fraction, stabiliser.travel_steps)


def coverage_of(
    mode: FormatMode,
    covered: bool,
    circle_mm: float | None,
    *,
    ray_angle_deg: float | None,
    clipping: Clipping | None,
    calc: Calc,
) -> Coverage:
    """Put the circle over the mode in use."""
    margin = rise = upright = crop = None
    if circle_mm is not None:
        margin = calc(corner_margin_mm, circle_mm, mode.diagonal_mm)
        rise = calc(max_rise_mm, circle_mm, mode.width_mm, mode.height_mm)
        upright = calc.under("upright")(max_rise_mm, circle_mm, mode.height_mm, mode.width_mm)
        crop = None if covered else calc(crop_to_cover, mode.diagonal_mm, circle_mm)
    return Coverage(
        mode=mode.name,
        image_circle_mm=circle_mm,
        corner_margin_mm=margin,
        crop_to_cover=crop,
        max_rise_mm=rise,
        max_rise_upright_mm=upright,
        megapixels=mode.megapixels,
        width_mm=mode.width_mm,
        height_mm=mode.height_mm,
        automatic=mode.automatic,
        corner_ray_angle_deg=ray_angle_deg,
        clipping=clipping,
    )
