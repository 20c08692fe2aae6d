"""What the contacts of a chain carry from the lens to the body, and where they end."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, get_args

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import is_changed
from tropeion.core.gear.field_types import Carried, Function
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World

FunctionState = Literal["full", "slow", "by_hand", "entered", "lost", "stuck"]
_WORST: dict[Carried, int] = {"none": 0, "slow": 1, "full": 2}


@frozen
class Signal:
    """What of the lens's protocol reaches the body.

    ``broken_at`` is the link where the wire from the body ends, None if it reaches the lens. ``carried`` holds,
    for each function the lens has, how well it is carried and by which link it is limited.
    """

    broken_at: str | None
    carried: dict[Function, tuple[Carried, str | None]]
    powers: frozenset[str]
    assumed: bool = False


def has(lens: Lens, function: Function) -> bool:
    """Whether a lens has a function: because it is listed among what it offers, or because of how it is built."""
    return function in lens.offers or counts(lens, function)


def _all_of(lens: Lens) -> list[Function]:
    return [function for function in get_args(Function) if has(lens, function)]


def identifies_itself(signal: Signal) -> bool:
    """Whether the body is told what lens it has in front of it."""
    return signal.broken_at is None and signal.carried.get("identity", ("none", None))[0] != "none"


def speaks_at_home(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> bool:
    """Whether a lens that needs power stands bare on its own system and generation, and nobody said what either speaks.

    Its maker made them for each other: that it has no power there is not what a missing entry says.
    """
    needs = lens.focus == "by_wire" or lens.aperture == "electronic"
    own = not adapters and lens.mount == body.mount and not is_changed(lens) and not is_changed(body)
    unsaid = lens.protocol is None or not body.protocols
    return needs and own and unsaid and world.mount_of(body).same_generation(lens.generation, body.generation)


def signal_of(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> Signal:
    """Follow the contacts from the lens to the body; the first link that does not pass them on is named."""
    carried: dict[Function, tuple[Carried, str | None]] = dict.fromkeys(_all_of(lens), ("full", None))
    if speaks_at_home(world, lens, adapters, body):
        return Signal(None, carried, frozenset({"iris", "focus"}), assumed=True)
    # What each piece hears depends on what the one before it said, so this is one walk with two things to carry.
    broken: str | None = None if lens.protocol else lens.id
    spoken = lens.protocol
    for adapter in adapters:
        understood = spoken is not None and (
            adapter.from_protocol is None or world.speaks(adapter.from_protocol, spoken)
        )
        if adapter.link not in {"pass", "translate"} or not understood:
            broken = broken or adapter.id
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
        return Signal(broken, dict.fromkeys(carried, ("none", broken)), frozenset())
    return Signal(None, carried, world.protocols[lens.protocol].powered if lens.protocol else frozenset())


def tells_nothing_of_its_zoom(lens: Lens, adapters: Sequence[Adapter], signal: Signal) -> bool:
    """A zoom through a ring whose body does not know where it stands."""
    return lens.is_zoom and bool(adapters) and signal.broken_at is not None


def foreign_joints(
    world: World, lens: Lens, adapters: Sequence[Adapter], body: Body
) -> Iterator[tuple[Lens | Adapter, Adapter | Body]]:
    """Where contacts of two pieces touch that do not understand each other; powered ones may do harm."""
    front: Lens | Adapter = lens
    spoken = lens.protocol
    for adapter in adapters:
        if adapter.link not in {"pass", "translate"}:
            spoken = None
        else:
            heard = adapter.from_protocol
            if spoken is not None and heard is not None and not world.speaks(heard, spoken):
                yield front, adapter
                spoken = None
            spoken = adapter.to_protocol if adapter.link == "translate" else spoken
        front = adapter
    if spoken is not None and body.protocols and not any(world.speaks(host, spoken) for host in body.protocols):
        yield front, body


def wire_ends_at(lens: Lens, adapters: Sequence[Adapter], body: Body, signal: Signal) -> str | None:
    """The link where the contacts end as seen from the body: itself if it has none; None if they reach the lens."""
    if signal.broken_at is None:
        return None
    if not body.protocols:
        return body.id
    dead = next((adapter.id for adapter in reversed(adapters) if adapter.link in {"none", "chip"}), None)
    return dead or (lens.id if lens.protocol is None else signal.broken_at)


FunctionName = Literal[
    "autofocus",
    "manual_focus",
    "aperture",
    "aperture_readout",
    "open_aperture_metering",
    "exposure_modes",
    "identity",
    "focal_length",
    "focus_distance",
    "stabiliser",
    "control_ring",
    "automatic_magnifier",
    "automatic_crop",
]
_DRIVEN_FOCUS = frozenset({"motor", "by_wire", "screw_drive"})
_DRIVEN_APERTURE = frozenset({"lever", "pin", "electronic"})


def counts(lens: Lens, function: FunctionName) -> bool:
    """Whether the grade depends on a function: by how the lens is built, so that listing more costs none."""
    match function:
        case "autofocus":
            return lens.focus in _DRIVEN_FOCUS
        case "aperture":
            return lens.aperture in _DRIVEN_APERTURE
        case "identity" | "focal_length":
            return lens.protocol is not None
        case "stabiliser":
            return lens.stabilised
        case _:
            return False
