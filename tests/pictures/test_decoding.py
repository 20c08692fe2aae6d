"""Pictures decoded to be measured: every kind that is taken, as it lies and as it is turned, and what is refused."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.core.measured.rendered import Reals, edge, encoded, picture_file, scene, true_mtf50
from tropeion.core.measured.slanted import measure_edge
from tropeion.pictures import decoding
from tropeion.pictures.decoding import UndecodedError, decoded, linear_of
from tropeion.pictures.measuring import measured, taken_up

BLUR = (("gauss", 1.3),)
LIGHT = edge(5.0, BLUR, low=0.05, high=0.75, columns=120)
BLACK, WHITE = 512, 15_000


def deep() -> np.ndarray[Any, np.dtype[np.uint16]]:
    return np.round(encoded(LIGHT) * 65535).astype(np.uint16)


def png16(pixels: np.ndarray[Any, Any]) -> bytes:
    target = io.BytesIO()
    Image.fromarray(pixels).save(target, "PNG")
    return target.getvalue()


def tiff(pixels: np.ndarray[Any, Any], **more: Any) -> bytes:
    target = io.BytesIO()
    tifffile.imwrite(target, pixels, **more)
    return target.getvalue()


def squeezed(pixels: np.ndarray[Any, Any]) -> bytes:
    """By LZW, as other programs do it."""
    target = io.BytesIO()
    Image.fromarray(pixels).save(target, "TIFF", compression="tiff_lzw")
    return target.getvalue()


def colour(grey: np.ndarray[Any, Any]) -> np.ndarray[Any, Any]:
    return np.stack([grey] * 3, axis=-1)


def raw_file(light: Reals, pattern: bytes = bytes([1, 0, 2, 1]), orientation: int = 1) -> bytes:
    """A raw file in the open raw format: one plane of samples, two by two, as the sensor had them.

    Reds and blues are far darker than greens: whoever takes them for light measures another edge.
    """
    samples = BLACK + (WHITE - BLACK) * light
    rows, columns = np.indices(light.shape)
    kinds = np.asarray(list(pattern))[(rows % 2) * 2 + columns % 2]
    samples = np.where(kinds == 1, samples, BLACK + (samples - BLACK) * 0.2)
    matrix = [10000, 10000, 0, 10000, 0, 10000, 0, 10000, 10000, 10000, 0, 10000, 0, 10000, 0, 10000, 10000, 10000]
    return tiff(
        np.round(samples).astype(np.uint16),
        photometric="cfa",
        planarconfig="contig",
        metadata=None,
        extratags=[
            (50706, "B", 4, bytes([1, 4, 0, 0])),
            (50707, "B", 4, bytes([1, 1, 0, 0])),
            (50708, "s", 0, "Ostrel O7"),
            (33421, "H", 2, (2, 2)),
            (33422, "B", 4, pattern),
            (50714, "H", 1, BLACK),
            (50717, "H", 1, WHITE),
            (50721, "2i", 9, tuple(matrix)),
            (50778, "H", 1, 21),
            (274, "H", 1, orientation),
        ],
    )


KINDS: dict[str, bytes] = {
    "png of 8 bits": picture_file(LIGHT),
    "jpeg": picture_file(LIGHT, "JPEG"),
    "grey png of 16 bits": png16(deep()),
    "tiff of 8 bits": tiff((deep() >> 8).astype(np.uint8)),
    "colour tiff of 16 bits": tiff(colour(deep()), photometric="rgb"),
    "deflated tiff of 16 bits": tiff(deep(), compression="zlib"),
    "raw": raw_file(LIGHT),
    "raw, red first": raw_file(LIGHT, bytes([0, 1, 1, 2])),
}


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_measures_alike(kind: str) -> None:
    picture = decoded(io.BytesIO(KINDS[kind]))
    assert (picture.width, picture.height) == (LIGHT.shape[1], LIGHT.shape[0])
    assert picture.as_sharpened == (kind == "jpeg")
    found = measure_edge(picture.region(0, 0, picture.width, picture.height), clips_at=picture.clips_at)
    assert found.mtf50 == pytest.approx(true_mtf50(5.0, BLUR), rel=0.05)


def test_greens_stand_where_they_stood_and_nothing_between() -> None:
    picture = decoded(io.BytesIO(raw_file(LIGHT)))
    part = picture.region(4, 6, 40, 50)
    rows, columns = np.indices(part.shape)
    # The pattern begins green, red; blue, green.
    green = (rows % 2) == (columns % 2)
    assert np.isnan(part[~green]).all()
    assert part[green] == pytest.approx(LIGHT[6:56, 4:44][green], abs=1e-4)


# Where the first pixel of the file is shown, by the orientation of TIFF and Exif.
TURNED = {1: (0, 0), 2: (0, -1), 3: (-1, -1), 4: (-1, 0), 5: (0, 0), 6: (0, -1), 7: (-1, -1), 8: (-1, 0)}


@pytest.mark.parametrize("orientation", TURNED)
@pytest.mark.parametrize("deep_tiff", [False, True])
def test_places_are_those_of_the_picture_as_shown(orientation: int, deep_tiff: bool) -> None:
    pixels = np.full((20, 30), 40, np.uint8)
    pixels[:2, :2] = 250
    if deep_tiff:
        file = tiff(pixels.astype(np.uint16) * 257, extratags=[(274, "H", 1, orientation)], metadata=None)
    else:
        target = io.BytesIO()
        exif = Image.Exif()
        exif[274] = orientation
        Image.fromarray(pixels).save(target, "PNG", exif=exif)
        file = target.getvalue()
    picture = decoded(io.BytesIO(file))
    assert (picture.width, picture.height) == ((30, 20) if orientation <= 4 else (20, 30))
    row, column = TURNED[orientation]
    light = picture.region(0, 0, picture.width, picture.height)
    assert light[row, column] > 0.9
    assert np.sum(light > 0.9) == 4


def test_a_raw_file_is_turned_like_any_other() -> None:
    upright, lying = (decoded(io.BytesIO(raw_file(LIGHT, orientation=way))) for way in (1, 6))
    assert (lying.width, lying.height) == (upright.height, upright.width)
    turned = np.rot90(upright.region(0, 0, upright.width, upright.height), 3)
    assert np.array_equal(lying.region(0, 0, lying.width, lying.height), turned, equal_nan=True)


def test_srgb_is_decoded_by_its_standard() -> None:
    # IEC 61966-2-1: the ends, the knee, and 18 % grey.
    values = np.asarray([0.0, 0.04045, 0.4613561, 1.0])
    assert linear_of(values) == pytest.approx([0.0, 0.04045 / 12.92, 0.18, 1.0], abs=1e-6)


@pytest.mark.parametrize(
    ("file", "said"),
    [
        (b"", "no JPEG, TIFF or PNG"),
        (b"notes of the day " * 40, "no raw file that is known"),
        (KINDS["png of 8 bits"][:200], "cannot be decoded"),
        (KINDS["raw"][:900], "breaks off"),
        (squeezed(deep()), "compressed by lzw"),
        (tiff(LIGHT.astype(np.float32)), "TIFF of float32"),
        (tiff(LIGHT.astype(np.float64)), "TIFF of float64"),
    ],
)
def test_what_is_not_measured_says_why(file: bytes, said: str) -> None:
    with pytest.raises(UndecodedError, match=said):
        decoded(io.BytesIO(file))


def test_a_colour_png_of_sixteen_bits_is_refused_by_its_header() -> None:
    head = b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" + (120).to_bytes(4) + (80).to_bytes(4) + bytes([16, 2, 0, 0, 0])
    with pytest.raises(UndecodedError, match="PNG of 16 bits in colour"):
        decoded(io.BytesIO(head))


def test_too_many_pixels_are_refused_before_they_are_decoded(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(decoding, "MOST_PIXELS", LIGHT.size - 1)
    for kind in ("jpeg", "colour tiff of 16 bits", "raw"):
        with pytest.raises(UndecodedError, match="megapixels"):
            decoded(io.BytesIO(KINDS[kind]))


def test_edges_are_found_in_a_raw_file_as_in_any_other() -> None:
    light = scene(700, 500, [(240, 120, 5.0, BLUR)])
    for file in (picture_file(light), raw_file(light)):
        *_, answer = measured(io.BytesIO(file), {"what": "edges"})
        upright = [one for one in taken_up(answer).edges if one.upright]
        assert [one.mtf50 for one in upright] == [pytest.approx(true_mtf50(5.0, BLUR), rel=0.05)]
        *_, view = measured(io.BytesIO(file), {"what": "view"})
        assert Image.open(io.BytesIO(taken_up(view).view or b"")).width >= 350
