"""What fits one end; which generation a lens is of."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import model_validator

from tropeion.core.answers.fits import FitsReport, what_fits
from tropeion.core.joints.key import Answer, KeyReport, identify
from tropeion.core.practice import Practice

from .problems import RESPONSES, FieldProblem, Problem, RefusedError
from .shared import CollectionOf, Id, practice_in

__all__ = ["router"]

router = APIRouter(prefix="/api/v1", tags=["fits"], responses=RESPONSES)


class _End(Practice):
    """The given end: a lens or a body."""

    lens: Id | None = None
    body: Id | None = None

    @model_validator(mode="after")
    def _one_end(self) -> _End:
        if (self.lens is None) == (self.body is None):
            raise ValueError("give a lens or a body, not both")
        return self


@router.get("/fits")
def get_fits(end: Annotated[_End, Query()], collection: CollectionOf) -> FitsReport:
    """Every body for a lens, or every lens for a body, with its best route; best first."""
    return what_fits(collection.world(), lens=end.lens, body=end.body, practice=practice_in(end))


Features = Annotated[str, Query(max_length=2000, description="Feature ids, joined by commas")]


@router.get("/mounts/{id}/key")
def get_key(
    id: Id,
    collection: CollectionOf,
    yes: Features = "",
    no: Features = "",
    unknown: Features = "",
    side: Literal["lens", "body"] = "lens",
) -> KeyReport:
    """Which generation it is: what is seen, what is not, and what cannot be seen; with the next question."""
    given: tuple[tuple[Answer, str], ...] = (("yes", yes), ("no", no), ("unknown", unknown))
    answers: dict[str, Answer] = {}
    for answer, ids in given:
        for part in ids.split(","):
            if part.strip():
                answers[part.strip()] = answer
    world = collection.world()
    known = [feature.id for feature in world.mount(id).features if feature.side == side]
    wrong = [id_ for id_ in answers if id_ not in known]
    if wrong:
        errors = [FieldProblem(place=id_, message=f"no {side} feature of '{id}' has this id") for id_ in wrong]
        raise RefusedError(
            Problem(title="Unknown feature", status=422, detail=errors[0].message, errors=errors, near=known)
        )
    return identify(world, id, answers, side)
