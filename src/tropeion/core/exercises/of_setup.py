"""Setting up: the next step of the card, the setting that a body lacks, a squeezed picture, a filter for the light."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Final

from tropeion.core.camera.attached import Attached, attached_of
from tropeion.core.camera.release import faults_of, release_of
from tropeion.core.camera.state import CameraState
from tropeion.core.gear.bodies import Body
from tropeion.core.optics.stabiliser import told_to
from tropeion.core.rig.deeds import Control, Deed
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.reporting import report_on
from tropeion.core.rig.rig_report import Stage, StepLine
from tropeion.core.working import PLAIN

from .drafting import Rig, Skill, Trap, about, after, apart, named
from .hand import Hand, stated
from .question import After, AnswerChoice, AskedAbout, Draft, RigShown, SqueezedShown, StepsShown

_RULES: Final = {
    "order": "Prepare, power off, join from the front, lock, power on, set, focus, look: each before the next.",
    "setting": "What the body cannot know of the lens has to be set by hand, and each setting mends one fault.",
    "seat": "A squeezed lens belongs with its squeeze along the width: round things then come out narrow and tall.",
    "filter": "Each stop halves the light: take the weakest filter that is strong enough.",
}
_STAGES: Final[tuple[Stage, ...]] = ("before", "join", "joined", "power_on", "first_frame")
_LATER: Final = {
    "join": "It is joined before that is there.",
    "joined": "Nothing is on the body yet.",
    "power_on": "The power is off while the glass is swapped.",
    "first_frame": "The first frame comes last.",
}


def _working_rigs(hand: Hand, *, squeezed: bool = False) -> Iterator[tuple[Rig, tuple[StepLine, ...], Attached]]:
    for lens, adapters, body in hand.rigs((0, 1, 2)):
        if squeezed and lens.squeeze == 1:
            continue
        judged = assess(hand.world, lens, adapters, body, hand.practice)
        if judged.grade in {"danger", "none"} or not stated(judged, "lens.min_focus_m"):
            continue
        route = report_on(judged)
        assert route.details is not None
        yield (lens, adapters, body), route.details.steps, attached_of(judged, route.details)


def _order(hand: Hand) -> Iterator[Draft]:
    """The steps that are done, and which comes next; wrong ones belong to later stages."""
    for rig, steps, _ in _working_rigs(hand):
        at = hand.chance.randrange(len(steps))
        step = steps[at]
        later = [one for one in steps[at + 1 :] if _STAGES.index(one.stage) > _STAGES.index(step.stage)]
        later += [one for one in steps[at + 1 :] if step.stage == one.stage == "join" and one not in later]
        done = tuple(one.text for one in steps[:at])
        if len({one.text for one in later}) < 2 or step.text in {one.text for one in (*steps[:at], *steps[at + 1 :])}:
            continue
        # Of one stage only joints have an order among themselves.
        wrong = [
            AnswerChoice(f"step-{steps.index(one) + 1}", one.text, After(_LATER.get(one.stage, "It comes later.")))
            for one in hand.some(later)
        ]
        choices = apart(AnswerChoice(f"step-{at + 1}", step.text, After("That is next.")), wrong)
        if choices is None:
            continue
        close = min(steps.index(one) - at for one in later)
        yield Draft(
            trap="order",
            nearness=1 / close if close else 1.0,
            asks=f"{named(*rig)}. {'What do you do first?' if not done else 'What do you do next?'}",
            about=about(*rig),
            choices=tuple(sorted(choices, key=lambda choice: choice.id != f"step-{at + 1}")),
            why=f"{_RULES['order']} Here: {step.text}",
            working=tuple(f"{number}. {one.text}" for number, one in enumerate(steps, 1)),
            shown=StepsShown(done),
            described="The steps that are done, in order.",
            by="order",
        )


def _set_right(body: Body, attached: Attached, steps: Sequence[StepLine]) -> CameraState:
    """A body that is set as its card says."""
    stabiliser = body.stabiliser
    state: dict[str, object] = {
        "body": body.id,
        "attached": attached,
        "iris": "taking",
        "focused_with": "magnifier",
        "meter_f_number": attached.widest_f_number,
        "travel": 0.0,
        "focal_length_mm": attached.focal_length_mm,
    }
    if stabiliser is not None:
        state["focal_length_mm"] = told_to(stabiliser, attached.focal_length_mm, PLAIN)[0]
    for step in steps:
        for deed in step.deeds:
            state |= _put(deed)
    if "exposure" not in state:
        state["exposure"] = (attached.exposure_modes or body.exposure_modes or ("",))[0]
    return CameraState.model_validate(state)


_FIELDS: Final[dict[Control, str]] = {
    "release_without_lens": "release_without_lens",
    "focal_length": "focal_length_mm",
    "travel": "travel",
    "area": "area",
    "squeeze": "squeeze",
    "stabiliser": "stabiliser",
    "meter": "meter_f_number",
}


def _put(deed: Deed) -> dict[str, object]:
    if deed.control == "exposure":
        return {"exposure": str(deed.value).split(",", maxsplit=1)[0]}
    name = _FIELDS.get(deed.control)
    return {} if name is None else {name: deed.value}


# What can be left out on a body, how it is then left, and what the setting is called.
_LEFT: Final[tuple[tuple[Control, str, object, str], ...]] = (
    ("release_without_lens", "release_without_lens", False, "Allow release without a lens"),
    ("focal_length", "focal_length_mm", None, "Enter the focal length"),
    ("exposure", "exposure", None, "Choose an exposure mode that is left"),
    ("squeeze", "squeeze", 1.0, "Desqueeze the picture"),
    ("meter", "meter_f_number", None, "Tell the meter the widest aperture"),
    ("area", "area", "full", "Choose the part of the sensor that the circle covers"),
    ("iris", "iris", "open", "Stop the lens down to the aperture that you want"),
    ("magnifier", "focused_with", "finder", "Focus with the magnifier"),
)
_ALSO: Final = (
    ("stabiliser-off", "Switch the stabiliser off"),
    ("longer", "Take a longer shutter time"),
    ("clean", "Clean the contacts"),
)


def _wrongs(body: Body, state: CameraState) -> set[str]:
    released = release_of(body, state)
    found = () if released.refused is None else (released.refused,)
    return {fault.control for fault in (*found, *faults_of(body, state))}


def _setting(hand: Hand) -> Iterator[Draft]:
    """A body on which one setting was left out: which of the settings mends what it then does."""
    for rig, steps, attached in _working_rigs(hand):
        body = rig[2]
        state = _set_right(body, attached, steps)
        if _wrongs(body, state):
            continue
        for control, field, left, title in hand.some(_LEFT):
            value = left if left is not None else _other(control, body, attached, hand)
            if value is None or getattr(state, field) == value:
                continue
            lacking = state.model_copy(update={field: value})
            refused = release_of(body, lacking).refused
            faults = (refused,) if refused is not None else faults_of(body, lacking)
            if len(faults) != 1 or faults[0] is None:
                continue
            said = faults[0].text
            mends = [(other, name) for other, name in ((c, t) for c, _, _, t in _LEFT) if other != control]
            # A wrong setting, put right again, leaves the fault where it is: that it is right already.
            wrong = [
                AnswerChoice(other, name, After(f"That is as it should be. {said}"))
                for other, name in hand.some(mends)[:3]
            ]
            wrong += [
                AnswerChoice(id_, name, After(f"It does nothing against this. {said}"))
                for id_, name in hand.some(_ALSO)[:1]
            ]
            right = AnswerChoice(control, title, After(f"Then it takes the frame as it should: {said}"))
            yield Draft(
                trap="setting",
                nearness={"power_on": 0.6}.get(control, 0.4 + 0.1 * len(rig[1])),
                asks=f"{named(*rig)}. {_symptom(said, refused is not None)} What do you set?",
                about=about(*rig),
                choices=(right, *wrong),
                why=f"{_RULES['setting']} {said}",
                working=(f"As it stands: {said}", f"With it set: {'nothing is wrong with the frame.'}"),
                shown=RigShown(rig[0].id, tuple(adapter.id for adapter in rig[1]), body.id),
                described=f"{body.name} with the lens on it, seen from the side.",
            )
            break


def _symptom(said: str, refused: bool) -> str:
    if refused:
        return "You press the release, and nothing happens."
    if "shakes" in said:
        return "The stabiliser is on, and yet the frames are shaken."
    if "dark" in said:
        return "The corners of the frame are dark."
    if "squeezed" in said:
        return "Everybody in the frame is narrow and tall."
    if "out of focus" in said or "nearly" in said:
        return "The frame is nearly sharp, and not quite."
    if "wide open" in said:
        return "The frame has far less depth than you wanted."
    if "meter" in said.lower():
        return "Every frame is off by as many stops."
    return "Frames come out too bright or too dark."


def _other(control: Control, body: Body, attached: Attached, hand: Hand) -> object | None:
    """How a setting stands that the last lens left."""
    if control == "focal_length":
        if body.stabiliser is None:
            return None
        return told_to(body.stabiliser, attached.focal_length_mm * hand.chance.choice((0.4, 0.6, 2.0, 3.0)), PLAIN)[0]
    if control == "exposure":
        lost = [mode for mode in body.exposure_modes if mode not in attached.exposure_modes]
        return hand.chance.choice(lost) if lost and attached.exposure_modes else None
    if control == "meter":
        return attached.widest_f_number * 2
    return None


_SEATS: Final = {
    "right": ("It sits as it should", 0),
    "quarter": ("It sits a quarter turn off", 90),
    "little": ("It sits askew, by an eighth of a turn", 45),
}


def _seat(hand: Hand) -> Iterator[Draft]:
    """How a squeezed lens sits, told from a round thing in the picture."""
    for rig, _, _ in _working_rigs(hand, squeezed=True):
        lens, _adapters, body = rig
        mount = hand.world.mount_of(lens)
        if mount.positions < 2 or hand.world.mount_of(body).positions > mount.positions:
            continue
        turned = hand.chance.choice(("right", "quarter"))
        wide, high = (1 / lens.squeeze, 1.0) if turned == "right" else (1.0, 1 / lens.squeeze)
        texts = {id_: text for id_, (text, _) in _SEATS.items()}
        texts["desqueeze"] = "It sits as it should, and the desqueeze is set the wrong way"
        texts["tell"] = "A round thing does not tell it"
        says = f"Squeezed by {lens.squeeze:g} ×, a round thing is {wide:.2f} wide and {high:.2f} high."
        wrong = [AnswerChoice(id_, text, after(says)) for id_, text in texts.items() if id_ != turned]
        yield Draft(
            trap="seat",
            nearness=1 / lens.squeeze,
            asks=f"{named(*rig)}, its desqueeze off. A round thing comes out like this. How does the lens sit?",
            about=about(*rig),
            choices=(AnswerChoice(turned, texts[turned], after(says)), *wrong),
            why=f"{_RULES['seat']} {says}",
            working=(f"Squeeze {lens.squeeze:g} ×: 1 / {lens.squeeze:g} = {1 / lens.squeeze:.2f} along it.",),
            shown=SqueezedShown(wide, high),
            described="A round thing, as it came out in the picture.",
        )


def _filter(hand: Hand) -> Iterator[Draft]:
    """Which place of a wheel or drawer brings an exposure back into what the body can do."""
    for ring in hand.adapters():
        slot = ring.filter_slot
        if slot is None or len(slot.positions) < 2:
            continue
        losses = sorted({position.loss_stops for position in slot.positions})
        for over in hand.some((0.5, 1.5, 2.5, 3.5, 4.5, 5.5)):
            enough = [loss for loss in losses if loss >= over]
            if not enough or len(losses) < 3 or any(abs(loss - over) < 0.2 for loss in losses):
                continue
            by = enough[0]
            places = {position.loss_stops: position.name for position in slot.positions}
            says = f"{over:g} stops too bright: {places[by]}, {by:g} stops."
            chosen = [
                AnswerChoice(f"place-{loss:g}", f"{places[loss]} ({loss:g} stops)", After(_enough(loss, over, by)))
                for loss in losses
            ]
            right = next(choice for choice in chosen if choice.id == f"place-{by:g}")
            choices = apart(right, [choice for choice in chosen if choice is not right])
            if choices is None:
                continue
            yield Draft(
                trap="filter",
                nearness=1 / (1 + min(abs(loss - over) for loss in losses)),
                asks=f"{ring.name}. At the aperture and the time that you want, the frame is {over:g} stops too "
                f"bright. "
                "Which is the weakest place that is enough?",
                about=AskedAbout(adapters=(ring.id,)),
                choices=choices,
                why=f"{_RULES['filter']} {says}",
                working=tuple(
                    f"{places[loss]}: 2^{loss:g} = {math.pow(2, loss):.0f} times less light." for loss in losses
                ),
                shown=StepsShown(tuple(f"{places[loss]}: {loss:g} stops" for loss in losses)),
                described="The places of the filter wheel or drawer, with what each takes.",
            )
            break


def _enough(loss: float, over: float, by: float) -> str:
    if loss < over:
        return f"The frame stays {over - loss:g} stops too bright."
    return "It is enough." if loss == by else f"It is {loss - over:g} stops more than wanted."


SETUP = Skill(
    "Setting up",
    "What comes next?",
    "how many steps lie between the right one and the nearest wrong one, how near the stops are",
    {
        "order": Trap("Locks, seats and power in order", _RULES["order"], _order),
        "setting": Trap("A setting that was left out", _RULES["setting"], _setting),
        "seat": Trap("A quarter turn", _RULES["seat"], _seat),
        "filter": Trap("A filter for the light", _RULES["filter"], _filter),
    },
)
