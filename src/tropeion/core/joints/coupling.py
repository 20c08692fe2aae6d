"""Generations: what may be mounted on what, by the coupling parts on either side.

Nothing here knows a mount's name. What parts exist and what happens where they meet is data of the mount; the lens
side of an adapter counts like a body's.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from tropeion.core import catalogue, written
from tropeion.core.findings import Finding, Remark
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Effect, Feature, Mount, Rule
from tropeion.core.gear.world import World
from tropeion.core.optics.stack import Stack
from tropeion.core.working import tidy

from . import contacts


@frozen
class Side:
    """What may stand at one side of a seat: its coupling parts, and the generation it would be of."""

    generation: str | None
    label: str
    parts: frozenset[str]


@dataclass(frozen=True)
class Meeting:
    """A lens meets what stands behind it. A side whose generation is not known may be any of several.

    ``between_mm`` is what of rings holds the two seats apart. Only where a lens stands on a body itself does anything
    drive a meter (``direct``); elsewhere what is said about safety counts alone.
    """

    link: str
    mounts: tuple[Mount, ...]
    lens: tuple[Side, ...]
    rear: tuple[Side, ...]
    lens_name: str
    rear_name: str
    between_mm: float = 0.0
    direct: bool = True

    @cached_property
    def outcomes(self) -> tuple[_Outcome, ...]:
        """What holds for each way in which the two sides may be built."""
        return tuple(_outcomes(self))


def meetings_of(world: World, stack: Stack) -> tuple[Meeting, ...]:
    """Where parts of the lens meet parts of what stands behind it: at its own seat, and through thin rings.

    The camera side of an adapter carries none.
    """
    front, lens, between = stack.lens_mount, sides_of(world, stack.lens), 0.0
    meetings = []
    for number, joint in enumerate(stack.joints):
        takes, rear = joint.takes, joint.rear
        mounts: tuple[Mount, ...] = ()
        if front.joint == takes.joint:
            mounts = (front,) if front is takes else (front, takes)
        if number == 0 or mounts:
            direct = number == 0 and not isinstance(rear, Adapter)
            sides = sides_of(world, rear)
            meetings.append(Meeting(joint.link, mounts, lens, sides, stack.lens.name, rear.name, between, direct))
        if isinstance(rear, Adapter):
            between += rear.physical_length_mm
    return tuple(meetings)


def sides_of(world: World, item: Lens | Adapter | Body) -> tuple[Side, ...]:
    """What parts an item may have: its own, else its generation's, else those of any generation of its mount.

    A system without generations has no coupling parts to know about.
    """
    if isinstance(item, Adapter):
        return (Side(item.lens_generation, "", _lens_side_of(world, item)),)
    if isinstance(item, Lens) and item.features is not None:
        return (Side(None, "", frozenset(item.features)),)
    mount = world.mount_of(item)
    # A part moved over from some other lens may be that of any generation.
    moved = isinstance(item, Lens) and item.conversion == "transplanted"
    known = [generation for generation in mount.generations if moved or item.generation in {None, generation.id}]
    if not known:
        return (Side(None, "", frozenset()),)
    lens = isinstance(item, Lens)
    return tuple(
        Side(generation.id, generation.label, frozenset(generation.lens_features if lens else generation.body_features))
        for generation in known
    )


def _lens_side_of(world: World, adapter: Adapter) -> frozenset[str]:
    """What the lens meets on an adapter: nothing, unless it has a feeler of its own."""
    own = frozenset(adapter.lens_side_features or ())
    if adapter.lens_generation is None:
        return own
    return own | frozenset(world.generations[adapter.lens_generation].body_features)


def matching_rules(mount: Mount, lens: frozenset[str], body: frozenset[str]) -> tuple[Rule, ...]:
    """The rules of a mount that hold for these features."""
    return tuple(
        rule
        for rule in mount.rules
        if lens.issuperset(rule.lens_has)
        and lens.isdisjoint(rule.lens_lacks)
        and body.issuperset(rule.body_has)
        and body.isdisjoint(rule.body_lacks)
    )


WORST_FIRST: tuple[Effect, ...] = ("damage", "safe_after", "inspect", "no_metering", "stop_down_metering", "meters")


def worst_rule(rules: Sequence[Rule]) -> Rule | None:
    """The rule that decides what may be done, among those that hold; None where none does."""
    return min(rules, key=lambda rule: WORST_FIRST.index(rule.effect), default=None)


# Parts that stand nearer than this count as touching; and what a part of unknown depth is taken to stand out by.
_APART_MM = 0.5
_USUAL_DEPTH_MM = 2.5


def _depth_of(mount: Mount, parts: Sequence[str]) -> tuple[float, str | None]:
    """How far the farthest of some parts stands out, and the first of which that is not known."""
    known = {feature.id: feature.depth_mm for feature in mount.features}
    depths = [depth for part in parts if (depth := known.get(part)) is not None]
    missing = next((part for part in parts if known.get(part) is None), None)
    return max([*depths, *([_USUAL_DEPTH_MM] if missing or not parts else [])]), missing


def _overlap_of(mount: Mount, rule: Rule) -> tuple[float, tuple[str, ...]]:
    """How far the parts of a rule reach into each other's side, and the parts of which that is assumed."""
    lens, name = _depth_of(mount, rule.lens_has)
    body, other = _depth_of(mount, rule.body_has)
    return lens + body, tuple(part for part in (name, other) if part is not None)


def _holds_apart(meeting: Meeting, mount: Mount, rule: Rule) -> bool:
    """Whether rings keep the parts of a rule from ever meeting."""
    return meeting.between_mm > 0 and tidy(meeting.between_mm - _overlap_of(mount, rule)[0] - _APART_MM) > 0


@frozen
class _Outcome:
    """What holds if the two sides are these; ``spoken`` where any rule at all is about them."""

    lens: Side
    rear: Side
    rules: tuple[tuple[Mount, Rule], ...]
    spoken: bool


def _outcomes(meeting: Meeting) -> list[_Outcome]:
    """For every way in which the two sides may be built, the rules that count."""
    outcomes = []
    for lens in meeting.lens:
        for rear in meeting.rear:
            held = [(mount, rule) for mount in meeting.mounts for rule in matching_rules(mount, lens.parts, rear.parts)]
            counts = [
                (mount, rule)
                for mount, rule in held
                if (meeting.direct or rule.effect in _SAFETY) and not _holds_apart(meeting, mount, rule)
            ]
            outcomes.append(_Outcome(lens, rear, tuple(counts), spoken=bool(held)))
    return outcomes


def _is_unruled(meeting: Meeting, one: _Outcome) -> bool:
    """Two generations, at least one of them with parts, about which the data of their mount says nothing."""
    known = None not in {one.lens.generation, one.rear.generation}
    differ = known and one.lens.generation != one.rear.generation
    return meeting.direct and differ and not one.spoken and bool(one.lens.parts | one.rear.parts)


def judge_coupling(meeting: Meeting) -> list[Finding]:
    """What the coupling parts say about one joint: the worst that each generation still possible would do."""
    outcomes = meeting.outcomes
    unruled = [outcome for outcome in outcomes if _is_unruled(meeting, outcome)]
    rules = {id(rule): (mount, rule) for outcome in outcomes for mount, rule in outcome.rules}
    worst_first = sorted(rules.values(), key=lambda pair: WORST_FIRST.index(pair[1].effect))
    settled = len({tuple(id(rule) for _, rule in outcome.rules) for outcome in outcomes}) == 1 and len(unruled) in {
        0,
        len(outcomes),
    }
    if settled:
        findings = [_said(rule, meeting.link, _text_of(meeting, mount, rule)) for mount, rule in rules.values()]
        names = {"front": meeting.lens_name, "rear": meeting.rear_name}
        return [*findings, *(catalogue.generations_unruled(meeting.link, **names) for _ in unruled[:1])]
    what = _unknown_of(meeting)
    breaks = [outcome for outcome in outcomes if any(rule.effect == "damage" for _, rule in outcome.rules)]
    if breaks:
        system, which = meeting.mounts[0].name, _which(meeting, breaks)
        findings = [catalogue.generation_unknown(meeting.link, what=what, mount=system, which=which)]
    else:
        findings = [catalogue.generation_open(meeting.link, what=what)]
    for mount, rule in worst_first:
        if rule.effect == "damage":
            continue
        where = _which(meeting, [outcome for outcome in outcomes if any(each is rule for _, each in outcome.rules)])
        said = _said(rule, meeting.link, f"If {what} is of generation {where}: {_text_of(meeting, mount, rule)}")
        doubt = f"The generation of {what} is not known; at worst: {said.headline}" if said.headline else ""
        findings.append(replace(said, headline=doubt))
    if unruled and not breaks:
        where = f"generation {_which(meeting, unruled)}"
        findings.append(
            catalogue.generations_unruled(meeting.link, front=f"{what}, if of {where},", rear="the other side")
        )
    return findings


def _unknown_of(meeting: Meeting) -> str:
    """Whose generation is not known."""
    sides = ((meeting.lens, meeting.lens_name), (meeting.rear, meeting.rear_name))
    return " and of ".join(name for side, name in sides if len(side) > 1)


def _which(meeting: Meeting, outcomes: Sequence[_Outcome]) -> str:
    """The generations in question, by their labels."""
    lens = list(dict.fromkeys(outcome.lens.label for outcome in outcomes)) if len(meeting.lens) > 1 else []
    rear = list(dict.fromkeys(outcome.rear.label for outcome in outcomes)) if len(meeting.rear) > 1 else []
    return " on ".join(written.listed(labels, "or") for labels in (lens, rear) if labels)


def _text_of(meeting: Meeting, mount: Mount, rule: Rule) -> str:
    """A rule's words; through a ring with why that does not hold the parts apart."""
    if meeting.between_mm == 0:
        return rule.text
    overlap, unknown = _overlap_of(mount, rule)
    labels = {feature.id: feature.label for feature in mount.features}
    text = (
        f"{rule.text} What stands between, {written.millimetres(meeting.between_mm)}, does not hold them apart: that "
        f"takes more than {written.millimetres(overlap + _APART_MM)}."
    )
    for part in unknown:
        text += (
            f" How far the {labels.get(part, 'part')} stands out is not known; "
            f"{written.millimetres(_USUAL_DEPTH_MM)} is assumed."
        )
    return text


@frozen
class Clash:
    """Parts that break each other where a lens side meets a body side."""

    link: str
    lens_parts: tuple[Feature, ...]
    body_parts: tuple[Feature, ...]


def clashes_of(meetings: Sequence[Meeting]) -> tuple[Clash, ...]:
    """Which parts break which, at every joint; nothing where the generations are not known."""
    clashes = []
    for meeting in meetings:
        if len(meeting.lens) > 1 or len(meeting.rear) > 1:
            continue
        for mount, rule in meeting.outcomes[0].rules:
            if rule.effect == "damage":
                parts = {feature.id: feature for feature in mount.features}
                lens, body = (tuple(parts[id_] for id_ in ids) for ids in (rule.lens_has, rule.body_has))
                clashes.append(Clash(meeting.link, lens, body))
    return tuple(clashes)


_SAFETY = frozenset({"damage", "safe_after", "inspect"})


def _said(rule: Rule, link: str, text: str) -> Finding:
    match rule.effect:
        case "damage":
            return catalogue.coupling_damage(link, text=text)
        case "safe_after":
            return catalogue.coupling_safe_after(link, text=text, action=rule.action or "see the text.")
        case "inspect":
            return catalogue.coupling_inspect(link, text=text)
        case "no_metering":
            return catalogue.no_metering(link, text=text)
        case "stop_down_metering":
            return catalogue.stop_down_metering(link, text=text)
        case "meters":
            return catalogue.meters(link, text=text)


_METERING: dict[str, contacts.Metering] = {"no_metering": "none", "stop_down_metering": "stop_down", "meters": "open"}


def _matched(meetings: Sequence[Meeting]) -> list[Rule]:
    """Every rule that holds, or may hold where a generation is not known."""
    rules = {id(rule): rule for meeting in meetings for outcome in meeting.outcomes for _, rule in outcome.rules}
    return list(rules.values())


def metering_of(meetings: Sequence[Meeting]) -> tuple[contacts.Metering, tuple[str, ...] | None]:
    """What the coupling parts allow of metering, the least of all rules that say; and the exposure modes left."""
    rules = [rule for rule in _matched(meetings) if rule.effect in _METERING]
    if not rules:
        return "unknown", None
    order: tuple[contacts.Metering, ...] = ("none", "stop_down", "open")
    modes = [rule.exposure_modes for rule in rules if rule.exposure_modes is not None]
    allowed = tuple(mode for mode in modes[0] if all(mode in other for other in modes)) if modes else None
    return min((_METERING[rule.effect] for rule in rules), key=order.index), allowed


def ring_positions(meetings: Sequence[Meeting]) -> list[str]:
    """Where the aperture ring has to stand before mounting."""
    return [rule.ring_at for rule in _matched(meetings) if rule.ring_at]


def after_mounting(meetings: Sequence[Meeting]) -> list[str]:
    """What the coupling wants once the lens is on."""
    return [rule.after_mounting for rule in _matched(meetings) if rule.after_mounting]


def judge_conversion(lens: Lens, mount: Mount) -> list[Remark]:
    """What a conversion means for safety, function and value; unless it is not stated what parts it left."""
    if lens.features is None and lens.conversion not in {"none", "transplanted"} and mount.features:
        return [catalogue.conversion_unstated(lens.id)]
    match lens.conversion:
        case "none":
            return []
        case "factory":
            return [catalogue.converted_by_maker(lens.id)]
        case "third_party":
            return [catalogue.converted_by_others(lens.id)]
        case "home":
            return [catalogue.converted_at_home(lens.id)]
        case "transplanted":
            return [catalogue.coupling_transplanted(lens.id)]


def actions(meetings: Sequence[Meeting]) -> list[str]:
    """What has to be done before mounting, in order."""
    return [rule.action for rule in _matched(meetings) if rule.effect == "safe_after" and rule.action]
