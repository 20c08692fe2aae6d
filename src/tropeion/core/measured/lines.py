"""Edges and circles in the measures of a sensor: line pairs a millimetre, discs in mm; in pixels without one."""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen

from .disc import InFocus, blur_of
from .lit import LitFrame
from .slanted import EdgeMeasured

# Two shapes are one within this share.
SAME_SHAPE = 0.02


class OtherShapeError(ValueError):
    """A picture whose pixels are not as the sensor's shape."""


@frozen
class EdgeLine:
    """An edge as it is told. The blur is None without a frame in focus where it is not strong."""

    x: float
    y: float
    angle_deg: float
    mtf50_cycles_per_pixel: float
    mtf50_lp_per_mm: float | None
    uncertainty: float | None
    blur: float | None
    blur_uncertainty: float | None
    sharpened: bool


@frozen
class Fallen:
    """From this radius on the light has fallen by so many stops."""

    stops: float
    radius: float


@frozen
class CircleLine:
    """A circle as it is told, in mm, or in pixels without a sensor; and the fall-off in stops."""

    circle: float | None
    at_least: float | None
    doubt: float | None
    centre: tuple[float, float]
    corners_dark: bool
    half_height_stops: float | None
    corner_stops: float | None
    falls: tuple[Fallen, ...]


def pitch_mm(size_px: tuple[int, int], sensor_mm: tuple[float, float]) -> float:
    """The width of a pixel; upright pictures have their longer side upright. Raises OtherShapeError."""
    (across, down), (width, height) = size_px, sensor_mm
    if (across < down) != (width < height):
        width, height = height, width
    shape, other = across / down, width / height
    if abs(shape / other - 1) > SAME_SHAPE:
        raise OtherShapeError(
            f"the picture is {shape:.3f} : 1, and {width:g} × {height:g} mm is {other:.3f} : 1: say which part of the "
            "sensor was used"
        )
    return width / across


def edge_line(edge: EdgeMeasured, pitch: float | None, focus: InFocus | None, *, as_sharpened: bool) -> EdgeLine:
    """An edge in mm with a pitch, in pixels without."""
    doubt = edge.mtf50 / 10 if edge.uncertainty is None else edge.uncertainty
    blur = blur_of(edge.mtf50, doubt, focus, as_sharpened=as_sharpened)
    per = 1.0 if pitch is None else pitch
    return EdgeLine(
        x=edge.x,
        y=edge.y,
        angle_deg=edge.angle_deg,
        mtf50_cycles_per_pixel=edge.mtf50,
        mtf50_lp_per_mm=None if pitch is None else edge.mtf50 / pitch,
        uncertainty=edge.uncertainty,
        blur=None if blur is None else blur.diameter_px * per,
        blur_uncertainty=None if blur is None else blur.uncertainty_px * per,
        sharpened=edge.sharpened,
    )


def circle_line(found: LitFrame, pitch: float | None) -> CircleLine:
    """A circle in mm with a pitch, in pixels without."""
    per = 1.0 if pitch is None else pitch

    def times(value: float | None) -> float | None:
        return None if value is None else value * per

    return CircleLine(
        circle=times(found.circle_px),
        at_least=times(found.at_least_px),
        doubt=times(found.doubt_px),
        centre=(found.centre[0] * per, found.centre[1] * per),
        corners_dark=found.corners_dark,
        half_height_stops=found.half_height_stops,
        corner_stops=found.corner_stops,
        falls=tuple(Fallen(one.stops, one.radius_px * per) for one in found.falls),
    )


def near_centre(edges: Sequence[EdgeMeasured], size_px: tuple[int, int], within: float) -> list[EdgeMeasured]:
    """The edges within this share of the height from the middle of the frame."""
    width, height = size_px
    return [
        edge for edge in edges if math.hypot(edge.x - width / 2, edge.y - height / 2) <= within * min(width, height)
    ]
