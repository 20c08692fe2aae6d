"""What a ring and a dial can be set to: the next mark, never one that lets in more or shakes more."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import rig
from tests.worlds import gear_of, lens, mount
from tropeion.core.gear.lenses import Lens
from tropeion.core.rig.marks import SHUTTERS_S, STOPS, mark_from, shutter_from, shutter_said


def made(**more: Any) -> Lens:
    return gear_of({"mounts": [mount("front", 45.0)], "lenses": [lens(**more)]}).lenses[0]


@pytest.mark.parametrize(
    ("f_number", "mark"), [(4.2, 4.5), (4.0, 4.0), (2.0, 2.0), (1.7, 1.8), (16.0, 16.0), (15.0, 16.0), (300.0, 300.0)]
)
def test_the_next_stop(f_number: float, mark: float) -> None:
    assert mark_from(made(), f_number) == mark


def test_a_lens_has_the_marks_that_are_noted_and_its_own_ends() -> None:
    assert mark_from(made(marked_f_numbers=[2.0, 4.0, 8.0, 16.0]), 4.2) == 8.0
    # f/1.9 stands on no dial but its own.
    assert mark_from(made(f_number=[1.9, 16]), 1.85) == 1.9


@pytest.mark.parametrize(
    ("asked_s", "said"),
    [(1 / 103, "1/125"), (1 / 125, "1/125"), (1 / 55, "1/60"), (0.45, "0.4"), (0.35, "1/3"), (1.1, "1")],
)
def test_the_next_time(asked_s: float, said: str) -> None:
    assert shutter_said(shutter_from(asked_s)) == said


@given(st.floats(1.0, 128.0), st.floats(1 / 8000, 30.0))
def test_a_mark_is_never_wider_and_never_slower(f_number: float, asked_s: float) -> None:
    mark, shutter_s = mark_from(made(f_number=[1.0, 128.0]), f_number), shutter_from(asked_s)
    assert mark >= f_number - 1e-6
    assert shutter_s <= asked_s + 1e-6
    # The next ones: nothing lies between.
    assert not any(f_number <= one < mark for one in STOPS)
    assert not any(shutter_s < one <= asked_s for one in SHUTTERS_S)


def test_infinity_is_told_by_a_mark() -> None:
    found = rig(25.12)
    # s/c = 0.12/0.02885 = f/4.16.
    assert found.wide.infinity.from_f_number == pytest.approx(4.16, abs=0.005)
    assert found.wide.from_mark == 4.5
    assert "f/4.5" in found.sentence


def test_stops_and_times_go_up_by_thirds() -> None:
    """As engraved: a third of a stop to the next, within what rounding leaves; the last few by whole ones."""
    thirds = [other / one for one, other in itertools.pairwise(STOPS[:-2])]
    assert all(1.07 < step < 1.19 for step in thirds)
    times = [other / one for one, other in itertools.pairwise(SHUTTERS_S)]
    assert all(1.14 < step < 1.37 for step in times)
