"""What was measured from a picture of one's own."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tropeion.core.gear.field_types import Date, Several, Strict, Text

from .record import Record, RecordKind

_Value = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False)]
_Some = Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]
_Pixels = Annotated[int, Field(ge=1, le=1_000_000)]


class MeasuredEdge(Strict):
    """An edge: its middle in pixels, its MTF50 in cycles a pixel ± one standard uncertainty, where it lies."""

    x: _Value
    y: _Value
    mtf50_cycles_per_pixel: _Some
    uncertainty: _Some | None = None
    place: Literal["centre", "corner", "between"]


class MeasuredCircle(Strict):
    """Circle and fall-off in mm and stops; the circle None: at least so much."""

    circle_mm: _Some | None = None
    at_least_mm: _Some | None = None
    doubt_mm: _Some | None = None
    half_height_stops: _Value | None = None
    corner_stops: _Value | None = None


class MeasuredError(Strict):
    """An error that a blur may mean, ± one standard uncertainty."""

    register_error_mm: _Value
    doubt_mm: _Some


class PictureMeasurement(Record):
    """One picture measured: which file that was, by its size and SHA-256, and what came of it.

    ``as_sharpened``: its camera sharpened it; only figures of the same body and settings compare with it.
    """

    kind: ClassVar[RecordKind] = "measurements"
    called: ClassVar[str] = "measurement"
    wants_reason: ClassVar[bool] = True

    rig: Annotated[str, Field(max_length=600)] = ""
    what: Literal["edges", "circle", "ladder", "ring", "series"]
    day: Date
    file: Annotated[str, Field(max_length=4_096)]
    size: Annotated[int, Field(ge=0)]
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    as_sharpened: bool
    width_px: _Pixels
    height_px: _Pixels
    pitch_mm: _Some | None = None
    f_number: Annotated[float, Field(gt=0, le=256)] | None = None
    focal_length_mm: Annotated[float, Field(gt=0, le=10_000)] | None = None
    edges: Several[MeasuredEdge] = ()
    circle: MeasuredCircle | None = None
    errors: Several[MeasuredError] = ()
    says: Text = ""
    note: Text = ""
