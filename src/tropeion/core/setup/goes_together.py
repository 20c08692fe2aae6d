"""What goes together: accessories with the pieces of a rig, as somebody tried it, or as its measures decide."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Final, Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.accessories import CLAMPED_ON, SCREWED_ON, Accessory
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import PieceItem
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints.balance import supports_of
from tropeion.core.optics.stack import Stack
from tropeion.core.working import tidy

Verdict = Literal["works", "with_part", "fixed", "fails", "untried"]
# The range of diameters that one clamp adjusts to, in mm.
CLAMP_SLACK_MM: Final = 0.5
# Rods whose thickness nobody measured.
USUAL_ROD_MM: Final = 15.0


@frozen
class GoesTogether:
    """Two pieces and whether they go together; ``by`` says how that is known, ``says`` what it takes or why not."""

    a: str
    b: str
    verdict: Verdict
    by: Literal["tried", "measures", ""]
    says: str
    on: str | None
    source: str | None


def together_of(world: World, stack: Stack, accessories: Sequence[Accessory]) -> tuple[GoesTogether, ...]:
    """Every accessory with every piece of the rig that it meets, and with the other accessories."""
    rig: tuple[PieceItem, ...] = (stack.lens, *stack.adapters, stack.body)
    goes_togethers = []
    for number, accessory in enumerate(accessories):
        for other in (*rig, *accessories[number + 1 :]):
            goes_togethers.append(_judged(world, stack, accessory, other))
    # Clashes come first; combinations that nobody tried are told last.
    return tuple(sorted(goes_togethers, key=lambda pair: _WORST_FIRST.index(pair.verdict)))


_WORST_FIRST: Final[tuple[Verdict, ...]] = ("fails", "fixed", "with_part", "works", "untried")


def _judged(world: World, stack: Stack, one: Accessory, other: PieceItem) -> GoesTogether:
    tried = next((pair for pair in world.gear.pairs if {pair.a, pair.b} == {one.id, other.id}), None)
    if tried is not None:
        said = tried.part or ""
        return GoesTogether(one.id, other.id, tried.verdict, "tried", said, tried.on, tried.source)
    for verdict, said in _by_measures(stack, one, other):
        return GoesTogether(one.id, other.id, verdict, "measures", said, None, None)
    return GoesTogether(one.id, other.id, "untried", "", "nobody has tried it", None, None)


def _by_measures(stack: Stack, one: Accessory, other: PieceItem) -> Iterator[tuple[Verdict, str]]:
    """What the measures of two pieces decide, where they do."""
    if isinstance(other, Lens):
        yield from _on_a_lens(one, other)
    if isinstance(other, Lens | Adapter):
        yield from _below(stack, one, other)
    if isinstance(other, Accessory):
        heights = one.rod_height_mm, other.rod_height_mm
        if heights[0] is not None and heights[1] is not None and heights[0] != heights[1]:
            yield "fails", f"rods {heights[0]:g} mm below the axis, and {heights[1]:g} mm"
        rods = one.rod_distance_mm, other.rod_distance_mm
        if rods[0] is not None and rods[1] is not None and rods[0] != rods[1]:
            yield "fails", f"rods {rods[0]:g} mm apart, and {rods[1]:g} mm"
    elif isinstance(other, Body) and one.kind in SCREWED_ON:
        yield "works", "it does not touch the body"


def clamps(one: Accessory, lens: Lens) -> bool:
    """Whether a clamp fits around a lens, as far as anybody can tell."""
    if one.clamps_to_mm is None or lens.diameter_mm is None:
        return True
    return abs(one.clamps_to_mm - lens.diameter_mm) <= CLAMP_SLACK_MM


def _below(stack: Stack, one: Accessory, other: Lens | Adapter) -> Iterator[tuple[Verdict, str]]:
    """What hangs below the axis: a barrel between the rods, a foot or a wide ring over the plate of the body."""
    across = other.diameter_mm if isinstance(other, Lens) else other.outer_mm
    if one.rod_height_mm is not None and one.rod_distance_mm is not None and across is not None:
        thick = one.rod_diameter_mm or USUAL_ROD_MM
        room = 2 * (math.hypot(one.rod_height_mm, one.rod_distance_mm / 2) - thick / 2)
        assumed = "" if one.rod_diameter_mm else f", rods of {USUAL_ROD_MM:g} mm assumed"
        if tidy(across - room) > 0:
            yield "fails", f"the rods leave room for {room:.0f} mm{assumed}, it is {across:g} mm across"
    if one.kind == "tripod_plate" and one.reach_mm is not None:
        yield from _over_the_plate(stack, one.reach_mm, other, across)


def _over_the_plate(
    stack: Stack, reach_mm: float, other: Lens | Adapter, across: float | None
) -> Iterator[tuple[Verdict, str]]:
    body = stack.body
    foot = next((held.at_mm for held in supports_of(stack) if held.link == other.id), None)
    if foot is not None and tidy(reach_mm - foot) > 0:
        yield "fails", f"its foot stands {foot:.0f} mm before the sensor, the plate reaches to {reach_mm:g} mm"
    if across is None or body.height_mm is None or body.mount_centre_mm is None:
        return
    rear = stack.seat_mm if isinstance(other, Lens) else _rear_of(stack, other)
    below = body.height_mm - body.mount_centre_mm[1]
    if tidy(across / 2 - below) > 0 and tidy(reach_mm - rear) > 0:
        yield (
            "fails",
            f"it hangs {across / 2 - below:.0f} mm below the body, where the plate reaches to {reach_mm:g} mm",
        )


def _rear_of(stack: Stack, adapter: Adapter) -> float:
    return next((placed.rear_mm for placed in stack.placed if placed.adapter.id == adapter.id), 0.0)


def _on_a_lens(one: Accessory, lens: Lens) -> Iterator[tuple[Verdict, str]]:
    if one.kind in CLAMPED_ON and one.clamps_to_mm is not None and lens.diameter_mm is not None:
        if clamps(one, lens):
            yield "works", f"it clamps to {one.clamps_to_mm:g} mm"
        else:
            yield "fails", f"it clamps to {one.clamps_to_mm:g} mm, the barrel has {lens.diameter_mm:g} mm"
    if one.kind in SCREWED_ON and one.rear_thread_mm is not None and lens.filter_thread_mm is not None:
        if one.rear_thread_mm == lens.filter_thread_mm:
            yield "works", f"thread {one.rear_thread_mm:g} mm"
        else:
            yield "with_part", f"a step ring {lens.filter_thread_mm:g}–{one.rear_thread_mm:g}"
