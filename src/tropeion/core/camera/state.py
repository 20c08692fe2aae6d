"""How a camera stands, and what comes of its release."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tropeion.core.gear.field_types import PieceId, Several, Strict
from tropeion.core.rig.deeds import Control

from .attached import Attached

_Text = Annotated[str, Field(max_length=400)]
_Number = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]


class Prompt(Strict):
    """What a camera asks at power-on: whether the focal length is still that of the last lens."""

    offered_mm: _Number


class Place(Strict):
    """A stored lens in the camera: called up again, it sets focal length, area and travel."""

    number: Annotated[int, Field(ge=1, le=1_000)]
    name: _Text
    focal_length_mm: _Number
    area: _Text = "full"
    travel: _Number = 1.0


class Fault(Strict):
    """What is wrong with a frame, and which control mends it."""

    control: Control
    text: _Text


class Release(Strict):
    """What came of pressing the release: refused, with the reason; or a frame, with what is wrong with it.

    ``limits`` are what this rig cannot do better on this body, however it is set.
    """

    taken: bool
    refused: Fault | None = None
    faults: Several[Fault] = ()
    limits: Several[_Text] = ()


class CameraState(Strict):
    """How a camera stands. ``attached`` None: another lens is on it, the last one.

    ``finder`` is what is wrong with the picture in it, as a frame would show it. ``swapped_live``: it was swapped with
    the power on. ``focused_with`` is what the ring was turned by. ``area`` is a mode of the sensor by its name;
    ``travel`` the share of the stabiliser's travel, 0 is off; ``magnifier`` how many times, 0 is off.
    """

    body: PieceId
    power: bool = True
    attached: Attached | None = None
    swapped_live: bool = False
    prompt: Prompt | None = None
    use: Literal["still", "film"] = "still"
    release_without_lens: bool = False
    focal_length_mm: _Number = 0.0
    travel: _Number = 1.0
    area: _Text = "full"
    exposure: _Text = ""
    squeeze: _Number = 1.0
    stabiliser: _Text = ""
    meter_f_number: _Number = 0.0
    magnifier: _Number = 0.0
    peaking: bool = False
    iris: Literal["open", "taking"] = "open"
    focused_with: Literal["", "finder", "magnifier"] = ""
    places: Several[Place] = ()
    finder: Several[Fault] = ()
    last: Release | None = None
