"""From a view to a rig: against trying everything, and there and back."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.terminal import run
from tests.worlds import body, lens, ring, world_of
from tropeion.core.becomes.becoming_tables import lens_on_bodies, lenses_of
from tropeion.core.becomes.lens_ways import ways_of
from tropeion.core.becomes.reference import FULL_FRAME, crop_against, reference_of
from tropeion.core.becomes.wish import FRAMING_SHARE, NEAR_SHARE, Wish, WishReport, wish_of
from tropeion.core.findings import GRADES
from tropeion.core.gear.world import World, compile_world
from tropeion.core.optics.modes import modes_of
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match
from tropeion.core.words import word

PLAIN = Practice()
Place = tuple[str, str, float]
REDUCER = ring("reducer", optics="reducer", magnification=0.7, register_in_mm=45.0, register_out_mm=20.0)


def wished(world: World, body_id: str, focal: float, stop: float | None = None) -> WishReport:
    return wish_of(world, body_id, Wish(focal, stop), FULL_FRAME, PLAIN, lenses_of(world, "all"))


def places(report: WishReport, *kinds: str) -> set[Place]:
    answers = [one for kind in kinds for one in getattr(report, kind)]
    return {(one.row.lens, one.row.mode, one.row.magnification) for one in answers}


def tried(world: World, body_id: str, focal: float, share: float) -> set[Place]:
    """Every lens, kind of glass and mode whose view is within a share of the wish, by the report of its rig."""
    found: set[Place] = set()
    target = world.body(body_id)
    for one in lenses_of(world, "all"):
        for way in ways_of(world, [one], [target], PLAIN)[one.id, body_id]:
            (route,) = match(world, one.id, body_id, via=[piece.id for piece in way.adapters]).routes
            if one.fisheye or route.grade in {"none", "danger"}:
                continue
            for mode in modes_of(target, "still"):
                circle = route.coverage.image_circle_mm
                if circle is not None and circle + 1e-9 < mode.diagonal_mm:
                    continue
                crop = math.hypot(36, 24) / mode.diagonal_mm
                ends = [end.focal_length_mm * crop for end in route.ends]
                nearest = min(max(focal, ends[0]), ends[-1])
                if abs(nearest / focal - 1) <= share + 1e-9:
                    found.add((one.id, mode.name, way.magnification))
    return found


@pytest.mark.parametrize("body_id", ["o7", "lark", "vigil"])
@pytest.mark.parametrize("focal", [24, 50, 85, 135])
def test_the_answers_are_those_of_trying_everything(sample: World, body_id: str, focal: float) -> None:
    report = wished(sample, body_id, focal)
    assert report.left_out == 0
    assert places(report, "own", "buy", "near") == tried(sample, body_id, focal, NEAR_SHARE)
    assert places(report, "own", "buy") <= tried(sample, body_id, focal, FRAMING_SHARE)
    for one in (*report.own, *report.buy):
        assert one.row.covered
        assert one.row.works
        assert not one.why
    for one in report.near:
        assert one.why


@given(data=st.data())
def test_what_a_rig_becomes_leads_back_to_the_rig(sample: World, data: st.DataObject) -> None:
    one = data.draw(st.sampled_from(lenses_of(sample, "all")))
    table = lens_on_bodies(sample, one, sample.gear.bodies, FULL_FRAME, PLAIN)
    rows = [row for row in table.rows if row.works and row.covered and row.settings[0].angles_deg]
    if not rows:
        return
    row = data.draw(st.sampled_from(rows))
    at = data.draw(st.sampled_from(row.settings))
    report = wished(sample, row.body, at.equivalent_mm, at.equivalent_f_number)
    (answer,) = [answer for answer in (*report.own, *report.buy, *report.near) if answer.row.key == row.key]
    assert answer.set_mm == pytest.approx(at.marked_mm)
    assert answer.framing_share == pytest.approx(0, abs=1e-9)
    assert answer.set_f_number == pytest.approx(at.f_number / row.magnification, abs=1e-5)


@given(st.floats(8, 600), st.floats(1, 22), st.sampled_from(["full", "small"]))
def test_the_lens_that_would_have_to_exist_gives_it(focal: float, stop: float, mode: str) -> None:
    modes = [{"name": "small", "sensor_mm": [18, 12], "megapixels": 6, "use": "both"}]
    adapters = [ring(owned=1), REDUCER | {"owned": 1}]

    def world(**made: object) -> World:
        the_lens = lens(owned=1, min_focus_m=None, max_magnification=0.1, **made)
        return world_of(adapters, the_lens=the_lens, the_body=body(owned=1, modes=modes, megapixels=24))

    for missing in wished(world(), "body", focal, stop).missing:
        if missing.mode != mode or missing.f_number is None or not 0.5 < missing.f_number < 90:
            continue
        made = world(
            focal_length_mm=[missing.focal_length_mm] * 2,
            f_number=[missing.f_number, 128],
            image_circle_mm=missing.image_circle_mm + 1e-6,
        )
        place = ("lens", mode, missing.magnification)
        assert place in places(wished(made, "body", focal, stop), "own")


# 24 mm and the depth of f/2.8 on 24 × 16 mm: 16 mm at f/1.867; behind 0.7 ×, 22.86 mm at f/2.667.
def test_what_would_have_to_exist_by_hand() -> None:
    world = world_of([REDUCER], the_body=body(sensor_mm=[24, 16]))
    plain, reduced = wished(world, "body", 24, 2.8).missing
    assert (plain.magnification, reduced.magnification) == (1, 0.7)
    assert plain.focal_length_mm == pytest.approx(16)
    assert plain.f_number == pytest.approx(2.8 / 1.5)
    assert plain.image_circle_mm == pytest.approx(math.hypot(24, 16), abs=1e-6)
    assert reduced.focal_length_mm == pytest.approx(16 / 0.7, abs=1e-6)
    assert reduced.f_number == pytest.approx(2.8 / 1.5 / 0.7, abs=1e-6)
    assert reduced.image_circle_mm == pytest.approx(math.hypot(24, 16) / 0.7, abs=1e-6)


def only_answer(stop: float | None = None, focal: float = 50, **of_the_lens: object) -> tuple[str, str, float | None]:
    world = world_of([ring(owned=1)], the_lens=lens(owned=1, **of_the_lens), the_body=body(owned=1))
    report = wished(world, "body", focal, stop)
    (answer,) = (*report.own, *report.buy, *report.near)
    return answer.verdict, answer.why, answer.set_f_number


def test_a_lens_that_is_too_slow_only_comes_near() -> None:
    assert only_answer(2) == ("gives", "", 2)
    assert only_answer(4) == ("gives", "", 4)
    verdict, why, stop = only_answer(1.4)
    assert (verdict, stop) == ("near", None)
    assert why == "no less depth of field than at f/2.0"
    assert only_answer(22)[1] == "it closes to f/16, and would have to go to f/22"


def test_a_view_that_is_a_little_off_is_the_view_and_one_that_is_farther_off_comes_near() -> None:
    assert only_answer(focal=48)[:2] == ("gives", "")
    assert only_answer(focal=45)[:2] == ("near", "11 % longer")
    assert only_answer(focal=56)[:2] == ("near", "11 % wider")


def test_what_is_not_known_does_not_give_it() -> None:
    verdict, why, _ = only_answer(image_circle_mm=None)
    assert (verdict, why) == ("near", "whether its corners are light is not known")


def test_infinity_that_comes_late_is_said() -> None:
    # 0.2 mm too long: on 36 × 24 mm, d/1500 is 0.0288 mm, so infinity is sharp from f/6.93.
    world = world_of([ring(length_mm=25.2, owned=1)], the_lens=lens(owned=1), the_body=body(owned=1))
    (late,) = wished(world, "body", 50, 2.8).near
    assert late.why == "infinity is sharp only from f/7.1"
    (fine,) = wished(world, "body", 50, 8).own
    assert fine.set_f_number == 8


def test_what_only_works_close_up_gives_it_where_close_up_is_meant() -> None:
    # A ring 10 mm too long: infinity is out of reach at every stop.
    world = world_of([ring(length_mm=35.0, owned=1)], the_lens=lens(owned=1), the_body=body(owned=1))
    (far,) = wished(world, "body", 50, 4).near
    assert far.why == "close-up only"
    meant = Practice(purpose="close_up")
    (close,) = wish_of(world, "body", Wish(50, 4), FULL_FRAME, meant, lenses_of(world, "all")).own
    assert (close.why, close.set_f_number) == ("", 4)


def test_a_dark_corner_is_no_answer_and_a_mode_that_is_covered_is() -> None:
    modes = [{"name": "small", "sensor_mm": [18, 12], "megapixels": 6, "use": "both"}]
    world = world_of([ring()], the_lens=lens(image_circle_mm=24.0), the_body=body(modes=modes))
    assert places(wished(world, "body", 100), "own", "buy", "near") == {("lens", "small", 1.0)}
    assert places(wished(world, "body", 50), "own", "buy", "near") == set()


def test_what_is_not_at_hand_costs_what_it_costs_and_is_no_gift_without_a_price() -> None:
    def buying(**of_the_ring: Any) -> WishReport:
        return wished(world_of([ring(**of_the_ring)], the_lens=lens(owned=1), the_body=body(owned=1)), "body", 50)

    assert [one.row.price for one in buying(price=40).buy] == [40]
    assert [one.row.price for one in buying().buy] == [None]
    assert buying(owned=1).own[0].row.price == 0


def test_the_present_mode_is_not_the_only_one_that_is_looked_at(sample: World) -> None:
    report = wished(sample, "o7", 52.5)
    assert any(one.row.mode == "24 × 16" for one in (*report.own, *report.buy, *report.near))
    for one in (*report.own, *report.buy):
        crop = crop_against(FULL_FRAME, one.row.width_mm, one.row.height_mm, "diagonal")
        assert one.equivalent_mm == pytest.approx(one.set_mm * one.row.magnification * crop)


def test_a_wish_is_answered_from_the_camera_one_came_from(sample: World) -> None:
    there = wish_of(sample, "o7", Wish(17, 1.7), reference_of(sample, "lark"), PLAIN, lenses_of(sample, "all"))
    here = wished(sample, "o7", 17 * 43.266615 / 25, 1.7 * 43.266615 / 25)
    assert places(there, "own", "buy", "near") == places(here, "own", "buy", "near")


def test_nothing_at_all_says_so() -> None:
    world = compile_world(world_of([]).gear)
    assert wished(world, "body", 24).sentence == "Nothing in the collection comes near it on Test body."


@pytest.mark.parametrize(
    ("more_lens", "more_ring", "why"),
    [
        ({"aperture": "lever"}, {}, "nothing moves the aperture"),
        ({"aperture": "pin"}, {}, "the aperture stays open"),
        ({"exit_pupil_mm": 60.0}, {"bore_mm": 14.0}, "dark corners"),
    ],
)
def test_what_is_only_partly_usable_comes_near_and_says_why(
    more_lens: dict[str, Any], more_ring: dict[str, Any], why: str
) -> None:
    world = world_of([ring(owned=1, **more_ring)], the_lens=lens(owned=1, **more_lens), the_body=body(owned=1))
    report = wished(world, "body", 50)
    assert (report.own, report.buy) == ((), ())
    assert [why in one.why for one in report.near] == [True] * len(report.near)
    assert report.near
    assert not report.sentence.startswith("You have it")


def test_the_terminal_says_how_well_each_answer_works() -> None:
    told = run("becomes", "sample", "--body", "o7", "--view-of", "55").stdout.decode()
    rows = [line for line in told.splitlines() if line.startswith("  owned:")]
    assert rows
    assert all(any(word(grade) in row for grade in GRADES) for row in rows)
