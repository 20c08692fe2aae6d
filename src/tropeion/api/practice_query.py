"""The practice in a query: one parameter, declared once."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Depends, FastAPI, Request
from fastapi.dependencies.models import Dependant
from fastapi.exceptions import RequestValidationError
from fastapi.openapi.utils import get_openapi
from fastapi.routing import APIRoute
from pydantic import ValidationError

from tropeion.core.practice import Practice

OPEN, CLOSE = "practice[", "]"
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
        name[len(OPEN) : -len(CLOSE)]: value
        for name, value in request.query_params.items()
        if name.startswith(OPEN) and name.endswith(CLOSE)
    }
    try:
        return Practice.model_validate(chosen)
    except ValidationError as error:
        raise RequestValidationError(
            [{**wrong, "loc": ("query", "practice", *wrong["loc"])} for wrong in error.errors()]
        ) from None


# In the query as ``practice[KEY]=VALUE`` (OpenAPI's deepObject); what is left out is usual.
PracticeOf = Annotated[Practice, Depends(_practice)]


def takes_practice(dependant: Dependant) -> bool:
    return any(needed.call is _practice or takes_practice(needed) for needed in dependant.dependencies)


def install(app: FastAPI) -> None:
    """Declare the practice in the OpenAPI document, once, with a reference from each operation that takes it."""

    def document() -> dict[str, Any]:
        if app.openapi_schema is None:
            made = get_openapi(title=app.title, version=app.version, routes=app.routes)
            made["components"].setdefault("parameters", {})["Practice"] = _PARAMETER
            for route in app.routes:
                if isinstance(route, APIRoute) and takes_practice(route.dependant):
                    for method in route.methods or ():
                        operation = made["paths"][route.path_format][method.lower()]
                        operation.setdefault("parameters", []).append({"$ref": "#/components/parameters/Practice"})
            app.openapi_schema = made
        return app.openapi_schema

    app.openapi = document  # type: ignore[method-assign]
