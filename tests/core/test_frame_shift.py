"""A shift that leaves the circle, or is more than the mechanism does, is said with the picture."""

from __future__ import annotations

import pytest

from tests.worlds import lens, ring, world_of
from tropeion.core.frame.question import FrameQuestion
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.rig import Rig


def caption(shift_mm: tuple[float, float], circle_mm: float = 60.0, mechanism_mm: float = 8.0) -> str:
    world = world_of([ring(shift_mm=mechanism_mm)], the_lens=lens(image_circle_mm=circle_mm))
    return " ".join(
        frame_of(world, Rig.of("lens", "body", ["ring"]), FrameQuestion(shift_mm=shift_mm)).report.caption.known
    )


@pytest.mark.parametrize(
    ("shift_mm", "circle_mm", "more", "dark"),
    [
        # (18 + |x|)² + (12 + |y|)² ≤ 30²: up by 12 mm at most.
        ((0.0, 8.0), 60.0, False, False),
        ((0.0, 8.1), 60.0, True, False),
        ((0.0, 12.1), 60.0, True, True),
        # 18² + 14² = 520; 22.8² is 519.8, 22.85² 522.1.
        ((0.0, 2.0), 45.6, False, True),
        ((0.0, 2.0), 45.7, False, False),
        ((0.0, 0.0), 45.6, False, False),
    ],
)
def test_it_is_said_of_each_alone(shift_mm: tuple[float, float], circle_mm: float, more: bool, dark: bool) -> None:
    said = caption(shift_mm, circle_mm)
    assert ("more than this rig can do: 8.0 mm" in said) is more
    assert ("corners are dark" in said) is dark
