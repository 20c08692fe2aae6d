"""Two mounts with many rings between them, both ways round: as many chains of three as the cube of their number."""

from __future__ import annotations

import random

from benchmarks.market import market
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.gear import Gear


def rings_both_ways(count: int) -> Gear:
    """``count`` rings from a lens ``l0`` to a body ``b0``, and as many back; no two of them are alike."""
    gear = market(systems=2, adapters=0, lenses=1, bodies=1)
    ends = gear.lenses[0].mount, gear.bodies[0].mount
    front, rear = ("m0", "m1") if ends[0] == ends[1] else ends
    dice = random.Random(5)
    deep = {"m0": 46.0, "m1": 20.0} if front == "m0" else {"m1": 46.0, "m0": 20.0}
    rings = [
        Adapter(
            id=f"{way}{number}",
            name=f"Ring {way} {number}",
            lens_mount=str(one),
            body_mount=str(other),
            length_mm=round(26.0 + dice.gauss(0, 0.03), 3) if way == "there" else round(0.5 + number * 0.05, 3),
            bore_mm=42.0 + number / 50,
            mass_g=50.0 + number,
            price=10.0 + number,
        )
        for way, one, other in (("there", front, rear), ("back", rear, front))
        for number in range(count)
    ]
    return gear.model_copy(
        update={
            "mounts": tuple(mount.model_copy(update={"register_mm": deep[mount.id]}) for mount in gear.mounts),
            "lenses": (gear.lenses[0].model_copy(update={"mount": front}),),
            "bodies": (gear.bodies[0].model_copy(update={"mount": rear}),),
            "adapters": tuple(rings),
        }
    )
