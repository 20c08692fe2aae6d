"""A frame as a picture file."""

from __future__ import annotations

import numpy as np

from tropeion.core.frame.frame_report import Frame
from tropeion.core.frame.lamps import View
from tropeion.core.frame.render import DRAFT_ROWS, PALETTE, light_of, toned
from tropeion.core.frame.scenes import Scene

from .png import dump_png

# Wider sensor shapes than this get a lower picture, not a wider one.
WIDEST = 4.0


def drawn(scene: Scene, view: View, rows: int, seed: int, *, desqueeze: bool = False, packed: bool = True) -> bytes:
    """A view of a scene on so many rows, as PNG; desqueezed where that is asked."""
    shape = view.width_mm / view.height_mm
    most = round(rows * WIDEST)
    if shape > WIDEST:
        rows = max(1, round(most / shape))
    light = light_of(scene, view, (rows, min(most, max(1, round(rows * shape)))))
    tones = toned(light, view.grain, seed)
    if desqueeze and view.squeeze != 1:
        columns = tones.shape[1]
        at = np.minimum((np.arange(round(columns * view.squeeze)) / view.squeeze).astype(np.int64), columns - 1)
        tones = tones[:, at]
    return dump_png(tones, PALETTE, packed=packed)


def picture_of(frame: Frame, rows: int, seed: int) -> bytes | None:
    """A frame as PNG, a draft unpacked: the next one is there before it would be. None where there is no picture."""
    if frame.scene is None or frame.view is None:
        return None
    return drawn(frame.scene, frame.view, rows, seed, desqueeze=frame.report.desqueeze, packed=rows > DRAFT_ROWS)
