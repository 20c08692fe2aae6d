"""Cautions that cost no grade: what a list or a plan has to mention of a rig."""

from __future__ import annotations

import math
from typing import Final

from tropeion.core.findings import Code
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import Structure, World
from tropeion.core.joints.mechanics import (
    clearance_doubts,
    hides_something,
    is_obstructed,
    loads_of,
    moment_nm,
    overloads,
)
from tropeion.core.keeping import kept
from tropeion.core.optics.stack import Stack, stack_of
from tropeion.core.working import PLAIN

from .rig_report import Route

MINDED: Final[tuple[Code, ...]] = ("clearance_unknown", "load_exceeded")


@frozen
class Warned:
    """A caution of the judgement, by its code, in its own words."""

    code: Code
    text: str


def cautions_of(world: World, lens: Lens, adapters: tuple[str, ...], body: Body) -> tuple[Code, ...]:
    """The codes of such cautions for a chain that was not judged.

    Pieces that cannot add up to more than any joint bears, and of which everything is stated that the rear of the lens
    could touch, are not put together.
    """
    own = _own_of(world.structure, adapters)
    front, rear = world.mount_of(lens), world.mount_of(body)
    least = own.rating_nm
    for rating in (front.load_rating_nm, rear.load_rating_nm):
        least = least if rating is None else min(least, rating)
    light = True
    if lens.mass_g is not None and lens.centre_of_mass_mm is not None:
        farthest = abs(lens.centre_of_mass_mm) + own.length_mm
        light = moment_nm((lens.mass_g + own.mass_g,), (farthest,)) < least
    if light and not own.hides and says_all_of_its_rear(lens, body, rear):
        return ()
    return _codes_of(stack_of(world, lens, [world.adapters[id_] for id_ in adapters], body))


def says_all_of_its_rear(lens: Lens, body: Body, mount: Mount) -> bool:
    """Whether it is stated how far a lens reaches in, and what it could touch in a body with this mount."""
    return lens.rear_protrusion_mm is not None and (body.obstruction_mm is not None or not is_obstructed(body, mount))


@frozen
class _Own:
    """What the pieces of a chain weigh and how long they are together, and the least that one of them or its mounts is
    rated for; whether something ``hides`` in them of which no field says where it stands.
    """

    mass_g: float
    length_mm: float
    rating_nm: float
    hides: bool


@kept(most=20_000)
def _own_of(structure: Structure, ids: tuple[str, ...]) -> _Own:
    if structure.like is not None and structure.new.isdisjoint(ids):
        return _own_of(structure.like, ids)
    each = [_own_of_one(structure, id_) for id_ in ids]
    return _Own(
        mass_g=sum(own.mass_g for own in each),
        length_mm=sum(own.length_mm for own in each),
        rating_nm=min((own.rating_nm for own in each), default=math.inf),
        hides=any(own.hides for own in each),
    )


@kept(most=20_000)
def _own_of_one(structure: Structure, id_: str) -> _Own:
    adapter = structure.adapters[id_]
    ends = structure.mounts[adapter.lens_mount], structure.mounts[adapter.body_mount]
    said = adapter.load_rating_nm, *(mount.load_rating_nm for mount in ends)
    return _Own(
        # Where one weight is not known no load is told, so that nothing hangs on what stands in for it.
        mass_g=adapter.mass_g or 0.0,
        length_mm=adapter.physical_length_mm,
        rating_nm=min((rating for rating in said if rating is not None), default=math.inf),
        hides=hides_something(adapter),
    )


def _codes_of(stack: Stack) -> tuple[Code, ...]:
    over = any(overloads(load) for load in loads_of(stack, PLAIN))
    blind = bool(clearance_doubts(stack))
    return tuple(code for code, so in zip(MINDED, (blind, over), strict=True) if so)


def minded_in(route: Route) -> tuple[Warned, ...]:
    """The cautions of a judged rig."""
    return tuple(Warned(finding.code, finding.text) for finding in route.findings if finding.code in MINDED)
