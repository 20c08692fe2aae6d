"""What mates, what would touch, what the joints bear, and how far they give."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core import catalogue
from tropeion.core.findings import Finding, Remark
from tropeion.core.gear.gear import Adapter, Body, Lens, Mount
from tropeion.core.gear.world import World
from tropeion.core.words import millimetres
from tropeion.core.working import Calc, Symbol, formula, tidy

__all__ = [
    "Load",
    "Play",
    "judge_clearance",
    "judge_joints",
    "judge_mechanics",
    "loads_of",
    "play_of",
    "smallest_ring_mm",
]

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
            kind = catalogue.thread_binds if binds else catalogue.does_not_mate
            found.append(kind(link, front=front_name, rear=name))
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
    lengths = [a.physical_length_mm for a in adapters]
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
            catalogue.rear_collides(
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
                    catalogue.rear_too_wide(
                        link,
                        barrel=millimetres(lens.rear_diameter_mm),
                        bore=f"{name} ({millimetres(bore)})",
                        where=name,
                    )
                )
    return found


GRAVITY = "Moment of a weight, standard gravity 9.80665 m/s²"


@formula(
    "loads.moment_nm",
    "9.80665·10⁻⁶ · Σ mass · distance",
    "N·m",
    GRAVITY,
    masses_g=Symbol("mass", "g", "of each piece in front of the joint"),
    distances_mm=Symbol("distance", "mm", "of its centre of mass from the joint"),
)
def moment_nm(masses_g: Sequence[float], distances_mm: Sequence[float]) -> float:
    """Moment of everything in front of a joint."""
    return 9.80665e-6 * math.fsum(m * d for m, d in zip(masses_g, distances_mm, strict=True))


@dataclass(frozen=True, slots=True)
class Load:
    """The moment at one joint, in N·m, and what the joint is rated for. ``link`` is the piece behind the joint."""

    link: str
    moment_nm: float
    rating_nm: float | None


def loads_of(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body, calc: Calc) -> tuple[Load, ...]:
    """The moment at every joint, lens first. Empty where a mass or the lens's centre of mass is not known.

    An adapter's centre of mass is taken at half its length, a lens's as stated, forward from its seat.
    """
    if lens.mass_g is None or lens.centre_of_mass_mm is None or any(a.mass_g is None for a in adapters):
        return ()
    masses, distances, loads = [lens.mass_g], [lens.centre_of_mass_mm], []
    front_mount = world.mounts[lens.mount]
    behind: list[Adapter | Body] = [*adapters, body]
    for number, piece in enumerate(behind):
        rear_mount = world.mounts[piece.lens_mount if isinstance(piece, Adapter) else piece.mount]
        ratings = [m.load_rating_nm for m in (front_mount, rear_mount) if m.load_rating_nm is not None]
        if number and adapters[number - 1].load_rating_nm is not None:
            ratings.append(adapters[number - 1].load_rating_nm or 0.0)
        if isinstance(piece, Adapter) and piece.load_rating_nm is not None:
            ratings.append(piece.load_rating_nm)
        moment = calc.under(f"joint {number + 1}")(moment_nm, list(masses), list(distances))
        loads.append(Load(piece.id, moment, min(ratings) if ratings else None))
        if isinstance(piece, Adapter):
            length = piece.physical_length_mm
            distances = [d + length for d in distances]
            masses.append(piece.mass_g or 0.0)
            distances.append(length / 2)
            front_mount = world.mounts[piece.body_mount]
    return tuple(loads)


@formula(
    "play.displacement_mm",
    "Σ play",
    "mm",
    "Play of the joints adds up; a locking joint has none",
    plays_mm=Symbol("play", "mm", "of each joint, lens first"),
)
def displacement_mm(plays_mm: Sequence[float]) -> float:
    """How far the lens can move in its joints."""
    return math.fsum(plays_mm)


@formula(
    "play.fraction_of_window",
    "play/(K·N·c)",
    "",
    "Against the depth of focus wide open",
    displacement=Symbol("play", "mm", "of all joints", "play.displacement_mm"),
    window_mm=Symbol("K·N·c", "mm", "depth of focus wide open"),
)
def fraction_of_window(displacement: float, window_mm: float) -> float:
    """Play as a share of the depth of focus, for focus pulling."""
    return displacement / window_mm


@dataclass(frozen=True, slots=True)
class Play:
    """Play of all joints: in mm, and as a share of the depth of focus wide open."""

    displacement_mm: float
    fraction_of_window: float


def play_of(world: World, lens: Lens, adapters: Sequence[Adapter], body: Body, window_mm: float, calc: Calc) -> Play:
    """Play over the joints: the lens's mount in front, each adapter's own behind it; a locking seat holds still."""
    lens_mount = world.mounts[lens.mount]
    seats = [adapter.locking for adapter in adapters] or [world.mounts[body.mount].locking]
    plays = [0.0 if lens_mount.locking or seats[0] else lens_mount.play_mm]
    plays += [0.0 if adapter.locking else adapter.play_mm for adapter in adapters]
    moved = calc(displacement_mm, plays)
    return Play(moved, calc(fraction_of_window, moved, window_mm))


def smallest_ring_mm(lens_mount: Mount, body_mount: Mount) -> float:
    """The shortest practical ring: about 1 mm where one coupling nests in the other, else about 4 mm."""
    pairs = ((lens_mount.outer_mm, body_mount.inner_mm), (body_mount.outer_mm, lens_mount.inner_mm))
    nests = any(outer is not None and inner is not None and outer <= inner for outer, inner in pairs)
    return 1.0 if nests else 4.0


def judge_mechanics(
    world: World, lens: Lens, adapters: Sequence[Adapter], body: Body, loads: Sequence[Load], play: Play, film: bool
) -> list[Remark]:
    """Loads over their rating, play that a focus puller feels, throw, seats, reflections."""
    found = []
    over = [load for load in loads if load.rating_nm is not None and tidy(load.moment_nm - load.rating_nm) > 0]
    if over:
        worst = max(over, key=lambda load: load.moment_nm - (load.rating_nm or 0))
        feet = feet_of(lens, adapters)
        advice = f"Support it by the foot of {feet[0]}" if feet else "Support the lens by a bracket or on rods"
        found.append(
            catalogue.load_exceeded(
                worst.link,
                moment=f"{worst.moment_nm:.2f}",
                rating=f"{worst.rating_nm:.2f}",
                advice=advice,
            )
        )
    if film and play.fraction_of_window > 0.5:
        found.append(
            catalogue.play_moves_focus(
                adapters[-1].id if adapters else lens.id,
                play=millimetres(play.displacement_mm),
                share=f"{play.fraction_of_window:.0%}",
            )
        )
    positions = max([world.mounts[a.lens_mount].positions for a in adapters] or [world.mounts[lens.mount].positions])
    if lens.squeeze > 1:
        if positions > 1:
            found.append(catalogue.seats_turn_squeeze(lens.id, positions=str(positions), squeeze=f"{lens.squeeze:g}"))
        if not any(tidy(d - lens.squeeze) == 0 for d in body.desqueeze):
            found.append(catalogue.no_desqueeze(body.id, squeeze=f"{lens.squeeze:g}"))
    for adapter in adapters:
        if adapter.reflections:
            found.append(catalogue.reflections(adapter.id, what=adapter.reflections))
    return found


def feet_of(lens: Lens, adapters: Sequence[Adapter]) -> list[str]:
    """The pieces that have a tripod foot, the lens first."""
    own = [lens.name] if lens.tripod_foot else []
    return own + [adapter.name for adapter in adapters if adapter.tripod_foot]
