"""Causes: from what a test frame and the next one show to what it is; which joint plays; shim or not."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final, get_args

from tropeion.core.bench.causes import FRAMES, Cause, TestFrame, cause_report, cause_title
from tropeion.core.bench.rig_on_bench import RigOnBench, rig_on_bench
from tropeion.core.bench.shims import shim_at
from tropeion.core.gear.rig import Rig as RigIds
from tropeion.core.gear.world import UnknownRegisterError
from tropeion.core.joints.mechanics import plays_of
from tropeion.core.rig.judgement import assess
from tropeion.core.working import tidy

from .drafting import Rig, Skill, Trap, about, apart, named, rig_draft
from .hand import Hand, stated
from .question import After, AnswerChoice, Draft, FrameSeen, FramesShown

_RULES: Final = {
    "missed_focus": "Soft everywhere in one frame, and sharp in one beside it: focus was missed. Nothing is to be "
    "mended.",
    "curvature": "Corners that get sharp when you focus on them are curved, not bad.",
    "soft_corners": "Corners that stay soft when you focus on them are soft by themselves: stop down.",
    "shift_of_focus": "What gets sharp when it is focused at the aperture of the picture has shifted with it.",
    "wedge": "One soft side that stays with one piece, whatever else is changed, is that piece out of square.",
    "play": "One soft side that moves with the hand is play; support it.",
    "lens": "What stays soft wherever it is focused, or goes with the lens, is the lens.",
    "joint": "Play in front of glass counts less behind a reducer; the loosest joint is the one that gives most.",
    "shim": "A shim can only make a ring longer. Too short: the shim that just brings it there. Too long: another "
    "ring.",
}
_TRAP_OF: Final[dict[Cause, str]] = {
    "missed_focus": "missed_focus",
    "curvature": "curvature",
    "soft_corners": "soft_corners",
    "shift_of_focus": "shift_of_focus",
    "wedge_body": "wedge",
    "wedge_ring": "wedge",
    "play": "play",
    "lens": "lens",
}


def _paths(
    frame: TestFrame, before: tuple[tuple[str, str], ...] = ()
) -> Iterator[tuple[tuple[tuple[str, str], ...], str]]:
    """Every way through the test frames: what each showed, and the cause at its end."""
    for look in frame.looks:
        path = (*before, (frame.frame, look.saw))
        if look.next in FRAMES:
            yield from _paths(FRAMES[look.next], path)
        else:
            yield path, look.next


def _benches(hand: Hand) -> Iterator[tuple[Rig, RigOnBench]]:
    for lens, adapters, body in hand.rigs((1, 2)):
        ids = tuple(adapter.id for adapter in adapters)
        try:
            on_bench = rig_on_bench(hand.world, RigIds(lens.id, body.id, ids), hand.practice)
        except UnknownRegisterError:
            continue
        judged = assess(hand.world, lens, adapters, body, hand.practice)
        if judged.grade not in {"danger", "none", "close_up"} and stated(
            judged, "lens.min_focus_m", "lens.image_circle_mm"
        ):
            yield (lens, adapters, body), on_bench


def _causes(hand: Hand, trap: str) -> Iterator[Draft]:
    """What frames of a flat wall showed, and what that is."""
    ways = [(path, end) for path, end in _paths(FRAMES["first"]) if _TRAP_OF.get(_cause(end)) == trap]
    every = list(_paths(FRAMES["first"]))
    for rig, on_bench in _benches(hand):
        path, end = hand.chance.choice(ways)
        report = cause_report(on_bench, [saw for _, saw in path])
        if report.cause is None or report.cause.cause != end:
            continue
        # The nearest wrong cause is the one whose frames begin alike.
        alike = {other: _common(path, way) for way, other in every if other != end}
        wrong = sorted(alike, key=lambda other: (-alike[other], hand.chance.random()))[:4]
        frames = tuple(_seen(frame, saw) for frame, saw in path)
        said = " ".join(f"{seen.title}: {seen.label}." for seen in frames)
        right = AnswerChoice(end, cause_title(end), After(report.cause.do))
        yield Draft(
            trap=trap,
            nearness=min(1.0, 0.25 * max(alike.values()) + 0.25),
            asks=f"{named(*rig)}. {said} What is it?",
            about=about(*rig),
            choices=(right, *(AnswerChoice(o, cause_title(o), After(_otherwise(o, every))) for o in wrong)),
            why=f"{_RULES[trap]} {report.cause.do}",
            working=tuple(f"{seen.title} → {seen.label}" for seen in frames),
            shown=FramesShown(frames),
            described="Test frames of a flat wall, each with what was seen in it written below.",
        )


def _cause(end: str) -> Cause:
    return next(cause for cause in get_args(Cause) if cause == end)


def _common(one: tuple[tuple[str, str], ...], other: tuple[tuple[str, str], ...]) -> int:
    """How many frames showed the same, from the first on."""
    same = 0
    for a, b in zip(one, other, strict=False):
        if a != b:
            break
        same += 1
    return same


def _seen(frame: str, saw: str) -> FrameSeen:
    of = FRAMES[frame]
    return FrameSeen(frame, of.title, saw, next(look.label for look in of.looks if look.saw == saw))


def _otherwise(cause: str, every: list[tuple[tuple[tuple[str, str], ...], str]]) -> str:
    """What would have been seen then."""
    path = next(path for path, end in every if end == cause)
    seen = [_seen(frame, saw) for frame, saw in path]
    return f"Then you would have seen: {'; '.join(one.label for one in seen)}."


def _joints(hand: Hand) -> Iterator[Draft]:
    """Which joint lets the lens move most along its axis."""
    for rig, on_bench in _benches(hand):
        _lens, adapters, _body = rig
        stack = on_bench.rig.stack
        plays = plays_of(stack)
        own = [stack.lens_mount.play_mm, *(adapter.play_mm for adapter in adapters)]
        # A play that is assumed decides nothing.
        if (len(adapters) < 2 and len(plays) < 2) or any(play is None for play in (*plays, *own)):
            continue
        k = [a.magnification for a in adapters]
        moved = [(play or 0.0) * _squares(k[place:]) for place, play in enumerate(plays)]
        order = sorted(range(len(moved)), key=lambda at: -moved[at])
        if moved[order[0]] < 1.25 * moved[order[1]] + 0.005:
            continue
        names = [joint.front.name + " in " + joint.rear.name for joint in stack.joints]
        ids = [f"joint-{at + 1}" for at in range(len(moved))]
        said = [f"{names[at]}: {moved[at]:.3f} mm at the sensor." for at in range(len(moved))]
        choices = [AnswerChoice(ids[at], names[at], After(said[at])) for at in order]
        choices.append(AnswerChoice("none", "None of them plays", After(said[order[0]])))
        told = apart(choices[0], choices[1:])
        if told is None:
            continue
        locks = [
            f"{joint.rear.name} locks" if joint.locks else f"{names[at]} gives {plays[at]:.2f} mm"
            for at, joint in enumerate(stack.joints)
        ]
        yield rig_draft(
            rig,
            trap="joint",
            nearness=min(1.0, moved[order[1]] / moved[order[0]]),
            asks=f"{'; '.join(locks)}. Which joint moves the picture most?",
            choices=told,
            why=f"{_RULES['joint']} {said[order[0]]}",
            working=tuple(said),
        )


def _squares(magnifications: list[float]) -> float:
    product = 1.0
    for k in magnifications:
        product *= k * k
    return product


# Shims of a workshop, in mm, each of which can be asked for.
_FOILS_MM: Final = (0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.7)
# What an answer must be worse by, in mm at the sensor, to be a wrong one.
_WORSE_MM: Final = 0.04


def _shims(hand: Hand) -> Iterator[Draft]:
    """A rig whose error was found: which shim brings the mark to infinity, and whether any can."""
    for rig, on_bench in _benches(hand):
        at = shim_at(on_bench.rig)
        kind = hand.chance.choice(("short", "short", "long", "well"))
        if kind == "short":
            best = hand.chance.choice(_FOILS_MM[:6])
            error = -round(at.counts * best + hand.chance.choice((0.0, 0.01)), 2)
        else:
            error = {"long": hand.chance.choice((0.12, 0.2, 0.3)), "well": hand.chance.choice((-0.01, 0.0, 0.01))}[kind]
        left = {mm: tidy(error + at.counts * mm) for mm in (0.0, *_FOILS_MM)}
        wanted = min((mm for mm in left if left[mm] <= _HUNDREDTH_MM), key=lambda mm: abs(left[mm]), default=None)
        right = "ring" if wanted is None else "leave" if wanted == 0 else f"shim-{wanted:g}"
        around = abs(left[wanted or 0.0])
        worse = [mm for mm in _FOILS_MM if abs(left[mm]) > around + _WORSE_MM]
        nearest = sorted(worse, key=lambda mm: abs(left[mm]))[: hand.chance.choice((2, 4))]
        # Taken as if glass behind it did not count, or counted the other way.
        slips = [mm for mm in worse if abs(mm + error) < 0.03 or abs(mm + error * at.counts) < 0.03]
        says = f"It stands at {_signed(error)} mm at the sensor; a shim there counts {at.counts:.2f} times."
        offered = sorted({*([wanted] if wanted else []), *slips[:1], *hand.some(nearest)[:2]})
        chosen = [AnswerChoice(f"shim-{mm:g}", f"Shim it by {mm:.2f} mm", After(_left_at(left[mm]))) for mm in offered]
        chosen.append(
            AnswerChoice("ring", "A shorter ring, or this one turned down by a repairer", After(_of_ring(error)))
        )
        chosen.append(AnswerChoice("leave", "Leave it as it is", After(_left_at(error))))
        first = next(choice for choice in chosen if choice.id == right)
        choices = apart(first, [choice for choice in chosen if choice is not first])
        if choices is None or (right != "leave" and around > _HUNDREDTH_MM and wanted is not None):
            continue
        where = {"short": "too short", "long": "too long", "well": "off its length"}[kind]
        yield rig_draft(
            rig,
            trap="shim",
            nearness=1 / (1 + min((abs(left[mm]) for mm in offered if mm != wanted), default=0.4) / 0.1),
            asks=f"The bench finds the flange distance {abs(error):.2f} mm {where}, at the sensor, give or take a "
            f"hundredth. A shim would go {at.where}. What do you do?",
            choices=choices,
            why=f"{_RULES['shim']} {first.after.says}",
            working=(says, *(f"{mm:.2f} mm: {_signed(left[mm])} mm." for mm in offered)),
        )


_HUNDREDTH_MM: Final = 0.0101


def _left_at(mm: float) -> str:
    if abs(mm) <= _HUNDREDTH_MM:
        return "Then it is as long as it should be."
    return f"Then it is {abs(mm):.2f} mm too {'long: infinity is lost' if mm > 0 else 'short: the scale still lies'}."


def _of_ring(error: float) -> str:
    return "A shim can only add." if error > 0 else "Nothing has to come off: what is short can be made longer."


def _signed(mm: float) -> str:
    return f"{'−' if mm < 0 else '+'}{abs(mm):.2f}"


def _trap(title: str, cause: str) -> Trap:
    return Trap(title, _RULES[cause], lambda hand: _causes(hand, cause))


CAUSE = Skill(
    "Causes",
    "What is it?",
    "how many frames the nearest wrong cause has in common, how near the plays or the shims are",
    {
        "missed_focus": _trap("Focus missed", "missed_focus"),
        "curvature": _trap("A curved field", "curvature"),
        "soft_corners": _trap("Soft corners", "soft_corners"),
        "shift_of_focus": _trap("A shift of focus", "shift_of_focus"),
        "wedge": _trap("Out of square", "wedge"),
        "play": _trap("Play", "play"),
        "lens": _trap("The lens itself", "lens"),
        "joint": Trap("Which joint plays", _RULES["joint"], _joints),
        "shim": Trap("Shim or not", _RULES["shim"], _shims),
    },
)
