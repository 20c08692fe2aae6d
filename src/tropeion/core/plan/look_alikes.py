"""What is easily taken for the right piece, and its consequence."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.optics.register import room_mm


@frozen
class LookAlikeRing:
    """A piece or mount that is easily taken for the right one, and its consequence."""

    name: str
    why: str


def mounts_like(world: World, ends: Sequence[Mount]) -> Iterator[LookAlikeRing]:
    """Mounts on the same screw or bayonet with another register: the part goes on and never focuses."""
    for mount in ends:
        for other in world.gear.mounts:
            apart = room_mm(other, mount) if other.id != mount.id and other.joint == mount.joint else None
            if apart:
                goes = f"It goes on where {mount.name} does, and is {abs(apart):.2f} mm off"
                yield LookAlikeRing(other.name, f"{goes}: it never focuses right.")
