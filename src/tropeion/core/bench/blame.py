"""Which piece of a rig an error is likely of, and whether it is that of a ring for another system.

Of independent normal errors whose sum is known, each takes its share of the variance (Gauss–Markov).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.optics.register import room_mm, sensitivities
from tropeion.core.rig.assembly import Assembly

from .combined import Estimate

# A ring for another system stands out by more than a hand can err.
LEAST_MM = 0.25


@frozen
class Blamed:
    """A piece, its share of what the tolerances leave open, and the error that it then likely has, in its own mm."""

    piece: str
    name: str
    tolerance_mm: float
    assumed: bool
    share: float
    error_mm: float


@frozen
class WrongRing:
    """A system whose ring would err by ``error_mm`` here; ``says`` in words."""

    mount: str
    error_mm: float
    says: str


def blame(rig: Assembly, found: Estimate) -> tuple[Blamed, ...]:
    """The pieces of a rig by their share, the likeliest first."""
    chain, placed = rig.chain, rig.stack.placed
    of_segments, of_pieces = sensitivities([ring.link for ring in placed])
    pieces = [
        (rig.lens.id, rig.lens.name, chain.lens.tolerance_mm, chain.lens.assumed, of_segments[0]),
        *(
            (ring.adapter.id, ring.adapter.name, ring.link.tolerance_mm, ring.link.assumed, weight)
            for ring, weight in zip(placed, of_pieces, strict=True)
        ),
        (rig.body.id, rig.body.name, chain.body.tolerance_mm, chain.body.assumed, 1.0),
    ]
    variance = math.fsum((tolerance * weight) ** 2 for *_, tolerance, _, weight in pieces)
    if variance == 0:
        return ()
    beyond = found.mean_mm - chain.error_mm
    told = [
        Blamed(id_, name, tolerance, assumed, share, beyond * share / weight)
        for id_, name, tolerance, assumed, weight in pieces
        if (share := (tolerance * weight) ** 2 / variance) > 0
    ]
    return tuple(sorted(told, key=lambda blamed: -blamed.share))


def wrong_rings(world: World, rig: Assembly, found: Estimate) -> tuple[WrongRing, ...]:
    """Systems that share a joint of the rig and whose ring would show this error, the nearest first."""
    adapters = rig.adapters
    if not adapters:
        return ()
    told: list[tuple[float, WrongRing]] = []
    doubt = max(LEAST_MM, 3 * found.standard_uncertainty_mm)
    weight = sensitivities([placed.link for placed in rig.stack.placed])[0][0]
    lens_mount, body_mount = rig.stack.lens_mount, rig.stack.body_mount
    fits: Sequence[tuple[float | None, float, str, str]] = [
        *(
            (room_mm(mount, lens_mount), weight, mount.id, f"lenses with {mount.name}")
            for mount in world.gear.mounts
            if mount.id != lens_mount.id and mount.joint == lens_mount.joint
        ),
        *(
            (room_mm(body_mount, mount), 1.0, mount.id, f"bodies with {mount.name}")
            for mount in world.gear.mounts
            if mount.id != body_mount.id and mount.joint == body_mount.joint
        ),
    ]
    for apart, counts, mount, whose in fits:
        if apart is None:
            continue
        error = counts * apart
        off = abs(found.mean_mm - rig.chain.error_mm - error)
        if abs(error) >= LEAST_MM and off <= doubt:
            says = f"{abs(error):.1f} mm too {'long' if error > 0 else 'short'}: this is the ring for {whose}"
            shared = "on the same thread" if world.mount(mount).thread is not None else "on the same joint"
            told.append((off, WrongRing(mount, error, f"{says}, {shared}.")))
    return tuple(wrong_ring for _, wrong_ring in sorted(told, key=lambda pair: (pair[0], pair[1].mount)))
