"""Mount systems beside one another: who has room for whom, and what stands between look-alikes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Final, Literal

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Effect, Mount
from tropeion.core.gear.world import World
from tropeion.core.joints.coupling import matching_rules, worst_rule
from tropeion.core.joints.mechanics import has_room, smallest_ring_mm
from tropeion.core.keeping import kept
from tropeion.core.optics.register import room_mm
from tropeion.core.practice import Practice
from tropeion.core.routes.chain_table import interfaces_of
from tropeion.core.routes.grades import Best, whole_best
from tropeion.core.routes.standings import StandingGrade
from tropeion.core.routes.table import ways_onto
from tropeion.core.words import word
from tropeion.core.working import tidy

# At most this many pairs are graded for the overview; of a larger collection only gaps and routes are counted.
MOST_PAIRS = 20_000


@frozen
class SystemRow:
    """One mount system on the ruler. Lengths in mm; the counts are of what is in the collection."""

    id: str
    name: str
    aliases: tuple[str, ...]
    coupling: str
    lens_kind: str
    register_mm: float | None
    tolerance_mm: float
    throat_mm: float | None
    outer_mm: float | None
    thread: str | None
    lenses: int
    bodies: int
    generations: int


JointBetween = Literal["same", "practical", "tight", "unsure", "equal", "unknown", "none"]


@frozen
class Crossing:
    """Lenses of one system on bodies of another.

    ``room_mm`` is what is left between the registers; ``joint``: the same interface (they go together bare),
    ``practical`` (a plain ring has room), ``tight`` (the couplings leave none), ``unsure`` (not known), ``equal``
    registers, ``unknown`` (one of the registers is not known), ``none``.
    ``ways`` counts the chains on offer; ``grade`` is the best of all lenses and bodies of the two systems, and ``lens``
    and ``body`` are a pair that gets it; None if there are none or nothing joins them.
    """

    lens_mount: str
    body_mount: str
    room_mm: float | None
    least_ring_mm: float | None
    joint: JointBetween
    ways: int
    grade: Grade | None
    lens: str | None
    body: str | None


@frozen
class LookAlike:
    """Two systems that can be taken for one another, and why they are not the same."""

    one: str
    other: str
    kind: Literal["same_thread", "same_diameter", "equal_registers"]
    one_pitch_mm: float | None
    other_pitch_mm: float | None
    diameter_mm: float | None
    differ_mm: float | None
    text: str


@frozen
class SystemsReport:
    """All systems, how they cross, and which look alike; longest register first, what is not known last."""

    systems: tuple[SystemRow, ...]
    crossings: tuple[Crossing, ...]
    look_alikes: tuple[LookAlike, ...]
    graded: bool


@frozen
class HeldOfSystem:
    """A lens or body of the system in the collection, with its generation's label."""

    id: str
    name: str
    owned: int
    generation: str | None
    detail: str


@frozen
class Speech:
    """A protocol that this system's contacts speak, what it powers, and whom it understands."""

    id: str
    name: str
    powers: tuple[str, ...]
    accepts: tuple[str, ...]


@frozen
class Encounter:
    """A lens of one generation on a body of another, as they left the factory."""

    lens_generation: str
    body_generation: str
    effect: Effect | Literal["nothing_known"]
    text: str
    action: str | None


@frozen
class Joined:
    """An adapter with this system on one side, and the system on its other side."""

    id: str
    name: str
    side: Literal["lens", "body"]
    other: str
    other_name: str
    length_mm: float
    owned: int
    price: float | None


@frozen
class SystemPage:
    """One system whole: the mount as it is in the gear file, how its generations meet, what is held of it, which
    adapters join it to others, and what its contacts speak.
    """

    mount: Mount
    encounters: tuple[Encounter, ...]
    lenses: tuple[HeldOfSystem, ...]
    bodies: tuple[HeldOfSystem, ...]
    adapters: tuple[Joined, ...]
    currency: str
    speaks: tuple[Speech, ...]
    look_alikes: tuple[LookAlike, ...]


@frozen
class _Best:
    standing: StandingGrade
    lens: str
    body: str


def systems_report(
    world: World, practice: Practice, known: Mapping[tuple[str, str], Best] | None = None
) -> SystemsReport:
    """Every system against every other, by one practice. Retired lenses, bodies and systems are left out.

    ``known`` are the best of all pairs by this practice, where another answer has them.
    """
    mounts = _shown(world)
    lenses, bodies = _in_use(world)
    graded = len(lenses) * len(bodies) <= MOST_PAIRS
    best: dict[tuple[str, str], _Best] = {}
    if graded:
        every = whole_best(world, practice) if known is None else known
        for lens in lenses:
            for body in bodies:
                standing = every[lens.id, body.id].standing
                key = lens.mount or "", body.mount
                if (
                    standing.grade is not None
                    and standing.surely
                    and (key not in best or standing > best[key].standing)
                ):
                    best[key] = _Best(standing, lens.id, body.id)
    return SystemsReport(
        systems=tuple(_row(mount, lenses, bodies) for mount in mounts),
        crossings=tuple(
            crossing if pair is None else replace(crossing, grade=pair.standing.grade, lens=pair.lens, body=pair.body)
            for crossing in _crossings(world, int(practice.pieces))
            for pair in (best.get((crossing.lens_mount, crossing.body_mount)),)
        ),
        look_alikes=_look_alikes(mounts),
        graded=graded,
    )


def _shown(world: World) -> list[Mount]:
    """The systems in their order, without those that are archived."""
    mounts = [mount for mount in world.gear.mounts if not mount.retired]
    return sorted(mounts, key=lambda mount: (-(mount.register_mm or 0.0), mount.name))


@kept(most=4)
def _crossings(world: World, most: int) -> tuple[Crossing, ...]:
    """Every system with every other, as yet without the lenses and bodies that there are."""
    mounts, numbers = _shown(world), interfaces_of(world.structure)
    ways = {joint: ways_onto(world.structure, joint, most).tolist() for joint in {mount.joint for mount in mounts}}
    return tuple(
        _crossing(world, front, rear, int(ways[rear.joint][numbers[front.joint]]))
        for front in mounts
        for rear in mounts
    )


def _in_use(world: World) -> tuple[list[Lens], list[Body]]:
    lenses = [lens for lens in world.gear.mounted if not lens.retired]
    return lenses, [body for body in world.gear.bodies if not body.retired]


def _row(mount: Mount, lenses: list[Lens], bodies: list[Body]) -> SystemRow:
    return SystemRow(
        id=mount.id,
        name=mount.name,
        aliases=mount.aliases,
        coupling=mount.coupling,
        lens_kind=mount.lens_kind_or_usual,
        register_mm=mount.register_mm,
        tolerance_mm=mount.tolerance_or_usual_mm,
        throat_mm=mount.throat_mm,
        outer_mm=mount.outer_mm,
        thread=_thread(mount),
        lenses=sum(lens.mount == mount.id for lens in lenses),
        bodies=sum(body.mount == mount.id for body in bodies),
        generations=len(mount.generations),
    )


def _thread(mount: Mount) -> str | None:
    return f"{mount.thread.diameter_mm:g} × {mount.thread.pitch_mm:g}" if mount.thread else None


_ROOM: Final[Mapping[bool | None, Literal["practical", "tight", "unsure"]]] = {
    True: "practical",
    False: "tight",
    None: "unsure",
}


def _crossing(world: World, front: Mount, rear: Mount, ways: int) -> Crossing:
    room = room_mm(front, rear)
    least = smallest_ring_mm(world.structure, front, rear)
    joint: JointBetween = "none"
    if front.joint == rear.joint:
        joint = "same"
    elif room is None:
        joint = "unknown"
    elif abs(room) <= tidy(front.tolerance_or_usual_mm + rear.tolerance_or_usual_mm):
        joint = "equal"
    elif room > 0:
        joint = _ROOM[has_room(room, least)]
    return Crossing(
        lens_mount=front.id,
        body_mount=rear.id,
        room_mm=room,
        least_ring_mm=least,
        joint=joint,
        ways=ways,
        grade=None,
        lens=None,
        body=None,
    )


def _look_alikes(mounts: list[Mount]) -> tuple[LookAlike, ...]:
    look_alikes = [_alike(mount, other) for number, mount in enumerate(mounts) for other in mounts[number + 1 :]]
    return tuple(pair for pair in look_alikes if pair is not None)


def _alike(one: Mount, other: Mount) -> LookAlike | None:
    differ = room_mm(one, other)
    if one.thread and other.thread and one.thread.diameter_mm == other.thread.diameter_mm:
        same = one.thread.pitch_mm == other.thread.pitch_mm
        if same and differ == 0:
            return None
        apart = "not both known" if differ is None else f"{abs(differ):.2f} mm apart"
        text = (
            f"One thread, {word('flange_focal_distance')}s {apart}: a ring for the wrong one screws on, looks right, "
            "and nothing comes into focus where it should."
            if same
            else f"Same diameter, pitch {one.thread.pitch_mm:g} against {other.thread.pitch_mm:g} mm: it binds after "
            "a turn or two. Do not force it."
        )
        return LookAlike(
            one.id,
            other.id,
            "same_thread" if same else "same_diameter",
            one.thread.pitch_mm,
            other.thread.pitch_mm,
            one.thread.diameter_mm,
            differ,
            text,
        )
    if one.joint == other.joint or differ is None:
        return None
    if abs(differ) <= tidy(one.tolerance_or_usual_mm + other.tolerance_or_usual_mm):
        text = f"Equal {word('flange_focal_distance')}s, other couplings: an adapter between them would have no length."
        return LookAlike(one.id, other.id, "equal_registers", None, None, None, differ, text)
    return None


def system_page(world: World, mount_id: str) -> SystemPage:
    """One system. Raises UnknownIdError for a mount that is not in the collection."""
    mount = world.mount(mount_id)
    lenses, bodies = _in_use(world)
    spoken = {generation.protocol for generation in mount.generations if generation.protocol}
    spoken |= {lens.protocol for lens in lenses if lens.mount == mount.id and lens.protocol}
    spoken |= {protocol for body in bodies if body.mount == mount.id for protocol in body.protocols}
    protocols = [world.protocols[id_] for id_ in sorted(spoken)]
    alike = _look_alikes([each for each in world.gear.mounts if not each.retired])
    return SystemPage(
        mount=mount,
        encounters=_encounters(mount),
        lenses=tuple(_held(world, lens) for lens in lenses if lens.mount == mount.id),
        bodies=tuple(_held(world, body) for body in bodies if body.mount == mount.id),
        adapters=_joined(world, mount),
        currency=world.gear.currency,
        speaks=tuple(
            Speech(
                each.id,
                each.name,
                tuple(sorted(each.powered)),
                tuple(world.protocols[id_].name for id_ in each.accepts),
            )
            for each in protocols
        ),
        look_alikes=tuple(pair for pair in alike if mount.id in {pair.one, pair.other}),
    )


def _encounters(mount: Mount) -> tuple[Encounter, ...]:
    if not mount.rules:
        return ()
    encounters = []
    for lens in mount.generations:
        for body in mount.generations:
            rules = matching_rules(mount, frozenset(lens.lens_features), frozenset(body.body_features))
            worst = worst_rule(rules)
            text = " ".join(rule.text for rule in rules) or "Nothing is stated of this combination."
            encounters.append(
                Encounter(
                    lens.id, body.id, worst.effect if worst else "nothing_known", text, worst.action if worst else None
                )
            )
    return tuple(encounters)


def _joined(world: World, mount: Mount) -> tuple[Joined, ...]:
    """Adapters that take its lenses, then those that go onto its bodies; by the other system, owned ones first."""
    joined = []
    for adapter in world.gear.adapters:
        if adapter.retired:
            continue
        sides: list[tuple[Literal["lens", "body"], str, str]] = [
            ("lens", adapter.lens_mount, adapter.body_mount),
            ("body", adapter.body_mount, adapter.lens_mount),
        ]
        joined += [
            Joined(
                adapter.id,
                adapter.name,
                side,
                other,
                world.mounts[other].name,
                adapter.physical_length_mm,
                adapter.at_hand,
                adapter.price,
            )
            for side, own, other in sides
            if own == mount.id
        ]
    joined.sort(key=lambda way: (way.side == "body", way.other_name, not way.owned, way.price or 0.0, way.name))
    return tuple(joined)


def _held(world: World, item: Lens | Body) -> HeldOfSystem:
    generation = world.generations[item.generation].label if item.generation else None
    if isinstance(item, Body):
        detail = f"{item.sensor_mm[0]:g} × {item.sensor_mm[1]:g} mm"
    else:
        conversions = {
            "none": "",
            "factory": "converted by its maker",
            "third_party": "converted by others: inspect it",
            "home": "converted by its owner: inspect it",
            "transplanted": "a transplanted coupling part",
        }
        detail = conversions[item.conversion]
    return HeldOfSystem(item.id, item.name, item.at_hand, generation, detail)
