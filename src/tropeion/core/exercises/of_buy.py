"""What to buy: which ring of four, which to refuse, a ring to look for, or leave it; what to measure first."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import Final, Literal

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.optics.register import room_mm
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.match import match

from .drafting import Rig, Skill, Trap, about, after, apart
from .hand import Hand, agreed, nothing_decides, stated
from .question import After, AnswerChoice, Draft, RigShown

_RULES: Final = {
    "which": "Both ends have to be right, the length has to fill the room, and what the lens needs has to pass.",
    "refuse": "One that goes on is not one that works: the wrong ones of a family are the cheapest mistakes.",
    "leave": "Buy a lens for what it does on your own camera: with what you have, with a ring to look for, or not.",
    "measure": "What decides is where the lens is sharp at infinity: how far its shoulder then stands from the sensor.",
}
# Schools that may decide whether a rig works for somebody.
_SCHOOLS: Final = ("trust", "glass", "electronics")
# Far and near, every function that it is bought for by hand at the least; and what is none of that to anybody.
_GOOD: Final[frozenset[Grade]] = frozenset({"manual", "full", "native"})
_BAD: Final[frozenset[Grade]] = frozenset({"danger", "none", "close_up"})


def _is_good(hand: Hand, lens: Lens, ring: Adapter, body: Body) -> bool | None:
    """Whether a ring does what it is bought for; None where it does so in part, or schools differ."""

    def answer(practice: Practice) -> bool | None:
        judged = assess(hand.world, lens, (ring,), body, practice)
        if not stated(judged, "lens.min_focus_m"):
            return None
        return True if judged.grade in _GOOD else False if judged.grade in _BAD else None

    return agreed(hand.practice, _SCHOOLS, answer)


def _rings(hand: Hand, lens: Lens, body: Body) -> tuple[list[Adapter], list[tuple[int, Adapter]]]:
    """Rings that work for a pair; and those that do not, with how near they look: 3 goes on at both ends."""
    front, rear = hand.world.mount_of(lens).joint, hand.world.mount_of(body).joint
    good: list[Adapter] = []
    bad: list[tuple[int, Adapter]] = []
    for ring in hand.adapters():
        ends = tuple(hand.world.mounts[id_].joint for id_ in (ring.lens_mount, ring.body_mount))
        both = ends == (front, rear)
        if both and len(good) < _ENOUGH:
            is_good = _is_good(hand, lens, ring, body)
            if is_good:
                good.append(ring)
            elif is_good is False:
                bad.append((3, ring))
        elif ends == (rear, front):
            bad.append((2, ring))
        elif not both and (ends[0] == front or ends[1] == rear):
            bad.append((1, ring))
    return good, sorted(bad, key=lambda one: -one[0])


_ENOUGH: Final = 4


def _why_not(hand: Hand, lens: Lens, ring: Adapter, body: Body, how_near: int) -> After:
    lost = f" {ring.price:g} would be lost." if ring.price else ""
    if how_near == 2:
        said = "It is made the other way round: your lens on their camera."
    elif how_near == 1:
        on = hand.world.mounts[ring.lens_mount].joint == hand.world.mount_of(lens).joint
        wrong = hand.world.mounts[ring.body_mount if on else ring.lens_mount].name
        said = f"Its {'camera' if on else 'lens'} side is {wrong}: it does not go on."
    else:
        judged = assess(hand.world, lens, (ring,), body, hand.practice)
        worst = next((f for f in judged.findings if f.grade_cap == judged.grade), None)
        said = "It goes on, and does not work." if worst is None else worst.text
    return after(said + lost, (lens, (ring,), body), price=ring.price)


def _pairs(hand: Hand) -> Iterator[tuple[Lens, Body, list[Adapter], list[tuple[int, Adapter]]]]:
    for lens, body in hand.pairs():
        if hand.world.mount_of(lens).joint == hand.world.mount_of(body).joint:
            continue
        good, bad = _rings(hand, lens, body)
        if good:
            yield lens, body, good, bad


def _priced(ring: Adapter, currency: str) -> str:
    return ring.name if ring.price is None else f"{ring.name}, {ring.price:g} {currency}"


def _draft(
    hand: Hand,
    trap: str,
    lens: Lens,
    body: Body,
    right: AnswerChoice,
    wrong: list[AnswerChoice],
    asks: str,
    nearness: float,
) -> Iterator[Draft]:
    choices = apart(right, wrong)
    if choices is None:
        return
    room = room_mm(hand.world.mount_of(lens), hand.world.mount_of(body))
    yield Draft(
        trap=trap,
        nearness=nearness,
        asks=asks,
        about=about(lens, (), body),
        choices=choices,
        why=f"{_RULES[trap]} {right.after.says}",
        working=() if room is None else (f"Room between lens and body: {room:.2f} mm.".replace("-", "−"),),
        shown=RigShown(lens.id, (), body.id),
        described=f"{lens.name} and {body.name}, with the room between them.",
    )


def _which(hand: Hand) -> Iterator[Draft]:
    """One of four works."""
    for lens, body, good, bad in _pairs(hand):
        if len(bad) < 2:
            continue
        chosen = hand.some(bad[:6])[:3]
        ring = hand.chance.choice(good)
        currency = hand.world.gear.currency
        wrong = [
            AnswerChoice(one.id, _priced(one, currency), _why_not(hand, lens, one, body, near)) for near, one in chosen
        ]
        right = AnswerChoice(ring.id, _priced(ring, currency), after(f"{ring.name} works.", (lens, (ring,), body)))
        asks = f"{lens.name} is to go on {body.name} and reach infinity. Which of these do you buy?"
        yield from _draft(
            hand, "which", lens, body, right, wrong, asks, sum(near for near, _ in chosen) / (3 * len(chosen))
        )


def _refuse(hand: Hand) -> Iterator[Draft]:
    """One of four does not work."""
    for lens, body, good, bad in _pairs(hand):
        if len(good) < 2 or not bad:
            continue
        near, ring = hand.chance.choice(bad[:4])
        currency = hand.world.gear.currency
        wrong = [
            AnswerChoice(one.id, _priced(one, currency), after(f"{one.name} works.", (lens, (one,), body)))
            for one in hand.some(good)[:3]
        ]
        right = AnswerChoice(ring.id, _priced(ring, currency), _why_not(hand, lens, ring, body, near))
        asks = f"For {lens.name} on {body.name}, infinity included, a shop offers these. Which one do you refuse?"
        yield from _draft(hand, "refuse", lens, body, right, wrong, asks, near / 3)


@frozen
class _Standing:
    """What a lens comes to on a body: ``fits`` with what there is, by a listed ``ring``, by one to ``look`` for."""

    id: Literal["fits", "ring", "look", "leave"]
    by: str = ""
    rig: Rig | None = None


def _leave(hand: Hand) -> Iterator[Draft]:
    """A lens in a window: it works with what there is, with a ring that is sold or has to be looked for, or not."""
    for lens, body in hand.pairs():
        front, rear = hand.world.mount_of(lens), hand.world.mount_of(body)
        room = room_mm(front, rear)
        if front.joint == rear.joint or room is None:
            continue
        standing = _standing(hand, lens, body, hand.practice)
        other_school = "cautious" if hand.practice.trust == "nominal" else "nominal"
        if standing is None:
            continue
        if _standing(hand, lens, body, hand.practice.model_copy(update={"trust": other_school})) != standing:
            continue
        said = {
            "fits": f"It works by {standing.by}, which you have.",
            "ring": f"It works by {standing.by}.",
            "look": f"Nobody lists one: {room:.2f} mm is what it has to measure.",
            "leave": f"{room:.2f} mm of room, and nothing that does its work.".replace("-", "−"),
        }[standing.id]
        texts = {
            "fits": "Buy it: it reaches infinity with what you have",
            "ring": f"Buy it, and {standing.by}",
            "look": f"Buy it, and look for a plain ring of {abs(room):.2f} mm",
            "leave": "Leave it: nothing makes it reach infinity there",
        }
        right = AnswerChoice(standing.id, texts[standing.id], after(said, standing.rig))
        wrong = [AnswerChoice(id_, texts[id_], After(said)) for id_ in ("fits", "leave") if id_ != standing.id]
        if standing.id == "leave":
            wrong.append(AnswerChoice("look", texts["look"], After(said)))
        wrong += _wrong_ring(hand, lens, body, room)
        price = f" for {lens.price:g} {hand.world.gear.currency}" if lens.price else ""
        asks = f"{lens.name} stands in a window{price}. You have {body.name}. What do you do?"
        yield from _draft(hand, "leave", lens, body, right, hand.some(wrong), asks, 1 / (1 + abs(room) / 10))


def _wrong_ring(hand: Hand, lens: Lens, body: Body, room: float) -> Iterator[AnswerChoice]:
    """A ring that does not do it, and a length that is another system's."""
    front, rear = hand.world.mount_of(lens), hand.world.mount_of(body)
    _, bad = _rings(hand, lens, body)
    for near, ring in bad[:1]:
        yield AnswerChoice("bad", f"Buy it, and {ring.name}", _why_not(hand, lens, ring, body, near))
    for mount in hand.mounts():
        length = room_mm(mount, rear) or 0.0
        if mount.joint != front.joint and length > _LEAST_MM and abs(length - room) > _LEAST_MM:
            text = f"Buy it, and look for a plain ring of {length:.2f} mm"
            yield AnswerChoice(
                "other", text, After(f"That is the ring for {mount.name}: {abs(length - room):.2f} mm off.")
            )
            return


# A ring that is off by less may do all the same.
_LEAST_MM: Final = 0.8


def _standing(hand: Hand, lens: Lens, body: Body, practice: Practice) -> _Standing | None:
    """What a lens comes to; None where that is not clear: in part, by a change, by what is not sure."""
    report = match(hand.world, lens.id, body.id, practice, detailed=False)
    sure = [route for route in report.routes if route.surely and route.grade in _GOOD]
    if not all(nothing_decides(route.assumed, "lens.min_focus_m") for route in report.routes):
        return None
    for id_, routes in (("fits", [route for route in sure if route.owned]), ("ring", sure)):
        for route in routes[:1]:
            pieces = tuple(hand.world.adapters[one] for one in route.adapters)
            named_by = " and ".join(piece.name for piece in pieces)
            return _Standing("fits" if id_ == "fits" else "ring", named_by, (lens, pieces, body))
    if report.unlisted is not None and report.unlisted.grade in _GOOD:
        pieces = tuple(hand.world.adapters[one] for one in report.unlisted.adapters)
        plain = len(pieces) == 1 and pieces[0].link == "none" and not pieces[0].helicoid_mm
        return _Standing("look", pieces[0].name, (lens, pieces, body)) if plain else None
    possible = any(need.grade is not None and need.grade not in _BAD for need in report.would_need)
    partly = any(route.grade not in _BAD or not route.surely for route in report.routes)
    return None if possible or partly else _Standing("leave")


def _measure(hand: Hand) -> Iterator[Draft]:
    """Before a helicoid is bought for a lens without a mount: what decides, or which closed length goes in."""
    world = hand.world
    lenses = hand.some([lens for lens in world.gear.lenses if lens.mount is None and not lens.retired])
    for lens in lenses:
        for body in hand.bodies():
            mount = world.mount_of(body)
            if mount.register_mm is None:
                continue
            if lens.measured_register_mm is None:
                yield from _what_first(lens, body)
            else:
                yield from _closed_length(hand, lens, body, mount, lens.measured_register_mm)


def _what_first(lens: Lens, body: Body) -> Iterator[Draft]:
    right = AnswerChoice(
        "register",
        "How far the shoulder stands from where far things are sharp",
        After("From it the body’s flange distance is taken: that much the helicoid has to fill, closed."),
    )
    wrong = [
        AnswerChoice(
            "focal",
            f"Its focal length, {lens.focal_length_mm[0]:g} mm: that is its distance",
            After("The focal length is counted from inside the glass, not from the shoulder."),
        ),
        AnswerChoice(
            "length",
            "How long its barrel is",
            After("A barrel may be as long as it likes: it says nothing of where the image is."),
        ),
        AnswerChoice(
            "front", "The width of its front glass", After("That tells its aperture, and nothing of where it is sharp.")
        ),
    ]
    yield Draft(
        trap="measure",
        nearness=0.5,
        asks=f"{lens.name} has no mount. Before you buy a helicoid for it on {body.name}: what do you measure first?",
        about=about(lens, (), body),
        choices=(right, *wrong),
        why=_RULES["measure"],
        working=(f"{lens.name}: where it is sharp at infinity was not measured.",),
        shown=RigShown(lens.id, (), body.id),
        described=f"{lens.name}, a barrel without a mount, before {body.name}.",
    )


def _closed_length(hand: Hand, lens: Lens, body: Body, mount: Mount, register: float) -> Iterator[Draft]:
    fill = register - (body.measured_register_mm or mount.register_mm or 0.0)
    if fill < 12:
        return
    lengths = [round(fill - spare) for spare in (2, 4, 7)]
    closed = hand.chance.choice(lengths)
    over = [closed + round(fill - closed) + more for more in hand.some((3, 6, 10))[:2]]
    long = [
        AnswerChoice(
            f"closed-{mm}",
            f"{mm} mm closed, {mm + 20} mm open",
            After(f"Closed it is longer than the {fill:.2f} mm that there are: infinity is lost."),
        )
        for mm in over
    ]
    right = AnswerChoice(
        f"closed-{closed}",
        f"{closed} mm closed, {closed + 20} mm open",
        After(f"It leaves {fill - closed:.2f} mm to be made up by spacers."),
    )
    whole = AnswerChoice(
        "register",
        f"{register:.0f} mm closed, {register + 20:.0f} mm open",
        After("That is the distance to the sensor: the body fills a part of it."),
    )
    yield Draft(
        trap="measure",
        nearness=1 / (1 + (min(over) - closed) / 10),
        asks=f"{lens.name} has no mount; its shoulder is to stand {register:.2f} mm from the sensor. {body.name} has a "
        f"flange distance of {body.measured_register_mm or mount.register_mm:.2f} mm. Which helicoid brings infinity?",
        about=about(lens, (), body),
        choices=(right, *long, whole),
        why=f"Closed, it may not be longer than what is to be filled: {fill:.2f} mm.",
        working=(f"{register:.2f} − {body.measured_register_mm or mount.register_mm:.2f} = {fill:.2f} mm.",),
        shown=RigShown(lens.id, (), body.id),
        described=f"{lens.name}, a barrel without a mount, before {body.name}.",
    )


BUY = Skill(
    "Buying",
    "Which one?",
    "how much of a wrong ring goes on: neither end, one, both",
    {
        "which": Trap("Which of four", _RULES["which"], _which),
        "refuse": Trap("Which to refuse", _RULES["refuse"], _refuse),
        # Each of these is judged over all routes of a pair: two to choose from are enough.
        "leave": Trap(
            "Buy, look for a ring, or leave it", _RULES["leave"], lambda hand: itertools.islice(_leave(hand), 2)
        ),
        "measure": Trap("What to measure before", _RULES["measure"], _measure),
    },
)
