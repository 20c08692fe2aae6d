"""Pictures of 24 megapixels: four regions measured, edges searched for; decoding is part of it."""

from __future__ import annotations

import io
import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from tropeion.core.measured.slanted import measure_edge
from tropeion.pictures.decoding import decoded
from tropeion.pictures.sample_chart import HEIGHT, WIDTH, sample_frame
from tropeion.pictures.worker import Worker

__all__ = ["measure"]

Report = Callable[..., None]
# 24 megapixels of the drawn frame, laid side by side.
ACROSS, DOWN = 3, 4


def measure(report: Report) -> None:
    """The two figures, each beside a naive way in the same run."""
    one = np.asarray(Image.open(io.BytesIO(sample_frame("chart"))))
    whole = np.stack([np.tile(one, (DOWN, ACROSS))] * 3, axis=-1)
    with tempfile.TemporaryDirectory() as place:
        root = Path(place)
        # As fast to read as a file can be: what is measured is the measuring.
        Image.fromarray(whole).save(root / "A.tif", "TIFF")
        worker = Worker()
        try:
            # Started, and its libraries loaded.
            _ask(worker, root, {"what": "head"})
            boxes = [[WIDTH * column + 750, HEIGHT * row + 520, 110, 160] for row in (0, 3) for column in (0, 2)]
            found = _seconds(lambda: _ask(worker, root, {"what": "regions", "regions": boxes}))
            naive = _seconds(lambda: _all_in_floating_point(root / "A.tif", boxes))
            report("24 megapixels: four regions measured", found, 2, "s", naive, "all of it in linear light")
            searched = _seconds(lambda: _ask(worker, root, {"what": "edges"}))
            report("24 megapixels: edges searched for and measured", searched, 8, "s")
        finally:
            worker.close()


def _ask(worker: Worker, root: Path, asked: dict[str, Any]) -> None:
    found = worker.measure(root, os.fsencode("A.tif"), asked)
    assert not isinstance(found, str), found


def _all_in_floating_point(path: Path, boxes: list[list[int]]) -> None:
    with path.open("rb") as file:
        picture = decoded(file)
    light = picture.region(0, 0, picture.width, picture.height)
    for x, y, width, height in boxes:
        measure_edge(light[y : y + height, x : x + width])


def _seconds(action: Callable[[], object]) -> float:
    start = time.perf_counter()
    action()
    return time.perf_counter() - start
