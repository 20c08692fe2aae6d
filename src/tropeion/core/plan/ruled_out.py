"""The adapters that a plan does not use, and why."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import PlanQuestion


@frozen
class RuledOut:
    """A piece that is not used, and why."""

    id: str
    name: str
    why: str


def ruled_out(world: World, question: PlanQuestion, practice: Practice) -> tuple[RuledOut, ...]:
    """The adapters that a plan does not use."""
    ruled_outs = []
    for adapter in world.gear.adapters:
        why = _why_not(adapter, question, practice)
        if why and not adapter.retired:
            ruled_outs.append(RuledOut(adapter.id, adapter.name, why))
    return tuple(ruled_outs)


def _why_not(adapter: Adapter, question: PlanQuestion, practice: Practice) -> str:
    if adapter.id in question.without:
        return "ruled out"
    word = next((word for word in question.without_words if word.casefold() in adapter.name.casefold()), None)
    if word is not None:
        return f"“{word}” in its name"
    worst = question.worst_tolerance_mm
    if worst is not None and adapter.tolerance_or_usual_mm > worst:
        assumed = ", assumed" if adapter.tolerance_mm is None else ""
        return f"tolerance ±{written.millimetres(adapter.tolerance_or_usual_mm)}{assumed}"
    if question.only_locking and not adapter.locking:
        return "no lock"
    if question.no_glass and adapter.has_glass:
        return "glass"
    if practice.glass == "avoid" and adapter.optics == "correcting":
        return "correcting glass, which you avoid"
    if question.carry_g is not None and adapter.mass_g is None:
        return "nobody said what it weighs"
    return ""


def world_for(world: World, gone: Sequence[RuledOut]) -> World:
    """The world without the adapters that are ruled out."""
    if not gone:
        return world
    ids = {ruled_out.id for ruled_out in gone}
    left = tuple(adapter for adapter in world.gear.adapters if adapter.id not in ids)
    return compile_world(world.gear.model_copy(update={"adapters": left, "rigs": ()}), world)
