"""PNG with a palette: eight bits a pixel, packed quickly. Source: the PNG specification, ISO/IEC 15948."""

from __future__ import annotations

import struct
import zlib

import numpy as np
import numpy.typing as npt


def dump_png(tones: npt.NDArray[np.uint8], palette: npt.NDArray[np.uint8], *, packed: bool = True) -> bytes:
    """A picture of palette indices, shape (rows, columns), with a palette of shape (256, 3)."""
    rows, columns = tones.shape
    lines = np.zeros((rows, columns + 1), np.uint8)
    lines[:, 1:] = tones
    header = struct.pack(">IIBBBBB", columns, rows, 8, 3, 0, 0, 0)
    parts = (
        (b"IHDR", header),
        (b"PLTE", palette.tobytes()),
        (b"IDAT", zlib.compress(lines.tobytes(), int(packed))),
        (b"IEND", b""),
    )
    return b"\x89PNG\r\n\x1a\n" + b"".join(_chunk(kind, data) for kind, data in parts)


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
