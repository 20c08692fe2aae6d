"""What fits one end."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, model_validator

from tropeion.core.answers.fits import FitsReport, what_fits

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id

router = resource("/api/v1", "fits")


class _End(BaseModel):
    """The given end: a lens or a body."""

    lens: Id | None = None
    body: Id | None = None

    @model_validator(mode="after")
    def _one_end(self) -> _End:
        if (self.lens is None) == (self.body is None):
            raise ValueError("give a lens or a body, not both")
        return self


@router.get("/fits")
def get_fits(end: Annotated[_End, Query()], practice: PracticeOf, collection: CollectionOf) -> FitsReport:
    """Every body for a lens, or every lens for a body, with its best route; best first."""
    return what_fits(collection.world(), lens=end.lens, body=end.body, practice=practice)
