"""The identification key: which generation of a mount this is, from what can be seen.

Bayes' rule over the generations: their prevalence is the prior, each answer multiplies. A part is seen where it is,
and not seen where it is not, with probability 0.98; misleading evidence (a rubber grip, a stuck-on scale) with 0.6.
The next question is the one that is expected to leave the least entropy.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from tropeion.core.gear.mounts import Effect, Feature, Generation, LookAt, Mount
from tropeion.core.gear.world import World

from .coupling import matching_rules, worst_rule

__all__ = ["Answer", "KeyReport", "identify"]

Answer = Literal["yes", "no", "unknown"]

SURE, MISLED = 0.98, 0.6
SETTLED = 0.95


@dataclass(frozen=True, slots=True)
class Remaining:
    """A generation and how likely it is."""

    generation: str
    label: str
    start: int | None
    to: int | None
    probability: float


@dataclass(frozen=True, slots=True)
class Question:
    """What to look for next. ``gain_bits`` is what the answer is expected to tell."""

    feature: str
    label: str
    question: str
    look_at: LookAt | None
    gain_bits: float


@dataclass(frozen=True, slots=True)
class Conflict:
    """An answer that does not go with the most likely generation."""

    feature: str
    label: str
    text: str


@dataclass(frozen=True, slots=True)
class MayMount:
    """What this lens, as it was seen, does on one body of the system."""

    body: str | None
    generation: str
    label: str
    effect: Effect | Literal["nothing_known"]
    text: str
    action: str | None


@dataclass(frozen=True, slots=True)
class KeyReport:
    """What remains, best first; the next question (None: settled, or nothing left to ask); where it may be mounted.

    ``as_seen`` are the coupling features of the likeliest generation, corrected by what was seen on this very piece.
    """

    mount: str
    side: Literal["lens", "body"]
    remaining: tuple[Remaining, ...]
    settled: bool
    question: Question | None
    conflicts: tuple[Conflict, ...]
    as_seen: tuple[str, ...]
    may_mount: tuple[MayMount, ...]


def _features(generation: Generation, side: str) -> tuple[str, ...]:
    return generation.lens_features if side == "lens" else generation.body_features


def _likelihood(feature: Feature, has: bool, answer: Answer) -> float:
    if answer == "unknown":
        return 1.0
    right = MISLED if feature.misleading else SURE
    return right if (answer == "yes") == has else 1 - right


def _posterior(
    mount: Mount, side: str, features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> dict[str, float]:
    total = sum(generation.prevalence for generation in mount.generations)
    weights = {}
    for generation in mount.generations:
        weight = generation.prevalence if total > 0 else 1.0
        for id_, answer in answers.items():
            weight *= _likelihood(features[id_], id_ in _features(generation, side), answer)
        weights[generation.id] = weight
    whole = sum(weights.values())
    return {id_: weight / whole for id_, weight in weights.items()}


def _entropy(probabilities: Mapping[str, float]) -> float:
    return -sum(p * math.log2(p) for p in probabilities.values() if p > 0)


def _next_question(
    mount: Mount, side: str, features: Mapping[str, Feature], answers: Mapping[str, Answer], now: Mapping[str, float]
) -> Question | None:
    best: Question | None = None
    generations = {generation.id: _features(generation, side) for generation in mount.generations}
    for id_, feature in features.items():
        if id_ in answers:
            continue
        left = 0.0
        for answer in ("yes", "no"):
            chance = sum(p * _likelihood(feature, id_ in generations[g], answer) for g, p in now.items())
            if chance > 0:
                left += chance * _entropy(_posterior(mount, side, features, {**answers, id_: answer}))
        gain = _entropy(now) - left
        if gain > 1e-3 and (best is None or gain > best.gain_bits + 1e-9):
            best = Question(id_, feature.label, feature.question, feature.look_at, gain)
    return best


def identify(
    world: World, mount_id: str, answers: Mapping[str, Answer], side: Literal["lens", "body"] = "lens"
) -> KeyReport:
    """Which generation it is, from the answers by feature id.

    Raises UnknownIdError for a mount that is not in the collection, KeyError with the feature's id for an answer about
    a part that this side of the mount does not have.
    """
    mount = world.mount(mount_id)
    features = {feature.id: feature for feature in mount.features if feature.side == side}
    for id_ in answers:
        if id_ not in features:
            raise KeyError(id_)
    if not mount.generations:
        return KeyReport(mount.id, side, (), False, None, (), (), ())
    now = _posterior(mount, side, features, answers)
    order = sorted(mount.generations, key=lambda generation: -now[generation.id])
    likeliest = order[0]
    settled = now[likeliest.id] >= SETTLED
    seen = _as_seen(features, _features(likeliest, side), answers)
    return KeyReport(
        mount=mount.id,
        side=side,
        remaining=tuple(Remaining(g.id, g.label, g.start, g.to, now[g.id]) for g in order),
        settled=settled,
        question=None if settled else _next_question(mount, side, features, answers, now),
        conflicts=tuple(_conflicts(features, answers, _features(likeliest, side), likeliest.label)),
        as_seen=tuple(id_ for id_ in features if id_ in seen),
        may_mount=tuple(_may_mount(world, mount, seen)) if side == "lens" else (),
    )


def _conflicts(
    features: Mapping[str, Feature], answers: Mapping[str, Answer], has: Sequence[str], label: str
) -> list[Conflict]:
    found = []
    for id_, answer in answers.items():
        if answer == "unknown" or (answer == "yes") == (id_ in has):
            continue
        feature = features[id_]
        seen = "was seen, and" if answer == "yes" else "was not seen, though"
        text = f"{feature.label} {seen} generation {label} {'has none' if answer == 'yes' else 'has one'}."
        if feature.misleading:
            text += " It weighs little: it misleads."
        else:
            text += " The lens may have been converted: look again."
        found.append(Conflict(id_, feature.label, text[:1].upper() + text[1:]))
    return found


def _as_seen(features: Mapping[str, Feature], usual: Sequence[str], answers: Mapping[str, Answer]) -> frozenset[str]:
    """What this very piece has: what was seen on it, and where nothing was seen, what its generation has."""
    told = {id_: answer for id_, answer in answers.items() if not features[id_].misleading}
    seen = {id_ for id_, answer in told.items() if answer == "yes"}
    return frozenset((set(usual) | seen) - {id_ for id_, answer in told.items() if answer == "no"})


def _may_mount(world: World, mount: Mount, lens: frozenset[str]) -> list[MayMount]:
    """What a lens with these features does on every generation of body, and on the bodies of the collection."""
    owned: dict[str, list[str]] = {}
    for body in world.gear.bodies:
        if body.mount == mount.id and body.generation is not None and not body.retired:
            owned.setdefault(body.generation, []).append(body.id)
    found = []
    for generation in mount.generations:
        rules = matching_rules(mount, lens, frozenset(generation.body_features))
        worst = worst_rule(rules)
        bodies: list[str | None] = [*owned.get(generation.id, [])]
        for body_id in bodies or [None]:
            found.append(
                MayMount(
                    body_id,
                    generation.id,
                    generation.label,
                    worst.effect if worst else "nothing_known",
                    " ".join(rule.text for rule in rules) or "No rule speaks against it, and none for it.",
                    worst.action if worst else None,
                )
            )
    return found
