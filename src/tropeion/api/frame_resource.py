"""The simulated frame: its numbers, its picture, and what a dark corner says of a circle."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import Field, TypeAdapter

from tropeion.core.answers.shop import world_with
from tropeion.core.frame.frame_report import Frame, FrameReport
from tropeion.core.frame.question import FrameQuestion, NotPossibleError, SubjectAt
from tropeion.core.frame.scenes import SceneName
from tropeion.core.frame.sighting import Sighted, Way, sighted
from tropeion.core.frame.simulated import frame_of, seed_of
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.practice import Practice
from tropeion.formats.frame_png import picture_of
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import (
    Aperture,
    CollectionOf,
    FocalLength,
    Id,
    Ids,
    LensHeight,
    OfRig,
    Shift,
    SubjectDistance,
    SubjectHeight,
    within,
)

_REPORT = TypeAdapter(FrameReport)
router = resource("/api/v1/frame", "frame")


class _FrameAsked(OfRig):
    """A rig and how it is set; what is left out is usual."""

    scene: SceneName = "facade"
    at_m: Annotated[float, within("at_m")] | None = None
    at_infinity: bool = Field(False, description="Focused at infinity, instead of at_m.")
    mm: FocalLength | None = Field(None, description="A zoom's setting, as engraved.")
    aperture: Aperture | None = Field(None, description="The marked aperture.")
    mode: Annotated[str, Query(max_length=120)] | None = None
    upright: bool = False
    shift_x: Shift | None = None
    shift_y: Shift | None = None
    tilt: Annotated[float, within("tilt_deg")] = 0.0
    correct: Annotated[float, within("correct")] | None = None
    subject_m: SubjectHeight | None = Field(None, description="Height of the subject.")
    distance_m: SubjectDistance | None = Field(None, description="Its distance.")
    lens_m: LensHeight | None = Field(None, description="Height of the lens.")
    stray: Annotated[float, within("stray")] = Field(0.0, description="Share of the stabiliser's travel aside.")
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
