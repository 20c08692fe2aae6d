"""What is said of a frame: its sentence, its caption, and why nothing in it moves."""

from __future__ import annotations

import math
from collections.abc import Iterator

from tropeion.core import findings, written
from tropeion.core.gear.adapters import Adapter
from tropeion.core.optics import coverage, register
from tropeion.core.optics.defocus import infinity_blur_mm
from tropeion.core.rig.assembly import Assembly
from tropeion.core.rig.ends import Axis, turned_for
from tropeion.core.rig.verdict import unknown_mounts
from tropeion.core.words import capital, word
from tropeion.core.working import tidy

from .camera_set import Setup
from .frame_report import Caption

CIRCLES = {"stated": "as stated", "measured": "measured", "format": "usual for its format"}


def reason_of(setup: Setup) -> str:
    """Why there is no picture."""
    worst = min(setup.judged.findings, key=lambda finding: findings.rank(finding.grade_cap or "native"))
    return worst.headline or worst.text


def sentence_of(setup: Setup) -> str:
    """Where it is sharp, and what becomes of infinity."""
    if not setup.works:
        return reason_of(setup)
    star = infinity_blur_mm(setup.own_f_number, setup.k, setup.extension_mm)
    sharp, where = star <= setup.rig.blur_mm, setup.sharp_m
    if where is not None:
        focused = f"Focused at {written.distance(where * 1000, setup.rig.practice.distances)}"
        tail = "; infinity is sharp too" if sharp else "; infinity is soft"
    else:
        focused = "Focused at infinity" if sharp else "The lens stands too near: nothing is quite sharp"
        tail = "" if sharp else "; infinity is soft"
    held = {"far": ", as far as the ring goes", "near": ", as near as it goes", "": ""}[setup.held]
    return f"{focused}{held}{tail}."


def caption_of(setup: Setup) -> Caption:
    """What the picture knows, what it assumes, and what it leaves out."""
    known: list[str] = []
    assumed: list[str] = []
    _light(setup, known, assumed)
    if not setup.rig.stack.known:
        mounts = written.listed(unknown_mounts(setup.rig))
        assumed.append(
            f"The {word('flange_focal_distance')} of {mounts} is not known: it is drawn as if infinity were reached."
        )
    if setup.range_mm[1] is None:
        assumed.append("How far the lens focuses out is not known: it is drawn as if it went as near as asked.")
    if setup.rig.body.kind == "film":
        known.append("A film body: the frame of its gate; the grain is that of no film.")
    if setup.asked.tilt_deg and setup.tilting is None:
        assumed.append("Nothing in this rig tilts: it is drawn as if the lens could.")
    if setup.shift_set_mm != (0.0, 0.0) and not setup.shifting:
        assumed.append("Nothing in this rig shifts: it is drawn as if the lens could.")
    known += _beyond(setup)
    left_out = ["Aberrations, flare and diffraction are left out; the lens is taken as thin."]
    if setup.rig.lens.squeeze != 1:
        left_out.append("Blur discs are drawn round; this lens makes them oval.")
    return Caption(tuple(known), tuple(assumed), tuple(left_out))


def _beyond(setup: Setup) -> Iterator[str]:
    """A shift that goes farther than the mechanism, or than the circle."""
    across, up = setup.shift_set_mm
    if (across, up) == (0.0, 0.0):
        return
    said, far = f"A shift of {across:g} × {up:g} mm at the sensor", math.hypot(across, up)
    rooms: tuple[tuple[Axis, float], ...] = (("up", up), ("across", across))
    for axis, wanted in rooms:
        room = setup.shift_reach_mm(axis)
        if setup.shifting and wanted and tidy(max(abs(wanted), far if up and across else 0.0) - room) > 0:
            yield f"{said} is more than this rig can do: {room:.1f} mm {axis}."
            break
        for piece in turned_for(setup.rig, axis) if wanted else ():
            yield f"Turn {piece.name} by 90° for it: as it stands it shifts {'across' if axis == 'up' else 'up'}."
    circle = setup.rig.image_circle_mm
    if circle is not None and not coverage.covers_shift(circle, setup.width_mm, setup.height_mm, (across, up)):
        yield f"{said} leaves the {word('image_circle')}: corners are dark."


def _light(setup: Setup, known: list[str], assumed: list[str]) -> None:
    """Where the light ends, falls off, and comes in too steeply."""
    rig, lens, circle = setup.rig, setup.rig.lens, setup.rig.image_circle_mm
    if circle is None:
        assumed.append(f"The {word('image_circle')} is not known: where it is hatched, it may be dark.")
    else:
        said = f"{capital(word('image_circle'))} {circle:.1f} mm at the sensor, {CIRCLES[rig.circle_from]}."
        (assumed if rig.circle_from == "format" else known).append(said)
    if rig.chain.has_glass:
        assumed.append("Behind glass the exit pupil is not known: no fall-off of light is drawn.")
    elif lens.exit_pupil_mm is None:
        assumed.append("The exit pupil is not known: no fall-off of light is drawn.")
    else:
        pupil = written.millimetres(lens.exit_pupil_mm)
        known.append(f"Exit pupil {pupil} before the sensor: light falls off as drawn.")
    if rig.body.max_ray_angle_deg is not None and setup.pupil_mm is None:
        assumed.append("Whether the corners get too steep a light is not known.")
    if setup.steep_from_mm is not None and setup.steep_from_mm < rig.mode.diagonal_mm / 2:
        known.append(
            f"Farther than {setup.steep_from_mm:.1f} mm from the middle the light is steeper than this sensor likes: "
            "smeared there, as a hint."
        )


def no_room(setup: Setup) -> str:
    """Why nothing here shifts or tilts, as the collection has it; empty where something does."""
    rig = setup.rig
    if setup.moving:
        return ""
    if rig.stack.lens_mount is rig.stack.body_mount:
        return "Lens and body are of one mount: between them is no room for a ring that shifts or tilts."
    if not rig.stack.known:
        return "The room between lens and body is not known."
    gap = register.gap_mm(rig.stack.lens_seat.register_mm, rig.stack.body_seat.register_mm)
    said = f"The room between lens and body is {written.millimetres(gap)}."
    able = [
        adapter for adapter in rig.world.gear.adapters if (adapter.shift_mm or adapter.tilt_deg) and not adapter.retired
    ]
    if not able:
        return f"{said} Nothing in the collection shifts or tilts."
    least = min(adapter.length_mm for adapter in able)
    if gap < least:
        shortest = written.millimetres(least)
        return f"{said} The shortest ring in the collection that shifts or tilts is {shortest} long."
    fits = [adapter.name for adapter in able if _joins(rig, adapter)]
    return f"{said} {written.listed(fits)} would fit." if fits else f"{said} No ring that moves joins these two."


def _joins(rig: Assembly, one: Adapter) -> bool:
    mounts, stack = rig.world.mounts, rig.stack
    front, rear = mounts[one.lens_mount].joint, mounts[one.body_mount].joint
    return (front, rear) == (stack.lens_mount.joint, stack.body_mount.joint)
