"""What is carried: 100 systems, ten bodies, fifty kept rigs; how long it takes, and how large it is."""

from __future__ import annotations

import gzip
import time
from collections.abc import Callable
from typing import Final

from pydantic import TypeAdapter

from benchmarks.market import market
from tropeion.core.answers.shop import LensSeen, WouldFit, would_fit
from tropeion.core.gear.gear import Gear, SavedRig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.pocket.gathering import Carried, gather
from tropeion.core.practice import Practice
from tropeion.formats.pocket_json import MOST_BYTES, dump_pocket

Report = Callable[[str, float, float, str, float | None, str], None]
_RIGS: Final = 50


def carried_market() -> Gear:
    """The market that the bound is for; the rings of a rig are those that its pair has."""
    gear = market(systems=100, adapters=1000, lenses=300, bodies=10, seed=36)
    bodies = tuple(body.model_copy(update={"owned": 1}) for body in gear.bodies)
    gear = gear.model_copy(update={"bodies": bodies})
    rigs: list[SavedRig] = []
    for ring in gear.adapters:
        lens = next((lens for lens in gear.lenses if lens.mount == ring.lens_mount), None)
        body = next((body for body in gear.bodies if body.mount == ring.body_mount), None)
        if lens is not None and body is not None and len(rigs) < _RIGS:
            name = f"rig-{len(rigs)}"
            rigs.append(SavedRig(id=name, name=name, lens=lens.id, body=body.id, adapters=(ring.id,)))
    return gear.model_copy(update={"rigs": tuple(rigs)})


def measure(report: Report) -> None:
    """Time and size, beside what the screens are sent."""
    world = compile_world(carried_market())
    seconds, size, told = _gathered(world)
    report(f"carried: 100 systems, 10 bodies, {len(world.gear.rigs)} rigs ({told})", seconds, 30, "s", None, "")
    report("the same, gzipped", size / 1e6, MOST_BYTES / 1e6, "MB", _screens_mb(world), "every screen's answer kept")


def _screens_mb(world: World) -> float:
    """What fits of each system, as its screen is answered, drawings and all."""
    answer = TypeAdapter(WouldFit)
    screens = (would_fit(world, LensSeen(mount.id, 50.0), Practice()) for mount in world.gear.mounts)
    return len(gzip.compress(b"".join(answer.dump_json(screen) for screen in screens), 5)) / 1e6


def _gathered(world: World) -> tuple[float, int, str]:
    begun = time.perf_counter()
    pocket, data = dump_pocket(gather(world, Carried("c", "s", "now", Practice())))
    left_out = "; ".join(pocket.left_out) or "whole"
    return time.perf_counter() - begun, len(gzip.compress(data, 5)), left_out
