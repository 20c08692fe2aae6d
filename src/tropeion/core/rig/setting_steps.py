"""The steps at power-on: what is entered, allowed and stored in the body."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tropeion.core.findings import Finding, Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Stabiliser
from tropeion.core.gear.rig import Rig
from tropeion.core.joints.signal import identifies_itself
from tropeion.core.optics.stabiliser import StabiliserEntry, travel_step
from tropeion.core.written import listed, short_name

from .assembly import Assembly
from .deeds import Deed
from .menus import place_of, setting_of, stabiliser_mode_of, stabiliser_modes_of, turns_to_film
from .rig_report import End, Range, StepLine


@frozen
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


def _setting(rig: Assembly, what: str) -> str:
    """Where the body has a setting, for the use and the menus at hand."""
    place = place_of(rig.body, what, rig.practice)
    return f" ({place})" if place else ""


def power_and_set(rig: Assembly, told: StepsTold) -> Iterator[StepLine]:
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
    if not rig.mode.whole and not (rig.mode.automatic and identifies_itself(rig.signal)):
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
            "The image circle, as measured, leaves the stabiliser no room: switch it off.", deeds=(Deed("travel", 0.0),)
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
            # An unknown image circle gives no prediction of dark corners.
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
