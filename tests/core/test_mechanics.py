"""Loads, play, settings in the chain, and what would have to exist."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.fits import what_fits
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.joints.mechanics import has_room, moment_nm, smallest_ring_mm
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import MatchReport, Route
from tropeion.core.routes.match import match

HEAVY = {"mass_g": 1000.0, "centre_of_mass_mm": 50.0}


def judged(*rings: dict[str, Any], the_lens: dict[str, Any] | None = None, **more: Any) -> Route:
    world = world_of(
        [ring(f"r{n}", **{"length_mm": 25.0 / len(rings), **one}) for n, one in enumerate(rings)],
        the_lens=lens(**(the_lens or {})),
        **more,
    )
    (found,) = match(world, "lens", "body", via=[f"r{n}" for n in range(len(rings))]).routes
    return found


def test_a_kilogram_at_a_hundred_millimetres() -> None:
    # 1 kg · 9.80665 m/s² · 0.1 m.
    assert moment_nm([1000.0], [100.0]) == pytest.approx(0.980665)


def test_the_pull_grows_from_joint_to_joint() -> None:
    found = judged({"mass_g": 100.0, "length_mm": 10.0}, {"mass_g": 200.0, "length_mm": 15.0}, the_lens=HEAVY)
    g = 9.80665e-6
    assert [load.link for load in found.loads] == ["r0", "r1", "body"]
    assert [load.moment_nm for load in found.loads] == pytest.approx(
        [g * 1000 * 50, g * (1000 * 60 + 100 * 5), g * (1000 * 75 + 100 * 20 + 200 * 7.5)]
    )


def test_a_joint_is_rated_by_its_weaker_side() -> None:
    found = judged(
        {"mass_g": 100.0, "load_rating_nm": 0.7},
        the_lens=HEAVY,
        front={"load_rating_nm": 0.9},
        rear={"load_rating_nm": 0.5},
    )
    assert [load.rating_nm for load in found.loads] == [0.7, 0.5]


def test_an_unknown_mass_is_not_guessed() -> None:
    assert judged({"mass_g": None}, the_lens=HEAVY).loads == ()
    assert judged({"mass_g": 100.0}).loads == ()
    assert judged({"mass_g": None}, {"mass_g": 100.0}, the_lens=HEAVY).loads == ()


def test_a_joint_carries_what_it_is_rated_for() -> None:
    rating = moment_nm([1000.0], [50.0])
    found = judged({"mass_g": 1.0, "load_rating_nm": 9.0}, the_lens=HEAVY, front={"load_rating_nm": rating})
    assert "load_exceeded" not in {one.code for one in found.findings}


def coupled(*mm: float | None, rings: tuple[float, ...] = ()) -> float | None:
    """The shortest practical ring between throats of so many mm, beside rings of these lengths."""
    front, rear = (mount(id_, 40.0, throat_mm=throat, interface=id_) for id_, throat in zip("fr", mm, strict=True))
    listed = [ring(f"ring-{n}", long, lens_mount="f", body_mount="r") for n, long in enumerate(rings)]
    made = compile_world(gear_of({"mounts": [front, rear], "adapters": listed}))
    return smallest_ring_mm(made.structure, made.mounts["f"], made.mounts["r"])


def test_a_coupling_that_goes_into_the_others_throat_needs_a_millimetre() -> None:
    # With a wall of 1 mm on either side.
    assert coupled(40.0, 42.0) == coupled(42.0, 40.0) == 1.0
    assert coupled(40.0, 41.9) == coupled(41.9, 40.0) == 4.0


def test_what_is_not_known_is_neither_room_nor_none() -> None:
    assert coupled(None, 42.0) is coupled(42.0, None) is None
    assert [has_room(room, None) for room in (0.9, 3.9, 4.0)] == [None, None, True]
    assert [has_room(room, 1.0) for room in (0.9, 1.0)] == [False, True]


def test_what_is_listed_can_be_made() -> None:
    assert coupled(40.0, 42.0, rings=(0.9, 3.0)) == 0.9
    assert coupled(40.0, 41.9, rings=(3.0,)) == 3.0
    # A ring of 3 mm says nothing of whether one of 1 mm could be made.
    assert coupled(None, None, rings=(3.0,)) is None
    assert coupled(None, None, rings=(0.9,)) == 0.9


@pytest.mark.parametrize(("front", "rear", "named"), [(0.4, 0.1, "body"), (0.1, 0.6, "r0")])
def test_of_two_joints_the_one_more_over_its_rating_is_named(front: float, rear: float, named: str) -> None:
    # 1 kg at 50 mm pulls with 0.49 N·m at the front, and with 0.735 N·m at 75 mm.
    heavy = {"mass_g": 1e-6, "load_rating_nm": 9.0}
    found = judged(heavy, the_lens=HEAVY, front={"load_rating_nm": front}, rear={"load_rating_nm": rear})
    (said,) = [f for f in found.findings if f.code == "load_exceeded"]
    assert said.link == named


def squeeze_findings(*rings: dict[str, Any], **more: Any) -> set[str]:
    codes: set[str] = {found.code for found in judged(*rings, the_lens={"squeeze": 1.6}, **more).findings}
    return codes & {"seats_turn_squeeze", "no_desqueeze"}


def test_two_ways_to_seat_a_squeezed_lens_are_too_many() -> None:
    able = body(desqueeze=[1.33, 1.6])
    assert squeeze_findings({}, front={"positions": 2}, the_body=able) == {"seats_turn_squeeze"}
    # The body's own mount takes a ring here; how that sits does not turn the lens.
    assert squeeze_findings({}, rear={"positions": 2}, the_body=able) == set()
    assert squeeze_findings({}, the_body=body(desqueeze=[1.33, 1.8])) == {"no_desqueeze"}


def test_the_foot_of_the_lens_is_named_in_the_advice() -> None:
    found = judged({"mass_g": 1.0}, the_lens={**HEAVY, "tripod_foot": True}, rear={"load_rating_nm": 0.1})
    (said,) = [f for f in found.findings if f.code == "load_exceeded"]
    assert "by the foot of Test lens" in said.text
    assert "local safety rules" in said.text
    assert said.link == "body"


@given(st.lists(st.floats(0, 0.2), min_size=1, max_size=3), st.floats(0, 0.1))
def test_play_adds_up_over_the_joints(plays: list[float], own: float) -> None:
    found = judged(*({"play_mm": play} for play in plays), front={"play_mm": own})
    assert found.play.displacement_mm == pytest.approx(own + sum(plays))
    # K·N·c at f/2 on 36 × 24.
    assert found.play.fraction_of_window == pytest.approx(found.play.displacement_mm / (2 * 1872**0.5 / 1500))


def test_a_lock_holds_its_own_joint_and_no_other() -> None:
    # The ring's lock is on its lens side; its own play is at the body.
    assert judged({"play_mm": 0.1, "locking": True}, front={"play_mm": 0.3}).play.displacement_mm == pytest.approx(0.1)
    assert judged({"play_mm": 0.1}, front={"play_mm": 0.3}).play.displacement_mm == pytest.approx(0.4)
    held = judged({"play_mm": 0.1}, front={"play_mm": 0.3}, rear={"locking": True})
    assert held.play.displacement_mm == pytest.approx(0.3)


def test_play_in_front_of_glass_counts_by_the_square_of_it() -> None:
    reducer = {"optics": "reducer", "magnification": 0.5, "register_in_mm": 45.0, "register_out_mm": 20.0}
    found = judged({"play_mm": 0.1, **reducer}, front={"play_mm": 0.3})
    # The lens's own joint stands before the glass, the ring's behind it.
    assert found.play.displacement_mm == pytest.approx(0.3 * 0.25 + 0.1)


def test_a_helicoid_is_closed_for_infinity_and_opened_by_what_a_short_ring_lacks() -> None:
    (exact,) = judged({"helicoid_mm": 10.0}).ranges
    assert (exact.for_infinity_mm, exact.travel_mm) == (0.0, 10.0)
    (short,) = judged({"helicoid_mm": 10.0, "length_mm": 21.0}).ranges
    assert short.for_infinity_mm == 4.0
    (long,) = judged({"helicoid_mm": 10.0, "length_mm": 30.0}).ranges
    assert long.for_infinity_mm is None


def test_a_helicoid_brings_the_near_limit_closer() -> None:
    (found,) = judged({"helicoid_mm": 10.0}).ranges
    assert found.near_closed_mm == pytest.approx(500.0)
    # Own travel e = f·m with m from D = 0.5 m, plus 10 mm.
    m = (8 - (8**2 - 4) ** 0.5) / 2
    x = 50 * m + 10
    assert found.near_open_mm == pytest.approx(100 + 2500 / x + x)


# What would have to exist


def missing(lens_mm: float, body_mm: float, **more: Any) -> MatchReport:
    world = world_of(
        [],
        lens_register_mm=lens_mm,
        body_register_mm=body_mm,
        front={"interface": "own", **more.pop("front", {})},
        **more,
    )
    return match(world, "lens", "body")


def needs(report: MatchReport) -> dict[str, float | None]:
    return {need.kind: need.length_mm for need in report.would_need}


def test_a_plain_ring_of_the_gap() -> None:
    report = missing(45.0, 20.0)
    assert needs(report) == {"ring": 25.0}
    assert report.would_need[0].practical


def test_a_gap_shorter_than_two_couplings_is_not_practical() -> None:
    alike = {"throat_mm": 40.0}
    report = missing(23.0, 20.0, front=alike, rear=alike)
    assert needs(report) == {"ring": 3.0, "close_up": 4.0, "correcting_glass": None}
    assert report.would_need[0].practical is False
    nested = missing(23.0, 20.0, front=alike, rear={"throat_mm": 44.0})
    assert needs(nested) == {"ring": 3.0}
    unknown = missing(23.0, 20.0)
    assert unknown.would_need[0].practical is None
    assert "not known" in unknown.would_need[0].text


def test_without_a_gap_glass_or_close_up() -> None:
    report = missing(20.0, 24.0)
    assert needs(report) == {"close_up": 4.0, "correcting_glass": None}
    # The ring stands 8 mm too far: D over x = 8 … 8 + e.
    (close,) = [need for need in report.would_need if need.kind == "close_up"]
    assert close.far_mm == pytest.approx(100 + 2500 / 8 + 8)


def test_what_can_be_undone_comes_first() -> None:
    swap = {"mount": "rear", "tools": "hex key", "minutes": 20, "price": 90.0}
    report = missing(24.0, 24.0, the_lens=lens(swappable_mounts=[swap]), seat_tolerance_mm=0.01)
    kinds = [need.kind for need in report.would_need]
    assert kinds == ["swap_lens_mount", "close_up", "correcting_glass", "shared_plate"]
    first = report.would_need[0]
    assert (first.mount, first.minutes, first.reversible) == ("rear", 20, True)
    assert "join without an adapter" in first.text


def test_where_infinity_is_reached_nothing_is_missing() -> None:
    assert match(world_of([ring()]), "lens", "body").would_need == ()


# What fits one end


def test_what_fits_a_lens_is_each_body_with_its_best_route(sample: World) -> None:
    report = what_fits(sample, lens="mrw-92", practice=Practice())
    assert len(report.fits) == len(sample.bodies)
    by_id = {fit.id: fit for fit in report.fits}
    for body_id, fit in by_id.items():
        routes = match(sample, "mrw-92", body_id).routes
        assert fit.grade == (routes[0].grade if routes else None), body_id
        assert fit.adapters == (routes[0].adapters if routes else ()), body_id
    assert (by_id["corran"].grade, by_id["o7"].grade) == ("native", "full")


def test_what_fits_is_best_first_and_the_impossible_last(sample: World) -> None:
    grades = [fit.grade for fit in what_fits(sample, body="o7", practice=Practice()).fits]
    order = ["native", "full", "manual", "partial", "close_up", "modify", "none", "danger", None]
    assert grades == sorted(grades, key=order.index)


def test_what_fits_asks_for_one_end(sample: World) -> None:
    with pytest.raises(ValueError, match="not both"):
        what_fits(sample, lens="mrw-92", body="o7", practice=Practice())
    with pytest.raises(ValueError, match="not both"):
        what_fits(sample, practice=Practice())
    with pytest.raises(UnknownIdError):
        what_fits(sample, lens="mrw-9", practice=Practice())
