"""The list to take to the shop: both ends of each label, what it is also called, what looks like it and is not."""

from __future__ import annotations

import difflib
from collections.abc import Iterator, Sequence

from tropeion.core import written
from tropeion.core.findings import decisive
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.evidence import evidence_on
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import PlanQuestion
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.verdict import FUNCTION_NAMES

from .candidate_pool import meets
from .look_alikes import LookAlikeRing, mounts_like
from .plan_report import Bought, PlanReport, Served

MOST_LOOK_ALIKES = 5


@frozen
class ShopLine:
    """A piece to buy. ``lens_end`` and ``camera_end`` are its label in words; None for what is no adapter.

    ``minds``: what of the rigs that it serves has to be minded, or works slowly.
    """

    piece: Bought
    lens_end: str | None
    camera_end: str | None
    also_called: tuple[str, ...]
    refuse: tuple[LookAlikeRing, ...]
    doubts: tuple[str, ...]
    minds: tuple[str, ...]


def shop_lines(world: World, report: PlanReport, question: PlanQuestion, practice: Practice) -> tuple[ShopLine, ...]:
    """What is bought, each with what a label may say and must not say."""
    return tuple(_line(world, bought, report, question, practice) for bought in report.bought)


def _line(world: World, piece: Bought, report: PlanReport, question: PlanQuestion, practice: Practice) -> ShopLine:
    doubts = tuple(_doubts(world, piece))
    if piece.kind != "adapters":
        known = world.lenses.get(piece.id) or world.bodies.get(piece.id)
        return ShopLine(piece, None, None, () if known is None else known.aliases, (), doubts, ())
    adapter = world.adapters[piece.id]
    front, rear = world.mounts[adapter.lens_mount], world.mounts[adapter.body_mount]
    served = [served for served in report.serves if piece.id in served.adapters]
    refuse = [*_look_alikes(world, adapter, served, question, practice), *mounts_like(world, (front, rear))]
    return ShopLine(
        piece=piece,
        lens_end=end_of(front),
        camera_end=end_of(rear),
        also_called=adapter.aliases,
        refuse=tuple(refuse),
        doubts=doubts,
        minds=tuple(_minds(served)),
    )


def end_of(mount: Mount) -> str:
    """One end of a label: the mount and every name that it goes by."""
    others = ", ".join(mount.aliases)
    return f"{mount.name} ({others})" if others else mount.name


def _doubts(world: World, piece: Bought) -> Iterator[str]:
    said = evidence_on(world, [piece.id], whole=False)
    if said.confirmed and said.contradicted:
        yield f"Mixed reports: {said.confirmed} for, {said.contradicted} against."
    elif said.contradicted:
        yield f"{said.contradicted} against it, none for it."
    if piece.price.on is None:
        yield "Nobody said from when the price is."
    adapter = world.adapters.get(piece.id) if piece.kind == "adapters" else None
    if adapter is not None and adapter.tolerance_mm is None:
        yield "Its tolerance is not stated; the usual one is assumed."


def _look_alikes(
    world: World, adapter: Adapter, served: list[Served], question: PlanQuestion, practice: Practice
) -> Iterator[LookAlikeRing]:
    """Rings between the same ends that would not do in its place."""
    joints = world.mounts[adapter.lens_mount].joint, world.mounts[adapter.body_mount].joint
    alike = [ring for ring in world.structure.adapters_by_joints.get(joints, ()) if ring.id != adapter.id]
    alike.sort(key=lambda ring: (-difflib.SequenceMatcher(None, ring.name, adapter.name).ratio(), ring.id))
    told = 0
    for other in alike:
        why = next((name for rig in served if (name := _fails(world, other, adapter, rig, question, practice))), "")
        if why and told < MOST_LOOK_ALIKES:
            told += 1
            yield LookAlikeRing(other.name, why)


def _minds(served: Sequence[Served]) -> Iterator[str]:
    """The cautions of the rigs that a piece serves."""
    for rig in served:
        pair = f"{rig.lens_name} on {rig.body_name}"
        if rig.slow:
            yield f"{pair}: {written.listed([FUNCTION_NAMES[name] for name in rig.slow])}, slowly."
        yield from (f"{pair}: {caution.text}" for caution in rig.cautions)


def _fails(
    world: World, other: Adapter, adapter: Adapter, served: Served, question: PlanQuestion, practice: Practice
) -> str:
    """Why another ring would not do for one of the rigs; nothing where it would."""
    chain = tuple(other if id_ == adapter.id else world.adapters[id_] for id_ in served.adapters)
    judged = assess(world, world.lenses[served.lens], chain, world.bodies[served.body], practice)
    if meets(judged, question.demands[served.demand], full_speed=question.full_speed):
        return ""
    deciding = decisive(judged.findings)
    return (deciding.headline or deciding.text) if deciding is not None else "Infinity is not likely enough."
