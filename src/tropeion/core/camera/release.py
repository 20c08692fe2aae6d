"""What comes of pressing the release, as a camera stands with what is on it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from tropeion.core import written
from tropeion.core.gear.bodies import Body
from tropeion.core.optics import modes
from tropeion.core.optics.stabiliser import told_to, travel_fraction
from tropeion.core.practice import Practice
from tropeion.core.rig.menus import stabiliser_mode_of, stabiliser_modes_of
from tropeion.core.working import PLAIN, tidy

from .attached import Attached
from .state import CameraState, Fault, Release


def release_of(body: Body, state: CameraState) -> Release:
    """Refused with its reason, or a frame with all that is wrong with it."""
    refused, lens = _refused(body, state), state.attached
    if refused is not None or lens is None:
        return Release(taken=False, refused=refused)
    return Release(taken=True, faults=faults_of(body, state), limits=tuple(_limits(body, state, lens)))


def faults_of(body: Body, state: CameraState) -> tuple[Fault, ...]:
    """What is wrong with the picture in the finder, as with the frame: nothing where there is no picture."""
    lens = state.attached
    if lens is None or not state.power:
        return ()
    return (
        *_handling(state),
        *_steadiness(body, state, lens),
        *_coverage(body, state, lens),
        *_exposure(body, state, lens),
        *_sharpness(body, state, lens),
    )


def _refused(body: Body, state: CameraState) -> Fault | None:
    lens = state.attached
    if not state.power:
        return Fault(control="power", text="The camera is off.")
    if lens is None:
        return Fault(control="mounted", text="Another lens is on it still.")
    if lens.recognised or body.kind == "film":
        return None
    if body.bare_release == "never":
        return Fault(control="mounted", text="It releases only with a lens that it recognises.")
    if body.bare_release == "off" and not state.release_without_lens:
        return Fault(control="release_without_lens", text="It sees no lens, and release without a lens is not allowed.")
    return None


def _handling(state: CameraState) -> Iterator[Fault]:
    if state.swapped_live:
        yield Fault(
            control="power",
            text="It was swapped with the power on: contacts slide over each other live, and it asked nothing.",
        )


def _steadiness(body: Body, state: CameraState, lens: Attached) -> Iterator[Fault]:
    stabiliser, told = body.stabiliser, state.focal_length_mm
    if stabiliser is None:
        if body.asks_focal_length and not lens.identified and tidy(told - lens.focal_length_mm):
            yield Fault(
                control="focal_length",
                text=f"It is noted as taken at {told:g} mm, the last lens's; this one has {lens.focal_length_mm:g} mm.",
            )
        return
    if state.travel == 0:
        return
    wanted, _ = told_to(stabiliser, lens.focal_length_mm, PLAIN)
    if not lens.identified and tidy(told - wanted):
        much = "too much" if told > wanted else "too little"
        yield Fault(
            control="focal_length",
            text=f"The stabiliser works for {told:g} mm, this lens wants {wanted:g} mm: it moves {much}, "
            "and the picture shakes.",
        )
    mode = stabiliser_mode_of(body, Practice(use=state.use))
    if mode is not None and len(stabiliser_modes_of(body)) > 1 and state.stabiliser != mode:
        yield Fault(
            control="stabiliser",
            text=f"The stabiliser stands at {state.stabiliser}, not at {mode}: it does not steady this.",
        )


def _area(body: Body, state: CameraState, lens: Attached) -> modes.FormatMode:
    """The part of the sensor in use: where the body switches by itself, it has done so."""
    offered = modes.modes_of(body, state.use)
    chosen, covered = modes.choose_mode(offered, lens.image_circle_mm)
    if lens.identified and covered and chosen.automatic:
        return chosen
    return next((format_mode for format_mode in offered if format_mode.name == state.area), offered[0])


def _coverage(body: Body, state: CameraState, lens: Attached) -> Iterator[Fault]:
    circle, area = lens.image_circle_mm, _area(body, state, lens)
    if circle is None:
        return
    if tidy(circle - area.diagonal_mm) < 0:
        better, covered = modes.choose_mode(modes.modes_of(body, state.use), circle)
        if covered:
            yield Fault(control="area", text=f"The corners are dark: a circle of {circle:.1f} mm wants {better.name}.")
    elif body.stabiliser is not None and not lens.identified:
        clean = travel_fraction(circle, area.width_mm, area.height_mm, body.stabiliser.travel_mm)
        if tidy(state.travel - clean) > 0:
            yield Fault(
                control="travel", text="The corners go dark at the ends of the stabiliser's travel: go down a step."
            )


def _exposure(body: Body, state: CameraState, lens: Attached) -> Iterator[Fault]:
    left = lens.exposure_modes
    if left and body.exposure_modes and state.exposure not in left:
        allowed = written.listed(left, "or")
        yield Fault(
            control="exposure",
            text=f"{state.exposure} sets an aperture that this camera cannot move: too bright or too dark. "
            f"{allowed} works.",
        )
    metered = body.kind == "film" and body.meters and lens.adapted
    if metered and tidy(state.meter_f_number - lens.widest_f_number):
        off = 2 * math.log2(lens.widest_f_number / state.meter_f_number) if state.meter_f_number else None
        by = "" if off is None else f": {abs(off):.1f} stops too {'bright' if off > 0 else 'dark'}"
        yield Fault(
            control="meter",
            text=f"The meter reckons with the last lens's widest aperture, not with "
            f"{written.aperture(lens.widest_f_number)}{by}.",
        )
    if lens.iris == "by_hand" and state.iris == "open":
        yield Fault(control="iris", text=f"It was taken wide open, at {written.aperture(lens.widest_f_number)}.")
    if lens.squeeze in body.desqueeze and tidy(state.squeeze - lens.squeeze):
        yield Fault(control="squeeze", text=f"Finder and picture are squeezed: desqueeze by {lens.squeeze:g} ×.")


def _sharpness(body: Body, state: CameraState, lens: Attached) -> Iterator[Fault]:
    if lens.focused_by != "hand":
        return
    if state.focused_with == "":
        yield Fault(control="focus", text="The ring stands where it stood: it is out of focus.")
    elif state.focused_with == "finder" and body.kind == "digital" and "magnifier" in body.focus_aids:
        said = " Peaking marked edges, and edges show before they are sharp." if state.peaking else ""
        yield Fault(
            control="magnifier", text=f"Focused by the small picture alone: nearly, not quite.{said} Use the magnifier."
        )


def _limits(body: Body, state: CameraState, lens: Attached) -> Iterator[str]:
    circle = lens.image_circle_mm
    _, covered = modes.choose_mode(modes.modes_of(body, state.use), circle)
    if not covered:
        yield "Its corners are dark in every mode of this body."
    if circle is None:
        yield "Nobody knows its image circle: look at the corners."
    if lens.squeeze > 1 and lens.squeeze not in body.desqueeze:
        yield f"This body does not desqueeze by {lens.squeeze:g} ×: the finder stays squeezed."
    if lens.focused_by == "nothing":
        yield "Nothing moves its focus."
