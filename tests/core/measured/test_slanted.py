"""Slanted edges against their analytic MTF, and what does not qualify."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest

from tests.core.measured.rendered import Reals, edge, true_mtf50
from tests.thorough import some
from tropeion.core.measured.disc import InFocus, bessel_1, blur_of, diameter_px, disc_contrast
from tropeion.core.measured.slanted import RefusedEdgeError, measure_edge

WIDTHS, ANGLES = (1.0, 2.0, 4.0, 8.0, 12.0), (3.0, -5.0, 8.0)
CASES = list(itertools.product(("gauss", "disc"), WIDTHS, ANGLES, (0.0, 0.01), (8, 16)))
FEW = [case for number, case in enumerate(CASES) if number % 5 == 0]


@pytest.mark.parametrize(("kind", "width", "angle", "noise", "bits"), some(CASES, FEW))
def test_mtf50_is_that_of_the_edge(kind: str, width: float, angle: float, noise: float, bits: int) -> None:
    light = edge(angle, ((kind, width),), noise=noise, bits=bits)
    found = measure_edge(light, clips_at=(0, 1))
    assert found.mtf50 == pytest.approx(true_mtf50(angle, ((kind, width),)), rel=0.06)
    assert found.angle_deg == pytest.approx(-angle, abs=0.25)
    assert (found.x, found.y) == pytest.approx(((light.shape[1] - 1) / 2, 99.5), abs=0.3)
    assert found.uncertainty is not None
    assert not found.sharpened


@pytest.mark.parametrize("turns", [0, 1, 2, 3])
def test_it_is_the_same_whichever_way_it_runs(turns: int) -> None:
    light = edge(5.0, (("gauss", 2.0),))
    found = measure_edge(np.rot90(light, turns), at=(1000, 500))
    assert found.mtf50 == pytest.approx(measure_edge(light).mtf50, rel=0.005)
    assert found.upright == (turns % 2 == 0)
    assert abs(found.angle_deg) == pytest.approx(5.0, abs=0.1)
    assert found.x > 1000
    assert found.y > 500


def test_greens_alone_tell_the_same() -> None:
    """Of a raw file every other place has a sample: nothing is put in between."""
    light = edge(6.0, (("disc", 3.0),))
    green = light.copy()
    green[(np.add.outer(np.arange(light.shape[0]), np.arange(light.shape[1])) % 2) == 1] = np.nan
    found = measure_edge(green)
    assert found.mtf50 == pytest.approx(true_mtf50(6.0, (("disc", 3.0),)), rel=0.03)
    assert found.uncertainty is not None


def test_its_doubt_is_that_of_repeated_frames() -> None:
    seen = [measure_edge(edge(5.0, (("gauss", 1.5),), noise=0.02, seed=seed)) for seed in range(24)]
    spread = float(np.std([one.mtf50 for one in seen], ddof=1))
    told = float(np.mean([one.uncertainty or math.nan for one in seen]))
    assert spread / 3 < told < spread * 4


def test_sharpening_is_named() -> None:
    light = edge(5.0, (("gauss", 1.5),), low=0.1, high=0.7)
    # What a camera does: the picture less a softer one.
    soft = edge(5.0, (("gauss", 3.5),), low=0.1, high=0.7, columns=light.shape[1])
    assert measure_edge(np.clip(light + 0.9 * (light - soft), 0, 1)).sharpened
    assert not measure_edge(light).sharpened


def shifted(light: Reals, to: float) -> Reals:
    return np.clip(light + to, 0, 1)


def grainy(light: Reals) -> Reals:
    """Grain of 0.07, so much less than the levels that nothing is clipped by it."""
    return light + np.random.default_rng(3).uniform(-0.12, 0.12, light.shape)


@pytest.mark.parametrize(
    ("why", "light"),
    [
        ("angle", edge(1.0, (("gauss", 1.0),), columns=60)),
        ("angle", edge(13.0, (("gauss", 1.0),), columns=120)),
        ("contrast", edge(5.0, (("gauss", 1.0),), low=0.3, high=0.8)),
        ("too_short", edge(5.0, (("gauss", 1.0),), rows=50)),
        ("too_narrow", edge(5.0, (("gauss", 8.0),), columns=44)),
        ("clipped", shifted(edge(5.0, (("gauss", 1.0),)), 0.4)),
        ("noise", grainy(edge(5.0, (("gauss", 1.0),), low=0.15, high=0.75))),
        ("no_edge", np.full((100, 60), 0.4)),
    ],
)
def test_what_does_not_qualify_says_why(why: str, light: Reals) -> None:
    with pytest.raises(RefusedEdgeError) as refused:
        measure_edge(light, clips_at=(0, 1))
    assert refused.value.why == why
    assert str(refused.value)


def test_the_disc_is_that_of_the_books() -> None:
    # Abramowitz and Stegun, table 9.1.
    assert bessel_1(1.0) == pytest.approx(0.4400505857, abs=1e-9)
    assert bessel_1(3.0) == pytest.approx(0.3390589585, abs=1e-9)
    assert disc_contrast(math.pi * 0.70508) == pytest.approx(0.5, abs=1e-4)


SHAPES = {"gauss": 1.2, "exponential": 0.9, "disc": 3.0}
DISCS = list(itertools.product(SHAPES, (2.5, 4.0, 6.0, 9.0, 14.0), (5.0, -7.0)))


@pytest.mark.parametrize(("shape", "diameter", "angle"), some(DISCS, DISCS[::3]))
def test_a_disc_behind_any_blur_is_told_by_a_frame_in_focus(shape: str, diameter: float, angle: float) -> None:
    residual = (shape, SHAPES[shape])
    focus = measure_edge(edge(angle, (residual,), noise=0.005))
    soft = measure_edge(edge(angle, (residual, ("disc", diameter)), noise=0.005))
    blur = blur_of(soft.mtf50, soft.uncertainty or 0.0, InFocus.of(focus), as_sharpened=False)
    assert blur is not None
    assert not blur.in_focus
    off = abs(blur.diameter_px - diameter)
    assert off <= max(0.06 * diameter, blur.uncertainty_px)


def test_without_a_frame_in_focus_only_a_strong_blur_counts() -> None:
    assert blur_of(0.12, 0.002, None, as_sharpened=False) is None
    strong = blur_of(0.05, 0.001, None, as_sharpened=False)
    assert strong is not None
    assert strong.diameter_px == pytest.approx(0.70508 / 0.05, rel=0.06)
    told = blur_of(0.05, 0.001, InFocus(0.25, 0.005), as_sharpened=False)
    assert told is not None
    assert told.uncertainty_px < strong.uncertainty_px


def test_a_cameras_own_picture_is_never_surer_than_a_pixel() -> None:
    for mtf50 in (0.05, 0.1, 0.24):
        blur = blur_of(mtf50, 0.0005, InFocus(0.25, 0.001), as_sharpened=True)
        assert blur is not None
        assert blur.uncertainty_px >= 1.0


def test_in_focus_as_far_as_can_be_told() -> None:
    blur = blur_of(0.245, 0.004, InFocus(0.25, 0.004), as_sharpened=False)
    assert blur is not None
    assert blur.in_focus
    assert blur.diameter_px == 0
    hidden = 0.25 - math.hypot(0.004, 0.004)
    assert blur.uncertainty_px == pytest.approx(diameter_px(hidden, InFocus(0.25, 0.004)))
