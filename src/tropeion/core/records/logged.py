"""What was used for a frame or a series: the fields that the log file and the records of the log share."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from tropeion.core.gear.field_types import FNumber, FocalLength, Name, Offset, Strict, Text, Word

# Of a piece, also one that the collection does not know: it is kept and named.
LoggedId = Annotated[str, StringConstraints(pattern=r"^[^\x00-\x1f\x7f-\x9f,]{1,150}$")]
# Over HTTP a list comes as a list.
Via = Annotated[tuple[LoggedId, ...], Field(max_length=8, strict=False)]
Shifted = Annotated[tuple[Offset, Offset], Field(strict=False)]
Way = Literal["tap", "before", "after"]
FocusAid = Literal["magnifier", "peaking", "scale", "rangefinder", "screen"]
Support = Literal["hand", "monopod", "tripod"]
LoggedDistance = Annotated[float, Field(ge=0.001, le=1_000_000, allow_inf_nan=False)]
Seconds = Annotated[float, Field(ge=-4e9, le=4e9, allow_inf_nan=False)]


class Series(Strict):
    """Frames that belong together: stitched, or bracketed."""

    id: Word
    kind: Literal["stitched", "bracketed"]


class Logged(Strict):
    """A rig and how it was set. ``way``: one frame each (``tap``), or a series from here on (``before``) or up to here
    (``after``). ``aperture`` and ``focal_length_mm`` are marks; what was not noted is null."""

    body: LoggedId
    lens: LoggedId
    via: Via = ()
    way: Way = "tap"
    frames: Annotated[int, Field(ge=1, le=10_000)] = 1
    aperture: FNumber | None = None
    focal_length_mm: FocalLength | None = None
    distance_m: LoggedDistance | None = None
    focus: FocusAid | None = None
    use: Word | None = None
    support: Support | None = None
    roll: Word | None = None
    frame_number: Annotated[int, Field(ge=-1, le=100_000)] | None = None
    shot: Name | None = None
    note: Text = ""
    mode: Word | None = None
    seat: Annotated[int, Field(ge=1, le=64)] | None = None
    shift_mm: Shifted | None = None
    tilt_deg: Annotated[float, Field(gt=-90, lt=90, allow_inf_nan=False)] | None = None
    filter: Word | None = None
    told_mm: FocalLength | None = None
    travel: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] | None = None
    held_on: LoggedId | None = None
    series: Series | None = None
    clock_off_s: Seconds | None = None
