"""The ring that is not listed and that would do: judged like any other, marked as not listed, and without a price.

Where a ring from the lens to the body would not do by itself, one beside a single listed piece may.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from tropeion.core import findings
from tropeion.core.findings import Grade
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import is_unlisted, ring_id
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.usual import taken_body, taken_for
from tropeion.core.gear.world import World
from tropeion.core.joints.mechanics import STACKED_RING_MM, has_room, smallest_ring_mm
from tropeion.core.keeping import kept
from tropeion.core.optics import focus
from tropeion.core.optics.seats import Link, seat_of
from tropeion.core.practice import Practice
from tropeion.core.working import tidy

from .judgement import Assessment, assess

# A helicoid takes this much more than a ring: two threads in each other.
HELICOID_MM = 6.0
_CLOSEST_MM = 1000.0
# So many places beside listed pieces are tried, those at hand first.
_MOST_BESIDE = 8


@dataclass(frozen=True, slots=True)
class Unlisted:
    """A pair with a ring that is not listed in its ``chain``, lens first.

    ``practical`` is None where its room is not known; ``tolerance_mm`` is what the ring may be too long or too short
    so that infinity is sharp at the widest aperture.
    """

    chain: tuple[Adapter, ...]
    grade: Grade
    surely: bool
    practical: bool | None
    tolerance_mm: float

    @property
    def ring(self) -> Adapter:
        return next(adapter for adapter in self.chain if is_unlisted(adapter.id))

    @property
    def works(self) -> bool:
        """Whether it takes pictures, surely."""
        return self.surely and findings.works(self.grade)

    @property
    def ids(self) -> tuple[str, ...]:
        """The chain by its ids, lens first."""
        return tuple(adapter.id for adapter in self.chain)


def opening_of(lens: Lens) -> tuple[float, float]:
    """How far a helicoid opens for a lens that nothing focuses, and the distance that it then focuses at, in mm."""
    f = lens.focal_length_mm[0]
    near = max(_CLOSEST_MM, 10 * f)
    return round((focus.close_magnification(near, f) or 0.0) * f, 2), near


def ring_kinds(world: World, lens: Lens, body: Body) -> tuple[dict[str, object], ...]:
    """What a ring for a pair may do besides, the plainest first: its fields beside ends and length."""
    lens, body = taken_for(world, lens), taken_body(world, body)
    values: list[dict[str, object]] = [{}]
    if lens.aperture == "lever":
        values.append({"aperture_control": "lever_ring"})
    if lens.aperture == "pin":
        values.append({"aperture_control": "pin_press"})
    if lens.protocol is not None and body.protocols:
        spoken = next((protocol for protocol in body.protocols if world.speaks(protocol, lens.protocol)), None)
        link: dict[str, object] = {"link": "pass"}
        if spoken is None:
            link = {"link": "translate", "from_protocol": lens.protocol, "to_protocol": body.protocols[0]}
        values.append(link)
    if lens.focus == "none":
        opens, _ = opening_of(lens)
        values = [{**some, "helicoid_mm": opens} for some in values]
    return tuple(values)


def unlisted_for(world: World, lens: Lens, body: Body, practice: Practice, *, beside: bool = True) -> Unlisted | None:
    """The ring that would do for a pair and comes to the best, the plainest of these; None where none can be made.

    It may be told although a listed way is as good. A ring alone comes before one ``beside`` a listed piece.
    """
    alone = _alone(world, lens.id, body.id, practice)
    if not beside or (alone is not None and alone.works):
        return alone
    return _beside(world, lens.id, body.id, practice) or alone


@kept(most=20_000)
def _alone(world: World, lens_id: str, body_id: str, practice: Practice) -> Unlisted | None:
    lens, body = world.lens(lens_id), world.body(body_id)
    front, rear = world.mount_of(lens), world.mount_of(body)
    seat, back = seat_of(lens, front), seat_of(body, rear)
    if not (seat.known and back.known):
        return None
    length = tidy(seat.register_mm - back.register_mm)
    return _best(world, lens, body, practice, _Place(front, rear, length))


@dataclass(frozen=True, slots=True)
class _Place:
    """Where a ring would stand, how long it would have to be, and the listed piece before or behind it."""

    front: Mount
    rear: Mount
    length_mm: float
    before: Adapter | None = None
    behind: Adapter | None = None

    def practical(self, world: World, lens: Lens) -> bool | None:
        """Whether there is room for it; None where that is not known."""
        if self.length_mm <= 0:
            return False
        least = smallest_ring_mm(world.structure, self.front, self.rear)
        if lens.focus == "none":
            least = (STACKED_RING_MM if least is None else least) + HELICOID_MM
        return has_room(self.length_mm, least)

    def chain(self, ring: Adapter) -> tuple[Adapter, ...]:
        return tuple(adapter for adapter in (self.before, ring, self.behind) if adapter is not None)


@kept(most=20_000)
def _beside(world: World, lens_id: str, body_id: str, practice: Practice) -> Unlisted | None:
    """The best with a ring before or behind one listed piece that meets the body or the lens."""
    lens, body = world.lens(lens_id), world.body(body_id)
    places = [place for place in _places(world, lens, body) if place.practical(world, lens) is not False]
    places.sort(key=lambda place: not any(piece.at_hand for piece in (place.before, place.behind) if piece is not None))
    generator = (_best(world, lens, body, practice, place) for place in places[:_MOST_BESIDE])
    return max(
        (unlisted for unlisted in generator if unlisted is not None and unlisted.works),
        key=lambda unlisted: findings.rank(unlisted.grade),
        default=None,
    )


def _places(world: World, lens: Lens, body: Body) -> Iterator[_Place]:
    """Where a ring could stand beside one listed piece, as long as infinity wants it."""
    front, rear = world.mount_of(lens), world.mount_of(body)
    ends = seat_of(lens, front), seat_of(body, rear)
    if not all(end.known for end in ends):
        return
    seat, back = (end.register_mm for end in ends)
    for (takes, onto), some in world.structure.adapters_by_joints.items():
        for adapter in some if rear.joint == onto or front.joint == takes else ():
            if adapter.retired:
                continue
            link = Link.of(adapter)
            squared = link.magnification**2
            adds = link.error_mm
            if link.glass is not None:
                adds += squared * link.glass[0] - link.glass[1]
            if onto == rear.joint:
                length = seat - (back + adds) / squared
                yield _Place(front, world.mounts[adapter.lens_mount], tidy(length), behind=adapter)
            if takes == front.joint:
                length = squared * seat - back - adds
                yield _Place(world.mounts[adapter.body_mount], rear, tidy(length), before=adapter)


def made_ring(world: World, front: Mount, rear: Mount, length_mm: float, does: Mapping[str, object]) -> Adapter:
    """A ring that is not listed, with what it does besides by its fields."""
    plain = Adapter(id="ring", name="Ring", lens_mount=front.id, body_mount=rear.id, length_mm=length_mm)
    return world.adapter(ring_id(plain.model_copy(update=does)))


def _best(world: World, lens: Lens, body: Body, practice: Practice, place: _Place) -> Unlisted | None:
    """The plainest of the rings of one length that come to the best grade; None where there is no room for any."""
    practical = place.practical(world, lens)
    if practical is False:
        return None
    best: tuple[tuple[Adapter, ...], Assessment] | None = None
    # What speaks for the lens comes to more than any that does not, if it comes to more at all.
    for does in reversed(ring_kinds(world, lens, body)):
        ring = made_ring(world, place.front, place.rear, place.length_mm, does)
        judged = assess(world, lens, place.chain(ring), body, practice)
        if best is None or findings.rank(judged.grade) >= findings.rank(best[1].grade):
            best = place.chain(ring), judged
        if "link" in does and findings.rank(judged.grade) > findings.rank("manual"):
            break
    assert best is not None, "there is a plain ring at least"
    return Unlisted(best[0], best[1].grade, not best[1].unsure, practical, _tolerance_mm(best[1]))


def _tolerance_mm(judged: Assessment) -> float:
    """Half the depth of focus at the widest aperture, less what the two mounts may be off by."""
    rig = judged.rig
    widest = min(end.f_number for end in judged.ends)
    ends = seat_of(rig.lens, rig.stack.lens_mount), seat_of(rig.body, rig.stack.body_mount)
    return tidy(max(0.0, widest * rig.blur_mm - sum(end.tolerance_mm for end in ends)))
