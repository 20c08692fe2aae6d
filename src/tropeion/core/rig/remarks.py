"""What is worth saying about a rig and costs it no grade: traps, contacts, mechanics, settings."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal

from tropeion.core import catalogue, written
from tropeion.core.findings import Remark
from tropeion.core.gear.bodies import Body
from tropeion.core.joints import contacts, coupling
from tropeion.core.joints.mechanics import Load
from tropeion.core.joints.signal import foreign_joints
from tropeion.core.optics import focus
from tropeion.core.optics.coverage import Coverage
from tropeion.core.optics.register import room_mm
from tropeion.core.working import tidy

from .assembly import Assembly
from .ends import Focused
from .marks import shutter_said
from .rig_report import End, Range

FULL_FRAME_MM = 43.27


def remarks_on(
    rig: Assembly, at: Focused, ends: Sequence[End], cover: Coverage, loads: Sequence[Load], ranges: Sequence[Range]
) -> list[Remark]:
    """Everything that caps nothing."""
    return [
        *coupling.judge_conversion(rig.lens, rig.stack.lens_mount),
        *_traps(rig, at),
        *_of_the_contacts(rig, cover),
        *_of_handling(rig, loads),
        *_of_the_shutter(rig, ends),
        *_of_diffraction(rig, at, ends[0]),
        *_of_ranges(rig, ranges),
    ]


# Traps


def wrong_registers(rig: Assembly) -> list[Remark]:
    """Where two systems share a joint and differ in register, from the lens on."""
    traps = []
    for joint in rig.stack.joints:
        front, other, link = joint.gives, joint.takes, joint.link
        if joint.is_trap:
            difference = written.millimetres(room_mm(front, other) or 0.0)
            traps.append(
                catalogue.same_thread_other_register(link, front=front.name, rear=other.name, difference=difference)
            )
    return traps


def _traps(rig: Assembly, at: Focused) -> list[Remark]:
    traps = wrong_registers(rig)
    mounts = rig.world.mounts
    for adapter in rig.adapters:
        for id_ in (adapter.lens_mount, adapter.body_mount):
            mount = mounts[id_]
            for alias in mount.aliases[1:]:
                if re.search(rf"(?<!\w){re.escape(alias)}(?!\w)", adapter.name):
                    traps.append(
                        catalogue.two_names(adapter.id, alias=alias, name=f"{mount.name} ({mount.aliases[0]})")
                    )
    chain = rig.chain
    if rig.adapters and not chain.has_glass and chain.error_mm > 0 and at.infinity.reached and at.reach.far_mm:
        stop = written.aperture(at.usable[0])
        error = written.millimetres(chain.error_mm)
        traps.append(catalogue.ring_long_by_hundredths(rig.adapters[-1].id, error=error, aperture=stop))
    cropped = rig.mode.diagonal_mm < FULL_FRAME_MM - 1
    if cropped and rig.adapters and not chain.has_glass:
        traps.append(catalogue.crop_factor_unchanged(rig.body.id))
    if cropped and rig.lens.image_circle_mm is not None and rig.lens.image_circle_mm < FULL_FRAME_MM - 1:
        traps.append(catalogue.crop_counted_once(rig.lens.id))
    return traps


# Contacts


def _holders(rig: Assembly) -> list[Body]:
    """Bodies of the kit on which the iris could be set and held."""
    lens, world = rig.lens, rig.world
    return [
        body
        for body in world.gear.bodies
        if body.holds_iris
        and body.at_hand
        and not body.retired
        and world.mount_of(body).joint == world.mount_of(lens).joint
        and lens.protocol is not None
        and any(world.speaks(protocol, lens.protocol) for protocol in body.protocols)
    ]


def _of_the_contacts(rig: Assembly, cover: Coverage) -> list[Remark]:
    # What a body that hears nothing asks of its user, each where this body asks it.
    remarks = []
    lens, body, adapters, signal = rig.lens, rig.body, rig.adapters, rig.signal
    if rig.iris.code == "iris_without_power" and lens.iris_at_rest == "stays":
        remarks += [catalogue.iris_hold_and_remove(holder.id, body=holder.name) for holder in _holders(rig)[:1]]
    chipped = [adapter for adapter in adapters if adapter.chip is not None]
    for adapter in chipped:
        if adapter.chip is not None:
            reported = written.aperture(adapter.chip.f_number)
            remarks.append(
                catalogue.chip_reports_fixed_lens(
                    adapter.id, focal_length=f"{adapter.chip.focal_length_mm:g}", aperture=reported
                )
            )
    for adapter in adapters:
        if adapter.firmware and adapter.link in {"pass", "translate"} and signal.broken_at is None:
            remarks.append(catalogue.firmware_matters(adapter.id, name=adapter.name, firmware=adapter.firmware))
    for front, rear in foreign_joints(rig.world, lens, adapters, body):
        remarks.append(catalogue.foreign_contacts(rear.id, front=front.name, rear=rear.name))
    unknown = signal.broken_at is not None
    if unknown and body.kind == "digital":
        if body.bare_release == "never" and not chipped:
            remarks.append(catalogue.release_needs_lens(body.id))
        asks = body.asks_focal_length or body.stabiliser is not None
        if asks and rig.practice.entry == "essential":
            if not chipped:
                remarks.append(catalogue.asks_at_power_on(body.id))
            if lens.is_zoom:
                remarks.append(catalogue.zoom_needs_entries(lens.id))
        if not cover.whole:
            remarks.append(catalogue.crop_by_hand(body.id, mode=cover.mode))
    if rig.avoided:
        remarks.append(catalogue.zoom_avoided(lens.id))
    return remarks


# Handling


def _of_handling(rig: Assembly, loads: Sequence[Load]) -> list[Remark]:
    # A remark for each school that the practice may name; they do not depend on each other.
    remarks = []
    lens, practice = rig.lens, rig.practice
    worst = max(
        (load for load in loads if load.rating_nm),
        key=lambda load: load.moment_nm / (load.rating_nm or 1),
        default=None,
    )
    if practice.heavy == "support" and worst is not None and 0.5 < worst.moment_nm / (worst.rating_nm or 1) <= 1:
        remarks.append(catalogue.support_wanted(worst.link))
    if lens.focus_throw_deg is not None:
        throw = f"{lens.focus_throw_deg:g}"
        if practice.throw == "long" and lens.focus_throw_deg < 100:
            remarks.append(catalogue.throw_short(lens.id, throw=throw))
        elif practice.throw == "short" and lens.focus_throw_deg > 200:
            remarks.append(catalogue.throw_long(lens.id, throw=throw))
    if practice.glass == "avoid" and any(adapter.optics == "correcting" for adapter in rig.adapters):
        remarks.append(catalogue.glass_avoided(next(a.id for a in rig.adapters if a.optics == "correcting")))
    return remarks


# Equivalent focal lengths from here on are hard to hold still.
_SHAKY_MM = 100.0


def _of_the_shutter(rig: Assembly, ends: Sequence[End]) -> list[Remark]:
    """What can be held by hand, at both ends of a zoom; of the stabiliser only where the body has one."""
    remarks: list[Remark] = []
    steadies = rig.body.stabiliser
    if ends[-1].equivalents.focal_mm >= _SHAKY_MM and rig.body.kind == "digital":
        on = ends[-1].steadied_shutter_s is not None
        times = [shutter_said(end.shutter_mark_s) for end in ends]
        shutter = f"{times[0]} s" if len(times) == 1 else f"{times[0]} s at the wide end, {times[1]} s at the long end"
        counted = ", with what the body steadies counted in" if on else ", without the stabiliser" if steadies else ""
        remarks.append(catalogue.shake(rig.body.id, shutter=shutter, steadied=counted))
    entries = [(end, end.stabiliser) for end in ends if end.stabiliser is not None]
    if not entries:
        return remarks
    if rig.practice.entry == "skip":
        return [*remarks, catalogue.stabiliser_not_told(rig.body.id)]
    held = next(((end, entry) for end, entry in entries if entry.held), None)
    if held is not None and steadies is not None:
        end, entry = held
        least, most = steadies.entry_mm
        limits = "presets alone" if entry.held == "preset" else f"{least:g} to {most:g} mm"
        how = "too much" if entry.entry_mm > end.focal_length_mm else "too little"
        focal, value = f"{end.focal_length_mm:.4g}", f"{entry.entry_mm:g}"
        remarks.append(catalogue.stabiliser_entry_held(rig.body.id, limits=limits, entry=value, focal=focal, how=how))
    return remarks


_WAVELENGTH_MM = 0.55e-3


def _of_diffraction(rig: Assembly, at: Focused, wide: End) -> list[Remark]:
    """Said where infinity, or the widest stop there is, takes an aperture whose Airy disc fills the circle."""
    fills = rig.blur_mm / (2.44 * _WAVELENGTH_MM)
    needed = at.infinity.from_f_number
    if needed is None or tidy(max(wide.working_f_number, rig.chain.magnification * needed) - fills) < 0:
        return []
    return [catalogue.diffraction(rig.lens.id, aperture=written.aperture(fills / rig.chain.magnification))]


# Ranges


def ranges_of(rig: Assembly, at: Focused) -> tuple[Range, ...]:
    """What helicoids and filter slots can be set to."""
    chain, nowhere = rig.chain, (None, None)
    ranges = []
    for adapter in rig.adapters:
        if adapter.helicoid_mm:
            # What a short chain lacks is opened at the helicoid, as far as it goes.
            wanted = min(max(0.0, -chain.lens_error_mm), adapter.helicoid_mm)
            ends = (0.0, chain.helicoid_mm)
            closed, opened = (_reach_at(rig, at, open_mm) if rig.stack.known else nowhere for open_mm in ends)
            ranges.append(
                Range(
                    adapter.id,
                    "helicoid",
                    adapter.helicoid_mm,
                    tidy(wanted) if at.reach.state == "to_infinity" else None,
                    *closed,
                    *opened,
                    (),
                )
            )
        slot = adapter.filter_slot
        if slot is not None:
            names = tuple(f"{p.name} (−{p.loss_stops:g} stops)" if p.loss_stops else p.name for p in slot.positions)
            ranges.append(Range(adapter.id, "filter", 0.0, None, None, None, None, None, names))
    return tuple(ranges)


def _reach_at(rig: Assembly, at: Focused, helicoid_mm: float) -> tuple[float | None, float | None]:
    """Near and far limit with the helicoids held open by so much at the sensor; a far limit of infinity is None."""
    if at.travel is None:
        return None, None
    past = rig.lens.past_infinity_mm if contacts.can_be_focused(rig.lens, rig.signal) else 0.0
    opened = helicoid_mm / rig.chain.magnification**2
    short = tidy(rig.chain.lens_error_mm - past + opened)
    long = rig.chain.lens_error_mm + at.travel.travel_mm + opened
    if tidy(long) <= 0:
        return None, None
    near = focus.near_mm(at.marked_mm, at.travel.close_mm, max(short, 0.0), long)
    return near, focus.far_mm(at.marked_mm, at.travel.close_mm, short, long) if short > 0 else None


def _span(near: float | None, far: float | None, units: Literal["metric", "imperial"]) -> str:
    if near is None:
        return "nothing is sharp"
    return f"from {written.distance(near, units)} to {'infinity' if far is None else written.distance(far, units)}"


def _of_ranges(rig: Assembly, ranges: Sequence[Range]) -> list[Remark]:
    remarks = []
    units = rig.practice.distances
    for reach in ranges:
        adapter = rig.world.adapters[reach.link]
        if reach.kind == "helicoid" and reach.near_open_mm is not None:
            closed = _span(reach.near_closed_mm, reach.far_closed_mm, units)
            opened = _span(reach.near_open_mm, reach.far_open_mm, units)
            infinity = "Infinity is out of reach"
            if reach.for_infinity_mm is not None:
                wide = f"open by {written.millimetres(reach.for_infinity_mm)}" if reach.for_infinity_mm else "closed"
                infinity = f"Infinity is with it {wide}"
            remarks.append(catalogue.helicoid_range(reach.link, closed=closed, opened=opened, infinity=infinity))
        slot = adapter.filter_slot
        if reach.kind == "filter" and slot is not None:
            if slot.positions:
                remarks.append(catalogue.filter_positions(reach.link, positions=written.listed(list(reach.positions))))
            if slot.never_clear:
                loss = "an unstated number of" if slot.least_stops is None else f"{slot.least_stops:g}"
                remarks.append(catalogue.no_clear_position(reach.link, loss=loss))
    return remarks
