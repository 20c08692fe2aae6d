"""What is asked of a frame, and what of it a rig cannot do."""

from __future__ import annotations

from dataclasses import dataclass

from .scenes import SceneName

__all__ = ["FrameQuestion", "NotPossibleError", "SubjectAt"]


@dataclass(frozen=True, slots=True)
class SubjectAt:
    """A tall subject, in m: how high it is, how far away, and how high the lens stands."""

    height_m: float
    distance_m: float
    lens_m: float


@dataclass(frozen=True, slots=True)
class FrameQuestion:
    """How a rig is set for a frame. What is None is usual: the scene's distance, the widest aperture, the mode in use.

    ``at_m`` is where it is focused; ``focal_length_mm`` a zoom's marked setting, ``f_number`` the marked aperture;
    ``shift_mm`` and ``tilt_deg`` what the mechanism is set to; ``correct`` the share of the verticals that is
    corrected; ``stray`` the share of the stabiliser's travel that the sensor is held aside by, to a corner.
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


class NotPossibleError(ValueError):
    """The rig cannot be set so; ``field`` names what of the question, the text what would be right."""

    def __init__(self, field: str, text: str) -> None:
        super().__init__(text)
        self.field = field
