"""Depth of field, from the lens's own image plane. All lengths in mm."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.working import Calc, Symbol, formula

from .focus import close_magnification
from .symbols import BLUR, GLASS, MARKED_F_NUMBER, MARKED_FOCAL_LENGTH

RAY = "S. F. Ray, Applied Photographic Optics, ch. 22 (depth of focus and of field)"


@formula(
    "depth_of_field.hyperfocal_mm",
    "H = f²/(N·c/K) + f",
    "mm",
    RAY,
    focal_length_mm=MARKED_FOCAL_LENGTH,
    f_number=MARKED_F_NUMBER,
    circle_mm=BLUR,
    k=GLASS,
)
def hyperfocal_mm(focal_length_mm: float, f_number: float, circle_mm: float, k: float) -> float:
    """Hyperfocal distance, from the lens."""
    return focal_length_mm**2 / (f_number * circle_mm / k) + focal_length_mm


@formula(
    "depth_of_field.near_mm",
    "u(H − f)/(H + u − 2f), plus f + x",
    "mm",
    RAY,
    subject_mm=Symbol("u", "mm", "f + f²/x, the subject's distance from the lens"),
    hyperfocal=Symbol("H", "mm", "hyperfocal distance", "depth_of_field.hyperfocal_mm"),
    focal_length_mm=MARKED_FOCAL_LENGTH,
    extension_mm=Symbol("x", "mm", "extension beyond infinity focus"),
)
def depth_near_mm(subject_mm: float, hyperfocal: float, focal_length_mm: float, extension_mm: float) -> float:
    """Near end of the depth of field, from the lens's image plane."""
    near = subject_mm * (hyperfocal - focal_length_mm) / (hyperfocal + subject_mm - 2 * focal_length_mm)
    return near + focal_length_mm + extension_mm


@formula(
    "depth_of_field.far_mm",
    "u(H − f)/(H − u), plus f + x; infinite from u ≥ H",
    "mm",
    RAY,
    subject_mm=Symbol("u", "mm", "f + f²/x, the subject's distance from the lens"),
    hyperfocal=Symbol("H", "mm", "hyperfocal distance", "depth_of_field.hyperfocal_mm"),
    focal_length_mm=MARKED_FOCAL_LENGTH,
    extension_mm=Symbol("x", "mm", "extension beyond infinity focus"),
)
def depth_far_mm(subject_mm: float, hyperfocal: float, focal_length_mm: float, extension_mm: float) -> float | None:
    """Far end of the depth of field, from the lens's image plane; None is infinity."""
    if subject_mm >= hyperfocal:
        return None
    return subject_mm * (hyperfocal - focal_length_mm) / (hyperfocal - subject_mm) + focal_length_mm + extension_mm


@frozen
class DepthOfField:
    """Sharp from ``near_mm`` to ``far_mm`` (None: infinity) with the subject at ``subject_mm``; D as above."""

    f_number: float
    subject_mm: float
    near_mm: float
    far_mm: float | None
    hyperfocal_mm: float


def depth_of_field(
    subject_mm: float, *, focal_length_mm: float, f_number: float, circle_mm: float, k: float, calc: Calc
) -> DepthOfField | None:
    """Depth of field with the lens focused at ``subject_mm`` from the sensor; None nearer than 4f."""
    m = close_magnification(subject_mm, focal_length_mm)
    if m is None:
        return None
    x = m * focal_length_mm
    h = calc(hyperfocal_mm, focal_length_mm, f_number, circle_mm, k)
    u = focal_length_mm + focal_length_mm**2 / x
    near = calc(depth_near_mm, u, h, focal_length_mm, x)
    far = calc(depth_far_mm, u, h, focal_length_mm, x)
    return DepthOfField(f_number, subject_mm, near, far, h)
