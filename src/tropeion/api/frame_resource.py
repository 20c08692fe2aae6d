"""The simulated frame: its numbers, its picture, and what a dark corner says of a circle."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import Field, TypeAdapter

from tropeion.core.answers.shop import world_with
from tropeion.core.frame.frame_report import Frame, FrameReport
from tropeion.core.frame.question import LIMITS, FrameQuestion, NotPossibleError, SubjectAt
from tropeion.core.frame.scenes import SceneName
from tropeion.core.frame.sighting import Sighted, Way, sighted
from tropeion.core.frame.simulated import frame_of, seed_of
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.practice import Practice
from tropeion.formats.frame_png import picture_of
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Ids, OfRig

_REPORT = TypeAdapter(FrameReport)
router = resource("/api/v1/frame", "frame")


class _FrameAsked(OfRig):
    """A rig and how it is set; what is left out is usual."""

    scene: SceneName = "facade"
    at_m: float | None = Field(None, ge=LIMITS["at_m"][0], le=LIMITS["at_m"][1])
    at_infinity: bool = Field(False, description="Focused at infinity, instead of at_m.")
    mm: float | None = Field(
        None,
        ge=LIMITS["focal_length_mm"][0],
        le=LIMITS["focal_length_mm"][1],
        description="A zoom's setting, as engraved.",
    )
    aperture: float | None = Field(
        None, ge=LIMITS["f_number"][0], le=LIMITS["f_number"][1], description="The marked aperture."
    )
    mode: Annotated[str, Query(max_length=120)] | None = None
    upright: bool = False
    shift_x: float | None = Field(None, ge=LIMITS["shift_mm"][0], le=LIMITS["shift_mm"][1])
    shift_y: float | None = Field(None, ge=LIMITS["shift_mm"][0], le=LIMITS["shift_mm"][1])
    tilt: float = Field(0.0, ge=LIMITS["tilt_deg"][0], le=LIMITS["tilt_deg"][1])
    correct: float | None = Field(None, ge=LIMITS["correct"][0], le=LIMITS["correct"][1])
    subject_m: float | None = Field(
        None, ge=LIMITS["subject_m"][0], le=LIMITS["subject_m"][1], description="Height of the subject."
    )
    distance_m: float | None = Field(
        None, ge=LIMITS["distance_m"][0], le=LIMITS["distance_m"][1], description="Its distance."
    )
    lens_m: float | None = Field(
        None, ge=LIMITS["lens_m"][0], le=LIMITS["lens_m"][1], description="Height of the lens."
    )
    stray: float = Field(
        0.0,
        ge=LIMITS["stray"][0],
        le=LIMITS["stray"][1],
        description="Share of the stabiliser's travel that the sensor is aside.",
    )
    desqueeze: bool = False


class _Picture(_FrameAsked):
    """The same, drawn."""

    rows: Literal["300", "600"] = "600"


def _asked(question: _FrameAsked) -> FrameQuestion:
    subject = None
    given = (question.subject_m, question.distance_m, question.lens_m)
    if any(value is not None for value in given):
        if question.subject_m is None or question.distance_m is None or question.lens_m is None:
            raise NotPossibleError("subject_m", "a subject needs its height, its distance and the height of the lens")
        subject = SubjectAt(question.subject_m, question.distance_m, question.lens_m)
    shift = None
    if question.shift_x is not None or question.shift_y is not None:
        shift = (question.shift_x or 0.0, question.shift_y or 0.0)
    return FrameQuestion(
        scene=question.scene,
        at_m=math.inf if question.at_infinity else question.at_m,
        focal_length_mm=question.mm,
        f_number=question.aperture,
        mode=question.mode,
        upright=question.upright,
        shift_mm=shift,
        tilt_deg=question.tilt,
        correct=question.correct,
        subject=subject,
        stray=question.stray,
        desqueeze=question.desqueeze,
    )


def _frame(question: _FrameAsked, practice: Practice, collection: Collection) -> Frame:
    world = world_with(collection.world(), question.lens)
    return frame_of(world, question.rig, _asked(question), practice)


@router.get("", response_model=FrameReport)
def get_frame(question: Annotated[_FrameAsked, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """Every number of a frame: blur, coverage by mode, shift, tilt, depth; and what of it is assumed."""
    return Response(_REPORT.dump_json(_frame(question, practice, collection).report), media_type="application/json")


@router.get(
    "/picture",
    response_class=Response,
    responses={200: {"content": {"image/png": {}}, "description": "The picture."}, 204: {"description": "None."}},
)
def get_frame_picture(
    question: Annotated[_Picture, Query()], practice: PracticeOf, collection: CollectionOf
) -> Response:
    """What the sensor would record, as PNG; nothing where the rig does not work. The address seeds the grain."""
    frame = _frame(question, practice, collection)
    seed = seed_of(question.model_dump_json(exclude={"rows"}))
    data = picture_of(frame, int(question.rows), seed)
    if data is None:
        return Response(status_code=204)
    return Response(data, media_type="image/png", headers={"cache-control": "private, no-cache"})


@router.get("/sighting")
def get_sighting(
    collection: CollectionOf,
    lens: Id,
    body: Id,
    way: Way,
    via: Ids = "",
    mode: Annotated[str, Query(max_length=120)] | None = None,
    clean: Annotated[float | None, Query(ge=0, le=100, allow_inf_nan=False)] = None,
    dark: Annotated[float | None, Query(ge=0, le=100, allow_inf_nan=False)] = None,
) -> Sighted:
    """The image circle by where a corner was still clean and where it was first dark."""
    world = world_with(collection.world(), lens)
    return sighted(world, Rig(lens, body, ids_in(via)), way=way, clean=clean, dark=dark, mode=mode)
