"""Numbers in sentences."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tropeion.core import words


@given(st.floats(0.5, 60))
def test_an_aperture_is_never_written_wider_than_it_is(f_number: float) -> None:
    written = float(words.aperture(f_number).removeprefix("f/"))
    assert written >= f_number - 1e-4
    assert written - f_number <= (1 if f_number >= 9.9 else 0.1) + 1e-6


def test_apertures_as_marked_stay_as_marked() -> None:
    assert [words.aperture(n) for n in (1.2, 2.0, 2.8, 5.6, 11.0)] == ["f/1.2", "f/2", "f/2.8", "f/5.6", "f/11"]


def test_distances_in_either_system() -> None:
    assert words.distance(163.02, "metric") == "16.3 cm"
    assert words.distance(2540.0, "metric") == "2.5 m"
    assert words.distance(25_402.0, "metric") == "25 m"
    assert words.distance(254.0, "imperial") == "10.0 in"
    assert words.distance(914.4, "imperial") == "3 ft"
    assert words.distance(990.6, "imperial") == "3 ft 3 in"
    assert words.distance(30_480.0, "imperial") == "100 ft"


def test_nearly_certain_is_not_certain() -> None:
    assert [words.percent(p) for p in (0.0, 0.004, 0.95, 0.9999, 1.0)] == [
        "0 %",
        "under 1 %",
        "95 %",
        "over 99 %",
        "100 %",
    ]


def test_lists() -> None:
    assert [words.listed(["a"]), words.listed(["a", "b"]), words.listed(["a", "b", "c"])] == [
        "a",
        "a and b",
        "a, b and c",
    ]
