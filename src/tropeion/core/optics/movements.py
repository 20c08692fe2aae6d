"""Shift and tilt: a tall subject, stitched frames, and the plane that a tilted lens makes sharp.

F is the focal length with the glass, w × h the mode in use, θ the tilt, κ the product of the glass behind what tilts.
Lengths in mm, angles in degrees.
"""

from __future__ import annotations

import math

from tropeion.core.frozen import frozen
from tropeion.core.working import Symbol, formula, tidy

from .coverage import CIRCLE, max_rise_mm
from .symbols import BLUR, MODE_HEIGHT, MODE_WIDTH

MOVEMENTS = "Camera movements: S. F. Ray, Applied Photographic Optics, ch. 28"
SCHEIMPFLUG = "Scheimpflug and hinge rule: S. F. Ray, Applied Photographic Optics, ch. 28"
_FOCAL = Symbol("F", "mm", "focal length with the glass", "focal_length_mm")
_TOP = Symbol("H", "mm", "height of the subject")
_LENS = Symbol("a", "mm", "height of the lens")
_AWAY = Symbol("d", "mm", "distance of the subject")
_CORRECTION = Symbol("p", "", "how far the verticals are corrected, 0 to 1")


@formula(
    "shift.pitch_deg",
    "ψ = (1 − p)·max(0, atan((H − a)/d) − atan(h/2F))",
    "°",
    MOVEMENTS,
    subject_mm=_TOP,
    lens_mm=_LENS,
    distance_mm=_AWAY,
    height_mm=MODE_HEIGHT,
    focal_length_mm=_FOCAL,
    correction=_CORRECTION,
)
def pitch_deg(
    subject_mm: float, lens_mm: float, distance_mm: float, height_mm: float, focal_length_mm: float, correction: float
) -> float:
    """How far the camera is pitched up, of what would bring the top in without shift."""
    full = math.atan2(subject_mm - lens_mm, distance_mm) - math.atan2(height_mm / 2, focal_length_mm)
    return math.degrees((1 - correction) * max(0.0, full))


@formula(
    "shift.rise_wanted_mm",
    "F·tan(atan((H − a)/d) − ψ) − h/2",
    "mm",
    MOVEMENTS,
    subject_mm=_TOP,
    lens_mm=_LENS,
    distance_mm=_AWAY,
    height_mm=MODE_HEIGHT,
    focal_length_mm=_FOCAL,
    pitch=Symbol("ψ", "°", "pitch of the camera", "shift.pitch_deg"),
)
def rise_wanted_mm(
    subject_mm: float, lens_mm: float, distance_mm: float, height_mm: float, focal_length_mm: float, pitch: float
) -> float:
    """Rise that brings the top of the subject to the frame's edge; negative: it is inside already."""
    above = math.atan2(subject_mm - lens_mm, distance_mm) - math.radians(pitch)
    return tidy(focal_length_mm * math.tan(above) - height_mm / 2)


@formula(
    "shift.convergence_deg",
    "2·atan(w·tan ψ/2F)",
    "°",
    MOVEMENTS,
    width_mm=MODE_WIDTH,
    focal_length_mm=_FOCAL,
    pitch=Symbol("ψ", "°", "pitch of the camera", "shift.pitch_deg"),
)
def convergence_deg(width_mm: float, focal_length_mm: float, pitch: float) -> float:
    """By how much verticals at the two edges of the frame lean towards each other."""
    return 2 * math.degrees(math.atan(width_mm * math.tan(math.radians(pitch)) / (2 * focal_length_mm)))


@formula(
    "shift.rise_foot_mm",
    "h/2 − F·tan(atan(a/d) + ψ)",
    "mm",
    MOVEMENTS,
    lens_mm=_LENS,
    distance_mm=_AWAY,
    height_mm=MODE_HEIGHT,
    focal_length_mm=_FOCAL,
    pitch=Symbol("ψ", "°", "pitch of the camera", "shift.pitch_deg"),
)
def rise_foot_mm(lens_mm: float, distance_mm: float, height_mm: float, focal_length_mm: float, pitch: float) -> float:
    """The greatest rise at which the foot of the subject is still in the frame."""
    below = math.atan2(lens_mm, distance_mm) + math.radians(pitch)
    return tidy(height_mm / 2 - focal_length_mm * math.tan(below))


@frozen
class TallSubject:
    """A tall subject with a corrected share of its verticals. Angles in degrees, rises in mm at the sensor.

    ``rise_allowed_mm`` is what the circle has room for, None where it is not known; ``foot_mm`` the greatest rise that
    keeps the foot in the frame; ``both``: top and foot go in together; ``diverging``: more is corrected than there is.
    """

    pitch_deg: float
    rise_wanted_mm: float
    rise_allowed_mm: float | None
    convergence_deg: float
    foot_mm: float
    both: bool
    diverging: bool


def tall_subject(
    *,
    focal_length_mm: float,
    width_mm: float,
    height_mm: float,
    subject_mm: float,
    lens_mm: float,
    distance_mm: float,
    correction: float,
    circle_mm: float | None,
) -> TallSubject:
    """What a subject from the ground to ``subject_mm`` asks of rise and pitch; all lengths in mm."""
    pitch = pitch_deg(subject_mm, lens_mm, distance_mm, height_mm, focal_length_mm, correction)
    wanted = rise_wanted_mm(subject_mm, lens_mm, distance_mm, height_mm, focal_length_mm, pitch)
    foot = rise_foot_mm(lens_mm, distance_mm, height_mm, focal_length_mm, pitch)
    return TallSubject(
        pitch_deg=pitch,
        rise_wanted_mm=wanted,
        rise_allowed_mm=None if circle_mm is None else max_rise_mm(circle_mm, width_mm, height_mm),
        convergence_deg=convergence_deg(width_mm, focal_length_mm, pitch),
        foot_mm=foot,
        both=wanted <= foot,
        diverging=correction > 1,
    )


@formula(
    "stitch.width_mm",
    "w + 2s",
    "mm",
    MOVEMENTS,
    side_mm=Symbol("w", "mm", "side of the frame that it is shifted along"),
    shift_mm=Symbol("s", "mm", "shift to either side"),
)
def stitched_mm(side_mm: float, shift_mm: float) -> float:
    """What three positions cover together."""
    return side_mm + 2 * shift_mm


@formula(
    "stitch.angle_deg",
    "2·atan((w + 2s)/2F)",
    "°",
    MOVEMENTS,
    width=Symbol("w + 2s", "mm", "what the positions cover together", "stitch.width_mm"),
    focal_length_mm=_FOCAL,
)
def stitched_angle_deg(width: float, focal_length_mm: float) -> float:
    """The angle that the stitched picture takes in along its side."""
    return 2 * math.degrees(math.atan(width / (2 * focal_length_mm)))


@frozen
class Stitch:
    """Three positions −s, 0, +s put together. ``overlap`` is the share that neighbours have in common.

    ``inside``: every position lies within the circle; None where the circle is not known.
    """

    shift_mm: float
    width_mm: float
    overlap: float
    megapixels: float | None
    angle_deg: float
    inside: bool | None


def stitch_of(
    side_mm: float,
    across_mm: float,
    shift_mm: float,
    *,
    focal_length_mm: float,
    megapixels: float | None,
    circle_mm: float | None,
) -> Stitch | None:
    """Frames shifted along ``side_mm``; None where they would leave a gap, which a shift beyond the side does."""
    s = abs(shift_mm)
    if s > side_mm:
        return None
    width = stitched_mm(side_mm, s)
    inside = None
    if circle_mm is not None:
        inside = tidy(circle_mm / 2 - math.hypot(side_mm / 2 + s, across_mm / 2)) >= 0
    return Stitch(
        shift_mm=s,
        width_mm=width,
        overlap=(side_mm - s) / side_mm,
        megapixels=None if megapixels is None else megapixels * width / side_mm,
        angle_deg=stitched_angle_deg(width, focal_length_mm),
        inside=inside,
    )


@formula(
    "tilt.tilt_deg",
    "θ′ = atan(κ·tan θ)",
    "°",
    SCHEIMPFLUG,
    tilt=Symbol("θ", "°", "tilt of the section"),
    k_behind=Symbol("κ", "", "product of the glass behind it"),
)
def tilt_at_sensor_deg(tilt: float, k_behind: float) -> float:
    """The tilt as the sensor sees it through the glass."""
    return math.degrees(math.atan(k_behind * math.tan(math.radians(tilt))))


# Smaller tilts cannot be set, and put the hinge beyond any horizon.
LEAST_TILT_DEG = 1e-6


@formula(
    "tilt.hinge_mm",
    "J = F/(κ·sin θ)",
    "mm",
    SCHEIMPFLUG,
    focal_length_mm=_FOCAL,
    tilt=Symbol("θ", "°", "tilt of the section"),
    k_behind=Symbol("κ", "", "product of the glass behind it"),
)
def hinge_mm(focal_length_mm: float, tilt: float, k_behind: float) -> float | None:
    """How far beside the lens the plane of focus turns about; None without tilt, or with too little to have one."""
    return None if abs(tilt) < LEAST_TILT_DEG else focal_length_mm / (k_behind * math.sin(math.radians(abs(tilt))))


@formula(
    "tilt.half_wedge_mm",
    "J·u/H, H = F²/(N′·c) + F",
    "mm",
    SCHEIMPFLUG,
    hinge=Symbol("J", "mm", "hinge", "tilt.hinge_mm"),
    distance_mm=Symbol("u", "mm", "distance along the axis"),
    focal_length_mm=_FOCAL,
    f_number=Symbol("N′", "f", "f-number with the glass"),
    circle_mm=BLUR,
)
def half_wedge_mm(hinge: float, distance_mm: float, focal_length_mm: float, f_number: float, circle_mm: float) -> float:
    """Half the height of the wedge that is sharp about the plane, parallel to the sensor."""
    hyperfocal = focal_length_mm**2 / (f_number * circle_mm) + focal_length_mm
    return hinge * distance_mm / hyperfocal


@frozen
class Hinge:
    """A tilted plane of focus: the tilt at the sensor, where it hinges, and half the wedge about it at a distance."""

    tilt_deg: float
    hinge_mm: float | None
    half_wedge_mm: float | None


def hinge_of(
    tilt_deg: float, k_behind: float, *, focal_length_mm: float, f_number: float, circle_mm: float, distance_mm: float
) -> Hinge:
    """Where the plane of focus goes when a section is tilted; lengths in mm."""
    at_sensor = tilt_at_sensor_deg(tilt_deg, k_behind)
    hinge = hinge_mm(focal_length_mm, tilt_deg, k_behind)
    wedge = None
    if hinge is not None and math.isfinite(distance_mm):
        wedge = half_wedge_mm(hinge, distance_mm, focal_length_mm, f_number, circle_mm)
    return Hinge(at_sensor, hinge, wedge)


@formula(
    "coverage.sighted_circle_mm",
    "C′ = 2·√((w/2 + t_x)² + (h/2 + t_y)²)",
    "mm",
    CIRCLE,
    width_mm=MODE_WIDTH,
    height_mm=MODE_HEIGHT,
    across_mm=Symbol("t_x", "mm", "how far the sensor stood aside"),
    up_mm=Symbol("t_y", "mm", "how far it stood up or down"),
)
def sighted_circle_mm(width_mm: float, height_mm: float, across_mm: float, up_mm: float) -> float:
    """The circle at the sensor, by where a corner was seen clean, or first dark."""
    return 2 * math.hypot(width_mm / 2 + abs(across_mm), height_mm / 2 + abs(up_mm))
