"""Pictures decoded to be measured: regions of linear light, at the places of the picture as it is shown.

Runs in the worker process alone: what stumbles over a malformed file must not be the server.
"""

from __future__ import annotations

import io
import math
import warnings
from abc import ABC, abstractmethod
from collections.abc import Callable
from typing import IO, Any, Final

import numpy as np
from numpy.typing import NDArray

MOST_PIXELS: Final = 120_000_000
# Of sRGB, IEC 61966-2-1; luminance by the same.
_LUMINANCE: Final = (0.2126, 0.7152, 0.0722)
_KNEE, _SLOPE = 0.04045, 12.92
_DEFLATE: Final = {1: "none", 8: "deflate", 32946: "deflate"}
_PNG_HEAD: Final = b"\x89PNG\r\n\x1a\n"


# Left, top, right and bottom, in columns and rows of the file.
Box = tuple[int, int, int, int]


class UndecodedError(ValueError):
    """A picture that is not measured, and why."""


class _NotRawError(UndecodedError):
    """A file that no reader of raw files knows."""


def linear_of(encoded: NDArray[np.float64]) -> NDArray[np.float64]:
    """Linear light of sRGB, both from 0 to 1."""
    low = encoded / _SLOPE
    high = ((np.maximum(encoded, 0.0) + 0.055) / 1.055) ** 2.4
    return np.asarray(np.where(encoded <= _KNEE, low, high), dtype=np.float64)


# Where a place of the picture as shown lies in the file, by the orientation of TIFF and Exif: whether rows and columns
# change places, and which of the file's columns and rows are counted from their end.
_LIES: Final[dict[int, tuple[bool, bool, bool]]] = {
    1: (False, False, False),
    2: (False, True, False),
    3: (False, True, True),
    4: (False, False, True),
    5: (True, False, False),
    6: (True, False, True),
    7: (True, True, True),
    8: (True, True, False),
}
# So many rows of the file become floating point at a time.
_BAND_ROWS: Final = 256


class Decoded(ABC):
    """A picture in memory as it came; only what is looked at becomes linear light.

    ``as_sharpened``: its camera sharpened it, a JPEG. ``clips_at`` are the ends of its scale in linear light.
    """

    as_sharpened: bool
    clips_at: tuple[float, float]

    def __init__(self, stored: tuple[int, int], orientation: int) -> None:
        """``stored``: columns and rows of the file, before it is turned."""
        self._columns, self._rows = stored
        self._swap, self._from_right, self._from_below = _LIES.get(orientation, _LIES[1])
        self.width, self.height = (self._rows, self._columns) if self._swap else stored

    @abstractmethod
    def _light(self, box: Box) -> NDArray[np.float64]:
        """Linear light of columns and rows of the file; NaN where there is no sample."""

    @abstractmethod
    def _look(self, box: Box, step: int) -> NDArray[np.float32]:
        """The mean of blocks of ``step`` × ``step`` places of the file, as bright as they look, from 0 to 1."""

    def region(self, x: int, y: int, width: int, height: int) -> NDArray[np.float64]:
        """Rows × columns of linear light; NaN where there is no sample. Cut at the edges of the picture."""
        x0, x1 = max(0, x), min(self.width, max(0, x + width))
        y0, y1 = max(0, y), min(self.height, max(0, y + height))
        if x0 >= x1 or y0 >= y1:
            return np.empty((0, 0))
        across, down = ((y0, y1), (x0, x1)) if self._swap else ((x0, x1), (y0, y1))
        if self._from_right:
            across = self._columns - across[1], self._columns - across[0]
        if self._from_below:
            down = self._rows - down[1], self._rows - down[0]
        return self._shown(self._light((across[0], down[0], across[1], down[1])))

    def _shown(self, part: NDArray[Any]) -> NDArray[Any]:
        """A part of the file, turned as it is shown."""
        turned = part[:: -1 if self._from_below else 1, :: -1 if self._from_right else 1]
        return np.ascontiguousarray(turned.T if self._swap else turned)

    def _blocks(self, step: int) -> NDArray[np.float32]:
        # Whole blocks alone, counted from the corner that is shown at the top left.
        columns, rows = self._columns // step * step, self._rows // step * step
        left = self._columns - columns if self._from_right else 0
        top = self._rows - rows if self._from_below else 0
        high = max(1, _BAND_ROWS // step) * step
        bands = [
            self._look((left, at, left + columns, min(at + high, top + rows)), step)
            for at in range(top, top + rows, high)
        ]
        return self._shown(np.concatenate(bands))

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
    return np.asarray(image.reshape(rows, step, columns, step).mean(axis=(1, 3), dtype=np.float32))


class Encoded(Decoded):
    """Eight or sixteen bits, grey or in colour, encoded as sRGB. ``part`` gives columns and rows of the file."""

    def __init__(
        self,
        stored: tuple[int, int],
        orientation: int,
        part: Callable[[Box], NDArray[Any]],
        *,
        bits: int,
        as_sharpened: bool,
    ) -> None:
        super().__init__(stored, orientation)
        self._part, self.as_sharpened = part, as_sharpened
        self._most = float(2**bits - 1)
        self.clips_at = (0.0, float(linear_of(np.asarray([(self._most - 0.5) / self._most]))[0]))
        self._table = linear_of(np.arange(256) / 255.0) if bits == 8 else None

    def _linear(self, values: NDArray[Any]) -> NDArray[np.float64]:
        if self._table is not None:
            return np.asarray(self._table[values], dtype=np.float64)
        return linear_of(values.astype(np.float64) / self._most)

    def _light(self, box: Box) -> NDArray[np.float64]:
        part = self._part(box)
        if part.ndim == 2:
            return self._linear(part)
        weighed = (weight * self._linear(part[..., band]) for band, weight in enumerate(_LUMINANCE))
        return sum(weighed, np.zeros(part.shape[:2]))

    def _look(self, box: Box, step: int) -> NDArray[np.float32]:
        part = self._part(box)
        if part.ndim == 2:
            return _block_mean(part, step) / np.float32(self._most)
        bands = (np.float32(weight) * _block_mean(part[..., band], step) for band, weight in enumerate(_LUMINANCE))
        return np.asarray(sum(bands, np.float32(0.0)), dtype=np.float32) / np.float32(self._most)


class Greens(Decoded):
    """The green samples of a raw file at their own places in the full grid; nothing is interpolated.

    ``green`` says of two by two places, by row and column, whether a green sample stands there. ``held``
    is what the samples belong to.
    """

    def __init__(
        self,
        samples: NDArray[np.uint16],
        green: NDArray[np.bool_],
        orientation: int,
        *,
        black: float,
        white: float,
        held: object,
    ) -> None:
        super().__init__((samples.shape[1], samples.shape[0]), orientation)
        self._samples, self._green, self._black, self._white = samples, green, black, white
        self._held = held
        self.as_sharpened = False
        # What is just below the end of the scale may be cut by the camera already.
        self.clips_at = (-math.inf, 0.98)

    def _taken(self, box: Box) -> tuple[NDArray[np.float32], NDArray[np.bool_]]:
        left, top, right, bottom = box
        part = (self._samples[top:bottom, left:right].astype(np.float32) - np.float32(self._black)) / np.float32(
            self._white - self._black
        )
        rows, columns = np.arange(top, bottom) % 2, np.arange(left, right) % 2
        return part, self._green[rows[:, None], columns[None, :]]

    def _light(self, box: Box) -> NDArray[np.float64]:
        light, green = self._taken(box)
        return np.where(green, light.astype(np.float64), np.nan)

    def _look(self, box: Box, step: int) -> NDArray[np.float32]:
        light, green = self._taken(box)
        mean = _block_mean(np.where(green, light, np.float32(0.0)), step) / _block_mean(green, step)
        # As bright as it looks, for the search.
        return np.asarray(np.clip(mean, 0.0, 1.0) ** (1 / 2.2), dtype=np.float32)

    def small(self, side: int) -> tuple[NDArray[np.float32], float]:
        # A block holds both greens.
        step = max(2, math.ceil(max(self.width, self.height) / side))
        return self._blocks(step), float(step)

    def evenly(self, side: int) -> tuple[NDArray[np.float64], float]:
        small, scale = self.small(side)
        return small.astype(np.float64) ** 2.2, scale


def decoded(file: IO[bytes]) -> Decoded:
    """A picture: JPEG, TIFF or PNG of eight bits, grey PNG or TIFF of sixteen, or raw. Raises UndecodedError."""
    from PIL import Image, UnidentifiedImageError  # noqa: PLC0415  the worker starts without it

    Image.MAX_IMAGE_PIXELS = None
    head = file.read(64)
    file.seek(0)
    if head[:8] == _PNG_HEAD and len(head) > 25 and head[24] == 16 and head[25] in {2, 4, 6}:
        raise UndecodedError("a PNG of 16 bits in colour: save it as a TIFF of 16 bits, or with 8 bits")
    try:
        picture = Image.open(file, formats=["JPEG", "TIFF", "PNG"])
        _check_size(picture.width, picture.height)
        if picture.format == "TIFF":
            tags: Any = getattr(picture, "tag_v2", {})
            if 50706 in tags:
                return _raw(file)
            if max(tags.get(258, (8,))) > 8:
                return _deep_tiff(file)
        return _held(picture, picture.getexif().get(274, 1))
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


def _held(picture: Any, orientation: int) -> Decoded:
    """A picture that Pillow holds: parts of it become arrays, or all of it would be in memory twice."""
    picture.load()
    deep = picture.mode.startswith("I")
    mode = "L" if picture.mode in {"L", "1", "LA"} else "RGB"

    def part(box: Box) -> NDArray[Any]:
        cut = picture.crop(box)
        return np.asarray(cut, dtype=np.uint16) if deep else np.asarray(cut.convert(mode))

    bits = 16 if deep else 8
    return Encoded(picture.size, orientation, part, bits=bits, as_sharpened=picture.format == "JPEG")


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
        tag = page.tags.get(274)
        orientation = 1 if tag is None else int(tag.value)

    def part(box: Box) -> NDArray[Any]:
        left, top, right, bottom = box
        return np.asarray(pixels[top:bottom, left:right])

    stored = (pixels.shape[1], pixels.shape[0])
    return Encoded(stored, orientation, part, bits=16, as_sharpened=False)


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


def _greens(raw: Any) -> Decoded:
    sizes = raw.sizes
    _check_size(sizes.raw_width, sizes.raw_height)
    if raw.raw_pattern is None or raw.raw_pattern.shape != (2, 2):
        raise UndecodedError("a raw file whose colours do not stand two by two")
    greens = [number for number, letter in enumerate(raw.color_desc.decode()) if letter == "G"]
    top, left = sizes.top_margin, sizes.left_margin
    green = np.asarray([[raw.raw_color(top + row, left + column) in greens for column in (0, 1)] for row in (0, 1)])
    levels = raw.black_level_per_channel
    black = float(np.mean([levels[number] for number in greens if number < len(levels)]))
    white = float(raw.white_level)
    if not white > black:
        raise UndecodedError("its black and its white are one")
    # LibRaw turns by 180°, by a quarter to the left, by a quarter to the right.
    orientation = {3: 3, 5: 8, 6: 6}.get(int(sizes.flip), 1)
    # Not copied: the samples live as long as the file is open, which is as long as it is held.
    return Greens(raw.raw_image_visible, green, orientation, black=black, white=white, held=raw)
