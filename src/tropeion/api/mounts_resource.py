"""Mount systems: all on one ruler, one whole, and what may stand between two."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.answers.next_pieces import NextPieces, next_pieces
from tropeion.core.answers.systems import SystemPage, SystemsReport, system_page, systems_report
from tropeion.core.joints.key import identify
from tropeion.core.joints.key_report import Answer, KeyReport

from .grid_resource import GridsOf
from .practice_query import PracticeOf
from .problems import FieldProblem, Problem, RefusedError
from .resource import resource
from .shared import CollectionOf, Id

router = resource("/api/v1", "mounts")


@router.get("/mounts")
def get_mounts(practice: PracticeOf, collection: CollectionOf, grids: GridsOf) -> SystemsReport:
    """Every system, how each crosses with every other, and which look alike."""
    world = collection.world()
    return systems_report(world, practice, grids.could_of(world, practice))


@router.get("/mounts/{id}")
def get_mount(id: Id, collection: CollectionOf) -> SystemPage:
    """One system: generations, coupling parts, rules, what is held of it."""
    return system_page(collection.world(), id)


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
            Problem(
                type="unknown_part",
                title="Unknown feature",
                status=422,
                detail=errors[0].message,
                errors=errors,
                near=known,
            )
        )
    return identify(world, id, answers, side)


class _Joint(BaseModel):
    """A joint of a chain: the mounts before and behind it."""

    after: Id
    before: Id
    q: Annotated[str, Query(max_length=200)] = ""
    anything: bool = Field(False, description="With pieces that do not mate.")


@router.get("/joints")
def get_joint(joint: Annotated[_Joint, Query()], collection: CollectionOf) -> NextPieces:
    """What may come next in a chain that is put together by hand."""
    return next_pieces(collection.world(), joint.after, joint.before, joint.q, anything=joint.anything)
