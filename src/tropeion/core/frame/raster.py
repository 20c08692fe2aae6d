"""Polygons to pixels, with exact coverage: what an edge takes of a pixel is accumulated, then summed along the row."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float32]
Reals = npt.NDArray[np.float64]
Shape = tuple[int, int]


def coverage_of(points: Reals, sizes: npt.NDArray[np.int64], shape: Shape) -> tuple[slice, slice, Floats] | None:
    """How much of each pixel polygons take, 0 to 1, over the rows and columns that they touch.

    ``points`` are the corners of closed rings one after another, x and y in pixels with y down, shape (n, 2); ``sizes``
    how many each ring has. Where rings overlap they add up, to 1 at most. None where nothing falls into the picture.
    """
    height, width = shape
    if len(sizes) == 0:
        return None
    top, bottom = _inside(points[:, 1], height)
    left, right = _inside(points[:, 0], width)
    if top >= bottom or left >= right:
        return None
    begins = points - (left, top)
    after = np.arange(1, len(points) + 1)
    starts = np.cumsum(sizes) - sizes
    after[starts + sizes - 1] = starts
    ends = begins[after]
    turns = np.add.reduceat(begins[:, 0] * ends[:, 1] - ends[:, 0] * begins[:, 1], starts)
    sums = _accumulated(begins, ends, np.repeat(np.sign(turns), sizes), right - left, bottom - top)
    np.cumsum(sums, axis=1, out=sums)
    np.abs(sums, out=sums)
    np.minimum(sums, 1, out=sums)
    return slice(top, bottom), slice(left, right), sums[:, : right - left].astype(np.float32)


def _inside(places: Reals, size: int) -> tuple[int, int]:
    return max(0, int(np.floor(places.min()))), min(size, int(np.ceil(places.max())))


def _accumulated(begins: Reals, ends: Reals, turns: Reals, width: int, height: int) -> Reals:
    """What every edge adds to the pixel it crosses and to the one beside it, by row and column."""
    down = ends[:, 1] > begins[:, 1]
    sign = np.where(down, turns, -turns)
    x0, y0 = np.where(down, begins[:, 0], ends[:, 0]), np.where(down, begins[:, 1], ends[:, 1])
    x1, y1 = np.where(down, ends[:, 0], begins[:, 0]), np.where(down, ends[:, 1], begins[:, 1])
    first = np.clip(np.floor(y0), 0, height).astype(np.int64)
    last = np.clip(np.ceil(y1), 0, height).astype(np.int64)
    count = np.maximum(last - first, 0)
    edge = np.repeat(np.arange(len(sign)), count)
    row = _counted(count) + first[edge]
    slope = (x1 - x0) / np.where(y1 > y0, y1 - y0, 1.0)
    ya, yb = np.maximum(y0[edge], row), np.minimum(y1[edge], row + 1)
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
    place = row[part] * (width + 2) + np.minimum(column, width)
    size = height * (width + 2)
    amounts = np.concatenate([amount * (1 - beyond), amount * beyond])
    sums: Reals = np.bincount(np.concatenate([place, place + 1]), amounts, size)[:size].astype(np.float64, copy=False)
    return sums.reshape(height, width + 2)


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
    rows, columns = -image.shape[0] % by, -image.shape[1] % by
    padded = np.pad(image, ((0, rows), (0, columns)), mode="edge") if rows or columns else image
    tall, wide = padded.shape
    means: Floats = padded.reshape(tall // by, by, wide // by, by).mean(axis=(1, 3), dtype=np.float32)
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
    rows, columns = (_between(size, small, by) for size, small in zip(shape, image.shape, strict=True))
    low, high, part = rows
    tall: Floats = image[low] * (1 - part)[:, None] + image[high] * part[:, None]
    low, high, part = columns
    wide: Floats = tall[:, low] * (1 - part) + tall[:, high] * part
    return wide


def _between(size: int, small: int, by: int) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64], Floats]:
    """Between which two means each pixel stands, and how far along."""
    at = np.clip((np.arange(size) + 0.5) / by - 0.5, 0, small - 1)
    low = at.astype(np.int64)
    return low, np.minimum(low + 1, small - 1), (at - low).astype(np.float32)


def disc_blurred(image: Floats, diameter: float) -> Floats:
    """The mean over a disc about every pixel, edges repeated; row by row of the disc, with running sums.

    ``diameter`` in pixels; below one pixel nothing happens.
    """
    if diameter <= 1:
        return image
    radius = diameter / 2
    reach = int(np.ceil(radius - 0.5))
    chords = [(down, *chord) for down in range(reach + 1) if (chord := _chord(radius, down))[1] > 0]
    found = np.empty_like(image)
    # Strips stay where the processor has them at hand.
    tall = max(_STRIP_ROWS, _STRIP_PIXELS // max(1, image.shape[1]))
    for top in range(0, image.shape[0], tall):
        first, last = max(0, top - reach - 1), min(image.shape[0], top + tall + reach + 1)
        rim = (top - first, last - min(image.shape[0], top + tall))
        _strip(image[first:last], rim, reach + 1, chords, found[top : top + tall])
    return found


# Lower strips have more rim than middle.
_STRIP_ROWS, _STRIP_PIXELS = 24, 40_000


def _strip(
    image: Floats, rim: tuple[int, int], reach: int, chords: Sequence[tuple[int, float, float]], total: Floats
) -> None:
    """The means of some rows, into ``total``; ``rim`` rows more are there above and below, as far as there are any.

    ``chords`` of the disc: how far down, half of the width, and the share of the row.
    """
    padded = _edged(image, rim, reach)
    running = np.zeros((padded.shape[0], padded.shape[1] + 1), np.float32)
    # Double precision: in single, a bright row's rounding error swamps a dark row.
    running[:, 1:] = np.cumsum(padded, axis=1, dtype=np.float64)
    tall, wide = total.shape
    total[:] = 0
    weight = 0.0
    for down, half, share in chords:
        whole = max(0, int(np.floor(half - 0.5 + 1e-9)))
        rest = max(0.0, half - 0.5 - whole)
        # The row above and the row below have chords of one length.
        rows = [slice(reach + at, reach + at + tall) for at in ({0} if down == 0 else (-down, down))]
        sums = running[rows[0]] if down == 0 else running[rows[0]] + running[rows[1]]
        run = sums[:, reach + whole + 1 : reach + whole + 1 + wide] - sums[:, reach - whole : reach - whole + wide]
        length = 2 * whole + 1.0
        if rest > 0:
            edge = padded[rows[0]] if down == 0 else padded[rows[0]] + padded[rows[1]]
            ends = (
                edge[:, reach + whole + 1 : reach + whole + 1 + wide]
                + edge[:, reach - whole - 1 : reach - whole - 1 + wide]
            )
            ends *= np.float32(rest)
            run += ends
            length += 2 * rest
        if share != 1:
            run *= np.float32(share)
        total += run
        weight += share * length * len(rows)
    total /= np.float32(weight)


def _edged(image: Floats, rim: tuple[int, int], reach: int) -> Floats:
    """The picture with ``reach`` pixels around its middle, the outermost repeated where its own ``rim`` has fewer."""
    above, below = (reach - own for own in rim)
    tall, wide = image.shape
    found = np.empty((tall + above + below, wide + 2 * reach), np.float32)
    found[above : above + tall, reach : reach + wide] = image
    found[above : above + tall, :reach] = image[:, :1]
    found[above : above + tall, reach + wide :] = image[:, -1:]
    found[:above] = found[above]
    found[above + tall :] = found[above + tall - 1]
    return found


def _chord(radius: float, down: int) -> tuple[float, float]:
    """Half the width of a disc in a row of pixels, on average, and the share of the row that it reaches."""
    low, high = max(-radius, down - 0.5), min(radius, down + 0.5)
    if low >= high:
        return 0.0, 0.0

    def area(at: float) -> float:
        return float((at * np.sqrt(max(0.0, radius**2 - at**2)) + radius**2 * np.arcsin(at / radius)) / 2)

    share = high - low
    return (area(high) - area(low)) / share, share
