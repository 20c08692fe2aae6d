"""A view without a rig: what a plain thin lens would show of a scene on a format, to compare a rig with.

It has no edge to its light and reaches everything; nearer than four focal lengths it is set to life size.
"""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.optics.defocus import extension_for_mm

from .lamps import View
from .question import NotPossibleError, SubjectAt
from .scenes import Scene, SceneName, Standpoint, scene_of

FORMAT_MM = (1.0, 500.0)


@frozen
class IdealView:
    """A focal length and an aperture on a format of ``width_mm`` × ``height_mm``, focused on the subject."""

    scene: SceneName
    focal_length_mm: float
    f_number: float
    width_mm: float
    height_mm: float
    subject: SubjectAt

    def __post_init__(self) -> None:
        for field, side in (("width_mm", self.width_mm), ("height_mm", self.height_mm)):
            if not FORMAT_MM[0] <= side <= FORMAT_MM[1]:
                raise NotPossibleError(field, f"from {FORMAT_MM[0]:g} to {FORMAT_MM[1]:g}")


def ideal_of(asked: IdealView) -> tuple[Scene, View]:
    """The scene and the view of it, without noise."""
    focal, subject = asked.focal_length_mm, asked.subject
    away = subject.distance_m * 1000
    extension = extension_for_mm(focal, away)
    share = max(away - 2 * focal, 1.0) / focal / 1000
    field = asked.width_mm * share, asked.height_mm * share
    scene = scene_of(asked.scene, Standpoint(subject.distance_m, subject.height_m, subject.lens_m, field))
    view = View(
        width_mm=asked.width_mm,
        height_mm=asked.height_mm,
        focal_length_mm=focal,
        f_number=asked.f_number,
        extension_mm=focal if extension is None else extension,
        lens_m=subject.lens_m,
    )
    return scene, view
