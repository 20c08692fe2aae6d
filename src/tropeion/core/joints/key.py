"""The identification key: which generation of a mount this is, from what can be seen.

Bayes' rule over the generations, and over the conversions of them that the collection knows: their prevalence is the
prior (what is not said counts as the mean of what is), each answer multiplies. A part is seen where it is,
and not seen where it is not, with probability 0.98; misleading evidence (a bright ring, a painted index) with 0.6.
The next question is the one that is expected to leave the least entropy.

What would break a body stays, however unlikely, until the part that breaks it was looked for and is not there, and a
second part speaks against it too: one slip of the eye must not clear it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from typing import Final, Literal

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Feature, Mount
from tropeion.core.gear.world import World

from .coupling import WORST_FIRST, matching_rules, worst_rule
from .key_builds import KeyBuild, builds_of, next_question, posterior
from .key_report import Answer, Conflict, KeyReport, Known, MayMount, Meets, Question, Remaining, Verdict

SETTLED = 0.95
# A generation that is less likely than this, whether or not misleading parts are believed, is ruled out.
POSSIBLE = 0.01

# The worst first: where no rule speaks it is not known to be safe, though none says that something breaks.
_WORST_FIRST: Final[tuple[Meets, ...]] = (*WORST_FIRST[:3], "nothing_known", *WORST_FIRST[3:])


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
        return KeyReport(mount.id, side, (), False, None, (), (), Known(), ())
    builds = builds_of(world, mount, side)
    now = posterior(builds, features, answers)
    order = sorted(builds, key=lambda build: -now[build.id])
    likeliest = order[0]
    # What has the same parts does the same, whoever made it so: no look tells them apart.
    alike = [build for build in builds if set(build.parts) == set(likeliest.parts)]
    feared = [build for build in builds if build.weight > 0 and not _cleared(mount, build, features, answers)]
    settled = sum(now[build.id] for build in alike) >= SETTLED and all(build in alike for build in feared)
    seen = _as_seen(features, likeliest.parts, answers)
    still = _still_possible(builds, features, answers) | {build.id for build in feared}
    possible = [
        _Possible(build, now[build.id], _feared(mount, build, features, answers))
        for build in order
        if build.id in still
    ]
    as_seen = tuple(id_ for id_ in features if id_ in seen)
    known = Known(likeliest.generation.id, as_seen, likeliest.conversion)
    return KeyReport(
        mount=mount.id,
        side=side,
        remaining=tuple(
            Remaining(b.id, b.generation.id, b.conversion, b.label, b.generation.start, b.generation.to, now[b.id])
            for b in order
        ),
        settled=settled,
        question=None
        if settled
        else next_question(builds, features, answers, now) or _second(mount, feared, features, answers),
        conflicts=tuple(_conflicts(features, answers, likeliest.parts, likeliest.label)),
        as_seen=as_seen,
        known=known if settled else _open(order, now, features, answers),
        may_mount=tuple(_may_mount(world, mount, possible, features, answers)) if side == "lens" else (),
    )


def _breaking(mount: Mount, parts: Sequence[str]) -> dict[str, Answer]:
    """The features by which such a lens breaks a body of its own system, and the answers that rule them out."""
    every = frozenset(parts)
    rules = [
        rule
        for generation in mount.generations
        for rule in matching_rules(mount, every, frozenset(generation.body_features))
        if rule.effect == "damage"
    ]
    there: dict[str, Answer] = {id_: "no" for rule in rules for id_ in rule.lens_has}
    absent: dict[str, Answer] = {id_: "yes" for rule in rules for id_ in rule.lens_lacks}
    return there | absent


def _cleared(mount: Mount, build: KeyBuild, features: Mapping[str, Feature], answers: Mapping[str, Answer]) -> bool:
    """Whether two looks deny it: what breaks is not there, and another part does not go with it either."""
    breaking = _breaking(mount, build.parts)
    honest = {id_: answer for id_, answer in answers.items() if answer != "unknown" and not features[id_].misleading}
    gone = all(honest.get(id_) == denied for id_, denied in breaking.items())
    second = any((answer == "yes") != (id_ in build.parts) for id_, answer in honest.items() if id_ not in breaking)
    return not breaking or (gone and second)


def _feared(
    mount: Mount, build: KeyBuild, features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> frozenset[str]:
    """The parts that this very lens has if it is that; what breaks among them, until that is cleared."""
    seen = _as_seen(features, build.parts, answers)
    if _cleared(mount, build, features, answers):
        return seen
    breaking = _breaking(mount, build.parts)
    there = {id_ for id_, denied in breaking.items() if denied == "no"}
    return (seen | there) - (breaking.keys() - there)


def _second(
    mount: Mount, feared: Sequence[KeyBuild], features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> Question | None:
    """Where it is all but certain what it is, and something would break: that part, then one that speaks against it."""
    breaking = {id_ for build in feared for id_ in _breaking(mount, build.parts)}
    against = {id_ for id_ in features if not any(id_ in build.parts for build in feared)}
    for wanted in (breaking, against):
        for id_, feature in features.items():
            if id_ in wanted and id_ not in answers and not feature.misleading:
                return Question(id_, feature.label, feature.question, feature.look_at, 0.0)
    return None


def _open(
    order: Sequence[KeyBuild], now: Mapping[str, float], features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> Known:
    """What was seen, while the generation is open."""
    told = [build for build in order if build.conversion == "none" or now[build.id] > POSSIBLE]
    chances = ", ".join(f"{build.label} {written.percent(now[build.id])}" for build in told)
    seen, absent = (
        ", ".join(features[id_].label for id_, answer in answers.items() if answer == wanted) or "nothing"
        for wanted in ("yes", "no")
    )
    note = f"Seen: {seen}. Looked for and not there: {absent}."
    return Known(claim=f"Its generation is open: {chances}.", note=note)


def _conflicts(
    features: Mapping[str, Feature], answers: Mapping[str, Answer], has: Sequence[str], label: str
) -> list[Conflict]:
    conflicts = []
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
        conflicts.append(Conflict(id_, feature.label, text[:1].upper() + text[1:]))
    return conflicts


def _as_seen(features: Mapping[str, Feature], usual: Sequence[str], answers: Mapping[str, Answer]) -> frozenset[str]:
    """What this very piece has: what was seen on it, and where nothing was seen, what its generation has."""
    told = {id_: answer for id_, answer in answers.items() if not features[id_].misleading}
    seen = {id_ for id_, answer in told.items() if answer == "yes"}
    return frozenset((set(usual) | seen) - {id_ for id_, answer in told.items() if answer == "no"})


@frozen
class _Possible:
    """What is not ruled out, and the parts that this very lens has if it is that."""

    build: KeyBuild
    probability: float
    parts: frozenset[str]


def _still_possible(
    builds: Sequence[KeyBuild], features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> frozenset[str]:
    """What is not ruled out; what misleads rules out none."""
    honest = {id_: answer for id_, answer in answers.items() if not features[id_].misleading}
    every = (posterior(builds, features, answers), posterior(builds, features, honest))
    return frozenset(id_ for chances in every for id_, chance in chances.items() if chance > POSSIBLE)


def _may_mount(
    world: World,
    mount: Mount,
    possible: Sequence[_Possible],
    features: Mapping[str, Feature],
    answers: Mapping[str, Answer],
) -> list[MayMount]:
    """What the lens may do on every generation of body, and on the bodies of the collection."""
    owned: dict[str, list[str]] = {}
    for body in world.gear.bodies:
        if body.mount == mount.id and body.generation is not None and not body.retired:
            owned.setdefault(body.generation, []).append(body.id)
    may_mounts = []
    for generation in mount.generations:
        parts = frozenset(generation.body_features)
        verdicts = sorted(
            (_verdict(mount, case, parts) for case in possible), key=lambda verdict: _WORST_FIRST.index(verdict.effect)
        )
        worst = verdicts[0]
        feared = [verdict for verdict in verdicts if verdict.effect == worst.effect]
        unless, look = "", None
        if len(feared) < len(verdicts):
            chance = sum(verdict.probability for verdict in feared)
            labels = " or ".join(verdict.label for verdict in feared)
            unless = f"if it is generation {labels} ({written.percent(chance)})"
            look = _telling(possible, {verdict.id for verdict in feared}, features, answers)
        bodies: list[str | None] = [*owned.get(generation.id, [])]
        for body_id in bodies or [None]:
            may_mounts.append(
                MayMount(
                    body_id,
                    generation.id,
                    generation.label,
                    worst.effect,
                    worst.text,
                    worst.action,
                    tuple(verdicts),
                    unless,
                    look,
                )
            )
    return may_mounts


def _verdict(mount: Mount, lens: _Possible, body: frozenset[str]) -> Verdict:
    rules = matching_rules(mount, lens.parts, body)
    worst = worst_rule(rules)
    return Verdict(
        lens.build.id,
        lens.build.generation.id,
        lens.build.label,
        lens.probability,
        worst.effect if worst else "nothing_known",
        " ".join(dict.fromkeys(rule.text for rule in rules)) or "Nothing is stated of this combination.",
        worst.action if worst else None,
    )


def _telling(
    possible: Sequence[_Possible], feared: Set[str], features: Mapping[str, Feature], answers: Mapping[str, Answer]
) -> str | None:
    """The part not looked at yet that best parts the generations that are feared from the others."""
    best, most = None, 0.0
    for id_, feature in features.items():
        having = {case.build.id for case in possible if id_ in case.parts}
        if feature.misleading or id_ in answers or not 0 < len(having) < len(possible):
            continue
        # The answer is right if the part is present and feared, or absent and not feared.
        right = sum(case.probability for case in possible if (case.build.id in feared) == (case.build.id in having))
        right = max(right, sum(case.probability for case in possible) - right)
        if right > most + 1e-9:
            best, most = id_, right
    return best
