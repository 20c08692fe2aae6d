"""Lenses."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .field_types import (
    Code,
    Distance,
    FNumber,
    FocalLength,
    FrameLine,
    Function,
    Id,
    Length,
    PositiveLength,
    Register,
    Several,
    ShiftAxis,
    Strict,
    Text,
    Tolerance,
    Word,
)
from .items import Measured, SwappableMount
from .kinds import Local, Ref
from .mounts import Thread


class NotOn(Strict):
    """A mount or an adapter that the lens's maker excludes."""

    adapter: Annotated[Id, Ref(("adapters",), "is not to go on it, says its maker")] | None = None
    mount: Annotated[Id, Ref(("mounts",), "is not to go on it, says its maker")] | None = None
    reason: Text


class Lens(Measured):
    """A lens. ``focal_length_mm`` and ``f_number`` are the marked values, from least to greatest.

    One without a ``mount`` is held by its barrel or rear thread. What is engraved on its rings stands under
    ``marked_…``, null where nobody has looked. ``image_circle_from`` says how its circle is known: stated by its maker,
    taken from the format it was made for, or measured. What nobody said of its drives is usual (``gear/usual.py``).
    """

    mount: Annotated[Id, Ref(("mounts",), "has this mount")] | None = None
    generation: Annotated[Id, Local("generations", "mount")] | None = None
    conversion: Literal["none", "factory", "third_party", "home", "transplanted"] = "none"
    focal_length_mm: tuple[FocalLength, FocalLength]
    f_number: tuple[FNumber, FNumber]
    f_number_at_long_end: FNumber | None = None
    t_number: FNumber | None = None
    min_focus_m: Distance | None = None
    max_magnification: Annotated[float, Field(ge=0.001, le=100, allow_inf_nan=False)] | None = None
    past_infinity_mm: Length = 0.0
    image_circle_mm: PositiveLength | None = None
    image_circle_from: Literal["stated", "format", "measured"] = "format"
    image_circle_tolerance_mm: Tolerance | None = None
    focus: Literal["ring", "screw_drive", "motor", "by_wire", "none"] | None = None
    aperture: Literal["ring", "lever", "pin", "electronic", "none"] | None = None
    auto_manual_switch: bool = False
    iris_at_rest: Literal["open", "closed", "stays"] = "open"
    features: Several[Annotated[Id, Local("features", "mount")]] | None = None
    protocol: Annotated[Id, Ref(("protocols",), "uses it")] | None = None
    offers: Several[Function] = ()
    stabilised: bool = False
    squeeze: Annotated[float, Field(ge=1, le=4, allow_inf_nan=False)] = 1.0
    fisheye: bool = False
    shift_mm: Length = 0.0
    tilt_deg: Annotated[float, Field(ge=0, lt=90, allow_inf_nan=False)] = 0.0
    rear_protrusion_mm: Length | None = None
    rear_diameter_mm: PositiveLength | None = None
    exit_pupil_mm: PositiveLength | None = None
    focus_throw_deg: Annotated[float, Field(ge=0.001, le=2000, allow_inf_nan=False)] | None = None
    length_mm: PositiveLength | None = None
    diameter_mm: PositiveLength | None = None
    filter_thread_mm: PositiveLength | None = None
    centre_of_mass_mm: Length | None = None
    tripod_foot: bool = False
    foot_mm: Length | None = None
    barrel_mm: PositiveLength | None = None
    rear_thread: Thread | None = None
    shift_axis: ShiftAxis = "any"
    rotates: bool = False
    code: Code | None = None
    frame_lines: Several[FrameLine] | None = None
    marked_focal_lengths_mm: Several[FocalLength] | None = None
    marked_f_numbers: Several[FNumber] | None = None
    marked_distances_m: Several[Distance] | None = None
    measured_register_mm: Register | None = None
    measured_tolerance_mm: Tolerance | None = None
    swappable_mounts: Several[SwappableMount] = ()
    not_on: Several[NotOn] = ()
    character: Several[Word] = ()

    @model_validator(mode="after")
    def _ranges_ascend(self) -> Self:
        if self.focal_length_mm[0] > self.focal_length_mm[1]:
            raise ValueError("focal_length_mm runs from the short end to the long end")
        if self.f_number[0] > self.f_number[1]:
            raise ValueError("f_number runs from the widest stop to the smallest")
        if self.f_number_at_long_end is not None and self.f_number_at_long_end > self.f_number[1]:
            raise ValueError("f_number_at_long_end lies beyond the smallest stop")
        if self.mount is None and (self.generation is not None or self.features):
            raise ValueError("a lens without a mount has neither generation nor coupling parts: name its mount")
        return self

    @property
    def is_zoom(self) -> bool:
        return self.focal_length_mm[0] != self.focal_length_mm[1]
