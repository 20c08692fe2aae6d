"""What numbers and words a gear file may hold: bounds, units, ids."""

from __future__ import annotations

import unicodedata
from typing import Annotated, Literal, TypeVar

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints

T = TypeVar("T")
# The most entries in a list of an item.
Few = Annotated[tuple[T, ...], Field(max_length=20)]
Several = Annotated[tuple[T, ...], Field(max_length=200)]
Many = Annotated[tuple[T, ...], Field(max_length=2_000)]
Shelf = Annotated[tuple[T, ...], Field(max_length=50_000)]
# A C0 or C1 control character in a name is a slip of the clipboard, or worse.
_PRINTABLE = r"^[^\x00-\x1f\x7f-\x9f]*$"
# Two joiners shape letters and emoji; any other invisible character makes text read differently to people and programs.
_JOINERS = "\u200c\u200d"


def _hidden(text: str) -> str | None:
    """The first character that nobody sees, or that turns the order of the others."""
    if text.isascii():
        return None
    return next((c for c in text if unicodedata.category(c) in {"Cf", "Zl", "Zp"} and c not in _JOINERS), None)


def _seen(text: str) -> str:
    hidden = _hidden(text)
    if hidden is not None:
        raise ValueError(f"an invisible character (U+{ord(hidden):04X}): type it anew")
    return text


def _worded(text: str) -> str:
    if not text.strip() or not any(unicodedata.category(c)[0] in "LNPS" for c in text):
        raise ValueError("nothing but blanks: give it a name that can be seen")
    return text


Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9._-]{0,63}$")]
# Of a lens or a body that a record or a rig names: it may tell of a changed mount, and is longer then.
PieceId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9._-]{0,149}$")]
Name = Annotated[
    str,
    StringConstraints(min_length=1, max_length=120, pattern=_PRINTABLE),
    AfterValidator(_seen),
    AfterValidator(_worded),
]
Text = Annotated[
    str, StringConstraints(max_length=4000, pattern=r"^[^\x00-\x08\x0b-\x1f\x7f-\x9f]*$"), AfterValidator(_seen)
]
Word = Annotated[
    str,
    StringConstraints(min_length=1, max_length=120, pattern=_PRINTABLE),
    AfterValidator(_seen),
    AfterValidator(_worded),
]
# Fields of a flange code, counted from where it starts: 1 is dark unless its mount says otherwise.
Code = Annotated[str, StringConstraints(pattern=r"^[01]{1,32}$")]


def _as_word(value: object) -> object:
    return f"{value:g}" if isinstance(value, int | float) and not isinstance(value, bool) else value


# A frame that a finder shows, by the focal length it is made for: 50, or "50".
FrameLine = Annotated[Word, BeforeValidator(_as_word)]
Date = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d{2}-\d{2}$")]
# Of a length that may lie on either side of where it is counted from.
Offset = Annotated[float, Field(ge=-5000, le=5000, allow_inf_nan=False)]
Length = Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)]
PositiveLength = Annotated[float, Field(ge=0.001, le=5000, allow_inf_nan=False)]
Distance = Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)]
Register = Annotated[float, Field(ge=0.1, le=500, allow_inf_nan=False)]
Tolerance = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]
FNumber = Annotated[float, Field(ge=0.1, le=1000, allow_inf_nan=False)]
FocalLength = Annotated[float, Field(ge=0.1, le=10_000, allow_inf_nan=False)]
Stops = Annotated[float, Field(ge=0, le=30, allow_inf_nan=False)]
Money = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]
Mass = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=10_000)]
# Which way something shifts as it is mounted; what rotates can be turned to the other.
ShiftAxis = Literal["any", "up", "across"]
Function = Literal["autofocus", "aperture", "identity", "focal_length", "focus_distance", "stabiliser", "control_ring"]
Carried = Literal["none", "slow", "full"]


class Strict(BaseModel):
    """Immutable, and refused with a place where it is wrong."""

    model_config = ConfigDict(frozen=True, extra="forbid", strict=True)


SensorSize = tuple[PositiveLength, PositiveLength]
