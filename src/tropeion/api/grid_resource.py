"""The whole kit: every lens on every body; why; what a change would do; two bodies or two preferences compared."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Annotated, cast

from fastapi import Depends, Query, Request, Response
from pydantic import BaseModel, Field

from tropeion.core.answers.grid import Grid, GridReport, Standings, grid_of
from tropeion.core.answers.grid_change import (
    GridChange,
    GridDifference,
    LensDiffers,
    change_of_grid,
    difference_of,
    two_bodies,
)
from tropeion.core.answers.grid_why import Why, why_of
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.formats.grid_table import grid_csv
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Written, attached

router = resource("/api/v1/grid", "grid")


class Grids:
    """The latest grids, one a practice: a small change of the collection costs a small part of a new one."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._known: OrderedDict[str, Grid] = OrderedDict()

    def of(self, collection: Collection, practice: Practice) -> Grid:
        """The grid of the collection as it is now."""
        with self._lock:
            key, world = practice.model_dump_json(), collection.world()
            known = self._known.pop(key, None)
            if known is None or known.world is not world:
                known = grid_of(world, practice, known)
            self._known[key] = known
            while len(self._known) > 3:
                self._known.popitem(last=False)
            return known

    def could_of(self, world: World, practice: Practice) -> Standings | None:
        """How well every pair stands, where the grid of this world is known."""
        with self._lock:
            known = self._known.get(practice.model_dump_json())
            return known.could if known is not None and known.world is world else None


def _grids(request: Request) -> Grids:
    return cast(Grids, request.app.state.grids)


GridsOf = Annotated[Grids, Depends(_grids)]


class GridPage(BaseModel):
    """The grid, and the mounts by which it can be narrowed."""

    report: GridReport
    currency: str


class _CellAsked(BaseModel):
    """A lens on a body; without a body: on the one at hand that it could work best on."""

    lens: Id
    body: Id = ""


class _Bodies(BaseModel):
    one: Id
    other: Id


class ChangesAsked(Written):
    """Changes that are thought of together."""

    changes: Annotated[list[GridChange], Field(min_length=1, max_length=20)]
    practice: Practice


class Compared(Written):
    """Two preferences."""

    one: Practice
    other: Practice


@router.get("")
def get_grid(practice: PracticeOf, collection: CollectionOf, grids: GridsOf) -> GridPage:
    """Every lens on every body, with what is at hand and with all that is listed."""
    grid = grids.of(collection, practice)
    return GridPage(report=grid.report, currency=grid.world.gear.currency)


@router.get("/why")
def get_grid_why(
    asked: Annotated[_CellAsked, Query()], practice: PracticeOf, collection: CollectionOf, grids: GridsOf
) -> Why:
    """Why a lens does what it does on a body."""
    grid = grids.of(collection, practice)
    try:
        return why_of(grid, asked.lens, asked.body or None)
    except ValueError as error:
        raise NotPossibleError("lens", str(error)) from None


@router.post("/change")
def post_grid_change(asked: ChangesAsked, collection: CollectionOf, grids: GridsOf) -> GridDifference:
    """What some changes would do to what is at hand; nothing is changed."""
    try:
        return change_of_grid(grids.of(collection, asked.practice), asked.changes)
    except ValueError as error:
        raise NotPossibleError("changes", str(error)) from None


@router.post("/compare")
def post_grid_compare(asked: Compared, collection: CollectionOf, grids: GridsOf) -> GridDifference:
    """What another preference makes of the grid."""
    grid, other = grids.of(collection, asked.one), grids.of(collection, asked.other)
    return difference_of(grid.report, other.report)


@router.get("/bodies")
def get_grid_bodies(
    asked: Annotated[_Bodies, Query()], practice: PracticeOf, collection: CollectionOf, grids: GridsOf
) -> list[LensDiffers]:
    """The lenses that two bodies do not take alike."""
    world = collection.world()
    report = grids.of(collection, practice).report
    ends = [world.body(id_).id for id_ in (asked.one, asked.other)]
    known = {body.id for body in report.bodies}
    if not set(ends) <= known:
        raise NotPossibleError("one", "an archived body stands in no column")
    return list(two_bodies(report, *ends))


@router.get("/csv", response_class=Response)
def get_grid_csv(practice: PracticeOf, collection: CollectionOf, grids: GridsOf) -> Response:
    """The grid as a table, a row a pair."""
    return attached(
        grid_csv(grids.of(collection, practice).report).encode(), "whole-kit.csv", "text/csv; charset=utf-8"
    )
