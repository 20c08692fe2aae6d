"""The reference's picture: the same as a rig's of the same numbers, and as sharp as it is stopped down."""

from __future__ import annotations

import numpy as np
import pytest

from tests.worlds import body, lens, ring, world_of
from tropeion.core.frame.ideal import IdealView, ideal_of
from tropeion.core.frame.question import FrameQuestion, NotPossibleError, SubjectAt
from tropeion.core.frame.raster import Floats
from tropeion.core.frame.render import light_of
from tropeion.core.frame.scenes import SceneName
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.rig import Rig

NAVE = SubjectAt(11.0, 8.0, 1.5)
SIZE = (60, 90)


def ideal(scene: SceneName = "nave", mm: float = 50.0, stop: float = 2.0, width: float = 36.0) -> Floats:
    return light_of(*ideal_of(IdealView(scene, mm, stop, width, width / 1.5, NAVE)), SIZE)


@pytest.mark.parametrize("scene", ["nave", "facade", "chart"])
@pytest.mark.parametrize("stop", [2.0, 16.0])
def test_it_is_the_picture_of_a_rig_of_these_numbers(scene: SceneName, stop: float) -> None:
    # A circle that covers, and a pupil that nobody knows: nothing darkens the corners.
    world = world_of([ring()], the_lens=lens(image_circle_mm=60.0), the_body=body())
    asked = FrameQuestion(scene=scene, at_m=8.0, f_number=stop, subject=NAVE)
    frame = frame_of(world, Rig.of("lens", "body", ["ring"]), asked)
    assert frame.scene is not None
    assert frame.view is not None
    # Less than half a step of 255: the two are one picture.
    assert np.abs(light_of(frame.scene, frame.view, SIZE) - ideal(scene, stop=stop)).max() < 0.002


def test_half_the_sensor_behind_half_the_focal_length_shows_the_same() -> None:
    sharp = ideal(stop=64.0)
    assert np.abs(sharp - ideal(mm=25.0, stop=32.0, width=18.0)).mean() < 0.005
    assert np.abs(sharp - ideal(mm=25.0, stop=64.0)).mean() > 0.02


def test_wide_open_it_is_softer() -> None:
    def edges(picture: Floats) -> float:
        return float(np.abs(np.diff(picture, axis=1)).sum())

    assert edges(ideal(mm=85.0, stop=1.0)) < edges(ideal(mm=85.0, stop=32.0))


def test_a_format_that_cannot_be_is_refused() -> None:
    for width, height, field in ((0.0, 24.0, "width_mm"), (36.0, 900.0, "height_mm")):
        with pytest.raises(NotPossibleError) as refused:
            IdealView("nave", 50.0, 2.0, width, height, NAVE)
        assert refused.value.field == field
