"""What stands before a camera, as far as it works on it: what its contacts say, and what its light does."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tropeion.core.gear.field_types import Name, Several, Strict, Word
from tropeion.core.joints.signal import identifies_itself
from tropeion.core.optics.equivalents import focal_length_with_glass_mm
from tropeion.core.rig.judgement import Assessment
from tropeion.core.rig.rig_report import Details
from tropeion.core.rig.setting_steps import name_of
from tropeion.core.rig.steps import focused_by_hand

_Positive = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]


class Attached(Strict):
    """A lens with its adapters. ``focal_length_mm`` and ``image_circle_mm`` are with the glass, at the sensor.

    ``recognised``: the body takes it for a lens, by contacts or by a chip; ``identified``: it says what it is;
    ``says_mm`` is the focal length that it then tells. ``rig`` names lens, body and adapters; ``taking_f_number`` is a
    stop to take a frame at, two stops down where the iris goes so far. ``exposure_modes`` are those that are left.
    """

    rig: Annotated[str, Field(max_length=600)]
    name: Name
    recognised: bool
    identified: bool
    says_mm: _Positive | None = None
    focal_length_mm: _Positive
    image_circle_mm: _Positive | None = None
    squeeze: _Positive = 1.0
    focused_by: Literal["hand", "body", "nothing"] = "hand"
    iris: Literal["by_hand", "body", "nothing"] = "by_hand"
    widest_f_number: _Positive
    taking_f_number: _Positive
    adapted: bool = True
    exposure_modes: Several[Word] = ()


def attached_of(judged: Assessment, details: Details) -> Attached:
    """What a judged rig is to its body; a zoom at its wide end."""
    rig = judged.rig
    chip = next((adapter.chip for adapter in rig.adapters if adapter.chip is not None), None)
    known = rig.signal.broken_at is None
    identified = identifies_itself(rig.signal)
    focal = focal_length_with_glass_mm(rig.chain.magnification, rig.lens.focal_length_mm[0])
    said = focal if identified else None if chip is None else chip.focal_length_mm
    by_hand, stops = rig.iris.state == "by_hand", rig.lens.f_number
    return Attached(
        rig=name_of(rig),
        name=rig.lens.name,
        recognised=known or chip is not None,
        identified=identified,
        says_mm=said,
        focal_length_mm=focal,
        image_circle_mm=rig.image_circle_mm,
        squeeze=rig.lens.squeeze,
        focused_by="hand" if focused_by_hand(rig) else "body" if rig.movable else "nothing",
        iris="by_hand" if by_hand and stops[0] < stops[1] else "nothing" if by_hand or rig.iris.stuck else "body",
        widest_f_number=stops[0],
        taking_f_number=min(2 * stops[0], stops[1]),
        adapted=bool(rig.adapters),
        exposure_modes=tuple(details.exposure_modes),
    )
