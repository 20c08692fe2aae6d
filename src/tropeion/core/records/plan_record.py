"""A plan: what was asked, and what it came to when it was kept."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tropeion.core.findings import Grade
from tropeion.core.gear.field_types import Date, Id, Name, PieceId, Strict
from tropeion.core.practice import Practice

from .plan_question import PlanQuestion
from .record import Record

Money = Annotated[float, Field(ge=-100_000_000, le=100_000_000, allow_inf_nan=False)]


class KeptBuy(Strict):
    """A piece to buy at the price of that day; ``at_hand`` is how many there were already."""

    id: PieceId
    name: Name
    count: Annotated[int, Field(ge=1, le=10_000)]
    price: Money
    at_hand: Annotated[int, Field(ge=0)] = 0


class KeptServed(Strict):
    """A demand, by its place, and the rig that met it."""

    demand: Annotated[int, Field(ge=0)]
    lens: PieceId
    body: PieceId
    adapters: Annotated[tuple[Id, ...], Field(max_length=8)] = ()
    grade: Grade
    probability: Annotated[float, Field(ge=0, le=1)] = 0.0


class KeptPlan(Strict):
    """What a plan came to on a day, under one practice."""

    on: Date
    practice: Practice
    status: Literal["optimal", "gap"]
    cost: Money
    bound: Money
    buys: tuple[KeptBuy, ...] = ()
    serves: tuple[KeptServed, ...] = ()


class Plan(Record):
    """A plan by its name: what was asked, and what it came to when it was last kept."""

    kind = "plans"
    called = "plan"

    name: Name
    question: PlanQuestion
    kept: KeptPlan | None = None
