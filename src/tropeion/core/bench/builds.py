"""A build: the pieces that stand between a lens without a mount and a body, what they reach, how they go together."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.optics.clipping import full_cone_height_mm
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.optics.infinity import FULL_STOPS
from tropeion.core.optics.seats import seat_of
from tropeion.core.rig.assembly import price_of, to_buy
from tropeion.core.working import tidy

__all__ = ["WAYS_TO_MAKE", "Build", "Iris", "Placing", "Sleeve", "WayToMake", "build_of"]

# A jacket about a barrel: so much clearance in all, and a wall that holds.
SLEEVE_CLEARANCE_MM, SLEEVE_WALL_MM = 0.1, 1.5


@dataclass(frozen=True, slots=True)
class Sleeve:
    """A jacket that makes a plain barrel fit a thread: its bore, and how thick its wall may be, in mm."""

    into: str
    bore_mm: float
    wall_mm: float


@dataclass(frozen=True, slots=True)
class WayToMake:
    """What a sleeve is made of, what speaks for it and against it, and how it is held."""

    material: str
    says: str
    caution: str
    reversible: bool


WAYS_TO_MAKE = (
    WayToMake(
        "printed",
        "Walls of 2 mm and more, matt black inside; made in an evening, and made again when it is a tenth off.",
        "It gives in a warm car and under a heavy lens: look at infinity again after an hour in the sun.",
        reversible=True,
    ),
    WayToMake(
        "brass",
        "Turned, with a wall from 1.5 mm; heavy, and keeps its thread.",
        "A lathe with its guard, goggles, no loose sleeves; every chip away before glass comes near.",
        reversible=True,
    ),
    WayToMake(
        "aluminium",
        "Turned or filed, light; its thread wears and may seize in another of aluminium: a trace of grease.",
        "Goggles and a mask when it is ground or filed, the piece in a vise, no sensor in the room, every chip away.",
        reversible=True,
    ),
    WayToMake(
        "glued in",
        "A ring glued to the barrel holds without a thread.",
        "Glue cannot be taken back. Gloves and air for epoxy, none on the glass. A clamped sleeve can be taken off.",
        reversible=False,
    ),
)


@dataclass(frozen=True, slots=True)
class IrisStop:
    """A marked aperture, and how wide the iris is for it."""

    f_number: float
    diameter_mm: float


@dataclass(frozen=True, slots=True)
class Iris:
    """What an iris gives: in front of the glass by its diameter for each stop, or a piece behind it.

    Behind the lens it takes the corners before it takes light.
    """

    stands: str
    piece: str | None
    stops: tuple[IrisStop, ...]
    says: str


@dataclass(frozen=True, slots=True)
class Placing:
    """A piece where it stands, in mm before the sensor; ``travel_mm`` is what it opens by. ``owned``: it is at hand."""

    piece: str
    name: str
    rear_mm: float
    front_mm: float
    bore_mm: float | None
    outer_mm: float | None
    travel_mm: float
    owned: bool


@dataclass(frozen=True, slots=True)
class Build:
    """Pieces from the lens to the body. ``rest_mm`` is made up by tubes, spacers or shims.

    ``near_m`` and ``magnification`` are with the helicoid open; None where nothing focuses. ``price`` is of what is not
    at hand, None where nobody knows it. ``clear_mm`` is the image height up to which every bore lets the whole cone
    pass, None where no bore is known. ``order`` is how it goes together, the lens's side first.
    """

    pieces: tuple[str, ...]
    sleeve: Sleeve | None
    closed_mm: float
    open_mm: float
    rest_mm: float
    near_m: float | None
    magnification: float | None
    price: float | None
    near_met: bool
    placed: tuple[Placing, ...]
    missing: tuple[str, ...]
    irises: tuple[Iris, ...]
    clear_mm: float | None
    clear_says: str
    order: tuple[str, ...]


def build_of(
    world: World,
    lens: Lens,
    body: Body,
    chain: tuple[Adapter, ...],
    fill_mm: float,
    near_m: float | None,
    margin_mm: float,
) -> Build | None:
    """A row of pieces as a build; None where the lens does not go into it."""
    front = world.mount(chain[0].lens_mount)
    threaded = lens.rear_thread is not None and front.thread == lens.rear_thread
    sleeve = None if threaded else _sleeve(lens, front)
    if not threaded and sleeve is None:
        return None
    closed = sum(one.physical_length_mm for one in chain)
    opened = closed + sum(one.helicoid_mm for one in chain)
    room = tidy(fill_mm - margin_mm - closed)
    # A helicoid that opens past infinity needs nothing more; what stays short is filled.
    rest = 0.0 if opened >= fill_mm else room
    x = tidy(opened + rest - fill_mm)
    focal = lens.focal_length_mm[0]
    near = object_distance_mm(focal, x) / 1000 if x > 0 and opened > closed else None
    placed = _placed(world, body, chain)
    clear, clear_says = _cone(lens, body, placed, sleeve)
    return Build(
        pieces=tuple(one.id for one in chain),
        sleeve=sleeve,
        closed_mm=closed,
        open_mm=opened,
        rest_mm=rest,
        near_m=near,
        magnification=x / focal if near is not None else None,
        price=price_of(chain),
        near_met=near_m is None or (near is not None and near <= near_m),
        placed=placed,
        missing=tuple(one.id for one in to_buy(chain)),
        irises=_irises(lens, chain, placed),
        clear_mm=clear,
        clear_says=clear_says,
        order=_order(world, lens, body, chain, sleeve, rest),
    )


def _placed(world: World, body: Body, chain: Sequence[Adapter]) -> tuple[Placing, ...]:
    """The pieces where they stand closed, the lens's side first."""
    at = seat_of(body, world.mount_of(body)).register_mm
    missing = {one.id for one in to_buy(chain)}
    found = []
    for one in reversed(chain):
        front = at + one.physical_length_mm
        found.append(
            Placing(one.id, one.name, at, front, one.bore_mm, one.outer_mm, one.helicoid_mm, one.id not in missing)
        )
        at = front
    return tuple(reversed(found))


def _cone(lens: Lens, body: Body, placed: Sequence[Placing], sleeve: Sleeve | None) -> tuple[float | None, str]:
    """Up to which image height every bore lets the whole cone pass. A thin lens has its pupil where it stands."""
    pupil = lens.exit_pupil_mm or lens.focal_length_mm[0]
    assumed = "" if lens.exit_pupil_mm else " Its pupil is assumed where a thin lens stands."
    bores = [(one.bore_mm, one.front_mm) for one in placed if one.bore_mm is not None]
    if sleeve is not None and placed:
        bores.append((sleeve.bore_mm, placed[0].front_mm))
    # What stands before the pupil is passed by the light before it converges.
    heights = [
        full_cone_height_mm(bore, at, lens.f_number[0], pupil) for bore, at in bores if bore is not None and at < pupil
    ]
    if not heights:
        return None, "No bore is known: whether the corners darken is not known either."
    clear, corner = max(0.0, min(heights)), math.hypot(*body.sensor_mm) / 2
    unknown = sum(one.bore_mm is None for one in placed)
    left = f" The bore of {unknown} of its pieces is not known." if unknown else ""
    if clear >= corner:
        return clear, f"Every known bore lets the light into the corners.{assumed}{left}"
    return (
        clear,
        f"A bore darkens from {clear:.1f} mm off the middle on; the corner is at {corner:.1f} mm.{assumed}{left}",
    )


def _irises(lens: Lens, chain: Sequence[Adapter], placed: Sequence[Placing]) -> tuple[Iris, ...]:
    focal, widest = lens.focal_length_mm[0], lens.f_number[0]
    found = []
    for adapter, one in zip(chain, placed, strict=True):
        if adapter.aperture_control != "iris":
            continue
        at = (one.rear_mm + one.front_mm) / 2
        opens = adapter.iris_diameter_mm
        stops = tuple(IrisStop(n, at / n) for n in FULL_STOPS if n > widest and (opens is None or at / n <= opens))[:6]
        found.append(
            Iris(
                "behind",
                adapter.id,
                stops,
                "Behind the lens: closed down it darkens the corners before it darkens the picture.",
            )
        )
    if lens.aperture == "none" and not found:
        stops = tuple(IrisStop(n, focal / n) for n in FULL_STOPS if n > widest)[:6]
        says = "An iris or a disc with a hole close before the front glass gives these stops, evenly over the picture."
        found.append(Iris("front", None, stops, says))
    return tuple(found)


def _order(
    world: World, lens: Lens, body: Body, chain: Sequence[Adapter], sleeve: Sleeve | None, rest_mm: float
) -> tuple[str, ...]:
    """How the build goes together, the lens's side first, the camera last."""
    told = []
    front = world.mount(chain[0].lens_mount)
    if sleeve is not None:
        told.append(
            f"Slide the sleeve (bore {sleeve.bore_mm:.1f} mm, thread {_thread(front)}) over the barrel of {lens.name},"
            " its shoulder against the shoulder; clamp it with three nylon screws, no glue."
        )
    else:
        told.append(f"Screw {lens.name} into {chain[0].name} by hand, to its stop; never force it.")
    if sleeve is not None:
        told.append(f"Screw the sleeve into {chain[0].name}, to its stop.")
    if rest_mm:
        told.append(f"Lay {rest_mm:.2f} mm of spacers or shims between the shoulder and {chain[0].name}.")
    told += [f"Put {one.name} onto {other.name}." for one, other in itertools.pairwise(chain)]
    told.append(f"Power of {body.name} off; mount it all, the open end down, as one piece.")
    if any(one.helicoid_mm for one in chain):
        told.append(
            "Helicoid closed: far things are to be sharp just before its stop. Add or take spacers until they are."
        )
    return tuple(told)


def _thread(mount: Mount) -> str:
    return mount.name if mount.thread is None else f"{mount.thread.diameter_mm:g} × {mount.thread.pitch_mm:g}"


def _sleeve(lens: Lens, front: Mount) -> Sleeve | None:
    """A jacket from a plain barrel into a thread, where there is room for its wall."""
    if lens.barrel_mm is None or front.thread is None:
        return None
    bore = lens.barrel_mm + SLEEVE_CLEARANCE_MM
    wall = (front.thread.diameter_mm - bore) / 2
    return Sleeve(front.id, tidy(bore), tidy(wall)) if wall >= SLEEVE_WALL_MM else None
