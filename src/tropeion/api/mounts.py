"""Mount systems: all on one ruler, one whole, and what may stand between two."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from tropeion.core.answers.next_pieces import NextPieces, next_pieces
from tropeion.core.answers.systems import SystemPage, SystemsReport, system_page, systems_report
from tropeion.core.practice import Practice

from .problems import RESPONSES
from .shared import CollectionOf, Id

__all__ = ["router"]

router = APIRouter(prefix="/api/v1", tags=["mounts"], responses=RESPONSES)


@router.get("/mounts")
def get_mounts(practice: Annotated[Practice, Query()], collection: CollectionOf) -> SystemsReport:
    """Every system, how each crosses with every other, and which look alike."""
    return systems_report(collection.world(), practice)


@router.get("/mounts/{id}")
def get_mount(id: Id, collection: CollectionOf) -> SystemPage:
    """One system: generations, coupling parts, rules, what is held of it."""
    return system_page(collection.world(), id)


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
