"""What a lens without a mount needs to come into focus on a body: pieces in a row between its shoulder and the seat.

The shoulder stands R_l from the sensor when infinity is sharp; between it and the seat of the body R_l − R_b is to be
filled, and less by a margin, so that infinity is reached at all.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.rig.assembly import price_of
from tropeion.core.working import tidy

__all__ = ["Build", "MountlessReport", "Sleeve", "mountless_of"]

USUAL_MARGIN_MM = 0.3
MOST_PIECES = 3
TOLD = 3
# A jacket about a barrel: so much clearance in all, and a wall that holds.
SLEEVE_CLEARANCE_MM, SLEEVE_WALL_MM = 0.1, 1.5


@dataclass(frozen=True, slots=True)
class Sleeve:
    """A jacket that makes a plain barrel fit a thread: its bore, and how thick its wall may be, in mm."""

    into: str
    bore_mm: float
    wall_mm: float


@dataclass(frozen=True, slots=True)
class Build:
    """Pieces from the lens to the body. ``rest_mm`` is made up by tubes, spacers or shims.

    ``near_m`` and ``magnification`` are with the helicoid open; None where nothing focuses. ``price`` is of what is not
    at hand, None where nobody knows it.
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


@dataclass(frozen=True, slots=True)
class MountlessReport:
    """What is to be filled, with its doubt, and the best builds: wanted near limit, fewest pieces, least price."""

    fill_mm: float
    fill_uncertainty_mm: float | None
    builds: tuple[Build, ...]
    says: str


def mountless_of(
    world: World, lens: Lens, body: Body, *, near_m: float | None = None, margin_mm: float = USUAL_MARGIN_MM
) -> MountlessReport:
    """How a lens without a mount comes into focus on a body. Raises ValueError where its register was not found."""
    register = lens.measured_register_mm
    if register is None:
        raise ValueError(f"where {lens.name} is sharp at infinity was not measured: find it first, before a known body")
    mount = world.mount(body.mount)
    seat = mount.register_mm if body.measured_register_mm is None else body.measured_register_mm
    fill = tidy(register - seat)
    found = [
        build
        for chain in _chains(world, mount, fill - margin_mm)
        if (build := _build(world, lens, chain, fill, near_m, margin_mm)) is not None
    ]
    found.sort(key=_rank)
    doubt = lens.measured_tolerance_mm
    return MountlessReport(
        fill_mm=fill,
        fill_uncertainty_mm=None if doubt is None else doubt / 3**0.5,
        builds=tuple(found[:TOLD]),
        says=_said(lens, body, fill, margin_mm, found),
    )


def _rank(build: Build) -> tuple[bool, int, float, float, tuple[str, ...]]:
    """A sleeve is a piece, and what has to be filled by spacers is one more."""
    price = float("inf") if build.price is None else build.price
    pieces = len(build.pieces) + (build.sleeve is not None) + (build.rest_mm > 0)
    return not build.near_met, pieces, price, build.rest_mm, build.pieces


def _chains(world: World, mount: Mount, room_mm: float) -> Iterator[tuple[Adapter, ...]]:
    """Every row of pieces without glass that ends at a mount and goes into the room, the lens's side first."""
    plain = [one for one in world.gear.adapters if not one.retired and one.optics == "none"]
    row: list[tuple[Adapter, ...]] = [()]
    for _ in range(MOST_PIECES):
        following = []
        for chain in row:
            at = world.mount(chain[0].lens_mount) if chain else mount
            for one in plain:
                longer = (one, *chain)
                fits = tidy(sum(piece.physical_length_mm for piece in longer) - room_mm) <= 0
                if fits and one not in chain and world.mount(one.body_mount).interface == at.interface:
                    following.append(longer)
        yield from following
        row = following


def _build(
    world: World, lens: Lens, chain: tuple[Adapter, ...], fill_mm: float, near_m: float | None, margin_mm: float
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
    )


def _sleeve(lens: Lens, front: Mount) -> Sleeve | None:
    """A jacket from a plain barrel into a thread, where there is room for its wall."""
    if lens.barrel_mm is None or front.thread is None:
        return None
    bore = lens.barrel_mm + SLEEVE_CLEARANCE_MM
    wall = (front.thread.diameter_mm - bore) / 2
    return Sleeve(front.id, tidy(bore), tidy(wall)) if wall >= SLEEVE_WALL_MM else None


def _said(lens: Lens, body: Body, fill_mm: float, margin_mm: float, found: list[Build]) -> str:
    if fill_mm <= margin_mm:
        return f"No room: infinity of {lens.name} lies {abs(fill_mm):.2f} mm inside the seat of {body.name}."
    room = f"{fill_mm:.2f} mm are to be filled between the shoulder of {lens.name} and the seat of {body.name}"
    if not found:
        return f"{room}: nothing in the collection does."
    return f"{room}: {len(found)} {'ways' if len(found) > 1 else 'way'}."
