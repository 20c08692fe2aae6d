"""Errors as problem+json (RFC 9457), each naming the field and what would be right."""

from __future__ import annotations

import json
import re
from collections.abc import Awaitable, Callable, Iterable
from typing import Any, Literal

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from tropeion.core.answers.beginning import UnreadableError
from tropeion.core.asking import NobodyAsksError
from tropeion.core.exercises.question import CannotAskError
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import User
from tropeion.core.gear.references import ReferenceProblem as Place
from tropeion.core.gear.refusals import worded
from tropeion.core.gear.world import MountlessError, UnknownIdError, UnknownRegisterError
from tropeion.formats.entries import entry_document
from tropeion.formats.gear_reading import GearFileError
from tropeion.pictures.desk import UnknownPictureError
from tropeion.pictures.folders import FolderError
from tropeion.pictures.library import UnknownFolderError
from tropeion.store.errors import (
    BusyError,
    FullError,
    InUseError,
    MovedError,
    ReadOnlyError,
    RecordMovedError,
    StaleError,
    StoreError,
    UnknownRecordError,
)


class FieldProblem(BaseModel):
    """One thing that is wrong."""

    place: str
    message: str
    hint: str = ""


ProblemType = Literal[
    "bad_request",
    "busy",
    "fault",
    "full",
    "in_use",
    "invalid",
    "mountless",
    "moved",
    "not_allowed",
    "not_known",
    "not_kept",
    "other_host",
    "other_site",
    "read_only",
    "refused_file",
    "stale",
    "store",
    "too_large",
    "unknown_id",
    "unknown_part",
    "unknown_path",
    "unpaired",
]


class Problem(BaseModel):
    """What went wrong; ``type`` tells a program, the rest tells a person.

    ``near`` offers ids that exist where one did not; ``users`` tells who needs what was to go; ``current`` and
    ``version`` are the item as somebody else left it (None if it is gone).
    """

    type: ProblemType
    title: str
    status: int
    detail: str = ""
    errors: list[FieldProblem] = []
    kind: str | None = None
    id: str | None = None
    near: list[str] = []
    users: list[User] = []
    current: dict[str, Any] | None = None
    version: int | None = None


ON_THE_MACHINE = Problem(
    type="not_allowed", title="Not from this device", status=403, detail="This is done on the machine itself"
)
_SCHEMA = {"content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}}
RESPONSES: dict[int | str, dict[str, object]] = {
    404: {"description": "An id that is not in the collection", "model": Problem, **_SCHEMA},
    409: {"description": "Changed meanwhile, or in use", "model": Problem, **_SCHEMA},
    422: {"description": "Input that is refused", "model": Problem, **_SCHEMA},
}


class RefusedError(Exception):
    """A refusal that a resource words itself."""

    def __init__(self, found: Problem) -> None:
        super().__init__(found.title)
        self.problem = found


def problem(found: Problem) -> Response:
    """The response for a problem."""
    # In ASCII: a lone surrogate in quoted input must not prevent the answer.
    body = json.dumps(found.model_dump(mode="json"))
    return Response(body, status_code=found.status, media_type="application/problem+json")


def _place(location: tuple[object, ...]) -> str:
    parts = [str(part) for part in location if part not in {"query", "path", "body"}]
    return ".".join(parts) or "body"


def _refused(errors: list[FieldProblem], title: str = "The request is not valid") -> Problem:
    return Problem(type="invalid", title=title, status=422, detail=errors[0].message, errors=errors)


def _invalid(error: RequestValidationError) -> Problem:
    return _refused([FieldProblem(place=_place(e["loc"]), message=worded(e)) for e in error.errors()])


def _unknown(error: UnknownIdError) -> Problem:
    told, kind = str(error), error.kind
    errors = [FieldProblem(place=kind, message=told)]
    near, title = list(error.near), f"Unknown {kind}"
    return Problem(
        type="unknown_id", title=title, status=404, detail=told, errors=errors, kind=kind, id=error.id, near=near
    )


def _unknown_record(error: UnknownRecordError) -> Problem:
    title, detail = f"No such {error.called}", str(error)
    return Problem(type="unknown_id", title=title, status=404, detail=detail, kind=error.called, id=error.id)


def _mountless(error: MountlessError) -> Problem:
    title = "A lens without a mount"
    return Problem(type="mountless", title=title, status=422, detail=str(error), kind="lenses", id=error.id)


def _unmeasured(error: UnknownRegisterError) -> Problem:
    return Problem(type="not_known", title="A distance that is not known", status=422, detail=str(error))


def _cannot_ask(error: CannotAskError) -> Problem:
    return Problem(type="not_known", title="No such question", status=422, detail=str(error))


def _no_folder(error: UnknownFolderError) -> Problem:
    title = "No such folder or picture"
    return Problem(type="unknown_id", title=title, status=404, detail=str(error), kind="folder")


def _no_picture(error: UnknownPictureError) -> Problem:
    return Problem(type="unknown_id", title="No such picture", status=404, detail=str(error))


def _folder(error: FolderError) -> Problem:
    return _refused([FieldProblem(place="folder", message=str(error))])


def _unreadable(error: UnreadableError | NotPossibleError) -> Problem:
    return _refused([FieldProblem(place=error.field, message=str(error))])


def _refused_file(error: GearFileError) -> Problem:
    errors = [FieldProblem(place=p.place, message=p.message, hint=p.hint) for p in error.problems]
    detail = f"{len(errors)} {'error' if len(errors) == 1 else 'errors'}; nothing was written"
    return Problem(type="refused_file", title="The file is refused", status=422, detail=detail, errors=errors)


def refuse_references(problems: Iterable[Place], kind: Kind) -> RefusedError:
    """A single item that refers to nothing: places are its fields."""
    field = re.compile(rf"^{kind}\[\d+\]\.")
    errors = [FieldProblem(place=field.sub("", one.place), message=one.message, hint=one.hint) for one in problems]
    return RefusedError(_refused(errors, "It does not fit into the collection"))


def _stale(error: StaleError) -> Problem:
    current = None if error.current is None else entry_document(error.current)
    detail = f"'{error.id}' is there already" if error.current is not None else f"'{error.id}' was removed meanwhile"
    if error.current is not None and error.version > 1:
        detail = f"'{error.current.name}' was changed meanwhile, in another window or by another program"
    return _meanwhile(f"{detail}; nothing was written", error.kind, error.id, current, error.version)


def _record_moved(error: RecordMovedError) -> Problem:
    detail = "It was changed meanwhile, in another window or by another program; nothing was written"
    current = error.current.model_dump(mode="json")
    return _meanwhile(detail, error.kind, error.current.id, current, error.version)


def _meanwhile(detail: str, kind: str, id_: str, current: dict[str, Any] | None, version: int) -> Problem:
    stands = {"kind": kind, "id": id_, "current": current, "version": version}
    return Problem.model_validate(
        {"type": "stale", "title": "Changed meanwhile", "status": 409, "detail": detail, **stands}
    )


def _moved(_: MovedError) -> Problem:
    detail = "The collection changed since it was looked at; nothing was written. Look at it again"
    return Problem(type="moved", title="Changed meanwhile", status=409, detail=detail)


def _in_use(error: InUseError) -> Problem:
    users = list(error.users)
    more = f", and {len(users) - 1} more need it" if len(users) > 1 else ""
    detail = f"{users[0].name} {users[0].how}{more}. Archive it instead, or change what needs it first"
    return Problem(type="in_use", title="In use", status=409, detail=detail, kind=error.kind, id=error.id, users=users)


def _store(error: StoreError) -> Problem:
    of_kind = (told for kind, told in _STORE.items() if isinstance(error, kind))
    type_, title, status = next(of_kind, ("store", "The collection cannot be used", 422))
    return Problem(type=type_, title=title, status=status, detail=str(error))


_STORE: dict[type[StoreError], tuple[ProblemType, str, int]] = {
    BusyError: ("busy", "Somebody else is writing", 503),
    FullError: ("full", "No room to write", 507),
    ReadOnlyError: ("read_only", "The collection cannot be written", 403),
}


def _http(error: HTTPException) -> Problem:
    type_: ProblemType = "unknown_path" if error.status_code in {404, 405} else "bad_request"
    return Problem(type=type_, title=str(error.detail), status=error.status_code)


def _nobody(_: NobodyAsksError) -> Problem:
    # The client has disconnected and reads nothing.
    return Problem(type="busy", title="Nobody waits for this answer", status=503)


def _fault(_: Exception) -> Problem:
    # The server's log has the rest.
    detail = "Nothing was half written. Try again; if it comes back, keep what you did and the log of the terminal"
    return Problem(type="fault", title="An error in Tropeion", status=500, detail=detail)


_SAID: dict[type[Exception], Callable[[Any], Problem]] = {
    RequestValidationError: _invalid,
    UnknownIdError: _unknown,
    UnknownRecordError: _unknown_record,
    MountlessError: _mountless,
    UnknownRegisterError: _unmeasured,
    CannotAskError: _cannot_ask,
    UnreadableError: _unreadable,
    NotPossibleError: _unreadable,
    UnknownFolderError: _no_folder,
    FolderError: _folder,
    UnknownPictureError: _no_picture,
    GearFileError: _refused_file,
    RefusedError: lambda error: error.problem,
    StaleError: _stale,
    MovedError: _moved,
    RecordMovedError: _record_moved,
    InUseError: _in_use,
    StoreError: _store,
    HTTPException: _http,
    NobodyAsksError: _nobody,
    Exception: _fault,
}


def install(app: FastAPI) -> None:
    """Answer every known error with a problem."""

    def answering(said: Callable[[Any], Problem]) -> Callable[[Request, Exception], Awaitable[Response]]:
        async def answer(_: Request, error: Exception) -> Response:
            return problem(said(error))

        return answer

    for kind, said in _SAID.items():
        app.add_exception_handler(kind, answering(said))
