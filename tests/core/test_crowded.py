"""More chains between two mounts than anyone looks at: which are listed, which are judged, and what is said of it."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_grid_change import PRACTICE, between, crowded, gear
from tests.thorough import examples
from tests.worlds import ring, world_of
from tropeion.core.findings import rank
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes import promising
from tropeion.core.routes.grades import best_of_each
from tropeion.core.routes.match import match
from tropeion.core.routes.table import count_ways, table_of


def crowd(count: int) -> World:
    """Rings of as many lengths. Both mounts lock alike, so that any goes on any other."""
    return world_of([ring(f"r{n}", 2 + 0.19 * n, price=10.0 + n, mass_g=300.0 - n) for n in range(count)])


@pytest.mark.parametrize(("pieces", "longest"), [(1, 1), (2, 2), (3, 2), (4, 2)])
def test_chains_are_listed_to_the_length_at_which_they_are_not_too_many(pieces: int, longest: int) -> None:
    """Of 200 rings there are 40,201 chains of two at most, and 8 million of three."""
    world = crowd(200)
    lens, body = world.lenses["lens"], world.bodies["body"]
    assert len(table_of(world, lens, body, pieces)) == sum(200**number for number in range(longest + 1))
    assert count_ways(world, lens, body, pieces) == sum(200**number for number in range(pieces + 1))


@pytest.mark.parametrize("pieces", [2, 3])
def test_of_many_the_most_promising_are_judged_and_the_rest_is_counted(pieces: int) -> None:
    report = match(crowd(125), "lens", "body", Practice.model_validate({"pieces": str(pieces)}), everything=True)
    assert report.total == sum(125**number for number in range(pieces + 1))
    # The most promising, and those single rings and bare that are not among them.
    assert promising.MOST_JUDGED <= report.total - report.not_judged <= promising.MOST_JUDGED + 126
    best = report.routes[0]
    # The cheapest that is less than a millimetre short of 25: 2 + 0.19 · 116 = 24.04.
    assert (best.grade, best.adapters) == ("manual", ("r116",))


def test_few_chains_are_all_judged() -> None:
    assert match(crowd(9), "lens", "body", Practice(pieces="2")).not_judged == 0


def test_single_pieces_are_judged_whatever_they_promise(monkeypatch: pytest.MonkeyPatch) -> None:
    """A ring of the wrong register is told of, however many chains would do."""
    monkeypatch.setattr(promising, "MOST_JUDGED", 8)
    world = world_of([*(ring(f"h{n}", 12.5, mass_g=20.0 + n) for n in range(6)), ring("short", 9.0)])
    told = match(world, "lens", "body", Practice(pieces="2"), everything=True)
    assert told.not_judged > 0
    assert ("short",) in {route.adapters for route in told.routes}
    # Beside the eight most promising: bare and seven rings.
    assert sum(route.stands_for for route in told.routes) == 16


def test_close_up_the_longest_chains_are_among_them(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(promising, "MOST_JUDGED", 10)
    world, longest = crowd(125), ("r124", "r124")
    found = {
        purpose: match(world, "lens", "body", Practice(pieces="2", purpose=purpose), everything=True).routes
        for purpose in ("infinity", "close_up")
    }
    assert longest not in {route.adapters for route in found["infinity"]}
    assert found["close_up"][0].adapters == longest


rings = st.lists(
    st.tuples(
        st.sampled_from(["aster", "birch", "cedar"]),
        st.sampled_from(["birch", "cedar", "dogwood"]),
        st.sampled_from([-0.02, 0.0, 0.4, -3.0]),
    ),
    min_size=2,
    max_size=9,
)


def made(drawn: list[tuple[str, str, float]]) -> list[dict[str, Any]]:
    return [
        between(f"a{number}", front, rear, by, mass_g=30.0 + number)
        for number, (front, rear, by) in enumerate(drawn)
        if front < rear
    ]


@settings(deadline=None, max_examples=examples(60))
@given(rings)
def test_the_whole_kit_and_a_pair_give_one_grade_in_a_crowd(drawn: list[tuple[str, str, float]]) -> None:
    with crowded():
        world = compile_world(gear(*made(drawn)))
        lenses, bodies = list(world.lenses.values()), list(world.bodies.values())
        for (lens, body), best in best_of_each(world, lenses, bodies, PRACTICE).items():
            routes = match(world, lens, body, PRACTICE, everything=True).routes
            told = [route.grade for route in routes if route.surely]
            assert best.standing.grade == max(told, key=rank, default=None)
