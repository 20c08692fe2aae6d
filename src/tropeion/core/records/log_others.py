"""What the log knows beside its entries: how a camera signs, its clock, rolls of film, doubts that were settled."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator

from tropeion.core.gear.field_types import FocalLength, Strict, Text, Word

from .logged import LoggedId, Seconds, Via
from .moments import CameraTime, Moment
from .record import Record

FilePath = Annotated[str, Field(min_length=1, max_length=4_096)]
LensName = Annotated[str, Field(max_length=200)]
# A day, or a moment of the camera's clock.
Since = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}([T ][0-9:.]{5,15})?$")]


class Means(Strict):
    """What was in front of the camera when its files claimed something."""

    lens: LoggedId
    via: Via = ()


class Says(Strict):
    """A lens's name or focal length that files claim, and what it was, from one day to another."""

    lens: LensName | None = None
    focal_length_mm: FocalLength | None = None
    since: Since | None = None
    until: Since | None = None
    means: Means

    @model_validator(mode="after")
    def _claims_something(self) -> Self:
        if self.lens is None and self.focal_length_mm is None:
            raise ValueError("name what the files claim: lens or focal_length_mm")
        return self


class Signs(Strict):
    """How a body signs its files; ``serial`` null: whichever."""

    body: LoggedId
    make: LensName = ""
    model: LensName = ""
    serial: LensName | None = None
    says: Annotated[tuple[Says, ...], Field(max_length=2_000, strict=False)] = ()


class ClockSet(Strict):
    """What a body's clock was off: ``seconds`` is log minus camera; or a picture of a clock, and what that ``shows``.

    ``since`` and ``until`` are in camera time; ``zoned``: of files that state their zone, or of those that do not.
    """

    body: LoggedId
    seconds: Seconds | None = None
    file: FilePath | None = None
    shows: Moment | None = None
    since: CameraTime | None = None
    until: CameraTime | None = None
    zoned: bool | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        stated, photographed = self.seconds is not None, self.file is not None and self.shows is not None
        if stated == photographed or (stated and (self.file is not None or self.shows is not None)):
            raise ValueError("state the seconds, or a file with what its clock shows")
        return self


class Roll(Strict):
    """A roll of film. ``frames`` null: how many it came to is not known."""

    id: Word
    body: LoggedId
    stock: Text = ""
    first_number: Annotated[int, Field(ge=-1, le=100_000)] = 1
    frames: Annotated[int, Field(ge=0, le=100_000)] | None = None


class Settled(Strict):
    """To which entry a picture belongs, as somebody said; ``entry`` null: to none."""

    files: Annotated[tuple[FilePath, ...], Field(min_length=1, max_length=64, strict=False)]
    taken_at: Annotated[str, Field(max_length=40)] | None = None
    body: LoggedId | None = None
    entry: Annotated[str, Field(max_length=64)] | None = None


class CameraSigns(Signs, Record):
    """How a body signs, as a record: one for each signature."""

    kind = "camera_signs"
    called = "signature"
    place = ("signature",)

    @property
    def signature(self) -> str:
        """Make, model and serial number, as a column holds them."""
        return " · ".join((self.make, self.model, self.serial or ""))


class Clock(ClockSet, Record):
    """A clock, as a record."""

    kind = "clocks"
    called = "clock"


class FilmRoll(Record):
    """A roll, as a record. ``name`` is its id in the log file."""

    kind = "film_rolls"
    called = "roll"
    place = ("name",)

    name: Word
    body: LoggedId
    stock: Text = ""
    first_number: Annotated[int, Field(ge=-1, le=100_000)] = 1
    frames: Annotated[int, Field(ge=0, le=100_000)] | None = None


class Assignment(Settled, Record):
    """A settled doubt, as a record: one for each picture."""

    kind = "assignments"
    called = "assignment"
    place = ("picture",)

    @property
    def picture(self) -> str:
        """What tells the picture from others: the name of its first file and when its camera says it was taken."""
        return f"{self.files[0]} {self.taken_at or ''}"[:600]
