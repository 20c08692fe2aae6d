"""Which functions survive the chain, and which link limits each of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from .gear import Adapter, Body, Carried, Function, Lens
from .world import World

__all__ = ["FunctionLeft", "FunctionState", "Iris", "Signal", "functions_left", "iris_of", "signal_of"]

FunctionState = Literal["full", "slow", "by_hand", "entered", "lost", "stuck"]

_WORST: dict[Carried, int] = {"none": 0, "slow": 1, "full": 2}


@dataclass(frozen=True, slots=True)
class Signal:
    """What of the lens's protocol reaches the body.

    ``broken_at`` is the link where the wire from the body ends, None if it reaches the lens. ``carried`` holds,
    for each function the lens offers, how well it is carried and by which link it is limited.
    """

    broken_at: str | None
    carried: dict[Function, tuple[Carried, str | None]]
    powers: frozenset[str]


def signal_of(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> Signal:
    """Follow the contacts from the lens to the body. The broken link is named as seen from the body."""
    broken: str | None = None if lens.protocol else lens.id
    spoken = lens.protocol
    carried: dict[Function, tuple[Carried, str | None]] = dict.fromkeys(lens.offers, ("full", None))
    for adapter in adapters:
        understood = spoken is not None and (
            adapter.from_protocol is None or world.speaks(adapter.from_protocol, spoken)
        )
        if adapter.link not in {"pass", "translate"} or not understood:
            broken = adapter.id if lens.protocol else broken
            spoken = None
            continue
        default: Carried = "full" if adapter.link == "pass" else "none"
        for function, (level, _) in list(carried.items()):
            passed = adapter.carries.get(function, default)
            if _WORST[passed] < _WORST[level]:
                carried[function] = (passed, adapter.id)
        if adapter.link == "translate":
            spoken = adapter.to_protocol
    if broken is None and (spoken is None or not any(world.speaks(p, spoken) for p in body.protocols)):
        broken = body.id if not body.protocols else (adapters[-1].id if adapters else lens.id)
    if broken is not None:
        return Signal(broken, dict.fromkeys(lens.offers, ("none", broken)), frozenset())
    powers = world.protocols[lens.protocol].powers if lens.protocol else ()
    return Signal(None, carried, frozenset(powers))


def wire_ends_at(lens: Lens, adapters: Sequence[Adapter], body: Body, signal: Signal) -> str | None:
    """The link where the contacts end as seen from the body: itself if it has none; None if they reach the lens."""
    if signal.broken_at is None:
        return None
    if not body.protocols:
        return body.id
    dead = next((adapter.id for adapter in reversed(adapters) if adapter.link in {"none", "chip"}), None)
    return dead or (lens.id if lens.protocol is None else signal.broken_at)


@dataclass(frozen=True, slots=True)
class Iris:
    """How the aperture is set, or where it stays. ``stuck`` is open, closed or ``stays`` where it was."""

    state: FunctionState
    stuck: Literal["open", "closed", "stays"] | None
    link: str | None
    code: str | None


def iris_of(lens: Lens, adapters: Sequence[Adapter], signal: Signal) -> Iris:
    """How the iris is driven along this chain."""
    controls = {adapter.aperture_control: adapter.id for adapter in reversed(adapters)}
    first = adapters[0].id if adapters else None
    if "iris" in controls and lens.aperture != "ring":
        return Iris("by_hand", None, controls["iris"], None)
    match lens.aperture:
        case "ring":
            return Iris("by_hand" if adapters else "full", None, first, None)
        case "none":
            return Iris("full", None, None, None)
        case "electronic":
            level, link = signal.carried.get("aperture", ("full", None))
            if signal.broken_at is None and "iris" in signal.powers and level != "none":
                return Iris("slow" if level == "slow" else "full", None, link, None)
            return Iris("stuck", lens.iris_at_rest, signal.broken_at or link, "iris_without_power")
        case "lever":
            if not adapters:
                return Iris("full", None, None, None)
            if "lever_ring" in controls:
                return Iris("by_hand", None, controls["lever_ring"], None)
            return Iris("stuck", lens.iris_at_rest, first, "lever_not_moved")
        case "pin":
            if not adapters:
                return Iris("full", None, None, None)
            if "pin_press" in controls or lens.auto_manual_switch:
                return Iris("by_hand", None, controls.get("pin_press", first), None)
            return Iris("stuck", "open", first, "pin_not_pressed")


@dataclass(frozen=True, slots=True)
class FunctionLeft:
    """One function: what is left of it, and the link that limits it (None: nothing does)."""

    function: str
    state: FunctionState
    link: str | None


def can_be_focused(lens: Lens, signal: Signal) -> bool:
    """Whether the lens's own focus can be moved: by hand, or by wire with power."""
    if lens.focus == "none":
        return False
    return lens.focus != "by_wire" or (signal.broken_at is None and "focus" in signal.powers)


def functions_left(
    lens: Lens, adapters: Sequence[Adapter], body: Body, signal: Signal, iris: Iris
) -> tuple[FunctionLeft, ...]:
    """What is left of each function that the lens offers or a lens of this body would have."""
    left: list[FunctionLeft] = []
    electronic_body = bool(body.protocols)

    def carried(function: Function) -> tuple[Carried, str | None]:
        return signal.carried.get(function, ("none", signal.broken_at or lens.id))

    states: dict[Carried, FunctionState] = {"full": "full", "slow": "slow", "none": "lost"}
    if lens.focus == "screw_drive" and not adapters and body.screw_drive:
        left.append(FunctionLeft("autofocus", "full", None))
    elif electronic_body or "autofocus" in lens.offers or lens.focus == "screw_drive":
        level, link = carried("autofocus")
        left.append(FunctionLeft("autofocus", states[level], link))
    if can_be_focused(lens, signal):
        left.append(FunctionLeft("manual_focus", "full", None))
    else:
        left.append(FunctionLeft("manual_focus", "lost", signal.broken_at or lens.id))
    if lens.aperture != "none" or iris.link is not None:
        left.append(FunctionLeft("aperture", iris.state, iris.link))

    chip = next((a.id for a in adapters if a.link == "chip"), None)
    for function in ("identity", "focal_length"):
        if not electronic_body and function not in lens.offers:
            continue
        level, link = carried(function)
        if level != "none":
            left.append(FunctionLeft(function, states[level], link))
        elif chip is not None:
            left.append(FunctionLeft(function, "entered", chip))
        elif function == "focal_length" and (body.stabiliser is not None or body.asks_focal_length):
            left.append(FunctionLeft(function, "entered", link))
        else:
            left.append(FunctionLeft(function, "lost", link))
    for function in ("focus_distance", "stabiliser", "control_ring"):
        if function in lens.offers:
            level, link = carried(function)
            left.append(FunctionLeft(function, states[level], link))
    return tuple(left)


def falls_short(lens: Lens, adapters: Sequence[Adapter], body: Body, left: Sequence[FunctionLeft]) -> bool:
    """Whether a function that a lens of this body would have is lost or done by hand.

    A lens of an electronic body has contacts; a lens of a mechanical one is driven by it, which no ring passes on.
    """
    if lens.protocol is None:
        return bool(body.protocols) or bool(adapters)
    if not body.protocols:
        return True
    return any(f.state in {"lost", "by_hand", "entered", "stuck"} for f in left if f.function in lens.offers)
