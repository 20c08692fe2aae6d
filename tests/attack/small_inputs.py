"""Small inputs that once worked without end: what each takes now, in processor time and memory.

``python -m tests.attack.small_inputs [LIMIT_S]`` prints a line each; every case runs in a process of its own, which is
ended after LIMIT_S (60) seconds. Nothing is asserted here: the bounds themselves are tested where they stand.
"""

from __future__ import annotations

import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice

_Case = Callable[[], object]


def _rings(count: int) -> World:
    tubes = [ring(f"t{n}", 1 + 0.37 * n, price=10.0 + n, mass_g=20.0 + n) for n in range(count)]
    return world_of([*tubes, *(ring(f"r{n}", 5 + 0.61 * n, price=60.0 + n, mass_g=90.0 + n) for n in range(count))])


def _pair(count: int, pieces: str) -> _Case:
    def does() -> object:
        from tropeion.core.routes.match import match  # noqa: PLC0415

        return match(_rings(count), "lens", "body", Practice.model_validate({"pieces": pieces}))

    return does


def _eight_mounts() -> object:
    from tropeion.core.routes.match import match  # noqa: PLC0415

    registers = [72.0, 64.0, 56.0, 48.0, 40.0, 32.0, 24.0, 16.0]
    mounts = [mount(f"m{n}", one, interface=f"i{n}") for n, one in enumerate(registers)]
    gear = gear_of(
        {
            "mounts": mounts,
            "lenses": [lens(mount="m0")],
            "bodies": [body(mount="m7")],
            "adapters": [
                ring(
                    f"a{f}-{r}-{n}", abs(registers[f] - registers[r]) + 0.1 * n, lens_mount=f"m{f}", body_mount=f"m{r}"
                )
                for f in range(8)
                for r in range(8)
                if f != r
                for n in range(2)
            ],
        }
    )
    return match(compile_world(gear), "lens", "body", Practice(pieces="4"))


def _outing(rigs: int) -> _Case:
    def does() -> object:
        from tropeion.core.setup.swaps import Mounting, in_least_order  # noqa: PLC0415

        shots = [Mounting(f"body{n % 5}", (f"ring{n % 7}", f"lens{n}")) for n in range(rigs)]
        return in_least_order(shots, {})

    return does


def _foils() -> object:
    from tropeion.core.bench.shims import Foils, shim_for  # noqa: PLC0415

    foils = [Foils(0.01 + 0.001 * n, 5) for n in range(120)]
    return shim_for(-0.3137, 0.0, foils)


def _archived() -> object:
    from tropeion.store.collection import Collection, Edit  # noqa: PLC0415

    gear = gear_of({"mounts": [mount("front", 45.0)], "lenses": [lens(id=f"l{n}", name=f"L{n}") for n in range(5_000)]})
    with tempfile.TemporaryDirectory() as folder, closing(Collection(Path(folder) / "c.sqlite")) as collection:
        collection.replace(gear)
        edits = [Edit("lenses", one.id, one.model_copy(update={"retired": True}), 1) for one in gear.lenses]
        before = time.process_time()
        collection.edit(edits, "archived")
        return time.process_time() - before


def _modes() -> object:
    from tropeion.core.becomes.becoming_tables import lens_on_bodies  # noqa: PLC0415
    from tropeion.core.becomes.reference import FULL_FRAME  # noqa: PLC0415

    modes = [{"name": f"M{n}", "sensor_mm": [36 - 0.02 * n, 24 - 0.01 * n]} for n in range(1, 200)]
    bodies = [body(id=f"b{n}", name=f"B{n}", modes=modes) for n in range(200)]
    mounts = [mount("front", 45.0), mount("rear", 20.0)]
    gear = gear_of({"mounts": mounts, "lenses": [lens()], "bodies": bodies, "adapters": [ring("r", 25.0)]})
    world = compile_world(gear)
    return lens_on_bodies(world, world.lenses["lens"], world.gear.bodies, FULL_FRAME, Practice())


CASES: dict[str, _Case] = {
    "120 foils, the choice that comes nearest": _foils,
    "an outing of 20 rigs in order": _outing(20),
    "an outing of 60 rigs in order": _outing(60),
    "40 tubes and 40 rings, two pieces": _pair(40, "2"),
    "40 tubes and 40 rings, three pieces": _pair(40, "3"),
    "100 tubes and 100 rings, three pieces": _pair(100, "3"),
    "8 mounts, 112 adapters, four pieces": _eight_mounts,
    "5,000 lenses archived at once": _archived,
    "a lens over 200 bodies of 200 modes": _modes,
}


def _one(name: str) -> None:
    begun = time.process_time()
    CASES[name]()
    took, peak = time.process_time() - begun, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    print(f"{name}: {took:.1f} s, {peak} MB")


def _all(limit_s: float) -> None:
    for name in CASES:
        try:
            done = subprocess.run(
                [sys.executable, "-m", "tests.attack.small_inputs", "--one", name],
                timeout=limit_s,
                capture_output=True,
                text=True,
                check=False,
            )
        except subprocess.TimeoutExpired:
            print(f"{name}: more than {limit_s:.0f} s")
            continue
        print(done.stdout.strip() or f"{name}: {done.stderr.strip().splitlines()[-1]}")


if __name__ == "__main__":
    if sys.argv[1:2] == ["--one"]:
        _one(sys.argv[2])
    else:
        _all(float(sys.argv[1]) if len(sys.argv) > 1 else 60.0)
