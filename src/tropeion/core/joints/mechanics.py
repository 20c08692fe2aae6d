"""What mates, what would touch, what the joints bear, and how far they give."""

from __future__ import annotations

import math
import operator
from collections.abc import Iterable, Mapping, Sequence

from tropeion.core import catalogue
from tropeion.core.findings import Finding, Remark
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import is_changed
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import Structure
from tropeion.core.keeping import kept
from tropeion.core.optics.seats import Link
from tropeion.core.optics.stack import Joint, Placed, Stack
from tropeion.core.working import Calc, Symbol, formula, tidy
from tropeion.core.written import millimetres

CLEARANCE_MM = 0.5


def judge_joints(stack: Stack) -> list[Finding]:
    """What is wrong at each joint: they mate by interface, not by system."""
    findings = []
    for joint in stack.joints:
        if joint.mates:
            continue
        kind = catalogue.thread_binds if joint.gives.binds_in(joint.takes) else catalogue.does_not_mate
        findings.append(kind(joint.link, front=joint.front.name, rear=joint.rear.name))
    return findings


def judge_clearance(stack: Stack) -> list[Finding]:
    """Whether the rear of the lens clears what stands behind it; where that cannot be told, what is not known.

    The rear vertex stands R_b + ΣL − rear protrusion before the sensor and must clear the front of glass in the chain
    and the body's nearest obstruction by 0.5 mm, the sensor always; its barrel must pass each bore that it reaches.
    """
    protrusion, obstacles = stack.lens.rear_protrusion_mm, _obstacles(stack)
    findings: list[Finding] = []
    missing = [] if is_at_home(stack) else _unknown_of(stack, obstacles)
    if missing:
        findings.append(catalogue.clearance_unknown(obstacles[0].link, missing="; ".join(missing)))
    if protrusion is None:
        return findings
    vertex = stack.seat_mm - protrusion
    sensor = _Obstacle(stack.body.id, f"the sensor of {stack.body.name}", 0.0, "")
    touched = [
        obstacle
        for obstacle in (*obstacles, sensor)
        if obstacle.at_mm is not None and tidy(vertex - obstacle.at_mm - CLEARANCE_MM) < 0
    ]
    # What reaches the sensor has come through the rest.
    for obstacle in touched[:-1] if len(touched) > 1 and touched[-1] is sensor else touched:
        findings.append(
            catalogue.rear_collides(
                obstacle.link,
                rear=f"{millimetres(abs(vertex))} {'behind' if vertex < 0 else 'before'} the sensor",
                obstacle=obstacle.name,
                limit=millimetres(obstacle.at_mm or 0.0),
            )
        )
    return [*findings, *_too_wide(stack, vertex)]


def is_at_home(stack: Stack) -> bool:
    """A bare lens on a body of its own system, both on their own mounts: its maker saw to the room behind it."""
    if is_changed(stack.lens) or is_changed(stack.body):
        return False
    same = stack.lens_mount.same_generation(stack.lens.generation, stack.body.generation)
    return not stack.adapters and stack.lens_mount is stack.body_mount and same


def clearance_unknowns(stack: Stack) -> list[str]:
    """What would have to be known to tell whether the rear of the lens clears what stands behind it."""
    return _unknown_of(stack, _obstacles(stack))


def _unknown_of(stack: Stack, obstacles: Sequence[_Obstacle]) -> list[str]:
    protrusion = stack.lens.rear_protrusion_mm
    # A rear that ends before a ring touches nothing in it.
    vertex = -math.inf if protrusion is None else stack.seat_mm - protrusion
    said = [
        f"{obstacle.unknown} is not stated"
        for obstacle in obstacles
        if obstacle.at_mm is None and tidy(vertex - obstacle.before_mm - CLEARANCE_MM) < 0
    ]
    if obstacles and protrusion is None:
        said.insert(0, f"how far the rear of {stack.lens.name} reaches in is not stated")
    return said


def clearance_doubts(stack: Stack) -> list[str]:
    """The same where no maker ensured the clearance: look before the lens is mounted."""
    return [] if is_at_home(stack) else clearance_unknowns(stack)


@frozen
class _Obstacle:
    """Something that the rear of the lens must not touch; where it stands, or what of it is not known.

    What is not known stands no farther forward than ``before_mm``.
    """

    link: str
    name: str
    at_mm: float | None
    unknown: str
    before_mm: float = math.inf


def _obstacles(stack: Stack) -> list[_Obstacle]:
    """Glass and blades of the chain, and what stands in the body: a mirror wherever nothing else is said."""
    obstacles = []
    for placed in stack.placed:
        obstacles += _within(placed)
        if placed.adapter.has_glass:
            # What stands behind is behind this glass.
            break
    body = stack.body
    if is_obstructed(body, stack.body_mount):
        unknown = f"how far in {body.name} is free, before its mirror,"
        obstacles.append(_Obstacle(body.id, f"the inside of {body.name}", body.obstruction_mm, unknown))
    return obstacles


def is_obstructed(body: Body, mount: Mount) -> bool:
    """Whether something stands in a body before its sensor, as it is stated or as bodies of its system have it."""
    return body.obstruction_mm is not None or mount.lens_kind_or_usual == "reflex"


def hides_something(adapter: Adapter) -> bool:
    """Whether something stands in a ring of which nobody said where."""
    placed = Placed(adapter, Link.of(adapter), 0.0, adapter.physical_length_mm)
    return any(obstacle.at_mm is None for obstacle in _within(placed))


def _within(one: Placed) -> list[_Obstacle]:
    """Glass and blades inside a ring; of filters and irises no field says where they stand."""
    adapter = one.adapter
    inside = []
    if adapter.has_glass:
        depth, name = adapter.front_glass_mm, f"the glass of {adapter.name}"
        at = None if depth is None else one.front_mm - depth
        inside.append(_Obstacle(adapter.id, name, at, f"where {name} begins", one.front_mm))
    if adapter.filter_slot is not None:
        name = f"the filter of {adapter.name}"
        inside.append(_Obstacle(adapter.id, name, None, f"where {name} stands", one.front_mm))
    if adapter.aperture_control == "iris":
        name = f"the aperture of {adapter.name}"
        inside.append(_Obstacle(adapter.id, name, None, f"where {name} stands", one.front_mm))
    return inside


def _too_wide(stack: Stack, vertex_mm: float) -> list[Finding]:
    """Bores that the rear barrel reaches and does not pass."""
    barrel = stack.lens.rear_diameter_mm
    if barrel is None:
        return []
    body = stack.body
    bores = [
        (placed.adapter.id, placed.adapter.name, placed.front_mm, placed.adapter.bore_mm) for placed in stack.placed
    ]
    bores.append((body.id, body.name, stack.body_seat.register_mm, stack.body_mount.throat_mm))
    return [
        catalogue.rear_too_wide(link, barrel=millimetres(barrel), bore=f"{name} ({millimetres(bore)})", where=name)
        for link, name, front, bore in bores
        if bore is not None and vertex_mm < front and tidy(bore - barrel) < 0
    ]


GRAVITY = "Moment of a weight, standard gravity 9.80665 m/s²"


@formula(
    "loads.moment_nm",
    "9.80665·10⁻⁶ · Σ mass · distance",
    "N·m",
    GRAVITY,
    masses_g=Symbol("mass", "g", "of each piece in front of the joint"),
    distances_mm=Symbol("distance", "mm", "of its centre of mass from the joint"),
)
def moment_nm(masses_g: Sequence[float], distances_mm: Sequence[float]) -> float:
    """Moment of everything in front of a joint."""
    return 9.80665e-6 * math.fsum(map(operator.mul, masses_g, distances_mm))


@frozen
class Load:
    """The moment at one joint, in N·m, and what the joint is rated for. ``link`` is the piece behind the joint."""

    link: str
    moment_nm: float
    rating_nm: float | None


def loads_of(stack: Stack, calc: Calc) -> tuple[Load, ...]:
    """The moment at every joint, lens first. Empty where a mass or the lens's centre of mass is not known.

    An adapter's centre of mass is taken at half its length, a lens's as stated, forward from its seat.
    """
    lens = stack.lens
    if lens.mass_g is None or lens.centre_of_mass_mm is None or any(a.mass_g is None for a in stack.adapters):
        return ()
    masses, distances, loads = [lens.mass_g], [lens.centre_of_mass_mm], []
    for number, joint in enumerate(stack.joints, 1):
        own = calc.under(f"joint {number}") if calc.records else calc
        moment = own(moment_nm, list(masses), list(distances))
        loads.append(Load(joint.link, moment, rating_of(joint)))
        if isinstance(joint.rear, Adapter):
            length = joint.rear.physical_length_mm
            distances = [*(d + length for d in distances), length / 2]
            masses.append(joint.rear.mass_g or 0.0)
    return tuple(loads)


def overloads(load: Load) -> bool:
    """Whether a joint bears more than it is rated for."""
    return load.rating_nm is not None and tidy(load.moment_nm - load.rating_nm) > 0


def rating_of(joint: Joint) -> float | None:
    """The least that either mount or either adapter of a joint is rated for, in N·m; None where none says."""
    said = [joint.gives.load_rating_nm, joint.takes.load_rating_nm]
    said += [piece.load_rating_nm for piece in (joint.front, joint.rear) if isinstance(piece, Adapter)]
    return min([rating for rating in said if rating is not None], default=None)


@formula(
    "play.displacement_mm",
    "Σ k²·play",
    "mm",
    "Play of the joints adds up, along the axis; a locking joint has none",
    plays_mm=Symbol("play", "mm", "of each joint, lens first"),
    sensitivities=Symbol("k²", "", "of all glass behind that joint"),
)
def displacement_mm(plays_mm: Sequence[float], sensitivities: Sequence[float]) -> float:
    """How far play in the joints moves the image along the axis."""
    return math.fsum(play * s for play, s in zip(plays_mm, sensitivities, strict=True))


@formula(
    "play.fraction_of_window",
    "play/(K·N·c)",
    "",
    "Against the depth of focus wide open",
    displacement=Symbol("play", "mm", "of all joints", "play.displacement_mm"),
    window_mm=Symbol("K·N·c", "mm", "depth of focus wide open"),
)
def fraction_of_window(displacement: float, window_mm: float) -> float:
    """Play as a share of the depth of focus, for focus pulling."""
    return displacement / window_mm


@frozen
class Play:
    """Play of all joints: in mm, and as a share of the depth of focus wide open; None where one is not known."""

    displacement_mm: float | None
    fraction_of_window: float | None


def plays_of(stack: Stack) -> list[float | None]:
    """The play of each joint, lens first: that of the piece in front, none where the joint locks.

    where it is not stated of a ring, it is what the mount behind it has by itself.
    """
    own = [stack.lens_mount.play_mm, *(adapter.play_mm for adapter in stack.adapters)]
    found = zip(stack.joints, own, strict=True)
    return [0.0 if joint.locks else joint.takes.play_mm if play is None else play for joint, play in found]


def _sensitivities(stack: Stack) -> list[float]:
    """k² of all glass behind each joint, lens first."""
    sensitivities = [1.0]
    for placed in reversed(stack.placed):
        sensitivities.append(sensitivities[-1] * placed.link.magnification**2)
    return sensitivities[::-1]


def play_of(stack: Stack, window_mm: float, calc: Calc, *, braced: bool = False) -> Play:
    """Play over the joints; None where that of one is not known. ``braced``: the joint at the body plays no more."""
    plays = plays_of(stack)
    if braced:
        plays[-1] = 0.0
    known = [play for play in plays if play is not None]
    if len(known) < len(plays):
        return Play(None, None)
    moved = calc(displacement_mm, known, _sensitivities(stack))
    return Play(moved, calc(fraction_of_window, moved, window_mm))


# The wall, in mm, on either side of a coupling that nests in another; lengths of a nested ring and of a stacked one.
_WALL_MM = 1.0
NESTED_RING_MM, STACKED_RING_MM = 1.0, 4.0


def smallest_ring_mm(structure: Structure, lens_mount: Mount, body_mount: Mount) -> float | None:
    """The shortest practical ring: about 1 mm where the smaller coupling nests in the larger one, else about 4 mm.

    What is listed is practical, however short. None where it is not known whether they nest.
    """
    shortest = shortest_listed(structure).get((lens_mount.joint, body_mount.joint), math.inf)
    nests = nested(lens_mount, body_mount)
    usual = None if nests is None else NESTED_RING_MM if nests else STACKED_RING_MM
    if usual is None:
        return shortest if shortest <= NESTED_RING_MM else None
    return min(usual, shortest)


@kept(most=1)
def shortest_listed(structure: Structure) -> Mapping[tuple[str, str], float]:
    """The length of the shortest ring without glass between two interfaces, either way round."""
    like, between = structure.like, structure.adapters_by_joints
    shortest: dict[tuple[str, str], float] = {}
    anew: Iterable[tuple[str, str]] = between
    if like is not None:
        shortest = dict(shortest_listed(like))
        changed = [*(like.adapters[id_] for id_ in structure.gone), *(structure.adapters[id_] for id_ in structure.new)]
        mounts = structure.mounts
        anew = {(mounts[one.lens_mount].joint, mounts[one.body_mount].joint) for one in changed}
    for front, rear in anew:
        either = (*between.get((front, rear), ()), *between.get((rear, front), ()))
        least = min((adapter.physical_length_mm for adapter in either if not adapter.has_glass), default=math.inf)
        shortest[front, rear] = shortest[rear, front] = least
    return shortest


def nested(one: Mount, other: Mount) -> bool | None:
    """Whether the smaller of two couplings goes into the throat of the larger one with a wall around it."""
    throats = (one.throat_mm, other.throat_mm)
    if None in throats:
        throats = (one.inner_mm, other.inner_mm)
    if throats[0] is None or throats[1] is None:
        return None
    return tidy(abs(throats[0] - throats[1]) - 2 * _WALL_MM) >= 0


def has_room(room_mm: float, least_mm: float | None) -> bool | None:
    """Whether a plain ring can be made for so much room; None where it is not known."""
    if least_mm is not None:
        return tidy(room_mm - least_mm) >= 0
    return True if room_mm >= STACKED_RING_MM else None


def judge_mechanics(stack: Stack, loads: Sequence[Load], play: Play, film: bool) -> list[Remark]:
    """Loads over their rating, play that a focus puller feels, seats, reflections."""
    lens, adapters = stack.lens, stack.adapters
    remarks = _overloaded(stack, loads)
    if film and play.displacement_mm is not None and (play.fraction_of_window or 0.0) > 0.5:
        remarks.append(
            catalogue.play_moves_focus(
                adapters[-1].id if adapters else lens.id,
                play=millimetres(play.displacement_mm),
                share=f"{play.fraction_of_window:.0%}",
            )
        )
    if lens.squeeze > 1:
        remarks += _squeezed(stack)
    return [
        *remarks,
        *(catalogue.reflections(adapter.id, what=adapter.reflections) for adapter in adapters if adapter.reflections),
    ]


def _overloaded(stack: Stack, loads: Sequence[Load]) -> list[Remark]:
    over = [load for load in loads if overloads(load)]
    if not over:
        return []
    worst = max(over, key=lambda load: load.moment_nm - (load.rating_nm or 0.0))
    feet = feet_of(stack)
    advice = f"Support it by the foot of {feet[0]}" if feet else "Support the lens by a bracket or on rods"
    moment, rating = f"{worst.moment_nm:.2f}", f"{worst.rating_nm:.2f}"
    return [catalogue.load_exceeded(worst.link, moment=moment, rating=rating, advice=advice)]


def _squeezed(stack: Stack) -> list[Remark]:
    """Which way the squeeze runs, and whether the body can undo it."""
    lens, squeeze = stack.lens, f"{stack.lens.squeeze:g}"
    # The mounts that take what is in front; the body's own only where nothing stands between.
    takes = [joint.takes for joint in stack.joints[:-1]] or [stack.lens_mount]
    positions = max(mount.positions for mount in takes)
    remarks = []
    if positions > 1:
        remarks.append(catalogue.seats_turn_squeeze(lens.id, positions=str(positions), squeeze=squeeze))
    if not any(tidy(d - lens.squeeze) == 0 for d in stack.body.desqueeze):
        remarks.append(catalogue.no_desqueeze(stack.body.id, squeeze=squeeze))
    return remarks


def feet_of(stack: Stack) -> list[str]:
    """The pieces that have a tripod foot, the lens first."""
    own = [stack.lens.name] if stack.lens.tripod_foot else []
    return own + [adapter.name for adapter in stack.adapters if adapter.tripod_foot]
