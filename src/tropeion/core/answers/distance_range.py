"""A pair with a mount whose flange focal distance is not known: what it may come to, what decides, how to find out.

Each system that its name, thread or parts allow lends its distance to a copy of the collection, which is judged like
any other. With no such system no number is told.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice

from tropeion.core import written
from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.change import Change, changed
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import is_unlisted
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.optics.register import room_mm
from tropeion.core.optics.seats import cancels, seat_of
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match
from tropeion.core.words import word

# At most this many systems are tried; each costs a judgement of the pair.
_MOST = 8
# A caliper on a worn rim.
_THROAT_MM = 0.5
_SHORTEST_WORD = 3


@frozen
class MayBe:
    """A system that lends its ``register_mm`` to the ``unknown`` mount, and what the pair comes to then.

    ``grade`` is the best of what is listed, else of a ring that is not, ``ring_mm`` long; None where nothing joins
    them. ``room_mm`` is what is left between the two mounts.
    """

    unknown: str
    mount: str
    name: str
    register_mm: float
    why: str
    room_mm: float | None
    grade: Grade | None
    ring_mm: float | None
    text: str


@frozen
class DistanceRange:
    """What a pair may come to. ``least_mm`` and ``most_mm`` are the ends of the distances; None where none is known."""

    mounts: tuple[str, ...]
    least_mm: float | None
    most_mm: float | None
    may_be: tuple[MayBe, ...]
    sentence: str
    decides: str
    find_out: tuple[str, ...]


def distance_range(world: World, lens: Lens, body: Body, practice: Practice) -> DistanceRange | None:
    """The range for a lens and a body; None where both distances are known, or do not matter."""
    front, rear = world.mount_of(lens), world.mount_of(body)
    ends = ((lens, front), (body, rear))
    unknown = tuple(dict.fromkeys(mount for item, mount in ends if not seat_of(item, mount).known))
    seats = seat_of(lens, front), seat_of(body, rear)
    if not unknown or cancels(*seats, one_mount=front is rear):
        return None
    may_be: tuple[MayBe, ...] = ()
    if len(unknown) == 1:
        may_be = tuple(islice(_tried(world, lens, body, practice, unknown[0]), _MOST))
    registers = [tried.register_mm for tried in may_be]
    names = tuple(mount.name for mount in unknown)
    return DistanceRange(
        mounts=names,
        least_mm=min(registers, default=None),
        most_mm=max(registers, default=None),
        may_be=may_be,
        sentence=_sentence(names, may_be),
        decides=_decides(lens, body, front, rear),
        find_out=tuple(_find_out(lens, body, front, rear)),
    )


def _tried(world: World, lens: Lens, body: Body, practice: Practice, unknown: Mount) -> Iterator[MayBe]:
    for other in sorted(world.gear.mounts, key=lambda mount: (mount.register_mm or 0.0, mount.name)):
        why = _why(unknown, other)
        if why is None or other.register_mm is None or other.retired:
            continue
        copy = changed(world, Change(registers=((unknown.id, other.register_mm),)))
        report = match(copy, lens.id, body.id, practice, detailed=False)
        best = report.routes[0] if report.routes else None
        ring = report.unlisted
        grade = ring.grade if ring is not None else None if best is None else best.grade
        ring_mm = (
            None if ring is None else next(copy.adapter(id_).length_mm for id_ in ring.adapters if is_unlisted(id_))
        )
        room = room_mm(copy.mount_of(lens), copy.mount_of(body))
        text = f"If it is that of {other.name}: " + ("nothing joins them" if grade is None else word(grade))
        text += "." if ring_mm is None else f", with a ring of {written.millimetres(ring_mm)} that is not listed."
        yield MayBe(unknown.id, other.id, other.name, other.register_mm, why, room, grade, ring_mm, text)


def _why(unknown: Mount, other: Mount) -> str | None:
    """Why a mount may have the distance of another; None where nothing says so."""
    if other.id == unknown.id:
        return None
    if unknown.interface is not None and unknown.interface == other.joint:
        return "its parts go together with it"
    if unknown.thread is not None:
        return "the same thread" if unknown.thread == other.thread else None
    if _words(unknown) & _words(other):
        return "named alike"
    throats = unknown.throat_mm, other.throat_mm
    if throats[0] is not None and throats[1] is not None and abs(throats[0] - throats[1]) <= _THROAT_MM:
        return "as wide inside"
    parts = {feature.id for feature in unknown.features}
    return "the same parts" if parts and parts <= {feature.id for feature in other.features} else None


def _words(mount: Mount) -> set[str]:
    said = " ".join((mount.name, *mount.aliases)).casefold().replace("-", " ").split()
    return {name for name in said if len(name) >= _SHORTEST_WORD and not name.isdigit()} - {"mount", "bayonet", "screw"}


def _sentence(names: tuple[str, ...], may_be: tuple[MayBe, ...]) -> str:
    said = f"The {word('flange_focal_distance')} of {written.listed(list(names))} is not known"
    if not may_be:
        return f"{said}, and nothing here says which system it may be: whether they fit cannot be told."
    least, most = may_be[0].register_mm, may_be[-1].register_mm
    if least == most:
        return f"{said}. If it is that of {may_be[0].name}, it is {written.millimetres(least)}."
    return f"{said}. By what it may be, it lies between {least:.2f} and {most:.2f} mm."


def _decides(lens: Lens, body: Body, front: Mount, rear: Mount) -> str:
    """Which distance decides, and at which length."""
    back, seat = seat_of(body, rear), seat_of(lens, front)
    if back.known:
        return (
            f"What decides: whether {lens.name} wants its mount face farther from the sensor than the "
            f"{back.register_mm:.2f} mm of {body.name}. Only then is there room for a ring, as long as the difference."
        )
    if seat.known:
        return (
            f"What decides: whether the mount face of {body.name} is nearer to its sensor than the "
            f"{seat.register_mm:.2f} mm that {lens.name} wants. Only then is there room for a ring."
        )
    return "What decides: by how much the one distance is longer than the other. Neither is known."


def _find_out(lens: Lens, body: Body, front: Mount, rear: Mount) -> Iterator[str]:
    """What a person can do to find a distance, the least trouble first."""
    ends = ((lens, front), (body, rear))
    names = written.listed([mount.name for item, mount in ends if not seat_of(item, mount).known])
    yield f"Ask for a gear file of somebody who has {names}, and open it under Files."
    yield f"Measure an old body of {names}: by caliper, from its mount face to the film rails or the film-plane mark."
    back = seat_of(body, rear)
    if back.known:
        add = f"{back.register_mm:.2f} mm"
        yield f"Measure a ring of yours that joins them and reaches infinity: its length and {add} make the distance."
        yield (
            f"Hold {lens.name} before {body.name} until far things are sharp, the sensor shaded: what is between the "
            f"two mount faces and {add} make the distance. Touch nothing inside the camera."
        )
    else:
        yield "Measure a ring of yours that joins the two and reaches infinity: the distances differ by its length."
