"""What a use demands, at which stops it is met, and where two rigs differ at all."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.measured.chart import BAR_MM, edge_chart, ladder_chart, least_distance_mm
from tropeion.core.measured.sharpness import (
    USUAL_VIEWING,
    LineDemand,
    Sharp,
    Viewing,
    demand_of,
    differences_of,
    place_of,
    usable_measured,
)

PAID = LineDemand("paid_still", 30.0, 30.0, "")


def at(stop: float, centre: float, corner: float | None = None, doubt: float = 0.5) -> list[Sharp]:
    found = [Sharp(stop, "centre", centre, doubt)]
    return found if corner is None else [*found, Sharp(stop, "corner", corner, doubt)]


def test_a_demand_ends_where_diffraction_begins() -> None:
    sharp = [*at(2.8, 25, 12), *at(4, 40, 28), *at(5.6, 45, 38), *at(8, 42, 40), *at(16, 24, 24)]
    found = usable_measured(sharp, PAID)
    assert (found.from_f_number, found.to_f_number, found.stops) == (5.6, 8, 2)
    assert found.says == "from f/5.6 to f/8, by 2 measured"
    open_ended = usable_measured(sharp[:-2], PAID)
    assert (open_ended.from_f_number, open_ended.to_f_number) == (5.6, None)
    assert usable_measured(sharp[:2], PAID).says == "at no stop that was measured"


def test_what_was_not_measured_is_not_met() -> None:
    no_corner = usable_measured(at(8, 60), PAID)
    assert no_corner.from_f_number is None
    assert no_corner.no_corner
    assert "not known" in no_corner.says
    # Play wants nothing of the corners.
    assert usable_measured(at(8, 60), LineDemand("play", 30.0, 0.0, "")).from_f_number == 8
    half = [*at(5.6, 60), *at(8, 60, 60)]
    assert usable_measured(half, PAID).from_f_number == 8


def test_a_value_too_near_to_the_demand_says_so() -> None:
    assert usable_measured(at(8, 30.4, 45, doubt=0.5), PAID).doubtful
    assert not usable_measured(at(8, 33, 45, doubt=0.5), PAID).doubtful


@given(
    st.lists(st.tuples(st.sampled_from([2.0, 2.8, 4.0, 5.6, 8.0]), st.floats(1, 90), st.floats(1, 90)), min_size=1),
    st.floats(5, 80),
)
def test_every_stop_of_the_run_meets_it(values: list[tuple[float, float, float]], wanted: float) -> None:
    sharp = [one for stop, centre, corner in values for one in at(stop, centre, corner)]
    found = usable_measured(sharp, LineDemand("paid_still", wanted, wanted, ""))
    met = {stop for stop, *_ in values if all(one.lp_per_mm >= wanted for one in sharp if one.f_number == stop)}
    assert (found.from_f_number is None) == (not met)
    if found.from_f_number is not None:
        assert found.from_f_number in met
        last = found.to_f_number or max(stop for stop, *_ in values)
        assert {stop for stop, *_ in values if found.from_f_number <= stop <= last} <= met


def test_a_demand_is_what_an_eye_sees_of_a_print() -> None:
    # Two minutes of arc at 500 mm are 0.291 mm: 3.44 pairs a millimetre; a print of ten times the sensor wants ten
    # times that, half of it at half contrast.
    found = demand_of("paid_still", 36.0, Viewing(360.0, 500.0))
    pair_mm = 500 * math.tan(2 * math.pi / 180 / 60)
    assert found.centre_lp_per_mm == pytest.approx(10 / pair_mm / 2, rel=1e-4)
    assert "assumed" in found.working
    stated = demand_of("film", 36.0, USUAL_VIEWING["film"], 40.0)
    assert (stated.centre_lp_per_mm, stated.corner_lp_per_mm) == (40.0, 20.0)


def test_no_difference_is_said_where_none_can_be_told() -> None:
    mine, theirs = [*at(4, 40, 30, 1.0)], [*at(4, 41, 20, 1.0), *at(8, 50)]
    centre, corner = differences_of(mine, theirs)
    assert (centre.place, centre.told, centre.says) == ("centre", False, "no difference that this measurement can tell")
    assert (corner.told, corner.by_lp_per_mm) == (True, 10.0)
    # Without its doubt a value is taken for a tenth uncertain.
    unsure = differences_of([Sharp(4, "centre", 40, None)], [Sharp(4, "centre", 30, None)])
    assert not unsure[0].told


def test_places_of_the_frame() -> None:
    size = (6000, 4000)
    assert place_of(3000, 2000, size) == "centre"
    assert place_of(3000, 2990, size) == "centre"
    assert place_of(100, 100, size) == "corner"
    assert place_of(4500, 2000, size) == "between"


def test_the_printers_edge_keeps_a_chart_away() -> None:
    # The case of the issue: 6.3 m for 50 mm and 4 µm, by D ≥ 0.1·f/(0.2·pitch).
    assert least_distance_mm(50, 0.004) == pytest.approx(6250)
    too_small = edge_chart(20, 1, 1, 50, 0.004, 0.1)
    assert "squares of" in too_small.says
    assert not too_small.most_distance_mm or too_small.most_distance_mm < 6250
    with pytest.raises(ValueError, match="does not fit"):
        edge_chart(170, 1, 1, None, None, 0.1)


@given(st.floats(10, 110), st.integers(1, 4), st.integers(1, 4))
def test_no_square_lies_over_another_or_the_margin(side: float, across: int, down: int) -> None:
    sheet = edge_chart(side, across, down, None, None, 0.1)
    assert len(sheet.pages) == across * down
    assert sheet.bar_mm == BAR_MM
    for page in sheet.pages:
        half = side / 2 * (math.cos(math.radians(5)) + math.sin(math.radians(5)))
        for square in page.squares:
            assert square.x_mm - half > 5
            assert square.x_mm + half < sheet.width_mm - 5
            assert square.y_mm + half < page.bar_mm[1] - 2
        for number, one in enumerate(page.squares):
            for other in page.squares[number + 1 :]:
                # As much room beside an edge as it takes: twice its width, of a soft one.
                apart = max(abs(one.x_mm - other.x_mm), abs(one.y_mm - other.y_mm))
                assert apart >= 2 * half + 0.25 * side


def test_a_ladder_has_its_marks_240_mm_apart() -> None:
    [page] = ladder_chart(55, 0.005).pages
    (_, top), (_, bottom) = page.marks
    assert bottom - top == 240
    assert bottom < page.bar_mm[1] - 5
    assert len(page.squares) >= 20
