"""The simulated frame: how long a picture takes, beside the plainest way of drawing one."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from tropeion.core.frame.frame_report import Frame
from tropeion.core.frame.question import FrameQuestion
from tropeion.core.frame.scenes import SCENES, Ring
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.formats.frame_png import picture_of

__all__ = ["measure"]

# So much smaller is the naive picture, that its time can be waited for.
SMALLER = 15

Milliseconds = Callable[[Callable[[], object], int], float]
Report = Callable[..., None]


def measure(world: World, report: Report, milliseconds: Milliseconds) -> None:
    """Every scene at full size and as a draft; a tilted one, whose blur changes all over it."""
    asked: list[tuple[str, list[str], FrameQuestion]] = [
        (name, ["kel-ost-plain"], FrameQuestion(scene=name)) for name in SCENES
    ]
    asked.append(("facade, tilted", ["kel-ost-tilt"], FrameQuestion(tilt_deg=6.0)))
    for name, via, question in asked:
        frame = frame_of(world, Rig.of("kel-55", "o7", via), question)
        naive = _naive_ms(frame, milliseconds) if name in {"facade", "nave"} else None
        full = milliseconds(partial(picture_of, frame, 600, 1), 7)
        by = "Python loops, a pinhole without blur"
        report(f"frame, {name}, 900 × 600 as PNG", full, 120, "ms", naive, by)
        draft = milliseconds(partial(picture_of, frame, 300, 1), 7)
        report(f"frame, {name}, 450 × 300 as PNG", draft, 30, "ms")


def _naive_ms(frame: Frame, milliseconds: Milliseconds) -> float:
    """Pixel by pixel, shape by shape, each corner projected anew; times the pixels that were left out."""
    return milliseconds(lambda: _pinhole(frame), 1) * SMALLER**2


def _pinhole(frame: Frame) -> list[list[float]]:
    scene, view = frame.scene, frame.view
    assert scene is not None
    assert view is not None
    rows, columns = 600 // SMALLER, 900 // SMALLER
    image = [[0.0] * columns for _ in range(rows)]
    for row in range(rows):
        up = (view.height_mm / 2 - (row + 0.5) * view.height_mm / rows) / view.image_mm
        for column in range(columns):
            across = ((column + 0.5) * view.width_mm / columns - view.width_mm / 2) / view.image_mm
            for surface in scene.surfaces:
                if abs(surface.along[0]) != 1 or surface.up[1] != 1:
                    # Only what faces the camera: the naive way is spared floors and walls.
                    continue
                away = surface.origin[2]
                x, y = across * away - surface.origin[0], up * away + view.lens_m
                for patch in surface.patches:
                    if any(_inside(ring, x, y) for ring in patch.rings):
                        image[row][column] = patch.tone
    return image


def _inside(ring: Ring, x: float, y: float) -> bool:
    odd = False
    for (ax, ay), (bx, by) in zip(ring, (*ring[1:], ring[0]), strict=True):
        if (ay > y) != (by > y) and x < (bx - ax) * (y - ay) / (by - ay) + ax:
            odd = not odd
    return odd
