"""What numbers and words a gear file may hold: bounds, units, ids."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

__all__ = [
    "Carried",
    "Count",
    "Date",
    "FNumber",
    "FocalLength",
    "Function",
    "Id",
    "Length",
    "Mass",
    "Money",
    "Name",
    "PositiveLength",
    "Register",
    "SensorSize",
    "Stops",
    "Strict",
    "Text",
    "Tolerance",
    "Word",
]

# A C0 or C1 control character in a name is a slip of the clipboard, or worse.
_PRINTABLE = r"^[^\x00-\x1f\x7f-\x9f]*$"


Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9._-]{0,63}$")]


Name = Annotated[str, StringConstraints(min_length=1, max_length=120, pattern=_PRINTABLE)]


Text = Annotated[str, StringConstraints(max_length=4000, pattern=r"^[^\x00-\x08\x0b-\x1f\x7f-\x9f]*$")]


Word = Annotated[str, StringConstraints(min_length=1, max_length=120, pattern=_PRINTABLE)]


Date = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d{2}-\d{2}$")]


Number = Annotated[float, Field(allow_inf_nan=False)]


Length = Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)]


PositiveLength = Annotated[float, Field(ge=0.001, le=5000, allow_inf_nan=False)]


Register = Annotated[float, Field(ge=0.1, le=500, allow_inf_nan=False)]


Tolerance = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]


FNumber = Annotated[float, Field(ge=0.1, le=1000, allow_inf_nan=False)]


FocalLength = Annotated[float, Field(ge=0.1, le=10_000, allow_inf_nan=False)]


Stops = Annotated[float, Field(ge=0, le=30, allow_inf_nan=False)]


Money = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]


Mass = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]


Count = Annotated[int, Field(ge=0, le=10_000)]


Function = Literal["autofocus", "aperture", "identity", "focal_length", "focus_distance", "stabiliser", "control_ring"]


Carried = Literal["none", "slow", "full"]


class Strict(BaseModel):
    """Immutable, and refused with a place where it is wrong."""

    model_config = ConfigDict(frozen=True, extra="forbid", strict=True)


SensorSize = tuple[PositiveLength, PositiveLength]
