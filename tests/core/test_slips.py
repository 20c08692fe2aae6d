"""Readings that stand apart: a slip of the hand is named, what is no length is refused."""

from __future__ import annotations

import json
import math

import pytest

from tests.terminal import run
from tests.worlds import ring, world_of
from tropeion.core.bench.quantities import bench_piece, quantity_of
from tropeion.core.bench.readings import coverage_factor, measured, slips_in
from tropeion.core.bench.series import ReadingTaken, series_report


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


@pytest.mark.parametrize(
    ("freedom", "factor"),
    # JCGM 100, table G.2.
    [(1, 12.71), (2, 4.30), (3, 3.18), (4, 2.78), (8, 2.31), (20, 2.09), (50, 2.01), (100, 1.984), (math.inf, 1.960)],
)
def test_the_factor_of_an_interval_is_that_of_student(freedom: float, factor: float) -> None:
    assert coverage_factor(freedom) == pytest.approx(factor, abs=0.006)


def test_few_readings_that_scatter_leave_a_wide_interval() -> None:
    # A caliper without error: all of the doubt is the scatter, with two degrees of freedom.
    found = measured([25.7, 25.8, 25.9], resolution_mm=0.0, error_mm=0.0)
    low, high = found.interval_mm
    assert (high - low) / 2 == pytest.approx(4.303 * 0.1 / math.sqrt(3), rel=1e-3)
    # Readings that agree are worth the caliper alone, which is known.
    same = measured([25.8, 25.8, 25.8])
    assert same.interval_mm[1] - 25.8 == pytest.approx(1.960 * same.standard_uncertainty_mm, rel=1e-3)


def test_nothing_is_written_while_a_slip_is_neither_struck_out_nor_confirmed() -> None:
    piece = bench_piece(world_of([ring(tolerance_mm=0.05)]), "adapters", "ring")
    length = quantity_of(piece, "length")
    slip, clean = (25.0, 25.01, 25.6, 25.0), (25.0, 25.01, 25.0)
    waiting = series_report(piece, length, ReadingTaken(slip))
    assert (waiting.slips, waiting.fields) == ((2,), {})
    assert "say that it is right" in waiting.slip_says
    confirmed = series_report(piece, length, ReadingTaken(slip, confirmed=frozenset({2})))
    assert confirmed.slips == ()
    assert confirmed.fields["measured_length_mm"] == pytest.approx(sum(slip) / 4, abs=6e-4)
    # Left out of nothing: the mean is that of all.
    assert waiting.measured.mean_mm == confirmed.measured.mean_mm
    # One in an earlier series holds it up too, since its readings count.
    earlier = series_report(piece, length, ReadingTaken(clean), [ReadingTaken(slip)])
    assert (earlier.slips, earlier.fields) == ((), {})
    assert "earlier series" in earlier.slip_says
    assert series_report(piece, length, ReadingTaken(clean), [ReadingTaken(clean)]).fields
