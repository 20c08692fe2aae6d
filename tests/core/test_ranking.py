"""Which route beats which: one thing at a time, and what never happens."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import ring, world_of
from tropeion.core.findings import GRADES, rank
from tropeion.core.practice import Practice
from tropeion.core.routes.ranking import (
    UNKNOWN_PRICE,
    Merit,
    abilities_of,
    beats,
    certainty,
    preference,
    unbeaten,
    works,
)

PLAIN = Practice()
FAIR = Merit(
    grade="manual",
    pieces=1,
    owned=True,
    price=20.0,
    play_mm=0.1,
    worst_case_mm=0.1,
    probability=0.8,
    magnification=0.2,
    error_mm=0.02,
    correcting=False,
    spoken=False,
    zoom_unknown=False,
    unsure=False,
    trap=False,
    abilities=frozenset(),
)
# One thing better, and under which practice it counts.
BETTER: dict[str, tuple[dict[str, Any], Practice]] = {
    "a higher grade": ({"grade": "full"}, PLAIN),
    "a piece less": ({"pieces": 0}, PLAIN),
    "cheaper": ({"price": 19.0}, PLAIN),
    "tighter": ({"play_mm": 0.05}, PLAIN),
    "surer": ({"probability": 0.85}, PLAIN),
    "closer, for close-up": ({"magnification": 0.3}, Practice(purpose="close_up")),
}


@pytest.mark.parametrize("case", BETTER)
def test_one_thing_better_beats_and_is_not_beaten(case: str) -> None:
    more, practice = BETTER[case]
    better = replace(FAIR, **more)
    assert beats(better, FAIR, practice)
    assert not beats(FAIR, better, practice)


def test_better_in_one_and_worse_in_another_beats_neither_way() -> None:
    one, other = replace(FAIR, price=10.0, play_mm=0.2), FAIR
    assert not beats(one, other, PLAIN)
    assert not beats(other, one, PLAIN)


def test_how_close_it_gets_counts_for_close_up_alone() -> None:
    closer = replace(FAIR, magnification=0.3)
    assert not beats(closer, FAIR, PLAIN)
    assert not beats(FAIR, closer, PLAIN)
    # Cheaper does not beat closer where closeness is the purpose.
    cheap = replace(FAIR, price=1.0, magnification=0.1)
    assert beats(cheap, FAIR, PLAIN)
    assert not beats(cheap, FAIR, Practice(purpose="close_up"))


def test_correcting_glass_is_something_worse() -> None:
    glass = replace(FAIR, correcting=True)
    assert beats(FAIR, glass, PLAIN)
    assert not beats(replace(glass, grade="full"), FAIR, PLAIN)


def test_electronics_count_against_a_route_of_the_same_grade_or_where_plain_metal_is_wanted() -> None:
    chipped = replace(FAIR, spoken=True)
    assert beats(FAIR, chipped, PLAIN)
    assert not beats(replace(chipped, price=10.0), FAIR, PLAIN)
    # They are what the higher grade is made of.
    assert beats(replace(chipped, grade="full"), FAIR, PLAIN)
    assert not beats(replace(chipped, grade="full"), FAIR, Practice(electronics="plain"))
    # A grade that is only promised may yet fall.
    assert not beats(replace(chipped, grade="full"), FAIR, PLAIN, promised=True)


def test_what_works_beats_what_does_not_however_cheap_but_danger_stays_in_sight() -> None:
    dear = replace(FAIR, price=500.0, pieces=3)
    for grade in ("none", "modify"):
        assert beats(dear, replace(FAIR, grade=grade, price=0.0, pieces=0), PLAIN)
    for pieces in (0, 1):
        assert not beats(dear, replace(FAIR, grade="danger", pieces=pieces), PLAIN)
    assert beats(dear, replace(FAIR, grade="danger", pieces=2), PLAIN)


def test_what_can_do_more_is_never_beaten_by_what_cannot() -> None:
    able = replace(FAIR, abilities=frozenset({"tilt"}), price=500.0)
    assert not beats(FAIR, able, PLAIN)
    assert not beats(replace(FAIR, abilities=frozenset({"shift"})), able, PLAIN)
    assert beats(replace(FAIR, abilities=frozenset({"tilt", "shift"})), able, PLAIN)


@pytest.mark.parametrize(
    ("more", "ability"),
    [
        ({}, set()),
        ({"tilt_deg": 8.0}, {"tilt"}),
        ({"shift_mm": 8.0}, {"shift"}),
        ({"filter_slot": {}}, {"filter"}),
        ({"link": "chip", "chip": {"focal_length_mm": 50.0, "f_number": 2.0}}, {"chip"}),
        ({"aperture_control": "iris"}, {"iris"}),
        ({"aperture_control": "lever_ring"}, set()),
        ({"helicoid_mm": 4.0}, {"helicoid"}),
    ],
)
def test_what_a_ring_can_do(more: dict[str, Any], ability: set[str]) -> None:
    ring_of_it = world_of([ring(**more)]).adapters["ring"]
    assert abilities_of([ring_of_it]) == ability
    assert abilities_of([]) == frozenset()


merits = st.builds(
    Merit,
    grade=st.sampled_from(GRADES),
    pieces=st.integers(0, 3),
    owned=st.booleans(),
    price=st.sampled_from([0.0, 10.0, 20.0, UNKNOWN_PRICE]),
    play_mm=st.sampled_from([0.0, 0.1]),
    worst_case_mm=st.sampled_from([0.0, 0.1]),
    probability=st.sampled_from([0.0, 0.5, 0.95]),
    magnification=st.sampled_from([0.0, 0.1, 0.5]),
    error_mm=st.sampled_from([0.0, 0.1]),
    correcting=st.booleans(),
    spoken=st.booleans(),
    zoom_unknown=st.booleans(),
    unsure=st.booleans(),
    trap=st.booleans(),
    abilities=st.frozensets(st.sampled_from(["tilt", "shift"])),
)
practices = st.sampled_from([PLAIN, Practice(purpose="close_up"), Practice(electronics="plain")])


@given(merits, merits, practices)
def test_nothing_beats_itself_or_what_beats_it(one: Merit, other: Merit, practice: Practice) -> None:
    assert not beats(one, one, practice)
    if beats(one, other, practice):
        assert not beats(other, one, practice)


@given(st.lists(merits, min_size=1, max_size=6), practices)
def test_something_is_always_left_and_it_is_the_best_of_its_kind(found: list[Merit], practice: Practice) -> None:
    left = [merit for merit, stays in zip(found, unbeaten(found, practice), strict=True) if stays]
    assert left
    # The highest grade is never folded away, nor what breaks something when it is simply put on.
    assert max(rank(merit.grade) for merit in left) == max(rank(merit.grade) for merit in found) or practice != PLAIN
    assert all(merit in left for merit in found if merit.grade == "danger" and merit.pieces < 2)


@pytest.mark.parametrize("grade", GRADES)
def test_what_works(grade: Any) -> None:
    assert works(grade) is (grade not in {"danger", "none", "modify"})


@pytest.mark.parametrize(
    ("probability", "weighed"), [(0.0, 0.0), (0.024, 0.0), (0.026, 0.05), (0.9, 0.9), (0.94, 0.95), (1.0, 0.95)]
)
def test_chances_are_weighed_in_steps_of_five(probability: float, weighed: float) -> None:
    assert certainty(probability) == pytest.approx(weighed)


# What comes first, by practice: the first of each pair.
FIRST: dict[str, tuple[dict[str, Any], dict[str, Any], Practice]] = {
    "what works": ({"grade": "close_up", "pieces": 3}, {"grade": "none"}, PLAIN),
    "the higher grade": ({"grade": "full", "price": 900.0}, {}, PLAIN),
    "fewer pieces": ({"pieces": 1, "price": 900.0}, {"pieces": 2}, PLAIN),
    "the sure one": ({"probability": 0.95, "owned": False}, {"probability": 0.9}, PLAIN),
    "the owned one": ({"price": 900.0}, {"owned": False}, PLAIN),
    "the cheaper one": ({"play_mm": 0.5}, {"price": 21.0}, PLAIN),
    "the tighter one": ({"play_mm": 0.0}, {}, PLAIN),
    "the tighter one, where rings are to be precise": (
        {"play_mm": 0.0, "owned": False, "price": 900.0},
        {},
        Practice(rings="precise"),
    ),
    "the closer one, for close-up": (
        {"magnification": 0.5, "grade": "close_up"},
        {"grade": "manual"},
        Practice(purpose="close_up"),
    ),
    "no glass, where it is avoided": ({"grade": "partial"}, {"correcting": True}, Practice(glass="avoid")),
    "plain metal, where it is wanted": ({}, {"grade": "full", "spoken": True}, Practice(electronics="plain")),
    "a zoom that is told, where others are avoided": (
        {"grade": "partial"},
        {"zoom_unknown": True},
        Practice(zooms="avoid"),
    ),
    "the nearer to its place": ({"error_mm": 0.0}, {}, PLAIN),
}


@pytest.mark.parametrize("case", FIRST)
def test_what_comes_first(case: str) -> None:
    first, then, practice = FIRST[case]
    assert preference(replace(FAIR, **first), practice) < preference(replace(FAIR, **then), practice)
