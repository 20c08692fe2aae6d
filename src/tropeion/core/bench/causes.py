"""Missed focus, a soft corner, a wedge, play: which second frame tells them apart.

Soft everywhere: focus was missed. Soft corners that a frame focused there makes sharp: the field is curved. One soft
side that turns with nothing is the seat; one that moves with the hand is play.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final, Literal

from tropeion.core.data_tables import table
from tropeion.core.frozen import frozen
from tropeion.core.optics.register import sensitivities

from .rig_on_bench import RigOnBench

Cause = Literal[
    "missed_focus", "curvature", "soft_corners", "shift_of_focus", "wedge_body", "wedge_ring", "play", "lens", "notch"
]


@frozen
class Look:
    """Something that a frame can show; ``next`` is the frame to take then, or the cause that it tells."""

    saw: str
    label: str
    next: str


@frozen
class TestFrame:
    """A frame to take of a flat wall, what to do for it, and what it can show."""

    frame: str
    title: str
    do: str
    looks: tuple[Look, ...]


@frozen
class CauseTold:
    """What a cause is called, and what is done about it."""

    cause: Cause
    title: str
    do: str


FRAMES: Final[Mapping[str, TestFrame]] = {frame.frame: frame for frame in table("second_frames", TestFrame)}
_TOLD: Final[Mapping[Cause, CauseTold]] = {told.cause: told for told in table("causes", CauseTold)}


def cause_title(cause: str) -> str:
    """What a cause is called; its own word where it is no longer known."""
    return next((told.title for told in _TOLD.values() if told.cause == cause), cause)


@frozen
class Leaf:
    """A cause: what it is called, what is done, and the evidence of numbers for or against it in this rig."""

    cause: Cause
    title: str
    do: str
    evidence: str


@frozen
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
        return Leaf(cause, _TOLD[cause].title, _TOLD[cause].do, evidence.get(cause, ""))

    return CauseReport(
        path=tuple(path),
        frame=FRAMES.get(at),
        cause=None if at in FRAMES else leaf(_cause(at)),
        open=tuple(leaf(cause) for cause in _open(at)),
    )


def _cause(at: str) -> Cause:
    return next(cause for cause in _TOLD if cause == at)


def _open(at: str) -> list[Cause]:
    """Every cause that can still be reached, in their order."""
    if at not in FRAMES:
        return [_cause(at)]
    causes = {cause for look in FRAMES[at].looks for cause in _open(look.next)}
    return [cause for cause in _TOLD if cause in causes]


def _evidence(rig: RigOnBench, spreads: Mapping[str, float]) -> dict[Cause, str]:
    """What the numbers of this rig say of a cause."""
    bench, stack = rig.bench, rig.rig.stack
    half = rig.rig.mode.width_mm / 2
    window = bench.window_mm
    evidence: dict[Cause, str] = {}
    _, weights = sensitivities([placed.link for placed in stack.placed])
    play = [
        (placed.adapter.play_mm, placed.adapter.outer_mm or stack.body_mount.outer_mm, weight, placed.adapter.name)
        for placed, weight in zip(stack.placed, weights, strict=True)
    ]
    known = [(mm, seat, weight, name) for mm, seat, weight, name in play if mm is not None and seat is not None]
    if known:
        tip = math.fsum(mm / seat * half * math.sqrt(weight) for mm, seat, weight, _ in known)
        evidence["play"] = (
            f"The play of {', '.join(name for *_, name in known)} tips the ends of the picture by up to ±{tip:.3f} mm;"
            f" ±{window:.3f} mm is sharp wide open: {_weighed(tip, window)}."
        )
    elif play:
        evidence["play"] = "Nobody stated the play of its rings: it may be, or not."
    told = [
        (placed.adapter.name, spreads[placed.adapter.id] / seat * half)
        for placed in stack.placed
        if placed.adapter.id in spreads and (seat := placed.adapter.outer_mm or stack.body_mount.outer_mm) is not None
    ]
    if told:
        name, tip = max(told, key=lambda pair: pair[1])
        evidence["wedge_ring"] = (
            f"By its readings {name} tips the ends by at least ±{tip:.3f} mm;"
            f" ±{window:.3f} mm is sharp wide open: {_weighed(tip, window)}."
        )
    elif stack.placed:
        evidence["wedge_ring"] = "No ring of this rig was measured at several places yet: four readings would tell."
    ways = max(joint.takes.positions for joint in stack.joints)
    evidence["notch"] = (
        f"A mount of this rig takes it in {ways} ways." if ways > 1 else "Its mounts take it in one way alone."
    )
    angle = rig.rig.body.max_ray_angle_deg
    if rig.rig.lens.exit_pupil_mm is not None:
        height = math.hypot(rig.rig.mode.width_mm, rig.rig.mode.height_mm) / 2
        ray = math.degrees(math.atan(height / rig.rig.lens.exit_pupil_mm))
        limit = "" if angle is None else f"; {rig.rig.body.name} takes {angle:.0f}°"
        evidence["soft_corners"] = f"Rays reach the corners at {ray:.0f}°{limit}."
    return evidence


def _weighed(tip_mm: float, window_mm: float) -> str:
    return "enough to be seen" if tip_mm > window_mm else "too little to be seen"
