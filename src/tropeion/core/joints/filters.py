"""Filters, behind the lens in a slot or before it in the thread: what they are in words, what they do to a picture."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tropeion.core import written
from tropeion.core.gear.accessories import Accessory
from tropeion.core.gear.adapters import Adapter, FilterSlot
from tropeion.core.working import tidy


def slot_said(slot: FilterSlot) -> str:
    """What stands in a slot, in a phrase."""
    never = ", never clear" if slot.never_clear else ""
    if slot.kind == "variable":
        if slot.range_stops is None:
            return "variable filter, its range not stated"
        least, most = slot.range_stops
        return f"variable filter, {least:g} to {most:g} stops{never}"
    kind = "filter wheel" if slot.kind == "wheel" else "drop-in filter"
    names = written.listed([position.name for position in slot.positions])
    return f"{kind}: {names}{never}" if names else f"{kind}, its glass not stated"


def filters_say(adapters: Sequence[Adapter], accessories: Sequence[Accessory], view_deg: float | None) -> Iterator[str]:
    """One sentence for each thing to know, for a rig that sees ``view_deg`` from corner to corner at its widest.

    None: how wide it sees is not told by an angle.
    """
    for adapter in adapters:
        slot = adapter.filter_slot
        if slot is None:
            continue
        if slot.kind == "wheel" and not slot.positions:
            yield f"Which filters stand in {adapter.name} is not stated."
        elif slot.never_clear:
            yield f"{adapter.name} has no clear position: a filter stands in the light always."
        yield from _variable(adapter.name, slot.range_stops, slot.colour_shift, slot.cross_from_deg, view_deg)
    for accessory in accessories:
        if accessory.loss_stops is not None:
            yield f"{accessory.name} takes {accessory.loss_stops:g} stops."
        yield from _variable(
            accessory.name, accessory.range_stops, accessory.colour_shift, accessory.cross_from_deg, view_deg
        )


def _variable(
    name: str,
    range_stops: tuple[float, float] | None,
    colour_shift: str | None,
    cross_from_deg: float | None,
    view_deg: float | None,
) -> Iterator[str]:
    if range_stops is None:
        return
    least, most = range_stops
    shift = f", and shifts colour: {colour_shift}" if colour_shift else ""
    yield f"{name} takes {least:g} to {most:g} stops{shift}."
    if cross_from_deg is None:
        yield f"From which angle of view {name} shows a cross is not stated: look at an even wall at its strong end."
    elif view_deg is not None and tidy(view_deg - cross_from_deg) >= 0:
        yield (
            f"{name} shows a cross at its strong end: the view is {view_deg:.0f}°, and it does from "
            f"{cross_from_deg:g}° on."
        )
