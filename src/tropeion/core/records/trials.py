"""Trials of a rig, and what happened to a piece: as the log file holds them, and as records."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from tropeion.core.gear.field_types import Date, FNumber, FocalLength, Money, Several, Strict, Text, Word

from .logged import LoggedDistance, LoggedId, Via
from .moments import Moment
from .record import Record

Verdict = Literal["sharp", "soft", "smeared", "dark"]


class Trial(Strict):
    """How a rig did at one stop. ``body`` null: whichever; ``cause``: why it failed, where it was not the lens."""

    body: LoggedId | None = None
    lens: LoggedId
    via: Via = ()
    use: Literal["paid_still", "film", "web", "play"]
    aperture: FNumber
    focal_length_mm: FocalLength | None = None
    distance_m: LoggedDistance | None = None
    centre: Verdict
    corner: Verdict | None = None
    ghost: bool = False
    flare: bool = False
    note: Text = ""
    file: Annotated[str, Field(max_length=4_096)] | None = None
    source: Literal["own", "person", "shop", "maker", "review"] = "own"
    firmware: Annotated[dict[str, Text], Field(default_factory=dict, max_length=20)]
    travel: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] | None = None
    cause: Literal["lens", "focus", "magnifier", "subject", "shake", "play"] | None = None
    hood: bool | None = None
    # Over HTTP a list comes as a list.
    character: Annotated[Several[Word], Field(strict=False)] = ()


class EventOf(Strict):
    """The piece that something happened to."""

    kind: Literal["lens", "body", "adapter", "lenses", "bodies", "adapters"]
    id: LoggedId


class PieceEvent(Strict):
    """Something that happened to a piece; ``until``: given back or renewed by then."""

    piece: EventOf
    on: Date
    what: Literal[
        "bought",
        "sold",
        "lent",
        "returned",
        "converted",
        "serviced",
        "measured",
        "damaged",
        "found",
        "inherited",
        "borrowed",
        "given_back",
        "coded",
        "modified",
        "checked",
    ]
    by: Text = ""
    price: Money | None = None
    note: Text = ""
    until: Date | None = None
    edition: Text = ""

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.until is not None and self.until < self.on:
            raise ValueError(f"until lies before {self.on}, the day itself")
        return self


class RigTrial(Trial, Record):
    """A trial, as a record."""

    kind = "trials"
    called = "trial"
    wants_reason = True

    at: Moment


class PieceLife(PieceEvent, Record):
    """Something that happened to a piece, as a record."""

    kind = "events"
    called = "event"

    @property
    def piece_id(self) -> str:
        """The piece, as a column holds it."""
        return self.piece.id
