"""The first route of a pair is found without judging them all, and is the one that all of them judged put first."""

from __future__ import annotations

import random
from typing import Any

import pytest

from tests.core.test_plain_path import random_world
from tests.thorough import EVERYWHERE, examples
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.pair import first_of, ranked

PRACTICES = {
    "usual": Practice(),
    "precise": Practice(rings="precise", trust="cautious"),
    "price": Practice(rings="price_first", glass="avoid"),
    "plain": Practice(electronics="plain", zooms="avoid"),
    "close": Practice(purpose="close_up"),
}


def same(world: World, lens: str, body: str, practice: Practice) -> bool:
    """Whether something is told first, once both agree."""
    found, told = first_of(world, lens, body, practice), ranked(world, lens, body, practice, False).judged
    assert (found.best is None) == (not told)
    if found.best is not None:
        assert [one.id for one in found.best.adapters] == [one.id for one in told[0].adapters]
        assert found.best.merit == told[0].merit
    dangers = [one for one in told[1:] if one.merit.grade == "danger"]
    assert [one.adapters for one in found.dangers] == [one.adapters for one in dangers]
    return found.best is not None


@pytest.mark.parametrize("name", PRACTICES)
def test_it_is_the_first_of_all_in_the_sample(sample: World, name: str) -> None:
    every = [(lens.id, body.id) for lens in sample.gear.mounted for body in sample.gear.bodies]
    some = every if EVERYWHERE else [*every[::11], ("kel-55", "stave-3"), ("tub-105", "bell"), ("kel-55", "o7")]
    told = [same(sample, *pair, PRACTICES[name]) for pair in some]
    assert any(told)
    assert not all(told)


@pytest.mark.parametrize("seed", range(examples(120)))
def test_so_it_is_in_random_worlds(seed: int) -> None:
    world = random_world(random.Random(seed))
    practice = list(PRACTICES.values())[seed % len(PRACTICES)]
    for lens in world.gear.mounted:
        for body in world.gear.bodies:
            same(world, lens.id, body.id, practice)


def test_few_chains_are_judged_for_it(sample: World, monkeypatch: pytest.MonkeyPatch) -> None:
    judged: list[object] = []

    def counted(*asked: Any) -> object:
        judged.append(asked)
        return assess(*asked)

    monkeypatch.setattr("tropeion.core.routes.pair.assess", counted)
    # Asked by nobody else: what is known is not judged again.
    practice = Practice(throw="short", menu="short")
    first_of(sample, "kel-45", "o7", practice)
    few = len(judged)
    ranked(sample, "kel-45", "o7", practice, False)
    assert few * 3 < len(judged) - few
