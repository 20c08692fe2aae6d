"""What a set-up says first: what is set on the camera, and whether the rig wants a support."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final

from tropeion.core import written
from tropeion.core.findings import Grade, works
from tropeion.core.gear.bodies import Body
from tropeion.core.joints.balance import Balance
from tropeion.core.rig.deeds import Deed
from tropeion.core.rig.rig_report import StepLine
from tropeion.core.rig.setting_steps import EXPOSURE_MODES

# Body fields that are not stated and that the card asks for.
_ASKED: Final = frozenset({"bare_release", "exposure_modes", "stabiliser"})


def camera_says(grade: Grade, sentence: str, steps: Sequence[StepLine], body: Body) -> str:
    """What is set on the camera, in the order in which it is done; of a rig that fails what stops it."""
    if not works(grade):
        return sentence
    deeds = [deed for step in steps for deed in step.deeds]
    said = [name for deed in deeds if (name := _SET.get(deed.control, _nothing)(deed)) is not None]
    asks = bool(_ASKED & set(body.assumed))
    if not said:
        return "What is to be set on the camera is not stated: the card asks it." if asks else _NOTHING
    rest = " The rest is not stated: the card asks it." if asks else ""
    return f"On the camera: {written.listed(list(dict.fromkeys(said)))}.{rest}"


_NOTHING: Final = "Nothing has to be set on the camera."


def _nothing(_: Deed) -> None:
    return None


def _exposure_said(deed: Deed) -> str:
    modes = str(deed.value).split(",")
    return "manual exposure" if modes == ["M"] else " or ".join(EXPOSURE_MODES.get(mode, mode) for mode in modes)


_SET: Final[dict[str, Callable[[Deed], str | None]]] = {
    "use": lambda _: "film",
    "release_without_lens": lambda _: "release without a lens",
    "focal_length": lambda deed: f"{deed.value:g} mm for the stabiliser",
    "area": lambda deed: f"the mode {deed.value}",
    "squeeze": lambda deed: f"desqueeze {deed.value:g} ×",
    "exposure": _exposure_said,
}


def support_says(balance: Balance, body: Body, names: dict[str, str]) -> str:
    """Whether a joint wants a support, as the rig is held, in words; the moments stand with the working."""
    over = [names[joint.joint] for joint in balance.joints if joint.over]
    if over:
        return f"Support it: more than the rated load hangs on the joint at {written.listed(over)}."
    if any(joint.moment_nm is None and not joint.supported for joint in balance.joints):
        unweighed = written.listed([names[id_] for id_ in balance.unknown])
        return "Whether it needs a support is not known" + (f": nobody weighed {unweighed}." if unweighed else ".")
    if any(joint.rating_nm is None and not joint.supported for joint in balance.joints):
        return "Whether it needs a support is not known: not every joint has a rated load."
    held = balance.held_by.link
    return "It needs no support." if held == body.id else f"Held by {names[held]}, it needs no other support."
