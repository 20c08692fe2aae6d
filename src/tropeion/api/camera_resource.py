"""The camera that a rig is put on: worked on, and a card rehearsed on it."""

from __future__ import annotations

from typing import Annotated, Any, cast

from fastapi import Query, Request
from pydantic import BaseModel

from tropeion.core.camera.rehearsal import Rehearsal, rehearsed
from tropeion.core.camera.state import CameraState
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.practice import Practice
from tropeion.core.setup.camera_controls import Controls, controls_of
from tropeion.core.setup.rehearse import Rehearsed, to_rehearse
from tropeion.devices.cameras import Cameras
from tropeion.devices.line import LineError
from tropeion.devices.protocol import NotDoneError, Verb

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, OfRig

router = resource("/api/v1/camera", "camera")


class Done(BaseModel):
    """What is done to the camera, in the words of its protocol; what is attached is the rig that is asked about."""

    do: Verb
    value: Any = None


class CameraReport(BaseModel):
    """How the camera stands, what it is worked by, and how far the card has come. ``says``: why it did not do it.

    ``stored_name`` is what the rig is called in its places, ``rig`` what it is told by when it
    is on. ``state`` is None for a rig that must not be put together.
    """

    state: CameraState | None
    controls: Controls
    rehearsal: Rehearsal | None
    stored_name: str
    rig: str | None
    says: str


def _report(found: Rehearsed, practice: Practice, state: CameraState | None, says: str = "") -> CameraReport:
    rehearsal = None if state is None else rehearsed(found.steps, state, practice)
    use = practice.use if state is None else state.use
    return CameraReport(
        state=state,
        controls=controls_of(found.body, use),
        rehearsal=rehearsal,
        stored_name=found.stored_name,
        rig=found.attached.rig if found.attached else None,
        says=says,
    )


def _cameras(request: Request) -> Cameras:
    return cast(Cameras, request.app.state.cameras)


def _found(question: OfRig, practice: Practice, collection: CollectionOf) -> Rehearsed:
    return to_rehearse(collection.world(), question.rig, practice)


@router.get("")
def get_camera(
    question: Annotated[OfRig, Query()], practice: PracticeOf, collection: CollectionOf, request: Request
) -> CameraReport:
    """How the camera of a body stands, beside the card of a rig."""
    all_rehearsed = _found(question, practice, collection)
    if all_rehearsed.attached is None:
        return _report(all_rehearsed, practice, None, all_rehearsed.sentence)
    try:
        return _report(all_rehearsed, practice, _cameras(request).state(all_rehearsed.body))
    except LineError as error:
        raise NotPossibleError("body", str(error)) from None


@router.post("")
def post_camera(
    done: Done, question: Annotated[OfRig, Query()], practice: PracticeOf, collection: CollectionOf, request: Request
) -> CameraReport:
    """Do something to the camera: a switch, a menu, the swap, the release."""
    all_rehearsed, cameras = _found(question, practice, collection), _cameras(request)
    if all_rehearsed.attached is None:
        return _report(all_rehearsed, practice, None, all_rehearsed.sentence)
    value = done.value
    if done.do == "attach":
        value = all_rehearsed.attached.model_dump(mode="json")
    elif done.do == "begin":
        value = all_rehearsed.attached.focal_length_mm
    try:
        try:
            return _report(all_rehearsed, practice, cameras.ask(all_rehearsed.body, done.do, value))
        except NotDoneError as error:
            return _report(all_rehearsed, practice, cameras.ask(all_rehearsed.body, "state"), str(error))
    except LineError as error:
        raise NotPossibleError("body", str(error)) from None
