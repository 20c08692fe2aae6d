"""The router of a resource: what it refuses, and how its operations are called."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Coroutine
from typing import Any

from fastapi import APIRouter, Request, Response
from fastapi.dependencies.models import Dependant
from fastapi.exceptions import RequestValidationError
from fastapi.routing import APIRoute
from pydantic import BaseModel

from tropeion.core.practice import Practice

from .practice_query import CLOSE, OPEN, takes_practice
from .problems import RESPONSES


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
        declared, practice = _declared(self.dependant), takes_practice(self.dependant)

        async def checked(request: Request) -> Response:
            unknown = [
                name
                for name in request.query_params
                if name not in declared and not (practice and name.startswith(OPEN))
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
        near = [f"{OPEN}{name}{CLOSE}"]
    hint = f"; nearest is “{near[0]}”" if near else ""
    return {"type": "unknown_parameter", "loc": ("query", name), "msg": f"no such parameter{hint}"}
