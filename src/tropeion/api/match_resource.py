"""One pair: its routes, and the working of one route."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response
from pydantic import BaseModel, Field, TypeAdapter

from tropeion.core.answers.distance_range import DistanceRange, distance_range
from tropeion.core.answers.route_list import RouteList, route_list
from tropeion.core.answers.shop import world_with
from tropeion.core.frozen import frozen
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.routes.match import show_working
from tropeion.core.working import Step

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Ids

_LIST = TypeAdapter(RouteList)
router = resource("/api/v1/match", "match")


@frozen
class WorkedRoute:
    """Every step of the computation of one route, in order."""

    lens: str
    body: str
    adapters: tuple[str, ...]
    steps: tuple[Step, ...]


class _PairAsked(BaseModel):
    """The query of a match: the pair and the chain."""

    lens: Id
    body: Id
    via: Ids | None = None
    everything: bool = Field(False, description="With the routes that another beats in everything.")


@router.get("", response_model=RouteList)
def get_match(question: Annotated[_PairAsked, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """Judge a pair: every route that nothing beats in everything in a line, best first, and the first in full.

    With ``via`` that one chain, whatever it is, in full; empty means bare.
    """
    world = world_with(collection.world(), question.lens)
    via = None if question.via is None else ids_in(question.via)
    told = route_list(world, question.lens, question.body, practice, via, everything=question.everything)
    # The core's own report needs no second validation on its way out, which would cost more than the answer.
    return Response(_LIST.dump_json(told), media_type="application/json")


@router.get("/distance")
def get_distance(
    question: Annotated[_PairAsked, Query()], practice: PracticeOf, collection: CollectionOf
) -> DistanceRange | None:
    """What the pair may come to where a flange focal distance is not known; null where both are known."""
    world = world_with(collection.world(), question.lens)
    lens, body = world.lens(question.lens), world.body(question.body)
    return distance_range(world, lens, body, practice)


@router.get("/working")
def get_working(
    question: Annotated[_PairAsked, Query()], practice: PracticeOf, collection: CollectionOf
) -> WorkedRoute:
    """The working of every number of one route; ``via`` absent or empty means bare."""
    via = ids_in(question.via or "")
    world = world_with(collection.world(), question.lens)
    steps = show_working(world, Rig(question.lens, question.body, via), practice)
    return WorkedRoute(question.lens, question.body, via, steps)
