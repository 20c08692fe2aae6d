"""Pieces put together by one practice: what of a rig does not depend on the focal length."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple, TypeVar

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import own_circle_mm, taken_body, taken_for
from tropeion.core.gear.world import World
from tropeion.core.joints import contacts
from tropeion.core.joints.iris import Iris, body_moves_iris, iris_of
from tropeion.core.joints.signal import Signal, signal_of, tells_nothing_of_its_zoom
from tropeion.core.keeping import kept
from tropeion.core.optics import blur, coverage, equivalents, focus, modes, register
from tropeion.core.optics.stack import Stack, stack_of
from tropeion.core.practice import Practice
from tropeion.core.working import PLAIN, Calc, tidy


@frozen
class Pictured:
    """What decides which picture a rig takes, wherever it is sharp: its glass, its contacts and its sensor.

    ``blur_mm`` is the circle of confusion, ``magnification`` that of all glass in the chain.
    """

    world: World
    lens: Lens
    adapters: tuple[Adapter, ...]
    body: Body
    practice: Practice
    magnification: float
    signal: Signal
    iris: Iris
    mode: modes.FormatMode
    blur_mm: float
    image_circle_mm: float | None

    @property
    def magnifications(self) -> list[float]:
        return [adapter.magnification for adapter in self.adapters]

    def f_number_with_glass(self, marked: float, calc: Calc = PLAIN) -> float:
        """The aperture that a marked one becomes behind the glass: exposure follows it."""
        ceilings = [adapter.widest_f_number for adapter in self.adapters]
        return calc(equivalents.f_number_with_glass, marked, self.magnifications, ceilings)

    @property
    def circle_from(self) -> str:
        """How the image circle is known: ``stated``, ``measured``, usual for a ``format``; empty where it is not."""
        if self.lens.image_circle_mm is not None:
            return self.lens.image_circle_from
        return "" if self.image_circle_mm is None else "format"


@frozen
class Assembly(Pictured):
    """A rig put together, with what its registers come to. ``offset_mm`` is what glass carries the image on."""

    stack: Stack
    chain: register.Chain
    movable: bool
    offset_mm: float

    @property
    def allowance_mm(self) -> float:
        """What the cautious school adds to the error; a rig without adapters is exempt."""
        return self.chain.worst_case_mm if self.practice.trust == "cautious" and self.adapters else 0.0

    @property
    def drives_assumed(self) -> tuple[str, ...]:
        """What of focus and aperture is taken to be set by a ring, of a lens with contacts of which nobody said so."""
        said = self.world.lenses.get(self.lens.id, self.lens)
        if self.lens.protocol is None:
            return ()
        return tuple(name for name in ("focus", "aperture") if getattr(said, name) is None)

    @property
    def by_construction(self) -> bool:
        """Whether the length of a ring was taken from the room that it is to fill: it proves nothing of infinity."""
        return any(adapter.length_from == "gap" and adapter.measured_length_mm is None for adapter in self.adapters)

    @property
    def avoided(self) -> bool:
        """Whether its owner does not use it: a zoom of which the body does not know where it stands."""
        return self.practice.zooms == "avoid" and tells_nothing_of_its_zoom(self.lens, self.adapters, self.signal)


@kept(most=5_000)
def _modes(world: World, body_id: str, use: str) -> tuple[modes.FormatMode, ...]:
    return modes.modes_of(world.bodies[body_id], use)


class _Seen(NamedTuple):
    """What contacts and circle come to, in the order in which :class:`Pictured` has them."""

    signal: Signal
    iris: Iris
    mode: modes.FormatMode
    blur_mm: float
    image_circle_mm: float | None


def build(
    world: World, lens: Lens, adapters: tuple[Adapter, ...], body: Body, practice: Practice, calc: Calc
) -> Assembly:
    """Put a rig together, adapters from the lens to the body."""
    lens, body = taken_for(world, lens), taken_body(world, body)
    stack = stack_of(world, lens, adapters, body)
    chain = register.chain_of(
        stack.lens_seat, [placed.link for placed in stack.placed], stack.body_seat, calc if stack.known else PLAIN
    )
    seen = _seen(world, lens, adapters, body, practice, calc)
    return Assembly(
        world,
        lens,
        adapters,
        body,
        practice,
        chain.magnification,
        *seen,
        stack=stack,
        chain=chain,
        movable=contacts.can_be_focused(lens, seen.signal) or chain.helicoid_mm > 0,
        offset_mm=_offset(chain, calc),
    )


def pictured_by(world: World, lens: Lens, adapters: tuple[Adapter, ...], body: Body, practice: Practice) -> Pictured:
    """What of a rig decides its picture, without putting it together."""
    lens, body = taken_for(world, lens), taken_body(world, body)
    k = register.magnification([adapter.magnification for adapter in adapters])
    return Pictured(world, lens, adapters, body, practice, k, *_seen(world, lens, adapters, body, practice, PLAIN))


def _seen(world: World, lens: Lens, adapters: tuple[Adapter, ...], body: Body, practice: Practice, calc: Calc) -> _Seen:
    circle, own_circle = None, own_circle_mm(world, lens)
    if own_circle is not None:
        circle = calc(
            coverage.image_circle_mm,
            own_circle,
            [adapter.magnification for adapter in adapters],
            [adapter.image_circle_mm for adapter in adapters],
        )
    mode, _ = modes.choose_mode(_modes(world, body.id, practice.use), circle)
    blur_mm = blur.blur_of(mode, practice.blur, calc)
    signal = signal_of(world, lens, adapters, body)
    moved = body_moves_iris(lens, body, world.mount_of(lens), world.mount_of(body))
    return _Seen(signal, iris_of(lens, adapters, signal, moved=moved), mode, blur_mm, circle)


P = TypeVar("P", bound=Pictured)


def in_mode(rig: P, mode: modes.FormatMode) -> P:
    """The same rig recording another part of its sensor."""
    if mode is rig.mode:
        return rig
    return replace(rig, mode=mode, blur_mm=blur.blur_of(mode, rig.practice.blur, PLAIN))


def lengthened(rig: Assembly, mm: float) -> Assembly:
    """The same rig with a plain piece of ``mm`` more before the body: an extension ring, or a ring that is too long."""
    chain, seen = rig.chain, tidy(mm / rig.chain.magnification**2)
    longer = replace(
        chain,
        error_mm=tidy(chain.error_mm + mm),
        lens_error_mm=tidy(chain.lens_error_mm + seen),
        length_mm=chain.length_mm + mm,
    )
    return replace(rig, chain=longer, offset_mm=_offset(longer, PLAIN))


def _offset(chain: register.Chain, calc: Calc) -> float:
    if not chain.has_glass:
        return 0.0
    return calc(
        focus.sensor_offset_mm, chain.lens.register_mm, chain.lens_error_mm, chain.body.register_mm, chain.length_mm
    )


def losses_stops(adapters: Sequence[Adapter], unstated: float = 0.0) -> float:
    """Light that pieces take with each filter at its clearest; ``unstated`` for one of which that is not stated."""
    total = 0.0
    for adapter in adapters:
        total += adapter.light_loss_stops
        if adapter.filter_slot is not None:
            least = adapter.filter_slot.least_stops
            total += unstated if least is None else least
    return total


def to_buy(adapters: Sequence[Adapter]) -> tuple[Adapter, ...]:
    """The pieces of a chain that are not at hand: a second copy of one that is owned once is not."""
    ids = [adapter.id for adapter in adapters]
    return tuple(
        [adapter for place, adapter in enumerate(adapters, 1) if ids[:place].count(adapter.id) > adapter.at_hand]
    )


def price_of(adapters: Sequence[Adapter]) -> float | None:
    """What has to be bought; None where a price is not known."""
    return price_of_all(to_buy(adapters))


def price_of_all(bought: Sequence[Adapter]) -> float | None:
    """What pieces cost that have to be bought; None where a price is not known."""
    missing = [adapter.price for adapter in bought]
    known = [price for price in missing if price is not None]
    return sum(known) if len(known) == len(missing) else None
