"""Why a demand is not met, and the smallest change that would allow it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core import written
from tropeion.core.findings import rank
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.plan import Demand, PlanQuestion
from tropeion.core.rig.would_need import what_would_be_needed
from tropeion.core.routes.grades import best_of_each
from tropeion.core.words import word

from .market import price_of
from .program import Run, at_least
from .report import Unmet
from .task import Choice, Task
from .ways import Candidate, Ways, ways_of

__all__ = ["whys"]


def whys(
    world: World,
    market: World,
    question: PlanQuestion,
    practice: Practice,
    task: Task,
    ways: Ways,
    choice: Choice,
) -> tuple[Unmet, ...]:
    """Every demand that stays unmet, with its reason."""
    found = []
    for number, (demand, place) in enumerate(zip(question.demands, choice, strict=True)):
        if place is None:
            why, change = _why(world, market, question, practice, task, ways.candidates[number], number)
            lens, bodies = world.lens(demand.lens), tuple(world.body(id_).name for id_ in demand.bodies)
            found.append(Unmet(number, demand.name, lens.name, bodies, why, change))
    return tuple(found)


def _why(
    world: World,
    market: World,
    question: PlanQuestion,
    practice: Practice,
    task: Task,
    candidates: Sequence[Candidate],
    number: int,
) -> tuple[str, str]:
    demand = question.demands[number]
    if world.lens(demand.lens).mount is None:
        return "It has no mount of its own.", "A mount built for it: look at it on the bench."
    if any(one.fine for one in candidates):
        return _left_out(question, task, number, world.gear.currency)
    lifted = _lifted(world, question, practice, demand)
    if lifted:
        return "Only pieces that are ruled out would do.", f"Allow {lifted}."
    there = question.model_copy(update={"sold_out": ()})
    sold_out = _first(_fine(market, there, practice, demand)) if question.sold_out else ""
    if sold_out:
        return "What would do is sold out.", f"{sold_out}, when it can be had again."
    unpriced = _unpriced(world, question, practice, demand)
    if unpriced:
        return f"Nobody said what {unpriced} costs.", f"A price for {unpriced}."
    if demand.probability:
        less = demand.model_copy(update={"probability": 0.0})
        chances = [one.probability or 0.0 for one in _fine(market, question, practice, less)]
        if chances:
            best = max(chances)
            told = f"Infinity is reached with {_percent(best)} at best, {_percent(demand.probability)} were asked."
            return told, f"Accept {_percent(best)}, or measure the pieces."
    return _by_grade(world, market, practice, demand)


def _percent(chance: float) -> str:
    # Never rounded up to what was asked for.
    return f"{int(chance * 100 + 1e-9)} %"


def _left_out(question: PlanQuestion, task: Task, number: int, currency: str) -> tuple[str, str]:
    """It could be met, but not beside the others."""
    alone = replace(task, wants=(replace(task.wants[number], moment=""),), budget=None, carry_g=None)
    cost = at_least(alone, 1, Run(1.0))
    if question.carry_g is not None and (task.budget is None or cost.outcome.cost <= task.budget):
        return f"It does not go into {question.carry_g:g} g with the others.", "Carry more, or rule out less."
    if question.budget is not None:
        # Bought for itself it costs this; beside the others it may take less.
        told = f"It does not go into {question.budget:g} {currency} with the others."
        return told, f"At most {(cost.outcome.cost + task.sold_all) / 100:g} {currency} more."
    return "There are not enough pieces for all of it at the same time.", "Another piece, or one after another."


def _fine(world: World, question: PlanQuestion, practice: Practice, demand: Demand) -> list[Candidate]:
    found = ways_of(world, question.model_copy(update={"demands": (demand,)}), practice)
    for one in found.candidates[0]:
        if one.fine:
            one.judge(demand, practice, full_speed=question.full_speed)
    return [one for one in found.candidates[0] if one.fine]


def _lifted(world: World, question: PlanQuestion, practice: Practice, demand: Demand) -> str:
    """The pieces that are ruled out of the shortest way that would do; nothing where there is none."""
    free = question.model_copy(
        update={
            "without": (),
            "without_words": (),
            "worst_tolerance_mm": None,
            "only_locking": False,
            "no_glass": False,
        }
    )
    if free == question and practice.glass == "accept" and practice.zooms == "use":
        return ""
    return _first(_fine(world, free, practice.model_copy(update={"glass": "accept", "zooms": "use"}), demand))


def _first(found: Sequence[Candidate]) -> str:
    """The shortest of some ways, by name; nothing where there is none."""
    if not found:
        return ""
    best = min(found, key=lambda one: (len(one.pieces), one.pieces))
    return " and ".join(group.first.name for group in best.chain) or best.lens.name


def _unpriced(world: World, question: PlanQuestion, practice: Practice, demand: Demand) -> str:
    """What would do if it had a price."""
    priced = tuple(
        one if one.at_hand or price_of(one, question) is not None else one.model_copy(update={"price": 0.0})
        for one in world.gear.adapters
    )
    if all(one is other for one, other in zip(priced, world.gear.adapters, strict=True)):
        return ""
    found = _fine(compile_world(world.gear.model_copy(update={"adapters": priced})), question, practice, demand)
    names = [
        [group.first.name for group in one.chain if price_of(world.adapters[group.first.id], question) is None]
        for one in found
    ]
    some = sorted((one for one in names if one), key=lambda one: (len(one), one))
    return " and ".join(some[0]) if some else ""


def _by_grade(world: World, market: World, practice: Practice, demand: Demand) -> tuple[str, str]:
    lens, bodies = world.lens(demand.lens), [world.body(id_) for id_ in demand.bodies]
    best = best_of_each(market, [lens], bodies, practice)
    able = [(one.standing.level, body) for body in bodies for one in [best[lens.id, body.id]] if one.by is not None]
    if able:
        _, body = max(able, key=lambda pair: pair[0])
        standing = best[lens.id, body.id].standing
        grade = standing.grade
        if not standing.surely:
            return (
                f"On {body.name} it cannot be told: its focus travel is not known.",
                "Say how near it focuses.",
            )
        if grade is not None and 0 < rank(grade) < rank(demand.grade) and standing.works:
            return (
                f"At best: {word(grade)}, on {body.name}; asked for: {word(demand.grade)}.",
                f"Accept “{word(grade)}”.",
            )
    needs = what_would_be_needed(world, lens, bodies[0], practice)
    gap = world.mount_of(lens).register_mm - world.mount_of(bodies[0]).register_mm
    if needs:
        return f"Nothing that is listed joins it to {bodies[0].name}.", needs[0].text
    return f"Nothing joins it to {bodies[0].name}: {written.millimetres(abs(gap))} between the flanges.", ""
