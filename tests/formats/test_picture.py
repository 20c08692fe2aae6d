"""Pictures of sensors of any shape stay pictures of a bounded size."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tropeion.core.frame.lamps import View
from tropeion.core.frame.scenes import Scene
from tropeion.formats.frame_png import WIDEST, drawn

EMPTY = Scene(surfaces=(), lights=())


def size_of(png: bytes) -> tuple[int, int]:
    """Width and height, by the header of the file."""
    return int.from_bytes(png[16:20]), int.from_bytes(png[20:24])


@pytest.mark.parametrize(
    ("sensor_mm", "size"),
    [((36, 24), (90, 60)), ((24, 36), (40, 60)), ((5000, 0.001), (240, 1)), ((0.001, 5000), (1, 60))],
)
def test_a_sensor_of_any_shape(sensor_mm: tuple[float, float], size: tuple[int, int]) -> None:
    assert size_of(drawn(EMPTY, View(*sensor_mm, focal_length_mm=50, f_number=4), 60, 1)) == size


@settings(max_examples=20)
@given(st.floats(0.001, 5000), st.floats(0.001, 5000))
def test_no_picture_is_larger_than_its_rows_allow(width_mm: float, height_mm: float) -> None:
    wide, high = size_of(drawn(EMPTY, View(width_mm, height_mm, focal_length_mm=50, f_number=4), 30, 1))
    assert 1 <= high <= 30
    assert 1 <= wide <= 30 * WIDEST
