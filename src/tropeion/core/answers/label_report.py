"""What an adapter read from a label would serve: a plain ring between its two ends, beside what is owned."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from tropeion.core.findings import Grade, rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.mechanics import has_room, smallest_ring_mm
from tropeion.core.keeping import kept
from tropeion.core.optics.register import room_mm
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import best_standings
from tropeion.core.routes.standings import StandingGrade
from tropeion.core.working import tidy
from tropeion.core.written import millimetres

from .label_mentions import Doubt
from .labels import ROUNDED_MM, Label, read_label


@frozen
class LabelEnd:
    """A mount that one end of the label may be."""

    mount: str
    name: str
    confidence: float


@frozen
class KnownPiece:
    """An adapter of the collection with the same two ends."""

    id: str
    name: str
    length_mm: float
    owned: int
    price: float | None


@frozen
class PairServed:
    """A lens and a body that are owned, and what they come to with what is owned today and with this piece too."""

    lens: str
    lens_name: str
    body: str
    body_name: str
    before: Grade | None
    after: Grade


@frozen
class Reversed:
    """The two ends the other way round, where only so there is room; in mm."""

    lens_mount: str
    lens_name: str
    body_mount: str
    body_name: str
    room_mm: float


@frozen
class LabelReport:
    """A label read, and its consequence if both ends are known.

    ``room_mm`` is between the two registers, ``ring`` whether a plain ring has room there. ``serves`` are the owned
    pairs that it betters, best first; none are told of what holds glass, or is of another length. ``reversed`` is
    offered where the ends as they were read leave no room. ``unread`` is what of the label nobody understood;
    ``names_both_ends``: so it is an adapter's, and no lens's.
    """

    text: str
    lens_side: tuple[LabelEnd, ...]
    body_side: tuple[LabelEnd, ...]
    doubts: tuple[Doubt, ...]
    glass: str | None
    chip: str | None
    length_mm: float | None
    unread: tuple[str, ...]
    reversed: Reversed | None
    room_mm: float | None
    ring: Literal["practical", "tight", "unsure", "none"] | None
    alike: tuple[KnownPiece, ...]
    serves: tuple[PairServed, ...]
    currency: str
    names_both_ends: bool


def label_report(world: World, text: str, practice: Practice) -> LabelReport:
    """Read a label; for its likeliest ends say which known pieces are alike and what a plain ring would serve."""
    label = read_label(world, text)
    room: float | None = None
    ring: Literal["practical", "tight", "unsure", "none"] | None = None
    alike: tuple[KnownPiece, ...] = ()
    serves: tuple[PairServed, ...] = ()
    turned: Reversed | None = None
    if label.lens_side and label.body_side:
        front, rear = world.mounts[label.lens_side[0].mount], world.mounts[label.body_side[0].mount]
        room = room_mm(front, rear)
        practical = None if room is None else has_room(room, smallest_ring_mm(world.structure, front, rear))
        ring = "tight" if practical is False else "practical" if practical else "unsure"
        alike = _alike(world, front.joint, rear.joint)
        length = label.length_mm or room
        if label.glass is not None:
            ring = None
        elif room is not None and room <= 0:
            ring = "none"
            turned = Reversed(rear.id, rear.name, front.id, front.name, -room) if room < 0 else None
        elif length is not None:
            serves = _serves(world, label, length, practice)
    return LabelReport(
        text=text,
        lens_side=_ends(world, label, "lens"),
        body_side=_ends(world, label, "body"),
        doubts=(*label.doubts, *_length_doubt(label, room)),
        glass=label.glass,
        chip=label.chip,
        length_mm=label.length_mm,
        unread=label.unread,
        reversed=turned,
        room_mm=room,
        ring=ring,
        alike=alike,
        serves=serves,
        currency=world.gear.currency,
        names_both_ends=bool(label.lens_side and label.body_side),
    )


def _length_doubt(label: Label, room: float | None) -> tuple[Doubt, ...]:
    """A plain ring is as long as the room between its ends."""
    length = label.length_mm
    if length is None or room is None or label.glass is not None or tidy(abs(length - room) - ROUNDED_MM) <= 0:
        return ()
    kind = "longer: for close-up" if length > room else "shorter: it focuses past infinity, or not at all"
    text = (
        f"The label says {millimetres(length)}; a ring of these ends measures {millimetres(room)}. This one is {kind}."
    )
    return (Doubt("length_differs", text),)


def _ends(world: World, label: Label, side: Literal["lens", "body"]) -> tuple[LabelEnd, ...]:
    sides = label.lens_side if side == "lens" else label.body_side
    return tuple(LabelEnd(side.mount, world.mounts[side.mount].name, side.confidence) for side in sides)


def _alike(world: World, front: str, rear: str) -> tuple[KnownPiece, ...]:
    adapters = [adapter for adapter in world.structure.adapters_by_joints.get((front, rear), ()) if not adapter.retired]
    adapters.sort(
        key=lambda adapter: (not adapter.at_hand, adapter.price is None, adapter.price or 0.0, adapter.name.casefold())
    )
    return tuple(
        KnownPiece(adapter.id, adapter.name, adapter.physical_length_mm, adapter.at_hand, adapter.price)
        for adapter in adapters
    )


def _serves(world: World, label: Label, length_mm: float, practice: Practice) -> tuple[PairServed, ...]:
    """Pairs of owned lenses and bodies, by the adapters that are owned, without and with a plain ring of these ends."""
    return _served(world, label.lens_side[0].mount, label.body_side[0].mount, length_mm, practice)


@kept(most=1)
def _shelf(world: World) -> World:
    """What is owned, alone."""
    owned = tuple(adapter for adapter in world.gear.adapters if adapter.at_hand and not adapter.retired)
    ids = {adapter.id for adapter in owned}
    # A maker's exclusion of a piece that is not owned does not matter here.
    lenses = tuple(
        lens.model_copy(
            update={"not_on": tuple(not_on for not_on in lens.not_on if not_on.adapter in ids or not_on.mount)}
        )
        for lens in world.gear.mounted
        if lens.at_hand and not lens.retired
    )
    bodies = tuple(body for body in world.gear.bodies if body.at_hand and not body.retired)
    update = {"adapters": owned, "lenses": lenses, "bodies": bodies, "rigs": ()}
    return compile_world(world.gear.model_copy(update=update))


@kept(most=8)
def _grades(shelf: World, practice: Practice) -> Mapping[tuple[str, str], StandingGrade]:
    """The best grades of everything on a shelf."""
    return best_standings(shelf, shelf.gear.lenses, shelf.gear.bodies, practice)


@kept(most=256)
def _served(world: World, front: str, rear: str, length_mm: float, practice: Practice) -> tuple[PairServed, ...]:
    shelf = _shelf(world)
    lenses, bodies = shelf.gear.lenses, shelf.gear.bodies
    ring = Adapter(id="the-label", name="The label", lens_mount=front, body_mount=rear, length_mm=length_mm, owned=1)
    before = _grades(shelf, practice)
    with_it = compile_world(shelf.gear.model_copy(update={"adapters": (*shelf.gear.adapters, ring)}))
    after = best_standings(with_it, lenses, bodies, practice)
    pair_served = []
    for lens in lenses:
        for body in bodies:
            old, new = before[lens.id, body.id], after[lens.id, body.id]
            grade = new.grade
            if grade is not None and new.works and new > old:
                pair_served.append(PairServed(lens.id, lens.name, body.id, body.name, old.grade, grade))
    pair_served.sort(key=lambda pair: (-rank(pair.after), pair.lens_name.casefold(), pair.body_name.casefold()))
    return tuple(pair_served)
