"""Reach: to infinity, or from where to where; wrong answers are what another ring would do, judged as rigs."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Final

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import ring_id, spacer_id
from tropeion.core.gear.world import World
from tropeion.core.optics.register import room_mm
from tropeion.core.optics.seats import seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.working import tidy

from .drafting import Number, Rig, Skill, Trap, about, after, apart, named, numbers, rig_draft, stack_described
from .hand import Hand, agreed, near, stated
from .question import AnswerChoice, Draft, RigShown

_RULES: Final = {
    "other_register": "A thread or a bayonet that fits says nothing of the distance: the flange distance decides.",
    "ring_length": "A plain ring fills what the lens’s flange distance leaves over the body’s: their difference.",
    "no_room": "Where the body’s flange distance is the longer one, no plain ring brings infinity: there is no room.",
    "tube": "Extension brings the lens nearer and takes infinity away: there is a far limit too, and it is near.",
    "unknown": "Nobody can tell how near a lens focuses whose closest focus is not stated.",
}
# From this length on a ring can be made between any two couplings; below, it is told apart by hundredths.
_LEAST_RING_MM = 0.5
# Two rings are told apart by their tolerances.
_HUNDREDTHS_MM = 0.2
# Wrong distances differ by this factor at least.
_APART = 1.15


@frozen
class _Range:
    """What a rig is sharp from and to, in mm from the sensor; ``far_mm`` None is infinity, ``sharp`` False nowhere."""

    sharp: bool
    near_mm: float | None = None
    far_mm: float | None = None

    def says(self, practice: Practice) -> str:
        units = practice.distances
        if not self.sharp:
            return "Nothing comes into focus"
        start = (
            "How near cannot be known yet" if self.near_mm is None else f"From {written.distance(self.near_mm, units)}"
        )
        if self.far_mm is None:
            return f"{start}{'; far,' if self.near_mm is None else ''} to infinity"
        return f"Only f{start[1:]} to {written.distance(self.far_mm, units)}"

    @property
    def id(self) -> str:
        if not self.sharp:
            return "nothing"
        return "-".join("unknown" if v is None else f"{v:.0f}" for v in (self.near_mm, self.far_mm or 0.0)).replace(
            "-0", "-infinity"
        )

    def differs(self, other: _Range) -> bool:
        """Whether it is another range by more than lengths are in doubt."""
        if (self.sharp, self.far_mm is None) != (other.sharp, other.far_mm is None):
            return True
        pairs = ((self.near_mm, other.near_mm), (self.far_mm, other.far_mm))
        return any(a and b and max(a / b, b / a) > _APART for a, b in pairs)

    def ratio_to(self, other: _Range) -> float:
        """How far its far limit is from another's, by their ratio; a lost infinity is far away."""
        if not (self.sharp and other.sharp):
            return 6.0
        if self.far_mm is None or other.far_mm is None:
            pair = (self.near_mm, other.near_mm) if self.far_mm is other.far_mm else (None, None)
        else:
            pair = (self.far_mm, other.far_mm)
        one, two = pair
        return max(one / two, two / one) if one and two else 3.0


def range_of(judged: Assessment) -> _Range | None:
    """The range of a rig at its only setting, from the sensor; None where something of it is not known."""
    reach, infinity = judged.ends[0].reach, judged.ends[0].infinity
    match reach.state:
        case "none" | "inside":
            return _Range(sharp=False)
        case "unknown":
            return None
        case "to_infinity":
            if not infinity.reached:
                return None
            far = None
        case "finite":
            # Stopped down it may look sharp at infinity all the same: no question has that for an answer.
            if infinity.from_f_number is not None:
                return None
            far = None if reach.far_mm is None else reach.far_mm - reach.sensor_offset_mm
            if far is None:
                return None
    near_mm = None if reach.near_mm is None else reach.near_mm - reach.sensor_offset_mm
    return _Range(True, near_mm, far)


def _range(world: World, rig: Rig, practice: Practice) -> _Range | None:
    """The range of a rig that is the same under every school; None where it is not, or not known."""

    def answer(school: Practice) -> _Range | None:
        judged = assess(world, *rig, school)
        return range_of(judged) if stated(judged, "lens.min_focus_m") else None

    return agreed(practice, ("trust", "blur"), answer)


def _safe(world: World, rig: Rig, practice: Practice) -> bool:
    return assess(world, *rig, practice).grade != "danger"


def _primes(hand: Hand) -> Iterator[tuple[Lens, Body]]:
    world = hand.world
    for lens, body in hand.pairs():
        seats = seat_of(lens, world.mount_of(lens)), seat_of(body, world.mount_of(body))
        if not lens.is_zoom and lens.focus not in {"none", "by_wire"} and all(seat.known for seat in seats):
            yield lens, body


def _ask(
    trap: str, rig: Rig, right: _Range, wrong: Sequence[tuple[_Range, str, Rig | None]], hand: Hand
) -> Draft | None:
    """A question for the range of a rig; wrong ranges that are not another's by more than the doubt are left out."""
    practice = hand.practice
    kept: list[tuple[_Range, str, Rig | None]] = [(right, "", None)]
    for found, says, other in wrong:
        if all(found.differs(known) for known, *_ in kept):
            kept.append((found, says, other))
    truth = AnswerChoice(right.id, right.says(practice), after(f"{named(*rig)}: {right.says(practice).lower()}.", rig))
    chosen = [AnswerChoice(found.id, found.says(practice), after(says, other)) for found, says, other in kept[1:]]
    choices = apart(truth, chosen)
    if choices is None:
        return None
    return rig_draft(
        rig,
        trap=trap,
        nearness=max(near(found.ratio_to(right)) for found, *_ in kept[1:]),
        asks="From where to where does it come into focus?",
        choices=choices,
        why=f"{_RULES[trap]} Here: {right.says(practice).lower()}.",
        working=_working(hand.world, rig),
    )


def _working(world: World, rig: Rig) -> tuple[str, ...]:
    lens, adapters, body = rig
    judged = assess(world, lens, adapters, body, Practice())
    chain, end = judged.rig.chain, judged.ends[0]
    sums = " + ".join(f"{adapter.physical_length_mm:.2f}" for adapter in adapters) or "0"
    lines = [
        f"Lens {chain.lens.register_mm:.2f} mm, body {chain.body.register_mm:.2f} mm, between them {sums} mm.",
        f"δ = {chain.error_mm:+.2f} mm at the sensor"
        + (": it stands too far out." if chain.error_mm > 0 else ": it stands too near, or just right."),
    ]
    if end.travel is not None:
        lines.append(f"f = {end.marked_mm:g} mm, its own travel {end.travel.travel_mm:.2f} mm; D = 2f + f²/x + x.")
    return tuple(lines)


def _other_register(hand: Hand) -> Iterator[Draft]:
    """Rings made for another system that shares the joint."""
    world = hand.world
    for lens, body in _primes(hand):
        own = world.mount_of(lens)
        rear = world.mount_of(body).joint
        rings = [
            adapter
            for adapter in world.structure.adapters_by_joints.get((own.joint, rear), ())
            if adapter.lens_mount != own.id and not (adapter.retired or adapter.has_glass)
        ]
        for ring in hand.some(rings)[:2]:
            rig = (lens, (ring,), body)
            right = _range(world, rig, hand.practice)
            if right is None or not _safe(world, rig, hand.practice):
                continue
            meant = world.mounts[ring.lens_mount]
            wrong = list(
                _with_right_ring(hand, lens, body, f"That is with a ring for {own.name}; this one is for {meant.name}.")
            )
            wrong += _mirrored(rig, right)
            draft = _ask("other_register", rig, right, wrong, hand)
            if draft is not None:
                off = abs(room_mm(meant, own) or 0.0)
                yield _with(draft, 1 / (1 + off / 8))


def _with(draft: Draft, nearness: float) -> Draft:
    return replace(draft, nearness=nearness)


def _with_right_ring(hand: Hand, lens: Lens, body: Body, says: str) -> Iterator[tuple[_Range, str, Rig | None]]:
    """What a ring of the right length would give."""
    world = hand.world
    room = room_mm(world.mount_of(lens), world.mount_of(body))
    if room is None or room < 0:
        return
    id_ = f"ring..{lens.mount}..{body.mount}..{room:.4f}"
    ring = world.adapters.get(id_)
    if ring is not None:
        rig = (lens, (ring,), body)
        found = range_of(assess(world, *rig, hand.practice))
        yield from _one(
            found or _Range(True, (lens.min_focus_m or 0) * 1000 or None, None), says, rig if found else None
        )


def _one(found: _Range | None, says: str, rig: Rig | None) -> Iterator[tuple[_Range, str, Rig | None]]:
    if found is not None:
        yield found, says, rig


def _mirrored(rig: Rig, right: _Range) -> Iterator[tuple[_Range, str, Rig | None]]:
    """Nothing at all, or a range where there is none; and a range of twice the length."""
    lens = rig[0]
    if right.sharp:
        yield _Range(sharp=False), "It does come into focus, very near.", None
    near_mm = (lens.min_focus_m or 0.0) * 1000
    if near_mm:
        yield _Range(True, near_mm, near_mm * 3), "That the far end comes nearer is right; by so much it is not.", None
        yield _Range(True, near_mm / 2, None), "Infinity does not stay where the lens stands at another place.", None
    if right.sharp and right.near_mm and right.far_mm:
        yield _Range(True, right.near_mm, None), "Infinity is not reached.", None
        yield (_Range(True, right.near_mm * 2, right.far_mm * 2), "That would be half of the error.", None)


def _tube(hand: Hand) -> Iterator[Draft]:
    """Spacers behind a rig that reaches infinity."""
    world = hand.world
    for lens, adapters, body in hand.rigs((0, 1)):
        if lens.is_zoom or lens.focus in {"none", "by_wire"} or lens.mount is None or not lens.min_focus_m:
            continue
        bare = _range(world, (lens, adapters, body), hand.practice)
        if bare is None or not bare.sharp or bare.far_mm is not None or bare.near_mm is None:
            continue
        length = float(hand.chance.choice((5, 8, 10, 12, 16, 20, 25)))

        def put(mm: float) -> Rig:
            return lens, (*adapters, world.adapters[spacer_id(body.mount, mm)]), body  # noqa: B023  used at once

        rig = put(length)
        right = _range(world, rig, hand.practice)
        if right is None or not right.sharp or right.far_mm is None or not _safe(world, rig, hand.practice):
            continue
        wrong: list[tuple[_Range, str, Rig | None]] = [
            (_Range(True, right.near_mm, None), "Infinity goes with the first millimetres.", None),
            (bare, "That is without the tube.", (lens, adapters, body)),
        ]
        for factor in hand.some((0.5, 0.7, 1.5, 2.0)):
            other = put(tidy(length * factor))
            wrong += _one(
                range_of(assess(world, *other, hand.practice)), f"That is {length * factor:g} mm of tube.", other
            )
        draft = _ask("tube", rig, right, wrong, hand)
        if draft is not None:
            yield draft


def _unknown(hand: Hand) -> Iterator[Draft]:
    """A lens whose closest focus is not stated: far it goes, how near cannot be known."""
    world = hand.world
    for lens, adapters, body in hand.rigs((0, 1)):
        if lens.is_zoom or lens.focus in {"none", "by_wire"} or lens.min_focus_m or lens.max_magnification:
            continue
        right = _range(world, (lens, adapters, body), hand.practice)
        if right is None or not right.sharp or right.far_mm is not None or right.near_mm is not None:
            continue
        focal = lens.focal_length_mm[0]
        guesses = [
            (_Range(True, focal * factor, None), f"Many lenses of {focal:g} mm do; of this one it is not known.", None)
            for factor in (8, 12, 20)
        ]
        wrong = [(_Range(True, focal * 4, focal * 40), "Nothing takes its infinity away.", None), *guesses]
        kept: list[tuple[_Range, str, Rig | None]] = list(wrong)
        texts = AnswerChoice(
            right.id, right.says(hand.practice), after("Its closest focus is not stated.", (lens, adapters, body))
        )
        choices = apart(
            texts, [AnswerChoice(r.id, r.says(hand.practice), after(says, other)) for r, says, other in kept]
        )
        if choices is not None:
            rig = (lens, adapters, body)
            yield rig_draft(
                rig,
                trap="unknown",
                nearness=0.5,
                asks="Nothing is stated of its closest focus. From where to where does it come into focus?",
                choices=choices,
                why=_RULES["unknown"],
                working=("Closest focus: not stated. Maximum magnification: not stated.",),
            )


def _by_rings(hand: Hand, lens: Lens, body: Body) -> Callable[[Number], Number]:
    """A length with the rig that a plain ring of it makes: what would have been screwed on."""

    def stood(number: Number) -> Number:
        plain = Adapter(
            id="ring", name="ring", lens_mount=lens.mount or "", body_mount=body.mount, length_mm=max(0.0, number.value)
        )
        ring = hand.world.adapters.get(ring_id(plain))
        return number if ring is None else replace(number, rig=(lens, (ring,), body))

    return stood


def _lengths(hand: Hand, *, room: bool) -> Iterator[Draft]:
    """Which plain ring brings infinity, or that none can."""
    world = hand.world
    for lens, body in hand.pairs():
        front, rear = world.mount_of(lens), world.mount_of(body)
        gap = room_mm(front, rear)
        if gap is None or front.joint == rear.joint or (gap >= _LEAST_RING_MM) != room or abs(gap) < _LEAST_RING_MM:
            continue
        registers = [m for m in hand.mounts() if m.register_mm is not None and m.id not in {front.id, rear.id}]
        own = front.register_mm or 0.0
        # Taken for the system whose flange distance is nearest, and the classic slips of the sum.
        neighbours = sorted(registers, key=lambda m: abs((m.register_mm or 0) - own))[:4]
        slips = [
            Number(m.id, (m.register_mm or 0) - (rear.register_mm or 0), f"That is the ring for {m.name}.")
            for m in hand.some(neighbours)
        ]
        slips.append(Number("register", own, "That is the lens’s flange distance itself: the body’s own comes off it."))
        slips.append(
            Number("sum", own + (rear.register_mm or 0), "The distances are taken from each other, not added.")
        )
        stood = _by_rings(hand, lens, body)
        missing = AnswerChoice(
            "none", f"No plain ring: {abs(gap):.2f} mm of room are missing", after(_RULES["no_room"])
        )
        off = abs(gap)
        if room:
            told = numbers(
                stood(Number("gap", gap, f"{gap:.2f} mm is what is left over.")),
                [stood(slip) for slip in slips],
                lambda mm: f"A plain ring of {mm:.2f} mm",
                ratio=1.0,
                least=_HUNDREDTHS_MM,
            )
            if told is None:
                continue
            asked = {choice.id for choice in told[0]}
            off = min(abs(slip.value - gap) for slip in slips if slip.id in asked)
            no = AnswerChoice("none", "No plain ring: there is no room", after(f"There are {gap:.2f} mm of room."))
            choices = apart(told[0][0], [*told[0][1:4], no])
        else:
            rings = [Number("turned", -gap, "That is what is missing, not what is left."), *slips]
            wrong = [
                AnswerChoice(n.id, f"A plain ring of {n.value:.2f} mm", after(n.says, stood(n).rig))
                for n in rings
                if n.value >= _LEAST_RING_MM
            ]
            choices = apart(missing, wrong)
        if choices is None:
            continue
        yield Draft(
            trap="ring_length" if room else "no_room",
            nearness=1 / (1 + off / (3 if room else 5)),
            asks=f"{lens.name} is a lens of {front.name} (flange distance {own:.2f} mm), {body.name} a body of "
            f"{rear.name} ({rear.register_mm:.2f} mm). Which plain ring brings infinity?",
            about=about(lens, (), body),
            choices=choices,
            why=f"{_RULES['ring_length' if room else 'no_room']} {own:.2f} − {rear.register_mm:.2f} = {gap:.2f} "
            f"mm.".replace("-", "−"),
            working=(f"R(lens) − R(body) = {own:.2f} − {rear.register_mm:.2f} = {gap:.2f} mm.".replace("-", "−"),),
            shown=RigShown(lens.id, (), body.id),
            described=stack_described(lens, (), body),
        )


REACH = Skill(
    "Reach",
    "From where to where?",
    "how near the flange distances are, or how near a wrong range is to the right one",
    {
        "other_register": Trap("Same thread, another flange distance", _RULES["other_register"], _other_register),
        "ring_length": Trap("How long the ring is", _RULES["ring_length"], lambda hand: _lengths(hand, room=True)),
        "no_room": Trap("No room for a ring", _RULES["no_room"], lambda hand: _lengths(hand, room=False)),
        "tube": Trap("Near and far with a tube", _RULES["tube"], _tube),
        "unknown": Trap("A closest focus that nobody states", _RULES["unknown"], _unknown),
    },
)
