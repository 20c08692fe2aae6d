"""Series of frames with the ring moved between them: a wedge, a curved field, a shift of focus, by rule.

In each zone the ring has a best place; what differs between zones, or between stops, tells the cause. Places of the
ring are extensions in mm; y in mm across the sensor.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from statistics import fmean
from typing import Final, Literal

from tropeion.core.frozen import frozen

from .frame import MeasuredFrame
from .ladder import top_of
from .slanted import EdgeMeasured

Zone = Literal["centre", "left", "right", "top_left", "top_right", "bottom_left", "bottom_right"]
CORNERS: Final[tuple[Zone, ...]] = ("top_left", "top_right", "bottom_left", "bottom_right")
# Differences below so many of their doubts are none that this can tell.
_TOLD: Final = 2.0
# Of the shorter side about the middle; of either side, from the middle; how far from the middle a side's edges lie.
_CENTRE, _CORNER, _LEVEL = 0.15, 0.25, 0.2


@frozen
class ZoneFrame:
    """How sharp a zone is in one frame: the ring's extension, the stop, MTF50 and its doubt."""

    ring_mm: float
    f_number: float
    mtf50: float
    uncertainty: float | None


@frozen
class BestPlace:
    """Where the ring makes a zone sharpest, ± one standard uncertainty."""

    zone: Zone
    f_number: float
    ring_mm: float
    doubt_mm: float


@frozen
class CauseSeen:
    """A cause that a series tells, with its number and doubt in mm at the sensor; a wedge across the flange too.

    ``saw`` is what the frames showed, as the tree of second frames calls it, by commas; empty where it has no such.
    """

    cause: Literal["wedge", "curvature", "shift_of_focus", "other"]
    mm: float
    doubt_mm: float
    across_flange_mm: float | None
    says: str
    saw: str = ""


@frozen
class SeriesMeasured:
    """The best place in each zone at each stop, and what they tell."""

    best: tuple[BestPlace, ...]
    causes: tuple[CauseSeen, ...]


@frozen
class SeriesTaken:
    """A frame of a series, with the ring's extension and the stop."""

    frame: MeasuredFrame
    ring_mm: float
    f_number: float


def zone_of(x: float, y: float, width: int, height: int) -> Zone | None:
    """The zone that a place of a frame counts for; None between them."""
    right, down = x / width - 0.5, y / height - 0.5
    if math.hypot(right * width, down * height) <= _CENTRE * min(width, height):
        return "centre"
    if abs(right) > _CORNER and abs(down) > _CORNER:
        if down < 0:
            return "top_left" if right < 0 else "top_right"
        return "bottom_left" if right < 0 else "bottom_right"
    if abs(down) <= _LEVEL and abs(right) > _CENTRE:
        return "left" if right < 0 else "right"
    return None


def series_of(
    taken: Sequence[SeriesTaken], *, pitch_mm: float, magnification: float = 1.0, flange_mm: float | None = None
) -> SeriesMeasured:
    """What a series of frames tells: their edges by zone, those of one zone in one frame as their mean."""
    zones: dict[Zone, list[ZoneFrame]] = {}
    across: dict[Zone, list[float]] = {}
    for one in taken:
        here: dict[Zone, list[EdgeMeasured]] = {}
        for edge in one.frame.edges:
            zone = zone_of(edge.x, edge.y, one.frame.width, one.frame.height)
            if zone is not None:
                here.setdefault(zone, []).append(edge)
        for zone, edges in here.items():
            doubts = [edge.uncertainty for edge in edges if edge.uncertainty is not None]
            sharp = fmean(edge.mtf50 for edge in edges)
            doubt = fmean(doubts) if doubts else None
            zones.setdefault(zone, []).append(ZoneFrame(one.ring_mm, one.f_number, sharp, doubt))
            across.setdefault(zone, []).extend(edge.x * pitch_mm for edge in edges)
    sides = across.get("left"), across.get("right")
    apart = None if sides[0] is None or sides[1] is None else fmean(sides[1]) - fmean(sides[0])
    return series_measured(zones, apart_mm=apart, magnification=magnification, flange_mm=flange_mm)


def series_measured(
    zones: Mapping[Zone, Sequence[ZoneFrame]],
    *,
    apart_mm: float | None,
    magnification: float = 1.0,
    behind: float = 1.0,
    flange_mm: float | None = None,
) -> SeriesMeasured:
    """What the frames tell; the zones left and right lie ``apart_mm`` on the sensor, None where one has no edge.

    ``behind`` is the glass behind the ring, ``flange_mm`` across its seat.

    A zone counts where at least four frames of one stop show it.
    """
    best: list[BestPlace] = []
    for zone, frames in zones.items():
        for stop in sorted({frame.f_number for frame in frames}):
            mine = [frame for frame in frames if frame.f_number == stop]
            if len(mine) < 4:
                continue
            top, _ = top_of(
                [frame.ring_mm for frame in mine],
                [frame.mtf50 for frame in mine],
                [frame.uncertainty for frame in mine],
            )
            if top is not None:
                best.append(BestPlace(zone, stop, *top))
    return SeriesMeasured(tuple(best), tuple(_causes(best, apart_mm, magnification, behind, flange_mm)))


def _causes(
    best: Sequence[BestPlace], apart_mm: float | None, magnification: float, behind: float, flange_mm: float | None
) -> list[CauseSeen]:
    widest = min((place.f_number for place in best), default=0.0)
    at = {place.zone: place for place in best if place.f_number == widest}
    squared = magnification**2
    causes: list[CauseSeen] = []
    left, right, centre = at.get("left"), at.get("right"), at.get("centre")
    if left is not None and right is not None and apart_mm:
        apart = (right.ring_mm - left.ring_mm) * squared
        doubt = math.hypot(left.doubt_mm, right.doubt_mm) * squared
        if abs(apart) > _TOLD * doubt:
            tangent = abs(apart) / (behind * apart_mm)
            across = None if flange_mm is None else tangent * flange_mm
            said = (
                f"The right side is sharpest with the ring {abs(apart):.3f} mm farther {'out' if apart > 0 else 'in'}"
            )
            told = "" if across is None else f": {across:.3f} mm across the flange"
            causes.append(
                CauseSeen("wedge", apart, doubt, across, f"{said} than the left one{told}.", "side_soft,side_sharp")
            )
    corners = [at[zone] for zone in CORNERS if zone in at]
    if centre is not None and len(corners) >= 2:
        mean = sum(place.ring_mm for place in corners) / len(corners)
        apart = (mean - centre.ring_mm) * squared
        doubt = math.hypot(centre.doubt_mm, max(place.doubt_mm for place in corners)) * squared
        spread = max(abs(place.ring_mm - mean) for place in corners) * squared
        if abs(apart) > _TOLD * doubt and abs(apart) > spread:
            says = (
                f"The corners are sharpest with the ring {abs(apart):.3f} mm "
                f"{'farther out' if apart > 0 else 'nearer'} than the middle."
            )
            causes.append(CauseSeen("curvature", apart, doubt, None, says, "edges_soft,edge_sharp"))
        elif spread > _TOLD * doubt and not any(cause.cause == "wedge" for cause in causes):
            says = f"One corner is off by {spread:.3f} mm from the others: that is neither a wedge nor a curved field."
            causes.append(CauseSeen("other", spread, doubt, None, says))
    stops = [place for place in best if place.zone == "centre"]
    if len(stops) >= 2:
        first, last = min(stops, key=lambda p: p.f_number), max(stops, key=lambda p: p.f_number)
        apart = (last.ring_mm - first.ring_mm) * squared
        doubt = math.hypot(first.doubt_mm, last.doubt_mm) * squared
        if abs(apart) > _TOLD * doubt:
            says = (
                f"From f/{first.f_number:g} to f/{last.f_number:g} the best focus moves by {abs(apart):.3f} "
                f"mm: focus at the aperture that you take."
            )
            causes.append(CauseSeen("shift_of_focus", apart, doubt, None, says, "middle_soft,middle_sharp"))
    return causes
