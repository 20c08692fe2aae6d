"""The pictures of the sample outing, made by the simulated camera; a picture that is there is left alone.

``python -m tropeion.pictures.sample_pictures FOLDER``, in the background of the demo.
"""

from __future__ import annotations

import os
import sys
from datetime import datetime
from pathlib import Path

from tropeion.core.camera.signed import Signed
from tropeion.core.frame.lamps import View
from tropeion.formats import gear_file
from tropeion.formats.simulated_picture import simulated_jpeg
from tropeion.sample import picture_list, sample_bytes

_SCANNED = datetime(2026, 11, 24, 20, 15)


def make_sample_pictures(folder: Path, rows: int = 400) -> None:
    """Make what is missing, each whole or not at all."""
    listed = picture_list()
    bodies = {body.id: body for body in gear_file.load(sample_bytes()).bodies}
    for number, (file, body_id, taken, lens, said_mm, said_f, focal_mm, stop) in enumerate(listed["pictures"]):
        body = bodies[body_id]
        make, _, model = body.name.partition(" ")
        signed = Signed(make, model, datetime.fromisoformat(taken), lens, said_mm, said_f)
        _keep(folder / file, View(*body.sensor_mm, focal_mm, stop), signed, number, rows)
    scanner = Signed("Galley", "Flatbed", _SCANNED, "", 0.0, 0.0)
    for number, (file, focal_mm) in enumerate(listed["scans"]):
        _keep(folder / file, View(36.0, 24.0, focal_mm, 8.0, grain=0.1), scanner, number, rows // 2)


def _keep(path: Path, view: View, signed: Signed, seed: int, rows: int) -> None:
    if path.exists():
        return
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f".{path.name}.part")
    part.write_bytes(simulated_jpeg(view, signed, seed, rows))
    part.replace(path)


if __name__ == "__main__":
    os.nice(10)
    make_sample_pictures(Path(sys.argv[1]))
