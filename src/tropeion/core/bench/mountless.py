"""What a lens without a mount needs to come into focus on a body: pieces in a row between its shoulder and the seat.

The shoulder stands R_l from the sensor when infinity is sharp; between it and the seat of the body R_l − R_b is to be
filled, and less by a margin, so that infinity is reached at all.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from tropeion.core.findings import GRADES
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.optics.seats import known_seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import price_of
from tropeion.core.rig.judgement import assess
from tropeion.core.working import tidy

from .builds import Build, Filling, build_of, filling, is_dangerous, near_of

USUAL_MARGIN_MM = 0.3
MOST_PIECES = 3
# Only the simplest rows are judged; nobody reads to the end of more.
MOST_JUDGED = 400
TOLD = 3


@frozen
class MountlessReport:
    """What is to be filled, with its doubt, and the best builds: no danger, best grade, near limit, pieces, price.

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
    world: World,
    lens: Lens,
    body: Body,
    *,
    near_m: float | None = None,
    margin_mm: float = USUAL_MARGIN_MM,
    practice: Practice | None = None,
) -> MountlessReport:
    """How a lens without a mount comes into focus on a body. Raises ValueError where its register was not found."""
    practice = practice or Practice()
    register = lens.measured_register_mm
    if register is None:
        raise ValueError(f"where {lens.name} is sharp at infinity was not measured: find it first, before a known body")
    mount = world.mount_of(body)
    seat = known_seat_of(body, mount).register_mm
    fill = tidy(register - seat)
    room = tidy(fill - margin_mm)
    # A barrel whose shoulder belongs inside the mount is held forward of it.
    forward = fill <= 0
    rows = [
        row
        for chain in _chains(world, mount, math.inf if forward else room)
        if (row := filling(world, lens, body, chain, room, forward=forward)) is not None
    ]
    rows.sort(key=_plainness)
    ranked = sorted((_rank(world, body, row, near_m, practice), place) for place, row in enumerate(rows[:MOST_JUDGED]))
    doubt = lens.measured_tolerance_mm
    builds = [build_of(world, lens, body, rows[place], near_m, practice) for _, place in ranked[:TOLD]]
    safe = sum(not rank[0] for rank, _ in ranked)
    return MountlessReport(
        fill_mm=fill,
        fill_uncertainty_mm=None if doubt is None else doubt / 3**0.5,
        builds=tuple(builds),
        says=_said(lens, body, fill, len(ranked), safe),
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


def _plainness(row: Filling) -> tuple[int, float, float, tuple[str, ...]]:
    """Fewest pieces, least price; a sleeve is a piece, and what has to be filled by spacers is one more."""
    price = price_of(row.chain)
    pieces = len(row.chain) + (row.held.sleeve is not None) + (row.rest_mm > 0)
    return pieces, math.inf if price is None else price, row.rest_mm, tuple(adapter.id for adapter in row.chain)


def _rank(
    world: World, body: Body, row: Filling, near_m: float | None, practice: Practice
) -> tuple[bool, int, bool, tuple[int, float, float, tuple[str, ...]]]:
    """No danger, best grade, the wanted near distance, fewest pieces, least price."""
    assessed = assess(world, row.lens, row.rig, body, practice)
    near = near_of(row, assessed.ends[0].reach)
    met = near_m is None or (near is not None and near <= near_m)
    return is_dangerous(assessed.findings), -GRADES.index(assessed.grade), not met, _plainness(row)


def _chains(world: World, mount: Mount, room_mm: float) -> Iterator[tuple[Adapter, ...]]:
    """Every row of pieces without glass, none too, that ends at a mount and goes into the room, lens's side first."""
    plain = [adapter for adapter in world.gear.adapters if not adapter.retired and adapter.optics == "none"]
    row: list[tuple[Adapter, ...]] = [()]
    yield ()
    for _ in range(MOST_PIECES):
        following = []
        for chain in row:
            at = world.mount(chain[0].lens_mount) if chain else mount
            for adapter in plain:
                longer = (adapter, *chain)
                fits = tidy(sum(piece.physical_length_mm for piece in longer) - room_mm) <= 0
                if fits and adapter not in chain and world.mount(adapter.body_mount).joint == at.joint:
                    following.append(longer)
        yield from following
        row = following


def _said(lens: Lens, body: Body, fill_mm: float, count: int, safe: int) -> str:
    if fill_mm <= 0:
        room = (
            f"Infinity of {lens.name} lies {abs(fill_mm):.2f} mm inside the face of {body.name}: the barrel reaches in"
        )
    else:
        room = (
            f"{fill_mm:.2f} mm are to be filled between the shoulder of {lens.name} and the mount face of {body.name}"
        )
    if not count:
        return f"{room}: nothing in the collection does."
    if not safe:
        return f"{room}: every way would touch something in the camera."
    return f"{room}: {safe} {'ways' if safe > 1 else 'way'}."
