"""Circles and fall-off of lit frames, edges found in a picture, ladders, and series of frames."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest

from tests.core.measured.rendered import Reals, edge, encoded, lit, true_mtf50
from tests.thorough import some
from tropeion.core.measured.finding import find_edges
from tropeion.core.measured.frames_of_series import Zone, ZoneFrame, series_measured
from tropeion.core.measured.ladder import ladder_of, top_of
from tropeion.core.measured.lines import OtherShapeError, pitch_mm
from tropeion.core.measured.lit import lit_frame
from tropeion.core.measured.slanted import EdgeMeasured, Mtf

CIRCLES = list(itertools.product((500.0, 620.0, 690.0), (6.0, 20.0), ((0.0, 0.0), (18.0, -11.0))))


@pytest.mark.parametrize(("circle", "soft", "centre"), some(CIRCLES, CIRCLES[::3]))
def test_a_circle_inside_the_frame(circle: float, soft: float, centre: tuple[float, float]) -> None:
    found = lit_frame(lit(720, 480, circle, soft, centre))
    assert found.circle_px is not None
    assert found.doubt_px is not None
    assert abs(found.circle_px - circle) <= found.doubt_px
    # From g = 0.8 to g = 0.2 a linear edge takes 0.6 of its whole width.
    assert found.doubt_px == pytest.approx(0.6 * soft, rel=0.3)
    assert found.centre == pytest.approx(centre, abs=1.0)


def test_a_circle_beyond_the_frame_is_at_least_its_diagonal() -> None:
    found = lit_frame(lit(720, 480, 2000.0, 20.0))
    assert found.circle_px is None
    assert found.at_least_px == pytest.approx(math.hypot(720, 480), rel=0.005)
    assert not found.corners_dark


def test_corners_that_only_begin_to_darken_are_never_said_to_be_covered() -> None:
    diagonal = math.hypot(720, 480)
    found = lit_frame(lit(720, 480, diagonal + 30, 60.0))
    assert found.corners_dark
    assert found.at_least_px is None or found.at_least_px < diagonal
    if found.circle_px is not None and found.doubt_px is not None:
        assert abs(found.circle_px - diagonal - 30) <= found.doubt_px


@pytest.mark.parametrize("fall", [0.2, 0.5, 0.75])
def test_fall_off_in_stops(fall: float) -> None:
    found = lit_frame(lit(720, 480, 4000.0, 10.0, fall=fall, noise=0.001))
    half_height = (240 / (math.hypot(720, 480) / 2)) ** 2
    assert found.half_height_stops == pytest.approx(-math.log2(1 - fall * half_height), abs=0.03)
    assert found.corner_stops == pytest.approx(-math.log2(1 - fall), abs=0.1)
    # 1 − fall · (r / half diagonal)² is 2 to the −stops.
    wanted = [math.sqrt((1 - 2.0**-stops) / fall) for stops in (1 / 3, 2 / 3, 1.0, 2.0) if 1 - 2.0**-stops < fall]
    half = math.hypot(720, 480) / 2
    assert [one.radius_px / half for one in found.falls] == pytest.approx(wanted[: len(found.falls)], abs=0.02)
    assert len(found.falls) in {len(wanted), len(wanted) - 1}


def test_a_black_frame_is_refused() -> None:
    with pytest.raises(ValueError, match="not evenly lit"):
        lit_frame(np.zeros((200, 300)))


def picture() -> Reals:
    """Two patches that qualify, one along the grid, on a grey wall."""
    light = np.full((900, 1300), 0.35)
    for y, x, part in (
        (120, 150, edge(5.0, (("gauss", 1.2),), low=0.05, high=0.75, columns=120)),
        (520, 900, edge(-7.0, (("disc", 6.0),), low=0.05, high=0.75, columns=120)),
        (150, 800, edge(0.05, (("gauss", 1.2),), low=0.05, high=0.75, columns=90)),
    ):
        light[y : y + part.shape[0], x : x + part.shape[1]] = part
    return light


@pytest.mark.parametrize("step", [1, 3])
def test_edges_are_found_wherever_they_are(step: int) -> None:
    light = picture()
    rows, columns = light.shape[0] // step, light.shape[1] // step
    looks = encoded(light)[: rows * step, : columns * step]
    small = looks.reshape(rows, step, columns, step).mean(axis=(1, 3)).astype(np.float32)
    found = find_edges(small, step, lambda x, y, w, h: light[y : y + h, x : x + w], clips_at=(0, 1))
    slant = [one for one in found.edges if one.upright]
    assert [round(one.angle_deg) for one in slant] == [-5, 7]
    sharp = [true_mtf50(5.0, (("gauss", 1.2),)), true_mtf50(-7.0, (("disc", 6.0),))]
    assert [one.mtf50 for one in slant] == pytest.approx(sharp, rel=0.04)
    near = [one for one in found.refused if abs(one.x - 845) < 8 and 150 < one.y < 350]
    assert [one.why for one in near] == ["angle"]


def rung(x: float, y: float, mtf50: float) -> EdgeMeasured:
    return EdgeMeasured(x, y, 5.0, True, mtf50, 0.003, 2.0, False, Mtf((0.0, 1.0), (1.0, 0.0)), 100)


def test_a_ladder_is_sharpest_where_its_edges_are() -> None:
    def at(mm: float) -> float:
        return 0.3 * math.exp(-(((mm - 14.0) / 60) ** 2))

    edges = [rung(200 + 6 * (mm + 120), 400, at(mm)) for mm in range(-120, 121, 20)]
    stray = rung(800, 900, 0.5)
    ladder = ladder_of([*edges, stray], (200.0, 400.0), (1640.0, 400.0), 240.0)
    assert len(ladder.rungs) == len(edges)
    assert ladder.peak is not None
    assert abs(ladder.peak.offset_mm - 14.0) < max(1.5, 2 * ladder.peak.doubt_mm)
    assert ladder.peak.x == pytest.approx(200 + 6 * (ladder.peak.offset_mm + 120), abs=1e-6)
    beyond = ladder_of([rung(200 + 100 * n, 400, 0.05 + 0.02 * n) for n in range(8)], (200, 400), (900, 400), 100)
    assert beyond.peak is None
    assert "beyond" in beyond.why
    with pytest.raises(ValueError, match="one place"):
        ladder_of(edges, (5.0, 5.0), (5.0, 5.0), 240.0)


def test_a_top_has_the_doubt_of_its_values() -> None:
    places = np.linspace(-3, 3, 13)
    found = []
    for seed in range(30):
        noise = np.random.default_rng(seed).normal(0, 0.004, places.size)
        top, _ = top_of(places.tolist(), (0.3 - 0.02 * (places - 0.4) ** 2 + noise).tolist(), [0.004] * places.size)
        assert top is not None
        found.append(top)
    spread = float(np.std([place for place, _ in found]))
    assert float(np.mean([place for place, _ in found])) == pytest.approx(0.4, abs=0.05)
    assert spread / 2 < float(np.mean([doubt for _, doubt in found])) < spread * 3


def frames(best: float, stop: float = 2.8) -> list[ZoneFrame]:
    return [ZoneFrame(x, stop, 0.3 - 8.0 * (x - best) ** 2, 0.002) for x in np.linspace(best - 0.12, best + 0.12, 7)]


def causes(**best: float) -> dict[str, float]:
    zones: dict[Zone, list[ZoneFrame]] = {zone: frames(place) for zone, place in best.items()}  # type: ignore[misc]
    told = series_measured(zones, apart_mm=18.0, flange_mm=60.0)
    return {cause.cause: cause.mm for cause in told.causes}


def test_a_wedge_is_told_across_the_flange() -> None:
    zones: dict[Zone, list[ZoneFrame]] = {"left": frames(0.0), "right": frames(0.09), "centre": frames(0.045)}
    [wedge] = series_measured(zones, apart_mm=18.0, flange_mm=60.0).causes
    assert wedge.cause == "wedge"
    # 0.09 mm over half of the width, 18 mm; the flange is 60 mm across.
    assert wedge.across_flange_mm == pytest.approx(0.09 / 18 * 60, rel=0.02)


def test_curved_fields_shifts_and_what_is_neither_are_told_apart() -> None:
    corners = dict.fromkeys(("top_left", "top_right", "bottom_left", "bottom_right"), 0.08)
    assert causes(centre=0.0, **corners) == {"curvature": pytest.approx(0.08, abs=0.005)}
    assert set(causes(centre=0.0, **{**corners, "top_left": -0.1, "top_right": 0.0, "bottom_left": 0.0})) == {"other"}
    assert causes(centre=0.0, **dict.fromkeys(corners, 0.001)) == {}
    stops: dict[Zone, list[ZoneFrame]] = {"centre": [*frames(0.0, 1.8), *frames(0.05, 5.6)]}
    [shift] = series_measured(stops, apart_mm=18.0).causes
    assert shift.cause == "shift_of_focus"
    assert shift.mm == pytest.approx(0.05, abs=0.005)


def test_a_pixel_is_as_wide_as_the_part_of_the_sensor_that_was_used() -> None:
    assert pitch_mm((6000, 4000), (36.0, 24.0)) == pytest.approx(0.006)
    assert pitch_mm((4000, 6000), (36.0, 24.0)) == pytest.approx(0.006)
    assert pitch_mm((6048, 4000), (36.0, 24.0)) == pytest.approx(36 / 6048)
    with pytest.raises(OtherShapeError, match="which part of the sensor"):
        pitch_mm((6000, 3375), (36.0, 24.0))
