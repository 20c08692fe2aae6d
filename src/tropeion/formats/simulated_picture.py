"""A frame of a simulated camera as a JPEG file, signed as its body signs. Encoded by Pillow; nothing is decoded."""

from __future__ import annotations

import io
from fractions import Fraction

import numpy as np
from PIL import Image
from PIL.TiffImagePlugin import IFDRational

from tropeion.core.camera.signed import Signed
from tropeion.core.camera.state import CameraState
from tropeion.core.frame.lamps import View
from tropeion.core.frame.render import PALETTE, light_of, toned
from tropeion.core.frame.scenes import Standpoint, scene_of
from tropeion.core.gear.bodies import Body
from tropeion.core.optics.modes import mode_named, modes_of

_MAKE, _MODEL = 0x010F, 0x0110
_EXIF = 0x8769
_TAKEN, _SUB_SECONDS, _LENS, _FOCAL, _STOP = 0x9003, 0x9291, 0xA434, 0x920A, 0x829D


def view_of(body: Body, state: CameraState) -> View:
    """What a camera sees of a front from the far end of a yard, as far as it is known from its own side."""
    area = mode_named(body, state.use, state.area) or modes_of(body, state.use)[0]
    lens = state.attached
    focal = 50.0 if lens is None else lens.focal_length_mm
    stop = 8.0 if lens is None else lens.taking_f_number if state.iris == "taking" else lens.widest_f_number
    circle = None if lens is None else lens.image_circle_mm
    return View(area.width_mm, area.height_mm, focal, stop, circle_mm=circle)


def simulated_jpeg(view: View, signed: Signed, seed: int = 0, rows: int = 400) -> bytes:
    """The file of a frame, at most four times as wide as high, and the claims of its body."""
    columns = max(1, min(4 * rows, round(rows * view.width_mm / view.height_mm)))
    field = (14 * view.width_mm / view.image_mm, 14 * view.height_mm / view.image_mm)
    scene = scene_of("facade", Standpoint(distance_m=14.0, subject_m=18.0, lens_m=1.5, field=field))
    tones = toned(light_of(scene, view, (rows, columns)), view.grain, seed)
    picture = Image.fromarray(np.ascontiguousarray(PALETTE[tones]))
    exif = Image.Exif()
    exif[_MAKE], exif[_MODEL] = signed.make, signed.model
    shot = exif.get_ifd(_EXIF)
    shot[_TAKEN] = signed.taken.strftime("%Y:%m:%d %H:%M:%S")
    shot[_SUB_SECONDS] = f"{signed.taken.microsecond // 1000:03d}"
    shot[_FOCAL], shot[_STOP] = (_rational(value) for value in (signed.focal_length_mm, signed.f_number))
    if signed.lens:
        shot[_LENS] = signed.lens
    target = io.BytesIO()
    picture.save(target, "JPEG", quality=82, exif=exif)
    return target.getvalue()


def _rational(value: float) -> IFDRational:
    ratio = Fraction(value).limit_denominator(100)
    return IFDRational(ratio.numerator, ratio.denominator)
