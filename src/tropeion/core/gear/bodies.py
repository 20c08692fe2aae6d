"""Camera bodies."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Field, model_validator

from .field_types import (
    Count,
    FocalLength,
    Id,
    Length,
    Name,
    Offset,
    PositiveLength,
    Register,
    SensorSize,
    Several,
    Stops,
    Strict,
    Text,
    Tolerance,
    Word,
)
from .items import Measured, SwappableMount
from .kinds import Local, Ref


class Mode(Strict):
    """A recording mode that uses part of the sensor; width and height in mm."""

    name: Name
    sensor_mm: SensorSize
    megapixels: Annotated[float, Field(ge=0.001, le=10_000, allow_inf_nan=False)] | None = None
    use: Literal["still", "film", "both"] = "both"
    automatic: bool = False


class Stabiliser(Strict):
    """A sensor that moves by ± ``travel_mm`` on each axis, and what it wants to be told.

    Where there are ``presets_mm``, it takes one of these and nothing between; ``name_length`` letters name a place.
    ``half_pressed``: it works at a half-pressed release alone; ``electronic_crop`` is what steadying by the picture
    crops by besides. ``squeeze``: whether it asks for the squeeze of a lens.
    """

    travel_mm: Length
    entry_mm: tuple[FocalLength, FocalLength] = (1.0, 9999.0)
    entry_step_mm: PositiveLength = 0.1
    travel_steps: Several[Annotated[float, Field(ge=0.001, le=1, allow_inf_nan=False)]] = (1.0,)
    stored_lenses: Count = 0
    stops: Stops | None = None
    modes: Several[Word] = ()
    presets_mm: Several[FocalLength] | None = None
    name_length: Count | None = None
    half_pressed: bool | None = None
    squeeze: bool | None = None
    electronic_crop: Annotated[float, Field(ge=1, le=10, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _entry_range_ascends(self) -> Self:
        if self.entry_mm[0] > self.entry_mm[1]:
            raise ValueError("entry_mm runs from the least to the greatest focal length")
        return self


class Setting(Strict):
    """Where in a body's menu a setting is found, and what to set it to."""

    for_: Annotated[Word, Field(alias="for")]
    where: Text
    value: Text
    use: Literal["still", "film", "both"] = "both"
    menu: Literal["short", "full", "both"] = "both"

    model_config = ConfigDict(populate_by_name=True)


class Magnifier(Strict):
    """How the body magnifies the picture for focusing: what of it, how many times, and how it is left."""

    view: Literal["full", "inset"] = "full"
    levels: Several[Annotated[float, Field(ge=1, le=100, allow_inf_nan=False)]] = ()
    leave: Text = ""


class Body(Measured):
    """A camera body. ``sensor_mm`` is width × height of the whole sensor or film gate.

    ``centre_of_mass_mm`` and ``tripod_screw_mm`` are counted forward from the sensor plane.
    """

    mount: Annotated[Id, Ref(("mounts",), "has this mount")]
    generation: Annotated[Id, Local("generations", "mount")] | None = None
    kind: Literal["digital", "film"] = "digital"
    sensor_mm: SensorSize
    megapixels: Annotated[float, Field(ge=0.001, le=10_000, allow_inf_nan=False)] | None = None
    modes: Several[Mode] = ()
    stabiliser: Stabiliser | None = None
    protocols: Several[Annotated[Id, Ref(("protocols",), "uses it")]] = ()
    screw_drive: bool = False
    exposure_modes: Several[Word] = ()
    meters: bool = True
    holds_iris: bool = False
    bare_release: Literal["on", "off", "always", "never"] = "on"
    asks_focal_length: bool = False
    focus_aids: Several[Word] = ()
    magnifier: Magnifier | None = None
    desqueeze: Several[Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)]] = ()
    settings: Several[Setting] = ()
    obstruction_mm: Length | None = None
    max_ray_angle_deg: Annotated[float, Field(ge=0.1, lt=90, allow_inf_nan=False)] | None = None
    measured_register_mm: Register | None = None
    measured_tolerance_mm: Tolerance | None = None
    swappable_mounts: Several[SwappableMount] = ()
    width_mm: PositiveLength | None = None
    height_mm: PositiveLength | None = None
    depth_mm: PositiveLength | None = None
    mount_centre_mm: tuple[Length, Length] | None = None
    centre_of_mass_mm: Offset | None = None
    tripod_screw_mm: Offset = 0.0
    battery: bool = True
    reads_code: bool = False
    character: Several[Word] = ()
