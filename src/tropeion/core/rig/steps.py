"""Mounting and setting up, in order: prepare, join, verify, power, set, focus, check."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tropeion.core.findings import Finding, Grade
from tropeion.core.gear.bodies import Body
from tropeion.core.joints.mechanics import feet_of
from tropeion.core.optics.stabiliser import StabiliserEntry
from tropeion.core.words import aperture, listed, millimetres

from .assembly import Assembly
from .report import End, Range, StepLine

__all__ = ["steps_of"]


def steps_of(
    rig: Assembly,
    *,
    grade: Grade,
    actions: Sequence[str],
    ring_at: Sequence[str],
    wide: End,
    ranges: Sequence[Range],
    findings: Sequence[Finding],
) -> tuple[StepLine, ...]:
    """Steps from the safe action to the first frame; for a dangerous rig, only what not to do."""
    if grade == "danger":
        return tuple(StepLine(f.text, caution=True) for f in findings if f.grade_cap == "danger")
    return (
        *(StepLine(action, caution=True) for action in actions),
        *_prepare(rig, ring_at, findings),
        *_join(rig),
        *_power_and_set(rig, wide),
        *_focus(rig, ranges),
        *_check(rig, wide),
    )


def _prepare(rig: Assembly, ring_at: Sequence[str], findings: Sequence[Finding]) -> Iterator[StepLine]:
    lens = rig.lens
    for finding in findings:
        if finding.code in {"converted_by_others", "converted_at_home", "coupling_inspect"}:
            yield StepLine(finding.text, caution=True)
        if finding.code == "iris_hold_and_remove":
            yield StepLine(finding.text)
    yield from (StepLine(text) for text in ring_at)
    for adapter in rig.adapters:
        yield from (StepLine(text) for text in adapter.prepare)
        if adapter.tilt_deg or adapter.shift_mm:
            yield StepLine(f"Set {adapter.name} to zero and lock it.")
    if lens.aperture == "pin" and lens.auto_manual_switch and rig.adapters:
        yield StepLine("Set the lens's auto/manual switch to manual.")
    if lens.tilt_deg or lens.shift_mm:
        yield StepLine("Set tilt and shift of the lens to zero and lock them.")


def _join(rig: Assembly) -> Iterator[StepLine]:
    """The lens goes onto the chain from its front; the chain onto the body last."""
    yield StepLine("Power off. Hold the body open side down and blow out dust.")
    for joint in rig.stack.joints:
        mount = joint.takes
        words = [f"{joint.front.name} onto {joint.rear.name}."]
        if mount.index_mark:
            words.append(mount.index_mark)
        if mount.lock_action:
            words.append(mount.lock_action)
        if mount.coupling == "screw":
            words.append("If it binds, turn back: never force a thread.")
        yield StepLine(" ".join(words))
    feet = feet_of(rig.stack)
    if feet:
        yield StepLine(f"On a tripod, hold the rig by the foot of {feet[0]}, not by the body.")
    yield StepLine("Verify every lock: pull gently at each piece before you let go.")
    yield StepLine("Power on.")


def _setting(body: Body, what: str) -> str:
    for setting in body.settings:
        if setting.for_ == what:
            return f" ({setting.where}: {setting.value})"
    return ""


def _power_and_set(rig: Assembly, wide: End) -> Iterator[StepLine]:
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
            yield StepLine("Allow release without a lens" + _setting(body, "bare_release") + ".")
        elif body.bare_release == "never":
            yield StepLine("This body releases only with a lens it recognises: a chipped ring is needed.", caution=True)
    if wide.stabiliser is not None and rig.practice.entry == "essential":
        yield from _stabiliser(rig, wide.stabiliser)
    if not rig.mode.whole:
        yield StepLine(f"Set the mode {rig.mode.name}" + _setting(body, "mode") + ".")
    if body.exposure_modes:
        modes = [mode for mode in body.exposure_modes if mode in {"A", "M"}]
        names = {"A": "aperture priority", "M": "manual"}
        if modes:
            yield StepLine(f"Set the exposure to {' or '.join(names[mode] for mode in modes)}.")
    if lens.squeeze > 1 and lens.squeeze in body.desqueeze:
        yield StepLine(f"Set the desqueeze to {lens.squeeze:g} ×" + _setting(body, "desqueeze") + ".")


def _stabiliser(rig: Assembly, entry: StabiliserEntry) -> Iterator[StepLine]:
    body, lens = rig.body, rig.lens
    again = " Enter it again at each zoom setting, and do not zoom during a take." if lens.is_zoom else ""
    yield StepLine(
        f"Enter {entry.entry_mm:g} mm for the stabiliser{_setting(body, 'focal_length')}: the actual focal length, "
        f"not the equivalent.{again}"
    )
    stabiliser = body.stabiliser
    if stabiliser is not None and stabiliser.stored_lenses:
        yield StepLine(
            f"Store it as a named lens, so that it can be called up again ({stabiliser.stored_lenses} places)."
        )
    if entry.travel_step is not None and entry.travel_step < 1:
        share = f"limit its travel to {entry.travel_step:.0%}" if entry.travel_step else "switch it off"
        yield StepLine(f"The image circle leaves the stabiliser little room: {share}.")


def _focus(rig: Assembly, ranges: Sequence[Range]) -> Iterator[StepLine]:
    lens, body = rig.lens, rig.body
    for one in ranges:
        if one.kind == "helicoid" and one.for_infinity_mm is not None:
            name = rig.world.adapters[one.link].name
            setting = f"open it by {millimetres(one.for_infinity_mm)}" if one.for_infinity_mm else "close it"
            yield StepLine(f"{name}: {setting} for infinity; open it for close-up.")
    if not rig.movable:
        return
    by_hand = rig.signal.broken_at is not None or "autofocus" not in lens.offers
    if by_hand and body.kind == "digital" and body.focus_aids:
        aids = [
            {
                "magnifier": "the magnifier on a button (it does not come up by itself)",
                "peaking": "peaking on another (it marks edges, not focus)",
            }.get(aid, aid)
            for aid in sorted(body.focus_aids)
        ]
        yield StepLine(f"For focusing, put {listed(aids)}.")
    if rig.iris.state == "by_hand":
        if rig.practice.focusing == "wide_open":
            yield StepLine("Focus wide open, then stop down to the taking aperture.")
        else:
            yield StepLine("Set the taking aperture first, and focus there.")
    elif rig.iris.state == "stuck":
        yield StepLine("The aperture cannot be set: expose by time and sensitivity alone.")


def _check(rig: Assembly, wide: End) -> Iterator[StepLine]:
    infinity = wide.infinity.from_f_number
    if infinity is not None:
        yield StepLine(f"Check infinity first, on something far away, at {aperture(infinity)}; then the closest focus.")
    elif wide.focus.state != "none":
        yield StepLine("Check near focus first: infinity will not come.")
    if wide.focus.state != "none":
        yield StepLine("Then look at the corners, wide open and stopped down, and for a ghost in the middle.")
    if rig.body.kind == "digital" and rig.signal.broken_at is not None:
        yield StepLine("Note what you used: the pictures carry no lens data.")
    if max(rig.lens.focal_length_mm) >= 100:
        yield StepLine("Never point the lens at the sun, neither for the eye nor for the sensor.", caution=True)
