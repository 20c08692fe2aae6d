"""A scene as a rig would record it: projected, blurred by distance, darkened to the edge of the light.

One channel of light. Each surface is drawn once in focus; where its blur changes over it, it is split into layers at
most a tenth apart in diameter, each blurred for itself and put together again, so that no seam is left. Surfaces are
put over one another from the back, points of light last, as exact discs.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from tropeion.core.optics.clipping import Bore, dark_height_mm, full_cone_height_mm
from tropeion.core.optics.defocus import blur_by_nearness_mm

from .raster import Floats, Reals, Shape, coverage_of, disc_blurred, grown, shrunk
from .scenes import Lamp, Patch, Scene, Surface

# The ratio of blur from one layer of a surface to the next; a draft makes do with fewer.
STEP, DRAFT_STEP = math.log(1.1), math.log(1.3)
DRAFT_ROWS = 400
# A blur wider than so many pixels is worked at a smaller size.
WIDE_PX = 7.0
# A plane that passes the lens this closely is seen from its edge, in mm.
EDGE_ON_MM = 1e-3
# Nothing nearer to the lens than this is drawn, in mm.
NEAREST_MM = 30.0
# What a light is at least wide, in pixels, and the frame's height at which its strength is counted.
SMALLEST_PX = 1.2
LIGHT_ROWS = 600


@dataclass(frozen=True, slots=True)
class View:
    """How a rig looks at a scene. Lengths in mm at the sensor, angles in degrees, x to the right and y up.

    The frame of ``width_mm`` × ``height_mm`` stands with its middle at ``shift_mm`` from the lens's axis; the axis is
    ``pitch_deg`` above the horizon, ``lens_m`` above the ground. ``focal_length_mm`` and ``f_number`` are the lens's
    own, ``k`` the magnification of the glass, ``extension_mm`` how far it stands beyond infinity focus. ``hinge_mm``:
    how far below the lens the plane of focus turns (negative: above), None without tilt. ``circle_mm`` is the image
    circle at the sensor, ``pupil_mm`` the exit pupil before it, ``stray_mm`` how far a stabiliser holds the sensor
    aside. ``steep_from_mm``: how far from the axis the light
    gets steeper than the sensor likes. ``grain`` is the noise of a white
    pixel.
    """

    width_mm: float
    height_mm: float
    focal_length_mm: float
    f_number: float
    k: float = 1.0
    extension_mm: float = 0.0
    squeeze: float = 1.0
    fisheye: bool = False
    shift_mm: tuple[float, float] = (0.0, 0.0)
    pitch_deg: float = 0.0
    lens_m: float = 1.5
    hinge_mm: float | None = None
    circle_mm: float | None = None
    bores: tuple[Bore, ...] = ()
    pupil_mm: float | None = None
    stray_mm: tuple[float, float] = (0.0, 0.0)
    steep_from_mm: float | None = None
    grain: float = 0.0

    @property
    def image_mm(self) -> float:
        """What one at the tangent of an angle makes at the sensor: F·(1 + m)."""
        return self.k * (self.focal_length_mm + self.extension_mm)


@dataclass(frozen=True, slots=True)
class _Screen:
    """A view on a grid of pixels: ``scale`` is pixels per millimetre, ``x`` and ``y`` where columns and rows stand."""

    view: View
    shape: Shape
    scale: float
    x: Reals
    y: Reals

    def camera(self, points: Reals) -> Reals:
        """Points of the world, in m, as the lens sees them, in mm: right, up, and away from the lens."""
        pitch = math.radians(self.view.pitch_deg)
        up, away = (points[:, 1] - self.view.lens_m) * 1000, points[:, 2] * 1000
        lens = self.view.focal_length_mm + self.view.extension_mm
        return np.column_stack(
            (
                points[:, 0] * 1000,
                up * math.cos(pitch) - away * math.sin(pitch),
                up * math.sin(pitch) + away * math.cos(pitch) - lens,
            )
        )

    def pixels(self, seen: Reals) -> Reals:
        """Where points before the lens fall, in pixels, x to the right and y down."""
        view = self.view
        tangents = seen[:, :2] / seen[:, 2:]
        if view.fisheye:
            long = np.hypot(tangents[:, 0], tangents[:, 1])
            angle = np.arctan(long)
            tangents = tangents * (angle / np.where(long > 0, long, 1.0))[:, None]
        across = tangents[:, 0] * view.image_mm / view.squeeze
        up = tangents[:, 1] * view.image_mm
        return np.column_stack(
            (
                (across - view.shift_mm[0] + view.width_mm / 2) * self.scale,
                (view.height_mm / 2 - up + view.shift_mm[1]) * self.scale,
            )
        )

    def tangents(self, rows: slice, columns: slice) -> tuple[Reals, Reals]:
        """The directions that pixels look in, as tangents right and up."""
        view = self.view
        across = (self.x[columns] * view.squeeze / view.image_mm)[None, :]
        up = (self.y[rows] / view.image_mm)[:, None]
        if view.fisheye:
            angle = np.hypot(across, up)
            stretch = np.tan(np.minimum(angle, 1.5)) / np.where(angle > 0, angle, 1.0)
            stretch = np.where(angle > 0, stretch, 1.0)
            return across * stretch, up * stretch
        return across, up

    def blur(self, nearness: Reals) -> Reals:
        """Diameter of the blur in pixels, by one over the distance from the lens; beyond a hinge that is negative."""
        view = self.view
        own = (view.focal_length_mm, view.f_number, view.k, view.extension_mm)
        return blur_by_nearness_mm(*own, nearness) * self.scale


def _screen(view: View, shape: Shape) -> _Screen:
    rows, columns = shape
    scale = rows / view.height_mm
    x = (np.arange(columns, dtype=np.float64) + 0.5) / scale - columns / scale / 2 + view.shift_mm[0]
    y = view.height_mm / 2 - (np.arange(rows, dtype=np.float64) + 0.5) / scale + view.shift_mm[1]
    return _Screen(view, shape, scale, x, y)


def light_of(scene: Scene, view: View, shape: Shape) -> Floats:
    """What the sensor would record, as light from 0 to 1 (lights go beyond); shape (rows, columns)."""
    screen = _screen(view, shape)
    light = np.zeros(shape, np.float32)
    for surface in scene.surfaces:
        _put(light, surface, screen)
    for this_light in scene.lights:
        _shine(light, this_light, screen)
    light *= _reaches(screen)
    if view.steep_from_mm is not None:
        light = _smeared(light, screen, view.steep_from_mm)
    return light


def _put(light: Floats, surface: Surface, screen: _Screen) -> None:
    """Draw a surface in focus, blur it as its distance asks, and put it over what is there."""
    drawn = _drawn(surface, screen)
    if drawn is None:
        return
    rows, columns, tone, cover = drawn
    blur = _blur_over(surface, screen, rows, columns)
    if isinstance(blur, float):
        layers = [(blur, tone, cover, rows, columns)]
    else:
        layers = _layers(blur, tone, cover, (rows, columns), STEP if screen.shape[0] > DRAFT_ROWS else DRAFT_STEP)
    top, bottom, left, right = _bounds(layers, screen.shape)
    total = np.zeros((2, bottom - top, right - left), np.float32)
    for diameter, one_tone, one_cover, at_rows, at_columns in layers:
        grow_top, grow_bottom, grow_left, grow_right = _grown(at_rows, at_columns, diameter, screen.shape)
        rim = (
            (at_rows.start - grow_top, grow_bottom - at_rows.stop),
            (at_columns.start - grow_left, grow_right - at_columns.stop),
        )
        place = (slice(grow_top - top, grow_bottom - top), slice(grow_left - left, grow_right - left))
        for index, image in enumerate((one_tone, one_cover)):
            total[index][place] += _blurred(_within(image, rim), diameter)
    tones, covers = total
    covers = np.clip(covers, 0, 1)
    part = light[top:bottom, left:right]
    part *= 1 - covers
    part += tones


def _within(image: Floats, rim: tuple[tuple[int, int], tuple[int, int]]) -> Floats:
    """With room about it that nothing stands in."""
    (above, below), (before, after) = rim
    tall, wide = image.shape
    found = np.zeros((above + tall + below, before + wide + after), np.float32)
    found[above : above + tall, before : before + wide] = image
    return found


def _drawn(surface: Surface, screen: _Screen) -> tuple[slice, slice, Floats, Floats] | None:
    """A surface in focus, over the rows and columns that it takes: its light, and how much of each pixel it covers."""
    parts = []
    for patch in surface.patches:
        entry = _covered(surface, patch, screen)
        if entry is not None:
            parts.append((patch.tone, *entry))
    if not parts:
        return None
    top, bottom = min(rows.start for _, rows, _, _ in parts), max(rows.stop for _, rows, _, _ in parts)
    left, right = min(one.start for _, _, one, _ in parts), max(one.stop for _, _, one, _ in parts)
    tone = np.zeros((bottom - top, right - left), np.float32)
    cover = np.zeros_like(tone)
    for value, rows, columns, covered in parts:
        place = (slice(rows.start - top, rows.stop - top), slice(columns.start - left, columns.stop - left))
        for image, put in ((tone, np.float32(value**2.2)), (cover, np.float32(1))):
            image[place] += covered * (put - image[place])
    return slice(top, bottom), slice(left, right), tone, cover


def _covered(surface: Surface, patch: Patch, screen: _Screen) -> tuple[slice, slice, Floats] | None:
    flat = np.concatenate([np.asarray(ring, np.float64) for ring in patch.rings])
    sizes = np.array([len(ring) for ring in patch.rings])
    if screen.view.fisheye:
        flat, sizes = _finer(flat, sizes)
    world = np.asarray(surface.origin) + flat[:, :1] * np.asarray(surface.along) + flat[:, 1:] * np.asarray(surface.up)
    seen = screen.camera(world)
    if seen[:, 2].min() < NEAREST_MM:
        seen, sizes = _before_the_lens(seen, sizes)
        if len(sizes) == 0:
            return None
    return coverage_of(screen.pixels(seen), sizes, screen.shape)


def _finer(flat: Reals, sizes: npt.NDArray[np.int64], pieces: int = 24) -> tuple[Reals, npt.NDArray[np.int64]]:
    """Straight edges in pieces, since a fisheye bends them."""
    starts = np.cumsum(sizes) - sizes
    after = np.arange(1, len(flat) + 1)
    after[starts + sizes - 1] = starts
    share = (np.arange(pieces) / pieces)[None, :, None]
    fine = flat[:, None, :] * (1 - share) + flat[after][:, None, :] * share
    return fine.reshape(-1, 2), sizes * pieces


def _before_the_lens(seen: Reals, sizes: npt.NDArray[np.int64]) -> tuple[Reals, npt.NDArray[np.int64]]:
    """Rings cut off where they pass the lens."""
    kept: list[Reals] = []
    start = 0
    for size in sizes:
        ring = seen[start : start + size]
        start += size
        after = np.roll(ring, -1, axis=0)
        corners = []
        for value, other in zip(ring, after, strict=True):
            if value[2] >= NEAREST_MM:
                corners.append(value)
            if (value[2] >= NEAREST_MM) != (other[2] >= NEAREST_MM):
                corners.append(value + (other - value) * (NEAREST_MM - value[2]) / (other[2] - value[2]))
        if len(corners) > 2:
            kept.append(np.array(corners))
    if not kept:
        return np.empty((0, 3)), np.empty(0, np.int64)
    return np.concatenate(kept), np.array([len(ring) for ring in kept])


def _blur_over(surface: Surface, screen: _Screen, rows: slice, columns: slice) -> float | Reals:
    """The blur in pixels over a surface: one number where it is the same all over."""
    origin, along, up = (np.asarray(entry, np.float64) for entry in (surface.origin, surface.along, surface.up))
    corner, first, second = screen.camera(np.stack([origin, origin + along, origin + up]))
    normal = np.cross(first - corner, second - corner)
    normal /= np.linalg.norm(normal)
    away = float(normal @ corner)
    hinge = screen.view.hinge_mm
    if abs(away) < EDGE_ON_MM:
        # Seen from its edge it takes no room in the picture.
        return 0.0
    if hinge is None and abs(normal[2]) > 1 - 1e-12:
        return float(screen.blur(np.asarray(normal[2] / away)))
    across, upward = screen.tangents(rows, columns)
    # Where a pixel does not look at the surface, its plane lies behind the lens: nothing of it is drawn there.
    nearness = np.maximum((normal[0] * across + normal[1] * upward + normal[2]) / away, 0)
    if hinge is not None:
        nearness = nearness + upward / hinge
    return screen.blur(np.broadcast_to(nearness, (rows.stop - rows.start, columns.stop - columns.start)))


_Layer = tuple[float, Floats, Floats, slice, slice]


def _layers(blur: Reals, tone: Floats, cover: Floats, at: tuple[slice, slice], step: float) -> list[_Layer]:
    """A surface split by its blur: each pixel shared between the two layers next to it, as near as it is to each."""
    rows, columns = at
    level = np.log(np.maximum(blur, 1.0).astype(np.float32)) / np.float32(step)
    by_row, by_column = (level.min(1), level.max(1)), (level.min(0), level.max(0))
    layers: list[_Layer] = []
    for number in range(int(level.min()), math.ceil(float(level.max())) + 1):
        down = np.flatnonzero((by_row[0] < number + 1) & (by_row[1] > number - 1))
        over = np.flatnonzero((by_column[0] < number + 1) & (by_column[1] > number - 1))
        if len(down) == 0 or len(over) == 0:
            continue
        place = (slice(int(down[0]), int(down[-1]) + 1), slice(int(over[0]), int(over[-1]) + 1))
        share = np.clip(1 - np.abs(level[place] - number), 0, 1)
        layers.append(
            (
                math.exp(number * step),
                tone[place] * share,
                cover[place] * share,
                slice(rows.start + place[0].start, rows.start + place[0].stop),
                slice(columns.start + place[1].start, columns.start + place[1].stop),
            )
        )
    return layers


def _grown(rows: slice, columns: slice, diameter: float, shape: Shape) -> tuple[int, int, int, int]:
    """The rows and columns that a layer reaches once it is blurred, within the picture."""
    rim = math.ceil(diameter / 2) + 1 if diameter > 1 else 0
    return (
        max(0, rows.start - rim),
        min(shape[0], rows.stop + rim),
        max(0, columns.start - rim),
        min(shape[1], columns.stop + rim),
    )


def _bounds(layers: list[_Layer], shape: Shape) -> tuple[int, int, int, int]:
    reached = [_grown(rows, columns, diameter, shape) for diameter, _, _, rows, columns in layers]
    tops, bottoms, lefts, rights = zip(*reached, strict=True)
    return min(tops), max(bottoms), min(lefts), max(rights)


def _blurred(image: Floats, diameter: float) -> Floats:
    """Blurred by a disc; a wide one at a smaller size, where its grain cannot be seen."""
    by = max(1, int(diameter / WIDE_PX))
    return grown(disc_blurred(shrunk(image, by), diameter / by), by, image.shape)


def _shine(light: Floats, one: Lamp, screen: _Screen) -> None:
    """A point of light as the disc it becomes, with all its light in it."""
    seen = screen.camera(np.array([one.at]))
    if seen[0, 2] < NEAREST_MM:
        return
    x, y = screen.pixels(seen)[0]
    nearness = 1 / seen[0, 2]
    if screen.view.hinge_mm is not None:
        nearness += seen[0, 1] / seen[0, 2] / screen.view.hinge_mm
    radius = max(float(screen.blur(np.asarray(nearness))), SMALLEST_PX) / 2
    reach = int(radius + 2)
    top, bottom = max(0, int(y) - reach), min(screen.shape[0], int(y) + reach + 1)
    left, right = max(0, int(x) - reach), min(screen.shape[1], int(x) + reach + 1)
    if top >= bottom or left >= right:
        return
    away = np.hypot(np.arange(left, right)[None, :] + 0.5 - x, np.arange(top, bottom)[:, None] + 0.5 - y)
    disc = np.clip(radius + 0.5 - away, 0, 1).astype(np.float32)
    strength = one.strength * (screen.shape[0] / LIGHT_ROWS) ** 2
    light[top:bottom, left:right] += disc * np.float32(strength / (math.pi * radius**2))


def _reaches(screen: _Screen) -> Floats:
    """The share of the light that reaches each pixel: circle, bores, and the cosine law where the pupil is known."""
    view = screen.view
    across = (screen.x + view.stray_mm[0]).astype(np.float32)[None, :]
    up = (screen.y + view.stray_mm[1]).astype(np.float32)[:, None]
    height = np.hypot(across, up)
    share = np.ones(screen.shape, np.float32)
    if view.circle_mm is not None:
        share *= np.clip((view.circle_mm / 2 - height) * np.float32(screen.scale) + np.float32(0.5), 0, 1)
    pupil = view.pupil_mm
    if pupil is None or pupil <= 0:
        return share
    f_number = view.k * view.f_number
    # Off the axis every bore shades the pupil from the same side: what passes the narrowest there passes them all.
    passed = np.ones(screen.shape, np.float32)
    for bore in view.bores:
        if bore.at_mm >= pupil:
            continue
        full = full_cone_height_mm(bore.diameter_mm, bore.at_mm, f_number, pupil)
        none = dark_height_mm(bore.diameter_mm, bore.at_mm, f_number, pupil)
        passed = np.minimum(passed, np.clip((none - height) / np.float32(max(none - full, 1e-6)), 0, 1))
    share *= passed
    share *= 1 / (1 + (height / np.float32(pupil)) ** 2) ** 2
    return share


def _smeared(light: Floats, screen: _Screen, border: float) -> Floats:
    """Where the light is too steep, a smear along the radius: a hint, at most a hundredth of the height long."""
    view = screen.view
    height = np.hypot(screen.x[None, :], screen.y[:, None])
    rows, columns = np.nonzero(height > border)
    if len(rows) == 0:
        return light
    steep = np.minimum((height[rows, columns] - border) / border, 1.0)
    x, y = screen.x[columns], screen.y[rows]
    total = np.zeros(len(rows), np.float32)
    reach = 0.005 * view.height_mm * steep / height[rows, columns]
    for share in (-1.0, -0.5, 0.0, 0.5, 1.0):
        along = 1 + share * reach
        column = np.clip(columns + (x * along - x) * screen.scale, 0, screen.shape[1] - 1).round().astype(np.int64)
        row = np.clip(rows - (y * along - y) * screen.scale, 0, screen.shape[0] - 1).round().astype(np.int64)
        total += light[row, column]
    smeared = light.copy()
    smeared[rows, columns] = total / 5
    return smeared


# From ink over stone to paper: the tones of our own drawings, not those of a photograph.
_INKS = np.array([(10, 16, 22), (43, 58, 72), (112, 122, 128), (188, 184, 172), (246, 240, 226), (255, 252, 244)])
_STOPS = np.array([0, 48, 112, 180, 240, 255])
PALETTE: npt.NDArray[np.uint8] = np.column_stack(
    [np.interp(np.arange(256), _STOPS, _INKS[:, channel]) for channel in range(3)]
).astype(np.uint8)


def toned(light: Floats, grain: float, seed: int) -> npt.NDArray[np.uint8]:
    """Light as tones of the palette, 0 to 255, with the noise that so much light brings; a seed has its own grain."""
    image = light
    if grain > 0:
        noise = np.random.default_rng(seed).standard_normal(light.shape, np.float32)
        image = light + noise * np.float32(grain) * np.sqrt(np.clip(light, 0, 1) + np.float32(0.01))
    tones = np.power(np.clip(image, 0, 1), np.float32(1 / 2.2))
    return (tones * np.float32(255) + np.float32(0.5)).astype(np.uint8)
