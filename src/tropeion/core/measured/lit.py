"""An evenly lit frame: the edge of the image circle where it lies inside, and how the light falls off.

Rings about the centre give the light by radius; the shoulder a + b·r² is what it would be without the edge of the
circle. Lengths in pixels, light falling off in stops.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tropeion.core.frozen import frozen

from .slanted import Luma

_SECTORS: Final = 72
_LEAST_SECTORS: Final = 6
_LEAST_PIXELS: Final = 8
_LEAST_STEP_PIXELS: Final = 4
_PASSES: Final = 3
_RINGS: Final = 240
# Where the shoulder is taken, of the radius at which the light falls steepest.
_SHOULDER: Final = (0.2, 0.85)
# The light falls by half within this share of the radius, or it is no edge.
_WITHIN: Final = 0.10
# Where the fall-off is drawn, in stops.
_FALLS: Final = (1 / 3, 2 / 3, 1.0, 2.0)


@frozen
class FallenTo:
    """From this radius on, about the centre, the light has fallen by so many stops."""

    stops: float
    radius_px: float


@frozen
class LitFrame:
    """What an evenly lit frame tells, in pixels.

    ``circle_px`` None: no edge lies inside the frame, and it is ``at_least_px``. ``centre`` from the middle of the
    frame, to the right and down. ``corners_dark``: they are, and no edge is told. Fall-off in stops at half the height
    and in the corner, None where it is black; ``falls`` where it falls by thirds of a stop.
    """

    circle_px: float | None
    doubt_px: float | None
    at_least_px: float | None
    centre: tuple[float, float]
    corners_dark: bool
    half_height_stops: float | None
    corner_stops: float | None
    falls: tuple[FallenTo, ...] = ()


@frozen
class _Profile:
    """Light by radius, and what the shoulder makes of it: g, 1 inside, 0 in the dark."""

    radius: NDArray[np.float64]
    light: NDArray[np.float64]
    share: NDArray[np.float64]
    steepest: float


def lit_frame(luma: Luma) -> LitFrame:
    """Circle and fall-off of an evenly lit frame; rows × columns of linear light. Raises ValueError for a dark one."""
    height, width = luma.shape
    middle = ((width - 1) / 2, (height - 1) / 2)
    centre = middle
    profile = _profile(luma, centre)
    for _ in range(_PASSES):
        moved = _centre(luma, centre, profile)
        if moved is None:
            break
        centre = moved
        profile = _profile(luma, centre)
    offset = (centre[0] - middle[0], centre[1] - middle[1])
    half_diagonal = math.hypot(width, height) / 2
    edge = _at(profile, 0.5)
    outer, inner = _at(profile, 0.8), _at(profile, 0.2)
    circle = doubt = least = None
    dark = bool(_share_at(profile, profile.radius[-1]) < 0.8)
    if edge is not None and outer is not None and inner is not None and _falls(profile, edge):
        circle, doubt = 2 * edge, (inner - outer) / 2
    elif edge is not None and outer is not None:
        circle, doubt = 2 * edge, 2 * (edge - outer)
    elif outer is not None:
        least = 2 * outer
    else:
        least = 2 * half_diagonal
    return LitFrame(
        circle_px=circle,
        doubt_px=doubt,
        at_least_px=least,
        centre=offset,
        corners_dark=dark,
        half_height_stops=_stops(luma, middle, height / 2),
        corner_stops=_stops(luma, middle, half_diagonal),
        falls=tuple(_falls_to(profile, half_diagonal)),
    )


def _falls_to(profile: _Profile, half_diagonal: float) -> Iterator[FallenTo]:
    inner = profile.light[profile.radius <= 0.05 * half_diagonal]
    bright = float(inner.mean() if inner.size else profile.light[0])
    for stops in _FALLS:
        level = bright * 2.0**-stops
        above = np.nonzero(profile.light >= level)[0]
        if above.size == 0 or above[-1] == profile.light.size - 1:
            return
        left = int(above[-1])
        high, low = float(profile.light[left]), float(profile.light[left + 1])
        between = (high - level) / (high - low) if high > low else 0.0
        radius = float(profile.radius[left] + between * (profile.radius[left + 1] - profile.radius[left]))
        yield FallenTo(stops, radius)


def _radii(shape: tuple[int, int], centre: tuple[float, float]) -> Luma:
    rows, columns = shape
    across = np.arange(columns, dtype=np.float64)[None, :] - centre[0]
    down = np.arange(rows, dtype=np.float64)[:, None] - centre[1]
    return np.asarray(np.hypot(across, down), dtype=np.float64)


def _profile(luma: Luma, centre: tuple[float, float]) -> _Profile:
    """The mean light of rings, those of too few pixels left out; and the shoulder through it."""
    radius = _radii((luma.shape[0], luma.shape[1]), centre)
    step = float(radius.max()) / _RINGS
    place = (radius / step).astype(np.int64).ravel()
    known = np.isfinite(luma).ravel()
    hits = np.bincount(place[known], minlength=_RINGS + 1)
    total = np.bincount(place[known], weights=luma.ravel()[known], minlength=_RINGS + 1)
    kept = hits >= _LEAST_PIXELS
    at = (np.arange(_RINGS + 1) + 0.5)[kept] * step
    light = total[kept] / hits[kept]
    if light[: max(3, light.size // 20)].mean() <= 0:
        raise ValueError("the middle of the frame is black: it is not evenly lit")
    slope = np.diff(light)
    steepest = float((at[1:] + at[:-1])[int(np.argmin(slope))] / 2)
    inside = (at >= _SHOULDER[0] * steepest) & (at <= _SHOULDER[1] * steepest)
    if inside.sum() >= 3:
        b, a = np.polyfit(at[inside] ** 2, light[inside], 1)
        shoulder = a + b * at**2
    else:
        shoulder = np.full_like(at, float(light[: max(3, light.size // 20)].mean()))
    floor = 0.02 * float(light.max())
    share = light / np.maximum(shoulder, floor)
    return _Profile(np.asarray(at, dtype=np.float64), light, share, steepest)


def _at(profile: _Profile, level: float) -> float | None:
    """The radius beyond which the share stays below a level; None where it does not fall so far inside the frame."""
    above = np.nonzero(profile.share >= level)[0]
    if above.size == 0 or above[-1] == profile.share.size - 1:
        return None
    left = int(above[-1])
    r0, r1 = profile.radius[left], profile.radius[left + 1]
    g0, g1 = profile.share[left], profile.share[left + 1]
    return float(r0 + (g0 - level) / (g0 - g1) * (r1 - r0)) if g0 > g1 else float(r0)


def _share_at(profile: _Profile, radius: float) -> float:
    return float(np.interp(radius, profile.radius, profile.share))


def _falls(profile: _Profile, edge: float) -> bool:
    """Whether the light falls by half about the edge, within a tenth of its radius to either side."""
    before, beyond = _share_at(profile, edge * (1 - _WITHIN)), _share_at(profile, edge * (1 + _WITHIN))
    return before - beyond >= 0.5


def _centre(luma: Luma, centre: tuple[float, float], profile: _Profile) -> tuple[float, float] | None:
    """The middle of the circle through the places where sectors fall through one half; None with too few of them."""
    rows, columns = luma.shape
    edge = _at(profile, 0.5)
    if edge is None:
        return None
    radius = _radii((rows, columns), centre)
    near = (radius > 0.75 * edge) & (radius < 1.25 * edge) & np.isfinite(luma)
    if not near.any():
        return None
    down, across = np.nonzero(near)
    angle = np.arctan2(down - centre[1], across - centre[0])
    sector = ((angle + np.pi) / (2 * np.pi) * _SECTORS).astype(np.int64) % _SECTORS
    share = luma[near] / _shoulder_at(profile, radius[near])
    step = max(1.0, edge / 120)
    found: list[tuple[float, float]] = []
    for number in range(_SECTORS):
        mine = sector == number
        crossing = _crossing(radius[near][mine], share[mine], step)
        if crossing is not None:
            turned = (number + 0.5) / _SECTORS * 2 * math.pi - math.pi
            found.append((centre[0] + crossing * math.cos(turned), centre[1] + crossing * math.sin(turned)))
    if len(found) < _LEAST_SECTORS:
        return None
    points = np.asarray(found)
    # x² + y² = 2·cx·x + 2·cy·y + (r² − cx² − cy²)
    left = np.column_stack([2 * points, np.ones(len(found))])
    solved, *_ = np.linalg.lstsq(left, (points**2).sum(axis=1), rcond=None)
    return float(solved[0]), float(solved[1])


def _shoulder_at(profile: _Profile, radius: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.interp(radius, profile.radius, profile.light / np.maximum(profile.share, 1e-9))


def _crossing(radius: NDArray[np.float64], share: NDArray[np.float64], step: float) -> float | None:
    """Where the light of one sector falls through one half."""
    if radius.size < _LEAST_STEP_PIXELS:
        return None
    place = ((radius - radius.min()) / step).astype(np.int64)
    hits = np.bincount(place)
    mean = np.bincount(place, weights=share) / np.maximum(hits, 1)
    at = radius.min() + (np.arange(hits.size) + 0.5) * step
    kept = hits >= _LEAST_STEP_PIXELS
    at, mean = at[kept], mean[kept]
    above = np.nonzero(mean >= 0.5)[0]
    if above.size == 0 or above[-1] == mean.size - 1 or mean[-1] >= 0.5:
        return None
    left = int(above[-1])
    g0, g1 = mean[left], mean[left + 1]
    return float(at[left] + (g0 - 0.5) / (g0 - g1) * (at[left + 1] - at[left])) if g0 > g1 else None


def _stops(luma: Luma, middle: tuple[float, float], radius: float) -> float | None:
    """−log₂ of the light at a radius over that of the middle; None where it is black there."""
    distance = _radii((luma.shape[0], luma.shape[1]), middle)
    half = math.hypot(*luma.shape) / 2
    inner = float(np.nanmean(luma[distance <= 0.05 * half]))
    ring = luma[np.abs(distance - radius) <= max(1.5, 0.01 * half)]
    ring = ring[np.isfinite(ring)]
    if ring.size == 0 or inner <= 0:
        return None
    there = float(ring.mean())
    return None if there <= 0 else -math.log2(there / inner)
