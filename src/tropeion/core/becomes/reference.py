"""What an equivalent is equivalent to: 36 × 24 mm, or the camera that somebody came from."""

from __future__ import annotations

import math
from typing import Final, Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.optics.equivalents import angle_of_view_deg, crop_by_diagonal, crop_by_width

Crop = Literal["diagonal", "width"]

# The longest focal length that is called wide, on 36 × 24 mm.
WIDE_MM: Final = 35.0


@frozen
class Reference:
    """A format to compare with, in mm; ``body`` is the id of the camera that it belongs to, "" for 36 × 24 mm."""

    body: str
    name: str
    width_mm: float
    height_mm: float

    @property
    def diagonal_mm(self) -> float:
        return math.hypot(self.width_mm, self.height_mm)


FULL_FRAME: Final = Reference("", "36 × 24", 36.0, 24.0)


def reference_of(world: World, body_id: str | None) -> Reference:
    """The whole sensor of a body, or 36 × 24 mm for None. Raises UnknownIdError."""
    if not body_id:
        return FULL_FRAME
    body = world.body(body_id)
    return Reference(body.id, body.name, *body.sensor_mm)


def crop_against(reference: Reference, width_mm: float, height_mm: float, crop: Crop) -> float:
    """How many times smaller a format is than the reference, by the diagonal or by the width."""
    if crop == "diagonal":
        return crop_by_diagonal(math.hypot(width_mm, height_mm)) / crop_by_diagonal(reference.diagonal_mm)
    return crop_by_width(width_mm) / crop_by_width(reference.width_mm)


def wide_from_deg() -> float:
    """The diagonal angle from which a view is called wide: that of 35 mm on 36 × 24 mm."""
    return angle_of_view_deg(FULL_FRAME.diagonal_mm, WIDE_MM)
