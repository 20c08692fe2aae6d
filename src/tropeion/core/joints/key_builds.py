"""The builds that a lens or a body of a mount may be, and how answers weigh among them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Feature, Generation, Mount
from tropeion.core.gear.world import World

from .key_report import Answer, Conversion, Question

SURE, MISLED = 0.98, 0.6
# The share of a generation's lenses taken to be converted in each known way.
CONVERTED = 0.02
_CONVERSIONS: Final = {
    "factory": "converted by its maker",
    "third_party": "converted by others",
    "home": "cut down by its owner",
    "transplanted": "with a part moved over",
}


@frozen
class KeyBuild:
    """What it may be: a generation as it left its maker, or one of its conversions. ``weight`` is the prior."""

    id: str
    generation: Generation
    conversion: Conversion
    label: str
    parts: tuple[str, ...]
    weight: float


def builds_of(world: World, mount: Mount, side: str) -> list[KeyBuild]:
    """Every generation, and every conversion that a lens of the collection shows."""
    said = [generation.prevalence for generation in mount.generations if generation.prevalence is not None]
    usual = sum(said) / len(said) if sum(said) > 0 else 1.0
    nothing_left = len(said) == len(mount.generations) and sum(said) == 0
    builds = []
    for generation in mount.generations:
        weight = usual if generation.prevalence is None or nothing_left else generation.prevalence
        parts = generation.lens_features if side == "lens" else generation.body_features
        builds.append(KeyBuild(generation.id, generation, "none", generation.label, parts, weight))
        if side != "lens":
            continue
        known: dict[tuple[Conversion, frozenset[str]], tuple[str, ...]] = {}
        for lens in world.gear.lenses:
            if lens.generation == generation.id and lens.conversion != "none" and lens.features is not None:
                known.setdefault((lens.conversion, frozenset(lens.features)), lens.features)
        for number, ((conversion, _), features) in enumerate(known.items(), 1):
            label = f"{generation.label}, {_CONVERSIONS[conversion]}"
            builds.append(
                KeyBuild(
                    f"{generation.id}.{conversion}.{number}",
                    generation,
                    conversion,
                    label,
                    features,
                    weight * CONVERTED,
                )
            )
    return builds


def _likelihood(feature: Feature, has: bool, answer: Answer) -> float:
    if answer == "unknown":
        return 1.0
    right = MISLED if feature.misleading else SURE
    return right if (answer == "yes") == has else 1 - right


def posterior(
    builds: Sequence[KeyBuild], features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> dict[str, float]:
    weights = {}
    for build in builds:
        weight = build.weight
        for id_, answer in answers.items():
            weight *= _likelihood(features[id_], id_ in build.parts, answer)
        weights[build.id] = weight
    whole = sum(weights.values())
    return {id_: weight / whole for id_, weight in weights.items()}


def _entropy(probabilities: Mapping[str, float]) -> float:
    return -sum(p * math.log2(p) for p in probabilities.values() if p > 0)


def next_question(
    builds: Sequence[KeyBuild], features: Mapping[str, Feature], answers: Mapping[str, Answer], now: Mapping[str, float]
) -> Question | None:
    best: Question | None = None
    parts = {build.id: build.parts for build in builds}
    for id_, feature in features.items():
        if id_ in answers:
            continue
        left = 0.0
        for answer in ("yes", "no"):
            chance = sum(p * _likelihood(feature, id_ in parts[build], answer) for build, p in now.items())
            if chance > 0:
                left += chance * _entropy(posterior(builds, features, {**answers, id_: answer}))
        gain = _entropy(now) - left
        if gain > 1e-3 and (best is None or gain > best.gain_bits + 1e-9):
            best = Question(id_, feature.label, feature.question, feature.look_at, gain)
    return best
