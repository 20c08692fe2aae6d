"""Which route makes which superfluous: one thing at a time, and what never happens."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import ELECTRONIC, GLASS, LINK
from tests.worlds import body, lens, ring, world_of
from tropeion.core.findings import GRADES, works
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.chain_table import UNKNOWN_PRICE
from tropeion.core.routes.ranking import Merit, folds, merit_of, preference, unbeaten
from tropeion.core.routes.wants import WANTS

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
    loss_stops=0.0,
    correcting=False,
    spoken=False,
    slow=False,
    avoided=False,
    unsure=False,
    trap=False,
    makeshift=False,
    overloaded=False,
    unassessed=0.0,
    unusable=False,
    alike=(50.0, 2.0),
    wants=(1.0,) * len(WANTS),
)


def with_want(merit: Merit, name: str, value: float) -> Merit:
    wants = list(merit.wants)
    wants[WANTS.index(name)] = value
    return replace(merit, wants=tuple(wants))


@pytest.mark.parametrize("name", WANTS)
def test_one_thing_better_folds_and_is_not_folded(name: str) -> None:
    better = with_want(FAIR, name, 1.5)
    assert folds(better, FAIR)
    assert not folds(FAIR, better)
    # Better in one thing and worse in another folds neither way.
    mixed = with_want(better, WANTS[WANTS.index(name) - 1], 0.5)
    assert not folds(mixed, FAIR)
    assert not folds(FAIR, mixed)


def test_a_higher_grade_alone_folds_and_a_lower_one_never_does() -> None:
    assert folds(replace(FAIR, grade="full"), FAIR)
    assert not folds(with_want(FAIR, "light", 2.0), replace(FAIR, grade="full"))


def test_what_becomes_another_lens_is_not_compared() -> None:
    """A reducer is not beaten by a plain ring, nor the other way round."""
    reduced = replace(FAIR, alike=(36.0, 1.44))
    assert not folds(with_want(FAIR, "cheaper", 2.0), reduced)
    assert not folds(with_want(reduced, "light", 2.0), FAIR)


def test_what_is_not_known_to_reach_folds_nothing() -> None:
    assert not folds(with_want(replace(FAIR, unsure=True), "cheaper", 2.0), FAIR)


def test_what_works_folds_what_does_not_however_cheap_but_danger_stays_in_sight() -> None:
    dear = replace(FAIR, pieces=3, alike=(1.0, 1.0))
    assert folds(dear, replace(FAIR, grade="none", pieces=0))
    assert folds(dear, replace(FAIR, grade="danger", pieces=2))
    for pieces in (0, 1):
        assert not folds(with_want(FAIR, "cheaper", 2.0), replace(FAIR, grade="danger", pieces=pieces))
    # A ring of the wrong register stays beside the right one.
    assert not folds(with_want(FAIR, "cheaper", 2.0), replace(FAIR, grade="none", trap=True))
    # What does not work itself folds nothing for that.
    assert not folds(replace(dear, grade="none"), replace(FAIR, grade="danger", pieces=2))


def wants_of_a_ring(**more: Any) -> dict[str, float]:
    """Of a lens that everything is asked of, through one ring."""
    plain = {"length_mm": 25.0, "bore_mm": 60.0}
    world = world_of(
        [ring(**{**plain, **more})],
        the_lens=lens(**ELECTRONIC, exit_pupil_mm=60.0),
        the_body=body(protocols=["speech"]),
        protocols=LINK,
    )
    merit = merit_of(assess(world, world.lenses["lens"], (world.adapters["ring"],), world.bodies["body"], PLAIN))
    return dict(zip(WANTS, merit.wants, strict=True))


def test_a_bore_that_darkens_corners_is_a_want_lost() -> None:
    """Beside whatever else is said of the ring: the light of the corner is lost."""
    lit, dim = wants_of_a_ring(), wants_of_a_ring(bore_mm=30.0)
    assert (lit["undarkened"], dim["undarkened"]) == (0.0, -1.0)


# What a ring may have that a plain one has not, and where it shows.
OFFERED: dict[str, tuple[dict[str, Any], str]] = {
    "tilt": ({"tilt_deg": 8.0}, "tilt"),
    "shift": ({"shift_mm": 8.0}, "rise"),
    "a movement that turns": ({"shift_mm": 8.0, "rotates": True}, "turns"),
    "a filter": ({"filter_slot": {}}, "filter_drop_in_places"),
    "a wheel": ({"filter_slot": {"kind": "wheel"}}, "filter_wheel_places"),
    "a variable filter": ({"filter_slot": {"kind": "variable", "range_stops": [1, 8]}}, "filter_variable_strongest"),
    "a clear place": ({"filter_slot": {"positions": [{"name": "clear", "clear": True}]}}, "filter_drop_in_clear"),
    "a chip": ({"link": "chip", "chip": {"focal_length_mm": 50.0, "f_number": 2.0}}, "chip"),
    "an iris": ({"aperture_control": "iris"}, "iris"),
    "a helicoid": ({"helicoid_mm": 4.0}, "helicoid"),
    "a control ring": ({"control_ring": True}, "own_control_ring"),
    "a foot": ({"tripod_foot": True}, "foot"),
    "a lock": ({"locking": True}, "lens_locked"),
    "contacts": ({"link": "pass"}, "autofocus"),
    "a copy at home": ({"owned": 1}, "owned"),
    "a price": ({"price": 10.0}, "cheaper"),
}


@pytest.mark.parametrize("case", OFFERED)
def test_everything_a_ring_may_have_is_wanted(case: str) -> None:
    more, want = OFFERED[case]
    assert wants_of_a_ring(**more)[want] > wants_of_a_ring()[want]


def test_glass_and_electronics_are_something_that_people_may_not_want() -> None:
    assert wants_of_a_ring(link="pass")["plain_metal"] < wants_of_a_ring()["plain_metal"]
    glass = wants_of_a_ring(optics="correcting", magnification=1.2, **GLASS)
    assert glass["no_correcting_glass"] < wants_of_a_ring()["no_correcting_glass"]
    assert wants_of_a_ring(light_loss_stops=0.5)["light"] == -0.5
    # An unknown price is more than any known one.
    assert wants_of_a_ring()["cheaper"] == -UNKNOWN_PRICE


merits = st.builds(
    lambda changes, **fields: with_wants(replace(FAIR, **fields), changes),
    st.dictionaries(st.sampled_from(WANTS), st.sampled_from([0.5, 1.0, 1.5]), max_size=3),
    grade=st.sampled_from(GRADES),
    pieces=st.integers(0, 3),
    unsure=st.booleans(),
    trap=st.booleans(),
    alike=st.sampled_from([(50.0, 2.0), (36.0, 1.44)]),
)


def with_wants(merit: Merit, changes: dict[str, float]) -> Merit:
    for name, value in changes.items():
        merit = with_want(merit, name, value)
    return merit


@given(merits, merits)
def test_nothing_folds_itself_or_what_folds_it(one: Merit, other: Merit) -> None:
    assert not folds(one, one)
    if folds(one, other):
        assert not folds(other, one)


@given(st.lists(merits, min_size=1, max_size=6))
def test_all_at_once_comes_to_the_same_as_one_by_one(found: list[Merit]) -> None:
    assert unbeaten(found) == [not any(folds(other, one) for other in found) for one in found]
    assert any(unbeaten(found))


@pytest.mark.parametrize("grade", GRADES)
def test_what_works(grade: Any) -> None:
    assert works(grade) is (grade not in {"danger", "none", "modify"})


# What comes first, by practice: the first of each pair.
FIRST: dict[str, tuple[dict[str, Any], dict[str, Any], Practice]] = {
    "what works": ({"grade": "close_up", "pieces": 3}, {"grade": "none"}, PLAIN),
    "the higher grade": ({"grade": "full", "price": 900.0}, {}, PLAIN),
    "the sure one": ({"probability": 0.9, "owned": False}, {"probability": 0.89}, PLAIN),
    "an owned ring at 92 %": ({"probability": 0.92, "pieces": 2}, {"probability": 1.0, "owned": False}, PLAIN),
    "a ring to be bought, not one that was made for something else": ({"owned": False}, {"makeshift": True}, PLAIN),
    "full speed": ({"pieces": 2}, {"slow": True}, PLAIN),
    "an owned slow one": ({"slow": True}, {"owned": False}, PLAIN),
    "fewer pieces": ({"pieces": 1, "price": 900.0}, {"pieces": 2}, PLAIN),
    "the cheaper one, where the price comes first": (
        {"pieces": 2, "slow": True, "price": 19.0},
        {},
        Practice(rings="price_first"),
    ),
    "what loses no light": ({"pieces": 2, "price": 900.0}, {"loss_stops": 1.5}, PLAIN),
    "full speed before light": ({"loss_stops": 1.5}, {"slow": True}, PLAIN),
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
    "a zoom that is told, where others are avoided": ({"grade": "partial"}, {"avoided": True}, Practice(zooms="avoid")),
    "the surer of two alike": ({"probability": 0.85}, {}, PLAIN),
    "the nearer to its place": ({"error_mm": 0.0}, {}, PLAIN),
}


@pytest.mark.parametrize("case", FIRST)
def test_what_comes_first(case: str) -> None:
    first, then, practice = FIRST[case]
    assert preference(replace(FAIR, **first), practice) < preference(replace(FAIR, **then), practice)
