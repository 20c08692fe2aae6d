"""Rings to look for: those that are not listed and that would meet what a plan cannot, the fewest of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product

from tropeion.core import written
from tropeion.core.findings import rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.joints.mechanics import Load, moment_nm, overloads
from tropeion.core.rig.unlisted import opening_of
from tropeion.core.routes.unlisted_ways import Unlisted, unlisted_for_each

from .candidate_pool import meets
from .look_alikes import mounts_like
from .plan_report import LookFor, WouldServe
from .program import Run, solve
from .solving import Solving
from .task import Offer, Task, Want, Way

MOST_LABELS = 24


def rings_to_look_for(found: Solving, run: Run) -> tuple[LookFor, ...]:
    """The fewest rings that meet what stays unmet, then those that come to the best grades; most served first."""
    ways = _able(found)
    open_ = [number for number, able in ways.items() if able]
    if not open_:
        return ()
    task = Task(
        tuple(
            Want(str(number), str(number), tuple(_way(unlisted) for _, unlisted in ways[number])) for number in open_
        ),
        {unlisted.ring.id: Offer(1) for able in ways.values() for _, unlisted in able},
    )
    choice = solve(task, Run(max(1.0, run.left_s), run.stopped)).choice
    chosen: dict[str, list[tuple[int, Body, Unlisted]]] = {}
    for number, place in zip(open_, choice, strict=True):
        if place is not None:
            body, unlisted = ways[number][place]
            chosen.setdefault(unlisted.ring.id, []).append((number, body, unlisted))
    rings = [_told(found, served) for served in chosen.values()]
    return tuple(sorted(rings, key=lambda ring: (-len(ring.serves), ring.name, ring.id)))


def _able(found: Solving) -> dict[int, list[tuple[Body, Unlisted]]]:
    """The rings that would meet each demand that stays unmet, by its place, each with the body.

    Beside a listed piece only where that is at hand.
    """
    world, question = found.market, found.question
    asked = [
        (number, world.lens(demand.lens), world.body(id_))
        for number, demand in enumerate(question.demands)
        if not found.meets(number) and found.world.lens(demand.lens).mount is not None
        for id_ in demand.bodies
    ]
    ways: dict[int, list[tuple[Body, Unlisted]]] = {number: [] for number, _, _ in asked}
    rings = unlisted_for_each(world, [(lens, body) for _, lens, body in asked], found.practice)
    for (number, _, body), unlisted in zip(asked, rings, strict=True):
        if unlisted is None or not all(piece is unlisted.ring or piece.at_hand for piece in unlisted.chain):
            continue
        if meets(unlisted.judged, question.demands[number], full_speed=question.full_speed):
            ways[number].append((body, unlisted))
    return ways


def _way(one: Unlisted) -> Way:
    return Way(uses=((one.ring.id, 1),), grade=rank(one.grade))


def _told(found: Solving, served: Sequence[tuple[int, Body, Unlisted]]) -> LookFor:
    world, ring = found.market, served[0][2].ring
    front, rear = world.mounts[ring.lens_mount], world.mounts[ring.body_mount]
    lenses = [world.lens(found.question.demands[number].lens) for number, _, _ in served]
    tolerance = min(unlisted.tolerance_mm for _, _, unlisted in served)
    return LookFor(
        id=ring.id,
        name=ring.name,
        lens_mount=front.id,
        body_mount=rear.id,
        length_mm=ring.length_mm,
        needs=tuple(_needs(ring, lenses, front, rear)),
        tolerance_mm=tolerance,
        serves=tuple(
            WouldServe(number, lens.id, lens.name, body.id, body.name, unlisted.grade, unlisted.ids)
            for (number, body, unlisted), lens in zip(served, lenses, strict=True)
        ),
        labels=labels_of(front, rear),
        check=(*_checks(ring, front, rear, tolerance), *_unweighed(lenses)),
        refuse=tuple(mounts_like(world, (front, rear))),
    )


def _needs(ring: Adapter, lenses: Sequence[Lens], front: Mount, rear: Mount) -> Iterator[str]:
    """What the ring has to do besides holding the lens, in words."""
    if ring.aperture_control == "lever_ring":
        yield "moves the aperture lever, with a ring of its own"
    if ring.aperture_control == "pin_press":
        yield "presses the aperture pin"
    if ring.link == "pass":
        yield "passes all contacts on, power among them"
    if ring.link == "translate":
        yield "has contacts that carry power and speak for the lens"
    if ring.helicoid_mm:
        _, near = opening_of(lenses[0])
        yield f"opens by {written.millimetres(ring.helicoid_mm)}, for everything from {near / 1000:g} m"
    ratings = [value for value in (front.load_rating_nm, rear.load_rating_nm) if value is not None]
    heavy = [(_moment_nm(lens, ring), lens.name) for lens in lenses if _is_weighed(lens) and not lens.tripod_foot]
    moment, name = max(heavy, key=lambda pair: pair[0], default=(0.0, ""))
    if overloads(Load(ring.id, moment, min(ratings, default=None))):
        yield f"has a foot of its own, or the lens a support: {name} loads it with {moment:.1f} N·m"


def _is_weighed(lens: Lens) -> bool:
    return lens.mass_g is not None and lens.centre_of_mass_mm is not None


def _moment_nm(lens: Lens, ring: Adapter) -> float:
    """What a lens that is weighed loads the camera's mount with through the ring."""
    return moment_nm([lens.mass_g or 0.0], [(lens.centre_of_mass_mm or 0.0) + ring.length_mm])


def labels_of(front: Mount, rear: Mount) -> tuple[str, ...]:
    """What a ring between two mounts may be sold as: every name of either, the lens's first and last."""
    pairs = list(product((front.name, *front.aliases), (rear.name, *rear.aliases)))
    ordered = [f"{name} lens to {other} camera" for name, other in pairs[:1]]
    ordered += [f"{name}–{other}" for name, other in pairs]
    ordered += [f"{other}–{one}" for one, other in pairs]
    return tuple(dict.fromkeys(ordered))[:MOST_LABELS]


def _unweighed(lenses: Sequence[Lens]) -> Iterator[str]:
    """What it has to bear is not known, which does not mean that it is light."""
    names = [lens.name for lens in lenses if not _is_weighed(lens)]
    if names:
        yield f"Nobody weighed {written.listed(names)}: support the lens, not the ring alone."


def _checks(ring: Adapter, front: Mount, rear: Mount, tolerance_mm: float) -> Iterator[str]:
    yield f"It takes a {front.name} lens, and goes on a {rear.name} camera: labels name the two in either order."
    length = f"{ring.length_mm:.2f} mm from face to face"
    if tolerance_mm > 0:
        yield f"{length}: more than {tolerance_mm:.2f} mm too long, and infinity is not sharp at the widest aperture."
    else:
        yield f"{length}, or a little shorter: at the widest aperture hundredths decide."
    if front.thread is None:
        yield "Lens and ring click into each other and do not turn or wobble."
    if ring.helicoid_mm:
        yield "It turns evenly, and closes to that length."
