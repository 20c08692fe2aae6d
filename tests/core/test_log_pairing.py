"""Pairs of taps and pictures, and the clock that they tell, against trying everything."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.log import clock
from tropeion.core.log.clock import matched_offset
from tropeion.core.log.pairing import Barred, Times, pairing, pairing_value
from tropeion.core.records.moments import SECOND_US

few = st.lists(st.integers(0, 60), max_size=5).map(sorted)
reaches = st.sampled_from([5, 12, 30])


def _times(values: list[int], unit: int = 1) -> Times:
    return np.array(values, np.int64) * unit


def _best(taps: list[int], pictures: list[int], reach: int, at: int = 0, used: frozenset[int] = frozenset()) -> int:
    """The greatest sum over all ways to pair, crossed ones too."""
    if at == len(taps):
        return 0
    best = _best(taps, pictures, reach, at + 1, used)
    for number, picture in enumerate(pictures):
        worth = reach - abs(picture - taps[at])
        if worth > 0 and number not in used:
            best = max(best, worth + _best(taps, pictures, reach, at + 1, used | {number}))
    return best


@given(few, few, reaches)
def test_a_pairing_in_order_is_the_best_of_all(taps: list[int], pictures: list[int], reach: int) -> None:
    value, pairs = pairing(_times(taps), _times(pictures), reach)
    assert value == _best(taps, pictures, reach)
    assert value == pairing_value(_times(taps), _times(pictures), reach)
    assert sum(reach - abs(taps[tap] - pictures[picture]) for tap, picture in pairs) == value
    assert all(abs(taps[tap] - pictures[picture]) < reach for tap, picture in pairs)
    assert list(pairs) == sorted(pairs)
    assert len({tap for tap, _ in pairs}) == len({picture for _, picture in pairs}) == len(pairs)


def test_a_pair_far_apart_never_displaces_two_that_agree() -> None:
    # The first tap could have the first picture only by leaving the second tap without its own.
    assert pairing(_times([0, 100]), _times([99]), 120)[1] == [(1, 0)]
    assert pairing(_times([0, 100]), _times([1, 101]), 120)[1] == [(0, 0), (1, 1)]


def test_of_equal_sums_the_earlier_tap_then_the_earlier_picture() -> None:
    assert pairing(_times([0, 10]), _times([5]), 120)[1] == [(0, 0)]
    assert pairing(_times([5]), _times([0, 10]), 120)[1] == [(0, 0)]
    assert pairing(_times([5, 5]), _times([5]), 120)[1] == [(0, 0)]


def test_what_is_barred_is_never_paired() -> None:
    table = np.array([[True, False]])
    barred = Barred(np.array([0, 0]), np.array([0, 1]), table)
    assert pairing(_times([0, 50]), _times([0, 60]), 120, barred)[1] == [(1, 1)]


seconds = st.integers(0, 900)
microseconds = st.integers(0, SECOND_US - 1)
moments = st.lists(st.tuples(seconds, microseconds), min_size=1, max_size=9).map(
    lambda found: sorted(second * SECOND_US + part for second, part in found)
)


@pytest.mark.parametrize("at_once", [2_000_000, 0], ids=["all at once", "by regions"])
@given(moments, moments, st.sampled_from([0, 400, -90_000, 10**9]))
def test_the_clock_is_the_best_of_all_offsets(at_once: int, taps: list[int], pictures: list[int], shown: int) -> None:
    moved = _times([picture - shown * SECOND_US for picture in pictures])
    logged = _times(taps)
    candidates = {(a - b + SECOND_US // 2) // SECOND_US for a in logged.tolist() for b in moved.tolist()}
    values = {o: pairing_value(logged, moved + o * SECOND_US, clock.REACH_US) for o in candidates}
    best = min(values, key=lambda o: (-values[o], abs(o), o))
    before = clock._AT_ONCE
    try:
        clock._AT_ONCE = at_once  # type: ignore[misc]
        found = matched_offset(logged, moved)
    finally:
        clock._AT_ONCE = before  # type: ignore[misc]
    assert found is not None
    # The whole second of the best, and the median of what is left.
    assert abs(found.offset_us - best * SECOND_US) < clock.REACH_US
    _, pairs = pairing(logged, moved + best * SECOND_US, clock.REACH_US)
    off = sorted(int(logged[tap] - moved[picture]) for tap, picture in pairs)
    middle = (off[(len(off) - 1) // 2] + off[len(off) // 2]) / 2
    assert abs(found.offset_us - middle) <= 1
    rivals = any(abs(o - best) > 60 and value >= 0.6 * values[best] for o, value in values.items())
    assert found.certain == (found.pairs >= 5 and 2 * found.pairs >= len(taps) and not rivals)


def test_taps_at_equal_steps_leave_the_clock_open() -> None:
    # Shifted by one step, all but one agree as well.
    steps = [90 * number for number in range(12)]
    found = matched_offset(_times(steps, SECOND_US), _times([step - 420 for step in steps], SECOND_US))
    assert found is not None
    assert (found.offset_us, found.pairs, found.certain) == (420 * SECOND_US, 12, False)


def test_nothing_matches_nothing() -> None:
    assert matched_offset(_times([]), _times([5])) is None
    assert matched_offset(_times([5]), _times([])) is None
