"""The order that swaps least, against every order there is."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.setup import swaps
from tropeion.core.setup.swaps import Mounting, in_least_order, swaps_in_order

ONE = Mounting("a", ("ring one",))
OTHER = Mounting("a", ("ring two",))


def test_by_hand() -> None:
    # one, other, one: three swaps as planned; both of one first: two.
    given_order = swaps_in_order([ONE, OTHER, ONE], [0, 1, 2], {"ring": 2})
    least = in_least_order([ONE, OTHER, ONE], {"ring": 2})
    assert given_order.swaps == 3
    assert (least.swaps, [step.shot for step in least.steps], least.proven) == (2, [0, 2, 1], True)


def test_two_bodies_keep_what_stands_on_them() -> None:
    shots = [Mounting("a", ("one",)), Mounting("b", ("two",)), Mounting("a", ("one",)), Mounting("b", ("two",))]
    found = swaps_in_order(shots, range(4), {})
    assert [step.swaps for step in found.steps] == [1, 1, 0, 0]


def test_a_ring_on_the_body_stays_for_the_next_lens() -> None:
    # Ring and lens are put on, then only the lens is changed.
    found = swaps_in_order([Mounting("a", ("ring", "one")), Mounting("a", ("ring", "two"))], range(2), {})
    assert [step.swaps for step in found.steps] == [2, 1]
    assert [(one.body, one.elements) for one in found.steps[1].standing] == [("a", ("ring", "two"))]


def test_the_only_ring_is_taken_from_the_other_body_with_the_lens_before_it() -> None:
    shots = [Mounting("a", ("ring", "one")), Mounting("b", ("ring", "two")), Mounting("a", ("ring", "one"))]
    single = swaps_in_order(shots, range(3), {"ring": 1})
    assert [step.swaps for step in single.steps] == [2, 2, 2]
    assert {one.body: one.elements for one in single.steps[1].standing}["a"] == ()
    # With two of them each body keeps its own.
    assert [step.swaps for step in swaps_in_order(shots, range(3), {"ring": 2}).steps] == [2, 2, 0]


def test_a_lens_that_is_kept_with_its_ring_is_taken_with_it() -> None:
    shots = [Mounting("a", ("ring-a one",)), Mounting("b", ("ring-b one",))]
    found = swaps_in_order(shots, range(2), {"ring-a": 1, "ring-b": 1, "one": 1})
    assert {one.body: one.elements for one in found.steps[1].standing}["a"] == ()


PIECES = st.sampled_from(["r", "s"])
RIGS = st.builds(
    lambda body, ring, lens: Mounting(body, (ring, lens)),
    st.sampled_from("ab"),
    PIECES,
    st.sampled_from(["1", "2", "3"]),
)


@given(st.lists(RIGS, min_size=1, max_size=5), st.integers(1, 2))
def test_no_order_swaps_less(shots: list[Mounting], rings: int) -> None:
    copies = {"r": rings, "s": rings, "1": 1, "2": 1, "3": 1}
    least = in_least_order(shots, copies)
    best = min(swaps_in_order(shots, order, copies).swaps for order in itertools.permutations(range(len(shots))))
    assert least.swaps == best
    assert sorted(step.shot for step in least.steps) == list(range(len(shots)))


def test_of_many_rigs_it_says_that_not_all_was_tried() -> None:
    shots = [Mounting("ab"[number % 2], (f"ring{number % 4}", f"lens{number}")) for number in range(12)]
    found = in_least_order(shots, {})
    assert not found.proven
    assert found.swaps <= swaps_in_order(shots, range(12), {}).swaps


@given(st.lists(RIGS, min_size=1, max_size=5), st.integers(1, 2), st.sampled_from([10, 60, 200]))
def test_what_is_left_out_makes_it_unproven(shots: list[Mounting], rings: int, most: int) -> None:
    copies = {"r": rings, "s": rings, "1": 1, "2": 1, "3": 1}
    best = min(swaps_in_order(shots, order, copies).swaps for order in itertools.permutations(range(len(shots))))
    with pytest.MonkeyPatch.context() as fewer:
        for name, value in (("MOST_EXACT", 1), ("MOST_TRIED", most), ("_LEAST_KEPT", 1)):
            fewer.setattr(swaps, name, value)
        swaps._in_least_order.cache_clear()
        found = in_least_order(shots, copies)
    swaps._in_least_order.cache_clear()
    assert sorted(step.shot for step in found.steps) == list(range(len(shots)))
    assert found.swaps == best if found.proven else found.swaps >= best


def test_sixty_rigs_are_ordered_within_so_many_steps(monkeypatch: pytest.MonkeyPatch) -> None:
    made = []
    put = swaps.put

    def counted(*asked: Any) -> Any:
        made.append(asked)
        return put(*asked)

    monkeypatch.setattr(swaps, "put", counted)
    shots = [Mounting(f"b{number * 5 % 8}", (f"ring{number * 7 % 10}", f"lens{number}")) for number in range(60)]
    found = in_least_order(shots, {})
    assert sorted(step.shot for step in found.steps) == list(range(60))
    assert found.swaps < swaps_in_order(shots, range(60), {}).swaps
    assert len(made) <= swaps.MOST_TRIED
    made.clear()
    # Asked again, it is not worked out again.
    assert in_least_order(list(shots), {"a lens at home": 3}) == found
    assert not made


@pytest.mark.parametrize("shots", [[], [ONE]])
def test_of_none_and_of_one(shots: list[Mounting]) -> None:
    assert in_least_order(shots, {}).swaps == len(shots)
