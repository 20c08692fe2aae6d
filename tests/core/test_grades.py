"""Grades and findings: a base rig, changed in one thing at a time."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import ELECTRONIC, GLASS, LINK, codes, electronic, only_route, rig
from tests.worlds import body, details, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.fits import what_fits
from tropeion.core.catalogue import CATALOGUE
from tropeion.core.findings import GRADES, rank
from tropeion.core.gear.world import UnknownIdError, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import best_standings
from tropeion.core.routes.match import match


def test_a_plain_lens_on_an_exact_ring_is_by_hand() -> None:
    route = rig()
    assert route.grade == "manual"
    assert codes(route) == {"by_hand"}


# N·c wide open is 2·43.27/1500 = 0.0577 mm; the neighbour of each change stays as it was.
@pytest.mark.parametrize(
    ("length_mm", "grade", "code"),
    [
        (25.05, "manual", "ring_long_by_hundredths"),
        (25.06, "partial", "infinity_stopped_down"),
        (25.46, "partial", "infinity_stopped_down"),
        (25.47, "close_up", "infinity_out_of_reach"),
        (24.98, "manual", None),
        (24.90, "manual", "passes_infinity"),
        # The travel to 0.5 m is 6.35 mm; f/16 forgives 0.46 mm more.
        (18.20, "partial", "infinity_stopped_down"),
        (18.18, "none", "nothing_focuses"),
    ],
)
def test_grade_by_the_length_of_the_ring(length_mm: float, grade: str, code: str | None) -> None:
    route = rig(length_mm)
    assert route.grade == grade
    assert codes(route) == {"by_hand"} | ({code} if code else set())


def test_the_cautious_school_adds_the_worst_case_and_says_so() -> None:
    world = world_of([ring(length_mm=25.04, tolerance_mm=0.03)])
    assert only_route(world).grade == "manual"
    cautious = only_route(world, Practice(trust="cautious"))
    assert cautious.grade == "partial"
    (said,) = [f.text for f in cautious.findings if f.code == "infinity_stopped_down"]
    assert "worst case" in said


def test_a_bare_rig_is_exempt_from_caution() -> None:
    world = world_of(lens_register_mm=20.0, seat_tolerance_mm=0.2)
    assert only_route(world, Practice(trust="cautious"), via="").grade == "native"


@given(st.floats(20, 30), st.floats(0, 0.3), st.floats(0, 0.3))
def test_tolerance_never_changes_a_nominal_grade_and_never_raises_a_cautious_one(
    length: float, less: float, more: float
) -> None:
    less, more = sorted((less, more))
    tight, loose = (world_of([ring(length_mm=length, tolerance_mm=t)]) for t in (less, more))
    assert only_route(tight).grade == only_route(loose).grade
    cautious = Practice(trust="cautious")
    assert rank(only_route(loose, cautious).grade) <= rank(only_route(tight, cautious).grade)


@given(st.floats(15, 40), st.sampled_from(["ring", "motor", "none"]))
def test_the_grade_is_the_worst_cap(length: float, how: str) -> None:
    route = rig(length, the_lens=lens(focus=how))
    caps = [found.grade_cap for found in route.findings if found.grade_cap]
    assert route.grade == min(caps, key=GRADES.index)


# Focus and iris without power


def test_focus_by_wire_without_power_cannot_be_focused() -> None:
    route = electronic()
    assert route.grade == "none"
    assert route.wide.focus.state == "none"
    assert not route.wide.infinity.reached
    assert "focus_without_power" in codes(route)
    (found,) = [f for f in route.findings if f.code == "focus_without_power"]
    assert found.link == "ring"


def test_passing_contacts_power_it_in_full() -> None:
    route = electronic(link="pass")
    assert route.grade == "full"
    assert codes(route) == {"through_adapter"}
    assert route.wire.ends_at is None


def test_contacts_of_another_language_are_a_dead_link() -> None:
    languages = [*LINK, {"id": "other", "name": "Other", "powers": ["iris", "focus"]}]
    world = world_of(
        [ring(link="pass")], the_lens=lens(**ELECTRONIC), the_body=body(protocols=["other"]), protocols=languages
    )
    route = only_route(world)
    assert route.grade == "none"
    assert route.wire.ends_at == "ring"


def test_a_translator_that_drops_a_function_is_by_hand() -> None:
    translating = {"link": "translate", "from_protocol": "speech", "to_protocol": "speech"}
    everything = {"autofocus": "full", "aperture": "full", "identity": "full", "focal_length": "full"}
    assert electronic(**translating, carries=everything).grade == "full"
    slow = electronic(**translating, carries={**everything, "autofocus": "slow"})
    assert slow.grade == "full"
    assert "autofocus_slow" in codes(slow)
    assert electronic(**translating, carries={**everything, "autofocus": "none"}).grade == "manual"


def test_an_electronic_iris_without_power_is_stuck() -> None:
    by_hand = {**ELECTRONIC, "focus": "motor"}
    world = world_of([ring()], the_lens=lens(**by_hand), the_body=body(protocols=["speech"]), protocols=LINK)
    route = only_route(world)
    assert route.grade == "partial"
    assert "iris_without_power" in codes(route)
    assert next(f.state for f in details(route).functions if f.function == "aperture") == "stuck"


def test_an_iris_in_the_adapter_frees_a_lens_without_one() -> None:
    blind = lens(aperture="none", f_number=[2, 2])
    assert "aperture" not in {f.function for f in details(rig(the_lens=blind)).functions}
    freed = rig(the_lens=blind, aperture_control="iris")
    assert next(f.state for f in details(freed).functions if f.function == "aperture") == "by_hand"


@pytest.mark.parametrize(
    ("drive", "freed_by", "code"), [("lever", "lever_ring", "lever_not_moved"), ("pin", "pin_press", "pin_not_pressed")]
)
def test_an_iris_that_nothing_drives_is_stuck_and_a_fitting_ring_frees_it(drive: str, freed_by: str, code: str) -> None:
    stuck = rig(the_lens=lens(aperture=drive))
    assert stuck.grade == "partial"
    assert code in codes(stuck)
    freed = rig(the_lens=lens(aperture=drive), aperture_control=freed_by)
    assert freed.grade == "manual"
    assert code not in codes(freed)


def test_an_iris_stuck_closed_exposes_at_the_smallest_stop() -> None:
    closed = rig(the_lens=lens(aperture="lever", iris_at_rest="closed"))
    assert (closed.wide.f_number, closed.wide.working_f_number) == (2.0, 16.0)
    assert [stop.f_number for stop in closed.wide.infinity.stops] == [16.0]
    free = rig(the_lens=lens(aperture="lever", iris_at_rest="closed"), aperture_control="lever_ring")
    assert free.wide.working_f_number == 2.0


def test_the_auto_manual_switch_frees_the_pin() -> None:
    assert "pin_not_pressed" not in codes(rig(the_lens=lens(aperture="pin", auto_manual_switch=True)))


def test_an_iris_stuck_open_cannot_hide_a_long_ring() -> None:
    # Stopped down to f/3.5 it would be sharp; wide open it never is.
    assert rig(25.10).grade == "partial"
    assert rig(25.10, the_lens=lens(aperture="pin")).grade == "close_up"


# Coverage


def test_a_circle_too_small_costs_the_full_sensor() -> None:
    mode = {"name": "24 × 16", "sensor_mm": [24.0, 16.0], "megapixels": 14.0}
    world = world_of([ring()], the_lens=lens(image_circle_mm=30.0), the_body=body(modes=[mode], megapixels=33.0))
    route = only_route(world)
    assert route.coverage.mode == "24 × 16"
    assert route.grade == "partial"
    assert "covers_crop_only" in codes(route)


def test_film_modes_are_chosen_for_film_alone() -> None:
    mode = {"name": "wide", "sensor_mm": [24.0, 12.0], "megapixels": 8.0, "use": "film"}
    world = world_of([ring()], the_lens=lens(image_circle_mm=30.0), the_body=body(modes=[mode]))
    assert only_route(world).coverage.mode == "full"
    assert only_route(world, Practice(use="film")).coverage.mode == "wide"


def test_an_unknown_circle_is_said_and_costs_nothing() -> None:
    route = rig(the_lens=lens(image_circle_mm=None))
    assert route.grade == "manual"
    assert "circle_unknown" in codes(route)


def test_steep_rays_are_a_caution() -> None:
    # atan(21.63/P) is over 32° below P = 34.6 mm.
    for pupil, steep in ((34.0, True), (35.0, False)):
        the_body = body(max_ray_angle_deg=32.0)
        route = only_route(world_of([ring()], the_lens=lens(exit_pupil_mm=pupil), the_body=the_body))
        assert ("steep_corner_rays" in codes(route)) is steep
        assert route.grade == "manual"


def test_a_long_ring_carries_the_exit_pupil_with_it() -> None:
    near = rig(25.0, the_lens=lens(exit_pupil_mm=60.0)).coverage.corner_ray_angle_deg
    far = rig(35.0, the_lens=lens(exit_pupil_mm=60.0)).coverage.corner_ray_angle_deg
    assert near is not None
    assert far is not None
    assert far < near


# Glass


def test_correcting_glass_is_partial_and_a_reducer_is_not() -> None:
    assert rig(optics="correcting", magnification=1.2, **GLASS).grade == "partial"
    # 70 mm × 0.7 still covers the sensor.
    large = lens(image_circle_mm=70.0)
    assert rig(the_lens=large, optics="reducer", magnification=0.7, **GLASS).grade == "manual"


def test_glass_that_is_slower_than_the_lens_sets_the_aperture() -> None:
    route = rig(optics="reducer", magnification=0.7, widest_f_number=1.8, **GLASS)
    # f/2 × 0.7 would be f/1.4.
    assert route.wide.f_number == pytest.approx(1.8)
    assert "glass_limits_aperture" in codes(route)
    assert route.wide.infinity.from_f_number == pytest.approx(1.8 / 0.7, abs=1e-6)


def test_a_ring_without_glass_does_not_change_the_crop_factor() -> None:
    def crop(length: float) -> float:
        small = body(sensor_mm=[24.0, 16.0])
        return only_route(world_of([ring(length_mm=length)], the_body=small)).wide.equivalents.crop_factor

    assert crop(25.0) == crop(30.0) == pytest.approx(1.5)


# Unknown values


def test_an_unknown_travel_is_no_promise() -> None:
    unknown = lens(min_focus_m=None)
    assert rig(25.0, the_lens=unknown).wide.focus.near_mm is None
    # 2 mm too near: more than 2 % of 50 mm and a window, less than 15 %.
    short = rig(23.0, the_lens=unknown)
    assert codes(short) == {"focus_travel_unknown", "by_hand"}
    assert (short.grade, short.wide.focus.state) == ("partial", "unknown")
    infinity = short.wide.infinity
    assert (infinity.reached, infinity.from_f_number, infinity.probability) == (None, None, None)
    assert (short.wide.focus.near_mm, short.wide.focus.max_magnification) == (None, None)
    assert short.sentence.startswith("Whether it reaches infinity is not known: the lens stands 2.00 mm too near")
    # A lens that says what is usual for it does reach infinity there: to say nothing is no better.
    assert rig(23.0).wide.infinity.reached is True
    hopeless = rig(15.0, the_lens=unknown)
    assert (hopeless.grade, hopeless.wide.infinity.reached) == ("none", None)
    # What an open helicoid gives back counts.
    assert rig(15.0, the_lens=unknown, helicoid_mm=5.0).grade == "partial"
    assert rig(15.0, the_lens=unknown, helicoid_mm=10.0).grade == "manual"


def test_a_wrong_ring_of_unknown_travel_stands_after_all_that_is_sure_and_hides_nothing() -> None:
    """The thread of two systems: the ring of the other one is 16.1 mm too short, and nobody knows the lens's travel."""
    screw: dict[str, Any] = {
        "coupling": "screw",
        "interface": "thread",
        "thread": {"diameter_mm": 46.0, "pitch_mm": 1.1},
    }
    document = {
        "mounts": [mount("front", 47.3, **screw), mount("other", 31.2, **screw), mount("rear", 22.4)],
        "bodies": [body(owned=1)],
        "lenses": [lens(focal_length_mm=[140, 140], f_number=[3.5, 32], min_focus_m=None, owned=1)],
        "adapters": [
            ring("wrong", 8.8, lens_mount="other", owned=1, price=5.0),
            ring("right", 24.9, price=28.0),
            ring("long", 30.0, price=1.0),
        ],
    }
    world = compile_world(gear_of(document))
    report = match(world, "lens", "body", Practice(pieces="1"))
    # Long enough for close-up alone comes before what nobody can tell; neither of the two is folded away.
    assert [route.adapters for route in report.routes] == [("right",), ("long",), ("wrong",)]
    assert [route.grade for route in report.routes] == ["manual", "close_up", "partial"]
    trap = report.routes[2]
    assert "same_thread_other_register" in codes(trap)
    assert trap.wide.infinity.reached is None
    assert (trap.surely, report.routes[0].surely) == (False, True)
    assert "differ by" in trap.wrong
    assert [route.wrong for route in report.routes[:2]] == ["", ""]
    # Without the right one it is still not counted as working.
    left = compile_world(gear_of({**document, "adapters": document["adapters"][:1]}))
    standing = best_standings(left, left.gear.lenses, left.gear.bodies, Practice())["lens", "body"]
    assert (standing.grade, standing.surely) == ("partial", False)
    both = compile_world(gear_of({**document, "adapters": [document["adapters"][0], document["adapters"][2]]}))
    standing = best_standings(both, both.gear.lenses, both.gear.bodies, Practice())["lens", "body"]
    assert (standing.grade, standing.surely) == ("close_up", True)
    (fit,) = what_fits(left, lens="lens", practice=Practice()).fits
    assert (fit.grade, fit.surely, fit.works) == ("partial", False, False)


def test_inner_focusing_asks_for_the_magnification() -> None:
    # 0.15 m is 3 focal lengths: no thin lens gets there.
    assert "closest_focus_needs_magnification" in codes(rig(the_lens=lens(min_focus_m=0.15)))
    stated = rig(the_lens=lens(min_focus_m=0.15, max_magnification=0.5))
    assert "closest_focus_needs_magnification" not in codes(stated)
    assert stated.wide.focus.max_magnification == pytest.approx(0.5)


def test_a_lens_without_focusing_needs_something_that_moves_it() -> None:
    fixed = lens(focus="none", min_focus_m=None)
    # Where it stands exactly right it is sharp at infinity, and nowhere else.
    exact = rig(the_lens=fixed)
    assert (exact.grade, exact.wide.focus.state, exact.wide.focus.near_mm) == ("manual", "to_infinity", None)
    assert rig(25.5, the_lens=fixed).grade == "none"
    assert rig(24.5, the_lens=fixed).grade == "none"
    moved = rig(the_lens=fixed, helicoid_mm=10.0)
    assert moved.grade == "manual"
    # The helicoid alone: x from 0 to 10 mm, D = 2f + f²/x + x.
    assert moved.wide.focus.near_mm == pytest.approx(100 + 2500 / 10 + 10)


# A zoom


def test_a_zoom_gets_the_worse_grade_of_its_two_ends() -> None:
    # f/2 forgives 0.05, f/1.5 does not.
    zoom = lens(focal_length_mm=[30, 60], f_number=[1.5, 16], f_number_at_long_end=2.0, image_circle_mm=45.0)
    route = rig(25.05, the_lens=zoom)
    assert route.grade == "partial"
    assert route.long is not None
    assert route.long.grade == "manual"
    assert route.long.focal_length_mm == 60.0
    assert route.long.equivalents.focal_mm == pytest.approx(60.0)


def test_a_finding_of_the_long_end_alone_says_so() -> None:
    # 1.2 m is 24 short focal lengths and under four long ones: travel is known at one end only.
    zoom = lens(focal_length_mm=[50, 400], min_focus_m=1.2)
    (said,) = [f.text for f in rig(the_lens=zoom).findings if f.code == "closest_focus_needs_magnification"]
    assert said.startswith("At the long end:")


def test_an_unknown_id_offers_near_ones() -> None:
    with pytest.raises(UnknownIdError) as refused:
        match(world_of([ring()]), "lense", "body")
    assert refused.value.near == ("lens",)
    with pytest.raises(UnknownIdError):
        match(world_of([ring()]), "lens", "body", via=["rung"])


def test_the_words_of_every_finding_are_whole() -> None:
    for code, kind in CATALOGUE.items():
        assert kind.text, code
        # What decides a grade has to be able to say so.
        assert kind.grade_cap in {None, "native"} or kind.headline, code
