"""Pieces put one onto the other: where they meet, and where each stands before the sensor.

The chain is walked once, here; whoever needs a joint, a seat or a bore takes it from the stack. Lengths in mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.working import PLAIN

from .clipping import Bore
from .register import chain_of, room_mm
from .seats import Link, Seat, cancels, link_of, seat_of


@frozen
class Joint:
    """Where two pieces meet: the seat between them stands ``at_mm`` before the sensor.

    What is in front ``gives`` its mount; what is behind ``takes`` one.
    """

    front: Lens | Adapter
    rear: Adapter | Body
    gives: Mount
    takes: Mount
    at_mm: float

    @property
    def link(self) -> str:
        """The piece behind names the joint."""
        return self.rear.id

    @property
    def is_trap(self) -> bool:
        """Two systems share this joint and differ in register: it goes on, and does not focus."""
        return self.mates and self.gives is not self.takes and bool(room_mm(self.gives, self.takes))

    @property
    def locks(self) -> bool:
        """A mount that locks, or an adapter whose lens side does, stills this joint and no other."""
        held = isinstance(self.rear, Adapter) and self.rear.locking
        return self.gives.locking or self.takes.locking or held

    @property
    def mates(self) -> bool:
        """They go together by interface, not by system."""
        return self.gives.joint == self.takes.joint


@frozen
class Placed:
    """An adapter where it stands, with both ends of its bore where that is known."""

    adapter: Adapter
    link: Link
    rear_mm: float
    front_mm: float

    @property
    def bores(self) -> tuple[Bore, ...]:
        bore = self.adapter.bore_mm
        if bore is None:
            return ()
        return Bore(self.adapter.id, self.rear_mm, bore), Bore(self.adapter.id, self.front_mm, bore)


@frozen
class Stack:
    """A lens on adapters on a body. Joints and adapters run from the lens to the body.

    Where its error is not ``known``, a seat whose register is not known stands where it would have to.
    """

    lens: Lens
    adapters: tuple[Adapter, ...]
    body: Body
    lens_seat: Seat
    body_seat: Seat
    lens_mount: Mount
    body_mount: Mount
    joints: tuple[Joint, ...]
    placed: tuple[Placed, ...]
    known: bool

    @property
    def seat_mm(self) -> float:
        """Where the seat of the lens stands."""
        return self.joints[0].at_mm

    @property
    def bores(self) -> list[Bore]:
        """The body's throat and both ends of every bore, from the body on."""
        all_bores = []
        if self.body_mount.throat_mm is not None:
            all_bores.append(Bore(self.body.id, self.body_seat.register_mm, self.body_mount.throat_mm))
        for placed in reversed(self.placed):
            all_bores += placed.bores
        return all_bores


def stack_of(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> Stack:
    """Put the pieces together, adapters from the lens to the body, whether they mate or not."""
    mounts = world.mounts
    lens_mount, body_mount = world.mount_of(lens), world.mount_of(body)
    lens_seat, body_seat = seat_of(lens, lens_mount), seat_of(body, body_mount)
    links = [link_of(world.structure, adapter.id) for adapter in adapters]
    at_home = cancels(lens_seat, body_seat, one_mount=lens_mount is body_mount)
    known = (lens_seat.known and body_seat.known) or (at_home and not any(link.glass for link in links))
    if not known:
        lens_seat, body_seat = _as_if_it_fitted(lens_seat, links, body_seat)
    at = body_seat.register_mm
    placed: list[Placed] = []
    joints: list[Joint] = []
    rear: Adapter | Body = body
    takes = body_mount
    for adapter, link in zip(reversed(adapters), reversed(links), strict=True):
        gives = mounts[adapter.body_mount]
        joints.append(Joint(adapter, rear, gives, takes, at))
        placed.append(Placed(adapter, link, at, at + link.length_mm))
        at, rear, takes = at + link.length_mm, adapter, mounts[adapter.lens_mount]
    joints.append(Joint(lens, rear, lens_mount, takes, at))
    return Stack(
        lens=lens,
        adapters=tuple(adapters),
        body=body,
        lens_seat=lens_seat,
        body_seat=body_seat,
        lens_mount=lens_mount,
        body_mount=body_mount,
        joints=tuple(reversed(joints)),
        placed=tuple(reversed(placed)),
        known=known,
    )


# A body of unknown register is drawn at least this deep.
_FLATTEST_MM = 5.0


def _as_if_it_fitted(lens: Seat, links: Sequence[Link], body: Seat) -> tuple[Seat, Seat]:
    """The seats with what is not known of them such that infinity is sharp."""
    chain = chain_of(lens, links, body, PLAIN)
    if not lens.known:
        return replace(lens, register_mm=lens.register_mm + chain.lens_error_mm), body
    return lens, replace(body, register_mm=max(_FLATTEST_MM, body.register_mm - chain.error_mm))
