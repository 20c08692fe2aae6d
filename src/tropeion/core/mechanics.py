"""What mates, and what would touch."""

from __future__ import annotations

from collections.abc import Sequence

from .findings import Finding, finding
from .gear import Adapter, Body, Lens
from .words import millimetres
from .working import tidy
from .world import World

__all__ = ["judge_clearance", "judge_joints"]

CLEARANCE_MM = 0.5


def judge_joints(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body) -> list[Finding]:
    """What is wrong at each joint: they mate by interface, not by system."""
    found = []
    front_name, front_mount = lens.name, world.mounts[lens.mount]
    rears = [(a.id, a.name, a.lens_mount, a.body_mount) for a in adapters]
    for link, name, lens_side, next_mount in [*rears, (body.id, body.name, body.mount, body.mount)]:
        rear_mount = world.mounts[lens_side]
        if front_mount.interface != rear_mount.interface:
            front, rear = front_mount.thread, rear_mount.thread
            binds = front and rear and front.diameter_mm == rear.diameter_mm
            found.append(finding("thread_binds" if binds else "does_not_mate", link, front=front_name, rear=name))
        front_name, front_mount = name, world.mounts[next_mount]
    return found


def judge_clearance(
    world: World, lens: Lens, adapters: Sequence[Adapter], body: Body, body_register_mm: float
) -> list[Finding]:
    """Whether the rear of the lens clears what stands behind it. Unknown: not assessed.

    The rear vertex stands R_b + ΣL − rear protrusion before the sensor and must clear the body's nearest obstruction,
    or the front of glass in the chain, by 0.5 mm; its barrel must pass each bore that it reaches.
    """
    if lens.rear_protrusion_mm is None:
        return []
    found = []
    lengths = [a.length_mm if a.measured_length_mm is None else a.measured_length_mm for a in adapters]
    seat = body_register_mm + sum(lengths)
    vertex = seat - lens.rear_protrusion_mm
    obstacle: tuple[str, str, float] | None = None
    if body.obstruction_mm is not None:
        obstacle = (body.id, f"the inside of {body.name}", body.obstruction_mm)
    front = seat
    for adapter, length in zip(adapters, lengths, strict=True):
        if adapter.has_glass:
            if adapter.front_glass_mm is None:
                obstacle = None
            else:
                obstacle = (adapter.id, f"the glass of {adapter.name}", front - adapter.front_glass_mm)
            break
        front -= length
    if obstacle is not None and tidy(vertex - obstacle[2] - CLEARANCE_MM) < 0:
        link, name, limit = obstacle
        behind = "behind" if vertex < 0 else ""
        found.append(
            finding(
                "rear_collides",
                link,
                rear=f"{millimetres(vertex)}{behind and ' ' + behind}",
                obstacle=name,
                limit=millimetres(limit),
            )
        )
    if lens.rear_diameter_mm is not None:
        bores = []
        front = seat
        for adapter, length in zip(adapters, lengths, strict=True):
            bores.append((adapter.id, adapter.name, front, adapter.bore_mm))
            front -= length
        bores.append((body.id, body.name, body_register_mm, world.mounts[body.mount].throat_mm))
        for link, name, front, bore in bores:
            if bore is not None and vertex < front and tidy(bore - lens.rear_diameter_mm) < 0:
                found.append(
                    finding(
                        "rear_too_wide",
                        link,
                        barrel=millimetres(lens.rear_diameter_mm),
                        bore=f"{name} ({millimetres(bore)})",
                        where=name,
                    )
                )
    return found
