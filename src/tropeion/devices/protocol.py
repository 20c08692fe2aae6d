"""What goes over the line: one JSON object a line, a request and its answer.

A request is ``{"id": 7, "do": "power", "value": true}``; its answer ``{"id": 7, "state": {…}}``, or ``{"id": 7,
"error": "…"}`` in words for the person at the camera. ``docs/camera-protocol.md`` lists what may be asked.
"""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal, get_args

from pydantic import Field, ValidationError

from tropeion.core.camera.state import CameraState
from tropeion.core.gear.field_types import Strict
from tropeion.core.gear.refusals import worded

# A line is no longer than this.
MOST_BYTES: Final = 65_536

Verb = Literal[
    "state",
    "begin",
    "attach",
    "power",
    "prompt",
    "use",
    "release_without_lens",
    "focal_length",
    "travel",
    "area",
    "exposure",
    "squeeze",
    "stabiliser",
    "meter",
    "magnifier",
    "peaking",
    "iris",
    "focus",
    "store",
    "recall",
    "release",
]
VERBS: Final[tuple[str, ...]] = get_args(Verb)


class NotDoneError(Exception):
    """A camera did not do what was asked; the text says why, in words."""


class Request(Strict):
    """What a camera is asked to do."""

    id: Annotated[int, Field(ge=0, le=2**53)]
    do: Verb
    value: Any = None


class Answer(Strict):
    """How the camera stands then, or why it did not do it."""

    id: int
    state: CameraState | None = None
    error: str | None = None


def request_in(line: bytes) -> Request:
    """A request. Raises NotDoneError for a line that is none, with what is wrong."""
    try:
        return Request.model_validate_json(line)
    except ValidationError as error:
        raise NotDoneError(_told(error)) from None


def answer_in(line: bytes) -> Answer:
    """An answer. Raises NotDoneError for a line that is none."""
    try:
        return Answer.model_validate_json(line)
    except ValidationError as error:
        raise NotDoneError(f"the camera gave no answer that can be read: {_told(error)}") from None


def _told(error: ValidationError) -> str:
    first = error.errors()[0]
    place = ".".join(str(part) for part in first["loc"]) or "line"
    return f"{place}: {worded(first)}"
