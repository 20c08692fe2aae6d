"""Entries and doubts in words."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Final

from tropeion.core.gear.world import World
from tropeion.core.records.moments import SECOND_US

from .doubts import Doubt
from .log_file import FiledEntry
from .matching import Told
from .offsets import ClockOffset
from .rig_facts import RigReader


def name_of(world: World, id_: str) -> str:
    """What a piece of the log is called; the id where the collection does not have it."""
    for shelf in (world.lenses, world.bodies, world.adapters):
        if id_ in shelf:
            return shelf[id_].name
    return id_


def rig_said(world: World, entry: FiledEntry) -> str:
    """Lens and adapters of an entry."""
    via = "".join(f" · {name_of(world, id_)}" for id_ in entry.via)
    return f"{name_of(world, entry.lens)}{via}"


def settings_said(entry: FiledEntry) -> str:
    """How it was set, in a few words."""
    parts = [
        None if entry.focal_length_mm is None else f"at {entry.focal_length_mm:g} mm",
        None if entry.aperture is None else f"f/{entry.aperture:g}",
        None if entry.distance_m is None else f"{entry.distance_m:g} m",
        entry.support,
        None if entry.frames == 1 or entry.way != "tap" else f"{entry.frames} frames",
        None if entry.frame_number is None else f"frame {entry.frame_number}",
        entry.filter,
    ]
    return ", ".join(part for part in parts if part)


def why_doubtful(told: Told, world: World, rigs: RigReader) -> tuple[str, ...]:
    """The doubts of a picture in words, in their order."""
    return tuple(_why(doubt, told, world, rigs) for doubt in told.doubts)


def _why(doubt: Doubt, told: Told, world: World, rigs: RigReader) -> str:
    picture, entry = told.picture, told.entry
    focal = f"{picture.focal_length_mm:g} mm" if picture.focal_length_mm else ""
    match doubt:
        case "near_change":
            return "A few seconds either way, and it belongs to another setting."
        case "focal_length":
            wanted = None if entry is None else rigs.facts(entry).told_mm(entry.focal_length_mm)
            told_mm = (None if entry is None else entry.told_mm) or wanted
            return f"The file says {focal}" + (
                "." if told_mm is None else f", the body should have said {told_mm:g} mm."
            )
        case "stale_entry":
            lens = "the last lens" if told.previous is None else name_of(world, told.previous.lens)
            return f"The file says {focal}: the body may still have had the value of {lens}."
        case "f_number":
            stop = "" if entry is None or entry.aperture is None else f", the log f/{entry.aperture:g}"
            return f"The file says f/{picture.f_number or 0:g}{stop}."
        case "other_lens":
            return f"The file names another lens: {picture.lens}."
        case "long_gap":
            return "Long after, or long before, what was logged."
        case "clock_jump":
            return "The clock of this camera may have been set meanwhile."
        case "scan_order":
            return "The numbers of the scans and of the log do not agree from here on."


_KNOWN: Final = {
    "stated": "as it was stated",
    "photographed": "by a clock that was photographed",
    "matched": "by the taps that its pictures match",
    "assumed": "assumed: nothing says how its clock runs",
}


def clock_said(clock: ClockOffset, zone_us: int) -> str:
    """How a camera's clock runs, beside the clock on the wall where it was, and how that is known."""
    # A clock on the wall shows the digits of its zone: only what is left of the offset is off.
    off_us = clock.offset_us + (0 if clock.zoned else zone_us)
    seconds = abs(round(off_us / SECOND_US))
    days, left = divmod(seconds, 86_400)
    hours, left = divmod(left, 3600)
    minutes, rest = divmod(left, 60)
    parts = ((days, "d"), (hours, "h"), (minutes, "min"), (rest, "s"))
    length = " ".join(f"{value} {unit}" for value, unit in parts if value)
    runs = f"{length} {'slow' if off_us > 0 else 'fast'}" if seconds else "right"
    return f"{runs}, {_KNOWN[clock.from_]}"


def at_said(at_us: int | None) -> str | None:
    """A moment of the log in ISO 8601."""
    return None if at_us is None else datetime.fromtimestamp(at_us / 1e6, UTC).isoformat(timespec="milliseconds")
