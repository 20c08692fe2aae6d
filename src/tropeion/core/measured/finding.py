"""Edges of a picture that could be measured: searched for in a small copy, measured in the picture itself."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tropeion.core.frozen import frozen

from .slanted import LEAST_ROWS, MOST_DEG, EdgeMeasured, Luma, RefusedEdgeError, Why, measure_edge

Small = NDArray[np.float32]
# A region of the picture in linear light: x, y, width, height.
Region = Callable[[int, int, int, int], Luma]

# A gradient counts from this share of the whole range of the small copy on.
_STRONG: Final = 0.05
# Neighbours of a chain lie this near to where it is expected, in pixels of the small copy.
_NEAR_PX: Final = 1.3
_MOST_ROWS: Final = 260
_MOST_SIDE_PX: Final = 140
_LEAST_SIDE_PX: Final = 14
MOST_EDGES: Final = 80
_CELLS: Final = 5
# Copies up to this scale are searched a second time, so much smaller.
_FINE, _COARSER = 2.0, 4
_KNOWN_PX: Final = 16.0
_MOST_REFUSED: Final = 40


@frozen
class RefusedAt:
    """An edge that does not qualify: its middle, and why."""

    x: float
    y: float
    why: Why


@frozen
class Found:
    """What was found in a picture, from the top down."""

    edges: tuple[EdgeMeasured, ...]
    refused: tuple[RefusedAt, ...]


@dataclass(slots=True)
class _Chain:
    """Places where one edge crosses rows of the small copy, one after another."""

    rows: list[int] = field(default_factory=list)
    places: list[float] = field(default_factory=list)

    def expects(self) -> float:
        """Where it will cross the next row."""
        if len(self.places) < 6:
            return self.places[-1]
        return self.places[-1] + (self.places[-1] - self.places[-6]) / 5


# A chain, whether it runs upright, and where light changes in the small copy as it is turned for it.
_Candidate = tuple[_Chain, bool, NDArray[np.bool_]]


def find_edges(small: Small, scale: float, region: Region, *, clips_at: tuple[float, float] | None = None) -> Found:
    """Every straight edge that spans 60 pixels. ``scale``: pixels of the picture to one of the small copy."""
    edges: list[EdgeMeasured] = []
    refused: list[RefusedAt] = []
    levels = [(small, scale)]
    if scale <= _FINE:
        # What is very soft has no steep place in a copy that is hardly smaller than the picture.
        levels.append((_coarser(small), scale * _COARSER))
    for image, step in levels:
        candidates = [(chain, way, strong) for way in (True, False) for chain, strong in _chains(image, step, way)]
        for chain, upright, strong in _spread_out(candidates):
            if len(edges) >= MOST_EDGES:
                break
            at = _refused(chain, upright, step, "no_edge")
            if step > scale and any(_is_known(edge, at.x, at.y, upright) for edge in edges):
                continue
            try:
                edges.append(_measured(chain, upright, _room(strong, chain), image.shape, step, region, clips_at))
            except RefusedEdgeError as error:
                if step == scale:
                    refused.append(_refused(chain, upright, step, error.why))
    return Found(
        tuple(sorted(edges, key=lambda edge: (edge.y, edge.x))),
        tuple(sorted(refused[:_MOST_REFUSED], key=lambda one: (one.y, one.x))),
    )


def _coarser(small: Small) -> Small:
    rows, columns = (side // _COARSER for side in small.shape)
    cut = small[: rows * _COARSER, : columns * _COARSER]
    return np.asarray(cut.reshape(rows, _COARSER, columns, _COARSER).mean(axis=(1, 3)), dtype=np.float32)


def _is_known(edge: EdgeMeasured, x: float, y: float, upright: bool) -> bool:
    """Whether a place lies on an edge that was measured."""
    along, across = (edge.y - y, edge.x - x) if upright else (edge.x - x, edge.y - y)
    return edge.upright == upright and abs(along) <= edge.rows / 2 and abs(across) <= max(_KNOWN_PX, edge.rows / 4)


def _spread_out(candidates: list[_Candidate]) -> list[_Candidate]:
    """The longest of every part of the frame first, then the next of each: a corner is not left out for the middle."""
    by_cell: dict[tuple[int, int, bool], list[_Candidate]] = {}
    for one in sorted(candidates, key=lambda one: -len(one[0].rows)):
        chain, upright, strong = one
        down, across = float(np.mean(chain.rows)) / strong.shape[0], float(np.mean(chain.places)) / strong.shape[1]
        by_cell.setdefault((int(_CELLS * down), int(_CELLS * across), upright), []).append(one)
    ranked = [(rank, one) for cell in by_cell.values() for rank, one in enumerate(cell)]
    return [one for _, one in sorted(ranked, key=lambda pair: pair[0])]


def _chains(small: Small, scale: float, upright: bool) -> Iterator[tuple[_Chain, NDArray[np.bool_]]]:
    """Straight chains of crossings, and where in the small copy, as it is turned for them, light changes at all."""
    image = small if upright else np.ascontiguousarray(small.T)
    smooth = image.copy()
    smooth[1:-1] = (image[:-2] + 2 * image[1:-1] + image[2:]) / 4
    along = np.zeros_like(smooth)
    along[:, 1:-1] = (smooth[:, 2:] - smooth[:, :-2]) / 2
    down = np.zeros_like(smooth)
    down[1:-1] = (smooth[2:] - smooth[:-2]) / 2
    size = np.abs(along)
    strong = size > _STRONG * float(np.ptp(image) or 1.0)
    # Nearer to upright than to lying, with room for what is refused for its angle.
    strong &= size > 2.2 * np.abs(down)
    peak = strong.copy()
    peak[:, 1:-1] &= (size[:, 1:-1] >= size[:, :-2]) & (size[:, 1:-1] > size[:, 2:])
    peak[:, [0, -1]] = False
    least = math.ceil(LEAST_ROWS / scale)
    for chain in _linked(peak, along):
        if len(chain.rows) < least:
            continue
        lean, at = np.polyfit(chain.rows, chain.places, 1)
        off = np.abs(np.asarray(chain.places) - at - lean * np.asarray(chain.rows))
        if float(np.quantile(off, 0.9)) > max(0.6, 1.0 / scale) or abs(math.degrees(math.atan(lean))) > 2 * MOST_DEG:
            continue
        yield chain, strong


def _linked(peak: NDArray[np.bool_], along: Small) -> Iterator[_Chain]:
    """Crossings row by row; a chain ends where the next row has none near, or one of the other sign."""
    open_chains: list[_Chain] = []
    signs: dict[int, bool] = {}
    for row in range(peak.shape[0]):
        columns = np.nonzero(peak[row])[0]
        free = {int(column) for column in columns}
        going: list[_Chain] = []
        for chain in open_chains:
            expected = chain.expects()
            middle = round(expected)
            beside = [column for column in range(middle - 2, middle + 3) if column in free]
            near = min(beside, key=lambda column: abs(column - expected), default=None)
            same = near is not None and bool(along[row, near] > 0) == signs[id(chain)]
            if near is not None and same and abs(near - expected) <= _NEAR_PX:
                free.discard(near)
                chain.rows.append(row)
                chain.places.append(_between(along[row], near))
                going.append(chain)
            else:
                yield chain
        for column in free:
            begun = _Chain([row], [_between(along[row], column)])
            signs[id(begun)] = bool(along[row, column] > 0)
            going.append(begun)
        open_chains = going
    yield from open_chains


def _between(slope: Small, column: int) -> float:
    """The top of a parabola through a peak and its neighbours."""
    left, middle, right = (abs(float(slope[at])) for at in (column - 1, column, column + 1))
    curve = left - 2 * middle + right
    return column + (0.0 if curve >= 0 else max(-0.5, min(0.5, (left - right) / (2 * curve))))


def _room(strong: NDArray[np.bool_], chain: _Chain) -> float:
    """How far the next change of light is, to either side, in most rows."""
    apart = []
    for row, place in zip(chain.rows, chain.places, strict=True):
        others = np.nonzero(strong[row])[0]
        # What belongs to the edge itself lies together with it.
        runs = np.split(others, np.nonzero(np.diff(others) > 1)[0] + 1) if others.size else []
        beside = [run for run in runs if not run[0] - 1 <= place <= run[-1] + 1]
        left = max((int(run[-1]) for run in beside if run[-1] < place), default=-1)
        right = min((int(run[0]) for run in beside if run[0] > place), default=strong.shape[1])
        apart.append(min(place - left, right - place))
    return float(np.quantile(apart, 0.1))


def _measured(
    chain: _Chain,
    upright: bool,
    room: float,
    shape: tuple[int, ...],
    scale: float,
    region: Region,
    clips_at: tuple[float, float] | None,
) -> EdgeMeasured:
    rows = np.asarray(chain.rows, dtype=np.float64)
    lean, at = np.polyfit(rows, chain.places, 1)
    first, last = float(rows[0]) * scale, (float(rows[-1]) + 1) * scale
    # The ends of an edge are corners: they are left out.
    trim = min(2.5 * scale, (last - first) * 0.06)
    first, last = first + trim, last - trim
    if last - first > _MOST_ROWS:
        middle = (first + last) / 2
        first, last = middle - _MOST_ROWS / 2, middle + _MOST_ROWS / 2
    if last - first < LEAST_ROWS:
        raise RefusedEdgeError("too_short")
    side = min(_MOST_SIDE_PX, room * scale - 2)
    if side < _LEAST_SIDE_PX:
        raise RefusedEdgeError("too_narrow")
    ends = [(at + 0.5 + lean * row / scale) * scale for row in (first, last)]
    across = (shape[1] if upright else shape[0]) * scale
    left, right = max(0, math.floor(min(ends) - side)), min(math.floor(across), math.ceil(max(ends) + side))
    top, bottom = math.floor(first), math.ceil(last)
    box = (left, top, right - left, bottom - top) if upright else (top, left, bottom - top, right - left)
    return measure_edge(region(*box), at=(box[0], box[1]), clips_at=clips_at)


def _refused(chain: _Chain, upright: bool, scale: float, why: Why) -> RefusedAt:
    along, across = float(np.mean(chain.rows)) * scale, float(np.mean(chain.places)) * scale
    return RefusedAt(across, along, why) if upright else RefusedAt(along, across, why)
