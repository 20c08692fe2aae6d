"""The identification key."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import gear_of, lens, mount
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.joints.key import identify
from tropeion.core.joints.key_report import Answer, MayMount

SEEN: list[Answer] = ["yes", "no", "unknown"]


def two_generations(prevalence: tuple[float, float] = (0.5, 0.5), *, misleading: bool = False) -> World:
    parts: dict[str, Any] = {
        "features": [{"id": "mark", "side": "lens", "label": "mark", "question": "A mark?", "misleading": misleading}],
        "generations": [
            {"id": "one", "label": "I", "lens_features": ["mark"], "prevalence": prevalence[0]},
            {"id": "two", "label": "II", "prevalence": prevalence[1]},
        ],
    }
    return compile_world(gear_of({"mounts": [mount("front", 45.0, **parts)]}))


def chances(world: World, mount_id: str, answers: dict[str, Answer]) -> dict[str, float]:
    return {r.id: r.probability for r in identify(world, mount_id, answers).remaining}


def test_before_any_answer_there_is_the_prevalence(sample: World) -> None:
    # Three conversions of generation I are known and one of IV, one lens in fifty each: 1 + 3·0.006 + 0.003.
    whole = 1.021
    found = chances(sample, "kelvane", {})
    prevalence = {"kelvane-1": 0.3, "kelvane-2": 0.25, "kelvane-3": 0.3, "kelvane-4": 0.15}
    assert {id_: found[id_] for id_ in prevalence} == pytest.approx({id_: p / whole for id_, p in prevalence.items()})
    assert sorted(p * whole for id_, p in found.items() if id_ not in prevalence) == pytest.approx(
        [0.003, *[0.006] * 3]
    )


def test_an_answer_weighs_as_bayes_says() -> None:
    # 0.5·0.98 against 0.5·0.02.
    assert chances(two_generations(), "front", {"mark": "yes"})["one"] == pytest.approx(0.98)
    # 0.1·0.98 : 0.9·0.02 is 49 : 9.
    assert chances(two_generations((0.1, 0.9)), "front", {"mark": "yes"})["one"] == pytest.approx(49 / 58)


def test_misleading_evidence_weighs_little() -> None:
    assert chances(two_generations(misleading=True), "front", {"mark": "yes"})["one"] == pytest.approx(0.6)


def test_cannot_see_changes_nothing() -> None:
    world = two_generations()
    assert chances(world, "front", {"mark": "unknown"}) == chances(world, "front", {})
    assert identify(world, "front", {"mark": "unknown"}).question is None


def test_a_part_that_halves_the_field_is_asked_before_one_that_does_not() -> None:
    parts: dict[str, Any] = {
        "features": [{"id": "rare", "side": "lens", "label": "rare"}, {"id": "half", "side": "lens", "label": "half"}],
        "generations": [
            {"id": f"g{n}", "label": str(n), "prevalence": 0.25, "lens_features": features}
            for n, features in enumerate([["rare", "half"], ["half"], [], []])
        ],
    }
    world = compile_world(gear_of({"mounts": [mount("front", 45.0, **parts)]}))
    question = identify(world, "front", {}).question
    assert question is not None
    assert question.feature == "half"
    # Nearly one bit: 1 − H(0.02).
    assert question.gain_bits == pytest.approx(1 - 0.1414405, abs=1e-6)


@pytest.mark.parametrize("generation", ["kelvane-1", "kelvane-2", "kelvane-3", "kelvane-4"])
def test_honest_answers_lead_to_the_generation(sample: World, generation: str) -> None:
    has = sample.generations[generation].lens_features
    answers: dict[str, Answer] = {}
    for _ in range(12):
        report = identify(sample, "kelvane", answers)
        if report.question is None:
            break
        answers[report.question.feature] = "yes" if report.question.feature in has else "no"
    assert report.settled
    assert report.remaining[0].generation == generation
    assert report.conflicts == ()
    assert len(answers) <= 5


@given(st.data())
def test_probabilities_sum_to_one_and_answers_commute(sample: World, data: st.DataObject) -> None:
    features = [f.id for f in sample.mounts["kelvane"].features if f.side == "lens"]
    chosen = data.draw(st.lists(st.sampled_from(features), unique=True, max_size=5))
    answers: dict[str, Answer] = {id_: data.draw(st.sampled_from(SEEN)) for id_ in chosen}
    one = chances(sample, "kelvane", answers)
    other = chances(sample, "kelvane", dict(reversed(answers.items())))
    assert sum(one.values()) == pytest.approx(1)
    assert one == pytest.approx(other)


def test_a_long_rack_may_not_go_on_a_fixed_probe(sample: World) -> None:
    places = identify(sample, "kelvane", {"rack-long": "yes", "no-ring": "no"}).may_mount
    effects = {(place.generation, place.body): place.effect for place in places}
    assert effects[("kelvane-3", "stave-3")] == "damage"
    assert effects[("kelvane-2", "stave-2")] == "safe_after"
    drawn = next(place for place in places if place.body == "stave-2")
    assert drawn.action is not None
    assert "Draw the probe" in drawn.action


def test_what_was_seen_outranks_the_likeliest_generation(sample: World) -> None:
    """A generation I lens whose rack was cut down: it conflicts, and it does not break the probe."""
    absent = ("rack-long", "sounding-hole", "stepped-shoe", "double-index", "no-ring")
    answers: dict[str, Answer] = dict.fromkeys(absent, "no")
    report = identify(sample, "kelvane", answers)
    assert report.remaining[0].generation == "kelvane-1"
    assert [conflict.feature for conflict in report.conflicts] == ["rack-long"]
    assert "converted" in report.conflicts[0].text
    # That the rack is not there was seen once; what stands in its place is the second look.
    assert any(place.effect == "damage" for place in report.may_mount)
    cut = identify(sample, "kelvane", {**answers, "rack-short": "yes"})
    assert all(place.effect != "damage" for place in cut.may_mount)


def places(world: World, answers: dict[str, Answer]) -> dict[str | None, MayMount]:
    return {place.body: place for place in identify(world, "kelvane", answers).may_mount}


def test_what_is_not_identified_is_not_cleared(sample: World) -> None:
    """One misleading yes: generation I is at 0.3/1.021 still, and would break two bodies."""
    report = identify(sample, "kelvane", {"painted-index": "yes"})
    assert not report.settled
    found = places(sample, {"painted-index": "yes"})
    for body in ("stave-3", "stave-4"):
        assert found[body].effect == "damage"
        assert found[body].unless == "if it is generation I (29 %)"
        assert found[body].look == "rack-long"
        assert found[body].verdicts[0].label == "I"
        assert len(found[body].verdicts) == 4
    assert found["stave-2"].effect == "safe_after"
    assert found["stave-2"].action is not None


def test_what_breaks_is_cleared_by_its_own_part_and_a_second(sample: World) -> None:
    """Generation I breaks a fixed probe with its rack; II and III have the sounding hole, which I has not."""
    one_answer: tuple[dict[str, Answer], ...] = (
        {"sounding-hole": "yes"},
        {"rack-long": "no"},
        {"painted-index": "yes", "rack-long": "no"},
        # Two parts, and the one that breaks is not among them.
        {"sounding-hole": "yes", "stepped-shoe": "yes", "double-index": "yes"},
        # What misleads is no second part.
        {"rack-long": "no", "bright-front": "no"},
    )
    for answers in one_answer:
        assert places(sample, answers)["stave-3"].effect == "damage", answers
        report = identify(sample, "kelvane", answers)
        assert not report.settled
        assert report.known.features is None
        assert report.question is not None
    both: dict[str, Answer] = {"rack-long": "no", "sounding-hole": "yes"}
    assert places(sample, both)["stave-3"].effect != "damage"
    assert places(sample, {"rack-long": "yes"})["stave-3"].unless == ""


@given(st.data())
def test_whatever_is_answered_once_clears_nothing_that_breaks(sample: World, data: st.DataObject) -> None:
    features = [f.id for f in sample.mounts["kelvane"].features if f.side == "lens"]
    (one,) = data.draw(st.lists(st.sampled_from(features), min_size=1, max_size=1))
    answer = data.draw(st.sampled_from(SEEN))
    assert places(sample, {one: answer})["stave-3"].effect == "damage"


def test_a_generation_that_nobody_counted_is_as_likely_as_the_others() -> None:
    """Shares of a half and a quarter are said: what is not said counts as their mean; a nought that is said is one."""

    def of(*shares: float | None) -> list[float]:
        generations = [{"id": f"g{n}", "label": f"{n}", "prevalence": one} for n, one in enumerate(shares)]
        world = compile_world(gear_of({"mounts": [mount("front", 45.0, generations=generations)]}))
        found = chances(world, "front", {})
        return [found[f"g{n}"] for n in range(len(shares))]

    whole = 0.5 + 0.25 + 0.375
    assert of(0.5, 0.25, None) == pytest.approx([0.5 / whole, 0.25 / whole, 0.375 / whole])
    assert of(0.5, None, 0.0) == pytest.approx([2 / 3, 1 / 3, 0.0])
    assert of(0.0, None) == pytest.approx([0.0, 1.0])
    assert of(None, None) == pytest.approx([0.5, 0.5])
    assert of(0.0, 0.0) == pytest.approx([0.5, 0.5])


def test_what_misleads_rules_out_no_generation() -> None:
    """Six misleading answers against a generation at four parts in a hundred: believed, they would rule it out."""
    parts: dict[str, Any] = {
        "features": [
            *({"id": f"m{n}", "side": "lens", "label": "m", "misleading": True} for n in range(6)),
            {"id": "rack", "side": "lens", "label": "rack"},
            {"id": "probe", "side": "body", "label": "probe"},
        ],
        "generations": [
            {"id": "one", "label": "I", "lens_features": ["rack"], "body_features": ["probe"], "prevalence": 0.04},
            {"id": "two", "label": "II", "lens_features": [f"m{n}" for n in range(6)], "prevalence": 0.96},
        ],
        "rules": [{"lens_has": ["rack"], "body_has": ["probe"], "effect": "damage", "text": "It breaks."}],
    }
    world = compile_world(gear_of({"mounts": [mount("front", 45.0, **parts)]}))
    report = identify(world, "front", {f"m{n}": "yes" for n in range(6)})
    # 0.04·0.4⁶ : 0.96·0.6⁶ is 0.0037 of the whole.
    assert report.remaining[1].probability == pytest.approx(0.04 * 0.4**6 / (0.04 * 0.4**6 + 0.96 * 0.6**6))
    (on_probe,) = [place for place in report.may_mount if place.generation == "one"]
    assert on_probe.effect == "damage"
    assert on_probe.look == "rack"


@given(st.data())
def test_the_worst_of_what_it_may_be_is_never_hidden(sample: World, data: st.DataObject) -> None:
    """Whatever was answered: no generation above one in a hundred does worse than what is said."""
    features = [f.id for f in sample.mounts["kelvane"].features if f.side == "lens"]
    chosen = data.draw(st.lists(st.sampled_from(features), unique=True, max_size=4))
    answers: dict[str, Answer] = {id_: data.draw(st.sampled_from(SEEN)) for id_ in chosen}
    report = identify(sample, "kelvane", answers)
    possible = {one.id for one in report.remaining if one.probability > 0.01}
    for place in report.may_mount:
        told = {verdict.id: verdict.effect for verdict in place.verdicts}
        assert possible <= told.keys()
        if "damage" in told.values():
            assert place.effect == "damage"
        assert bool(place.unless) == (len(set(told.values())) > 1)


def test_a_conversion_is_among_the_answers(sample: World) -> None:
    """A short rack and no sounding hole: cut down at home, or somebody did not see the hole."""
    absent = ("rack-long", "sounding-hole", "stepped-shoe", "double-index", "no-ring")
    answers: dict[str, Answer] = {**dict.fromkeys(absent, "no"), "rack-short": "yes"}
    best = identify(sample, "kelvane", answers).remaining[0]
    assert (best.generation, best.conversion) == ("kelvane-1", "home")
    assert best.label == "I, cut down by its owner"
    # 0.3·0.02·0.98⁶ against a generation II whose hole was not seen, 0.25·0.98⁵·0.02, and hardly anything else.
    assert best.probability == pytest.approx(0.00588 / (0.00588 + 0.005), abs=0.02)
    found = places(sample, answers)
    assert found["stave-3"].effect == "inspect"
    home = next(one for one in found["stave-3"].verdicts if one.id == best.id)
    assert (home.effect, home.label) == ("inspect", "I, cut down by its owner")


def test_a_conversion_of_ones_own_is_stored_as_one() -> None:
    parts: dict[str, Any] = {
        "features": [{"id": one, "side": "lens", "label": one} for one in ("rack", "rim", "bar")],
        "generations": [
            {"id": "one", "label": "I", "lens_features": ["rack"], "prevalence": 0.5},
            {"id": "two", "label": "II", "lens_features": ["bar"], "prevalence": 0.5},
        ],
    }
    converted = lens(generation="one", conversion="factory", features=["rim"])
    world = compile_world(gear_of({"mounts": [mount("front", 45.0, **parts)], "lenses": [converted]}))
    report = identify(world, "front", {"rim": "yes", "rack": "no", "bar": "no"})
    # 0.5·0.02·0.98³ against 0.5·0.02·0.02·0.98 for either generation.
    assert report.remaining[0].probability == pytest.approx(0.98**2 / (0.98**2 + 2 * 0.02))
    assert report.settled
    assert report.known.generation == "one"
    assert (report.known.conversion, report.known.features) == ("factory", ("rim",))


def test_while_it_is_open_nothing_is_stored_but_what_was_seen(sample: World) -> None:
    known = identify(sample, "kelvane", {"painted-index": "yes", "no-ring": "no"}).known
    assert (known.generation, known.features) == (None, None)
    assert known.claim.startswith("Its generation is open: I 34 %")
    assert known.note == "Seen: painted second index. Looked for and not there: no aperture ring."
    settled = identify(sample, "kelvane", {"rack-long": "yes", "sounding-hole": "no"})
    assert (settled.known.generation, settled.known.features) == ("kelvane-1", settled.as_seen)
    assert settled.known.claim == settled.known.note == ""


def test_bodies_are_told_apart_too(sample: World) -> None:
    report = identify(sample, "kelvane", {"probe-fixed": "yes", "body-contacts": "no"}, side="body")
    assert report.remaining[0].generation == "kelvane-3"
    assert report.may_mount == ()


def test_what_is_not_there_is_refused(sample: World) -> None:
    with pytest.raises(UnknownIdError):
        identify(sample, "kelvain", {})
    with pytest.raises(KeyError):
        identify(sample, "kelvane", {"probe-fixed": "yes"})


def test_a_mount_without_generations_has_nothing_to_ask(sample: World) -> None:
    report = identify(sample, "tolmer", {})
    assert (report.remaining, report.question) == ((), None)


def test_every_pair_of_answers_leaves_something(sample: World) -> None:
    features = [f.id for f in sample.mounts["kelvane"].features if f.side == "lens"]
    for one, other in itertools.combinations(features, 2):
        for first, second in itertools.product(SEEN, repeat=2):
            remaining = identify(sample, "kelvane", {one: first, other: second}).remaining
            assert remaining[0].probability > 0.2
