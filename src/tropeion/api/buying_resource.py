"""Beside a plan: adapt or buy native, the variants of one ring, filters and their rings."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.world import MountlessError
from tropeion.core.optics.modes import modes_of
from tropeion.core.plan.filter_plan import (
    FilterPlan,
    Light,
    StopsReport,
    best_size,
    filter_plan,
    sizes_of,
    stops_report,
)
from tropeion.core.plan.native import AdaptOrNative, adapt_or_native
from tropeion.core.plan.program import Run
from tropeion.core.plan.variants import VariantsReport, variants_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import PlanQuestion

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Written

router = resource("/api/v1/buying", "plans")

Ids = Annotated[list[Id], Field(min_length=1, max_length=60)]
# Seconds to wait for a figure beside the plan.
_SECONDS = 3.0


class _VariantsOf(BaseModel):
    lens: Id
    body: Id


class PlanAsked(Written):
    """The lenses of a plan on one body, within what the plan allows."""

    question: PlanQuestion
    body: Id
    practice: Practice


class FiltersAsked(Written):
    """Lenses, the body that they go before, the filter size; without one the size that costs least."""

    lenses: Ids
    body: Id
    size_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    dim_ev: Annotated[float, Field(ge=-6, le=24)] = 5.0
    bright_ev: Annotated[float, Field(ge=-6, le=24)] = 15.0
    shutter_s: Annotated[float, Field(gt=0, le=3600)] = 0.02
    f_number: Annotated[float, Field(ge=0.5, le=128)] = 2.8
    iso: Annotated[float, Field(ge=1, le=10_000_000)] = 100.0


class FiltersPage(BaseModel):
    """The rings to one size, and the filters for the light."""

    sizes_mm: tuple[float, ...]
    plan: FilterPlan
    stops: StopsReport
    currency: str


@router.post("/options")
def post_options(asked: PlanAsked, collection: CollectionOf) -> AdaptOrNative:
    """Adapt or buy native, for each lens of a plan on one body, and what both come to in all."""
    return adapt_or_native(collection.world(), asked.question, asked.body, asked.practice, Run(_SECONDS))


@router.get("/variants")
def get_variants(
    asked: Annotated[_VariantsOf, Query()], practice: PracticeOf, collection: CollectionOf
) -> VariantsReport:
    """The variants of one ring, for one pair."""
    try:
        return variants_of(collection.world(), asked.lens, asked.body, practice)
    except MountlessError as error:
        raise NotPossibleError("lens", str(error)) from None


@router.post("/filters")
def post_filters(asked: FiltersAsked, collection: CollectionOf) -> FiltersPage:
    """One filter size for some lenses; fixed filters against variable ones in one light."""
    world = collection.world()
    lenses = [world.lens(id_) for id_ in dict.fromkeys(asked.lenses)]
    sizes = sizes_of(world, lenses)
    body = world.body(asked.body)
    diagonal = max(mode.diagonal_mm for mode in modes_of(body, "still"))
    size = asked.size_mm or best_size(world, lenses, diagonal)
    if size is None:
        raise NotPossibleError("lenses", "nobody said what filter threads they have")
    plan = filter_plan(world, lenses, size, diagonal)
    widest = max((lens.view_deg for lens in plan.lenses), default=None)
    light = Light(asked.dim_ev, asked.bright_ev, asked.shutter_s, asked.f_number, asked.iso)
    return FiltersPage(
        sizes_mm=sizes, plan=plan, stops=stops_report(world, light, widest, size), currency=world.gear.currency
    )
