"""Adapters."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .items import Measured
from .kinds import Local, Ref
from .quantities import (
    Carried,
    FNumber,
    FocalLength,
    Function,
    Id,
    Length,
    Name,
    PositiveLength,
    Register,
    Several,
    Stops,
    Strict,
    Text,
    Tolerance,
)

__all__ = ["Adapter", "FilterSlot"]


class FilterPosition(Strict):
    """One place of a filter slot or wheel."""

    name: Name
    loss_stops: Stops = 0.0
    clear: bool = False


class FilterSlot(Strict):
    """A filter behind the lens: plane glass of ``glass_mm`` thickness moves the focus back."""

    kind: Literal["drop_in", "wheel"] = "drop_in"
    glass_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.0
    refractive_index: Annotated[float, Field(ge=1, le=4, allow_inf_nan=False)] = 1.52
    positions: Several[FilterPosition] = ()


class Chip(Strict):
    """A chip that reports one fixed lens, whatever is mounted."""

    focal_length_mm: FocalLength
    f_number: FNumber


class Adapter(Measured):
    """An adapter: ``length_mm`` is its physical length, seat to seat."""

    lens_mount: Annotated[Id, Ref(("mounts",), "has this mount on one side")]
    body_mount: Annotated[Id, Ref(("mounts",), "has this mount on one side")]
    lens_generation: Annotated[Id, Local("generations", "lens_mount")] | None = None
    lens_side_features: Several[Annotated[Id, Local("features", "lens_mount")]] = ()
    length_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)]
    tolerance_mm: Tolerance = 0.0
    measured_length_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] | None = None
    measured_tolerance_mm: Tolerance | None = None
    optics: Literal["none", "reducer", "expander", "correcting"] = "none"
    magnification: Annotated[float, Field(gt=0.1, le=10, allow_inf_nan=False)] = 1.0
    register_in_mm: Register | None = None
    register_out_mm: Register | None = None
    image_circle_mm: PositiveLength | None = None
    widest_f_number: FNumber | None = None
    front_glass_mm: Length | None = None
    link: Literal["none", "chip", "pass", "translate"] = "none"
    from_protocol: Annotated[Id, Ref(("protocols",), "translates it")] | None = None
    to_protocol: Annotated[Id, Ref(("protocols",), "translates it")] | None = None
    chip: Chip | None = None
    carries: dict[Function, Carried] = Field(default_factory=dict)
    aperture_control: Literal["none", "lever_ring", "pin_press", "iris"] = "none"
    helicoid_mm: Length = 0.0
    tilt_deg: Annotated[float, Field(ge=0, lt=90, allow_inf_nan=False)] = 0.0
    shift_mm: Length = 0.0
    rotates: bool = False
    filter_slot: FilterSlot | None = None
    light_loss_stops: Stops = 0.0
    bore_mm: PositiveLength | None = None
    outer_mm: PositiveLength | None = None
    play_mm: Tolerance = 0.0
    locking: bool = False
    load_rating_nm: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    tripod_foot: bool = False
    reflections: Text | None = None
    irreversible: bool = False
    prepare: Several[Text] = ()

    @model_validator(mode="after")
    def _glass_and_links_are_whole(self) -> Self:
        named = self.optics != "none"
        if (named or self.magnification != 1.0) and (self.register_in_mm is None or self.register_out_mm is None):
            raise ValueError("an adapter with glass needs register_in_mm and register_out_mm")
        if (self.register_in_mm is None) != (self.register_out_mm is None):
            raise ValueError("register_in_mm and register_out_mm go together")
        if self.has_glass and not named:
            raise ValueError("an adapter with glass says in optics what kind: reducer, expander or correcting")
        if self.optics == "reducer" and self.magnification >= 1:
            raise ValueError("a reducer's magnification is below 1")
        if self.optics in {"expander", "correcting"} and self.magnification < 1:
            raise ValueError("an expander's or correcting glass's magnification is 1 or more")
        if self.link == "translate" and (self.from_protocol is None or self.to_protocol is None):
            raise ValueError("a translating adapter names from_protocol and to_protocol")
        if (self.link == "chip") != (self.chip is not None):
            raise ValueError("link 'chip' and the chip's values go together")
        return self

    @property
    def physical_length_mm(self) -> float:
        """Seat to seat, as measured where it was measured."""
        return self.length_mm if self.measured_length_mm is None else self.measured_length_mm

    @property
    def has_glass(self) -> bool:
        """True when the element cuts the chain: k ≠ 1, or registers of its own."""
        return self.magnification != 1.0 or self.register_in_mm is not None
