"""A card rehearsed on a camera: which of its steps are done, as the camera stands, and what is still in the way."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.practice import Practice
from tropeion.core.rig.deeds import Control, Deed
from tropeion.core.rig.rig_report import StepLine
from tropeion.core.working import tidy

from .state import CameraState, Release

# Without an entry, the stabiliser is not counted on.
_STEADYING: frozenset[Control] = frozenset({"focal_length", "stabiliser", "travel"})


@frozen
class StepSeen:
    """One step of the card. ``seen``: done or not, as the camera stands; ``hand``: no camera can tell."""

    number: int
    text: str
    caution: bool
    stage: str
    controls: tuple[Control, ...]
    seen: Literal["done", "not_yet", "hand"]


@frozen
class Rehearsal:
    """A card beside a camera. ``passed``: every step that shows is done, and the frame is as it should be.

    ``mends`` are the numbers of the steps that mend what is wrong with the last frame, ``next`` the first that is not
    done yet.
    """

    steps: tuple[StepSeen, ...]
    next: int | None
    passed: bool
    says: str
    mends: tuple[int, ...]


def rehearsed(steps: Sequence[StepLine], state: CameraState, practice: Practice) -> Rehearsal:
    """How far a card has come on a camera, and what its last frame lacked."""
    seen = tuple(
        StepSeen(
            number,
            step_line.text,
            step_line.caution,
            step_line.stage,
            tuple(deed.control for deed in step_line.deeds),
            "hand"
            if not step_line.deeds
            else "done"
            if all(is_done(deed, state) for deed in step_line.deeds)
            else "not_yet",
        )
        for number, step_line in enumerate(steps, 1)
    )
    open_steps = [step_seen.number for step_seen in seen if step_seen.seen == "not_yet"]
    wrong = _wrong(state.last, practice)
    mends = tuple(step_seen.number for step_seen in seen if set(step_seen.controls) & set(wrong))
    taken = state.last is not None and state.last.taken
    passed = taken and not wrong and not open_steps
    return Rehearsal(seen, open_steps[0] if open_steps else None, passed, _said(state, wrong, open_steps), mends)


def _wrong(last: Release | None, practice: Practice) -> dict[Control, str]:
    """What is wrong with the last frame, by what mends it."""
    if last is None:
        return {}
    if last.refused is not None:
        return {last.refused.control: last.refused.text}
    skipped = _STEADYING if practice.entry == "skip" else frozenset()
    return {fault.control: fault.text for fault in last.faults if fault.control not in skipped}


def _said(state: CameraState, wrong: dict[Control, str], open_steps: Sequence[int]) -> str:
    last = state.last
    if last is None:
        return "Work through the card on the camera, then press the release."
    if not last.taken:
        return f"The release is refused. {' '.join(wrong.values())}"
    if wrong:
        return f"A frame, but not the one that was meant. {' '.join(wrong.values())}"
    limits = "".join(f" {limit}" for limit in last.limits)
    if open_steps:
        left = f"Step {open_steps[0]} is" if len(open_steps) == 1 else f"{len(open_steps)} steps are"
        return f"The frame is taken; {left} not done.{limits}"
    return f"The frame is taken, and every step that the camera can see is done.{limits}"


def is_done(deed: Deed, state: CameraState) -> bool:
    """Whether a camera stands as a step wants it."""
    match deed.control:
        case "power":
            # Power off is wanted for the swap only; once a lens is attached, the swap itself tells whether it was off.
            on = state.attached is not None
            return state.power and on if deed.value else (not state.swapped_live if on else not state.power)
        case "mounted":
            return state.attached is not None and state.attached.rig == deed.value
        case "exposure":
            return state.exposure in str(deed.value).split(",")
        case "magnifier":
            return state.focused_with == "magnifier" or (state.magnifier > 0 and state.attached is not None)
        case "focus":
            return state.focused_with != ""
        case "store":
            return any(place.name == deed.value for place in state.places)
        case "meter":
            return _alike(state.meter_f_number, deed)
        case "focal_length":
            return _alike(state.focal_length_mm, deed)
        case _:
            return _alike(getattr(state, deed.control), deed)


def _alike(value: object, deed: Deed) -> bool:
    wanted = deed.value
    if isinstance(value, bool) or isinstance(wanted, bool | str) or not isinstance(value, float | int):
        return value == wanted
    return tidy(value - wanted) <= 0 if deed.or_less else math.isclose(value, wanted, abs_tol=1e-6)
