"""Labels of rings: both ends, in either order of words. A ring is taken, its label is made, and must give it back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Final

from tropeion.core.answers.labels import Label, read_label
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.mounts import Mount
from tropeion.core.joints.key import SETTLED
from tropeion.core.optics.register import room_mm

from .drafting import Skill, Trap, after, apart
from .hand import Hand
from .question import After, AnswerChoice, AskedAbout, Draft, LabelShown

_RULES: Final = {
    "forward": "The first name is the lens’s side, unless a word turns it round.",
    "camera_first": "“Camera”, “for”, “from” and an arrow turn a label round: read which end is the camera.",
    "alias": "One mount is sold under several names, and a label may use any of them.",
    "look_alike": "Names that look alike are not the same mount: read every letter.",
    "thread": "A thread’s size names no system: two may share it, and only one of them comes into focus.",
    "pitch": "The pitch belongs to the size: one that is a little finer starts, and binds after a turn or two.",
}
_FORWARD: Final = ("{l} – {b}", "{l} lens to {b} camera", "{l} to {b} adapter", "Ring for {l} lenses on {b} bodies")
_BACKWARD: Final = ("{b} camera, {l} lens", "{b} body, takes {l} lenses", "For {b} cameras: takes {l} lenses")


def _rings(hand: Hand) -> Iterator[tuple[Adapter, Mount, Mount]]:
    """Plain rings between two systems, each pair of ends once."""
    seen: set[tuple[str, str]] = set()
    for adapter in hand.adapters():
        ends = (adapter.lens_mount, adapter.body_mount)
        lens, body = (hand.world.mounts[id_] for id_ in ends)
        if adapter.has_glass or ends in seen or lens.joint == body.joint:
            continue
        seen.add(ends)
        yield adapter, lens, body


def _reads(label: Label, lens: Mount, body: Mount) -> bool:
    """Whether a label surely gives back both ends."""
    ends = ((label.lens_side, lens), (label.body_side, body))
    return all(side and side[0].mount == mount.id and side[0].confidence > SETTLED for side, mount in ends) and not any(
        doubt.code == "ends_may_be_swapped" for doubt in label.doubts
    )


def _said(lens: Mount, body: Mount) -> str:
    return f"A lens of {lens.name} on a camera of {body.name}"


def _id(lens: Mount, body: Mount) -> str:
    return f"{lens.id}.on.{body.id}"


def _wrong(hand: Hand, ring: Adapter, lens: Mount, body: Mount) -> Iterator[AnswerChoice]:
    """The wrong end, and the neighbours of each end, with what would have come of each."""
    room = room_mm(body, lens)
    says = "" if room is None or room > 0 else f" There would be no room: {-room:.2f} mm too little."
    lost = f" {ring.price:g} would be lost." if ring.price else ""
    yield AnswerChoice(
        _id(body, lens),
        _said(body, lens),
        after(f"The ends are the other way round.{says}{lost}", hand.stood(ring, body.id, lens.id)),
    )
    for other in (mount for mount in _alike(hand, lens) if mount.id != body.id):
        apart_mm = room_mm(other, lens)
        off = "" if apart_mm is None or other.joint != lens.joint else f" It goes on, {abs(apart_mm):.2f} mm off."
        told = f"The label does not name {other.name}.{off}{lost}"
        stood = hand.stood(ring, other.id, body.id)
        yield AnswerChoice(_id(other, body), _said(other, body), after(told, stood))
    for other in _alike(hand, body):
        if other.id != lens.id:
            text = f"The label does not name {other.name}: the ring does not go on.{lost}"
            stood = hand.stood(ring, lens.id, other.id)
            yield AnswerChoice(_id(lens, other), _said(lens, other), after(text, stood))


def _alike(hand: Hand, mount: Mount) -> list[Mount]:
    """Other mounts, those of one joint first, then by how much of their names they share."""
    others = [other for other in hand.mounts() if other.id != mount.id]
    return sorted(others, key=lambda other: (other.joint != mount.joint, -_common(other, mount)))[:2]


def _common(one: Mount, other: Mount) -> float:
    """The share of letters that two mounts’ shortest names have in common."""
    names = [min((mount.name, *mount.aliases), key=len).casefold() for mount in (one, other)]
    both = set(names[0]) & set(names[1])
    return len(both) / max(len(set(names[0]) | set(names[1])), 1)


def _of(hand: Hand, trap: str, patterns: Sequence[str], *, alias: bool, alike: bool = False) -> Iterator[Draft]:
    for ring, lens, body in _rings(hand):
        names = [_name(hand, mount, alias=alias) for mount in (lens, body)]
        if None in names:
            continue
        text = hand.chance.choice(patterns).format(l=names[0], b=names[1])
        if not _reads(read_label(hand.world, text), lens, body):
            continue
        shared = max(_common(other, mount) for mount in (lens, body) for other in _alike(hand, mount))
        if alike and shared < 0.34:
            continue
        yield from _asked(hand, trap, text, ring, lens, body, shared)


def _name(hand: Hand, mount: Mount, *, alias: bool) -> str | None:
    """A name of a mount that is no size of a thread."""
    names = [name for name in (mount.aliases if alias else (mount.name,)) if not any(c.isdigit() for c in name)]
    return hand.chance.choice(names) if names else None


def _asked(
    hand: Hand, trap: str, text: str, ring: Adapter, lens: Mount, body: Mount, nearness: float
) -> Iterator[Draft]:
    both = f"{_said(lens, body)}: both ends are right."
    right = AnswerChoice(_id(lens, body), _said(lens, body), after(both, hand.stood(ring, lens.id, body.id)))
    choices = apart(right, [*_wrong(hand, ring, lens, body), _not_told("The label names both ends.")])
    if choices is not None:
        yield Draft(
            trap=trap,
            nearness=nearness,
            asks=f"This is printed on a ring: “{text}”. What goes on what?",
            about=AskedAbout(adapters=(ring.id,), mount=lens.id),
            choices=choices,
            why=f"{_RULES[trap]} Here it is a lens of {lens.name} on a camera of {body.name}.",
            working=_working(lens, body),
            shown=LabelShown(text),
            described="The label of a ring, as it is printed.",
        )


def _not_told(says: str) -> AnswerChoice:
    return AnswerChoice("not_told", "The label does not say which lenses", After(says))


def _working(lens: Mount, body: Mount) -> tuple[str, ...]:
    room = room_mm(lens, body)
    named = [f"{mount.name}: {', '.join(mount.aliases) or 'no other name'}." for mount in (lens, body)]
    return (*named, *(() if room is None else (f"Room between them: {room:.2f} mm.",)))


def _threads(hand: Hand) -> Iterator[Draft]:
    """The bare size of a thread that two systems share: it does not say whose lenses come into focus."""
    for ring, lens, body in _rings(hand):
        thread = lens.thread
        if thread is None:
            continue
        others = [other for other in hand.mounts() if other.joint == lens.joint and other.id != lens.id]
        name = _name(hand, body, alias=hand.chance.random() < 0.5)
        if not others or name is None:
            continue
        text = f"{thread.diameter_mm:g} × {thread.pitch_mm:g} – {name}"
        told = read_label(hand.world, text).lens_side
        among = {lens.id, *(other.id for other in others)}
        if len(among & {side.mount for side in told}) < 2 or told[0].confidence > SETTLED:
            continue
        both = (lens, *others)
        off = max(abs(room_mm(other, lens) or 0.0) for other in others)
        wrong = [
            AnswerChoice(
                _id(one, body), _said(one, body), After(f"The size is that of {' and '.join(m.name for m in both)}.")
            )
            for one in both
        ]
        right = _not_told(f"{' and '.join(mount.name for mount in both)} share the thread, {off:.2f} mm apart.")
        choices = apart(
            right, [*wrong, AnswerChoice(_id(body, lens), _said(body, lens), After("And the ends are turned."))]
        )
        if choices is not None:
            yield Draft(
                trap="thread",
                nearness=1 / (1 + off / 10),
                asks=f"This is printed on a ring: “{text}”. Which lenses come into focus on it?",
                about=AskedAbout(adapters=(ring.id,), mount=lens.id),
                choices=choices,
                why=f"{_RULES['thread']} {off:.2f} mm lie between them: ask for the length of the ring.",
                working=tuple(f"{m.name}: {_register(m)}." for m in both),
                shown=LabelShown(text),
                described="The label of a ring, as it is printed.",
            )


def _register(mount: Mount) -> str:
    return "its flange distance is not known" if mount.register_mm is None else f"{mount.register_mm:.2f} mm"


def _pitches(hand: Hand) -> Iterator[Draft]:
    """Two threads of one diameter: which of them a label with both numbers means."""
    for ring, lens, body in _rings(hand):
        thread, name = lens.thread, _name(hand, body, alias=False)
        others = [other for other in hand.mounts() if other.binds_in(lens) or lens.binds_in(other)]
        if thread is None or name is None or not others:
            continue
        text = f"{thread.diameter_mm:g} × {thread.pitch_mm:g} to {name}"
        if not _reads(read_label(hand.world, text), lens, body):
            continue
        wrong = [
            AnswerChoice(
                _id(other, body),
                _said(other, body),
                After(f"Its pitch is {other.thread.pitch_mm:g} mm: it starts, and binds. Never force it."),
            )
            for other in others
            if other.thread is not None
        ]
        pitches = [other.thread.pitch_mm for other in others if other.thread is not None]
        ratio = min(max(pitch / thread.pitch_mm, thread.pitch_mm / pitch) for pitch in pitches)
        right = AnswerChoice(_id(lens, body), _said(lens, body), After("Size and pitch are its own."))
        choices = apart(right, [*wrong, *_wrong(hand, ring, lens, body)])
        if choices is not None:
            yield Draft(
                trap="pitch",
                nearness=1 / ratio,
                asks=f"This is printed on a ring: “{text}”. What goes on what?",
                about=AskedAbout(adapters=(ring.id,), mount=lens.id),
                choices=choices,
                why=_RULES["pitch"],
                working=tuple(
                    f"{m.name}: {m.thread.diameter_mm:g} × {m.thread.pitch_mm:g}." for m in (lens, *others) if m.thread
                ),
                shown=LabelShown(text),
                described="The label of a ring, as it is printed.",
            )


LABEL = Skill(
    "Labels",
    "What goes on what?",
    "how many letters the wrong names share with the right ones, how near the pitches or the flange distances are",
    {
        "forward": Trap("The lens first", _RULES["forward"], lambda h: _of(h, "forward", _FORWARD, alias=False)),
        "camera_first": Trap(
            "The camera first", _RULES["camera_first"], lambda h: _of(h, "camera_first", _BACKWARD, alias=False)
        ),
        "alias": Trap("Another name", _RULES["alias"], lambda h: _of(h, "alias", (*_FORWARD, *_BACKWARD), alias=True)),
        "look_alike": Trap(
            "Names that look alike",
            _RULES["look_alike"],
            lambda h: _of(h, "look_alike", _FORWARD, alias=True, alike=True),
        ),
        "thread": Trap("A bare thread size", _RULES["thread"], _threads),
        "pitch": Trap("The pitch", _RULES["pitch"], _pitches),
    },
)
