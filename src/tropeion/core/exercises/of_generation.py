"""Generations of a mount: what may be put on what, from what is seen of a lens.

A lens is made up whose parts are known; what is asked is what those parts do on a body of its system.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Final

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.mounts import Feature, Mount
from tropeion.core.joints.contacts import Metering
from tropeion.core.joints.coupling import matching_rules, worst_rule
from tropeion.core.joints.key import identify
from tropeion.core.joints.key_builds import KeyBuild, builds_of
from tropeion.core.joints.key_report import Answer, MayMount

from .drafting import Rig, Skill, Trap, after
from .hand import Hand
from .question import After, AnswerChoice, AskedAbout, Draft, MarksShown

_ANSWERS: Final = {
    "damage": "never",
    "safe_after": "after",
    "inspect": "inspect",
    "no_metering": "as_is",
    "stop_down_metering": "as_is",
    "meters": "as_is",
}
_TEXTS: Final = {
    "as_is": "Yes, as it is",
    "after": "Yes, once something on the body is put out of the way",
    "inspect": "Only after a close look at the flange",
    "never": "Never: something would break",
    "unknown": "It cannot be known yet",
}
_WRONG: Final = {
    "as_is": "Put on without a thought, it would do this: {truth}",
    "after": "There is nothing to put out of the way that would help.",
    "inspect": "A look at the flange decides nothing here.",
    "never": "It would have been left at home for nothing.",
    "unknown": "What was seen is enough to tell.",
}


@frozen
class _Lens:
    """A lens of a known build before a body of its system."""

    mount: Mount
    features: Mapping[str, Feature]
    builds: tuple[KeyBuild, ...]
    build: KeyBuild
    body: Body
    body_parts: frozenset[str]

    def effect(self, parts: frozenset[str]) -> str | None:
        """What such parts do on the body; None where nothing is said of them."""
        rule = worst_rule(matching_rules(self.mount, parts, self.body_parts))
        return None if rule is None else _ANSWERS[rule.effect]

    @property
    def truth(self) -> str | None:
        return self.effect(frozenset(self.build.parts))

    @property
    def shared(self) -> float:
        """How much of what is seen it shares with the nearest build that does something else here."""
        own = set(self.build.parts)
        others = [set(other.parts) for other in self.builds if self.effect(frozenset(other.parts)) != self.truth]
        return max((len(own & other) / len(own | other) for other in others if own | other), default=0.0)


def _lenses(hand: Hand) -> Iterator[_Lens]:
    world = hand.world
    bodies: dict[str, list[Body]] = {}
    for body in hand.bodies():
        bodies.setdefault(body.mount, []).append(body)
    for mount in hand.mounts():
        features = {feature.id: feature for feature in mount.features if feature.side == "lens"}
        if not (mount.rules and features):
            continue
        parts = {generation.id: frozenset(generation.body_features) for generation in mount.generations}
        builds = tuple(builds_of(world, mount, "lens"))
        pairs = [(build, body) for build in builds for body in bodies.get(mount.id, ()) if body.generation in parts]
        for build, body in hand.some(pairs):
            yield _Lens(mount, features, builds, build, body, parts[body.generation or ""])


def _answers(lens: _Lens, only: frozenset[str] | None = None) -> dict[str, Answer]:
    """What is seen of it: of every honest part, or of some, whether it is there."""
    return {
        id_: "yes" if id_ in lens.build.parts else "no"
        for id_, feature in lens.features.items()
        if not feature.misleading and (only is None or id_ in only)
    }


def _may(hand: Hand, lens: _Lens, answers: Mapping[str, Answer]) -> MayMount | None:
    report = identify(hand.world, lens.mount.id, answers)
    return next((may for may in report.may_mount if may.body == lens.body.id), None)


def _described(lens: _Lens) -> str:
    return f"The mount face of a lens of {lens.mount.name}, with the parts that are named in the question."


def _seen(lens: _Lens, answers: Mapping[str, Answer]) -> str:
    yes, no = (
        written.listed([lens.features[id_].label for id_, answer in answers.items() if answer == wanted])
        for wanted in ("yes", "no")
    )
    said = [f"You see: {yes}." if yes else "", f"Looked for, and not there: {no}." if no else ""]
    return " ".join(sentence for sentence in said if sentence)


def _draft(
    hand: Hand, trap: str, lens: _Lens, answers: Mapping[str, Answer], right: str, truth: str, why: str
) -> Draft:
    ids = ("as_is", "after", "inspect", "never", "unknown")
    wrong = [AnswerChoice(id_, _TEXTS[id_], After(_WRONG[id_].format(truth=truth))) for id_ in ids if id_ != right]
    rules = [rule.text for rule in matching_rules(lens.mount, frozenset(lens.build.parts), lens.body_parts)]
    rig = _on_body(hand, lens)
    wrong = [replace(choice, after=after(choice.after.says, rig)) for choice in wrong]
    return Draft(
        trap=trap,
        nearness=lens.shared,
        asks=f"A lens of {lens.mount.name}. {_seen(lens, answers)} May it go onto {lens.body.name}?",
        about=AskedAbout(body=lens.body.id, mount=lens.mount.id),
        choices=(AnswerChoice(right, _TEXTS[right], after(truth, rig)), *wrong),
        why=why,
        working=(f"It is of generation {lens.build.label}.", *dict.fromkeys(rules)) if right != "unknown" else (truth,),
        shown=_shown(lens, answers),
        described=_described(lens),
    )


def _on_body(hand: Hand, lens: _Lens) -> Rig | None:
    """A lens of the collection that is built so, on the body: what is drawn once the answer was given."""
    for other in hand.world.gear.lenses:
        stated = (
            other.features is None and other.generation == lens.build.generation.id and lens.build.conversion == "none"
        )
        parts = lens.build.generation.lens_features if stated else other.features
        if other.mount == lens.mount.id and parts is not None and set(parts) == set(lens.build.parts):
            return other, (), lens.body
    return None


def _shown(lens: _Lens, answers: Mapping[str, Answer]) -> MarksShown:
    yes, no = (tuple(id_ for id_, answer in answers.items() if answer == wanted) for wanted in ("yes", "no"))
    return MarksShown(lens.mount.id, yes, no)


def _known(hand: Hand, trap: str, wanted: frozenset[str], *, misled: bool = False) -> Iterator[Draft]:
    """Everything was looked for: the rules of the mount say what comes of it."""
    for lens in _lenses(hand):
        right = lens.truth
        if right is None or right not in wanted:
            continue
        answers = _answers(lens)
        if misled:
            false = [id_ for id_, f in lens.features.items() if f.misleading and id_ not in lens.build.parts]
            if not false:
                continue
            answers[hand.chance.choice(false)] = "yes"
        may = _may(hand, lens, answers)
        if may is None or _ANSWERS.get(may.effect) != right:
            continue
        truth = may.text if may.action is None else f"{may.text} {may.action}"
        yield _draft(hand, trap, lens, answers, right, truth, f"{_RULES[trap]} {truth}")


def _unknown(hand: Hand) -> Iterator[Draft]:
    """Part of it was looked for, and what breaks is still possible."""
    for lens in _lenses(hand):
        honest = [id_ for id_, feature in lens.features.items() if not feature.misleading]
        some = frozenset(hand.chance.sample(honest, hand.chance.randint(1, max(1, len(honest) // 2))))
        answers = _answers(lens, some)
        may = _may(hand, lens, answers)
        if may is None or may.look is None or "nothing_known" in {verdict.effect for verdict in may.verdicts}:
            continue
        # By the parts alone: what goes with all that was seen does more than one thing on this body.
        effects = {
            lens.effect(frozenset(build.parts))
            for build in lens.builds
            if all((id_ in build.parts) == (answer == "yes") for id_, answer in answers.items())
        }
        if len(effects) < 2 or None in effects:
            continue
        look = lens.features[may.look].label
        truth = f"It may still be of generations that differ on {lens.body.name}. Look first for this: {look}."
        yield _draft(hand, "unknown", lens, answers, "unknown", truth, f"{_RULES['unknown']} {truth}")


def _first(hand: Hand) -> Iterator[Draft]:
    """Which part to look at first: one tells, the others are the same on all that it may be, or mislead."""
    for lens in _lenses(hand):
        honest = [id_ for id_, feature in lens.features.items() if not feature.misleading]
        answers = _answers(lens, frozenset(hand.chance.sample(honest, hand.chance.randint(0, len(honest) // 2))))
        may = _may(hand, lens, answers)
        if may is None or may.look is None:
            continue
        left = [
            build
            for build in lens.builds
            if all((id_ in build.parts) == (answer == "yes") for id_, answer in answers.items())
        ]
        untold = [id_ for id_ in lens.features if id_ not in answers and id_ != may.look]
        idle = [
            id_ for id_ in untold if lens.features[id_].misleading or len({id_ in build.parts for build in left}) == 1
        ]
        if len({lens.effect(frozenset(build.parts)) for build in left}) < 2 or len(idle) < 2:
            continue
        if len({may.look in build.parts for build in left}) < 2:
            continue
        wrong = [
            AnswerChoice(
                id_,
                lens.features[id_].label,
                After(
                    "It misleads: it was put on by others, or left off, on lenses of every kind."
                    if lens.features[id_].misleading
                    else "All that it may still be are alike in this: it tells nothing."
                ),
            )
            for id_ in hand.some(idle)[:4]
        ]
        label = lens.features[may.look].label
        asked = f" {_seen(lens, answers)}" if answers else ""
        said = [f"{build.label}: {'with' if may.look in build.parts else 'without'} {label}." for build in left]
        yield Draft(
            trap="look_first",
            nearness=1 - len([id_ for id_ in idle if lens.features[id_].misleading]) / len(idle),
            asks=f"A lens of {lens.mount.name}.{asked} What do you look for first, before it goes onto "
            f"{lens.body.name}?",
            about=AskedAbout(body=lens.body.id, mount=lens.mount.id),
            choices=(AnswerChoice(may.look, label, After(f"{label}: that is what they differ in.")), *wrong),
            why=f"{_RULES['look_first']} Here that is: {label}.",
            working=tuple(said),
            shown=_shown(lens, answers),
            described=_described(lens),
        )


_METER_TEXTS: Final[dict[Metering, str]] = {
    "open": "It meters, with the lens wide open",
    "stop_down": "It meters at the taking aperture alone, and believes the lens is wide open",
    "none": "It does not meter with this lens",
}
_EFFECTS: Final[dict[str, Metering]] = {"no_metering": "none", "stop_down_metering": "stop_down", "meters": "open"}
_ORDER: Final[tuple[Metering, ...]] = ("none", "stop_down", "open")


def _metered(hand: Hand) -> Iterator[tuple[_Lens, Metering, tuple[str, ...], tuple[str, ...]]]:
    """A lens, what the meter of its body does, the modes that are left of the body's, and the rules that say so."""
    for lens in _lenses(hand):
        if lens.body.meters is False or not lens.body.exposure_modes:
            continue
        rules = matching_rules(lens.mount, frozenset(lens.build.parts), lens.body_parts)
        if any(rule.effect in {"damage", "inspect"} for rule in rules):
            continue
        speak = [rule for rule in rules if rule.effect in _EFFECTS]
        if not speak:
            continue
        meters = min((_EFFECTS[rule.effect] for rule in speak), key=_ORDER.index)
        modes = [rule.exposure_modes for rule in speak if rule.exposure_modes is not None]
        left = tuple(mode for mode in lens.body.exposure_modes if all(mode in some for some in modes))
        yield lens, meters, left if modes else (), tuple(dict.fromkeys(rule.text for rule in rules))


def _meter(hand: Hand) -> Iterator[Draft]:
    for lens, meters, _, rules in _metered(hand):
        answers = _answers(lens)
        said = " ".join(rules)
        texts = [AnswerChoice(id_, text, After(f"No: {said}")) for id_, text in _METER_TEXTS.items() if id_ != meters]
        yield Draft(
            trap="meter",
            nearness=lens.shared,
            asks=f"A lens of {lens.mount.name}. {_seen(lens, answers)} It is on {lens.body.name}, as it should be. "
            "What does the meter of the body do?",
            about=AskedAbout(body=lens.body.id, mount=lens.mount.id),
            choices=(AnswerChoice(meters, _METER_TEXTS[meters], After(said)), *texts),
            why=f"{_RULES['meter']} {said}",
            working=(f"It is of generation {lens.build.label}.", *rules),
            shown=_shown(lens, answers),
            described=_described(lens),
        )


def _modes(hand: Hand) -> Iterator[Draft]:
    for lens, _, left, rules in _metered(hand):
        own = lens.body.exposure_modes
        if not left:
            continue
        answers = _answers(lens)
        said = " ".join(rules)
        others = [("M",), ("A", "M"), tuple(own), ("P", "A"), ("P", "S"), ("A",)]
        wrong = [
            AnswerChoice("-".join(some), _listed(some), After(f"{_listed(left)} alone: {said}"))
            for some in dict.fromkeys(others)
            if set(some) != set(left)
        ][:4]
        yield Draft(
            trap="modes",
            nearness=lens.shared,
            asks=f"A lens of {lens.mount.name}. {_seen(lens, answers)} It is on {lens.body.name}, as it should be. "
            "Which exposure modes are left?",
            about=AskedAbout(body=lens.body.id, mount=lens.mount.id),
            choices=(AnswerChoice("-".join(left), _listed(left), After(said)), *wrong),
            why=f"{_RULES['modes']} {said}",
            working=(f"It is of generation {lens.build.label}.", *rules),
            shown=_shown(lens, answers),
            described=_described(lens),
        )


def _listed(modes: tuple[str, ...]) -> str:
    return written.listed(modes)


_RULES: Final = {
    "breaks": "A part that stands out breaks a part that cannot give way; no care in mounting helps.",
    "safe_after": "What can be put out of the way makes it possible, and has to be put away before the lens goes on.",
    "as_is": "Not every old lens is dangerous: the parts decide, not the age.",
    "misleading": "Grip, metal and paint tell nothing; the parts that couple tell it.",
    "unknown": "Never a yes while a generation that breaks something is possible.",
    "look_first": "Look for the part in which they differ, not for the one that is easiest to see.",
    "meter": "The meter knows what the parts tell it, and nothing else.",
    "modes": "A mode that has to move the aperture needs a part that does it.",
}

GENERATION = Skill(
    "Generations",
    "May it go onto this body?",
    "how many parts it shares with a lens that does something else there",
    {
        "breaks": Trap("What breaks", _RULES["breaks"], lambda hand: _known(hand, "breaks", frozenset({"never"}))),
        "safe_after": Trap(
            "Safe, once something is done",
            _RULES["safe_after"],
            lambda hand: _known(hand, "safe_after", frozenset({"after", "inspect"})),
        ),
        "as_is": Trap("Safe as it is", _RULES["as_is"], lambda hand: _known(hand, "as_is", frozenset({"as_is"}))),
        "misleading": Trap(
            "A mark that misleads",
            _RULES["misleading"],
            lambda hand: _known(hand, "misleading", frozenset(_TEXTS), misled=True),
        ),
        "unknown": Trap("Cannot be known yet", _RULES["unknown"], _unknown),
        "look_first": Trap("What to look at first", _RULES["look_first"], _first),
        "meter": Trap("Which meter lies", _RULES["meter"], _meter),
        "modes": Trap("Which modes are left", _RULES["modes"], _modes),
    },
)
