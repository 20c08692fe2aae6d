"""The picture against the numbers, on its pixels."""

from __future__ import annotations

import math
import zlib

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.thorough import examples
from tropeion.core.frame.lamps import View
from tropeion.core.frame.raster import coverage_of, disc_blurred, grown, shrunk
from tropeion.core.frame.render import PALETTE, _layers, light_of, toned
from tropeion.core.frame.scenes import SCENES, Lamp, Patch, Scene, Standpoint, Surface, scene_of
from tropeion.core.optics.clipping import Bore
from tropeion.core.optics.defocus import blur_diameter_mm, extension_for_mm, infinity_blur_mm
from tropeion.formats.png import dump_png

Light2 = npt.NDArray[np.float32]
SHAPE = (600, 900)
PX = 900 / 36  # pixels per millimetre on 36 × 24


def view(**changes: object) -> View:
    usual: dict[str, object] = {"width_mm": 36.0, "height_mm": 24.0, "focal_length_mm": 50.0, "f_number": 8.0}
    return View(**{**usual, "lens_m": 1.5, **changes})  # type: ignore[arg-type]


def wall(away: float, *patches: Patch) -> Surface:
    return Surface((0.0, 0.0, away), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), patches)


def box(left: float, bottom: float, right: float, top: float) -> tuple[tuple[float, float], ...]:
    return ((left, bottom), (right, bottom), (right, top), (left, top))


def lit(away: float = 10.0) -> Scene:
    """An even, white wall."""
    return Scene((wall(away, Patch(1.0, (box(-500, -500, 500, 500),))),))


def focused(away_m: float, f: float = 50.0) -> float:
    x = extension_for_mm(f, away_m * 1000)
    assert x is not None
    return x


# Edges and discs


def ring(*corners: tuple[float, float]) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.int64]]:
    return np.array(corners, np.float64), np.array([len(corners)])


@given(
    left=st.floats(-4, 20), top=st.floats(-4, 20), wide=st.floats(0.1, 30), tall=st.floats(0.1, 30), turn=st.booleans()
)
def test_a_box_covers_its_area(left: float, top: float, wide: float, tall: float, turn: bool) -> None:
    corners = [(left, top), (left + wide, top), (left + wide, top + tall), (left, top + tall)]
    found = coverage_of(*ring(*(corners[::-1] if turn else corners)), (24, 24))
    inside = max(0.0, min(24, left + wide) - max(0, left)) * max(0.0, min(24, top + tall) - max(0, top))
    assert (0.0 if found is None else float(found[2].sum())) == pytest.approx(inside, abs=1e-3)


@given(st.lists(st.tuples(st.floats(1, 39), st.floats(1, 39)), min_size=3, max_size=3, unique=True))
def test_a_triangle_covers_its_area_and_no_pixel_twice(corners: list[tuple[float, float]]) -> None:
    (ax, ay), (bx, by), (cx, cy) = corners
    area = abs((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2
    found = coverage_of(*ring(*corners), (40, 40))
    assert (0.0 if found is None else float(found[2].sum())) == pytest.approx(area, abs=2e-3)
    assert found is None or float(found[2].max()) <= 1


def test_shapes_of_one_tone_do_not_add_up_where_they_overlap() -> None:
    points = np.array([(2, 2), (8, 2), (8, 8), (2, 8), (5, 8), (5, 5), (11, 5), (11, 8)], np.float64)
    found = coverage_of(points, np.array([4, 4]), (12, 12))
    assert found is not None
    # 6 × 6 and 6 × 3 with 3 × 3 in common, though one turns the other way.
    assert float(found[2].sum()) == pytest.approx(36 + 18 - 9)


@settings(deadline=None, max_examples=examples(40))
@given(diameter=st.floats(1.2, 30))
def test_a_point_becomes_a_disc_of_its_diameter_with_all_its_light(diameter: float) -> None:
    image = np.zeros((81, 81), np.float32)
    image[40, 40] = 1
    disc = disc_blurred(image, diameter)
    assert float(disc.sum()) == pytest.approx(1, abs=1e-3)
    # The second moment of a disc about its middle is d²/8, of a pixel 1/6.
    rows, columns = np.mgrid[-40:41, -40:41]
    moment = float((disc * (rows**2 + columns**2)).sum())
    assert moment == pytest.approx(diameter**2 / 8 + 1 / 6, rel=0.06, abs=0.2)


def test_an_even_grey_stays_even_to_its_edges() -> None:
    grey = np.full((30, 40), 0.4, np.float32)
    assert disc_blurred(grey, 17.3) == pytest.approx(grey, abs=1e-5)
    assert grown(shrunk(grey, 4), 4, grey.shape) == pytest.approx(grey, abs=1e-6)


# The picture


def bright(row: Light2) -> tuple[float, float]:
    """Where a bright stretch begins and ends, between pixels."""
    places = np.flatnonzero(row > row.max() / 2)
    first, last = int(places[0]), int(places[-1])
    return first + 1 - float(row[first] / row.max()), last + float(row[last] / row.max())


def length(row: Light2) -> float:
    """How long a bright stretch is, its half-lit ends counted by their light."""
    return float(row.sum() / row.max())


@pytest.mark.parametrize("k", [1.0, 0.72])
def test_a_bar_of_a_metre_at_ten_metres_has_the_computed_length(k: float) -> None:
    """F·(1 + m)·1 m/u: 50 mm focused at 10 m, u = 10 m − f − x."""
    x = focused(10)
    scene = Scene((wall(10, Patch(1.0, (box(-0.5, 1.4, 0.5, 1.6),))),))
    light = light_of(scene, view(extension_mm=x, k=k), SHAPE)
    assert length(light[300]) == pytest.approx(k * (50 + x) * 1000 / (10_000 - 50 - x) * PX, abs=0.05)
    start, end = bright(light[300])
    assert (start + end) / 2 == pytest.approx(450, abs=0.6)


@pytest.mark.parametrize("circle", [30.0, 36.0, 42.0])
@pytest.mark.parametrize("shift", [(0.0, 0.0), (4.0, 3.0)])
def test_dark_corners_begin_at_the_circle(circle: float, shift: tuple[float, float]) -> None:
    light = light_of(lit(), view(circle_mm=circle, shift_mm=shift), SHAPE)
    rows, columns = np.mgrid[0:600, 0:900]
    away = np.hypot((columns + 0.5) / PX - 18 + shift[0], 12 - (rows + 0.5) / PX + shift[1]) * PX
    assert float(light[away < circle / 2 * PX - 1].min()) == pytest.approx(1)
    assert float(light[away > circle / 2 * PX + 1].max(initial=0)) == 0


def test_a_stabiliser_aside_moves_the_circle_and_not_the_scene() -> None:
    scene = Scene((wall(10, Patch(1.0, (box(-0.5, 1.0, 0.5, 2.0),))),))
    rest = light_of(scene, view(circle_mm=44.0), SHAPE)
    aside = light_of(scene, view(circle_mm=44.0, stray_mm=(3.0, 3.0)), SHAPE)
    assert (rest[200:400, 300:600] == aside[200:400, 300:600]).all()
    corner = light_of(lit(), view(circle_mm=44.0, stray_mm=(3.0, 3.0)), SHAPE)
    assert float(corner[0, -1]) == 0
    assert float(corner[-1, 0]) == 1


DISCS = [(0.6, 2.0, 2.0), (1.0, 4.0, 2.8), (3.0, 1.2, 2.0), (8.0, 2.5, 1.4)]


@pytest.mark.parametrize(("set_m", "point_m", "f_number"), DISCS)
def test_a_light_out_of_focus_has_the_computed_disc(set_m: float, point_m: float, f_number: float) -> None:
    x = focused(set_m)
    seen = view(extension_mm=x, f_number=f_number)
    light = light_of(Scene((), (Lamp((0.0, 1.5, point_m), 50.0),)), seen, SHAPE)
    diameter = blur_diameter_mm(50, f_number, 1, x, point_m * 1000)
    assert diameter is not None
    area = float((light / light.max()).sum())
    assert 2 * math.sqrt(area / math.pi) == pytest.approx(diameter * PX, rel=0.05, abs=1)


@pytest.mark.parametrize(("set_m", "point_m", "f_number"), DISCS)
def test_a_small_patch_out_of_focus_has_the_same_disc(set_m: float, point_m: float, f_number: float) -> None:
    """Through layers, reductions and running sums, not as an exact disc: measured by its second moment."""
    x = focused(set_m)
    size = 0.5 / PX / 50 * point_m
    scene = Scene((wall(point_m, Patch(1.0, (box(-size, 1.5 - size, size, 1.5 + size),))),))
    light = light_of(scene, view(extension_mm=x, f_number=f_number), SHAPE).astype(np.float64)
    rows, columns = np.mgrid[0:600, 0:900]
    total = light.sum()
    middle = (rows * light).sum() / total, (columns * light).sum() / total
    moment = (((rows - middle[0]) ** 2 + (columns - middle[1]) ** 2) * light).sum() / total
    diameter = blur_diameter_mm(50, f_number, 1, x, point_m * 1000)
    assert diameter is not None
    assert math.sqrt(8 * moment) == pytest.approx(diameter * PX, rel=0.05, abs=1.5)


def test_an_edge_at_infinity_spreads_by_the_blur_of_infinity() -> None:
    """A step blurred by a disc of diameter b rises over b."""
    x = focused(3)
    seen = view(extension_mm=x, f_number=2.0)
    scene = Scene((wall(1e7, Patch(1.0, (box(0, -1e7, 1e7, 1e7),))),))
    row = light_of(scene, seen, SHAPE)[300]
    rising = np.flatnonzero((row > 0.003) & (row < 0.997))
    assert len(rising) == pytest.approx(infinity_blur_mm(2.0, 1, x) * PX, abs=2)


@pytest.mark.parametrize("pitch", [5.0, 12.0, 20.0])
def test_a_vertical_leans_by_the_computed_angle(pitch: float) -> None:
    """atan(x·tan φ/F) at the image offset x on the horizon of the frame's middle."""
    offset = 2.0
    scene = Scene((wall(10, Patch(1.0, (box(offset, -50, offset + 0.5, 80),))),))
    light = light_of(scene, view(extension_mm=focused(10), pitch_deg=pitch, f_number=22.0), SHAPE)
    places = []
    for row in (200, 300, 400):
        start, _ = bright(light[row])
        places.append(start)
    lean = math.degrees(math.atan2(places[2] - places[0], 200))
    image = (places[1] - 450) / PX
    computed = math.degrees(math.atan(image * math.tan(math.radians(pitch)) / (50 + focused(10))))
    assert lean == pytest.approx(computed, abs=0.25)


def test_level_and_shifted_keeps_verticals_upright() -> None:
    scene = Scene((wall(10, Patch(1.0, (box(2.0, -50, 2.5, 80),))),))
    light = light_of(scene, view(extension_mm=focused(10), shift_mm=(0.0, 9.0)), SHAPE)
    assert bright(light[50]) == pytest.approx(bright(light[550]), abs=0.05)


def test_a_tilt_makes_the_ground_sharp_from_near_to_far() -> None:
    """The hinge 1.5 m below, on the ground: the plane of focus lies on it."""
    tiles = tuple(box(-20, z, 20, z + 0.25) for z in np.arange(2, 60, 0.5))
    ground = Surface(
        (0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), (Patch(0.2, (box(-20, 1, 20, 100),)), Patch(0.9, tiles))
    )
    # Focused at infinity, the plane through the hinge is parallel to the axis.
    level = light_of(Scene((ground,)), view(f_number=2.8, extension_mm=0.0), SHAPE)
    tilted = light_of(Scene((ground,)), view(f_number=2.8, extension_mm=0.0, hinge_mm=1500.0), SHAPE)
    sharp = light_of(Scene((ground,)), view(f_number=1000.0, extension_mm=0.0), SHAPE)
    assert float(np.abs(tilted - sharp)[320:].mean()) < 0.12 * float(np.abs(level - sharp)[320:].mean())


def test_below_the_hinge_the_blur_grows_again() -> None:
    """A fifth below the axis, 5 m away, the hinge 0.2 m below: 1/u + y/(u·J) = 0.2 − 1 = −0.8 per metre."""
    lens_m = 0.05  # the focal length: the lens is that much before the sensor
    away = 5.0 + lens_m
    tilted = view(f_number=2.0, extension_mm=0.0, hinge_mm=200.0)
    # f/N · f · 0.8 per metre, at 25 pixels per mm.
    diameter = 50 / 2 * 50 * 0.0008 * PX
    light = light_of(Scene((), (Lamp((0.0, 1.5 - 1.0, away), 400.0),)), tilted, SHAPE)
    assert (light[:, 450] > 0).sum() == pytest.approx(diameter, abs=2)
    post = Scene((wall(away, Patch(1.0, (box(-0.6, -1.0, 0.6, 2.0),))),))
    row = light_of(post, tilted, SHAPE)[300 + round(0.2 * 50 * PX)]
    rise = ((row > 0.005) & (row < 0.995)).sum() / 2
    assert rise == pytest.approx(diameter, rel=0.15)


def test_where_the_blur_leaps_from_row_to_row_each_pixel_is_shared_out_whole() -> None:
    """From 1 px to 60 px between two rows: nothing stands in the layers between, and nothing is lost."""
    blur = np.repeat([[1.0], [60.0], [3.3]], 4, axis=1)
    whole = np.ones((3, 4), np.float32)
    layers = _layers(blur, whole * np.float32(0.5), whole, (slice(0, 3), slice(0, 4)), 0.2)
    tone, cover = np.zeros((3, 4)), np.zeros((3, 4))
    for _, some_tone, some_cover, rows, columns in layers:
        tone[rows, columns] += some_tone
        cover[rows, columns] += some_cover
    assert cover == pytest.approx(np.ones((3, 4)), abs=1e-5)
    assert tone == pytest.approx(np.full((3, 4), 0.5), abs=1e-5)


def test_of_several_bores_the_narrowest_counts() -> None:
    """They all shade the pupil from one side: a second ring takes nothing of what the first lets through."""
    wide, tight = Bore("one", 25.0, 30.0), Bore("other", 25.0, 24.0)

    def through(*bores: Bore) -> Light2:
        return light_of(lit(), view(pupil_mm=60.0, bores=bores, f_number=2.0), SHAPE)

    assert np.array_equal(through(tight, tight), through(tight))
    assert np.array_equal(through(wide, tight), np.minimum(through(wide), through(tight)))
    assert not np.array_equal(through(tight), through())


def test_a_squeeze_narrows_the_picture() -> None:
    scene = Scene((wall(10, Patch(1.0, (box(-0.5, 1.4, 0.5, 1.6),))),))
    plain = length(light_of(scene, view(extension_mm=focused(10)), SHAPE)[300])
    squeezed = length(light_of(scene, view(extension_mm=focused(10), squeeze=1.6), SHAPE)[300])
    assert squeezed == pytest.approx(plain / 1.6, abs=0.05)


def test_a_fisheye_puts_an_angle_at_its_own_length() -> None:
    """F·angle: 50 mm at 0.3 rad is 15 mm from the middle."""
    away, angle = 10.0, 0.3
    lens = (50 + 0.0) / 1000
    x = (away - lens) * math.tan(angle)
    light = light_of(Scene((), (Lamp((x, 1.5, away), 50.0),)), view(fisheye=True), SHAPE)
    row, column = np.unravel_index(int(light.argmax()), light.shape)
    assert (int(column) + 0.5 - 450) / PX == pytest.approx(50 * angle, abs=0.05)
    assert int(row) in {299, 300}


def test_light_falls_off_by_the_cosine_and_by_bores_where_the_pupil_is_known() -> None:
    plain = light_of(lit(), view(), SHAPE)
    assert float(plain.min()) == pytest.approx(1)
    pupil = light_of(lit(), view(pupil_mm=60.0), SHAPE)
    corner = math.hypot(18 - 0.5 / PX, 12 - 0.5 / PX)
    assert float(pupil[0, 0]) == pytest.approx(math.cos(math.atan(corner / 60)) ** 4, abs=1e-3)
    bored = light_of(lit(), view(pupil_mm=60.0, bores=(Bore("ring", 25.0, 24.0),), f_number=2.0), SHAPE)
    # Half the light at the centre ray's height, (T/2)/(1 − z/P) = 20.57 mm: inside the corner's 21.6.
    height = 12 / (1 - 25 / 60)
    rows, columns = np.mgrid[0:600, 0:900]
    away = np.hypot((columns + 0.5) / PX - 18, 12 - (rows + 0.5) / PX)
    there = np.abs(away - height) < 0.03
    assert float((bored[there] / pupil[there]).mean()) == pytest.approx(0.5, abs=0.01)


def test_equal_framing_gives_equal_pictures_but_for_noise() -> None:
    """A third of the format, of the focal length and of the f-number: the same picture, where all is far."""
    scene = scene_of("facade", Standpoint(30.0, 18.0, 1.6, (20.0, 13.0)))
    large = view(focal_length_mm=30.0, f_number=9.0, lens_m=1.6, extension_mm=focused(30, 30.0))
    small = View(12.0, 8.0, 10.0, 3.0, lens_m=1.6, extension_mm=focused(30, 10.0))
    one, other = light_of(scene, large, (300, 450)), light_of(scene, small, (300, 450))
    assert float(np.abs(one - other).mean()) < 0.004
    grain = [toned(light, noise, 1) for light, noise in ((one, 0.01), (other, 0.03))]
    assert (grain[0] != grain[1]).mean() > 0.3


@pytest.mark.parametrize("name", SCENES)
def test_every_scene_has_something_to_see_and_the_same_address_the_same_grain(name: str) -> None:
    away = 0.6 if name == "mark" else 10.0
    setting = Standpoint(away, 18.0, 1.5, (away * 0.72, away * 0.48))
    scene = scene_of(name, setting)  # type: ignore[arg-type]
    light = light_of(scene, view(extension_mm=focused(away), grain=0.01), (150, 225))
    assert float(light.min()) >= 0
    assert float(np.clip(light, 0, 1).std()) > 0.05
    assert (toned(light, 0.01, 7) == toned(light, 0.01, 7)).all()
    assert (toned(light, 0.01, 7) != toned(light, 0.01, 8)).any()


def test_no_seam_is_left_between_layers() -> None:
    """An even floor, whose blur changes all over it, stays even."""
    floor = Surface((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), (Patch(1.0, (box(-3000, 0.2, 3000, 3000),)),))
    light = light_of(Scene((floor,)), view(f_number=1.4, extension_mm=focused(2)), SHAPE)
    assert float(light[420:, :].min()) > 0.98
    assert float(light.max()) < 1.02


# The file


@pytest.mark.parametrize("packed", [True, False])
def test_a_png_holds_every_pixel_and_the_palette(packed: bool) -> None:
    tones = np.arange(35, dtype=np.uint8).reshape(5, 7)
    data = dump_png(tones, PALETTE, packed=packed)
    assert data[:8] == b"\x89PNG\r\n\x1a\n"
    chunks = {}
    place = 8
    while place < len(data):
        size = int.from_bytes(data[place : place + 4])
        kind, body = data[place + 4 : place + 8], data[place + 8 : place + 8 + size]
        assert zlib.crc32(kind + body) == int.from_bytes(data[place + 8 + size : place + 12 + size])
        chunks[kind] = body
        place += 12 + size
    assert chunks[b"IHDR"] == bytes([0, 0, 0, 7, 0, 0, 0, 5, 8, 3, 0, 0, 0])
    assert np.frombuffer(chunks[b"PLTE"], np.uint8).reshape(256, 3).tolist() == PALETTE.tolist()
    lines = np.frombuffer(zlib.decompress(chunks[b"IDAT"]), np.uint8).reshape(5, 8)
    assert lines[:, 1:].tolist() == tones.tolist()
    assert not lines[:, 0].any()


@settings(deadline=None, max_examples=examples(60))
@given(
    name=st.sampled_from(SCENES),
    f=st.floats(8, 400),
    n=st.floats(1, 22),
    x=st.floats(-5, 40),
    pitch=st.floats(-60, 80),
    hinge=st.one_of(st.none(), st.floats(40, 5000), st.floats(-5000, -40)),
    shift=st.tuples(st.floats(-15, 15), st.floats(-15, 15)),
    lens=st.one_of(st.just(0.0), st.floats(0, 20)),
    fisheye=st.booleans(),
)
def test_no_view_breaks_the_picture(
    name: str,
    f: float,
    n: float,
    x: float,
    pitch: float,
    hinge: float | None,
    shift: tuple[float, float],
    lens: float,
    fisheye: bool,
) -> None:
    """Lying on the ground, looking at the sky, tilted about the ceiling: light, never nothing and never nonsense."""
    scene = scene_of(name, Standpoint(7.0, 18.0, lens, (5.0, 3.3)))  # type: ignore[arg-type]
    seen = view(
        focal_length_mm=f,
        f_number=n,
        extension_mm=x,
        pitch_deg=pitch,
        hinge_mm=hinge,
        shift_mm=shift,
        lens_m=lens,
        fisheye=fisheye,
        circle_mm=40.0,
        pupil_mm=55.0,
        bores=(Bore("ring", 20.0, 40.0),),
        steep_from_mm=18.0,
    )
    light = light_of(scene, seen, (40, 60))
    assert np.isfinite(light).all()
    assert float(light.min()) > -1e-3
    assert toned(light, 0.02, 3).shape == (40, 60)


@given(st.integers(1, 40), st.integers(1, 40), st.integers(1, 90))
def test_a_picture_is_shrunk_alike_however_much_wider_the_squares_are(tall: int, wide: int, by: int) -> None:
    """Against the picture laid out with its last row and column repeated."""
    image = np.random.default_rng(tall * 97 + wide).random((tall, wide), np.float32)
    padded = np.pad(image, ((0, -tall % by), (0, -wide % by)), mode="edge")
    wanted = padded.reshape(padded.shape[0] // by, by, padded.shape[1] // by, by).mean(axis=(1, 3))
    assert shrunk(image, by) == pytest.approx(wanted, abs=1e-5)


def test_a_blur_thousands_of_pictures_wide_takes_no_more_room_than_the_picture() -> None:
    image = np.full((300, 450), 0.5, np.float32)
    # Laid out this would be 100 000 × 100 000 pixels.
    small = shrunk(image, 100_000)
    assert small == pytest.approx(np.full((1, 1), 0.5), abs=1e-6)
    assert grown(small, 100_000, image.shape) == pytest.approx(image, abs=1e-6)


@given(st.integers(1, 40), st.integers(1, 40), st.integers(2, 90))
def test_a_picture_is_grown_alike_however_much_wider_the_squares_are(tall: int, wide: int, by: int) -> None:
    """Against lines drawn between the middles of the squares."""
    small = np.random.default_rng(tall * 97 + wide).random((-(-tall // by), -(-wide // by)), np.float32)
    rows, columns = ((np.arange(size) + 0.5) / by - 0.5 for size in (tall, wide))
    along = np.array([np.interp(columns, np.arange(small.shape[1]), row) for row in small])
    wanted = np.array([np.interp(rows, np.arange(small.shape[0]), column) for column in along.T]).T
    assert grown(small, by, (tall, wide)) == pytest.approx(wanted, abs=1e-5)
