"""Which functions survive the chain, and which link limits each of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, cast, get_args

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.field_types import Carried, Function
from tropeion.core.gear.lenses import Lens

from .iris import Iris
from .signal import FunctionName, FunctionState, Signal, counts, has


@frozen
class Passed:
    """How well one link passes a function on."""

    link: str
    level: Carried


@frozen
class FunctionLeft:
    """One function: whether the lens offers it, what each link passes, whether the body takes it, and what is left.

    ``link`` is what limits it; None: nothing does.
    """

    function: FunctionName
    state: FunctionState
    link: str | None
    offered: bool
    passed: tuple[Passed, ...]
    taken: bool


def can_be_focused(lens: Lens, signal: Signal) -> bool:
    """Whether the lens's own focus can be moved: by hand, or by wire with power."""
    if lens.focus == "none":
        return False
    return lens.focus != "by_wire" or (signal.broken_at is None and "focus" in signal.powers)


_STATES: dict[Carried, FunctionState] = {"full": "full", "slow": "slow", "none": "lost"}


@frozen
class _Judge:
    """What the functions of one rig are judged by."""

    lens: Lens
    adapters: Sequence[Adapter]
    body: Body
    signal: Signal
    iris: Iris
    metering: Metering
    crops: bool
    detailed: bool

    def left(self, function: FunctionName, state: FunctionState, link: str | None) -> FunctionLeft:
        if not self.detailed:
            return FunctionLeft(function, state, link, offered=False, passed=(), taken=False)
        screw = function == "autofocus" and self.lens.focus == "screw_drive"
        known = function if function in _CARRIED else None
        return FunctionLeft(
            function,
            state,
            link,
            offered=_offered(self.lens, function),
            passed=tuple(
                Passed(adapter.id, _passes_screw(adapter) if screw else _passes(adapter, known))
                for adapter in self.adapters
            ),
            taken=self.body.screw_drive if screw else _taken(self.body, function),
        )

    def carried(self, function: Function) -> tuple[Carried, str | None]:
        return self.signal.carried.get(function, ("none", self.signal.broken_at or self.lens.id))

    def electronic(self, function: Function) -> FunctionLeft:
        level, link = self.carried(function)
        return self.left(cast(FunctionName, function), _STATES[level], link)


Metering = Literal["open", "stop_down", "none", "unknown"]
_CARRIED = frozenset(get_args(Function))


def is_carried(function: FunctionName) -> bool:
    """Whether it is the lens's own, and not one that follows from it."""
    return function in _CARRIED


_FROM = {"aperture_readout": "aperture", "open_aperture_metering": "aperture", "exposure_modes": "aperture"}
_FROM |= {"automatic_magnifier": "focus_distance", "automatic_crop": "identity"}


def _offered(lens: Lens, function: str) -> bool:
    match function:
        case "manual_focus":
            return lens.focus != "none"
        case "aperture":
            return lens.aperture != "none"
        case "open_aperture_metering":
            return lens.aperture in {"lever", "pin", "electronic"} or lens.protocol is not None
        case _:
            return has(lens, cast(Function, _FROM.get(function, function)))


def _passes_screw(adapter: Adapter) -> Carried:
    return "full" if adapter.passes_screw else "none"


def _passes(adapter: Adapter, function: str | None) -> Carried:
    if adapter.link in {"none", "chip"} or function is None:
        return "none"
    default: Carried = "full" if adapter.link == "pass" else "none"
    return adapter.carries.get(cast(Function, function), default)


def _taken(body: Body, function: str) -> bool:
    match function:
        case "manual_focus" | "aperture":
            return True
        case "autofocus":
            return bool(body.protocols)
        case "open_aperture_metering" | "exposure_modes":
            return body.meters
        case "focal_length":
            return body.stabiliser is not None or body.asks_focal_length or bool(body.protocols)
        case "automatic_magnifier":
            return "magnifier" in body.focus_aids
        case "automatic_crop":
            return any(mode.automatic for mode in body.modes)
        case _:
            return bool(body.protocols)


def functions_left(
    lens: Lens,
    adapters: Sequence[Adapter],
    body: Body,
    signal: Signal,
    iris: Iris,
    *,
    metering: Metering = "unknown",
    crops: bool = False,
    detailed: bool = True,
) -> tuple[FunctionLeft, ...]:
    """What is left of each function that the lens offers or a lens of this body would have.

    ``metering`` is what the coupling parts allow where no contacts speak; ``crops``: a crop mode is in use. Without
    ``detailed``, what each side offers, passes and takes is left out.
    """
    judge = _Judge(lens, adapters, body, signal, iris, metering, crops, detailed)
    left = [
        _autofocus(judge),
        _manual_focus(judge),
        judge.left("aperture", iris.state, iris.link) if lens.aperture != "none" or iris.link is not None else None,
        *_data(judge),
        *_exposure(judge),
        *(judge.electronic(f) for f in _EXTRAS if has(lens, f)),
        *_automatics(judge),
    ]
    return tuple(function for function in left if function is not None)


_EXTRAS: tuple[Function, ...] = ("focus_distance", "stabiliser", "control_ring")


def _manual_focus(judge: _Judge) -> FunctionLeft | None:
    lens = judge.lens
    if can_be_focused(lens, judge.signal):
        return judge.left("manual_focus", "full", None)
    helicoid = next((adapter.id for adapter in judge.adapters if adapter.helicoid_mm > 0), None)
    if helicoid is not None:
        return judge.left("manual_focus", "by_hand", helicoid)
    return None if lens.focus == "none" else judge.left("manual_focus", "lost", judge.signal.broken_at or lens.id)


def _autofocus(judge: _Judge) -> FunctionLeft | None:
    lens, body = judge.lens, judge.body
    if lens.focus == "screw_drive":
        # A screw turns it or nothing does: there has to be one in the body, and all the way through.
        stops = next((adapter.id for adapter in judge.adapters if not adapter.passes_screw), None)
        if stops is None and not body.screw_drive:
            stops = body.id
        return judge.left("autofocus", "full" if stops is None else "lost", stops)
    if body.protocols or has(lens, "autofocus"):
        return judge.electronic("autofocus")
    return None


def _data(judge: _Judge) -> list[FunctionLeft]:
    """Lens data, the focal length for the stabiliser, the aperture read-out: electronic, from a chip, by hand, lost."""
    functions = []
    chip = next((adapter.id for adapter in judge.adapters if adapter.link == "chip"), None)
    by_hand = judge.body.stabiliser is not None or judge.body.asks_focal_length
    names: tuple[tuple[FunctionName, Function], ...] = (
        ("identity", "identity"),
        ("focal_length", "focal_length"),
        ("aperture_readout", "aperture"),
    )
    for name, source in names:
        if not judge.body.protocols and not has(judge.lens, source):
            continue
        level, link = judge.carried(source)
        if level != "none" and not (name == "aperture_readout" and judge.iris.state == "by_hand"):
            functions.append(judge.left(name, _STATES[level], link))
        elif chip is not None:
            functions.append(judge.left(name, "entered", chip))
        elif name == "focal_length" and by_hand:
            functions.append(judge.left(name, "entered", link))
        else:
            functions.append(judge.left(name, "lost", link))
    return functions


def _exposure(judge: _Judge) -> list[FunctionLeft]:
    """Metering with the iris open, and the exposure modes that are left."""
    body, iris = judge.body, judge.iris
    if not body.meters:
        return []
    if judge.metering in {"open", "stop_down", "none"}:
        states: dict[Metering, FunctionState] = {"open": "full", "stop_down": "by_hand", "none": "lost"}
        state, link = states[judge.metering], None if judge.metering == "open" else judge.lens.id
    elif judge.lens.aperture == "none":
        # There is no aperture that the body could set: time alone is left.
        state, link = "by_hand", judge.lens.id
    elif iris.state in {"full", "slow"}:
        state, link = "full", None
    else:
        # The finder darkens with the iris: the body meters what comes through.
        state, link = "by_hand", iris.link or judge.signal.broken_at
    modes: FunctionState = "full" if state == "full" else "by_hand"
    return [
        judge.left("open_aperture_metering", state, link),
        judge.left("exposure_modes", modes if state != "lost" else "lost", link),
    ]


def _automatics(judge: _Judge) -> list[FunctionLeft]:
    """The magnifier that comes up by itself, and the crop that sets itself."""
    body, automatics = judge.body, []
    names: list[tuple[FunctionName, Function]] = []
    if body.protocols and "magnifier" in body.focus_aids:
        names.append(("automatic_magnifier", "focus_distance"))
    if judge.crops and any(mode.automatic for mode in body.modes):
        names.append(("automatic_crop", "identity"))
    for name, source in names:
        level, link = judge.carried(source)
        automatics.append(
            judge.left(name, _STATES[level] if level != "none" else "by_hand", None if level == "full" else link)
        )
    return automatics


def exposure_modes_left(body: Body, left: Sequence[FunctionLeft], allowed: Sequence[str] | None) -> tuple[str, ...]:
    """The exposure modes that are left: all of the body's, or those that a hand-set or coupled aperture allows."""
    modes = next((f.state for f in left if f.function == "exposure_modes"), "lost")
    if modes == "full" and allowed is None:
        return body.exposure_modes
    wanted = allowed if allowed is not None else (("A", "M") if modes == "by_hand" else ("M",))
    return tuple(mode for mode in body.exposure_modes if mode in wanted)


def falls_short(lens: Lens, adapters: Sequence[Adapter], body: Body, left: Sequence[FunctionLeft]) -> bool:
    """Whether a function that a lens of this body would have is lost or done by hand.

    A lens of an electronic body has contacts; a lens of a mechanical one is driven by it, which no ring passes on.
    """
    if lens.protocol is None:
        return bool(body.protocols) or bool(adapters)
    if not body.protocols:
        return True
    return any(f.state in SHORT_OF and counts(lens, f.function) for f in left)


SHORT_OF = frozenset({"lost", "by_hand", "entered", "stuck"})


def extras_lost(lens: Lens, left: Sequence[FunctionLeft]) -> tuple[FunctionLeft, ...]:
    """What a lens lists and does not have here, though it costs no grade."""
    return tuple(f for f in left if f.state in SHORT_OF and f.function in lens.offers and not counts(lens, f.function))
