"""Long answers stop where nobody waits for them any more."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.worlds import ring, world_of
from tropeion.core.asking import NobodyAsksError, asked_by, go_on
from tropeion.core.becomes.becoming_tables import lens_on_bodies
from tropeion.core.becomes.reference import FULL_FRAME
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import best_grades
from tropeion.core.routes.match import match
from tropeion.core.setup.swaps import Mounting, in_least_order

PRACTICE = Practice(pieces="2")


def _of_a_pair(world: World) -> object:
    return match(world, "lens", "body", PRACTICE)


def _of_all(world: World) -> object:
    return best_grades(world, world.gear.lenses, world.gear.bodies, PRACTICE)


def _of_a_lens(world: World) -> object:
    return lens_on_bodies(world, world.lenses["lens"], world.gear.bodies, FULL_FRAME, PRACTICE)


def _of_an_outing(_: World) -> object:
    return in_least_order([Mounting(f"b{n % 3}", (f"ring{n % 4}", f"lens{n}")) for n in range(7)], {})


@pytest.mark.parametrize("question", [_of_a_pair, _of_all, _of_a_lens, _of_an_outing])
def test_it_stops_when_who_asked_leaves_and_the_next_is_answered(question: Callable[[World], object]) -> None:
    world = world_of([ring(f"r{n}", 20.0 + n, helicoid_mm=1.0) for n in range(4)])
    looks = []

    def has_left() -> bool:
        looks.append(True)
        return True

    with pytest.raises(NobodyAsksError), asked_by(has_left):
        question(world)
    assert len(looks) == 1
    with asked_by(lambda: False):
        found = question(world)
    assert found == question(world)


def test_alone_nothing_stops() -> None:
    go_on()
    with asked_by(lambda: True):
        with asked_by(lambda: False):
            go_on()
        with pytest.raises(NobodyAsksError):
            go_on()
