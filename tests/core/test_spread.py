"""The sum of rectangular errors: against laws that are known, and against throwing dice."""

from __future__ import annotations

import itertools
import math
import random
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.optics.spread import density_of, share_between

widths = st.lists(st.floats(1e-3, 0.3), min_size=1, max_size=6).map(tuple)
limits = st.floats(-1, 1)


def test_one_error_is_even_over_its_width() -> None:
    assert share_between((0.2,), -0.2, 0.1) == pytest.approx(0.75)
    assert share_between((0.2,), 0.1, 0.4) == pytest.approx(0.25)


@given(st.floats(0.01, 0.3), st.floats(0, 1))
def test_two_alike_make_a_triangle(a: float, share: float) -> None:
    # A triangle from −2a to 2a: what lies beyond x is (1 − x/2a)²/2.
    x = 2 * a * share
    assert share_between((a, a), -1.0, x) == pytest.approx(1 - (1 - share) ** 2 / 2, abs=1e-6)


def test_three_and_four_alike_by_the_law_of_irwin_and_hall() -> None:
    # The sum of n uniform numbers from 0 to 1 stays below 1 with a probability of 1/n!.
    for n in (3, 4, 5, 6):
        below = share_between((0.5,) * n, -10.0, 1 - n / 2)
        assert below == pytest.approx(1 / math.factorial(n), abs=1e-9)


@given(widths, limits, limits)
def test_it_is_a_share_and_even(found: tuple[float, ...], one: float, other: float) -> None:
    low, high = sorted((one, other))
    share = share_between(found, low, high)
    assert 0 <= share <= 1
    assert share_between(found, -high, -low) == pytest.approx(share, abs=1e-9)
    assert share <= share_between(found, low, high + 0.1) + 1e-12


@given(widths)
def test_a_worst_case_inside_the_window_is_certain_and_one_outside_impossible(found: tuple[float, ...]) -> None:
    worst = math.fsum(found)
    assert share_between(found, -worst, worst) == 1.0
    assert share_between(found, worst + 1e-5, worst + 1) == 0.0
    assert share_between(found, -worst, worst / 2) < 1.0


@given(widths, limits)
def test_a_wide_error_among_narrow_ones_does_not_cancel_away(found: tuple[float, ...], limit: float) -> None:
    """The closed form in whole numbers, by another road: differences of powers in exact fractions."""
    whole = [Fraction(round(width * 10**9), 10**9) for width in found]
    x = Fraction(round(limit * 10**9), 10**9)
    corners = [Fraction(0)]
    for width in whole:
        corners = [*(at + width for at in corners), *(at - width for at in corners)]
    signs = [1]
    for _ in whole:
        signs = [*signs, *(-sign for sign in signs)]
    n = len(whole)
    total = sum((sign * max(x + at, Fraction(0)) ** n for at, sign in zip(corners, signs, strict=True)), Fraction(0))
    below = float(total / (math.factorial(n) * math.prod(2 * width for width in whole)))
    assert share_between(found, -10.0, limit) == pytest.approx(below, abs=1e-8)


def test_dice_agree() -> None:
    dice = random.Random(3)
    found = (0.02, 0.02, 0.05, 0.11)
    count = 40_000
    inside = sum(-0.05 <= sum(dice.uniform(-a, a) for a in found) <= 0.08 for _ in range(count))
    # Five standard deviations of a share among so many.
    assert share_between(found, -0.05, 0.08) == pytest.approx(inside / count, abs=5 * 0.5 / math.sqrt(count))


def test_what_is_under_a_nanometre_is_nothing() -> None:
    assert share_between((1e-7, 1e-9), 0.0, 1.0) == 1.0
    assert share_between((), -1.0, -1e-5) == 0.0


@given(widths)
def test_the_heights_of_the_density_are_even_and_hold_the_shares(found: tuple[float, ...]) -> None:
    heights = density_of(found)
    assert max(heights) == 1.0
    assert heights == pytest.approx(heights[::-1], abs=1e-6)
    middle = len(heights) // 2
    assert all(one <= other + 1e-9 for one, other in itertools.pairwise(heights[: middle + 1]))


def test_two_errors_draw_a_trapezium() -> None:
    # ±0.3 and ±0.1: level over the middle ±0.2, then straight down to ±0.4.
    heights = density_of((0.1, 0.3), 9)
    assert heights == pytest.approx((0, 0.5, 1, 1, 1, 1, 1, 0.5, 0))


def test_no_error_draws_no_line() -> None:
    assert density_of(()) == ()
