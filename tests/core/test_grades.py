"""Grades and findings: a base rig, changed in one thing at a time."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.catalogue import CATALOGUE
from tropeion.core.findings import GRADES, rank
from tropeion.core.gear.world import UnknownIdError, World
from tropeion.core.practice import Practice
from tropeion.core.rig.report import Route
from tropeion.core.routes.match import match

LINK = [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}]
ELECTRONIC = {
    "focus": "by_wire",
    "aperture": "electronic",
    "iris_at_rest": "stays",
    "protocol": "speech",
    "offers": ["autofocus", "aperture", "identity", "focal_length"],
}


def only_route(world: World, practice: Practice | None = None, via: str = "ring") -> Route:
    (route,) = match(world, "lens", "body", practice, via=[via] if via else []).routes
    return route


def codes(route: Route) -> set[str]:
    return {found.code for found in route.findings}


def rig(length_mm: float = 25.0, *, the_lens: dict[str, Any] | None = None, **adapter: Any) -> Route:
    """A 45 mm register lens on a 20 mm body, through one ring."""
    return only_route(world_of([ring(length_mm=length_mm, **adapter)], the_lens=the_lens or lens(), protocols=LINK))


def electronic(**adapter: Any) -> Route:
    world = world_of(
        [ring(**adapter)], the_lens=lens(**ELECTRONIC), the_body=body(protocols=["speech"]), protocols=LINK
    )
    return only_route(world)


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
    ("drive", "freed_by", "code"),
    [("lever", "lever_ring", "lever_not_moved"), ("pin", "pin_press", "pin_not_pressed")],
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


# Damage by coupling parts

PARTS = {
    "features": [
        {"id": "collar", "side": "lens", "label": "collar"},
        {"id": "tongue", "side": "body", "label": "tongue"},
        {"id": "hinge", "side": "body", "label": "hinge"},
    ],
    "generations": [
        {"id": "old", "label": "I", "lens_features": ["collar"], "body_features": []},
        {"id": "new", "label": "II", "lens_features": [], "body_features": ["tongue"]},
        {"id": "between", "label": "I½", "lens_features": [], "body_features": ["tongue", "hinge"]},
    ],
    "rules": [
        {
            "lens_has": ["collar"],
            "body_has": ["tongue"],
            "body_lacks": ["hinge"],
            "effect": "damage",
            "text": "The collar breaks the tongue.",
        },
        {
            "lens_has": ["collar"],
            "body_has": ["hinge"],
            "effect": "safe_after",
            "action": "Swing the tongue away.",
            "text": "The collar needs room.",
        },
    ],
}


def bare(lens_generation: str | None, body_generation: str | None, **more: Any) -> Route:
    world = world_of(
        lens_register_mm=45.0,
        body_register_mm=45.0,
        the_lens=lens(generation=lens_generation, **more),
        the_body=body(mount="front", generation=body_generation),
        front=PARTS,
    )
    return only_route(world, via="")


def test_a_collar_on_a_fixed_tongue_is_danger() -> None:
    route = bare("old", "new")
    assert route.grade == "danger"
    assert route.sentence == "Do not mount this. The collar breaks the tongue."
    assert [step.caution for step in details(route).steps] == [True]


def test_a_tongue_that_swings_keeps_the_grade_and_comes_first() -> None:
    route = bare("old", "between")
    assert route.grade == "native"
    assert codes(route) == {"coupling_safe_after"}
    assert details(route).steps[0].text == "Swing the tongue away."
    assert details(route).steps[0].caution


def test_a_later_lens_is_at_home() -> None:
    assert bare("new", "new").grade == "native"


def test_an_unknown_generation_that_could_break_something_is_danger() -> None:
    assert codes(bare(None, "new")) == {"generation_unknown"}
    assert bare("old", None).grade == "danger"
    # Nothing can break on a body that has no tongue, nor with a lens that has no collar.
    assert bare(None, "old").grade == "native"
    assert bare("new", None).grade == "native"


def test_the_features_of_the_lens_itself_outrank_its_generation() -> None:
    assert bare("old", "new", features=[]).grade == "native"
    assert bare("new", "new", features=["collar"]).grade == "danger"


def test_the_lens_side_of_an_adapter_counts_like_a_body() -> None:
    world = world_of(
        [ring("plain"), ring("feeling", lens_side_features=["tongue"])],
        the_lens=lens(generation="old"),
        front=PARTS,
    )
    routes = match(world, "lens", "body", Practice(pieces="1"), everything=True).routes
    grades = {route.adapters: route.grade for route in routes if route.adapters}
    assert grades == {("plain",): "manual", ("feeling",): "danger"}


def test_what_the_maker_excludes_is_danger() -> None:
    excluded = lens(not_on=[{"adapter": "ring", "reason": "the rear touches the lever"}])
    assert rig(the_lens=excluded).grade == "danger"
    assert only_route(world_of([ring(), ring("other")], the_lens=excluded), via="other").grade == "manual"


# What mates, what touches


def threads(front_pitch: float, rear_pitch: float, front_diameter: float = 46.0) -> Route:
    def screw(pitch: float, diameter: float, name: str) -> dict[str, Any]:
        return {
            "coupling": "screw",
            "interface": name,
            "thread": {"diameter_mm": diameter, "pitch_mm": pitch},
        }

    world = world_of(
        lens_register_mm=45.0,
        body_register_mm=45.0,
        front=screw(front_pitch, front_diameter, f"thread-{front_diameter}-{front_pitch}"),
        rear=screw(rear_pitch, 46.0, f"thread-46.0-{rear_pitch}"),
    )
    return only_route(world, via="")


def test_same_diameter_other_pitch_binds() -> None:
    assert threads(1.1, 1.1).grade == "native"
    bound = threads(0.8, 1.1)
    assert bound.grade == "danger"
    assert "Do not force" in bound.findings[0].text


def test_another_diameter_does_not_mate() -> None:
    route = threads(1.1, 1.1, front_diameter=42.5)
    assert route.grade == "none"
    assert "does_not_mate" in codes(route)


# The vertex stands 45 − protrusion before the sensor and must clear 6.00 by 0.50.
@pytest.mark.parametrize(("protrusion", "hits"), [(38.5, False), (38.51, True)])
def test_the_rear_clears_by_half_a_millimetre(protrusion: float, hits: bool) -> None:
    world = world_of([ring()], the_lens=lens(rear_protrusion_mm=protrusion), the_body=body(obstruction_mm=6.0))
    route = only_route(world)
    assert ("rear_collides" in codes(route)) is hits
    assert (route.grade == "danger") is hits


def test_a_rear_barrel_must_pass_the_bore_that_it_reaches() -> None:
    def route(protrusion: float, diameter: float) -> Route:
        the_lens = lens(rear_protrusion_mm=protrusion, rear_diameter_mm=diameter)
        return only_route(world_of([ring(bore_mm=40.0)], the_lens=the_lens, rear={"throat_mm": 30.0}))

    assert "rear_too_wide" not in codes(route(5.0, 40.0))
    assert "rear_too_wide" in codes(route(5.0, 40.01))
    # 35 mm wide passes the ring; the throat of 30 mm begins only 25 mm behind the seat.
    assert "rear_too_wide" not in codes(route(25.0, 35.0))
    assert "rear_too_wide" in codes(route(25.1, 35.0))


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

GLASS: dict[str, Any] = {"register_in_mm": 45.0, "register_out_mm": 20.0}


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
    short = rig(15.0, the_lens=unknown)
    assert "focus_travel_unknown" in codes(short)
    assert short.sentence.startswith("It may not focus at all")


def test_inner_focusing_asks_for_the_magnification() -> None:
    # 0.15 m is 3 focal lengths: no thin lens gets there.
    assert "closest_focus_needs_magnification" in codes(rig(the_lens=lens(min_focus_m=0.15)))
    stated = rig(the_lens=lens(min_focus_m=0.15, max_magnification=0.5))
    assert "closest_focus_needs_magnification" not in codes(stated)
    assert stated.wide.focus.max_magnification == pytest.approx(0.5)


def test_a_lens_without_focusing_needs_something_that_moves_it() -> None:
    fixed = lens(focus="none", min_focus_m=None)
    assert rig(the_lens=fixed).grade == "none"
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


# Routes and their order


def ranked(world: World, *, everything: bool = True, **choices: Any) -> list[tuple[str, ...]]:
    """Adapters of the routes of one piece at most, best first; bare is 25 mm too near in these worlds, and left out."""
    practice = Practice(pieces="1", **choices)
    return [r.adapters for r in match(world, "lens", "body", practice, everything=everything).routes if r.adapters]


def test_the_best_comes_first_and_retired_pieces_not_at_all() -> None:
    world = world_of(
        [
            ring("long", 25.2),
            ring("dear", price=90.0, mass_g=1.0),
            ring("cheap", price=20.0, mass_g=2.0),
            ring("mine", owned=1, price=50.0, mass_g=3.0),
            ring("gone", retired=True),
        ]
    )
    assert ranked(world) == [("mine",), ("cheap",), ("dear",), ("long",)]


def test_pieces_that_differ_in_name_and_price_alone_are_one_route() -> None:
    world = world_of([ring("dear", price=90.0), ring("cheap", price=20.0), ring("mine", owned=1, price=50.0)])
    report = match(world, "lens", "body", Practice(pieces="1"))
    (route,) = [r for r in report.routes if r.adapters]
    assert route.interchangeable == (("mine", "cheap", "dear"),)
    assert (route.adapters, route.stands_for) == (("mine",), 3)
    # Three rings and bare, which the ring beats.
    assert (report.total, report.folded) == (4, 1)


def test_routes_beaten_in_everything_are_folded_and_counted() -> None:
    world = world_of([ring("good", price=20.0), ring("dearer", price=30.0, mass_g=1.0), ring("long", 25.2, price=10.0)])
    assert ranked(world, everything=False) == [("good",), ("long",)]
    report = match(world, "lens", "body", Practice(pieces="1"))
    assert (report.total, report.folded) == (4, 2)


def test_a_borrowed_ring_counts_as_an_owned_one() -> None:
    """It need not be bought, so it costs nothing and comes before what does."""
    found = {}
    for how in ("owned", "borrowed"):
        world = world_of([ring("here", price=50.0, **{how: 1}), ring("shop", price=5.0, play_mm=0.01)])
        route = only_route(world, via="here")
        found[how] = (ranked(world), route.owned, route.price, route.gives_up)
    assert found["borrowed"] == found["owned"]
    assert found["borrowed"][1:3] == (True, 0)


def test_an_unsure_owned_ring_comes_after_a_sure_one() -> None:
    world = world_of([ring("mine", owned=1, tolerance_mm=0.2), ring("fine", tolerance_mm=0.01, price=80.0)])
    assert ranked(world) == [("fine",), ("mine",)]
    assert "infinity_unsure" in codes(only_route(world, via="mine"))


def test_danger_is_never_folded_away() -> None:
    """A tube keeps the collar off the tongue; that bare it breaks stays in sight, and is said."""
    tube = ring("tube", 10.0, lens_mount="front", body_mount="front")
    world = world_of(
        [tube],
        the_lens=lens(generation="old"),
        the_body=body(mount="front", generation="new"),
        front={**PARTS, "interface": "own"},
    )
    report = match(world, "lens", "body", Practice(pieces="1"))
    assert [(r.adapters, r.grade) for r in report.routes] == [(("tube",), "close_up"), ((), "danger")]
    assert report.warnings == ("Without an adapter: Do not mount this. The collar breaks the tongue.",)


# Practice


def test_plain_metal_by_choice_comes_first() -> None:
    everything = {"autofocus": "full", "aperture": "full", "identity": "full", "focal_length": "full"}
    speaking: dict[str, Any] = {
        "link": "translate",
        "from_protocol": "speech",
        "to_protocol": "speech",
        "carries": everything,
    }
    motor = lens(**{**ELECTRONIC, "focus": "motor"})
    world = world_of(
        [ring("speaks", **speaking), ring("metal")], the_lens=motor, the_body=body(protocols=["speech"]), protocols=LINK
    )
    assert ranked(world)[0] == ("speaks",)
    assert ranked(world, electronics="plain")[0] == ("metal",)
    # What is preferred by choice is not folded for its lower grade.
    assert ranked(world, everything=False) == [("speaks",)]
    assert ranked(world, everything=False, electronics="plain") == [("metal",), ("speaks",)]


def test_correcting_glass_avoided_comes_last_and_says_so() -> None:
    glass = {"optics": "correcting", "magnification": 1.2, **GLASS}
    world = world_of([ring("glass", **glass), ring("long", 26.0)])
    assert ranked(world) == [("glass",), ("long",)]
    # Close-up still works, and correcting glass is avoided.
    assert ranked(world, glass="avoid") == [("long",), ("glass",)]
    assert "glass_avoided" in codes(only_route(world, Practice(glass="avoid"), via="glass"))
    assert "glass_avoided" not in codes(only_route(world, via="glass"))


def test_for_close_up_the_ring_too_long_comes_first() -> None:
    world = world_of([ring("exact"), ring("long", 40.0)])
    assert ranked(world) == [("exact",), ("long",)]
    assert ranked(world, purpose="close_up") == [("long",), ("exact",)]


def test_the_most_precise_comes_first_by_choice() -> None:
    world = world_of([ring("cheap", price=10.0, play_mm=0.1), ring("fine", price=90.0, play_mm=0.0)])
    assert ranked(world) == [("cheap",), ("fine",)]
    assert ranked(world, rings="precise") == [("fine",), ("cheap",)]


def steps(route: Route) -> str:
    return " ".join(step.text for step in details(route).steps)


def test_practice_shows_in_the_steps() -> None:
    stabilised = body(stabiliser={"travel_mm": 3.0}, asks_focal_length=True, focus_aids=["peaking"])
    world = world_of([ring()], the_body=stabilised)
    assert "Enter 50 mm for the stabiliser" in steps(only_route(world))
    assert "stabiliser" not in steps(only_route(world, Practice(entry="skip")))
    assert "Focus wide open, then stop down" in steps(only_route(world))
    assert "Set the taking aperture first" in steps(only_route(world, Practice(focusing="taking_aperture")))


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
