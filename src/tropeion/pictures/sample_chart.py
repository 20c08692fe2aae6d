"""Frames to try measuring with, drawn by the page itself: a chart that gets softer to its corners, and a lit wall."""

from __future__ import annotations

import io
import math
from typing import Final, Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from .decoding import linear_of

Kind = Literal["chart", "lit"]
Reals = NDArray[np.float64]
WIDTH, HEIGHT = 1800, 1200
_DARK, _WHITE = 0.05, 0.7
_SIDE: Final = 190.0
_TURN: Final = math.radians(5.0)
_PLACES: Final = (0.11, 0.305, 0.5, 0.695, 0.89)
# How soft it is in the middle and, more, in the corner, in pixels.
_SOFT_PX: Final = (0.85, 1.5)


def sample_frame(kind: Kind) -> bytes:
    """A PNG of eight bits, as no camera sharpened it."""
    light = _chart() if kind == "chart" else _lit()
    light = light + 0.004 * np.random.default_rng(7).standard_normal(light.shape)
    # The inverse of sRGB, by its table.
    levels = linear_of(np.arange(256) / 255.0)
    encoded = np.interp(np.clip(light, 0, 1), levels, np.arange(256.0))
    target = io.BytesIO()
    Image.fromarray(np.round(encoded).astype(np.uint8)).save(target, "PNG")
    return target.getvalue()


def _below(z: Reals) -> Reals:
    """The normal distribution below z, from a table."""
    at = np.linspace(-6, 6, 2401)
    table = [0.5 * (1 + math.erf(one / math.sqrt(2))) for one in at]
    return np.interp(z, at, table)


def _chart() -> Reals:
    light = np.full((HEIGHT, WIDTH), _WHITE)
    for across in _PLACES:
        for down in (0.14, 0.5, 0.86):
            _square(light, across * WIDTH, down * HEIGHT)
    return light


def _square(light: Reals, x: float, y: float) -> None:
    off = math.hypot(x - WIDTH / 2, y - HEIGHT / 2) / (math.hypot(WIDTH, HEIGHT) / 2)
    soft, room, half = _SOFT_PX[0] + _SOFT_PX[1] * off**2, round(_SIDE * 0.75), _SIDE / 2
    top, left = max(0, round(y) - room), max(0, round(x) - room)
    part = light[top : round(y) + room, left : round(x) + room]
    rows, columns = np.indices(part.shape)
    dx, dy = columns + left - x, rows + top - y
    u = np.asarray(dx * math.cos(_TURN) + dy * math.sin(_TURN), dtype=np.float64)
    v = np.asarray(dy * math.cos(_TURN) - dx * math.sin(_TURN), dtype=np.float64)
    along, across = _between(u, half, soft), _between(v, half, soft)
    part[...] = part + (_DARK - part) * along * across


def _between(at: Reals, half: float, soft: float) -> Reals:
    """1 within ``half`` of 0, 0 beyond, falling as a normal does."""
    return _below((at + half) / soft) - _below((at - half) / soft)


def _lit() -> Reals:
    rows, columns = np.indices((HEIGHT // 2, WIDTH // 2))
    r = np.hypot(columns - WIDTH / 4 - 6, rows - HEIGHT / 4 + 4) / (math.hypot(WIDTH, HEIGHT) / 4)
    return np.asarray(0.8 * (1 - 0.45 * r**2) * (1 - _below((r - 0.93) / 0.012)))
