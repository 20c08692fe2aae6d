"""The pair that a collection opens with."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear


@frozen
class Opening:
    """A lens and a body to open with."""

    lens: str
    body: str


def opening(gear: Gear) -> Opening | None:
    """What to look at first: the first saved rig, else a lens and a body at hand; None where there is no pair."""
    if gear.rigs:
        return Opening(gear.rigs[0].lens, gear.rigs[0].body)
    if not gear.mounted or not gear.bodies:
        return None
    lens = next((item for item in gear.mounted if item.at_hand), gear.mounted[0])
    body = next((item for item in gear.bodies if item.at_hand), gear.bodies[0])
    return Opening(lens.id, body.id)
