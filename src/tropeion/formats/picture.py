"""A frame as a picture file."""

from __future__ import annotations

import numpy as np

from tropeion.core.frame.raster import Floats
from tropeion.core.frame.render import PALETTE, light_of, toned
from tropeion.core.frame.report import Frame

from .png import dump_png

__all__ = ["picture_of"]


# A sensor may have any shape; beyond this one its picture is made lower, not wider.
WIDEST = 4.0


def _light_in(frame: Frame, rows: int) -> Floats | None:
    """The light of a frame on so many rows; None where there is no picture."""
    if frame.scene is None or frame.view is None:
        return None
    view = frame.view
    shape = view.width_mm / view.height_mm
    if shape > WIDEST:
        rows = max(1, round(rows * WIDEST / shape))
    return light_of(frame.scene, view, (rows, max(1, round(rows * shape))))


def picture_of(frame: Frame, rows: int, seed: int) -> bytes | None:
    """A frame as PNG; desqueezed where that is asked. None where there is no picture."""
    light = _light_in(frame, rows)
    if light is None or frame.view is None:
        return None
    tones = toned(light, frame.view.grain, seed)
    squeeze = frame.view.squeeze
    if frame.report.desqueeze and squeeze != 1:
        columns = tones.shape[1]
        at = np.minimum((np.arange(round(columns * squeeze)) / squeeze).astype(np.int64), columns - 1)
        tones = tones[:, at]
    return dump_png(tones, PALETTE)
