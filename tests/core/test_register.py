"""Registers and chains, by invariants."""

from __future__ import annotations

import math

from hypothesis import assume, given
from hypothesis import strategies as st

from tropeion.core.optics.register import Chain, chain_of
from tropeion.core.optics.seats import Link, Seat, filter_shift_mm
from tropeion.core.working import PLAIN

lengths = st.floats(0.01, 60, allow_nan=False)
tolerances = st.floats(0, 0.2, allow_nan=False)
registers = st.floats(15, 80, allow_nan=False)
magnifications = st.sampled_from([0.5, 0.71, 0.74, 1.24, 1.4, 2.0])


def plain(length: float, tolerance: float = 0.0, *, helicoid: float = 0.0) -> Link:
    return Link(length, length, tolerance, 1.0, None, helicoid)


@st.composite
def links(draw: st.DrawFn) -> Link:
    length, tolerance = draw(lengths), draw(tolerances)
    if draw(st.booleans()):
        return plain(length, tolerance)
    return Link(length, 0.0, tolerance, draw(magnifications), (draw(registers), draw(registers)), 0.0)


chains = st.lists(links(), max_size=4)


def chain(lens: float, pieces: list[Link], body: float, seat_tolerance: float = 0.02) -> Chain:
    return chain_of(Seat(lens, seat_tolerance, False), pieces, Seat(body, seat_tolerance, False), PLAIN)


@given(registers, lengths, registers, st.floats(-5, 5))
def test_error_grows_by_exactly_what_is_added_to_a_plain_ring(
    lens: float, length: float, body: float, more: float
) -> None:
    assume(length + more > 0)
    before = chain(lens, [plain(length)], body).error_mm
    after = chain(lens, [plain(length + more)], body).error_mm
    assert math.isclose(after - before, more, abs_tol=2e-6)


@given(registers, chains, registers, st.floats(-2, 2))
def test_moving_the_lens_seat_moves_the_focus_by_all_glass_squared(
    lens: float, pieces: list[Link], body: float, moved: float
) -> None:
    k_squared = math.prod(piece.magnification**2 for piece in pieces)
    before = chain(lens, pieces, body).error_mm
    after = chain(lens + moved, pieces, body).error_mm
    assert math.isclose(after - before, -moved * k_squared, rel_tol=1e-6, abs_tol=3e-6)


@given(registers, chains, registers, st.floats(-2, 2))
def test_moving_the_body_seat_moves_the_focus_one_to_one(
    lens: float, pieces: list[Link], body: float, moved: float
) -> None:
    before = chain(lens, pieces, body).error_mm
    after = chain(lens, pieces, body + moved).error_mm
    assert math.isclose(after - before, moved, rel_tol=1e-6, abs_tol=3e-6)


@given(registers, chains, registers)
def test_a_ring_in_front_of_glass_counts_by_the_glass_behind_it(lens: float, pieces: list[Link], body: float) -> None:
    k_squared = math.prod(piece.magnification**2 for piece in pieces)
    bare = chain(lens, pieces, body).error_mm
    with_ring = chain(lens, [plain(1.0), *pieces], body).error_mm
    assert math.isclose(with_ring - bare, k_squared, rel_tol=1e-6, abs_tol=3e-6)


@given(registers, chains, registers)
def test_worst_case_bounds_the_standard_uncertainty(lens: float, pieces: list[Link], body: float) -> None:
    found = chain(lens, pieces, body)
    assert 0 <= found.standard_uncertainty_mm <= found.worst_case_mm
    # Equal parts of one sign add to √n/√3 of the worst case at the least.
    parts = len(pieces) + 2
    assert found.standard_uncertainty_mm >= found.worst_case_mm / math.sqrt(3 * parts) - 1e-12


@given(registers, st.lists(lengths, max_size=4), registers)
def test_the_order_of_plain_rings_does_not_matter(lens: float, rings: list[float], body: float) -> None:
    forward = chain(lens, [plain(ring) for ring in rings], body)
    backward = chain(lens, [plain(ring) for ring in reversed(rings)], body)
    assert forward.error_mm == backward.error_mm


def test_three_rings_that_add_up_leave_no_noise() -> None:
    # 0.1 + 0.2 is not 0.3 in binary; the error must be a clean zero, without a sign.
    found = chain(20.3, [plain(0.1), plain(0.2)], 20.0)
    assert found.error_mm == 0.0
    assert math.copysign(1, found.error_mm) == 1


def test_glass_length_never_enters_the_error() -> None:
    short = Link(20.0, 0.0, 0.0, 0.74, (68.5, 22.4), 0.0)
    long = Link(44.0, 0.0, 0.0, 0.74, (68.5, 22.4), 0.0)
    assert chain(68.5, [short], 22.4).error_mm == chain(68.5, [long], 22.4).error_mm == 0.0


def test_a_measured_deviation_of_glass_counts_on_its_camera_side() -> None:
    # 0.10 mm longer than stated, behind the glass: one to one, not by k².
    measured = Link(42.2, 0.1, 0.0, 0.74, (68.5, 22.4), 0.0)
    assert chain(68.5, [measured], 22.4).error_mm == 0.1


def test_a_helicoid_in_front_of_a_reducer_counts_by_its_square() -> None:
    reducer = Link(24.0, 0.0, 0.0, 0.5, (40.0, 20.0), 0.0)
    assert chain(45.0, [plain(5.0, helicoid=8.0), reducer], 20.0).helicoid_mm == 8.0 * 0.25
    assert chain(40.0, [reducer], 20.0).helicoid_mm == 0.0


def test_two_millimetres_of_ordinary_glass_take_back_a_third() -> None:
    # p(n − 1)/n with n = 1.5 is p/3.
    assert math.isclose(filter_shift_mm(2.0, 1.5), 2 / 3)
