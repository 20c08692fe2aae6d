"""Who sets the aperture of a rig, and whether it stays open for focusing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import is_changed
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount

from .signal import FunctionState, Signal

IrisCode = Literal["iris_without_power", "lever_not_moved", "pin_not_pressed"]


@frozen
class Iris:
    """How the aperture is set, or where it stays. ``stuck`` is open, closed or ``stays`` where it was.

    ``in_chain``: an adapter has an iris of its own.
    """

    state: FunctionState
    stuck: Literal["open", "closed", "stays"] | None
    link: str | None
    code: IrisCode | None
    in_chain: bool = False


def body_moves_iris(lens: Lens, body: Body, front: Mount, rear: Mount) -> bool:
    """Whether a body that a lens stands on bare moves its lever or pin.

    Every body of the lens's own system presses a pin. A lever that no ring sets takes a body of its own generation,
    or one that sets the aperture by itself. Behind a changed mount or plate nothing is known to reach it.
    """
    if front is not rear or is_changed(lens) or is_changed(body):
        return False
    by_itself = bool({"P", "S"} & set(body.exposure_modes))
    return lens.aperture == "pin" or front.same_generation(lens.generation, body.generation) or by_itself


def iris_of(lens: Lens, adapters: Sequence[Adapter], signal: Signal, *, moved: bool = True) -> Iris:
    """How the iris is driven along this chain; ``moved``: the body moves that of a lens that stands on it bare."""
    own = _own_iris(lens, adapters, signal, moved=moved)
    chain = next((adapter.id for adapter in adapters if adapter.aperture_control == "iris"), None)
    if chain is None:
        return own
    # Nothing behind it opens a lens that stands closed.
    if lens.aperture == "none" or own.stuck in {"open", "stays"}:
        return Iris("by_hand", None, chain, None, in_chain=True)
    return replace(own, in_chain=own.stuck is None)


def _own_iris(lens: Lens, adapters: Sequence[Adapter], signal: Signal, *, moved: bool) -> Iris:
    # One branch for each kind of iris; they have nothing in common.
    controls = {adapter.aperture_control: adapter.id for adapter in reversed(adapters)}
    first = adapters[0].id if adapters else None
    match lens.aperture:
        case "ring" | None:
            return Iris("by_hand" if adapters else "full", None, first, None)
        case "none":
            return Iris("full", None, None, None)
        case "electronic":
            level, link = signal.carried.get("aperture", ("full", None))
            if signal.broken_at is None and "iris" in signal.powers and level != "none":
                return Iris("slow" if level == "slow" else "full", None, link, None)
            return Iris("stuck", lens.iris_at_rest, signal.broken_at or link, "iris_without_power")
        case "lever":
            if not adapters and moved:
                return Iris("full", None, None, None)
            if "lever_ring" in controls:
                return Iris("by_hand", None, controls["lever_ring"], None)
            return Iris("stuck", lens.iris_at_rest, first, "lever_not_moved")
        case "pin":
            if not adapters and moved:
                return Iris("full", None, None, None)
            if "pin_press" in controls or lens.auto_manual_switch:
                return Iris("by_hand", None, controls.get("pin_press", first), None)
            return Iris("stuck", "open", first, "pin_not_pressed")
