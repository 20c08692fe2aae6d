"""The slanted edge: how sharp a picture is, from one straight edge that runs a little off the pixel grid.

ISO 12233, e-SFR, by the page's own choices: places of equal area, bins of a quarter pixel, first difference, a window
flat to half its width. Lengths in pixels, frequencies in cycles a pixel along the normal of the edge.
"""

from __future__ import annotations

import math
from typing import Final, Literal

import numpy as np
from numpy.typing import NDArray

from tropeion.core.frozen import frozen

Luma = NDArray[np.float64]
Why = Literal["clipped", "angle", "contrast", "empty_bin", "too_short", "too_narrow", "noise", "no_edge"]

BIN_PX: Final = 0.25
LEAST_DEG, MOST_DEG = 2.0, 10.0
LEAST_CONTRAST: Final = 4.0
LEAST_ROWS: Final = 60
LEAST_HALF_PX: Final = 12.0
MOST_NOISE: Final = 0.10
SHARPENED_BY: Final = 0.05
STRIPS: Final = 5
LEAST_STRIP_ROWS: Final = 12
# Of so many pixels of a region may be at the end of the scale, by chance.
_MOST_CLIPPED: Final = 0.002

WORDS: Final[dict[Why, str]] = {
    "clipped": "it is clipped: expose so that neither side is at the end of the scale",
    "angle": "it runs less than 2° or more than 10° off the pixel grid: turn the chart or the camera by 5°",
    "contrast": "its sides differ by less than 4 : 1",
    "empty_bin": "it does not cross enough pixels to be sampled everywhere",
    "too_short": "it is too short: 60 pixels at least",
    "too_narrow": "there is too little room beside it: twice its own width on either side",
    "noise": "it is too noisy: its flat sides vary by more than a tenth of the step",
    "no_edge": "there is no straight edge in it",
}


class RefusedEdgeError(ValueError):
    """An edge that does not qualify; ``why`` as a code."""

    def __init__(self, why: Why) -> None:
        self.why: Why = why
        super().__init__(WORDS[why])


@frozen
class Mtf:
    """The contrast that is left at each frequency; 1 at 0."""

    frequencies: tuple[float, ...]
    values: tuple[float, ...]

    def at(self, frequency: float) -> float:
        return float(np.interp(frequency, self.frequencies, self.values))


@frozen
class EdgeMeasured:
    """One edge: its middle in pixels of the picture, its signed angle from the nearest grid line.

    ``upright``: it runs nearer to the vertical. ``uncertainty`` is one standard uncertainty of ``mtf50``, None where
    the edge is too short for three strips; ``width_px`` the rise from 10 to 90 %, along the normal.
    """

    x: float
    y: float
    angle_deg: float
    upright: bool
    mtf50: float
    uncertainty: float | None
    width_px: float
    sharpened: bool
    mtf: Mtf
    rows: int


@frozen
class _Side:
    """The edge of a region that was turned so that it runs along the rows' direction: x = at + lean · row."""

    luma: Luma
    at: float
    lean: float
    low: float
    high: float
    rising: bool

    @property
    def cosine(self) -> float:
        return 1 / math.hypot(1.0, self.lean)


def measure_edge(
    luma: Luma, *, at: tuple[float, float] = (0.0, 0.0), clips_at: tuple[float, float] | None = None
) -> EdgeMeasured:
    """Measure the edge in a region; places that hold no sample are NaN (the greens of a raw file stand at every other).

    ``luma``: rows × columns of linear light, ``at`` the place of its first pixel in the picture, ``clips_at`` the ends
    of the scale. Raises RefusedEdgeError.
    """
    upright = _is_upright(luma)
    turned = luma if upright else luma.T
    if clips_at is not None:
        _check_clipped(luma, clips_at)
    side = _side_of(turned)
    room = _room(side)
    if turned.shape[0] < LEAST_ROWS:
        raise RefusedEdgeError("too_short")
    # Said first: what runs along the grid has no other fault that could be mended.
    if not LEAST_DEG / 2 <= abs(math.degrees(math.atan(side.lean))) <= 2 * MOST_DEG:
        raise RefusedEdgeError("angle")
    half = room
    width = 0.0
    for _ in range(2):
        width = _width(side, half)
        half = min(room, max(LEAST_HALF_PX, 4 * width))
        side = _line(side, half)
        room = _room(side)
    width = _width(side, half)
    half = min(room, max(LEAST_HALF_PX, 4 * width))
    angle = math.degrees(math.atan(side.lean))
    _check(side, turned.shape[0], angle, width, room, half)
    mtf, sharpened = _mtf(side, half, None)
    mtf50 = _half(mtf)
    middle = (turned.shape[0] - 1) / 2
    along, across = middle, side.at + side.lean * middle
    x, y = (across, along) if upright else (along, across)
    return EdgeMeasured(
        x=at[0] + x,
        y=at[1] + y,
        angle_deg=-angle if upright else angle,
        upright=upright,
        mtf50=mtf50,
        uncertainty=_uncertainty(side, half, angle),
        width_px=width,
        sharpened=sharpened,
        mtf=mtf,
        rows=turned.shape[0],
    )


def _is_upright(luma: Luma) -> bool:
    """Whether the light changes more from column to column than from row to row."""
    if luma.ndim != 2 or min(luma.shape) < 8:
        raise RefusedEdgeError("too_short")
    across = np.nanmean(luma, axis=0)
    down = np.nanmean(luma, axis=1)
    spread = float(np.ptp(across)), float(np.ptp(down))
    if max(spread) <= 0 or not math.isfinite(max(spread)):
        raise RefusedEdgeError("no_edge")
    return spread[0] >= spread[1]


def _check_clipped(luma: Luma, clips_at: tuple[float, float]) -> None:
    known = luma[np.isfinite(luma)]
    clipped = np.count_nonzero((known <= clips_at[0]) | (known >= clips_at[1]))
    if clipped > _MOST_CLIPPED * known.size:
        raise RefusedEdgeError("clipped")


def _side_of(luma: Luma) -> _Side:
    """Levels from the outer columns, and a first line from whole rows."""
    columns = luma.shape[1]
    outer = max(2, columns // 12)
    left, right = float(np.nanmedian(luma[:, :outer])), float(np.nanmedian(luma[:, -outer:]))
    low, high = min(left, right), max(left, right)
    if not high > low:
        raise RefusedEdgeError("no_edge")
    places = _places(luma, low, high, left < right, None)
    return _fitted(luma, places, low, high, rising=left < right)


def _places(
    luma: Luma, low: float, high: float, rising: bool, window: tuple[NDArray[np.float64], float] | None
) -> NDArray[np.float64]:
    """Where the edge crosses each row: the place of equal area, within ``window`` (middle by row, half its width)."""
    columns = np.arange(luma.shape[1])
    if window is None:
        inside = np.ones_like(luma, dtype=bool)
        first = np.full(luma.shape[0], -0.5)
        last = np.full(luma.shape[0], luma.shape[1] - 0.5)
    else:
        middle, half = window
        first = np.clip(np.ceil(middle - half) - 0.5, -0.5, None)
        last = np.clip(np.floor(middle + half) + 0.5, None, luma.shape[1] - 0.5)
        inside = (columns[None, :] > first[:, None]) & (columns[None, :] < last[:, None])
    known = inside & np.isfinite(luma)
    # Each sample stands for its share of the row: of the greens only every other place has one.
    share = (last - first) / np.maximum(1, known.sum(axis=1))
    dark = np.where(known, high - luma, 0.0).sum(axis=1) * share / (high - low)
    return np.asarray(first + dark if rising else last - dark, dtype=np.float64)


def _fitted(luma: Luma, places: NDArray[np.float64], low: float, high: float, *, rising: bool) -> _Side:
    rows = np.arange(luma.shape[0], dtype=np.float64)
    known = np.isfinite(places)
    if known.sum() < LEAST_STRIP_ROWS:
        raise RefusedEdgeError("too_short")
    lean, at = np.polyfit(rows[known], places[known], 1)
    return _Side(luma, float(at), float(lean), low, high, rising)


def _room(side: _Side) -> float:
    """The room beside the edge in every row, along the normal."""
    rows, columns = side.luma.shape
    ends = (side.at, side.at + side.lean * (rows - 1))
    return float(min(*ends, columns - 1 - max(ends)) * side.cosine)


def _line(side: _Side, half: float) -> _Side:
    """The line again, from what lies within ``half`` of it; with the levels of the flat ends beyond."""
    rows = np.arange(side.luma.shape[0], dtype=np.float64)
    middle = side.at + side.lean * rows
    low, high = _levels(side, half)
    reach = half / side.cosine
    places = _places(side.luma, low, high, side.rising, (middle, reach))
    return _fitted(side.luma, places, low, high, rising=side.rising)


def _distances(side: _Side) -> Luma:
    """How far each pixel lies from the line, along the normal; negative before it."""
    rows, columns = side.luma.shape
    across = np.arange(columns, dtype=np.float64)[None, :]
    along = np.arange(rows, dtype=np.float64)[:, None]
    return np.asarray((across - side.at - side.lean * along) * side.cosine, dtype=np.float64)


def _levels(side: _Side, half: float) -> tuple[float, float]:
    """The light of either side, from the outer quarter of what is looked at."""
    distance = _distances(side)
    ends = []
    for sign in (-1, 1):
        there = side.luma[(sign * distance > 0.75 * half) & (sign * distance <= half)]
        there = there[np.isfinite(there)]
        if there.size < LEAST_STRIP_ROWS:
            raise RefusedEdgeError("too_narrow")
        ends.append(float(there.mean()))
    low, high = min(ends), max(ends)
    if not high > low:
        raise RefusedEdgeError("no_edge")
    return low, high


def _spread(side: _Side, half: float, rows: slice | None) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The light over the distance from the line, in bins of a quarter pixel."""
    if half < 4 * BIN_PX:
        raise RefusedEdgeError("too_narrow")
    distance, luma = _distances(side), side.luma
    if rows is not None:
        distance, luma = distance[rows], luma[rows]
    count = 2 * math.ceil(half / BIN_PX)
    edge = count / 2 * BIN_PX
    place = np.floor((distance + edge) / BIN_PX).astype(np.int64)
    known = (place >= 0) & (place < count) & np.isfinite(luma)
    hits = np.bincount(place[known], minlength=count)
    if (hits == 0).any():
        raise RefusedEdgeError("empty_bin")
    spread = np.bincount(place[known], weights=luma[known], minlength=count) / hits
    where = (np.arange(count) + 0.5) * BIN_PX - edge
    return np.asarray(where, dtype=np.float64), np.asarray(spread, dtype=np.float64)


def _width(side: _Side, half: float) -> float:
    """The rise from 10 to 90 %, along the normal."""
    where, spread = _spread(side, min(half, _room(side)), None)
    light = (spread - side.low) / (side.high - side.low)
    if not side.rising:
        light = light[::-1]
    # A cumulative maximum, so that ripples cross once.
    rising = np.maximum.accumulate(light)
    ends = [float(np.interp(level, rising, where)) for level in (0.1, 0.9)]
    return max(BIN_PX, ends[1] - ends[0])


def _check(side: _Side, rows: int, angle: float, width: float, room: float, half: float) -> None:
    if not LEAST_DEG <= abs(angle) <= MOST_DEG:
        raise RefusedEdgeError("angle")
    if rows < max(LEAST_ROWS, 1 / math.tan(math.radians(abs(angle)))):
        raise RefusedEdgeError("too_short")
    if side.low * LEAST_CONTRAST > side.high:
        raise RefusedEdgeError("contrast")
    # To the outer side of the outermost pixel, whose middle is where the room ends.
    if room + 0.5 < 2 * width:
        raise RefusedEdgeError("too_narrow")
    distance = _distances(side)
    for sign in (-1, 1):
        there = side.luma[(sign * distance > 0.75 * half) & (sign * distance <= half)]
        if float(np.nanstd(there)) > MOST_NOISE * (side.high - side.low):
            raise RefusedEdgeError("noise")


def _mtf(side: _Side, half: float, rows: slice | None) -> tuple[Mtf, bool]:
    where, spread = _spread(side, half, rows)
    step = side.high - side.low
    over = max(float(spread.max()) - side.high, side.low - float(spread.min()))
    line = np.diff(spread) * (1 if side.rising else -1)
    at = (where[1:] + where[:-1]) / 2
    beyond = np.clip((np.abs(at) - half / 2) / (half / 2), 0.0, 1.0)
    line = line * 0.5 * (1 + np.cos(np.pi * beyond))
    # Padded, so that samples lie close enough to be joined by straight lines.
    size = 8 * line.size
    light = np.abs(np.fft.rfft(line, size))
    frequencies = np.fft.rfftfreq(size, BIN_PX)
    kept = frequencies <= 1.0
    frequencies, light = frequencies[kept], light[kept]
    if light[0] <= 0:
        raise RefusedEdgeError("no_edge")
    values = light / light[0] / np.sinc(frequencies * BIN_PX) ** 2
    return Mtf(tuple(frequencies.tolist()), tuple(values.tolist())), over > SHARPENED_BY * step


def _half(mtf: Mtf) -> float:
    """The first frequency at which half of the contrast is left."""
    values = np.asarray(mtf.values)
    below = np.nonzero(values < 0.5)[0]
    if below.size == 0:
        return mtf.frequencies[-1]
    right = int(below[0])
    (f0, f1), (v0, v1) = mtf.frequencies[right - 1 : right + 1], mtf.values[right - 1 : right + 1]
    return f0 + (v0 - 0.5) / (v0 - v1) * (f1 - f0)


def _uncertainty(side: _Side, half: float, angle: float) -> float | None:
    """From strips along the edge, each long enough to be sampled everywhere."""
    rows = side.luma.shape[0]
    least = max(LEAST_STRIP_ROWS, math.ceil(1 / math.tan(math.radians(abs(angle)))))
    count = min(STRIPS, rows // least)
    if count < 3:
        return None
    found = []
    for number in range(count):
        strip = slice(number * rows // count, (number + 1) * rows // count)
        try:
            found.append(_half(_mtf(side, half, strip)[0]))
        except RefusedEdgeError:
            return None
    spread = float(np.std(found, ddof=1))
    if count == 3:
        return spread
    return spread / math.sqrt(count) * math.sqrt((count - 1) / (count - 3))
