"""Errors as problem+json (RFC 9457), each naming the field and what would be right."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from typing import Any, Literal

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from tropeion.core.answers.beginning import UnreadableError
from tropeion.core.asking import NobodyAsksError
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import User
from tropeion.core.gear.references import ReferenceProblem as Place
from tropeion.core.gear.refusals import worded
from tropeion.core.gear.world import MountlessError, UnknownIdError, UnknownRegisterError
from tropeion.formats.entries import entry_document
from tropeion.formats.gear_reading import GearFileError
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
    # In ASCII: half a character in what is quoted must not keep the answer back.
    body = json.dumps(found.model_dump(mode="json"))
    return Response(body, status_code=found.status, media_type="application/problem+json")


def _place(location: tuple[object, ...]) -> str:
    parts = [str(part) for part in location if part not in {"query", "path", "body"}]
    return ".".join(parts) or "body"


async def _invalid(_: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    errors = [FieldProblem(place=_place(e["loc"]), message=worded(e)) for e in error.errors()]
    return problem(
        Problem(type="invalid", title="The request is not valid", status=422, detail=errors[0].message, errors=errors)
    )


async def _unknown(_: Request, error: Exception) -> Response:
    assert isinstance(error, UnknownIdError)
    place = FieldProblem(place=error.kind, message=str(error))
    return problem(
        Problem(
            type="unknown_id",
            title=f"Unknown {error.kind}",
            status=404,
            detail=str(error),
            errors=[place],
            kind=error.kind,
            id=error.id,
            near=list(error.near),
        )
    )


async def _unknown_record(_: Request, error: Exception) -> Response:
    assert isinstance(error, UnknownRecordError)
    title, detail = f"No such {error.called}", str(error)
    return problem(Problem(type="unknown_id", title=title, status=404, detail=detail, kind=error.called, id=error.id))


async def _mountless(_: Request, error: Exception) -> Response:
    assert isinstance(error, MountlessError)
    title = "A lens without a mount"
    return problem(Problem(type="mountless", title=title, status=422, detail=str(error), kind="lenses", id=error.id))


async def _unmeasured(_: Request, error: Exception) -> Response:
    title = "A distance that is not known"
    return problem(Problem(type="not_known", title=title, status=422, detail=str(error)))


async def _unreadable(_: Request, error: Exception) -> Response:
    assert isinstance(error, UnreadableError | NotPossibleError)
    errors = [FieldProblem(place=error.field, message=str(error))]
    return problem(
        Problem(type="invalid", title="The request is not valid", status=422, detail=str(error), errors=errors)
    )


async def _refused(_: Request, error: Exception) -> Response:
    assert isinstance(error, GearFileError)
    errors = [FieldProblem(place=p.place, message=p.message, hint=p.hint) for p in error.problems]
    detail = f"{len(errors)} {'error' if len(errors) == 1 else 'errors'}; nothing was written"
    return problem(
        Problem(type="refused_file", title="The gear file is refused", status=422, detail=detail, errors=errors)
    )


def refuse_references(problems: Iterable[Place], kind: Kind) -> RefusedError:
    """A single item that refers to nothing: places are its fields."""
    field_problems = [
        FieldProblem(place=re.sub(rf"^{kind}\[\d+\]\.", "", problem.place), message=problem.message, hint=problem.hint)
        for problem in problems
    ]
    return RefusedError(
        Problem(
            type="invalid",
            title="It does not fit into the collection",
            status=422,
            detail=field_problems[0].message,
            errors=field_problems,
        )
    )


async def _stale(_: Request, error: Exception) -> Response:
    assert isinstance(error, StaleError)
    current = None if error.current is None else entry_document(error.current)
    detail = f"'{error.id}' is there already" if error.current is not None else f"'{error.id}' was removed meanwhile"
    if error.current is not None and error.version > 1:
        detail = f"'{error.current.name}' was changed meanwhile, in another window or by another program"
    return problem(
        Problem(
            type="stale",
            title="Changed meanwhile",
            status=409,
            detail=f"{detail}; nothing was written",
            kind=error.kind,
            id=error.id,
            current=current,
            version=error.version,
        )
    )


async def _record_moved(_: Request, error: Exception) -> Response:
    assert isinstance(error, RecordMovedError)
    return problem(
        Problem(
            type="stale",
            title="Changed meanwhile",
            status=409,
            detail="It was changed meanwhile, in another window or by another program; nothing was written",
            kind=error.kind,
            id=error.current.id,
            current=error.current.model_dump(mode="json"),
            version=error.version,
        )
    )


async def _moved(_: Request, __: Exception) -> Response:
    detail = "The collection changed since it was looked at; nothing was written. Look at it again"
    return problem(Problem(type="moved", title="Changed meanwhile", status=409, detail=detail))


async def _in_use(_: Request, error: Exception) -> Response:
    assert isinstance(error, InUseError)
    users = list(error.users)
    said = f"{users[0].name} {users[0].how}" + (f", and {len(users) - 1} more need it" if len(users) > 1 else "")
    return problem(
        Problem(
            type="in_use",
            title="In use",
            status=409,
            detail=f"{said}. Archive it instead, or change what needs it first",
            kind=error.kind,
            id=error.id,
            users=users,
        )
    )


async def _store(_: Request, error: Exception) -> Response:
    type_, title, status = next(
        (said for kind, said in _STORE.items() if isinstance(error, kind)),
        ("store", "The collection cannot be used", 422),
    )
    return problem(Problem(type=type_, title=title, status=status, detail=str(error)))


_STORE: dict[type[StoreError], tuple[ProblemType, str, int]] = {
    BusyError: ("busy", "Somebody else is writing", 503),
    FullError: ("full", "No room to write", 507),
    ReadOnlyError: ("read_only", "The collection cannot be written", 403),
}


async def _worded(_: Request, error: Exception) -> Response:
    assert isinstance(error, RefusedError)
    return problem(error.problem)


async def _http(_: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    type_: ProblemType = "unknown_path" if error.status_code in {404, 405} else "bad_request"
    return problem(Problem(type=type_, title=str(error.detail), status=error.status_code))


async def _nobody(_: Request, __: Exception) -> Response:
    # Nobody reads this: who asked has left.
    return problem(Problem(type="busy", title="Nobody waits for this answer", status=503))


async def _fault(_: Request, __: Exception) -> Response:
    # The server's log has the rest.
    detail = "Nothing was half written. Try again; if it comes back, keep what you did and the log of the terminal"
    return problem(Problem(type="fault", title="An error in Tropeion", status=500, detail=detail))


def install(app: FastAPI) -> None:
    """Answer every known error with a problem."""
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(UnknownIdError, _unknown)
    app.add_exception_handler(UnknownRecordError, _unknown_record)
    app.add_exception_handler(MountlessError, _mountless)
    app.add_exception_handler(UnknownRegisterError, _unmeasured)
    app.add_exception_handler(UnreadableError, _unreadable)
    app.add_exception_handler(NotPossibleError, _unreadable)
    app.add_exception_handler(GearFileError, _refused)
    app.add_exception_handler(RefusedError, _worded)
    app.add_exception_handler(StaleError, _stale)
    app.add_exception_handler(MovedError, _moved)
    app.add_exception_handler(RecordMovedError, _record_moved)
    app.add_exception_handler(InUseError, _in_use)
    app.add_exception_handler(StoreError, _store)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(NobodyAsksError, _nobody)
    app.add_exception_handler(Exception, _fault)
