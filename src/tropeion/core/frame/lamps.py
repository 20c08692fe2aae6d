"""Where light falls on the sensor: the view, its lamps, and light that strays."""

from __future__ import annotations

import math

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.optics.clipping import Bore, dark_height_mm, full_cone_height_mm
from tropeion.core.optics.defocus import N, blur_by_nearness_mm

from .raster import Floats, Reals, Shape
from .scenes import Lamp

# Nothing nearer to the lens than this is drawn, in mm.
NEAREST_MM = 30.0
# The least width of a lamp in pixels, and the frame height that its strength refers to.
SMALLEST_PX = 1.2
LIGHT_ROWS = 600


@frozen
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


@frozen
class Screen:
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

    def blur(self, nearness: N) -> N:
        """Diameter of the blur in pixels, by one over the distance from the lens; beyond a hinge that is negative."""
        view = self.view
        own = (view.focal_length_mm, view.f_number, view.k, view.extension_mm)
        return blur_by_nearness_mm(*own, nearness) * self.scale


def screen_of(view: View, shape: Shape) -> Screen:
    rows, columns = shape
    scale = rows / view.height_mm
    x = (np.arange(columns, dtype=np.float64) + 0.5) / scale - columns / scale / 2 + view.shift_mm[0]
    y = view.height_mm / 2 - (np.arange(rows, dtype=np.float64) + 0.5) / scale + view.shift_mm[1]
    return Screen(view, shape, scale, x, y)


def shine(light: Floats, one: Lamp, screen: Screen) -> None:
    """A point of light as the disc it becomes, with all its light in it."""
    seen = screen.camera(np.array([one.at]))
    if seen[0, 2] < NEAREST_MM:
        return
    x, y = screen.pixels(seen)[0]
    nearness = 1 / seen[0, 2]
    if screen.view.hinge_mm is not None:
        nearness += seen[0, 1] / seen[0, 2] / screen.view.hinge_mm
    radius = max(screen.blur(float(nearness)), SMALLEST_PX) / 2
    reach = int(radius + 2)
    top, bottom = max(0, int(y) - reach), min(screen.shape[0], int(y) + reach + 1)
    left, right = max(0, int(x) - reach), min(screen.shape[1], int(x) + reach + 1)
    if top >= bottom or left >= right:
        return
    away = np.hypot(np.arange(left, right)[None, :] + 0.5 - x, np.arange(top, bottom)[:, None] + 0.5 - y)
    disc = np.clip(radius + 0.5 - away, 0, 1).astype(np.float32)
    strength = one.strength * (screen.shape[0] / LIGHT_ROWS) ** 2
    light[top:bottom, left:right] += disc * np.float32(strength / (math.pi * radius**2))


def reaches(screen: Screen) -> Floats:
    """The share of the light that reaches each pixel: circle, bores, and the cosine law where the pupil is known."""
    view = screen.view
    across = (screen.x + view.stray_mm[0]).astype(np.float32)
    up = (screen.y + view.stray_mm[1]).astype(np.float32)
    squared: Floats = np.add(across[None, :] ** 2, up[:, None] ** 2)
    height = np.sqrt(squared)
    farthest = float(np.hypot(np.abs(across).max(), np.abs(up).max()))
    share = np.ones(screen.shape, np.float32)
    if view.circle_mm is not None and farthest > view.circle_mm / 2 - 0.5 / screen.scale:
        share *= np.clip((view.circle_mm / 2 - height) * np.float32(screen.scale) + np.float32(0.5), 0, 1)
    pupil = view.pupil_mm
    if pupil is None or pupil <= 0:
        return share
    f_number = view.k * view.f_number
    # Off the axis every bore shades the pupil from the same side: what passes the narrowest there passes them all.
    passed = None
    for bore in view.bores:
        if bore.at_mm >= pupil:
            continue
        full = full_cone_height_mm(bore.diameter_mm, bore.at_mm, f_number, pupil)
        none = dark_height_mm(bore.diameter_mm, bore.at_mm, f_number, pupil)
        if farthest <= full:
            continue
        these = np.clip((none - height) / np.float32(max(none - full, 1e-6)), 0, 1)
        passed = these if passed is None else np.minimum(passed, these, out=these)
    if passed is not None:
        share *= passed
    squared *= np.float32(1 / pupil**2)
    squared += 1
    squared *= squared
    share /= squared
    return share


def smeared(light: Floats, screen: Screen, border: float) -> Floats:
    """Where the light is too steep, a smear along the radius: a hint, at most a hundredth of the height long."""
    view = screen.view
    across, up = screen.x.astype(np.float32), screen.y.astype(np.float32)
    height = np.sqrt(np.add(across[None, :] ** 2, up[:, None] ** 2)).ravel()
    at = np.flatnonzero(height > border)
    if len(at) == 0:
        return light
    rows, columns = np.divmod(at.astype(np.int32), np.int32(screen.shape[1]))
    far = height[at]
    # Half of the smear, in pixels, over how far from the axis the pixel stands.
    reach = np.minimum((far - border) / border, 1) * np.float32(0.005 * view.height_mm * screen.scale) / far
    aside, above = across[columns] * reach, up[rows] * reach
    flat = light.ravel()
    total = flat[at]
    for share in (-1.0, -0.5, 0.5, 1.0):
        column = np.rint(np.clip(columns + aside * share, 0, screen.shape[1] - 1)).astype(np.int32)
        row = np.rint(np.clip(rows - above * share, 0, screen.shape[0] - 1)).astype(np.int32)
        total += flat[row * np.int32(screen.shape[1]) + column]
    smeared = flat.copy()
    smeared[at] = total / 5
    return smeared.reshape(light.shape)
