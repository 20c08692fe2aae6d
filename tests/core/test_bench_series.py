"""What of a piece is measured, and what a series of readings says of it."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.bench.quantities import PieceOnBench, Quantity, bench_piece, quantity_of
from tropeion.core.bench.series import Before, Caliper, ReadingTaken, series_report, wedge_tangent
from tropeion.core.gear.world import UnknownIdError, World, compile_world

PERFECT = Caliper(0.0, 0.0, 0.0)


def on_bench(
    world: World, quantity: str = "length", kind: str = "adapters", id_: str = "ring"
) -> tuple[PieceOnBench, Quantity]:
    piece = bench_piece(world, "adapters" if kind == "adapters" else "bodies" if kind == "bodies" else "lenses", id_)
    return piece, quantity_of(piece, quantity)


# What is measured


def test_a_ring_is_measured_from_the_seat_towards_the_body() -> None:
    world = world_of([ring(tolerance_mm=0.03, outer_mm=62.0, bore_mm=42.0)], rear={"outer_mm": 60.0})
    piece, length = on_bench(world)
    assert (length.nominal_mm, length.tolerance_mm, length.jaws) == (25.0, 0.03, "along")
    assert (length.writes, length.writes_tolerance) == ("measured_length_mm", "measured_tolerance_mm")
    assert "Rear" in length.datum
    assert "Front" in length.says
    # Readings lie around the seat of the body's mount.
    assert length.seat_mm == 60.0
    assert [one.quantity for one in piece.quantities] == ["length", "bore", "outer"]
    assert quantity_of(piece, "bore").jaws == "inside"
    assert quantity_of(piece, "outer").nominal_mm == 62.0


@pytest.mark.parametrize(
    ("more", "off"),
    [
        ({}, "springs and screw heads"),
        ({"link": "pass"}, "its contacts"),
        ({"aperture_control": "pin_press"}, "its lever or pin"),
        ({"optics": "reducer", "magnification": 0.7, "register_in_mm": 45.0, "register_out_mm": 40.0}, "its glass"),
    ],
)
def test_what_the_jaws_keep_off_is_what_the_ring_has(more: dict[str, Any], off: str) -> None:
    _, length = on_bench(world_of([ring(**more)]))
    assert off in length.keep_off


def test_an_unstated_tolerance_of_a_ring_is_the_usual_one_and_is_assumed() -> None:
    one = {key: value for key, value in ring().items() if key != "tolerance_mm"}
    _, length = on_bench(world_of([one]))
    assert length.tolerance_mm == 0.05


def test_a_helicoid_is_measured_closed_and_open() -> None:
    piece, closed = on_bench(world_of([ring(helicoid_mm=6.0)]))
    opened = quantity_of(piece, "open_length")
    assert "helicoid closed" in closed.says
    assert (opened.nominal_mm, opened.less_mm, opened.writes) == (31.0, 25.0, "helicoid_mm")
    told = series_report(piece, opened, ReadingTaken((31.2, 31.2, 31.2)))
    # What it is longer than closed.
    assert told.fields == {"helicoid_mm": pytest.approx(6.2)}


def test_a_body_is_never_measured_on_its_sensor() -> None:
    piece, register = on_bench(world_of(), "register", "bodies", "body")
    assert register.keep_off.startswith("Never the sensor")
    assert "a third of its own thickness" in register.says
    assert register.mark_mm > 0
    assert register.writes == "measured_register_mm"
    assert [one.quantity for one in piece.quantities] == ["register", "obstruction"]


def test_a_film_body_is_measured_from_its_rails() -> None:
    piece, rails = on_bench(world_of(the_body=body(kind="film")), "rails", "bodies", "body")
    assert (rails.jaws, rails.mark_mm) == ("depth", 0.0)
    assert "curtains" in rails.keep_off
    assert piece.quantities[0] is rails


def test_a_lens_without_a_mount_has_a_barrel_and_no_seat() -> None:
    bare = lens(mount=None, barrel_mm=38.0, generation=None)
    document = {"mounts": [mount("front", 45.0), mount("rear", 20.0)], "bodies": [body()], "lenses": [bare]}
    piece, barrel = on_bench(compile_world(gear_of(document)), "barrel", "lenses", "lens")
    assert (barrel.nominal_mm, barrel.jaws) == (38.0, "outside")
    assert "rear_protrusion" not in {one.quantity for one in piece.quantities}
    mounted, depth = on_bench(world_of(), "rear_protrusion", "lenses", "lens")
    assert depth.nominal_mm is None
    assert "rear_protrusion_mm" in mounted.outline.assumed


def test_what_is_not_there_is_named() -> None:
    with pytest.raises(UnknownIdError, match="lens"):
        bench_piece(world_of(), "lenses", "lense")
    piece, _ = on_bench(world_of([ring()]))
    with pytest.raises(ValueError, match="length, bore, outer"):
        quantity_of(piece, "depth")


# What the readings say


def test_the_parts_of_an_uncertainty_are_all_of_it() -> None:
    piece, register = on_bench(world_of(), "register", "bodies", "body")
    told = series_report(piece, register, ReadingTaken((20.01, 20.03, 20.02)))
    assert [one.of for one in told.parts][-1] == "half the width of the mark"
    whole = math.sqrt(sum(one.standard_uncertainty_mm**2 for one in told.parts))
    assert told.measured.standard_uncertainty_mm == pytest.approx(whole)


@given(st.floats(0.001, 0.2), st.floats(0, 6.28), st.floats(20, 70), st.integers(3, 9), st.floats(20, 30))
def test_a_plane_through_readings_gives_its_tilt_back(
    tangent: float, towards: float, seat: float, count: int, mean: float
) -> None:
    angles = [360 * number / count for number in range(count)]
    values = [mean + seat / 2 * tangent * math.cos(math.radians(one) - towards) for one in angles]
    found, least = wedge_tangent(values, angles, seat)
    assert found == pytest.approx(tangent, rel=1e-6)
    assert not least
    # Without their angles just at least so much: the spread never tells more than there is.
    blind, at_least = wedge_tangent(values, (), seat)
    assert at_least
    assert blind <= tangent + 1e-12


def test_a_wedge_is_told_across_the_sensor_of_the_body() -> None:
    piece, length = on_bench(world_of([ring()], rear={"outer_mm": 62.0}))
    taken = ReadingTaken((25.03, 25.0, 24.97, 25.0), (0.0, 90.0, 180.0, 270.0))
    told = series_report(piece, length, taken, before=Before(36.0, 0.03))
    # 0.06 mm over 62 mm; at 18 mm off the middle 0.0174 mm; hidden from f/0.6.
    assert told.wedge is not None
    assert told.wedge.defocus_mm == pytest.approx(18 * 0.06 / 62)
    assert "±0.017 mm at the ends of 36 mm" in told.wedge_says
    assert "at least" not in told.wedge_says
    assert "at least" in series_report(piece, length, ReadingTaken(taken.values_mm)).wedge_says
    narrow = series_report(piece, length, taken, before=Before(20.0, 0.03))
    assert narrow.wedge is not None
    assert narrow.wedge.defocus_mm == pytest.approx(told.wedge.defocus_mm * 20 / 36)
    # Before a reducer of 0.7 it defocuses 0.7 times as much, hidden from the same marked stop.
    reduced = series_report(piece, length, taken, before=Before(36.0, 0.03, 0.7, 0.7))
    assert reduced.wedge is not None
    assert reduced.wedge.defocus_mm == pytest.approx(0.7 * told.wedge.defocus_mm)
    assert reduced.wedge.hidden_from_f_number == pytest.approx(told.wedge.hidden_from_f_number)


def test_square_seats_are_said_to_be_so_as_far_as_it_tells() -> None:
    piece, length = on_bench(world_of([ring(outer_mm=62.0)]))
    assert (
        "square as far as these readings tell"
        in series_report(piece, length, ReadingTaken((25.0, 25.0, 25.0))).wedge_says
    )
    assert series_report(piece, length, ReadingTaken((25.0,))).wedge is None


def test_what_is_written_is_the_mean_and_a_tolerance_that_is_not_too_small() -> None:
    piece, length = on_bench(world_of([ring()]))
    told = series_report(piece, length, ReadingTaken((25.021, 25.018, 25.027), caliper=Caliper(0.01)))
    assert told.fields["measured_length_mm"] == pytest.approx(25.012)
    assert told.fields["measured_tolerance_mm"] >= told.measured.measured_tolerance_mm
    assert told.fields["measured_tolerance_mm"] - told.measured.measured_tolerance_mm < 0.001


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ((25.001, 25.003, 25.002), "agrees with 25.00 mm as stated"),
        ((25.2, 25.21, 25.2), "the stated length is in doubt"),
        ((25.2,), "the reading is in doubt before the nominal is"),
    ],
)
def test_which_is_in_doubt(values: tuple[float, ...], said: str) -> None:
    piece, length = on_bench(world_of([ring()]))
    assert said in series_report(piece, length, ReadingTaken(values)).nominal_says


def test_a_length_that_nobody_stated_is_known_by_its_readings_alone() -> None:
    piece, bore = on_bench(world_of([ring()]), "bore")
    told = series_report(piece, bore, ReadingTaken((42.0, 42.02)))
    assert "known by these readings alone" in told.nominal_says
    assert told.fields == {"bore_mm": pytest.approx(42.01)}


# A second series


def test_series_that_agree_are_pooled_by_how_sure_each_is() -> None:
    piece, length = on_bench(world_of([ring()]))
    steady, loose = ReadingTaken((25.0, 25.001, 25.002)), ReadingTaken((25.03, 24.99, 25.01))
    told = series_report(piece, length, steady, [loose])
    alone = [series_report(piece, length, one).measured for one in (steady, loose)]
    weights = [1 / one.standard_uncertainty_mm**2 for one in alone]
    mean = sum(w * one.mean_mm for w, one in zip(weights, alone, strict=True)) / sum(weights)
    assert told.pooled_mm == pytest.approx(mean)
    assert told.fields["measured_length_mm"] == pytest.approx(round(mean, 3))
    # The caliper errs alike in both: what it may err by is not halved.
    assert told.pooled_uncertainty_mm is not None
    assert told.pooled_uncertainty_mm >= 0.02 / math.sqrt(3)


def test_however_often_it_is_read_the_caliper_errs_by_as_much() -> None:
    piece, length = on_bench(world_of([ring()]))
    loose = ReadingTaken((25.02, 24.98, 25.0, 25.01, 24.99))
    told = series_report(piece, length, loose, [loose] * 40)
    # 0.01²/12 + 0.02²/3, and nothing of the scatter left.
    assert told.pooled_uncertainty_mm == pytest.approx(math.sqrt(0.01**2 / 12 + 0.02**2 / 3))
    assert not told.contradicted


def test_series_that_contradict_each_other_are_not_put_together() -> None:
    piece, length = on_bench(world_of([ring()]))
    told = series_report(piece, length, ReadingTaken((25.2, 25.201, 25.2)), [ReadingTaken((25.0, 25.001, 25.0))])
    assert told.contradicted
    assert told.pooled_mm is None
    assert told.apart is not None
    assert told.apart > 2
    assert "contradict each other" in told.nominal_says
    assert told.fields["measured_length_mm"] == pytest.approx(25.2, abs=1e-3)


@given(st.lists(st.floats(24.9, 25.1), min_size=2, max_size=6), st.lists(st.floats(24.9, 25.1), min_size=2, max_size=6))
def test_pooling_lies_between_and_is_never_less_sure(first: list[float], second: list[float]) -> None:
    piece, length = on_bench(world_of([ring()]))
    told = series_report(piece, length, ReadingTaken(tuple(first)), [ReadingTaken(tuple(second))])
    assume(told.pooled_mm is not None)
    means = [series_report(piece, length, ReadingTaken(tuple(one))).measured for one in (first, second)]
    low, high = sorted(one.mean_mm for one in means)
    assert told.pooled_mm is not None
    assert told.pooled_uncertainty_mm is not None
    assert low - 1e-9 <= told.pooled_mm <= high + 1e-9
    assert told.pooled_uncertainty_mm <= max(one.standard_uncertainty_mm for one in means) + 1e-12


def test_a_caliper_without_error_pools_nothing() -> None:
    piece, length = on_bench(world_of([ring()]))
    told = series_report(
        piece, length, ReadingTaken((25.0, 25.0), caliper=PERFECT), [ReadingTaken((25.0, 25.0), caliper=PERFECT)]
    )
    assert (told.pooled_mm, told.apart) == (None, None)
