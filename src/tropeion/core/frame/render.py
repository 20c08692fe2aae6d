"""A scene as a rig would record it: projected, blurred by distance, darkened to the edge of the light.

One channel of light. Each surface is drawn once in focus; where its blur changes over it, it is split into layers at
most a tenth apart in diameter, each blurred for itself and put together again, so that no seam is left. Surfaces are
put over one another from the back, points of light last, as exact discs.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from .lamps import NEAREST_MM, Screen, View, reaches, screen_of, shine, smeared
from .raster import Corners, Covered, Floats, Reals, Shape, coverages_of, cv, disc_blurred, grown, shrunk
from .scenes import Scene, Surface

# The ratio of blur from one layer of a surface to the next; a draft makes do with fewer.
STEP, DRAFT_STEP = math.log(1.1), math.log(1.3)
DRAFT_ROWS = 400
# Blurs wider than this, in pixels, are computed at a smaller size.
WIDE_PX = 5.5
# A plane that passes the lens this closely is seen from its edge, in mm.
EDGE_ON_MM = 1e-3


def light_of(scene: Scene, view: View, shape: Shape) -> Floats:
    """What the sensor would record, as light from 0 to 1 (lights go beyond); shape (rows, columns)."""
    screen = screen_of(view, shape)
    light = np.zeros(shape, np.float32)
    for surface, covered in zip(scene.surfaces, _covered(scene, screen), strict=True):
        _put(light, surface, covered, screen)
    for lamp in scene.lights:
        shine(light, lamp, screen)
    light *= reaches(screen)
    if view.steep_from_mm is not None:
        light = smeared(light, screen, view.steep_from_mm)
    return light


def _put(light: Floats, surface: Surface, covered: Sequence[Covered | None], screen: Screen) -> None:
    """Draw a surface in focus, blur it as its distance asks, and put it over what is there.

    ``covered`` is what each of its patches covers of the picture.
    """
    drawn = _drawn(surface, covered)
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
    part = light[top:bottom, left:right]
    # What is covered hides what was there, and brings its own tone.
    np.subtract(1, covers, out=covers)
    part *= np.clip(covers, 0, 1, out=covers)
    part += tones


def _within(image: Floats, rim: tuple[tuple[int, int], tuple[int, int]]) -> Floats:
    """The picture with an empty margin around it."""
    (above, below), (before, after) = rim
    tall, wide = image.shape
    found = np.zeros((above + tall + below, before + wide + after), np.float32)
    found[above : above + tall, before : before + wide] = image
    return found


def _drawn(surface: Surface, covered: Sequence[Covered | None]) -> tuple[slice, slice, Floats, Floats] | None:
    """A surface in focus, over the rows and columns that it takes: its light, and how much of each pixel it covers."""
    parts = []
    for patch, entry in zip(surface.patches, covered, strict=True):
        if entry is not None:
            parts.append((patch.tone, *entry))
    if not parts:
        return None
    top, bottom = min(rows.start for _, rows, _, _ in parts), max(rows.stop for _, rows, _, _ in parts)
    left, right = min(one.start for _, _, one, _ in parts), max(one.stop for _, _, one, _ in parts)
    tone = np.zeros((bottom - top, right - left), np.float32)
    cover = np.zeros_like(tone)
    for number, (value, rows, columns, share) in enumerate(parts):
        place = (slice(rows.start - top, rows.stop - top), slice(columns.start - left, columns.stop - left))
        for image, put in ((tone, np.float32(value**2.2)), (cover, np.float32(1))):
            if number:
                image[place] += share * (put - image[place])
            else:
                np.multiply(share, put, out=image[place])
    return slice(top, bottom), slice(left, right), tone, cover


def _covered(scene: Scene, screen: Screen) -> list[list[Covered | None]]:
    """What each patch of each surface covers of the picture; all are looked at together."""
    seen = [_before_the_lens(*corners) for surface in scene.surfaces for corners in _seen(surface, screen)]
    if not seen:
        return [[] for _ in scene.surfaces]
    flat = screen.pixels(np.concatenate([points for points, _ in seen]))
    points = np.split(flat, np.cumsum([len(one) for one, _ in seen])[:-1])
    outlines = [(own, sizes) for own, (_, sizes) in zip(points, seen, strict=True)]
    covered = iter(coverages_of(outlines, screen.shape))
    return [list(itertools.islice(covered, len(surface.patches))) for surface in scene.surfaces]


def _seen(surface: Surface, screen: Screen) -> list[Corners]:
    """The corners of each patch as the lens sees them, and how many each of its rings has."""
    rings = [ring for patch in surface.patches for ring in patch.rings]
    flat = np.array(list(itertools.chain.from_iterable(rings)), np.float64)
    sizes = np.array([len(ring) for ring in rings])
    if screen.view.fisheye:
        flat, sizes = _finer(flat, sizes)
    world = np.asarray(surface.origin) + flat[:, :1] * np.asarray(surface.along) + flat[:, 1:] * np.asarray(surface.up)
    of_patches = np.split(sizes, np.cumsum([len(patch.rings) for patch in surface.patches])[:-1])
    corners = np.cumsum([own.sum() for own in of_patches])[:-1]
    return list(zip(np.split(screen.camera(world), corners), of_patches, strict=True))


def _finer(flat: Reals, sizes: npt.NDArray[np.int64], pieces: int = 24) -> tuple[Reals, npt.NDArray[np.int64]]:
    """Straight edges in pieces, since a fisheye bends them."""
    starts = np.cumsum(sizes) - sizes
    after = np.arange(1, len(flat) + 1)
    after[starts + sizes - 1] = starts
    share = (np.arange(pieces) / pieces)[None, :, None]
    fine = flat[:, None, :] * (1 - share) + flat[after][:, None, :] * share
    return fine.reshape(-1, 2), sizes * pieces


def _before_the_lens(seen: Reals, sizes: npt.NDArray[np.int64]) -> Corners:
    """Rings cut off where they pass the lens."""
    if seen[:, 2].min() >= NEAREST_MM:
        return seen, sizes
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


def _blur_over(surface: Surface, screen: Screen, rows: slice, columns: slice) -> float | Floats:
    """The blur in pixels over a surface: one number where it is the same all over."""
    origin, along, up = (np.asarray(entry, np.float64) for entry in (surface.origin, surface.along, surface.up))
    corner, first, second = screen.camera(np.stack([origin, origin + along, origin + up]))
    normal = np.cross(first - corner, second - corner)
    normal /= np.linalg.norm(normal)
    away = float(normal @ corner)
    hinge = screen.view.hinge_mm
    if abs(away) < EDGE_ON_MM:
        # Seen edge-on it covers no pixels.
        return 0.0
    if hinge is None and abs(normal[2]) > 1 - 1e-12:
        return screen.blur(float(normal[2]) / away)
    across, upward = screen.tangents(rows, columns)
    nearness: Floats = np.add(normal[0] / away * across, (normal[1] * upward + normal[2]) / away, dtype=np.float32)
    # Where a pixel does not look at the surface, its plane lies behind the lens: nothing of it is drawn there.
    np.maximum(nearness, 0, out=nearness)
    if hinge is not None:
        nearness += (upward / hinge).astype(np.float32)
    return screen.blur(nearness)


_Layer = tuple[float, Floats, Floats, slice, slice]


def _layers(blur: Floats, tone: Floats, cover: Floats, at: tuple[slice, slice], step: float) -> list[_Layer]:
    """A surface split by its blur: each pixel shared between the two layers next to it, as near as it is to each."""
    rows, columns = at
    level = np.log(np.maximum(blur, 1.0))
    level /= np.float32(step)
    by_row, by_column = (level.min(1), level.max(1)), (level.min(0), level.max(0))
    layers: list[_Layer] = []
    for number in range(int(level.min()), math.ceil(float(level.max())) + 1):
        # On either side of what is sharp the same blur stands, and nothing of it between.
        down, over = (_runs((low < number + 1) & (high > number - 1)) for low, high in (by_row, by_column))
        for place in itertools.product(down, over):
            share = level[place] - np.float32(number)
            np.abs(share, out=share)
            np.subtract(1, share, out=share)
            np.maximum(share, 0, out=share)
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


def _runs(there: npt.NDArray[np.bool_]) -> list[slice]:
    """The stretches of a line that something is in: mostly one."""
    count = np.count_nonzero(there)
    if not count:
        return []
    first, last = int(there.argmax()), len(there) - int(there[::-1].argmax())
    if last - first == count:
        return [slice(first, last)]
    edged = np.zeros(len(there) + 2, np.bool_)
    edged[1:-1] = there
    turns = np.flatnonzero(edged[1:] != edged[:-1])
    return [slice(int(first), int(last)) for first, last in turns.reshape(-1, 2)]


def _grown(rows: slice, columns: slice, diameter: float, shape: Shape) -> tuple[int, int, int, int]:
    """The rows and columns that a layer reaches once it is blurred, within the picture.

    They begin with a whole square of the smaller size, so that neighbouring layers add up to what they share.
    """
    by = _smaller(diameter)
    rim = math.ceil(diameter / 2) + 1 if diameter > 1 else 0
    return (
        max(0, rows.start - rim) // by * by,
        min(shape[0], rows.stop + rim),
        max(0, columns.start - rim) // by * by,
        min(shape[1], columns.stop + rim),
    )


def _smaller(diameter: float) -> int:
    """How many times smaller a blur of so many pixels is computed."""
    return max(1, int(diameter / WIDE_PX))


def _bounds(layers: list[_Layer], shape: Shape) -> tuple[int, int, int, int]:
    reached = [_grown(rows, columns, diameter, shape) for diameter, _, _, rows, columns in layers]
    tops, bottoms, lefts, rights = zip(*reached, strict=True)
    return min(tops), max(bottoms), min(lefts), max(rights)


def _blurred(image: Floats, diameter: float) -> Floats:
    """Blurred by a disc; a wide one at a smaller size, where its grain cannot be seen."""
    by = _smaller(diameter)
    # Squares of so many pixels, and lines drawn between their means, blur by themselves: their second moment is less.
    rest = math.sqrt(diameter**2 - 16 / 3 * (by**2 - 1))
    return grown(disc_blurred(shrunk(image, by), rest / by), by, image.shape)


# From ink over stone to paper: the tones of our own drawings, not those of a photograph.
_INKS = np.array([(10, 16, 22), (43, 58, 72), (112, 122, 128), (188, 184, 172), (246, 240, 226), (255, 252, 244)])
_STOPS = np.array([0, 48, 112, 180, 240, 255])
PALETTE: npt.NDArray[np.uint8] = np.column_stack(
    [np.interp(np.arange(256), _STOPS, _INKS[:, channel]) for channel in range(3)]
).astype(np.uint8)


def toned(light: Floats, grain: float, seed: int) -> npt.NDArray[np.uint8]:
    """Light as tones of the palette, 0 to 255, with the noise that so much light brings; a seed has its own grain."""
    cv2 = cv()
    image: Floats = np.clip(light, 0, 1)
    if grain > 0:
        noise = np.empty_like(image)
        # It takes 31 bits.
        cv2.setRNGSeed(seed & 0x7FFFFFFF)
        cv2.randn(noise, 0, grain)
        noise *= np.sqrt(image + np.float32(0.01))
        # What is brighter than white has the grain of white.
        image = np.add(light, noise, out=noise)
        np.clip(image, 0, 1, out=image)
    cv2.pow(image, 1 / 2.2, image)
    image *= 255
    image += 0.5
    return image.astype(np.uint8)
