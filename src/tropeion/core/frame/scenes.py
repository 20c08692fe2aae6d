"""Scenes that are computed, not photographed: planes with shapes on them, and points of light; in metres.

x runs to the right, y up from the ground, z forward from the sensor. A scene lists its surfaces from the back to the
front; each lies in one plane. Tones run from 0 (no light) to 1 (white).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import Final, Literal, get_args

import numpy as np
import numpy.typing as npt

from tropeion.core.frozen import frozen

SceneName = Literal["facade", "nave", "mark", "chart"]
SCENES: Final[tuple[SceneName, ...]] = get_args(SceneName)
Reals = npt.NDArray[np.float64]
Ring = Sequence[tuple[float, float]]


@frozen
class Patch:
    """Shapes of one tone in the coordinates of their surface: rings that all turn the same way."""

    tone: float
    rings: tuple[Ring, ...]


@frozen
class Surface:
    """A plane through ``origin``, spanned by two unit vectors, with patches painted one over the other, in m."""

    origin: tuple[float, float, float]
    along: tuple[float, float, float]
    up: tuple[float, float, float]
    patches: tuple[Patch, ...]


@frozen
class Lamp:
    """A point of light; ``strength`` is what a white pixel's worth of it would be, times that."""

    at: tuple[float, float, float]
    strength: float


@frozen
class Scene:
    """Surfaces from the back to the front, and lights before them all."""

    surfaces: tuple[Surface, ...]
    lights: tuple[Lamp, ...] = ()


@frozen
class Standpoint:
    """Where a scene is put: the subject's distance from the sensor and its height, the height of the lens; in m.

    ``field`` is what the frame takes in at the subject, width and height in m.
    """

    distance_m: float
    subject_m: float
    lens_m: float
    field: tuple[float, float]


ACROSS = (1.0, 0.0, 0.0)
UPWARDS = (0.0, 1.0, 0.0)
AWAY = (0.0, 0.0, 1.0)


def _box(left: float, bottom: float, right: float, top: float) -> Ring:
    return ((left, bottom), (right, bottom), (right, top), (left, top))


def _arch(middle: float, bottom: float, width: float, height: float) -> Ring:
    """A round-headed opening."""
    half = width / 2
    spring = bottom + height - half
    head = [(middle + half * math.cos(angle), spring + half * math.sin(angle)) for angle in np.linspace(0, math.pi, 33)]
    return ((middle - half, bottom), (middle + half, bottom), *head)


def _disc(x: float, y: float, radius: float, corners: int = 32) -> Ring:
    return tuple(
        (x + radius * math.cos(angle), y + radius * math.sin(angle))
        for angle in np.arange(corners) * (2 * math.pi / corners)
    )


def _upright(distance_m: float, *patches: Patch) -> Surface:
    """A plane that faces the camera when it is held level."""
    return Surface((0.0, 0.0, distance_m), ACROSS, UPWARDS, patches)


def _facade(setting: Standpoint) -> Scene:
    """A church front with a tower, ground from the camera to the front, a hedge at a third of the way, far hills."""
    high, away = setting.subject_m, setting.distance_m
    sky = _upright(
        5_000.0,
        Patch(0.74, (_box(-20_000, -4_000, 20_000, 20_000),)),
        Patch(0.82, (_box(-20_000, -4_000, 20_000, 900),)),
        Patch(0.9, (_box(-20_000, -4_000, 20_000, 420),)),
    )
    hills = _upright(
        2_000.0,
        Patch(
            0.36, (((-6_000, -400), (6_000, -400), (6_000, 60), (2_400, 150), (900, 40), (-700, 120), (-6_000, 30)),)
        ),
    )
    ground = Surface((0.0, 0.0, 0.0), ACROSS, AWAY, (Patch(0.3, (_box(-400, 0.2, 400, 1_500),)), _paving(away)))
    return Scene((sky, hills, ground, _front(high, away), _hedge(away)), ())


# Longer paths are cut into no more slabs than can be distinguished.
MOST_SLABS = 300


def _paving(away: float) -> Patch:
    """A path to the door, of slabs two metres long."""
    count = min(MOST_SLABS, max(2, int(away / 2)))
    return Patch(0.42, tuple(_box(-1.3, 0.3 + 2 * n, 1.3, 0.3 + 2 * n + 1.8) for n in range(count) if 2 * n + 2 < away))


def _front(high: float, away: float) -> Surface:
    """The front itself: a gable beside a tower, with openings, string courses and a clock."""
    wide, gable = 0.62 * high, 0.52 * high
    left, tower = -0.36 * high, 0.24 * high
    roof = 0.74 * high
    stone = Patch(
        0.8,
        (
            (
                (left, 0),
                (left + wide + tower, 0),
                (left + wide + tower, gable),
                (left + tower + wide / 2, 0.68 * high),
                (left, gable),
            ),
            _box(left, 0, left + tower, roof),
        ),
    )
    spire = Patch(0.3, (((left - 0.01 * high, roof), (left + tower + 0.01 * high, roof), (left + tower / 2, high)),))
    shaded = Patch(
        0.64, (_box(left, 0, left + 0.035 * high, roof), _box(left + 0.92 * tower, gable, left + tower, roof))
    )
    nave = left + tower + wide / 2
    windows = [_arch(nave + side * 0.17 * high, 0.2 * high, 0.085 * high, 0.22 * high) for side in (-1, 1)]
    belfry = [_arch(left + tower * share, 0.56 * high, 0.055 * high, 0.12 * high) for share in (0.32, 0.68)]
    slits = [_arch(left + tower / 2, level * high, 0.04 * high, 0.09 * high) for level in (0.16, 0.36)]
    door = _arch(nave, 0.0, 0.13 * high, 0.2 * high)
    dark = Patch(0.07, (*windows, *belfry, *slits, door, _disc(nave, 0.54 * high, 0.04 * high)))
    courses = Patch(
        0.5,
        tuple(
            _box(left, level * high, left + (tower if level > 0.5 else tower + wide), level * high + 0.008 * high)
            for level in (0.03, 0.15, 0.3, 0.45, 0.52, 0.62, 0.72)
        ),
    )
    clock = Patch(0.93, (_disc(left + tower / 2, 0.5 * high, 0.036 * high),))
    hands = Patch(
        0.1,
        (
            _box(left + tower / 2 - 0.002 * high, 0.5 * high, left + tower / 2 + 0.002 * high, 0.53 * high),
            _box(left + tower / 2, 0.498 * high, left + tower / 2 + 0.022 * high, 0.502 * high),
        ),
    )
    joints = Patch(0.73, tuple(_coursed(left, tower + wide, gable, high)))
    return _upright(away, spire, stone, joints, shaded, courses, dark, clock, hands)


def _coursed(left: float, wide: float, gable: float, high: float) -> Iterator[Ring]:
    """Joints of the stones, so that there is something to be sharp."""
    step = high / 48
    for row in range(int(gable / step)):
        if row % 2 == 0:
            yield _box(left, row * step, left + wide, row * step + step * 0.1)


def _hedge(away: float) -> Surface:
    """A hedge at a third of the way, to the right: near, and out of focus."""
    left = 0.07 * away
    tops = [(left + 0.45 * n, 0.62 + 0.16 * math.sin(2.3 * n) + 0.1 * math.sin(5.1 * n)) for n in range(8)]
    shape = ((left - 0.3, 0.0), (left + 3.5, 0.0), (left + 3.5, 0.5), *reversed(tops), (left - 0.3, 0.45))
    twigs = tuple(_disc(x + 0.1, y - 0.2, 0.09, 12) for x, y in tops)
    return _upright(away / 3, Patch(0.17, (shape,)), Patch(0.25, twigs))


def _nave(_: Standpoint) -> Scene:
    """A dark nave, 8 m wide and 40 m long, with a chain of lamps into the dark and a window at the end."""
    wide, high, long = 4.0, 11.0, 40.0
    end = _upright(
        long,
        Patch(0.1, (_box(-wide, 0, wide, high),)),
        Patch(0.92, (_arch(0.0, 3.2, 2.0, 5.4), _arch(-2.4, 3.4, 0.9, 3.6), _arch(2.4, 3.4, 0.9, 3.6))),
        Patch(
            0.14, (_box(-0.05, 3.2, 0.05, 8.6), _box(-1, 5.4, 1, 5.5), _box(-1, 7.0, 1, 7.1), _box(-1.5, 0, 1.5, 1.4))
        ),
    )
    floor = Surface(
        (0.0, 0.0, 0.0),
        ACROSS,
        AWAY,
        (
            Patch(0.2, (_box(-wide, 0.3, wide, long),)),
            Patch(0.27, tuple(_box(x, z, x + 1, z + 1) for x in range(-4, 4) for z in range(1, 40) if (x + z) % 2)),
        ),
    )
    vault = Surface(
        (0.0, high, 0.0),
        ACROSS,
        AWAY,
        (
            Patch(0.07, (_box(-wide, 0.3, wide, long),)),
            Patch(0.12, tuple(_box(-wide, z, wide, z + 0.5) for z in range(4, 40, 4))),
        ),
    )
    walls = [
        Surface(
            (side * wide, 0.0, 0.0),
            AWAY,
            UPWARDS,
            (
                Patch(0.13, (_box(0.3, 0, long, high),)),
                Patch(0.5 if side > 0 else 0.3, tuple(_arch(z + 2.0, 4.6, 1.3, 4.0) for z in range(4, 38, 4))),
            ),
        )
        for side in (-1, 1)
    ]
    columns = [_pillars(float(z), side) for z in range(36, 3, -4) for side in (-1, 1)]
    lamps = tuple(Lamp((0.7 * math.sin(0.9 * n), 4.2 + 0.1 * (n % 3), 5.0 + 3 * n), 60.0 + 22 * n) for n in range(11))
    return Scene((end, floor, vault, *walls, *columns), lamps)


def _pillars(distance: float, side: int) -> Surface:
    """A column on one side of the nave, lit from the middle."""
    inner = side * 2.96
    return _upright(
        distance,
        Patch(0.24, (_box(side * 3.3 - 0.34, 0.0, side * 3.3 + 0.34, 8.4),)),
        Patch(0.44, (_box(inner - 0.08, 0.0, inner + 0.08, 8.4),)),
        Patch(0.36, (_box(side * 3.3 - 0.46, 8.1, side * 3.3 + 0.46, 8.5),)),
    )


def _mark(setting: Standpoint) -> Scene:
    """The foot of an organ pipe with its stamped mark and a rule beside it, and a second rule that lies in depth."""
    away, lens = setting.distance_m, setting.lens_m
    mm = 0.001
    behind = _upright(
        away + 0.35, Patch(0.12, (_box(-4, lens - 4, 4, lens + 4),)), Patch(0.2, (_box(-4, lens - 4, -0.02, lens + 4),))
    )

    def put(ring: Ring) -> Ring:
        return tuple((x * mm, lens + y * mm) for x, y in ring)

    metal = Patch(0.62, (put(_box(-60, -300, 60, 300)),))
    sheen = Patch(0.74, (put(_box(-22, -300, 8, 300)),))
    stamped = Patch(0.16, tuple(put(ring) for ring in _letters()))
    ticks = [_box(-58, n, -58 + (9 if n % 10 == 0 else 6 if n % 5 == 0 else 4), n + 0.22) for n in range(-150, 151)]
    rule = Patch(0.1, tuple(put(ring) for ring in ticks))
    pipe = _upright(away, metal, sheen, stamped, rule)
    lean = math.sqrt(0.5)
    marks = [_box(66, n, 66 + (14 if n % 10 == 0 else 8 if n % 5 == 0 else 5), n + 0.3) for n in range(-150, 151)]
    slanted = Surface(
        (0.0, lens, away),
        ACROSS,
        (0.0, lean, lean),
        (
            Patch(0.86, (tuple((x * mm, y * mm) for x, y in _box(64, -150, 92, 150)),)),
            Patch(0.08, tuple(tuple((x * mm, y * mm) for x, y in ring) for ring in marks)),
        ),
    )
    return Scene((behind, pipe, slanted), (Lamp((-0.012, lens + 0.034, away), 6.0),))


def _letters() -> Iterator[Ring]:
    """The stamp “c 4 ′” of a four-foot pipe, in strokes two millimetres wide."""
    for start, end in ((50, 180), (180, 310)):
        outer = [
            (-14 + 9 * math.cos(math.radians(a)), 9 * math.sin(math.radians(a))) for a in range(start, end + 1, 10)
        ]
        inner = [
            (-14 + 7 * math.cos(math.radians(a)), 7 * math.sin(math.radians(a))) for a in range(end, start - 1, -10)
        ]
        yield (*outer, *inner)
    yield _box(12, -9, 14, 11)
    yield ((3, -3), (16, -3), (16, -1), (3, -1))
    yield ((3, -1), (5.4, -1), (14, 9), (12, 11))
    yield ((22, 6), (24, 6), (25, 12), (23, 12))


def _chart(setting: Standpoint) -> Scene:
    """A chart that fills the frame: slanted squares in the middle, at the edges and corners, stars, even grey."""
    wide, high = setting.field
    lens, away = setting.lens_m, setting.distance_m
    size = high / 9

    def slanted(x: float, y: float) -> Ring:
        turn = math.radians(5)
        c, s = math.cos(turn) * size / 2, math.sin(turn) * size / 2
        return tuple((x + c * i - s * j, y + s * i + c * j) for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1)))

    squares = tuple(
        slanted(i * wide * 0.43, lens + j * high * 0.41)
        for i in (-1, -0.5, 0, 0.5, 1)
        for j in (-1, 0, 1)
        if (i, j) != (0, 0)
    )
    stars = [
        _star(x * wide, lens + y * high, size * 0.8)
        for x, y in ((0, 0), (-0.32, 0.2), (0.32, 0.2), (-0.32, -0.2), (0.32, -0.2))
    ]
    frame = 0.006 * high
    edge = (
        _box(-wide * 0.49, lens - high * 0.49, wide * 0.49, lens - high * 0.49 + frame),
        _box(-wide * 0.49, lens + high * 0.49 - frame, wide * 0.49, lens + high * 0.49),
        _box(-wide * 0.49, lens - high * 0.49, -wide * 0.49 + frame, lens + high * 0.49),
        _box(wide * 0.49 - frame, lens - high * 0.49, wide * 0.49, lens + high * 0.49),
    )
    return Scene(
        (
            _upright(
                away,
                Patch(0.5, (_box(-4 * wide, lens - 4 * high, 4 * wide, lens + 4 * high),)),
                Patch(0.06, squares),
                Patch(0.06, edge),
                Patch(
                    0.92,
                    tuple(
                        _disc(x * wide, lens + y * high, size * 0.84)
                        for x, y in ((0, 0), (-0.32, 0.2), (0.32, 0.2), (-0.32, -0.2), (0.32, -0.2))
                    ),
                ),
                Patch(0.06, tuple(ring for star in stars for ring in star)),
            ),
        )
    )


def _star(x: float, y: float, radius: float) -> list[Ring]:
    """A star of thirty-six rays."""
    pairs: list[Ring] = []
    for ray in range(36):
        a, b = math.radians(10 * ray), math.radians(10 * ray + 5)
        pairs.append(
            (
                (x, y),
                (x + radius * math.cos(a), y + radius * math.sin(a)),
                (x + radius * math.cos(b), y + radius * math.sin(b)),
            )
        )
    return pairs


_DRAWN: Final[dict[SceneName, Callable[[Standpoint], Scene]]] = {
    "facade": _facade,
    "nave": _nave,
    "mark": _mark,
    "chart": _chart,
}


def scene_of(name: SceneName, setting: Standpoint) -> Scene:
    """One of the scenes, put where it is to stand."""
    return _DRAWN[name](setting)
