"""What a change to the collection does: best grades of the pairs at hand, and saved rigs, before and after."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TypeVar

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import those_as_before
from tropeion.core.gear.world import World, compile_world
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import Best, best_of_each, regraded
from tropeion.core.routes.standings import NOTHING, StandingGrade

from .saved_rigs import grade_of_rig

# At most this many pairs are judged per keystroke, those at hand first.
MOST_PAIRS = 1200
MOST_TOLD = 40
# With more adapters than this, only pairs that the changed piece itself can join are judged.
_LARGE = 1500

T = TypeVar("T", Lens, Body)


@frozen
class PairChange:
    """A pair whose best grade changes, or is new; None where nothing joins them."""

    lens: str
    lens_name: str
    body: str
    body_name: str
    before: Grade | None
    after: Grade | None


@frozen
class RigChange:
    """A saved rig whose grade changes."""

    id: str
    name: str
    before: Grade
    after: Grade


@frozen
class Effect:
    """Pairs that change, best gains first, out of ``judged``; ``better`` and ``worse`` count them all."""

    judged: int
    better: int
    worse: int
    pairs: tuple[PairChange, ...]
    rigs: tuple[RigChange, ...]


def effect_of(world: World, kind: Kind, id_: str, entry: Entry | None, practice: Practice) -> Effect:
    """What putting ``entry`` in the place of the item ``id_`` (or taking it out) does. References have to hold."""
    after = compile_world(with_entry(world.gear, kind, id_, entry), like=world)
    judged = 0
    changed: list[tuple[Lens, Body, StandingGrade, StandingGrade]] = []
    for lenses, bodies in (_concerned(after.gear, kind, id_), _taken_anew(world, after, kind, id_)):
        known = tuple(lens.id for lens in lenses if lens.id in world.lenses)
        seen = tuple(body.id for body in bodies if body.id in world.bodies)
        past = _past(world, known, seen, practice)
        now = regraded(world, past, after, lenses, bodies, practice)
        judged += len(now)
        for lens in lenses:
            for body in bodies:
                best = past.get((lens.id, body.id))
                before, then = NOTHING if best is None else best.standing, now[lens.id, body.id].standing
                if before != then:
                    changed.append((lens, body, before, then))
    changed.sort(key=lambda change: -abs(change[3].level - change[2].level))
    rigs = []
    for rig in world.gear.rigs:
        if any(other.id == rig.id for other in after.gear.rigs):
            grades = grade_of_rig(world, rig, practice), grade_of_rig(after, rig, practice)
            if grades[0] != grades[1]:
                rigs.append(RigChange(rig.id, rig.name, *grades))
    return Effect(
        judged=judged,
        better=sum(then > before for _, _, before, then in changed),
        worse=sum(then < before for _, _, before, then in changed),
        pairs=tuple(
            PairChange(lens.id, lens.name, body.id, body.name, before.grade, then.grade)
            for lens, body, before, then in changed[:MOST_TOLD]
        ),
        rigs=tuple(rigs),
    )


# One after another the keys of a form change the same piece: what stood before stays the same.
@kept(most=4)
def _past(
    world: World, lens_ids: tuple[str, ...], body_ids: tuple[str, ...], practice: Practice
) -> Mapping[tuple[str, str], Best]:
    """How some pairs stand before the change."""
    lenses, bodies = [world.lenses[id_] for id_ in lens_ids], [world.bodies[id_] for id_ in body_ids]
    return best_of_each(world, lenses, bodies, practice)


def _concerned(gear: Gear, kind: Kind, id_: str) -> tuple[Sequence[Lens], Sequence[Body]]:
    """The pairs that may change: those of the item itself; else those at hand."""
    if kind in {"protocols", "accessories", "foils", "pairs", "rigs"}:
        return (), ()
    lenses: Sequence[Lens] = _at_hand([lens for lens in gear.mounted if not lens.retired])
    bodies: Sequence[Body] = _at_hand([body for body in gear.bodies if not body.retired])
    if kind == "lenses":
        lenses = [lens for lens in gear.mounted if lens.id == id_]
    elif kind == "bodies":
        bodies = [body for body in gear.bodies if body.id == id_]
    elif len(gear.adapters) > _LARGE:
        lenses, bodies = _joined(gear, kind, id_, lenses, bodies)
    bodies = bodies[:60] if kind != "bodies" else bodies
    return lenses[: max(1, MOST_PAIRS // max(1, len(bodies)))], bodies


def _taken_anew(world: World, after: World, kind: Kind, id_: str) -> tuple[Sequence[Lens], Sequence[Body]]:
    """Pairs at hand of which something that nobody stated is taken from the changed piece."""
    if kind not in {"lenses", "bodies"}:
        return (), ()
    lenses: Sequence[Lens] = _at_hand([lens for lens in after.gear.mounted if not lens.retired and lens.id != id_])
    bodies: Sequence[Body] = _at_hand([body for body in after.gear.bodies if not body.retired and body.id != id_])
    if kind == "bodies":
        lenses = _others(lenses, those_as_before(world, after, lenses))
    else:
        bodies = _others(bodies, those_as_before(world, after, bodies))
    return lenses[: max(1, MOST_PAIRS // max(1, len(bodies[:60])))], bodies[:60]


def _others(all_: Sequence[T], some: Sequence[T]) -> list[T]:
    known = {item.id for item in some}
    return [item for item in all_ if item.id not in known]


def _joined(
    gear: Gear, kind: Kind, id_: str, lenses: Sequence[Lens], bodies: Sequence[Body]
) -> tuple[Sequence[Lens], Sequence[Body]]:
    """Ends on the changed adapter's own interfaces; lenses of the changed mount, or else its bodies."""
    interface = {mount.id: mount.joint for mount in gear.mounts}
    adapter = next((adapter for adapter in gear.adapters if adapter.id == id_), None) if kind == "adapters" else None
    if adapter is not None:
        front, rear = interface[adapter.lens_mount], interface[adapter.body_mount]
        lenses = [lens for lens in lenses if lens.mount and interface[lens.mount] == front]
        return lenses, [body for body in bodies if interface[body.mount] == rear]
    if own := [lens for lens in lenses if lens.mount == id_]:
        return own[:20], bodies[:20]
    return lenses[:20], [body for body in bodies if body.mount == id_][:20]


def _at_hand(pieces: list[T]) -> list[T]:
    return [piece for piece in pieces if piece.at_hand] or pieces
