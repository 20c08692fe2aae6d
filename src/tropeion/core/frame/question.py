"""What is asked of a frame, and what of it cannot be."""

from __future__ import annotations

import math
from typing import Final

from tropeion.core.frozen import frozen

from .scenes import SceneName

# The least and the most of what may be asked; a focus distance may also be infinity.
LIMITS: Final[dict[str, tuple[float, float]]] = {
    "at_m": (0.01, 100_000.0),
    "focal_length_mm": (0.1, 10_000.0),
    "f_number": (0.1, 1_000.0),
    "shift_mm": (-100.0, 100.0),
    "tilt_deg": (-60.0, 60.0),
    "correct": (0.0, 2.0),
    "stray": (0.0, 1.0),
    "subject_m": (0.001, 10_000.0),
    "distance_m": (0.001, 100_000.0),
    "lens_m": (0.0, 1_000.0),
}


class NotPossibleError(ValueError):
    """The rig cannot be set so; ``field`` names what of the question, the text what would be right."""

    def __init__(self, field: str, text: str) -> None:
        super().__init__(text)
        self.field = field


def _within(field: str, value: float | None) -> None:
    low, high = LIMITS[field]
    if value is not None and not low <= value <= high:
        raise NotPossibleError(field, f"from {low:g} to {high:g}")


@frozen
class SubjectAt:
    """A tall subject, in m: how high it is, how far away, and how high the lens stands.

    Raises NotPossibleError where it cannot stand so.
    """

    height_m: float
    distance_m: float
    lens_m: float

    def __post_init__(self) -> None:
        _within("subject_m", self.height_m)
        _within("distance_m", self.distance_m)
        _within("lens_m", self.lens_m)
        if self.lens_m >= self.height_m:
            raise NotPossibleError("lens_m", "the lens stands between the ground and the top of the subject")


@frozen
class FrameQuestion:
    """How a rig is set for a frame. What is None is usual: the scene's distance, the widest aperture, the mode in use.

    ``at_m`` is where it is focused; ``focal_length_mm`` a zoom's marked setting, ``f_number`` the marked aperture;
    ``shift_mm`` and ``tilt_deg`` what the mechanism is set to; ``correct`` the share of the verticals that is
    corrected; ``stray`` the share of the stabiliser's travel that the sensor is held aside by, to a corner. Raises
    NotPossibleError for what no rig can be set to.
    """

    scene: SceneName = "facade"
    at_m: float | None = None
    focal_length_mm: float | None = None
    f_number: float | None = None
    mode: str | None = None
    upright: bool = False
    shift_mm: tuple[float, float] | None = None
    tilt_deg: float = 0.0
    correct: float | None = None
    subject: SubjectAt | None = None
    stray: float = 0.0
    desqueeze: bool = False

    def __post_init__(self) -> None:
        if self.at_m != math.inf:
            _within("at_m", self.at_m)
        for shift in self.shift_mm or ():
            _within("shift_mm", shift)
        _within("focal_length_mm", self.focal_length_mm)
        _within("f_number", self.f_number)
        _within("tilt_deg", self.tilt_deg)
        _within("correct", self.correct)
        _within("stray", self.stray)
