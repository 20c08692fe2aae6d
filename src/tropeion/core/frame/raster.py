"""Polygons to pixels, with exact coverage: what an edge takes of a pixel is accumulated, then summed along the row."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from types import ModuleType
from typing import Any

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float32]
Reals = npt.NDArray[np.float64]
Shape = tuple[int, int]


Corners = tuple[Reals, npt.NDArray[np.int64]]
Covered = tuple[slice, slice, Floats]


def coverage_of(points: Reals, sizes: npt.NDArray[np.int64], shape: Shape) -> Covered | None:
    """How much of each pixel polygons take, 0 to 1, over the rows and columns that they touch.

    ``points`` are the corners of closed rings one after another, x and y in pixels with y down, shape (n, 2); ``sizes``
    how many each ring has. Where rings overlap they add up, to 1 at most. None where nothing falls into the picture.
    """
    (covered,) = coverages_of([(points, sizes)], shape)
    return covered


def coverages_of(outlines: Sequence[Corners], shape: Shape) -> list[Covered | None]:
    """The same of many at once, each for itself: small ones take no longer than their edges do."""
    windows = [_window(points, sizes, shape) for points, sizes in outlines]
    seen = [number for number, window in enumerate(windows) if window is not None]
    found: list[Covered | None] = [None] * len(outlines)
    if not seen:
        return found
    points, sizes = (np.concatenate(column) for column in zip(*(outlines[number] for number in seen), strict=True))
    tops, bottoms, lefts, rights = np.array([windows[number] for number in seen]).T
    # A last column is beside the last pixel, and one more beside that.
    widths, heights = rights - lefts + 2, bottoms - tops
    ends = np.cumsum(widths * heights)
    places = np.repeat(np.arange(len(seen)), [len(outlines[number][0]) for number in seen])
    begins = points - np.column_stack([lefts, tops])[places]
    after = np.arange(1, len(points) + 1)
    starts = np.cumsum(sizes) - sizes
    after[starts + sizes - 1] = starts
    onward = begins[after]
    turns = np.add.reduceat(begins[:, 0] * onward[:, 1] - onward[:, 0] * begins[:, 1], starts)
    windows_of = np.column_stack([widths, heights, ends - widths * heights])[places]
    sums = _accumulated(begins, onward, np.repeat(np.sign(turns), sizes), windows_of, int(ends[-1]))
    cells = zip(tops.tolist(), bottoms.tolist(), lefts.tolist(), rights.tolist(), ends.tolist(), strict=True)
    for number, (top, bottom, left, right, end) in zip(seen, cells, strict=True):
        tall, wide = bottom - top, right - left
        window = sums[end - tall * (wide + 2) : end].reshape(tall, wide + 2)
        np.cumsum(window, axis=1, out=window)
        np.abs(window, out=window)
        np.minimum(window, 1, out=window)
        found[number] = slice(top, bottom), slice(left, right), window[:, :wide]
    return found


def _window(points: Reals, sizes: npt.NDArray[np.int64], shape: Shape) -> tuple[int, int, int, int] | None:
    """The rows and columns of the picture that polygons touch; None where it is none."""
    if len(sizes) == 0:
        return None
    (left, top), (right, bottom) = np.floor(points.min(axis=0)).tolist(), np.ceil(points.max(axis=0)).tolist()
    top, bottom, left, right = (
        max(0, int(top)),
        min(shape[0], int(bottom)),
        max(0, int(left)),
        min(shape[1], int(right)),
    )
    return (top, bottom, left, right) if top < bottom and left < right else None


def _accumulated(begins: Reals, ends: Reals, turns: Reals, windows: npt.NDArray[np.int64], size: int) -> Floats:
    """What every edge adds to the pixel it crosses and to the one beside it, row by row.

    ``windows`` are, for each edge, how wide and high what it is drawn into is, and where that begins.
    """
    down = ends[:, 1] > begins[:, 1]
    sign = np.where(down, turns, -turns)
    x0, y0 = np.where(down, begins[:, 0], ends[:, 0]), np.where(down, begins[:, 1], ends[:, 1])
    x1, y1 = np.where(down, ends[:, 0], begins[:, 0]), np.where(down, ends[:, 1], begins[:, 1])
    wide, height, offset = windows.T
    first = np.clip(np.floor(y0), 0, height).astype(np.int64)
    last = np.clip(np.ceil(y1), 0, height).astype(np.int64)
    count = np.maximum(last - first, 0)
    edge = np.repeat(np.arange(len(sign)), count)
    row = _counted(count) + first[edge]
    slope = (x1 - x0) / np.where(y1 > y0, y1 - y0, 1.0)
    ya, yb = np.maximum(y0[edge], row), np.minimum(y1[edge], row + 1)
    width = (wide - 2)[edge]
    xa = np.clip(x0[edge] + (ya - y0[edge]) * slope[edge], 0, width)
    xb = np.clip(x0[edge] + (yb - y0[edge]) * slope[edge], 0, width)
    cover = (yb - ya) * sign[edge]
    low, high = np.minimum(xa, xb), np.maximum(xa, xb)
    start = np.floor(low).astype(np.int64)
    pieces = np.maximum(np.ceil(high).astype(np.int64) - start, 1)
    part = np.repeat(np.arange(len(row)), pieces)
    column = _counted(pieces) + start[part]
    span = high[part] - low[part]
    from_x, to_x = np.maximum(low[part], column), np.minimum(high[part], column + 1)
    share = np.where(span > 0, (to_x - from_x) / np.where(span > 0, span, 1.0), 1.0)
    amount = cover[part] * share
    beyond = np.clip((from_x + to_x) / 2 - column, 0, 1)
    place = (offset[edge] + row * wide[edge])[part] + np.minimum(column, width[part])
    amounts = np.concatenate([amount * (1 - beyond), amount * beyond])
    return np.bincount(np.concatenate([place, place + 1]), amounts, size)[:size].astype(np.float32)


def _counted(counts: npt.NDArray[np.int64]) -> npt.NDArray[np.int64]:
    """0, 1, 2 … within each run."""
    ends = np.cumsum(counts)
    return np.arange(int(ends[-1]) if len(ends) else 0) - np.repeat(ends - counts, counts)


def shrunk(image: Floats, by: int) -> Floats:
    """Means over squares of ``by`` pixels; rows and columns that are left over repeat the last."""
    if by == 1:
        return image
    if by > min(image.shape):
        # For a blur far wider than the picture, the part beyond it is computed in closed form.
        return _means_along(_means_along(image, by).T, by).T.astype(np.float32)
    cv2 = cv()
    rows, columns = -image.shape[0] % by, -image.shape[1] % by
    if rows or columns:
        image = cv2.copyMakeBorder(image, 0, rows, 0, columns, cv2.BORDER_REPLICATE)
    means: Floats = cv2.resize(image, (image.shape[1] // by, image.shape[0] // by), interpolation=cv2.INTER_AREA)
    return means


def _means_along(image: npt.NDArray[Any], by: int) -> npt.NDArray[np.float64]:
    """Means of ``by`` rows each, as many of the last as are missing."""
    sums = np.add.reduceat(image, np.arange(0, image.shape[0], by), axis=0, dtype=np.float64)
    sums[-1] += (-image.shape[0] % by) * image[-1].astype(np.float64)
    found: npt.NDArray[np.float64] = sums / by
    return found


def grown(image: Floats, by: int, shape: Shape) -> Floats:
    """The opposite of :func:`shrunk`: back to ``shape``, linear between the means."""
    if by == 1:
        return image
    if by > min(shape):
        # Whole squares of it would be larger than the picture.
        return _linear_along(_linear_along(image, by, shape[0]).T, by, shape[1]).T
    cv2 = cv()
    tall, wide = image.shape
    found: Floats = cv2.resize(image, (wide * by, tall * by), interpolation=cv2.INTER_LINEAR)
    return found[: shape[0], : shape[1]]


def _linear_along(image: Floats, by: int, size: int) -> Floats:
    """So many rows of pixels between the means of ``by`` rows each."""
    at = np.clip((np.arange(size) + 0.5) / by - 0.5, 0, len(image) - 1)
    low = at.astype(np.int64)
    part = (at - low).astype(np.float32)[:, np.newaxis]
    found: Floats = image[low] * (1 - part) + image[np.minimum(low + 1, len(image) - 1)] * part
    return found


def cv() -> ModuleType:
    """OpenCV, loaded with the first frame: it takes 18 MB, which nobody spends who looks at none."""
    import cv2  # noqa: PLC0415

    return cv2


def disc_blurred(image: Floats, diameter: float) -> Floats:
    """The mean over a disc about every pixel, edges repeated; ``diameter`` in pixels.

    Below one pixel nothing happens.
    """
    if diameter <= 1:
        return image
    cv2 = cv()
    found: Floats = cv2.filter2D(image, -1, _disc(diameter), borderType=cv2.BORDER_REPLICATE)
    return found


@lru_cache(maxsize=256)
def _disc(diameter: float) -> Floats:
    """The share of each pixel that a disc takes, over their sum: row by row, each end of a row as far as it reaches."""
    radius = diameter / 2
    off = np.abs(np.arange(-int(np.ceil(radius - 0.5)), int(np.ceil(radius - 0.5)) + 1))
    low, high = np.maximum(off - 0.5, -radius), np.minimum(off + 0.5, radius)
    tall = high - low
    # Half of the width of the disc in each row of pixels, on average over what of the row it reaches.
    half = (_under_arc(high, radius) - _under_arc(low, radius)) / tall
    shares: Floats = (np.clip(half[:, None] - off + 0.5, 0, 1) * tall[:, None]).astype(np.float32)
    shares /= shares.sum()
    shares.setflags(write=False)
    return shares


def _under_arc(at: Reals, radius: float) -> Reals:
    """The area between a half circle and its diameter, from the middle to ``at``."""
    found: Reals = (at * np.sqrt(np.maximum(radius**2 - at**2, 0)) + radius**2 * np.arcsin(at / radius)) / 2
    return found
