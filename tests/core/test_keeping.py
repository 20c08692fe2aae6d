"""What is kept: computed once, bounded, never another's answer, whatever the threads do."""

from __future__ import annotations

import sys
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.limits import LIMIT_S
from tropeion.core.gear.world import World, compile_world
from tropeion.core.keeping import Keeper, kept
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match


@dataclass(frozen=True)
class Thing:
    keeper: Keeper = field(default_factory=Keeper)


def counted(most: int = 8) -> tuple[list[int], object]:
    calls: list[int] = []

    @kept(most=most)
    def square(_: Thing, number: int) -> int:
        calls.append(number)
        return number * number

    return calls, square


@given(st.lists(st.integers(0, 12), max_size=40), st.integers(1, 6))
def test_answers_are_right_and_no_more_are_held_than_said(asked: list[int], most: int) -> None:
    calls, square = counted(most)
    thing = Thing()
    for number in asked:
        assert square(thing, number) == number * number  # type: ignore[operator]
        assert len(thing.keeper) <= most
    if len(set(asked)) <= most:
        assert calls == list(dict.fromkeys(asked))


def test_answers_stay_with_their_thing() -> None:
    calls, square = counted()
    for thing in (Thing(), Thing()):
        assert [square(thing, 3), square(thing, 3)] == [9, 9]  # type: ignore[operator]
    assert calls == [3, 3]


def test_an_error_is_not_kept() -> None:
    tries: list[None] = []

    @kept()
    def flaky(_: Thing) -> str:
        tries.append(None)
        if len(tries) == 1:
            raise ValueError("the first time")
        return "there"

    thing = Thing()
    with pytest.raises(ValueError, match="first time"):
        flaky(thing)
    assert [flaky(thing), flaky(thing), len(tries)] == ["there", "there", 2]


def test_a_name_in_the_call_is_refused_rather_than_left_out_of_the_key() -> None:
    _, square = counted()
    with pytest.raises(TypeError, match="positional"):
        square(Thing(), number=3)  # type: ignore[operator]


def test_many_threads_compute_an_answer_once() -> None:
    gate, calls = threading.Barrier(12), []

    @kept()
    def slow(_: Thing) -> object:
        calls.append(threading.get_ident())
        return object()

    thing = Thing()

    def ask() -> object:
        gate.wait(LIMIT_S)
        return slow(thing)

    with ThreadPoolExecutor(12) as pool:
        found = {id(one.result()) for one in [pool.submit(ask) for _ in range(12)]}
    assert len(found) == len(calls) == 1


@contextmanager
def hasty() -> Iterator[None]:
    """Threads that take turns as often as they can."""
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    try:
        yield
    finally:
        sys.setswitchinterval(before)


@pytest.mark.attack
def test_cold_worlds_under_twenty_threads_answer_as_one_thread_does(sample: World) -> None:
    practice = Practice()
    pairs = [(lens.id, body.id) for lens in sample.gear.lenses[::4] for body in sample.gear.bodies[::3]][:20]
    expected = {pair: match(sample, *pair, practice) for pair in pairs}
    for _ in range(4):
        cold = compile_world(sample.gear)
        gate = threading.Barrier(len(pairs))

        def ask(pair: tuple[str, str], world: World = cold, gate: threading.Barrier = gate) -> object:
            gate.wait(LIMIT_S)
            return match(world, *pair, practice)

        with hasty(), ThreadPoolExecutor(len(pairs)) as pool:
            found = dict(zip(pairs, pool.map(ask, pairs), strict=True))
        assert found == expected
