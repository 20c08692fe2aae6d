"""The scenes stand where they are put, to their measures; and what the renderer is made of keeps its word."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.thorough import examples
from tropeion.core.frame.lamps import View
from tropeion.core.frame.raster import disc_blurred, grown, shrunk
from tropeion.core.frame.render import PALETTE, light_of, toned
from tropeion.core.frame.scenes import SCENES, Lamp, Patch, Scene, SceneName, Standpoint, Surface, scene_of

FRONT = Standpoint(distance_m=30.0, subject_m=18.0, lens_m=1.6, field=(20.0, 13.0))


def corners(scene: Scene) -> list[tuple[float, float, float]]:
    """Every corner of every shape, in the world."""
    found = []
    for surface in scene.surfaces:
        for patch in surface.patches:
            for ring in patch.rings:
                for along, up in ring:
                    x, y, z = (
                        o + along * a + up * b
                        for o, a, b in zip(surface.origin, surface.along, surface.up, strict=True)
                    )
                    found.append((x, y, z))
    return found


@pytest.mark.parametrize("name", SCENES)
def test_a_scene_is_made_of_planes_and_tones(name: SceneName) -> None:
    scene = scene_of(name, FRONT)
    assert scene.surfaces
    for surface in scene.surfaces:
        along, up = np.array(surface.along), np.array(surface.up)
        assert np.linalg.norm(along) == pytest.approx(1)
        assert np.linalg.norm(up) == pytest.approx(1)
        assert float(along @ up) == pytest.approx(0)
        for patch in surface.patches:
            assert 0 <= patch.tone <= 1
            assert all(len(ring) > 2 for ring in patch.rings)


def test_the_front_is_as_high_as_asked_and_stands_on_the_ground_where_asked() -> None:
    for high, away in ((18.0, 30.0), (40.0, 55.0)):
        scene = scene_of("facade", Standpoint(away, high, 1.6, (20.0, 13.0)))
        front = [corner for corner in corners(scene) if corner[2] == away and abs(corner[0]) < high]
        assert max(y for _, y, _ in front) == pytest.approx(high)
        assert min(y for _, y, _ in front) == pytest.approx(0)


def test_surfaces_run_from_the_back_to_the_front() -> None:
    """What faces the camera is listed from far to near, or it would be painted over."""
    for name in SCENES:
        facing = [one.origin[2] for one in scene_of(name, FRONT).surfaces if one.along[0] == 1 and one.up[1] == 1]
        assert facing == sorted(facing, reverse=True)


def test_the_lamps_hang_from_near_to_far_into_the_dark() -> None:
    lamps = scene_of("nave", FRONT).lights
    places = [one.at[2] for one in lamps]
    assert len(lamps) > 8
    assert places == sorted(places)
    assert places[-1] > 4 * places[0]


def test_the_rule_beside_the_mark_counts_millimetres() -> None:
    scene = scene_of("mark", Standpoint(0.6, 0.3, 1.2, (0.4, 0.27)))
    pipe = next(one for one in scene.surfaces if one.origin[2] == 0.6 and len(one.patches) > 3)
    ticks = [ring for patch in pipe.patches for ring in patch.rings if len(patch.rings) > 200]
    feet = sorted(min(y for _, y in ring) for ring in ticks)
    steps = np.diff(feet)
    assert steps == pytest.approx(np.full(len(steps), 0.001), abs=1e-9)
    # Every tenth is the longest.
    widths = [max(x for x, _ in ring) - min(x for x, _ in ring) for ring in ticks]
    assert widths.count(max(widths)) == pytest.approx(len(ticks) / 10, abs=1)


def test_the_chart_fills_the_frame_at_any_distance() -> None:
    for away in (1.0, 3.0, 12.0):
        field = (0.72 * away, 0.48 * away)
        scene = scene_of("chart", Standpoint(away, 1.5, 1.5, field))
        edge = [c for c in corners(scene) if abs(c[0]) < field[0]]
        assert max(x for x, _, _ in edge) == pytest.approx(0.49 * field[0], rel=0.02)
        assert max(y for _, y, _ in edge) - 1.5 <= 0.5 * field[1] * 1.001


# What the renderer is made of


@settings(deadline=None, max_examples=examples(30))
@given(by=st.integers(1, 5), rows=st.integers(3, 40), columns=st.integers(3, 40))
def test_shrinking_keeps_the_light_of_whole_squares(by: int, rows: int, columns: int) -> None:
    image = np.random.default_rng(rows * 41 + columns).random((rows * by, columns * by), np.float32)
    small = shrunk(image, by)
    assert small.shape == (rows, columns)
    assert float(small.mean()) == pytest.approx(float(image.mean()), rel=1e-4)
    assert grown(small, by, image.shape).shape == image.shape


@settings(deadline=None, max_examples=examples(30))
@given(diameter=st.floats(1.1, 25), shift=st.integers(-6, 6))
def test_a_blur_moves_with_what_it_blurs_and_never_makes_light(diameter: float, shift: int) -> None:
    image = np.zeros((64, 64), np.float32)
    image[30:34, 28:36] = 1
    one = disc_blurred(image, diameter)
    other = disc_blurred(np.roll(image, shift, axis=1), diameter)
    assert np.roll(one, shift, axis=1)[:, 16:48] == pytest.approx(other[:, 16:48], abs=1e-4)
    assert float(one.min()) >= -1e-5
    assert float(one.max()) <= 1 + 1e-5
    assert float(one.sum()) == pytest.approx(float(image.sum()), rel=1e-3)


@given(diameter=st.floats(1.5, 12), more=st.floats(0.5, 12))
@settings(deadline=None, max_examples=examples(30))
def test_a_larger_disc_is_flatter(diameter: float, more: float) -> None:
    image = np.zeros((61, 61), np.float32)
    image[30, 30] = 1
    assert float(disc_blurred(image, diameter + more).max()) < float(disc_blurred(image, diameter).max())


def test_what_stands_before_hides_what_stands_behind() -> None:
    def wall(away: float, tone: float, half: float) -> Surface:
        ring = ((-half, 1.5 - half), (half, 1.5 - half), (half, 1.5 + half), (-half, 1.5 + half))
        return Surface((0.0, 0.0, away), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (Patch(tone, (ring,)),))

    seen = View(36.0, 24.0, 50.0, 16.0, extension_mm=0.3)
    both = light_of(Scene((wall(20, 1.0, 40), wall(8, 0.0, 0.4))), seen, (120, 180))
    assert float(both[60, 90]) == pytest.approx(0, abs=1e-3)
    assert float(both[5, 5]) == pytest.approx(1, abs=1e-3)


def test_what_stands_behind_the_camera_is_not_seen() -> None:
    behind = Scene((), (Lamp((0.0, 1.5, -3.0), 50.0), Lamp((0.0, 1.5, 0.02), 50.0)))
    assert float(light_of(behind, View(36.0, 24.0, 50.0, 4.0), (60, 90)).max()) == 0


def test_the_palette_rises_from_ink_to_paper() -> None:
    brightness = PALETTE.astype(float) @ (0.2126, 0.7152, 0.0722)
    assert (np.diff(brightness) >= -1.0).all()
    assert brightness[0] < 20
    assert brightness[-1] > 245
    assert int(toned(np.zeros((2, 2), np.float32), 0.0, 1).max()) == 0
    assert int(toned(np.full((2, 2), 3.0, np.float32), 0.0, 1).min()) == 255


@pytest.mark.parametrize("grain", [0.005, 0.02, 0.06])
def test_the_grain_is_as_strong_as_asked_and_weaker_in_the_dark(grain: float) -> None:
    """σ of a white pixel is the grain, of one with a quarter of the light half of it."""
    even = np.full((200, 200), 0.25, np.float32)
    tones = toned(even, grain, 5).astype(float) / 255
    light = tones**2.2
    assert float(light.mean()) == pytest.approx(0.25, abs=0.01)
    assert float(light.std()) == pytest.approx(grain * math.sqrt(0.26), rel=0.08, abs=0.002)
