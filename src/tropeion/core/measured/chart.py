"""Charts to photograph: squares turned by 5°, a focus ladder, and how far away they must stand. Lengths in mm."""

from __future__ import annotations

import math
from typing import Final

from tropeion.core.frozen import frozen

from .ladder import USUAL_LENGTH_MM
from .slanted import LEAST_ROWS

A4_MM: Final = (210.0, 297.0)
TURN_DEG: Final = 5.0
BAR_MM: Final = 100.0
USUAL_PRINTER_MM: Final = 0.1
MOST_SHEETS: Final = 4
# What no printer leaves white, and the foot with its bar.
_MARGIN_MM: Final = 15.0
_FOOT_MM: Final = 30.0
_LADDER_SQUARE_MM: Final = 13.0
_LADDER_STEP_MM: Final = 20.0
# An edge is trimmed at its ends, where the square turns.
_LONGER: Final = 1.25
# The printer's edge stays below this share of a pixel.
_OF_A_PIXEL: Final = 0.2


@frozen
class Square:
    """A dark square: its middle, its side, how far it is turned."""

    x_mm: float
    y_mm: float
    side_mm: float
    turned_deg: float


@frozen
class ChartPage:
    """One sheet of paper; ``marks`` are the two ends of a ladder, ``bar`` the middle of the check bar."""

    label: str
    squares: tuple[Square, ...]
    marks: tuple[tuple[float, float], ...]
    bar_mm: tuple[float, float]


@frozen
class ChartSheet:
    """A chart at true size.

    ``least_distance_mm`` and ``most_distance_mm`` None without a focal length and a pitch; a ladder has no least.
    """

    width_mm: float
    height_mm: float
    bar_mm: float
    pages: tuple[ChartPage, ...]
    least_distance_mm: float | None
    most_distance_mm: float | None
    says: str


def least_distance_mm(focal_length_mm: float, pitch_mm: float, printer_mm: float = USUAL_PRINTER_MM) -> float:
    """From where on the printer's own edge is less than a fifth of a pixel: D ≥ printer · f / (0.2 · pitch)."""
    return printer_mm * focal_length_mm / (_OF_A_PIXEL * pitch_mm)


def most_distance_mm(focal_length_mm: float, pitch_mm: float, side_mm: float) -> float:
    """Up to where an edge of a square still spans 60 pixels, trimmed at its ends."""
    return side_mm * focal_length_mm / (LEAST_ROWS * _LONGER * pitch_mm)


def edge_chart(
    side_mm: float, across: int, down: int, focal: float | None, pitch: float | None, printer: float
) -> ChartSheet:
    """Squares on ``across`` × ``down`` sheets of A4, none over a joint. Raises ValueError for a side with no room."""
    wide, high = A4_MM[0] - 2 * _MARGIN_MM, A4_MM[1] - 2 * _MARGIN_MM - _FOOT_MM
    # Turned, a square is wider; beside it white of nearly half its side.
    cell = side_mm * (math.cos(math.radians(TURN_DEG)) + math.sin(math.radians(TURN_DEG))) + 0.4 * side_mm
    columns, rows = math.floor(wide / cell), math.floor(high / cell)
    if columns < 1 or rows < 1:
        raise ValueError(f"a square of {side_mm:g} mm does not fit on A4 with white around it")
    squares = tuple(
        Square(_MARGIN_MM + wide * (column + 0.5) / columns, _MARGIN_MM + high * (row + 0.5) / rows, side_mm, TURN_DEG)
        for row in range(rows)
        for column in range(columns)
    )
    bar = (A4_MM[0] / 2, A4_MM[1] - _MARGIN_MM - 8)
    pages = tuple(
        ChartPage(f"row {row + 1}, column {column + 1}" if across * down > 1 else "", squares, (), bar)
        for row in range(down)
        for column in range(across)
    )
    return _sheet(pages, side_mm, focal, pitch, printer)


def ladder_chart(focal: float | None, pitch: float | None) -> ChartSheet:
    """A ladder of squares between two marks; it stands at 45° to the camera's axis, its middle on the axis.

    Nothing keeps it away: the printer's edge softens every rung alike, and moves no peak.
    """
    middle_x, top = A4_MM[0] / 2, _MARGIN_MM
    count = round(USUAL_LENGTH_MM / _LADDER_STEP_MM)
    squares = tuple(
        Square(middle_x + side * 11.0, top + (number + 0.5) * _LADDER_STEP_MM, _LADDER_SQUARE_MM, TURN_DEG)
        for number in range(count)
        for side in (-1, 1)
    )
    marks = ((middle_x, top), (middle_x, top + USUAL_LENGTH_MM))
    pages = (ChartPage("", squares, marks, (middle_x, A4_MM[1] - _MARGIN_MM)),)
    if focal is None or pitch is None:
        return _sheet(pages, _LADDER_SQUARE_MM, focal, pitch, USUAL_PRINTER_MM)
    # The edges that lie across the ladder are as long as they are printed.
    most = most_distance_mm(focal, pitch, _LADDER_SQUARE_MM)
    says = f"Stand the ladder at 45°, up to {most / 1000:.1f} m away at {focal:g} mm, where you mean to focus."
    return ChartSheet(*A4_MM, BAR_MM, pages, None, most, says)


def _sheet(
    pages: tuple[ChartPage, ...], side_mm: float, focal: float | None, pitch: float | None, printer: float
) -> ChartSheet:
    if focal is None or pitch is None:
        says = "Choose lens and body above, and it says from where to where to photograph it."
        return ChartSheet(*A4_MM, BAR_MM, pages, None, None, says)
    least, most = least_distance_mm(focal, pitch, printer), most_distance_mm(focal, pitch, side_mm)
    if most < least:
        larger = math.ceil(side_mm * least / most)
        says = (
            f"At {focal:g} mm it would have to stand {least / 1000:.1f} m away, where an edge of {side_mm:.0f} mm is "
            f"too short: squares of {larger} mm at least, or a sharper printer."
        )
    else:
        says = f"Photograph it from {least / 1000:.1f} to {most / 1000:.1f} m away at {focal:g} mm."
    return ChartSheet(*A4_MM, BAR_MM, pages, least, most, says)
