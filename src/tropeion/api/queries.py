"""What a query carries: the practice as one parameter, and no name that its operation does not declare."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Coroutine
from typing import Annotated, Any

from fastapi import APIRouter, Depends, FastAPI, Request, Response
from fastapi.dependencies.models import Dependant
from fastapi.exceptions import RequestValidationError
from fastapi.openapi.utils import get_openapi
from fastapi.routing import APIRoute
from pydantic import BaseModel, ValidationError

from tropeion.core.practice import Practice

from .problems import RESPONSES

_OPEN, _CLOSE = "practice[", "]"
_PARAMETER = {
    "name": "practice",
    "in": "query",
    "required": False,
    "style": "deepObject",
    "explode": True,
    "description": "The practice that answers are given under, as practice[trust]=cautious; left out: the usual.",
    "schema": {"$ref": "#/components/schemas/Practice"},
}


def _practice(request: Request) -> Practice:
    chosen = {
        name[len(_OPEN) : -len(_CLOSE)]: value
        for name, value in request.query_params.items()
        if name.startswith(_OPEN) and name.endswith(_CLOSE)
    }
    try:
        return Practice.model_validate(chosen)
    except ValidationError as error:
        raise RequestValidationError(
            [{**this_error, "loc": ("query", "practice", *this_error["loc"])} for this_error in error.errors()]
        ) from None


# In the query as ``practice[KEY]=VALUE`` (OpenAPI's deepObject); what is left out is usual.
PracticeOf = Annotated[Practice, Depends(_practice)]


def _takes_practice(dependant: Dependant) -> bool:
    return any(needed.call is _practice or _takes_practice(needed) for needed in dependant.dependencies)


def _declared(dependant: Dependant) -> set[str]:
    names: set[str] = set()
    for field in dependant.query_params:
        model = field.field_info.annotation
        if isinstance(model, type) and issubclass(model, BaseModel):
            names |= model.model_fields.keys()
        else:
            names.add(field.alias)
    return names.union(*(_declared(needed) for needed in dependant.dependencies))


class DeclaredRoute(APIRoute):
    """An operation that refuses a parameter which it does not declare: a misspelt one would be taken for one left out.

    The refusal names the declared one that is nearest.
    """

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handle = super().get_route_handler()
        declared, practice = _declared(self.dependant), _takes_practice(self.dependant)

        async def checked(request: Request) -> Response:
            unknown = [
                name
                for name in request.query_params
                if name not in declared and not (practice and name.startswith(_OPEN))
            ]
            if unknown:
                raise RequestValidationError([_unknown(name, declared, practice=practice) for name in unknown])
            return await handle(request)

        return checked


def resource(prefix: str, tag: str) -> APIRouter:
    """The router of a resource, whose operations are called as their functions are."""
    named: Callable[[APIRoute], str] = lambda route: route.name  # noqa: E731
    return APIRouter(
        prefix=prefix, tags=[tag], responses=RESPONSES, route_class=DeclaredRoute, generate_unique_id_function=named
    )


def _unknown(name: str, declared: set[str], *, practice: bool) -> dict[str, Any]:
    near = difflib.get_close_matches(name, declared, 1)
    if practice and name in Practice.model_fields:
        near = [f"{_OPEN}{name}{_CLOSE}"]
    hint = f"; nearest is “{near[0]}”" if near else ""
    return {"type": "unknown_parameter", "loc": ("query", name), "msg": f"no such parameter{hint}"}


def install(app: FastAPI) -> None:
    """Declare the practice in the OpenAPI document, once, with a reference from each operation that takes it."""

    def document() -> dict[str, Any]:
        if app.openapi_schema is None:
            made = get_openapi(title=app.title, version=app.version, routes=app.routes)
            made["components"].setdefault("parameters", {})["Practice"] = _PARAMETER
            for route in app.routes:
                if isinstance(route, APIRoute) and _takes_practice(route.dependant):
                    for method in route.methods or ():
                        operation = made["paths"][route.path_format][method.lower()]
                        operation.setdefault("parameters", []).append({"$ref": "#/components/parameters/Practice"})
            app.openapi_schema = made
        return app.openapi_schema

    app.openapi = document  # type: ignore[method-assign]
