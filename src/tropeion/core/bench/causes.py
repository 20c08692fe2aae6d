"""Missed focus, a soft corner, a wedge, play: which second frame tells them apart.

Soft everywhere: focus was missed. Soft corners that a frame focused there makes sharp: the field is curved. One soft
side that turns with nothing is the seat; one that moves with the hand is play.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from tropeion.core.optics.register import sensitivities

from .rig_on_bench import RigOnBench

Cause = Literal[
    "missed_focus", "curvature", "soft_corners", "shift_of_focus", "wedge_body", "wedge_ring", "play", "lens", "notch"
]


@dataclass(frozen=True, slots=True)
class Look:
    """Something that a frame can show; ``next`` is the frame to take then, or the cause that it tells."""

    saw: str
    label: str
    next: str


@dataclass(frozen=True, slots=True)
class TestFrame:
    """A frame to take of a flat wall, what to do for it, and what it can show. ``drawing`` names where it is soft."""

    frame: str
    title: str
    do: str
    looks: tuple[Look, ...]


FRAMES: Final[Mapping[str, TestFrame]] = {
    test_frame.frame: test_frame
    for test_frame in (
        TestFrame(
            "first",
            "A flat wall, square to it, focused in the middle, widest aperture",
            "On a stand, level with the wall; magnify the middle, focus there. Look at middle, edges, corners.",
            (
                Look("all_soft", "soft everywhere", "refocused"),
                Look("edges_soft", "middle sharp, both edges soft", "at_edge"),
                Look("middle_soft", "edges sharp, middle soft", "refocused_middle"),
                Look("side_soft", "one side soft", "at_side"),
                Look("turned", "all sharp, and squeezed or shifted the wrong way", "notch"),
            ),
        ),
        TestFrame(
            "refocused",
            "The same again, five frames around the distance",
            "Move the ring a hair's breadth to both sides of where it looked sharpest, a frame each time.",
            (
                Look("one_sharp", "one of them is sharp", "missed_focus"),
                Look("none_sharp", "none is sharp", "lens"),
            ),
        ),
        TestFrame(
            "refocused_middle",
            "Magnify the middle anew and focus there, at the aperture of the picture",
            "Stop down to the aperture of the picture, magnify, focus again.",
            (
                Look("middle_sharp", "now the middle is sharp", "shift_of_focus"),
                Look("middle_still_soft", "the middle stays soft", "lens"),
            ),
        ),
        TestFrame(
            "at_edge",
            "A second frame, focused at the edge",
            "Leave the camera where it is; magnify a corner, focus there, take the frame again.",
            (
                Look("edge_sharp", "now the edges are sharp and the middle is soft", "curvature"),
                Look("edge_still_soft", "the edges stay soft", "soft_corners"),
            ),
        ),
        TestFrame(
            "at_side",
            "A second frame, focused on the soft side",
            "Magnify the soft side, focus there, take the frame again.",
            (
                Look("side_sharp", "now that side is sharp and the other soft", "upside_down"),
                Look("side_still_soft", "that side stays soft", "lens"),
            ),
        ),
        TestFrame(
            "upside_down",
            "A third frame, the lens pressed the other way",
            "Hold the lens up by its end with one finger, or turn the camera upside down; focus in the middle again.",
            (
                Look("side_moves", "the soft side changes, or goes", "play"),
                Look("side_stays", "the same side of the picture stays soft", "other_ring"),
            ),
        ),
        TestFrame(
            "other_ring",
            "A fourth frame, another lens on the same ring, or another ring",
            "Change one piece alone: the same ring and body with another lens.",
            (
                Look("goes_with_lens", "with the other lens it is gone", "lens"),
                Look("goes_with_ring", "with another ring it is gone", "wedge_ring"),
                Look("stays_with_body", "it stays with any ring and lens", "wedge_body"),
            ),
        ),
    )
}
_LEAVES: Final[Mapping[Cause, tuple[str, str]]] = {
    "missed_focus": ("Focus was missed", "Magnify and focus at the taking aperture; nothing is to be mended."),
    "curvature": (
        "The field is curved",
        "It belongs to the lens: focus between middle and edge, or stop down. No shim helps.",
    ),
    "soft_corners": (
        "The corners are soft by themselves",
        "It belongs to the lens, or to steep rays through the cover glass: stop down, or use a smaller mode.",
    ),
    "shift_of_focus": (
        "Focus shifts as the lens stops down",
        "Focus at the taking aperture rather than wide open.",
    ),
    "wedge_body": (
        "The mount face of the body is out of square",
        "A qualified repairer sets the mount plate of a body.",
    ),
    "wedge_ring": (
        "The ring is out of square",
        "Measure it at four places; lap nothing: another ring, or the maker's repair.",
    ),
    "play": (
        "The lens tips in its mount",
        "Support the lens by its own foot; a locking ring, or a joint with less play.",
    ),
    "notch": (
        "The lens sits in another notch",
        "Take it off and put it on one notch further; then look at something round, or at the mark of its shift.",
    ),
    "lens": ("The lens itself is decentred or soft", "A qualified repairer, with the frames as evidence."),
}


def cause_title(cause: str) -> str:
    """What a cause is called; its own word where nobody knows it any more."""
    return next((title for literal, (title, _) in _LEAVES.items() if literal == cause), cause)


@dataclass(frozen=True, slots=True)
class Leaf:
    """A cause: what it is called, what is done, and the evidence of numbers for or against it in this rig."""

    cause: Cause
    title: str
    do: str
    evidence: str


@dataclass(frozen=True, slots=True)
class CauseReport:
    """The frames on the way so far, the one to take next, or the cause; ``leaves`` are those still open."""

    path: tuple[TestFrame, ...]
    frame: TestFrame | None
    cause: Leaf | None
    open: tuple[Leaf, ...]


def cause_report(
    rig: RigOnBench, answers: Sequence[str], ring_wedge_mm: Mapping[str, float] | None = None
) -> CauseReport:
    """What frames have told. ``ring_wedge_mm``: the spread of readings of an adapter, by its id.

    Raises ValueError for an answer that the frame of that place cannot give.
    """
    at, path = "first", [FRAMES["first"]]
    for saw in answers:
        frame = FRAMES.get(at)
        look = next((look for look in frame.looks if look.saw == saw), None) if frame else None
        if look is None:
            can = "nothing more: the cause is found" if frame is None else ", ".join(look.saw for look in frame.looks)
            raise ValueError(f"'{saw}': this frame can show {can}")
        at = look.next
        if at in FRAMES:
            path.append(FRAMES[at])
    evidence = _evidence(rig, ring_wedge_mm or {})

    def leaf(cause: Cause) -> Leaf:
        return Leaf(cause, *_LEAVES[cause], evidence.get(cause, ""))

    return CauseReport(
        path=tuple(path),
        frame=FRAMES.get(at),
        cause=None if at in FRAMES else leaf(_cause(at)),
        open=tuple(leaf(literal) for literal in _open(at)),
    )


def _cause(at: str) -> Cause:
    return next(literal for literal in _LEAVES if literal == at)


def _open(at: str) -> list[Cause]:
    """Every cause that can still be reached, in their order."""
    if at not in FRAMES:
        return [_cause(at)]
    literals = {literal for look in FRAMES[at].looks for literal in _open(look.next)}
    return [literal for literal in _LEAVES if literal in literals]


def _evidence(rig: RigOnBench, spreads: Mapping[str, float]) -> dict[Cause, str]:
    """What the numbers of this rig say of a cause."""
    bench, stack = rig.bench, rig.rig.stack
    half = rig.rig.mode.width_mm / 2
    window = bench.window_mm
    names: dict[Cause, str] = {}
    _, weights = sensitivities([placed.link for placed in stack.placed])
    play = [
        (placed.adapter.play_mm, placed.adapter.outer_mm or stack.body_mount.outer_mm, weight, placed.adapter.name)
        for placed, weight in zip(stack.placed, weights, strict=True)
    ]
    known = [(mm, seat, weight, name) for mm, seat, weight, name in play if mm is not None and seat is not None]
    if known:
        tip = math.fsum(mm / seat * half * math.sqrt(weight) for mm, seat, weight, _ in known)
        names["play"] = (
            f"The play of {', '.join(name for *_, name in known)} tips the ends of the picture by up to ±{tip:.3f} mm;"
            f" ±{window:.3f} mm is sharp wide open: {_weighed(tip, window)}."
        )
    elif play:
        names["play"] = "Nobody stated the play of its rings: it may be, or not."
    told = [
        (placed.adapter.name, spreads[placed.adapter.id] / seat * half)
        for placed in stack.placed
        if placed.adapter.id in spreads and (seat := placed.adapter.outer_mm or stack.body_mount.outer_mm) is not None
    ]
    if told:
        name, tip = max(told, key=lambda pair: pair[1])
        names["wedge_ring"] = (
            f"By its readings {name} tips the ends by at least ±{tip:.3f} mm;"
            f" ±{window:.3f} mm is sharp wide open: {_weighed(tip, window)}."
        )
    elif stack.placed:
        names["wedge_ring"] = "No ring of this rig was measured at several places yet: four readings would tell."
    ways = max(joint.takes.positions for joint in stack.joints)
    names["notch"] = (
        f"A mount of this rig takes it in {ways} ways." if ways > 1 else "Its mounts take it in one way alone."
    )
    angle = rig.rig.body.max_ray_angle_deg
    if rig.rig.lens.exit_pupil_mm is not None:
        height = math.hypot(rig.rig.mode.width_mm, rig.rig.mode.height_mm) / 2
        ray = math.degrees(math.atan(height / rig.rig.lens.exit_pupil_mm))
        limit = "" if angle is None else f"; {rig.rig.body.name} takes {angle:.0f}°"
        names["soft_corners"] = f"Rays reach the corners at {ray:.0f}°{limit}."
    return names


def _weighed(tip_mm: float, window_mm: float) -> str:
    return "enough to be seen" if tip_mm > window_mm else "too little to be seen"
