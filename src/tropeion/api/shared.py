"""What the resources share."""

from __future__ import annotations

from typing import Annotated, cast

from fastapi import Depends, Request
from pydantic import StringConstraints

from tropeion.core.practice import Practice
from tropeion.store.collection import Collection

__all__ = ["CollectionOf", "Id", "practice_in"]

Id = Annotated[str, StringConstraints(min_length=1, max_length=64)]


def _collection(request: Request) -> Collection:
    return cast(Collection, request.app.state.collection)


CollectionOf = Annotated[Collection, Depends(_collection)]


def practice_in(question: Practice) -> Practice:
    """The practice alone, of a query that asks for more."""
    return Practice.model_validate(question.model_dump(include=set(Practice.model_fields)))
