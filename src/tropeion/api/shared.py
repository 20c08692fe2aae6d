"""What the resources share."""

from __future__ import annotations

from typing import Annotated, cast

from fastapi import Depends, Request
from pydantic import StringConstraints

from tropeion.store.collection import Collection

__all__ = ["CollectionOf", "Id"]

Id = Annotated[str, StringConstraints(min_length=1, max_length=64)]


def _collection(request: Request) -> Collection:
    return cast(Collection, request.app.state.collection)


CollectionOf = Annotated[Collection, Depends(_collection)]
