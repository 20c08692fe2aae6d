"""Readings that stand apart: a slip of the hand is named, what is no length is refused."""

from __future__ import annotations

import json
import math

import pytest

from tests.terminal import run
from tropeion.core.bench.readings import measured, slips_in


@pytest.mark.parametrize(
    ("readings", "slips"),
    [
        ([25.80, 25.81, 25.18, 25.82], (2,)),
        ([25.80, 52.80, 25.81], (1,)),
        ([25.80, 25.81, 25.82, 26.05], ()),
        # 0.25 mm from the median of 25.80 is not more than that.
        ([25.80, 25.80, 26.05], ()),
        ([25.80, 25.80, 26.051], (2,)),
        # Of two nobody can say which.
        ([25.80, 52.80], ()),
    ],
)
def test_a_slip_is_named_and_left_out_of_nothing(readings: list[float], slips: tuple[int, ...]) -> None:
    found = measured(readings, nominal_mm=25.8)
    assert found.slips == slips
    assert found.mean_mm == pytest.approx(math.fsum(readings) / len(readings))


def test_a_coarse_caliper_slips_by_more() -> None:
    readings = [25.0, 25.1, 25.6]
    assert slips_in(readings, resolution_mm=0.01, error_mm=0.02, mark_mm=0.0) == (2,)
    assert slips_in(readings, resolution_mm=0.1, error_mm=0.05, mark_mm=0.0) == ()
    assert slips_in(readings, resolution_mm=0.01, error_mm=0.02, mark_mm=0.1) == ()


def test_another_length_than_the_stated_one_is_asked_about() -> None:
    assert measured([258.0], nominal_mm=25.8).other_length
    assert measured([20.63], nominal_mm=25.8).other_length
    assert not measured([20.65], nominal_mm=25.8).other_length
    assert not measured([258.0]).other_length


@pytest.mark.parametrize("readings", [[-3.0], [25.8, -0.01], [math.inf], [math.nan]])
def test_what_is_no_length_is_refused(readings: list[float]) -> None:
    with pytest.raises(ValueError, match="is no length"):
        measured(readings)


@pytest.mark.parametrize("zero", [math.inf, -math.inf, math.nan])
def test_what_is_no_zero_is_refused(zero: float) -> None:
    with pytest.raises(ValueError, match="is no zero"):
        measured([25.8], zero_mm=zero)


def test_the_terminal_names_them_and_asks_about_decimal_commas() -> None:
    told = json.loads(run("bench", "readings", "--values", "25.80,25.18,25.81", "--json").stdout)
    assert told["slips"] == [1]
    assert b"25.18 mm (no. 2) is likely a slip" in run("bench", "readings", "--values", "25.80,25.18,25.81").stdout
    refused = run("bench", "readings", "--values", "25,80,25,81")
    assert (refused.returncode, b"Write 25.80,25.81" in refused.stderr) == (2, True)
    assert json.loads(run("bench", "readings", "--values", "25,80;25,82", "--json").stdout)["mean_mm"] == pytest.approx(
        25.81
    )
    for bad in (["--values=-3"], ["--values", "25.8", "--zero", "inf"]):
        assert run("bench", "readings", *bad).returncode == 2
