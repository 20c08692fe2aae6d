"""Mounting and setting up, in order: prepare, join, verify, power, set, focus, check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

from tropeion.core.findings import Finding, Grade
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Stabiliser
from tropeion.core.gear.changed import change_in, part_of
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import held_in, is_spacer
from tropeion.core.gear.rig import Rig
from tropeion.core.joints import contacts
from tropeion.core.joints.mechanics import feet_of
from tropeion.core.optics.stabiliser import StabiliserEntry, travel_step
from tropeion.core.words import word
from tropeion.core.written import aperture, listed, millimetres, short_name

from .assembly import Assembly
from .deeds import Deed
from .ends import turned_for
from .menus import place_of, setting_of, stabiliser_mode_of, stabiliser_modes_of, turns_to_film
from .rig_report import End, Range, Stage, StepLine
from .verdict import unknown_mounts


@dataclass(frozen=True, slots=True)
class StepsTold:
    """What a rig was told of before its steps: what the coupling wants, the modes left, ends, ranges, findings."""

    grade: Grade
    actions: Sequence[str]
    ring_at: Sequence[str]
    after_mounting: Sequence[str]
    exposure_modes: Sequence[str]
    ends: Sequence[End]
    ranges: Sequence[Range]
    findings: Sequence[Finding]


def steps_of(rig: Assembly, told: StepsTold) -> tuple[StepLine, ...]:
    """Steps from the safe action to the first frame; for a rig that does not work, only what stops it."""
    if told.grade in {"danger", "none"}:
        return tuple(StepLine(f.text, caution=True) for f in told.findings if f.grade_cap == told.grade)
    stages: tuple[tuple[Stage, Iterable[StepLine]], ...] = (
        ("before", (StepLine(action, caution=True) for action in told.actions)),
        ("before", _prepare(rig, told)),
        ("join", _join(rig)),
        ("joined", _joined(rig, told)),
        ("power_on", _power_and_set(rig, told)),
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


def _setting(rig: Assembly, what: str) -> str:
    """Where the body has a setting, for the use and the menus at hand."""
    place = place_of(rig.body, what, rig.practice)
    return f" ({place})" if place else ""


def _power_and_set(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    # The order of the steps is the answer; each asks one thing of the body and stands where a hand would do it.
    lens, body, adapters = rig.lens, rig.body, rig.adapters
    known = rig.signal.broken_at is None
    if body.kind == "film":
        if body.meters and adapters:
            widest = lens.f_number[0]
            text = "Tell the meter the widest aperture of this lens, where it asks for it."
            yield StepLine(text, deeds=(Deed("meter", widest),))
        if set(told.exposure_modes) < set(body.exposure_modes):
            yield from _exposure(rig, told)
        yield from _metered(rig, told)
        return
    if rig.practice.use == "film" and turns_to_film(body):
        yield StepLine("Turn the body to film" + _setting(rig, "use") + ".", deeds=(Deed("use", "film"),))
    if not known:
        yield from _release(rig)
    if any(end.stabiliser is not None for end in told.ends) or not known:
        yield from _entered(rig, told)
    else:
        yield from _steadied(rig, on=True)
    if not rig.mode.whole and not (rig.mode.automatic and contacts.identifies_itself(rig.signal)):
        place = _setting(rig, "mode") or _setting(rig, "crop")
        yield StepLine(f"Set the mode {rig.mode.name}{place}.", deeds=(Deed("area", rig.mode.name),))
    if not known or set(told.exposure_modes) < set(body.exposure_modes):
        yield from _exposure(rig, told)
    yield from _metered(rig, told)
    if lens.squeeze > 1 and lens.squeeze in body.desqueeze:
        place = _setting(rig, "desqueeze")
        text = f"Set the desqueeze to {lens.squeeze:g} ×{place}."
        yield StepLine(text, deeds=(Deed("squeeze", lens.squeeze),))


def _metered(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    """Where the meter lies unless it is used as the coupling, or a ring without any, wants it."""
    codes = {finding.code for finding in told.findings}
    if "no_metering" in codes:
        yield StepLine("The body does not meter with this lens: measure by hand, or by the picture.")
    elif "stop_down_metering" in codes or (
        rig.body.kind == "film" and rig.body.meters and rig.adapters and rig.iris.state == "by_hand"
    ):
        yield StepLine("Meter stopped down, at the taking aperture: wide open the meter lies.")


def _exposure(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    modes = told.exposure_modes
    if not modes and "exposure_modes" in rig.body.assumed:
        yield StepLine("Set the exposure to manual; see whether your body meters in aperture priority too.")
    if modes:
        said = listed([EXPOSURE_MODES.get(mode, mode) for mode in modes], "or")
        yield StepLine(f"Set the exposure to {said}.", deeds=(Deed("exposure", ",".join(modes)),))


EXPOSURE_MODES = {"P": "program", "A": "aperture priority", "S": "shutter priority", "M": "manual"}


def _release(rig: Assembly) -> Iterator[StepLine]:
    if any(adapter.chip is not None for adapter in rig.adapters):
        return
    if "bare_release" in rig.body.assumed:
        yield StepLine("See whether it fires: if it does not, look in the menus for release without a lens.")
    elif rig.body.bare_release == "off":
        text = f"Allow release without a lens{_setting(rig, 'bare_release')}."
        yield StepLine(text, deeds=(Deed("release_without_lens", value=True),))
    elif rig.body.bare_release == "never":
        yield StepLine("This body releases only with a lens it recognises: a chipped adapter is needed.", caution=True)


def _entered(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
    body = rig.body
    if rig.practice.entry == "skip":
        return
    entries = [end.stabiliser for end in told.ends if end.stabiliser is not None]
    if entries:
        yield from _stabiliser(rig, entries)
    elif "stabiliser" in body.assumed:
        asks = f"if it asks for a focal length, enter {_focals(told)} mm, the actual one"
        yield StepLine(f"See whether your body is stabilised: {asks}.")
    elif body.asks_focal_length and body.stabiliser is None:
        focal = told.ends[0].focal_length_mm
        yield StepLine(
            f"Enter {focal:g} mm as the focal length{_setting(rig, 'focal_length')}.",
            deeds=(Deed("focal_length", focal),),
        )


def _focals(told: StepsTold) -> str:
    return listed(list(dict.fromkeys(f"{end.focal_length_mm:g}" for end in told.ends)), "to")


def _stabiliser(rig: Assembly, entries: Sequence[StabiliserEntry]) -> Iterator[StepLine]:
    body, entry = rig.body, entries[0]
    focal = listed(list(dict.fromkeys(f"{entry.entry_mm:g}" for entry in entries)), "to")
    again = " Enter it again at each zoom setting, and do not zoom during a take." if rig.lens.is_zoom else ""
    yield StepLine(
        f"Enter {focal} mm for the stabiliser{_setting(rig, 'focal_length')}: the actual focal length, "
        f"not the equivalent.{again}",
        deeds=(Deed("focal_length", entry.entry_mm),),
    )
    stabiliser = body.stabiliser
    if stabiliser is None:
        return
    yield from _squeeze_told(rig, stabiliser)
    if stabiliser.stored_lenses:
        name = stored_name(rig)
        yield StepLine(
            f"Store it as a named lens, “{name}”, so that it can be called up again "
            f"({stabiliser.stored_lenses} places).",
            deeds=(Deed("store", name),),
        )
    yield from _steadied(rig, on=entry.on)
    yield from _travel(stabiliser, entry)


def _squeeze_told(rig: Assembly, stabiliser: Stabiliser) -> Iterator[StepLine]:
    """What a stabiliser has to know besides: across, a squeezed lens moves the picture less."""
    if rig.lens.squeeze <= 1 or stabiliser.squeeze is False:
        return
    if stabiliser.squeeze:
        yield StepLine(f"Enter the squeeze for the stabiliser, {rig.lens.squeeze:g} ×.")
    else:
        yield StepLine(f"See whether the stabiliser asks for the squeeze, {rig.lens.squeeze:g} ×: that is not stated.")


def _steadied(rig: Assembly, *, on: bool) -> Iterator[StepLine]:
    """The stabiliser's mode for the use at hand, where there is more than one."""
    body = rig.body
    mode = stabiliser_mode_of(body, rig.practice)
    if mode is None or not on or len(stabiliser_modes_of(body)) < 2:
        return
    setting = setting_of(body, "stabiliser_mode", rig.practice)
    where = "" if setting is None else f" ({place_of(body, 'stabiliser_mode', rig.practice)})"
    yield StepLine(f"Set the stabiliser to {mode}{where}.", deeds=(Deed("stabiliser", mode),))


def _travel(stabiliser: Stabiliser, entry: StabiliserEntry) -> Iterator[StepLine]:
    """How far the sensor may move; where the circle is only stated, the corners are looked at first."""
    clean = 0.0 if entry.travel_fraction is None else travel_step(entry.travel_fraction, stabiliser.travel_steps)
    if not entry.on:
        yield StepLine(
            "The image circle, as measured, leaves the stabiliser no room: switch it off.",
            deeds=(Deed("travel", 0.0),),
        )
    elif entry.decided and entry.travel_step is not None and entry.travel_step < 1:
        yield StepLine(
            f"The image circle, as measured, leaves room for {entry.travel_step:.0%} of its travel: set that.",
            deeds=(Deed("travel", entry.travel_step, or_less=True),),
        )
    elif entry.look_at_corners:
        yield StepLine(
            "Leave the stabiliser its full travel, and look at the corners at the ends of it; if they darken, go down "
            "a step. The image circle is not measured, and is mostly wider than it is said to be.",
            # A circle that nobody knows darkens nothing that anybody could foresee.
            deeds=() if entry.travel_fraction is None else (Deed("travel", clean, or_less=True),),
        )


def name_of(rig: Assembly) -> str:
    """The name of a rig, by lens, body and adapters."""
    return Rig.of(rig.lens.id, rig.body.id, [adapter.id for adapter in rig.adapters]).id


def stored_name(rig: Assembly, at_mm: float | None = None) -> str:
    """The name of a stored lens: the lens and what it stands on, within what the body's names hold.

    ``at_mm`` is the setting of a zoom; its wide end unless it is said.
    """
    most = None if rig.body.stabiliser is None else rig.body.stabiliser.name_length
    at = (at_mm or rig.lens.focal_length_mm[0]) if rig.lens.is_zoom else None
    return short_name(rig.lens.name, [adapter.name for adapter in rig.adapters], most, at)


def _focus(rig: Assembly, ranges: Sequence[Range]) -> Iterator[StepLine]:
    body = rig.body
    for this_range in ranges:
        if this_range.kind == "helicoid" and this_range.for_infinity_mm is not None:
            name = rig.world.adapters[this_range.link].name
            setting = (
                f"open it by {millimetres(this_range.for_infinity_mm)}" if this_range.for_infinity_mm else "close it"
            )
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
    return rig.movable and (rig.signal.broken_at is not None or not contacts.has(rig.lens, "autofocus"))


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


# From here on a lens gathers enough of the sun to harm an eye or a sensor at once.
_LONG_MM = 100.0
_FAST = 2.0
