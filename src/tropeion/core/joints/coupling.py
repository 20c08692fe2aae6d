"""Generations: what may be mounted on what, by the coupling parts on either side.

Nothing here knows a mount's name. What parts exist and what happens where they meet is data of the mount; the lens
side of an adapter counts like a body's.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core import catalogue
from tropeion.core.findings import Finding, Remark
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Effect, Feature, Mount, Rule
from tropeion.core.gear.world import World
from tropeion.core.optics.stack import Stack

from . import contacts

__all__ = [
    "WORST_FIRST",
    "Clash",
    "Meeting",
    "clashes_of",
    "features_of",
    "judge_coupling",
    "matching_rules",
    "meetings_of",
    "worst_rule",
]


@dataclass(frozen=True, slots=True)
class Meeting:
    """A lens side meets a body side. Features are None where they are not known.

    On an adapter nothing drives a meter (``drives_meter``): only what is said about safety counts.
    """

    link: str
    mounts: tuple[Mount, ...]
    lens_features: frozenset[str] | None
    body_features: frozenset[str] | None
    lens_name: str
    body_name: str
    drives_meter: bool = True


def meetings_of(world: World, stack: Stack) -> tuple[Meeting, ...]:
    """Where coupling parts of one system meet: at the lens. The camera side of an adapter carries none."""
    joint = stack.joints[0]
    front, rear = joint.gives, joint.takes
    mounts: tuple[Mount, ...] = ()
    if joint.mates:
        mounts = (front,) if front is rear else (front, rear)
    if isinstance(joint.rear, Adapter):
        meets: frozenset[str] | None = adapter_lens_side(world, joint.rear)
    else:
        meets = features_of(world, joint.rear)
    return (
        Meeting(
            joint.link,
            mounts,
            features_of(world, stack.lens),
            meets,
            stack.lens.name,
            joint.rear.name,
            drives_meter=not isinstance(joint.rear, Adapter),
        ),
    )


def features_of(world: World, item: Lens | Body) -> frozenset[str] | None:
    """The coupling features of a lens or body: its own, else its generation's; None if neither is known.

    A system without generations has no coupling parts to know about.
    """
    if isinstance(item, Lens) and item.features is not None:
        return frozenset(item.features)
    if item.generation is None:
        return None if world.mount_of(item).generations else frozenset()
    generation = world.generations[item.generation]
    side = generation.lens_features if isinstance(item, Lens) else generation.body_features
    return frozenset(side)


def adapter_lens_side(world: World, adapter: Adapter) -> frozenset[str]:
    """What the lens meets on an adapter: nothing, unless it has a feeler of its own."""
    own = frozenset(adapter.lens_side_features)
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


WORST_FIRST: tuple[Effect, ...] = (
    "damage",
    "safe_after",
    "inspect",
    "no_metering",
    "stop_down_metering",
    "meters",
)


def worst_rule(rules: Sequence[Rule]) -> Rule | None:
    """The rule that decides what may be done, among those that hold; None where none does."""
    return min(rules, key=lambda rule: WORST_FIRST.index(rule.effect), default=None)


def _could_damage(mount: Mount, lens: frozenset[str] | None, body: frozenset[str] | None) -> bool:
    """Whether some generation that is not excluded would break something here."""
    lenses = [frozenset(g.lens_features) for g in mount.generations] if lens is None else [lens]
    bodies = [frozenset(g.body_features) for g in mount.generations] if body is None else [body]
    return any(
        rule.effect == "damage" for one in lenses for other in bodies for rule in matching_rules(mount, one, other)
    )


def judge_coupling(meeting: Meeting) -> list[Finding]:
    """What the coupling parts say about one joint."""
    found: list[Finding] = []
    for mount in meeting.mounts:
        lens, body = meeting.lens_features, meeting.body_features
        if lens is None or body is None:
            if _could_damage(mount, lens, body):
                unknown = meeting.lens_name if lens is None else meeting.body_name
                found.append(catalogue.generation_unknown(meeting.link, what=unknown, mount=mount.name))
            continue
        found.extend(
            _said(rule, meeting.link)
            for rule in matching_rules(mount, lens, body)
            if meeting.drives_meter or rule.effect in _SAFETY
        )
    return found


@dataclass(frozen=True, slots=True)
class Clash:
    """Parts that break each other where a lens side meets a body side."""

    link: str
    lens_parts: tuple[Feature, ...]
    body_parts: tuple[Feature, ...]


def clashes_of(meetings: Sequence[Meeting]) -> tuple[Clash, ...]:
    """Which parts break which, at every joint; nothing where the generations are not known."""
    found = []
    for meeting in meetings:
        lens, body = meeting.lens_features, meeting.body_features
        if lens is None or body is None:
            continue
        for mount in meeting.mounts:
            features = {feature.id: feature for feature in mount.features}
            found += [
                Clash(
                    meeting.link,
                    tuple(features[id_] for id_ in rule.lens_has),
                    tuple(features[id_] for id_ in rule.body_has),
                )
                for rule in matching_rules(mount, lens, body)
                if rule.effect == "damage"
            ]
    return tuple(found)


_SAFETY = frozenset({"damage", "safe_after", "inspect"})


def _said(rule: Rule, link: str) -> Finding:
    match rule.effect:
        case "damage":
            return catalogue.coupling_damage(link, text=rule.text)
        case "safe_after":
            return catalogue.coupling_safe_after(link, text=rule.text, action=rule.action or "see the text.")
        case "inspect":
            return catalogue.coupling_inspect(link, text=rule.text)
        case "no_metering":
            return catalogue.no_metering(link, text=rule.text)
        case "stop_down_metering":
            return catalogue.stop_down_metering(link, text=rule.text)
        case "meters":
            return catalogue.meters(link, text=rule.text)


_METERING: dict[str, contacts.Metering] = {
    "no_metering": "none",
    "stop_down_metering": "stop_down",
    "meters": "open",
}


def _matched(meetings: Sequence[Meeting]) -> list[Rule]:
    return [
        rule
        for meeting in meetings
        if meeting.lens_features is not None and meeting.body_features is not None
        for mount in meeting.mounts
        for rule in matching_rules(mount, meeting.lens_features, meeting.body_features)
        if meeting.drives_meter or rule.effect in _SAFETY
    ]


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


def judge_conversion(lens: Lens) -> list[Remark]:
    """What a conversion means for safety, function and value."""
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
