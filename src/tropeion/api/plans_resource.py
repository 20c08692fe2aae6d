"""Plans: kept by name, made in the background, looked at again when prices, pieces or grades have changed."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Annotated, cast

from fastapi import Depends, Request
from pydantic import BaseModel, Field

from tropeion.core.frozen import frozen
from tropeion.core.gear.field_types import Name
from tropeion.core.gear.kinds import PieceKind
from tropeion.core.gear.world import World
from tropeion.core.plan.plan_report import Curve, PlanReport
from tropeion.core.plan.planning import curve_report, planned
from tropeion.core.plan.program import SECONDS, Run
from tropeion.core.plan.shopping import ShopLine, shop_lines
from tropeion.core.plan.standing import Standing, kept_of, standing_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.records.plan_record import KeptPlan, Plan
from tropeion.core.records.record import RecordId, begun
from tropeion.store.collection import Collection
from tropeion.store.records import Kept

from .practice_query import PracticeOf
from .problems import Problem, RefusedError
from .resource import resource
from .shared import CollectionOf, Written, standing
from .work import State, Work, Works

router = resource("/api/v1/plans", "plans")


@frozen
class PlanAnswer:
    """A plan, the list for the shop, and the curve once it is there."""

    report: PlanReport
    shop: tuple[ShopLine, ...]
    curve: Curve | None


def _works(request: Request) -> Works[PlanAnswer]:
    return cast("Works[PlanAnswer]", request.app.state.plans)


WorksOf = Annotated[Works[PlanAnswer], Depends(_works)]


class PlanLine(BaseModel):
    """A plan in the list of them. ``holds`` is None where none was kept yet."""

    id: str
    name: str
    at: str
    demands: int
    cost: float | None
    holds: bool | None


class PlanWritten(Written):
    """A plan as it is written, upon the version that was read."""

    name: Name
    question: PlanQuestion
    version: Annotated[int, Field(ge=1)]


class PlanBegun(Written):
    """A plan to begin with: without a question, every lens at hand on any body at hand."""

    name: Name
    question: PlanQuestion | None = None


class PlanPage(BaseModel):
    """A plan, what was kept of it, and whether that still holds."""

    id: str
    version: int
    name: str
    question: PlanQuestion
    kept: KeptPlan | None
    standing: Standing | None
    currency: str


class PlanToMake(Written):
    """What is to be planned, under which practice, for how long it may be sought."""

    question: PlanQuestion
    practice: Practice
    seconds: Annotated[float, Field(gt=0, le=120)] = SECONDS
    curve: bool = True


class PlanWork(BaseModel):
    """How far a plan has come. ``best`` and ``bound`` are money; the answer is there before its curve is."""

    id: str
    state: State
    part: str
    best: float | None
    bound: float | None
    seconds: float
    answer: PlanAnswer | None
    why: str


class Keep(Written):
    """Which piece of work is kept."""

    work: RecordId


# Making one


@router.post("/work")
def post_plan_work(asked: PlanToMake, collection: CollectionOf, works: WorksOf) -> PlanWork:
    """Begin to plan; ask after it by its id."""
    world = collection.world()
    _known(world, asked.question)
    about = (asked.question, asked.practice)
    return _told(works.begin(lambda work: _make(world, asked, work), about))


def _make(world: World, asked: PlanToMake, work: Work[PlanAnswer]) -> PlanAnswer:
    progress = work.progress

    def told(best: int, bound: int) -> None:
        progress.best, progress.bound = best / 100, bound / 100

    progress.part = "plan"
    run = Run(asked.seconds, progress.stop.is_set, told)
    all_planned = planned(world, asked.question, asked.practice, run)
    told(round(all_planned.report.cost * 100), round(all_planned.report.bound * 100))
    shop = shop_lines(world, all_planned.report, asked.question, asked.practice)
    answer = PlanAnswer(all_planned.report, shop, None)
    if not asked.curve:
        return answer
    work.answer = answer
    progress.part = "curve"
    curve = curve_report(all_planned, Run(asked.seconds, progress.stop.is_set))
    return PlanAnswer(all_planned.report, shop, curve)


def _known(world: World, question: PlanQuestion) -> None:
    """Raises UnknownIdError for a lens or body that is not in the collection."""
    for demand in question.demands:
        world.lens(demand.lens)
        for id_ in demand.bodies:
            world.body(id_)


@router.get("/work/{id}")
def get_plan_work(id: RecordId, works: WorksOf) -> PlanWork:
    """How far a plan has come."""
    return _told(_found(works, id))


@router.delete("/work/{id}")
def delete_plan_work(id: RecordId, works: WorksOf) -> PlanWork:
    """Stop it; what is there so far stays."""
    work = _found(works, id)
    work.progress.stop.set()
    return _told(work)


def _found(works: Works[PlanAnswer], id_: str) -> Work[PlanAnswer]:
    work = works.find(id_)
    if work is None:
        raise RefusedError(
            Problem(
                type="unknown_id", title="No such work", status=404, detail="it has been forgotten: plan again", id=id_
            )
        )
    return work


def _told(work: Work[PlanAnswer]) -> PlanWork:
    return PlanWork(
        id=work.id,
        state=work.state,
        part=work.progress.part,
        best=work.progress.best,
        bound=work.progress.bound,
        seconds=work.seconds,
        answer=work.answer,
        why="" if work.error is None or work.state == "stopped" else str(work.error),
    )


# Keeping them


@router.get("")
def get_plans(practice: PracticeOf, collection: CollectionOf) -> list[PlanLine]:
    """Every plan, the latest first; those that do not hold any more say so."""
    world = collection.world()
    plan_lines = []
    for plan in (listed.record for listed in collection.records_of(Plan, struck=False)):
        kept = plan.kept
        holds = None if kept is None else standing_of(world, kept, plan.question, practice).holds
        cost = None if kept is None else kept.cost
        line = PlanLine(
            id=plan.id, name=plan.name, at=plan.at, demands=len(plan.question.demands), cost=cost, holds=holds
        )
        plan_lines.append(line)
    return plan_lines


@router.post("")
def post_plan(new: PlanBegun, practice: PracticeOf, collection: CollectionOf) -> PlanPage:
    """A new plan."""
    world = collection.world()
    question = new.question or _everything(world)
    _known(world, question)
    name = _free_name(collection, new.name)
    plan = Plan(**begun(_items(world, question)), name=name, question=question)
    return _page(collection, collection.keep_record(plan, f"Plan “{plan.name}”"), practice)


def _free_name(collection: Collection, name: str) -> str:
    """The name, with a number where another plan on the list has it."""
    taken = {kept.record.name for kept in collection.records_of(Plan, struck=False)}
    numbered = (f"{name[:110]} ({number})" for number in itertools.count(2))
    return name if name not in taken else next(name for name in numbered if name not in taken)


def _everything(world: World) -> PlanQuestion:
    bodies = tuple(body.id for body in world.gear.bodies if body.at_hand and not body.retired)[:60]
    lenses = [lens.id for lens in world.gear.mounted if lens.at_hand and not lens.retired][:400]
    return PlanQuestion(demands=tuple(Demand(lens=id_, bodies=bodies) for id_ in lenses) if bodies else ())


def _items(world: World, question: PlanQuestion) -> Iterator[tuple[PieceKind, str]]:
    """The lenses and bodies that a plan is about."""
    for demand in question.demands:
        if demand.lens in world.lenses:
            yield "lenses", demand.lens
        yield from (("bodies", id_) for id_ in demand.bodies if id_ in world.bodies)


def _page(collection: Collection, kept: Kept[Plan], practice: Practice) -> PlanPage:
    world, plan = collection.world(), kept.record
    holds = None if plan.kept is None else standing_of(world, plan.kept, plan.question, practice)
    return PlanPage(
        id=plan.id,
        version=kept.version,
        name=plan.name,
        question=plan.question,
        kept=plan.kept,
        standing=holds,
        currency=world.gear.currency,
    )


@router.get("/{id}")
def get_plan(id: RecordId, practice: PracticeOf, collection: CollectionOf) -> PlanPage:
    """A plan, and whether what was kept of it still holds."""
    return _page(collection, standing(collection, Plan, id), practice)


@router.put("/{id}")
def put_plan(id: RecordId, written: PlanWritten, practice: PracticeOf, collection: CollectionOf) -> PlanPage:
    """A plan as it is written now; what was kept stays until another one is."""
    items = begun(_items(collection.world(), written.question))["items"]

    def change(plan: Plan) -> Plan:
        # A kept answer to another question is none.
        kept = plan.kept if plan.question == written.question else None
        return plan.model_copy(
            update={"name": written.name, "question": written.question, "items": items, "kept": kept}
        )

    kept = collection.change_record(Plan, id, change, f"Plan “{written.name}”", written.version)
    return _page(collection, kept, practice)


@router.put("/{id}/kept")
def put_plan_kept(id: RecordId, keep: Keep, practice: PracticeOf, collection: CollectionOf, works: WorksOf) -> PlanPage:
    """Keep what a piece of work came to."""
    work = _found(works, keep.work)
    if work.answer is None:
        raise RefusedError(
            Problem(type="invalid", title="There is no plan yet", status=422, detail="wait until it is made")
        )
    kept = kept_of(collection.world(), work.answer.report, practice, datetime.now(UTC).date().isoformat())
    answers = work.about

    def change(plan: Plan) -> Plan:
        if answers != (plan.question, practice):
            detail = "the plan, or a preference, was changed since it was worked out: wait until it is made anew"
            raise RefusedError(Problem(type="stale", title="An answer to another question", status=409, detail=detail))
        return plan.model_copy(update={"kept": kept})

    return _page(collection, collection.change_record(Plan, id, change, "Plan kept"), practice)
