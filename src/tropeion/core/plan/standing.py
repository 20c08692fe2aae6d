"""Whether a plan that was kept still holds: what has changed in prices, pieces and grades since."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.practice import CHOICES, Practice
from tropeion.core.records.plan_question import PlanQuestion
from tropeion.core.records.plan_record import KeptBuy, KeptPlan, KeptServed
from tropeion.core.rig.judgement import assess
from tropeion.core.words import word

from .candidate_pool import meets
from .market import price_of
from .plan_report import PlanReport


@frozen
class PlanChange:
    """One thing that is not as it was; ``breaks`` where something is not served any more."""

    text: str
    breaks: bool


@frozen
class Standing:
    """What has changed since a plan was kept; ``cost_now`` is what is still to be paid, None without a price."""

    holds: bool
    changes: tuple[PlanChange, ...]
    cost_now: float | None


def kept_of(world: World, report: PlanReport, practice: Practice, day: str) -> KeptPlan:
    """What a report comes to, to be kept."""
    buys = []
    for bought in report.bought:
        known = world.adapters.get(bought.id) or world.lenses.get(bought.id) or world.bodies.get(bought.id)
        at_hand = 0 if known is None or bought.kind == "mounts" else known.at_hand
        buys.append(
            KeptBuy(
                id=bought.id, name=bought.name[:120], count=bought.count, price=bought.price.amount, at_hand=at_hand
            )
        )
    serves = [
        KeptServed(
            demand=served.demand,
            lens=served.lens,
            body=served.body,
            adapters=served.adapters,
            grade=served.grade,
            probability=min(1.0, served.probability),
        )
        for served in report.serves
    ]
    return KeptPlan(
        on=day,
        practice=practice,
        status=report.status,
        cost=report.cost,
        bound=report.bound,
        buys=tuple(buys),
        serves=tuple(serves),
    )


def standing_of(world: World, kept: KeptPlan, question: PlanQuestion, practice: Practice) -> Standing:
    """What has changed since: prices, what is at hand, what is gone, grades, chances, preferences."""
    changes = [*_of_practice(kept, practice), *_of_prices(world, kept, question)]
    changes += _of_rigs(world, kept, question, practice)
    return Standing(not changes, tuple(changes), _cost_now(world, kept, question))


def _of_practice(kept: KeptPlan, practice: Practice) -> Iterator[PlanChange]:
    for choice in CHOICES:
        was, now = getattr(kept.practice, choice.key), getattr(practice, choice.key)
        if was != now:
            labels = {option.value: option.label for option in choice.options}
            yield PlanChange(f"{choice.question}: was “{labels[was]}”, is “{labels[now]}”.", False)


def _of_prices(world: World, kept: KeptPlan, question: PlanQuestion) -> Iterator[PlanChange]:
    for buy in kept.buys:
        item = world.adapters.get(buy.id) or world.lenses.get(buy.id) or world.bodies.get(buy.id)
        if item is None:
            continue
        price = price_of(item, question)
        if item.retired:
            yield PlanChange(f"{item.name} has been archived.", False)
        elif item.at_hand >= buy.at_hand + buy.count:
            yield PlanChange(f"{item.name} is owned now.", False)
        elif price is None:
            yield PlanChange(f"{item.name} has no price any more; it was {buy.price:g}.", False)
        elif price.amount != buy.price:
            yield PlanChange(f"{item.name} was {buy.price:g}, is {price.amount:g} {world.gear.currency}.", False)


def _of_rigs(world: World, kept: KeptPlan, question: PlanQuestion, practice: Practice) -> Iterator[PlanChange]:
    bought = Counter({buy.id: buy.at_hand + buy.count for buy in kept.buys})
    short: set[str] = set()
    for served in kept.serves:
        if served.demand >= len(question.demands):
            continue
        demand = question.demands[served.demand]
        lens, body = world.lenses.get(served.lens), world.bodies.get(served.body)
        missing = [id_ for id_ in served.adapters if id_ not in world.adapters]
        if lens is None or body is None or missing:
            yield PlanChange(f"A piece of {demand.name} is gone: {', '.join(missing) or served.lens}.", True)
            continue
        for id_, count in Counter(served.adapters).items():
            adapter = world.adapters[id_]
            if id_ not in short and adapter.at_hand < count and bought[id_] < count:
                short.add(id_)
                yield PlanChange(f"{adapter.name} is not owned any more.", True)
        judged = assess(world, lens, tuple(world.adapters[id_] for id_ in served.adapters), body, practice)
        pair = f"{lens.name} on {body.name}"
        if not meets(judged, demand, full_speed=question.full_speed):
            yield PlanChange(
                f"{pair} is not served any more: {word(judged.grade)}, {word(demand.grade)} was asked.", True
            )
        elif judged.grade != served.grade:
            yield PlanChange(f"{pair} was “{word(served.grade)}”, is “{word(judged.grade)}”.", False)


def _cost_now(world: World, kept: KeptPlan, question: PlanQuestion) -> float | None:
    total = 0.0
    for buy in kept.buys:
        item = world.adapters.get(buy.id) or world.lenses.get(buy.id) or world.bodies.get(buy.id)
        if item is None:
            total += buy.count * buy.price
            continue
        left = max(0, buy.at_hand + buy.count - item.at_hand)
        price = price_of(item, question)
        if left and price is None:
            return None
        total += min(left, buy.count) * (0.0 if price is None else price.amount)
    return total
