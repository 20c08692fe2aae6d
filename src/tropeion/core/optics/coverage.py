"""Image circles over sensors: the circle at the sensor, corners, and the crop that would cover.

w × h is the mode in use in mm, C′ the image circle at the sensor.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.working import Calc, Symbol, formula, tidy

from .clipping import Clipping
from .modes import FormatMode
from .symbols import CIRCLE_AT_SENSOR, MODE_HEIGHT, MODE_WIDTH

CIRCLE = "Image circle geometry: S. F. Ray, Applied Photographic Optics, ch. 28 (camera movements)"


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


@formula(
    "coverage.corner_margin_mm",
    "C′/2 − diagonal/2",
    "mm",
    CIRCLE,
    circle_mm=CIRCLE_AT_SENSOR,
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
    circle_mm=CIRCLE_AT_SENSOR,
)
def crop_to_cover(diagonal_mm: float, circle_mm: float) -> float:
    """How far the picture has to be cropped until the circle covers it."""
    return diagonal_mm / circle_mm


@formula(
    "coverage.max_rise_mm",
    "√((C′/2)² − (w/2)²) − h/2, at least 0",
    "mm",
    CIRCLE,
    circle_mm=CIRCLE_AT_SENSOR,
    width_mm=MODE_WIDTH,
    height_mm=MODE_HEIGHT,
)
def max_rise_mm(circle_mm: float, width_mm: float, height_mm: float) -> float:
    """Rise that the circle allows; a mechanism may allow less."""
    room = (circle_mm / 2) ** 2 - (width_mm / 2) ** 2
    return max(0.0, tidy(math.sqrt(room) - height_mm / 2)) if room > 0 else 0.0


@formula(
    "coverage.shift_room_mm",
    "least of rise and mechanism",
    "mm",
    CIRCLE,
    rise_mm=Symbol("rise", "mm", "room that the circle has", "coverage.max_rise_mm"),
    shifts_mm=Symbol("mechanism", "mm", "what lens and adapters shift, times the glass behind them"),
)
def shift_room_mm(rise_mm: float, shifts_mm: float) -> float:
    """How far the picture can really be shifted."""
    return min(rise_mm, shifts_mm)


def covers_shift(
    circle_mm: float, width_mm: float, height_mm: float, shift_mm: tuple[float, float], k: float = 1.0
) -> bool:
    """Whether the circle holds the frame shifted by (x, y); a shift in front of glass counts ``k``-fold.

    (w/2 + |sx|)² + (h/2 + |sy|)² ≤ (C′/2)²
    """
    x, y = (k * abs(part) for part in shift_mm)
    return tidy(circle_mm / 2 - math.hypot(width_mm / 2 + x, height_mm / 2 + y)) >= 0


@frozen
class Coverage:
    """Which mode is used and how the circle lies over it. Unknown circle: everything about it is None.

    ``max_rise_mm`` is the room that the circle has; ``shift_room_mm`` the least of that and what shifts allows, None
    where nothing shifts. ``whole``: the mode is the whole sensor; a mode may have any name.
    """

    mode: str
    whole: bool
    image_circle_mm: float | None
    corner_margin_mm: float | None
    crop_to_cover: float | None
    max_rise_mm: float | None
    shift_room_mm: float | None
    max_rise_upright_mm: float | None
    megapixels: float | None
    width_mm: float
    height_mm: float
    automatic: bool
    corner_ray_angle_deg: float | None
    clipping: Clipping | None


def coverage_of(
    mode: FormatMode,
    covered: bool,
    circle_mm: float | None,
    *,
    ray_angle_deg: float | None,
    clipping: Clipping | None,
    shifts_mm: float,
    shifts_up: bool = True,
    calc: Calc,
) -> Coverage:
    """Put the circle over the mode in use. ``shifts_mm`` is what lens and adapters shift, up or else across."""
    margin = rise = upright = crop = room = None
    if circle_mm is not None:
        margin = calc(corner_margin_mm, circle_mm, mode.diagonal_mm)
        rise = calc(max_rise_mm, circle_mm, mode.width_mm, mode.height_mm)
        upright = calc.under("upright")(max_rise_mm, circle_mm, mode.height_mm, mode.width_mm)
        # Shifted along its width a frame has the room that it has upright.
        room = calc(shift_room_mm, rise if shifts_up else upright, shifts_mm) if shifts_mm else None
        crop = None if covered else calc(crop_to_cover, mode.diagonal_mm, circle_mm)
    return Coverage(
        mode=mode.name,
        whole=mode.whole,
        image_circle_mm=circle_mm,
        corner_margin_mm=margin,
        crop_to_cover=crop,
        max_rise_mm=rise,
        shift_room_mm=room,
        max_rise_upright_mm=upright,
        megapixels=mode.megapixels,
        width_mm=mode.width_mm,
        height_mm=mode.height_mm,
        automatic=mode.automatic,
        corner_ray_angle_deg=ray_angle_deg,
        clipping=clipping,
    )
