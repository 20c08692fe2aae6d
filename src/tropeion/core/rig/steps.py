"""Mounting and setting up, in order: prepare, join, verify, power, set, focus, check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from tropeion.core.findings import Finding, Grade
from tropeion.core.gear.adapters import Adapter
from tropeion.core.joints import contacts
from tropeion.core.joints.mechanics import feet_of
from tropeion.core.optics.stabiliser import StabiliserEntry
from tropeion.core.words import word
from tropeion.core.written import aperture, listed, millimetres

from .assembly import Assembly
from .report import End, Range, Stage, StepLine

__all__ = ["Told", "steps_of"]


@dataclass(frozen=True, slots=True)
class Told:
    """What a rig was told of before its steps: what the coupling wants, the modes left, ends, ranges, findings."""

    grade: Grade
    actions: Sequence[str]
    ring_at: Sequence[str]
    after_mounting: Sequence[str]
    exposure_modes: Sequence[str]
    ends: Sequence[End]
    ranges: Sequence[Range]
    findings: Sequence[Finding]


def steps_of(rig: Assembly, told: Told) -> tuple[StepLine, ...]:
    """Steps from the safe action to the first frame; for a rig that does not work, only what stops it."""
    if told.grade in {"danger", "none"}:
        return tuple(StepLine(f.text, caution=True) for f in told.findings if f.grade_cap == told.grade)
    stages: tuple[tuple[Stage, Iterable[StepLine]], ...] = (
        ("before", (StepLine(action, caution=True) for action in told.actions)),
        ("before", _prepare(rig, told)),
        ("join", _join(rig)),
        ("joined", _joined(rig, told.after_mounting)),
        ("power_on", _power_and_set(rig, told)),
        ("first_frame", _focus(rig, told.ranges)),
        ("first_frame", _check(rig, told.ends)),
    )
    return tuple(replace(step, stage=stage) for stage, steps in stages for step in steps)


def _prepare(rig: Assembly, told: Told) -> Iterator[StepLine]:
    lens = rig.lens
    for finding in told.findings:
        if finding.code in {"converted_by_others", "converted_at_home", "coupling_inspect"}:
            yield StepLine(finding.text, caution=True)
        if finding.code == "iris_hold_and_remove":
            yield StepLine(finding.text)
    yield from (StepLine(text) for text in told.ring_at)
    for adapter in rig.adapters:
        yield from (StepLine(text) for text in adapter.prepare)
        if adapter.tilt_deg or adapter.shift_mm:
            yield StepLine(f"Set {adapter.name} to zero and lock it.")
    if lens.aperture == "pin" and lens.auto_manual_switch and rig.adapters:
        yield StepLine("Set the lens's auto/manual switch to manual.")
    if lens.tilt_deg or lens.shift_mm:
        yield StepLine("Set tilt and shift of the lens to zero and lock them.")


def _join(rig: Assembly) -> Iterator[StepLine]:
    """The lens goes onto the chain from its front; the chain onto the body last. Each joint is locked once joined."""
    off = "Power off. " if rig.body.battery else ""
    yield StepLine(f"{off}Hold the body open side down and blow out dust.")
    for joint in rig.stack.joints:
        mount, locks = joint.takes, joint.takes.coupling in {"locking_collar", "breech_lock"}
        said = [f"{joint.front.name} onto {joint.rear.name}."]
        if mount.index_mark:
            said.append(mount.index_mark)
        if mount.lock_action and not locks:
            said.append(mount.lock_action)
        if mount.coupling == "screw":
            said.append("If it binds, turn back: never force a thread.")
        yield StepLine(" ".join(said))
        if locks:
            yield StepLine(f"Lock it: {mount.lock_action or 'turn the collar shut.'}")
        elif isinstance(joint.rear, Adapter) and joint.rear.locking:
            yield StepLine(f"Lock it: close the lock of {joint.rear.name}.")


def _joined(rig: Assembly, after_mounting: Sequence[str]) -> Iterator[StepLine]:
    yield from (StepLine(text) for text in after_mounting)
    feet = feet_of(rig.stack)
    if feet:
        yield StepLine(f"On a tripod, hold the rig by the foot of {feet[0]}, not by the body.")
    yield StepLine("Verify every lock: pull gently at each piece before you let go.")
    if rig.body.battery:
        yield StepLine("Power on.")


def _setting(rig: Assembly, what: str) -> str:
    """Where the body has a setting, for the use at hand."""
    for setting in rig.body.settings:
        if setting.for_ == what and setting.use in {rig.practice.use, "both"}:
            return f" ({setting.where}: {setting.value})"
    return ""


def _power_and_set(rig: Assembly, told: Told) -> Iterator[StepLine]:
    # The order of the steps is the answer; each asks one thing of the body and stands where a hand would do it.
    lens, body, adapters = rig.lens, rig.body, rig.adapters
    chipped = any(adapter.chip is not None for adapter in adapters)
    known = rig.signal.broken_at is None
    if known or body.kind == "film":
        if body.kind == "film" and body.meters and adapters:
            yield StepLine("Tell the meter the widest aperture of this lens, where it asks for it.")
        return
    if not chipped:
        if body.bare_release == "off":
            yield StepLine("Allow release without a lens" + _setting(rig, "bare_release") + ".")
        elif body.bare_release == "never":
            yield StepLine(
                "This body releases only with a lens it recognises: a chipped adapter is needed.", caution=True
            )
    entries = [end.stabiliser for end in told.ends if end.stabiliser is not None]
    if entries and rig.practice.entry == "essential":
        yield from _stabiliser(rig, entries)
    elif not entries and body.asks_focal_length and body.stabiliser is None and rig.practice.entry == "essential":
        focal = f"{told.ends[0].focal_length_mm:g}"
        yield StepLine(f"Enter {focal} mm as the focal length{_setting(rig, 'focal_length')}.")
    if not rig.mode.whole:
        place = _setting(rig, "mode") or _setting(rig, "crop")
        yield StepLine(f"Set the mode {rig.mode.name}{place}.")
    names = {"P": "program", "A": "aperture priority", "S": "shutter priority", "M": "manual"}
    modes = [names.get(mode, mode) for mode in told.exposure_modes]
    if modes:
        yield StepLine(f"Set the exposure to {listed(modes, 'or')}.")
    if lens.squeeze > 1 and lens.squeeze in body.desqueeze:
        yield StepLine(f"Set the desqueeze to {lens.squeeze:g} ×" + _setting(rig, "desqueeze") + ".")


def _stabiliser(rig: Assembly, entries: Sequence[StabiliserEntry]) -> Iterator[StepLine]:
    body, entry = rig.body, entries[0]
    focal = listed(list(dict.fromkeys(f"{one.entry_mm:g}" for one in entries)), "to")
    again = " Enter it again at each zoom setting, and do not zoom during a take." if rig.lens.is_zoom else ""
    yield StepLine(
        f"Enter {focal} mm for the stabiliser{_setting(rig, 'focal_length')}: the actual focal length, "
        f"not the equivalent.{again}"
    )
    stabiliser = body.stabiliser
    if stabiliser is not None and stabiliser.stored_lenses:
        yield StepLine(
            f"Store it as a named lens, so that it can be called up again ({stabiliser.stored_lenses} places)."
        )
    if not entry.on:
        yield StepLine("The image circle, as measured, leaves the stabiliser no room: switch it off.")
    elif entry.decided and entry.travel_step is not None and entry.travel_step < 1:
        yield StepLine(
            f"The image circle, as measured, leaves room for {entry.travel_step:.0%} of its travel: set that."
        )
    elif entry.look_at_corners:
        yield StepLine(
            "Leave the stabiliser its full travel, and look at the corners at the ends of it; if they darken, go down "
            "a step. The image circle is not measured, and is mostly wider than it is said to be."
        )


def _focus(rig: Assembly, ranges: Sequence[Range]) -> Iterator[StepLine]:
    lens, body = rig.lens, rig.body
    for one in ranges:
        if one.kind == "helicoid" and one.for_infinity_mm is not None:
            name = rig.world.adapters[one.link].name
            setting = f"open it by {millimetres(one.for_infinity_mm)}" if one.for_infinity_mm else "close it"
            yield StepLine(f"{name}: {setting} for infinity; open it for close-up.")
    if not rig.movable:
        return
    by_hand = rig.signal.broken_at is not None or not contacts.has(lens, "autofocus")
    if by_hand and body.kind == "digital" and body.focus_aids:
        yield StepLine(f"For focusing, use {listed(list(_aids(rig)))}.")
    if rig.iris.state == "by_hand":
        if rig.practice.focusing == "wide_open":
            yield StepLine("Focus wide open, then stop down to the taking aperture.")
        else:
            yield StepLine("Set the taking aperture first, and focus there.")
    elif rig.iris.state == "stuck":
        yield StepLine("The aperture cannot be set: expose by time and sensitivity alone.")


def _placed(rig: Assembly, what: str, otherwise: str) -> str:
    """Where this body has an aid to focusing, else where one would put it."""
    return _setting(rig, what).strip(" ()") or otherwise


def _aids(rig: Assembly) -> Iterator[str]:
    """What the body has for focusing, each with its place on this body."""
    body, said = rig.body, set(rig.body.focus_aids)
    if "magnifier" in said:
        place = _placed(rig, "magnifier", "on a button")
        leave = (
            f"; to leave it: {body.magnifier.leave.rstrip('.').lower()}"
            if body.magnifier and body.magnifier.leave
            else ""
        )
        yield f"the magnifier ({place}; it does not come up by itself{leave})"
    if "peaking" in said:
        yield f"peaking ({_placed(rig, 'peaking', 'on another button')}; it marks edges, not focus)"
    yield from sorted(said - {"magnifier", "peaking"})


def _check(rig: Assembly, ends: Sequence[End]) -> Iterator[StepLine]:
    wide, lens = ends[0], rig.lens
    infinity = wide.infinity.from_f_number
    if infinity is not None:
        then = "" if lens.focus == "none" and not rig.movable else f"; then the {word('nearest_focus')}"
        yield StepLine(f"Check infinity first, on something far away, at {aperture(infinity)}{then}.")
    else:
        yield StepLine("Check near focus first: infinity will not come.")
    yield StepLine("Then look at the corners, wide open and stopped down, and for a ghost in the middle.")
    if rig.body.kind == "digital" and rig.signal.broken_at is not None:
        yield StepLine("Note what you used: the pictures carry no lens data.")
    fastest = min(lens.f_number[0], lens.f_number_at_long_end or lens.f_number[0])
    if max(lens.focal_length_mm) > _LONG_MM or fastest < _FAST:
        yield StepLine(
            "Never point a long or fast lens at the sun, neither with the eye behind it nor with the sensor.",
            caution=True,
        )


# From here on a lens gathers enough of the sun to harm an eye or a sensor at once.
_LONG_MM = 100.0
_FAST = 2.0
