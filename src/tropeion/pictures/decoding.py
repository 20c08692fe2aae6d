"""Pictures decoded to be measured: regions of linear light, at the places of the picture as it is shown.

Runs in the worker process alone: what stumbles over a malformed file must not be the server.
"""

from __future__ import annotations

import io
import math
import warnings
from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import IO, Any, Final

import numpy as np
from numpy.typing import NDArray

MOST_PIXELS: Final = 120_000_000
# Of sRGB, IEC 61966-2-1; luminance by the same.
_LUMINANCE: Final = (0.2126, 0.7152, 0.0722)
_KNEE, _SLOPE = 0.04045, 12.92
_DEFLATE: Final = {1: "none", 8: "deflate", 32946: "deflate"}
_PNG_HEAD: Final = b"\x89PNG\r\n\x1a\n"


class UndecodedError(ValueError):
    """A picture that is not measured, and why."""


class _NotRawError(UndecodedError):
    """A file that no reader of raw files knows."""


def linear_of(encoded: NDArray[np.float64]) -> NDArray[np.float64]:
    """Linear light of sRGB, both from 0 to 1."""
    low = encoded / _SLOPE
    high = ((np.maximum(encoded, 0.0) + 0.055) / 1.055) ** 2.4
    return np.asarray(np.where(encoded <= _KNEE, low, high), dtype=np.float64)


class Decoded(ABC):
    """A picture in memory as it came; only what is looked at becomes linear light.

    ``as_sharpened``: its camera sharpened it, a JPEG. ``clips_at`` are the ends of its scale in linear light.
    """

    width: int
    height: int
    as_sharpened: bool
    clips_at: tuple[float, float]

    @abstractmethod
    def region(self, x: int, y: int, width: int, height: int) -> NDArray[np.float64]:
        """Rows × columns of linear light; NaN where there is no sample. Cut at the edges of the picture."""

    @abstractmethod
    def _blocks(self, step: int) -> NDArray[np.float32]:
        """The mean of blocks of ``step`` × ``step`` pixels, as bright as it looks, from 0 to 1."""

    def small(self, side: int) -> tuple[NDArray[np.float32], float]:
        """A small copy whose longer side is at most ``side``, and how many pixels one of its is."""
        step = max(1, math.ceil(max(self.width, self.height) / side))
        return self._blocks(step), float(step)

    def evenly(self, side: int) -> tuple[NDArray[np.float64], float]:
        """The same in linear light, for what changes slowly."""
        small, scale = self.small(side)
        return linear_of(small.astype(np.float64)), scale


def _block_mean(image: NDArray[Any], step: int) -> NDArray[np.float32]:
    rows, columns = image.shape[0] // step, image.shape[1] // step
    cut = image[: rows * step, : columns * step]
    return np.asarray(cut.reshape(rows, step, columns, step).mean(axis=(1, 3), dtype=np.float32))


@dataclass
class Encoded(Decoded):
    """Eight or sixteen bits, grey or in colour, encoded as sRGB."""

    pixels: NDArray[Any]
    as_sharpened: bool

    def __post_init__(self) -> None:
        self.height, self.width = self.pixels.shape[:2]
        self._most = float(np.iinfo(self.pixels.dtype).max)
        self.clips_at = (0.0, float(linear_of(np.asarray([(self._most - 0.5) / self._most]))[0]))
        self._table = linear_of(np.arange(256) / 255.0) if self._most == 255 else None

    def _linear(self, values: NDArray[Any]) -> NDArray[np.float64]:
        if self._table is not None:
            return np.asarray(self._table[values], dtype=np.float64)
        return linear_of(values.astype(np.float64) / self._most)

    def region(self, x: int, y: int, width: int, height: int) -> NDArray[np.float64]:
        part = self.pixels[max(0, y) : max(0, y + height), max(0, x) : max(0, x + width)]
        if part.ndim == 2:
            return self._linear(part)
        return sum(
            (weight * self._linear(part[..., band]) for band, weight in enumerate(_LUMINANCE)), np.zeros(part.shape[:2])
        )

    def _blocks(self, step: int) -> NDArray[np.float32]:
        if self.pixels.ndim == 2:
            return _block_mean(self.pixels, step) / np.float32(self._most)
        # Band by band: the whole in floating point would not fit.
        bands = (
            np.float32(weight) * _block_mean(self.pixels[..., band], step) for band, weight in enumerate(_LUMINANCE)
        )
        return np.asarray(sum(bands, np.float32(0.0)), dtype=np.float32) / np.float32(self._most)


@dataclass
class Greens(Decoded):
    """The green samples of a raw file at their own places in the full grid; nothing is interpolated."""

    samples: NDArray[np.uint16]
    green: NDArray[np.bool_]
    black: float
    white: float
    as_sharpened: bool = False

    def __post_init__(self) -> None:
        self.height, self.width = self.samples.shape
        # What is just below the end of the scale may be cut by the camera already.
        self.clips_at = (-math.inf, 0.98)

    def _linear(self, samples: NDArray[Any]) -> NDArray[np.float64]:
        return np.asarray((samples.astype(np.float64) - self.black) / (self.white - self.black))

    def region(self, x: int, y: int, width: int, height: int) -> NDArray[np.float64]:
        part = np.s_[max(0, y) : max(0, y + height), max(0, x) : max(0, x + width)]
        return np.where(self.green[part], self._linear(self.samples[part]), np.nan)

    def _blocks(self, step: int) -> NDArray[np.float32]:
        # A block holds both greens.
        step = max(2, step)
        counts = _block_mean(self.green, step)
        sums = _block_mean(np.where(self.green, self.samples, 0), step)
        light = (sums / np.maximum(counts, 1e-6) - self.black) / (self.white - self.black)
        # As bright as it looks, for the search.
        return np.asarray(np.clip(light, 0.0, 1.0) ** (1 / 2.2), dtype=np.float32)

    def small(self, side: int) -> tuple[NDArray[np.float32], float]:
        step = max(2, math.ceil(max(self.width, self.height) / side))
        return self._blocks(step), float(step)

    def evenly(self, side: int) -> tuple[NDArray[np.float64], float]:
        small, scale = self.small(side)
        return small.astype(np.float64) ** 2.2, scale


def decoded(file: IO[bytes]) -> Decoded:
    """A picture: JPEG, TIFF or PNG of eight bits, grey PNG or TIFF of sixteen, or raw. Raises UndecodedError."""
    from PIL import Image, ImageOps, UnidentifiedImageError  # noqa: PLC0415  the worker starts without it

    Image.MAX_IMAGE_PIXELS = None
    head = file.read(64)
    file.seek(0)
    if head[:8] == _PNG_HEAD and len(head) > 25 and head[24] == 16 and head[25] in {2, 4, 6}:
        raise UndecodedError("a PNG of 16 bits in colour: save it as a TIFF of 16 bits, or with 8 bits")
    try:
        with Image.open(file, formats=["JPEG", "TIFF", "PNG"]) as picture:
            _check_size(picture.width, picture.height)
            if picture.format == "TIFF":
                tags: Any = getattr(picture, "tag_v2", {})
                if 50706 in tags:
                    return _raw(file)
                if max(tags.get(258, (8,))) > 8:
                    return _deep_tiff(file)
            upright = ImageOps.exif_transpose(picture)
            if upright.mode.startswith("I;16") or upright.mode == "I":
                return Encoded(np.asarray(upright, dtype=np.uint16), as_sharpened=False)
            grey = upright.mode in {"L", "1", "LA"}
            pixels = np.asarray(upright.convert("L" if grey else "RGB"))
            return Encoded(pixels, as_sharpened=picture.format == "JPEG")
    except UnidentifiedImageError:
        return _unknown(file, head)
    except UndecodedError:
        raise
    except MemoryError:
        raise UndecodedError("it takes too much memory") from None
    except Exception as error:  # a decoder may stumble over anything
        raise UndecodedError(f"it cannot be decoded: {' '.join(str(error).split())[:120]}") from None


def _unknown(file: IO[bytes], head: bytes) -> Decoded:
    """What Pillow does not know: raw, or a TIFF that is refused by name."""
    try:
        return _raw(file)
    except _NotRawError:
        if not head.startswith((b"II*\0", b"MM\0*")):
            raise
    try:
        return _deep_tiff(file)
    except UndecodedError:
        raise
    except Exception as error:  # a decoder may stumble over anything
        raise UndecodedError(f"it cannot be decoded: {' '.join(str(error).split())[:120]}") from None


def _check_size(width: int, height: int) -> None:
    """The header says how many pixels there are, before any of them is decoded."""
    if width * height > MOST_PIXELS:
        raise UndecodedError(f"more than {MOST_PIXELS // 1_000_000} megapixels")
    if min(width, height) < 1:
        raise UndecodedError("it has no pixels")


# By the orientation of TIFF and Exif: how often turned by a quarter to the left, and whether mirrored before.
_TURNS: Final = {1: (0, False), 2: (0, True), 3: (2, False), 4: (2, True), 5: (1, True), 6: (3, False), 7: (3, True)}
_TURNS_8: Final = (1, False)


def _turned(image: NDArray[Any], orientation: int) -> NDArray[Any]:
    quarters, mirrored = _TURNS_8 if orientation == 8 else _TURNS.get(orientation, (0, False))
    return np.ascontiguousarray(np.rot90(image[:, ::-1] if mirrored else image, quarters))


def _deep_tiff(file: IO[bytes]) -> Decoded:
    import tifffile  # noqa: PLC0415  the worker starts without it

    file.seek(0)
    with tifffile.TiffFile(io.BytesIO(file.read())) as document:
        page: Any = document.pages[0]
        _check_size(page.imagewidth, page.imagelength)
        if int(page.compression) not in _DEFLATE:
            kind = getattr(page.compression, "name", str(page.compression)).lower()
            raise UndecodedError(f"a TIFF compressed by {kind}: save it uncompressed or with deflate")
        if page.dtype != np.uint16:
            raise UndecodedError(f"a TIFF of {page.dtype}: save it with 8 or 16 bits")
        pixels: Any = page.asarray()
        if pixels.ndim == 3 and pixels.shape[0] in {3, 4} and pixels.shape[2] > 4:
            pixels = np.moveaxis(pixels, 0, -1)
        if pixels.ndim == 3:
            pixels = pixels[..., :3] if pixels.shape[2] >= 3 else pixels[..., 0]
        orientation = page.tags.get(274)
        return Encoded(_turned(pixels, 1 if orientation is None else int(orientation.value)), as_sharpened=False)


def _raw(file: IO[bytes]) -> Decoded:
    import rawpy  # noqa: PLC0415  the worker starts without it

    file.seek(0)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            opened = rawpy.imread(io.BytesIO(file.read()))
    except rawpy.LibRawError:
        raise _NotRawError("it is no JPEG, TIFF or PNG, and no raw file that is known") from None
    try:
        return _greens(opened)
    except rawpy.LibRawError:
        raise UndecodedError("it is a raw file that breaks off, or is broken") from None


def _greens(opened: Any) -> Decoded:
    with opened as raw:
        sizes = raw.sizes
        _check_size(sizes.raw_width, sizes.raw_height)
        if raw.raw_pattern is None or raw.raw_pattern.shape != (2, 2):
            raise UndecodedError("a raw file whose colours do not stand two by two")
        samples = raw.raw_image_visible.copy()
        greens = [number for number, letter in enumerate(raw.color_desc.decode()) if letter == "G"]
        colours = raw.raw_colors_visible
        green = np.isin(colours, greens)
        levels = raw.black_level_per_channel
        black = float(np.mean([levels[number] for number in greens if number < len(levels)]))
        white = float(raw.white_level)
        if not white > black:
            raise UndecodedError("its black and its white are one")
        # LibRaw turns by 180°, by a quarter to the left, by a quarter to the right.
        orientation = {3: 3, 5: 8, 6: 6}.get(int(sizes.flip), 1)
        return Greens(_turned(samples, orientation), _turned(green, orientation), black, white)
