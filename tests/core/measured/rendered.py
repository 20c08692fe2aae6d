"""Edges and lit frames rendered from the exact integral over each pixel, and what their analytic MTF is."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from functools import cache
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Reals = NDArray[np.float64]
REACH: Final = 200.0
_ERF: Final = np.frompyfunc(math.erf, 1, 1)


def _spread_twice(kind: str, width: float) -> tuple[Reals, Reals]:
    """The double integral of the edge's rise, on a grid: its second difference is the mean over a pixel."""
    at = np.linspace(-REACH, REACH, 100_001)
    once = {"gauss": _gauss, "disc": _disc, "exponential": _exponential}[kind](at, width)
    twice = np.concatenate([[0.0], np.cumsum((once[1:] + once[:-1]) / 2 * np.diff(at))])
    return at, twice


_kept = cache(_spread_twice)


def _gauss(t: Reals, sigma: float) -> Reals:
    z = t / sigma
    erf = np.asarray(_ERF(z / math.sqrt(2)), dtype=np.float64)
    return np.asarray(sigma * (z * 0.5 * (1 + erf) + np.exp(-z * z / 2) / math.sqrt(2 * math.pi)))


def _disc(t: Reals, diameter: float) -> Reals:
    r = diameter / 2
    u = np.clip(t / r, -1, 1)
    inside = 0.5 * u + (-((1 - u * u) ** 1.5) / 3 + u * np.arcsin(u) + np.sqrt(1 - u * u)) / np.pi
    return np.asarray(r * inside + np.where(t > r, t - r, 0.0))


def _exponential(t: Reals, length: float) -> Reals:
    """The line spreads as e^−|t|/length: long tails, as of a soft lens."""
    tail = length / 2 * np.exp(-np.abs(t) / length)
    return np.asarray(tail + np.where(t > 0, t, 0.0))


def edge(
    angle_deg: float,
    kinds: tuple[tuple[str, float], ...],
    *,
    rows: int = 200,
    columns: int | None = None,
    low: float = 0.05,
    high: float = 0.8,
    noise: float = 0.0,
    bits: int = 16,
    seed: int = 1,
) -> Reals:
    """A near upright edge, dark on the left: rows × columns of linear light; blurs follow one another."""
    slant = math.radians(angle_deg)
    c, s = math.cos(slant), abs(math.sin(slant))
    wide = sum(rise(kind, width) for kind, width in kinds)
    columns = columns or int(max(44, 4 * wide + rows * abs(math.tan(slant)) + 6))
    y, x = np.mgrid[0:rows, 0:columns].astype(np.float64)
    distance = (x - (columns - 1) / 2) * c - (y - (rows - 1) / 2) * math.sin(slant)
    at, twice = _kept(*kinds[0]) if len(kinds) == 1 else _joined(kinds)
    ends = ((c + s) / 2, (c - s) / 2)
    mean = sum(
        sign * np.interp(distance + offset, at, twice)
        for sign, offset in ((1, ends[0]), (-1, ends[1]), (-1, -ends[1]), (1, -ends[0]))
    ) / (c * s)
    light = low + (high - low) * np.asarray(mean)
    light = light + noise * np.random.default_rng(seed).standard_normal(light.shape)
    most = 2**bits - 1
    return np.asarray(np.round(np.clip(light, 0, 1) * most) / most)


@cache
def _joined(kinds: tuple[tuple[str, float], ...]) -> tuple[Reals, Reals]:
    """Blurs one after another, folded on a grid of a hundredth of a pixel."""
    at = np.arange(-REACH, REACH, 0.01)
    spread = np.zeros_like(at)
    spread[at.size // 2] = 1.0
    frequencies = np.asarray(np.fft.rfftfreq(at.size, 0.01), dtype=np.float64)
    whole = np.fft.rfft(spread)
    for kind, width in kinds:
        whole = whole * mtf(kind, width, frequencies)
    line = np.fft.irfft(whole, at.size)
    line = line / line.sum()
    once = np.cumsum(np.cumsum(line)) * 0.01
    return at, np.cumsum(once) * 0.01


def rise(kind: str, width: float) -> float:
    """From 10 to 90 % of the edge."""
    return {"gauss": 2.5631 * width, "disc": 0.6871 * width, "exponential": 3.2189 * width}[kind]


def mtf(kind: str, width: float, f: Reals) -> Reals:
    """Of the blur alone."""
    if kind == "gauss":
        return np.asarray(np.exp(-2 * (np.pi * width * f) ** 2))
    if kind == "exponential":
        return np.asarray(1 / (1 + (2 * np.pi * width * f) ** 2))
    z = np.pi * width * np.asarray(f, dtype=np.float64)
    return np.asarray(np.where(z < 1e-9, 1.0, 2 * _bessel_1(z) / np.maximum(z, 1e-9)))


@cache
def _bessel_table() -> tuple[Reals, Reals]:
    at = np.linspace(0, 26, 5201)
    theta = (np.arange(400) + 0.5) * np.pi / 400
    return at, np.cos(theta[None, :] - at[:, None] * np.sin(theta)[None, :]).mean(axis=1)


def _bessel_1(z: Reals) -> Reals:
    """Its integral for small z, Hankel's expansion beyond (Abramowitz and Stegun, 9.2.5)."""
    far = np.maximum(z, 25.0)
    angle = far - 3 * np.pi / 4
    even, odd = 1 + 15 / (128 * far**2), 3 / (8 * far) - 315 / (3072 * far**3)
    beyond = np.sqrt(2 / (np.pi * far)) * (even * np.cos(angle) - odd * np.sin(angle))
    return np.where(z < 25.0, np.interp(z, *_bessel_table()), beyond)


def true_mtf50(angle_deg: float, kinds: tuple[tuple[str, float], ...]) -> float:
    """Where the contrast of blur and pixel falls to one half."""
    slant = math.radians(angle_deg)
    f = np.linspace(1e-6, 1.0, 4001)
    value = np.sinc(f * math.cos(slant)) * np.sinc(f * math.sin(abs(slant)))
    for kind, width in kinds:
        value = value * mtf(kind, width, f)
    right = int(np.argmax(value < 0.5))
    f0, f1, v0, v1 = f[right - 1], f[right], value[right - 1], value[right]
    return float(f0 + (v0 - 0.5) / (v0 - v1) * (f1 - f0))


def lit(
    width: int, height: int, circle: float, soft: float, centre: tuple[float, float] = (0.0, 0.0), **more: Any
) -> Reals:
    """An evenly lit frame with a circle whose edge falls over ``soft`` to either side, and a shoulder of ``fall``."""
    fall, noise = more.get("fall", 0.4), more.get("noise", 0.004)
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    r = np.hypot(x - (width - 1) / 2 - centre[0], y - (height - 1) / 2 - centre[1])
    shoulder = 0.8 * (1 - fall * (r / (math.hypot(width, height) / 2)) ** 2)
    share = np.clip(0.5 - (r - circle / 2) / (2 * soft), 0, 1)
    chance = np.random.default_rng(more.get("seed", 2))
    return np.asarray(np.clip(shoulder * share + noise * chance.standard_normal(r.shape), 0, 1))


def encoded(light: Reals) -> Reals:
    """As sRGB, 0 to 1."""
    high = 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055
    return np.asarray(np.where(light <= 0.0031308, 12.92 * light, high))


def scene(
    width: int, height: int, edges: Sequence[tuple[int, int, float, tuple[tuple[str, float], ...]]], **more: Any
) -> Reals:
    """Patches with an edge each on a grey wall: column and row of their corner, angle, blurs."""
    light = np.full((height, width), 0.35)
    for x, y, angle, kinds in edges:
        part = edge(abs(angle), kinds, columns=130, low=0.05, high=0.75, **more)
        # A negative angle is an edge that lies.
        part = part if angle > 0 else part.T
        light[y : y + part.shape[0], x : x + part.shape[1]] = part
    return light


def picture_file(light: Reals, kind: str = "PNG") -> bytes:
    """As a file of eight bits."""
    target = io.BytesIO()
    more = {"quality": 97} if kind == "JPEG" else {}
    Image.fromarray(np.round(encoded(light) * 255).astype(np.uint8)).save(target, kind, **more)
    return target.getvalue()
