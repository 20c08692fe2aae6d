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
from tropeion.core.optics.seats import seat_of
from tropeion.core.working import tidy

from .builds import Build, build_of

__all__ = ["USUAL_MARGIN_MM", "MountlessReport", "mountless_of"]

USUAL_MARGIN_MM = 0.3
MOST_PIECES = 3
TOLD = 3


@dataclass(frozen=True, slots=True)
class MountlessReport:
    """What is to be filled, with its doubt, and the best builds: wanted near limit, fewest pieces, least price.

    ``shoulder_mm`` is where the shoulder of the lens stands before the sensor, ``seat_mm`` the seat of the body.
    """

    fill_mm: float
    fill_uncertainty_mm: float | None
    builds: tuple[Build, ...]
    says: str
    shoulder_mm: float
    seat_mm: float
    cautions: tuple[str, ...] = ()


def mountless_of(
    world: World, lens: Lens, body: Body, *, near_m: float | None = None, margin_mm: float = USUAL_MARGIN_MM
) -> MountlessReport:
    """How a lens without a mount comes into focus on a body. Raises ValueError where its register was not found."""
    register = lens.measured_register_mm
    if register is None:
        raise ValueError(f"where {lens.name} is sharp at infinity was not measured: find it first, before a known body")
    mount = world.mount_of(body)
    seat = seat_of(body, mount).register_mm
    fill = tidy(register - seat)
    found = [
        build
        for chain in _chains(world, mount, fill - margin_mm)
        if (build := build_of(world, lens, body, chain, fill, near_m, margin_mm)) is not None
    ]
    found.sort(key=_rank)
    doubt = lens.measured_tolerance_mm
    return MountlessReport(
        fill_mm=fill,
        fill_uncertainty_mm=None if doubt is None else doubt / 3**0.5,
        builds=tuple(found[:TOLD]),
        says=_said(lens, body, fill, margin_mm, found),
        shoulder_mm=register,
        seat_mm=seat,
        cautions=_CAUTIONS,
    )


_CAUTIONS = (
    "Ground glass and metal: goggles, a mask, the piece in a vise, no sensor in the room, and every chip away before"
    " anything is mounted.",
    "Some old glass is mildly radioactive: do not grind it, and keep no eyepiece of it at the eye.",
    "What is glued or turned down cannot be taken back; a sleeve can.",
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
                if fits and one not in chain and world.mount(one.body_mount).joint == at.joint:
                    following.append(longer)
        yield from following
        row = following


def _said(lens: Lens, body: Body, fill_mm: float, margin_mm: float, found: list[Build]) -> str:
    if fill_mm <= margin_mm:
        return f"No room: infinity of {lens.name} lies {abs(fill_mm):.2f} mm inside the seat of {body.name}."
    room = f"{fill_mm:.2f} mm are to be filled between the shoulder of {lens.name} and the seat of {body.name}"
    if not found:
        return f"{room}: nothing in the collection does."
    return f"{room}: {len(found)} {'ways' if len(found) > 1 else 'way'}."
