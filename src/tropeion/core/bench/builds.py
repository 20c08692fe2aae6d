"""A build: the pieces that stand between a lens without a mount and a body, what they reach, how they go together."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from tropeion.core.findings import Finding, Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import changed_id
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import HeldLens, Sleeve, held_in, is_spacer, spacer_id
from tropeion.core.gear.world import World
from tropeion.core.optics.focus import Reach
from tropeion.core.optics.infinity import FULL_STOPS
from tropeion.core.optics.seats import known_seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import price_of, to_buy
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import Route
from tropeion.core.working import tidy


@frozen
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


@frozen
class IrisStop:
    """A marked aperture, and how wide the iris is for it."""

    f_number: float
    diameter_mm: float


@frozen
class BuildIris:
    """What an iris gives: in front of the glass by its diameter for each stop, or a piece behind it.

    Behind the lens it takes the corners before it takes light.
    """

    stands: str
    piece: str | None
    stops: tuple[IrisStop, ...]
    says: str


@frozen
class Placing:
    """A piece where it stands, in mm before the sensor; ``travel_mm`` is what it opens by. ``owned``: it is at hand.

    ``made``: spacers, which are made for the rig.
    """

    piece: str
    name: str
    rear_mm: float
    front_mm: float
    bore_mm: float | None
    outer_mm: float | None
    travel_mm: float
    owned: bool
    made: bool


@frozen
class Build:
    """Pieces from the lens to the body, judged as the rig that they make.

    ``rest_mm`` of spacers bring infinity to the closed helicoid; ``forward_mm`` is how far before its shoulder the
    barrel is held. ``lens`` and ``adapters`` are the rig's, with what is made for it; ``pieces`` those of the
    collection. ``near_m``, ``far_m`` (None: infinity) and ``magnification`` are with the spacers, ``near_m`` None where
    nothing focuses. ``price`` is of what is not at hand, None where it is not known. ``clear_mm`` is the image height
    up to which every bore lets the whole cone pass, None where that is not known. ``findings`` are codes, ``warnings``
    the words of those that are dangers or cautions. ``order`` is how it goes together, the lens's side first.
    """

    lens: str
    adapters: tuple[str, ...]
    pieces: tuple[str, ...]
    sleeve: Sleeve | None
    forward_mm: float
    closed_mm: float
    open_mm: float
    rest_mm: float
    near_m: float | None
    far_m: float | None
    magnification: float | None
    price: float | None
    near_met: bool
    grade: Grade
    danger: bool
    findings: tuple[str, ...]
    warnings: tuple[str, ...]
    placed: tuple[Placing, ...]
    missing: tuple[str, ...]
    irises: tuple[BuildIris, ...]
    clear_mm: float | None
    clear_says: str
    order: tuple[str, ...]


@frozen
class Filling:
    """A row of pieces that fills the gap: how the lens is held in it, what is left to spacers, how far it is forward.

    ``chain`` are the pieces of the collection, ``rig`` those with the spacers, behind the held ``lens``.
    """

    lens: Lens
    held: HeldLens
    chain: tuple[Adapter, ...]
    rig: tuple[Adapter, ...]
    rest_mm: float
    forward_mm: float


def filling(
    world: World, lens: Lens, body: Body, chain: tuple[Adapter, ...], room_mm: float, *, forward: bool
) -> Filling | None:
    """A row of pieces that goes into so much room, with spacers for the rest; None where the lens does not go into it.

    ``forward``: a row that is too long holds the barrel forward of its shoulder, where barrel and bores allow that.
    """
    front = world.mount(chain[0].lens_mount) if chain else world.mount_of(body)
    held = held_in(lens, front)
    left = tidy(room_mm - sum(adapter.physical_length_mm for adapter in chain))
    if held is None or (left < 0 and not (forward and held.sleeve is not None and _passes(world, lens, body, chain))):
        return None
    rest, ahead = max(0.0, left), max(0.0, tidy(-left))
    if ahead and lens.length_mm is not None and ahead >= lens.length_mm:
        return None
    seated = world.lens(changed_id(lens, front.id, ahead))
    made = (world.adapter(spacer_id(front.id, rest)),) if rest else ()
    return Filling(seated, held, chain, (*made, *chain), rest, ahead)


def _passes(world: World, lens: Lens, body: Body, chain: Sequence[Adapter]) -> bool:
    """Whether the barrel goes through every bore that is known, and the throat."""
    openings = [world.mount_of(body).throat_mm, *(adapter.bore_mm for adapter in chain)]
    return lens.barrel_mm is not None and all(opening is None or lens.barrel_mm <= opening for opening in openings)


def build_of(world: World, lens: Lens, body: Body, row: Filling, near_m: float | None, practice: Practice) -> Build:
    """A row of pieces as a build, judged as the rig that it is."""
    route = judge(world, row.lens, row.rig, body, practice, detailed=False)
    reach = route.wide.focus
    near = near_of(row, reach)
    placed = _placed(world, body, row.rig)
    clear, clear_says = _clear(route)
    closed = sum(adapter.physical_length_mm for adapter in row.chain)
    return Build(
        lens=row.lens.id,
        adapters=tuple(adapter.id for adapter in row.rig),
        pieces=tuple(adapter.id for adapter in row.chain),
        sleeve=row.held.sleeve,
        forward_mm=row.forward_mm,
        closed_mm=closed,
        open_mm=closed + sum(adapter.helicoid_mm for adapter in row.chain),
        rest_mm=row.rest_mm,
        near_m=near,
        far_m=None if reach.far_mm is None else reach.far_mm / 1000,
        magnification=None if near is None else reach.max_magnification,
        price=price_of(row.chain),
        near_met=near_m is None or (near is not None and near <= near_m),
        grade=route.grade,
        danger=is_dangerous(route.findings),
        findings=tuple(finding.code for finding in route.findings),
        warnings=tuple(finding.text for finding in route.findings if finding.severity in {"danger", "caution"}),
        placed=placed,
        missing=tuple(adapter.id for adapter in to_buy(row.chain)),
        irises=_irises(lens, row.rig, placed),
        clear_mm=clear,
        clear_says=clear_says,
        order=_order(world, lens, body, row),
    )


def is_dangerous(found: Sequence[Finding]) -> bool:
    """Whether it may break something."""
    return any(finding.severity == "danger" for finding in found)


def near_of(row: Filling, reach: Reach) -> float | None:
    """The nearest that is sharp, in m; None where nothing focuses."""
    moves = any(adapter.helicoid_mm for adapter in row.chain) or row.lens.focus != "none"
    return reach.near_mm / 1000 if moves and reach.near_mm is not None else None


def _clear(route: Route) -> tuple[float | None, str]:
    """Up to which image height every bore lets the whole cone pass."""
    cover = route.coverage
    corner = math.hypot(cover.width_mm, cover.height_mm) / 2
    if cover.clipping is None:
        return None, "Whether a bore darkens the corners is not assessed: the exit pupil or every bore is not stated."
    clear = max(0.0, cover.clipping.full_cone_mm)
    if clear >= corner:
        return clear, "Every known bore lets the light into the corners."
    return clear, f"A bore darkens from {clear:.1f} mm off the middle on; the corner is at {corner:.1f} mm."


def _placed(world: World, body: Body, chain: Sequence[Adapter]) -> tuple[Placing, ...]:
    """The pieces where they stand closed, the lens's side first."""
    at = known_seat_of(body, world.mount_of(body)).register_mm
    missing = {adapter.id for adapter in to_buy(chain)}
    placings = []
    for adapter in reversed(chain):
        front = at + adapter.physical_length_mm
        there = adapter.id not in missing
        placings.append(
            Placing(
                adapter.id,
                adapter.name,
                at,
                front,
                adapter.bore_mm,
                adapter.outer_mm,
                adapter.helicoid_mm,
                there,
                is_spacer(adapter.id),
            )
        )
        at = front
    return tuple(reversed(placings))


def _irises(lens: Lens, chain: Sequence[Adapter], placed: Sequence[Placing]) -> tuple[BuildIris, ...]:
    focal, widest = lens.focal_length_mm[0], lens.f_number[0]
    irises = []
    for adapter, placing in zip(chain, placed, strict=True):
        if adapter.aperture_control != "iris":
            continue
        at = (placing.rear_mm + placing.front_mm) / 2
        opens = adapter.iris_diameter_mm
        stops = tuple(IrisStop(n, at / n) for n in FULL_STOPS if n > widest and (opens is None or at / n <= opens))[:6]
        irises.append(
            BuildIris(
                "behind",
                adapter.id,
                stops,
                "Behind the lens: closed down it darkens the corners before it darkens the picture.",
            )
        )
    if lens.aperture == "none" and not irises:
        stops = tuple(IrisStop(n, focal / n) for n in FULL_STOPS if n > widest)[:6]
        says = (
            "An aperture or a disc with a hole close before the front glass gives these stops, evenly over the picture."
        )
        irises.append(BuildIris("front", None, stops, says))
    return tuple(irises)


def _order(world: World, lens: Lens, body: Body, row: Filling) -> tuple[str, ...]:
    """How the build goes together, the lens's side first, the camera last."""
    front = world.mount_of(row.lens)
    into = row.chain[0].name if row.chain else body.name
    told = [row.held.says(lens, front, into, row.forward_mm)]
    if row.rest_mm:
        told.append(f"Lay {row.rest_mm:.2f} mm of spacers or shims between the shoulder and {into}.")
    told += [f"Put {adapter.name} onto {other.name}." for adapter, other in itertools.pairwise(row.chain)]
    told.append(f"Power of {body.name} off; mount it all, the open end down, as one piece.")
    told.append("Far things are to be sharp just before the stop: add or take a little of the spacers until they are.")
    return tuple(told)
