"""Mounting and setting up, in order: prepare, join, verify, power, set, focus, check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Final

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.changed import change_in, part_of
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import held_in, is_spacer
from tropeion.core.joints.mechanics import feet_of
from tropeion.core.joints.signal import has
from tropeion.core.words import word
from tropeion.core.written import aperture, listed, millimetres

from .assembly import Assembly
from .deeds import Deed
from .ends import turned_for
from .menus import place_of
from .rig_report import Range, Stage, StepLine
from .setting_steps import StepsTold, name_of, power_and_set
from .verdict import unknown_mounts


def steps_of(rig: Assembly, told: StepsTold) -> tuple[StepLine, ...]:
    """Steps from the safe action to the first frame; for a rig that does not work, only what stops it."""
    if told.grade in {"danger", "none"}:
        return tuple(StepLine(f.text, caution=True) for f in told.findings if f.grade_cap == told.grade)
    stages: tuple[tuple[Stage, Iterable[StepLine]], ...] = (
        ("before", (StepLine(action, caution=True) for action in told.actions)),
        ("before", _prepare(rig, told)),
        ("join", _join(rig)),
        ("joined", _joined(rig, told)),
        ("power_on", power_and_set(rig, told)),
        ("first_frame", _focus(rig, told.ranges)),
        ("first_frame", _check(rig, told)),
    )
    return tuple(replace(step, stage=stage) for stage, steps in stages for step in steps)


# What the verdict warns of before anything is joined, and once it is.
_BEFORE: Final = frozenset(
    {
        "irreversible",
        "generation_unknown",
        "generation_open",
        "generations_unruled",
        "clearance_unknown",
        "conversion_unstated",
        "converted_by_others",
        "converted_at_home",
        "coupling_inspect",
    }
)
_JOINED: Final = frozenset({"load_exceeded"})


def _cautions(told: StepsTold, codes: frozenset[str]) -> Iterator[StepLine]:
    """What the verdict warns of, in its own words."""
    for text in dict.fromkeys(finding.text for finding in told.findings if finding.code in codes):
        yield StepLine(text, caution=True)


def _changes(rig: Assembly) -> Iterator[StepLine]:
    """Another mount on the lens, another plate on the body."""
    for piece in (rig.lens, rig.body):
        changes = rig.world.change_of(piece.id)
        if changes is None:
            continue
        item, swap = changes
        if isinstance(item, Lens) and item.mount is None:
            yield StepLine(_held(rig, item))
            continue
        effort = [swap.tools, f"{swap.minutes} minutes" if swap.minutes is not None else ""]
        said = ", ".join(name for name in effort if name)
        text = f"Change the {part_of(item)} of {item.name} to {rig.world.mounts[swap.mount].name}"
        how = "Opening down; screws crosswise, a little each; contacts matched. It can be undone."
        yield StepLine(f"{text}{f' ({said})' if said else ''}. {how}")


def _held(rig: Assembly, lens: Lens) -> str:
    """How a lens without a mount is held in the piece behind it."""
    mount, change = rig.stack.lens_mount, change_in(rig.lens.id)
    held = held_in(lens, mount)
    assert held is not None, "only such a lens has this id"
    into = next((adapter.name for adapter in rig.adapters if not is_spacer(adapter.id)), rig.body.name)
    return held.says(lens, mount, into, 0.0 if change is None else change.forward_mm)


def _prepare(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    lens = rig.lens
    yield from _changes(rig)
    yield from _cautions(told, _BEFORE)
    yield from (StepLine(finding.text) for finding in told.findings if finding.code == "iris_hold_and_remove")
    yield from (StepLine(text) for text in told.ring_at)
    for adapter in rig.adapters:
        yield from (StepLine(text) for text in adapter.prepare)
        if adapter.tilt_deg or adapter.shift_mm:
            yield StepLine(f"Set {adapter.name} to zero and lock it.")
    for piece in turned_for(rig, "up"):
        yield StepLine(f"{piece.name} shifts across as it stands: turn it by 90° for a rise.")
    for piece in turned_for(rig, "across"):
        yield StepLine(f"{piece.name} shifts up and down as it stands: turn it by 90° to shift across.")
    if lens.aperture == "pin" and lens.auto_manual_switch and rig.adapters:
        yield StepLine("Set the lens's auto/manual switch to manual.")
    if lens.tilt_deg or lens.shift_mm:
        yield StepLine("Set tilt and shift of the lens to zero and lock them.")


def _join(rig: Assembly) -> Iterator[StepLine]:
    """The lens goes onto the chain from its front; the chain onto the body last. Each joint is locked once joined."""
    battery = rig.body.battery
    yield StepLine(
        f"{'Power off. ' if battery else ''}Hold the body open side down and blow out dust.",
        deeds=(Deed("power", value=False),) if battery else (),
    )
    for number, joint in enumerate(rig.stack.joints, 1):
        mount, locks = joint.takes, joint.takes.coupling in {"locking_collar", "breech_lock"}
        said = [f"{joint.front.name} onto {joint.rear.name}."]
        if mount.index_mark:
            said.append(mount.index_mark)
        if rig.lens.squeeze > 1 and mount.positions > 1:
            said.append(
                f"It goes on in {mount.positions} positions: put the pin into the notch that runs the squeeze along "
                "the width."
            )
        if mount.lock_action and not locks:
            said.append(mount.lock_action)
        if mount.coupling == "screw":
            said.append("If it binds, turn back: never force a thread.")
        last = number == len(rig.stack.joints)
        yield StepLine(" ".join(said), deeds=(Deed("mounted", name_of(rig)),) if last else ())
        if locks:
            yield StepLine(f"Lock it: {mount.lock_action or 'turn the collar shut.'}")
        elif isinstance(joint.rear, Adapter) and joint.rear.locking:
            yield StepLine(f"Lock it: close the lock of {joint.rear.name}.")


def _joined(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    yield from (StepLine(text) for text in told.after_mounting)
    yield from _cautions(told, _JOINED)
    feet = feet_of(rig.stack)
    if feet:
        yield StepLine(f"On a tripod, hold the rig by the foot of {feet[0]}, not by the body.")
    yield StepLine("Verify every lock: pull gently at each piece before you let go.")
    if rig.body.battery:
        yield StepLine("Power on.", deeds=(Deed("power", value=True),))
        if any(finding.code == "asks_at_power_on" for finding in told.findings):
            yield StepLine("It offers the last lens's focal length: do not confirm it unread.")


def _focus(rig: Assembly, ranges: Sequence[Range]) -> Iterator[StepLine]:
    body = rig.body
    for reach in ranges:
        if reach.kind == "helicoid" and reach.for_infinity_mm is not None:
            name = rig.world.adapters[reach.link].name
            setting = f"open it by {millimetres(reach.for_infinity_mm)}" if reach.for_infinity_mm else "close it"
            yield StepLine(f"{name}: {setting} for infinity; open it for close-up.")
    if not rig.movable:
        return
    if focused_by_hand(rig) and body.kind == "digital" and body.focus_aids:
        magnified = "magnifier" in body.focus_aids
        yield StepLine(
            f"For focusing, use {listed(list(_aids(rig)))}.",
            deeds=(Deed("magnifier", value=True),) if magnified else (),
        )
    elif focused_by_hand(rig) and body.kind == "digital" and "focus_aids" in body.assumed:
        yield StepLine("For focusing, see whether your body can magnify the picture: often by a button.")
    if rig.iris.state == "by_hand":
        stops_down = (Deed("iris", "taking"),) if rig.lens.f_number[0] < rig.lens.f_number[1] else ()
        if rig.practice.focusing == "wide_open":
            yield StepLine("Focus wide open, then stop down to the taking aperture.", deeds=stops_down)
        else:
            yield StepLine("Set the taking aperture first, and focus there.", deeds=stops_down)
    elif rig.iris.state == "stuck":
        yield StepLine("The aperture cannot be set: expose by time and sensitivity alone.")


def focused_by_hand(rig: Assembly) -> bool:
    """Whether somebody turns a ring: something moves, and the body does not do it."""
    return rig.movable and (rig.signal.broken_at is not None or not has(rig.lens, "autofocus"))


def _placed(rig: Assembly, what: str, otherwise: str) -> str:
    """Where this body has an aid to focusing, else where one would put it."""
    return place_of(rig.body, what, rig.practice) or otherwise


def _aids(rig: Assembly) -> Iterator[str]:
    """What the body has for focusing, each with its place on this body."""
    body, said = rig.body, set(rig.body.focus_aids)
    if "magnifier" in said:
        place = _placed(rig, "magnifier", "on a button")
        if body.magnifier is not None and (body.magnifier.levels or body.magnifier.view == "inset"):
            part = "an inset" if body.magnifier.view == "inset" else "the whole picture"
            times = listed([f"{level:g} ×" for level in body.magnifier.levels], "or")
            place += f"; {part}{f', {times}' if times else ''}"
        leave = (
            f"; to leave it: {body.magnifier.leave.rstrip('.').lower()}"
            if body.magnifier and body.magnifier.leave
            else ""
        )
        yield f"the magnifier ({place}; it does not come up by itself{leave})"
    if "peaking" in said:
        yield f"peaking ({_placed(rig, 'peaking', 'on another button')}; it marks edges, not focus)"
    yield from sorted(said - {"magnifier", "peaking"})


def _distance_of(rig: Assembly) -> str:
    return f"the {word('flange_focal_distance')} of {listed(unknown_mounts(rig))}"


def _check(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    wide, lens = told.ends[0], rig.lens
    infinity = wide.from_mark
    turned = (Deed("focus", value=True),) if focused_by_hand(rig) else ()
    if infinity is not None and rig.by_construction:
        yield StepLine(
            "Try infinity first, on something far away: the length of the ring was taken from the gap, so it fits by "
            "construction and proves nothing. If infinity does not come, measure it.",
            caution=True,
            deeds=turned,
        )
    elif infinity is not None:
        then = "" if lens.focus == "none" and not rig.movable else f"; then the {word('nearest_focus')}"
        yield StepLine(f"Check infinity first, on something far away, at {aperture(infinity)}{then}.", deeds=turned)
    elif wide.focus.state == "unknown":
        yield StepLine(
            "Try infinity first, on something far away: whether it comes, or anything does, cannot be told, since "
            + (
                "the focus travel of the lens is not stated."
                if rig.stack.known
                else f"{_distance_of(rig)} is not known."
            ),
            caution=True,
            deeds=turned,
        )
    else:
        yield StepLine("Check near focus first: infinity will not come.", deeds=turned)
    if lens.squeeze > 1 and any(joint.takes.positions > 1 for joint in rig.stack.joints):
        yield StepLine("Look at something round: if it leans, the lens sits in the wrong notch.")
    yield StepLine("Then look at the corners, wide open and stopped down, and for a ghost in the middle.")
    if rig.body.kind == "film":
        yield StepLine("Note lens and aperture of each frame: film keeps neither.")
    elif rig.signal.broken_at is not None:
        yield from _noted(rig)
    fastest = min(lens.f_number[0], lens.f_number_at_long_end or lens.f_number[0])
    if max(lens.focal_length_mm) > _LONG_MM or fastest < _FAST:
        yield StepLine(
            "Never point a long or fast lens at the sun, neither with the eye behind it nor with the sensor.",
            caution=True,
        )


def _noted(rig: Assembly) -> Iterator[StepLine]:
    """What the pictures say of the lens: nothing, unless the body reads the fields on its flange."""
    mount, code = rig.stack.body_mount, rig.lens.code
    bare = not rig.adapters and rig.stack.lens_mount is mount
    if not (rig.body.reads_code and code and bare and mount.code is not None):
        yield StepLine("Note what you used: the pictures carry no lens data.")
        return
    profile = next((profile.name for profile in mount.profiles if profile.code == code), None)
    if profile is None:
        yield StepLine(f"No lens is known by the fields on its flange ({code}): note what you used.")
        return
    yield StepLine(
        f"The body takes it for {profile} by the fields on its flange ({code}), and the pictures carry that name: "
        "check what it shows."
    )


# From this focal length, or this stop, a lens gathers enough sunlight to harm an eye or a sensor at once.
_LONG_MM = 100.0
_FAST = 2.0
