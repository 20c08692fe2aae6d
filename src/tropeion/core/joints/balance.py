"""Where a rig balances, and what each joint bears by how it is held.

z counts forward from the sensor plane, in mm. "In front" goes by the order of the chain, not by z: what hangs on a foot
pulls at the joints behind it from behind. A second support takes the moment of the joints between the two.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.optics.stack import Stack
from tropeion.core.working import Calc, Symbol, formula, tidy

from .mechanics import GRAVITY, Load, moment_nm, overloads, rating_of

# Assumed where not measured: the depth of a body, the length of a lens.
USUAL_DEPTH_MM, USUAL_LENGTH_MM = 50.0, 40.0


@formula(
    "balance.centre_of_mass_mm",
    "Σ m·z/Σ m",
    "mm",
    GRAVITY,
    masses_g=Symbol("m", "g", "of each piece"),
    places_mm=Symbol("z", "mm", "of its centre of mass before the sensor plane"),
)
def centre_of_mass_mm(masses_g: Sequence[float], places_mm: Sequence[float]) -> float:
    """Where the whole balances, before the sensor plane."""
    return math.fsum(m * z for m, z in zip(masses_g, places_mm, strict=True)) / math.fsum(masses_g)


@formula(
    "balance.tipping_nm",
    "9.80665·10⁻⁶·M·(z_c − z_s)",
    "N·m",
    GRAVITY,
    mass_g=Symbol("M", "g", "of the whole"),
    centre_mm=Symbol("z_c", "mm", "centre of mass", "balance.centre_of_mass_mm"),
    held_mm=Symbol("z_s", "mm", "where it is held"),
)
def tipping_nm(mass_g: float, centre_mm: float, held_mm: float) -> float:
    """What tips it forward (positive) or back about where it is held."""
    return 9.80665e-6 * mass_g * (centre_mm - held_mm) + 0.0


@frozen
class Mass:
    """A piece in the order of the chain, 0 the lens; ``mass_g`` None where it is unknown, its place may be assumed."""

    link: str
    order: int
    mass_g: float | None
    at_mm: float
    assumed: bool


@frozen
class Support:
    """What holds the rig: a foot on a piece, or the body's screw; ``at_mm`` before the sensor plane."""

    link: str
    order: int
    at_mm: float
    assumed: bool = False


@frozen
class Borne:
    """What one joint bears, in N·m; ``joint`` is the piece behind it. ``supported``: a second support takes it.

    ``over``: more than it is rated for; where one of the two is not known, nobody can say so.
    """

    joint: str
    at_mm: float
    moment_nm: float | None
    rating_nm: float | None
    supported: bool
    over: bool


@frozen
class Balance:
    """Mass, balance and joints of a rig. What depends on a mass that is not stated is None; ``unknown`` names it.

    ``assumed`` are the pieces whose place is assumed: a lens at half its length, a body at half its depth, a foot at
    the middle of what it is on.
    """

    mass_g: float | None
    centre_of_mass_mm: float | None
    held_by: Support
    tipping_nm: float | None
    joints: tuple[Borne, ...]
    masses: tuple[Mass, ...]
    unknown: tuple[str, ...]
    assumed: tuple[str, ...]


def masses_of(stack: Stack) -> tuple[Mass, ...]:
    """The pieces of a rig where they stand, the lens first, the body last."""
    lens, body, seat = stack.lens, stack.body, stack.seat_mm
    own = lens.centre_of_mass_mm
    half = own if own is not None else (lens.length_mm or USUAL_LENGTH_MM) / 2
    masses = [Mass(lens.id, 0, lens.mass_g, seat + half, own is None)]
    for order, placed in enumerate(stack.placed, 1):
        middle = placed.front_mm - placed.adapter.physical_length_mm / 2
        masses.append(Mass(placed.adapter.id, order, placed.adapter.mass_g, middle, False))
    stated = body.centre_of_mass_mm
    depth = USUAL_DEPTH_MM if body.depth_mm is None else body.depth_mm
    middle = stack.body_seat.register_mm - depth / 2 if stated is None else stated
    return (*masses, Mass(body.id, len(masses), body.mass_g, tidy(middle), stated is None))


def supports_of(stack: Stack) -> tuple[Support, ...]:
    """What a rig can be held by: the lens's foot, feet of its adapters from the front, and the body's screw last."""
    lens: Lens = stack.lens
    supports = []
    if lens.tripod_foot:
        middle = (lens.length_mm or USUAL_LENGTH_MM) / 2
        at = middle if lens.foot_mm is None else lens.foot_mm
        supports.append(Support(lens.id, 0, stack.seat_mm + at, lens.foot_mm is None))
    for order, placed in enumerate(stack.placed, 1):
        adapter: Adapter = placed.adapter
        if adapter.tripod_foot:
            length = adapter.physical_length_mm
            at = length / 2 if adapter.foot_mm is None else adapter.foot_mm
            supports.append(Support(adapter.id, order, placed.front_mm - length + at, adapter.foot_mm is None))
    body: Body = stack.body
    return (*supports, Support(body.id, len(stack.placed) + 1, body.tripod_screw_mm))


def balance_of(stack: Stack, masses: Sequence[Mass], held: Support, second: Support | None, calc: Calc) -> Balance:
    """How a rig balances on ``held``, with ``second`` under another piece or without."""
    unknown = tuple(dict.fromkeys(mass.link for mass in masses if mass.mass_g is None))
    known = [(mass.mass_g, mass.at_mm) for mass in masses if mass.mass_g is not None]
    whole = centre = tips = None
    if not unknown:
        weights, places = [m for m, _ in known], [z for _, z in known]
        whole = math.fsum(weights)
        centre = calc(centre_of_mass_mm, weights, places)
        tips = calc(tipping_nm, whole, centre, held.at_mm)
    joints = tuple(
        _borne(stack, number, masses, held, second, calc.under(f"joint {number + 1}"))
        for number in range(len(stack.joints))
    )
    assumed = [mass.link for mass in masses if mass.assumed]
    assumed += [support.link for support in (held, second) if support is not None and support.assumed]
    return Balance(whole, centre, held, tips, joints, tuple(masses), unknown, tuple(dict.fromkeys(assumed)))


def _borne(
    stack: Stack, number: int, masses: Sequence[Mass], held: Support, second: Support | None, calc: Calc
) -> Borne:
    """One joint, between the pieces ``number`` and ``number`` + 1 of the chain."""
    joint = stack.joints[number]
    at = _joint_mm(stack, number)
    rating = rating_of(joint)
    if second is not None and min(held.order, second.order) <= number < max(held.order, second.order):
        return Borne(joint.link, at, 0.0, rating, supported=True, over=False)
    front = number < held.order
    carried = [mass for mass in masses if (mass.order <= number) == front]
    moment = None
    if all(mass.mass_g is not None for mass in carried):
        away = [mass.at_mm - at if front else at - mass.at_mm for mass in carried]
        moment = calc(moment_nm, [mass.mass_g or 0.0 for mass in carried], away)
    over = moment is not None and overloads(Load(joint.link, moment, rating))
    return Borne(joint.link, at, moment, rating, supported=False, over=over)


def _joint_mm(stack: Stack, number: int) -> float:
    """Where the joint behind a piece lies: at the lens's seat, then at the rear of each adapter."""
    if number == 0:
        return stack.seat_mm
    placed = stack.placed[number - 1]
    return tidy(placed.front_mm - placed.adapter.physical_length_mm)
