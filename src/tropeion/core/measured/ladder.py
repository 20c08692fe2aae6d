"""A focus ladder: edges along a strip that leads through the plane of focus, and where along it they are sharpest."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

import numpy as np

from tropeion.core.frozen import frozen

from .slanted import EdgeMeasured

# The printed ladder, between its two marks.
USUAL_LENGTH_MM: Final = 240.0
# An edge belongs to the ladder within this share of its length to either side of the line through its ends.
_BESIDE: Final = 0.12
_BEYOND: Final = 0.02
# Of the greatest sharpness, what counts for the top.
_TOP: Final = 0.6
_LEAST: Final = 4


@frozen
class Rung:
    """An edge of the ladder: how far along it from its middle, in mm."""

    x: float
    y: float
    offset_mm: float
    mtf50: float
    uncertainty: float | None


@frozen
class LadderPeak:
    """Where the ladder is sharpest, ± one standard uncertainty."""

    x: float
    y: float
    offset_mm: float
    doubt_mm: float


@frozen
class LadderMeasured:
    """The rungs from one end to the other; ``peak`` None, and ``why``, where no top lies between the ends."""

    rungs: tuple[Rung, ...]
    peak: LadderPeak | None
    why: str


def ladder_of(
    edges: Sequence[EdgeMeasured], start: tuple[float, float], end: tuple[float, float], length_mm: float
) -> LadderMeasured:
    """The ladder between two places of a picture. Raises ValueError where they are one."""
    (x0, y0), (x1, y1) = start, end
    span = math.hypot(x1 - x0, y1 - y0)
    if span < 1:
        raise ValueError("the two ends of the ladder are one place")
    along = ((x1 - x0) / span, (y1 - y0) / span)
    rungs = []
    for edge in edges:
        t = ((edge.x - x0) * along[0] + (edge.y - y0) * along[1]) / span
        beside = abs((edge.y - y0) * along[0] - (edge.x - x0) * along[1]) / span
        if -_BEYOND <= t <= 1 + _BEYOND and beside <= _BESIDE:
            rungs.append(Rung(edge.x, edge.y, (t - 0.5) * length_mm, edge.mtf50, edge.uncertainty))
    rungs.sort(key=lambda rung: rung.offset_mm)
    peak, why = _peak(rungs)
    if peak is None:
        return LadderMeasured(tuple(rungs), None, why)
    offset, doubt = peak
    t = offset / length_mm + 0.5
    return LadderMeasured(
        tuple(rungs), LadderPeak(x0 + t * span * along[0], y0 + t * span * along[1], offset, doubt), ""
    )


def _peak(rungs: Sequence[Rung]) -> tuple[tuple[float, float] | None, str]:
    if len(rungs) < _LEAST:
        return None, f"{len(rungs)} edges between the two ends; {_LEAST} at least"
    return top_of(
        [rung.offset_mm for rung in rungs], [rung.mtf50 for rung in rungs], [rung.uncertainty for rung in rungs]
    )


def top_of(
    places: Sequence[float], values: Sequence[float], doubts: Sequence[float | None]
) -> tuple[tuple[float, float] | None, str]:
    """Where values are greatest, ± one standard uncertainty: the top of a parabola through those near the greatest.

    None, with the reason, where there is no top between the ends.
    """
    at, value = np.asarray(places, dtype=np.float64), np.asarray(values, dtype=np.float64)
    usual = max(0.02 * float(value.max()), 1e-4)
    doubt = np.asarray([usual if one is None else max(one, usual / 4) for one in doubts])
    near = value >= _TOP * value.max()
    if near.sum() < _LEAST:
        near = np.zeros_like(near)
        near[np.argsort(-value)[:_LEAST]] = True
    middle, scale = float(at[near].mean()), float(np.ptp(at[near])) or 1.0
    design = np.column_stack([((at[near] - middle) / scale) ** power for power in (2, 1, 0)])
    weights = 1 / doubt[near]
    solved, *_ = np.linalg.lstsq(design * weights[:, None], value[near] * weights, rcond=None)
    a, b, _c = (float(one) for one in solved)
    beyond = "it gets sharper towards one end: the top lies beyond it"
    if a >= 0:
        ends = float(at[int(np.argmax(value))]) in (float(at.min()), float(at.max()))
        return None, beyond if ends else "it is not sharper anywhere than beside it"
    top = -b / (2 * a)
    left = value[near] - design @ solved
    freedom = max(1, int(near.sum()) - 3)
    spread = max(1.0, float(((left * weights) ** 2).sum()) / freedom)
    inverse = np.linalg.pinv((design * weights[:, None]).T @ (design * weights[:, None])) * spread
    slope = np.asarray([b / (2 * a * a), -1 / (2 * a), 0.0])
    offset = middle + top * scale
    if not at.min() <= offset <= at.max():
        return None, beyond
    return (offset, math.sqrt(float(slope @ inverse @ slope)) * scale), ""
