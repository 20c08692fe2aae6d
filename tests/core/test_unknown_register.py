"""A mount whose flange focal distance nobody knows: no number rests on it, and nothing gets better for it."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_routes import assert_bounds_hold, worlds
from tests.thorough import examples
from tests.worlds import body, details, gear_of, lens, mount, ring, unknowing, world_of
from tropeion.core.answers.distance_range import distance_range
from tropeion.core.answers.grid import whole_kit
from tropeion.core.answers.systems import systems_report
from tropeion.core.becomes.closer import closer_of
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.findings import rank
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownRegisterError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match, show_working
from tropeion.core.routes.unlisted_ways import unlisted_for

PRACTICE = Practice()


@pytest.mark.parametrize("ends", [("front",), ("rear",), ("front", "rear")])
def test_what_rests_on_it_is_not_told(ends: tuple[str, ...]) -> None:
    world = unknowing(world_of([ring()], front={"interface": "other"}), *ends)
    report = match(world, "lens", "body", PRACTICE)
    [route] = report.routes
    assert report.gap_mm is None
    assert report.unlisted is None
    assert (route.register_error_mm, route.lens_side_error_mm) == (None, None)
    infinity = route.wide.infinity
    assert (infinity.reached, infinity.probability, infinity.from_f_number, infinity.margin_mm) == (None,) * 4
    assert (infinity.short_end_mm, infinity.long_end_mm, infinity.stops) == (None, None, ())
    assert route.wide.focus.state == "unknown"
    assert (route.wide.focus.near_mm, route.wide.focus.far_mm) == (None, None)
    assert (route.grade, route.surely) == ("partial", False)
    names = {"front": "lens.mount.register_mm", "rear": "body.mount.register_mm"}
    assert {names[one] for one in ends} == {path for path in route.assumed if path.endswith("register_mm")}
    assert any("cannot be told" in step.text for step in details(route).steps)
    assert "register_error_mm" not in {step.quantity for step in show_working(world, Rig.of("lens", "body", ("ring",)))}


def test_how_far_a_body_is_free_says_nothing_of_a_seat_that_nobody_knows() -> None:
    deep = lens(rear_protrusion_mm=42.0)
    known = world_of([ring()], front={"interface": "other"}, the_lens=deep, the_body=body(obstruction_mm=6.0))
    assert match(known, "lens", "body", PRACTICE).routes[0].grade == "danger"
    route = match(unknowing(known, "rear"), "lens", "body", PRACTICE).routes[0]
    assert "clearance_unknown" in {one.code for one in route.findings}


@pytest.mark.parametrize("length", [0.0, 12.0])
def test_a_lens_at_home_needs_no_number(length: float) -> None:
    """Whatever the distance is, lens and body have the same; and a tube adds what it adds."""
    tube = ring("tube", length, lens_mount="front", body_mount="front")
    known = world_of([tube], the_body=body(mount="front"))
    for via in ([], ["tube"]):
        expected = match(known, "lens", "body", PRACTICE, via).routes[0]
        found = match(unknowing(known, "front"), "lens", "body", PRACTICE, via).routes[0]
        assert (found.grade, found.register_error_mm) == (expected.grade, expected.register_error_mm)
        assert found.wide.focus.near_mm == expected.wide.focus.near_mm
    blind = unknowing(known, "front")
    assert match(blind, "lens", "body", PRACTICE).gap_mm == 0
    assert distance_range(blind, blind.lens("lens"), blind.body("body"), PRACTICE) is None


def test_of_two_of_one_mount_a_measured_one_makes_the_other_wanted() -> None:
    world = unknowing(world_of([], the_lens=lens(measured_register_mm=45.0), the_body=body(mount="front")), "front")
    found = distance_range(world, world.lens("lens"), world.body("body"), PRACTICE)
    assert found is not None
    assert found.mounts == ("Front",)
    assert match(world, "lens", "body", PRACTICE, []).routes[0].register_error_mm is None


def test_a_measured_register_outranks_one_that_nobody_knows() -> None:
    world = world_of([ring()], the_lens=lens(measured_register_mm=45.02))
    found = match(unknowing(world, "front"), "lens", "body", PRACTICE).routes[0]
    assert found.register_error_mm == pytest.approx(-0.02)
    assert found.surely


@settings(max_examples=examples(25))
@given(worlds, st.sampled_from([("front",), ("rear",), ("front", "rear")]), st.sampled_from(["nominal", "cautious"]))
def test_not_knowing_is_never_better_and_bounds_hold(world: World, ends: tuple[str, ...], trust: Any) -> None:
    practice = Practice(trust=trust, pieces="2")
    blind = unknowing(world, *(one for one in ends if one in world.mounts))
    assert_bounds_hold(blind, practice)
    for route in match(blind, "lens", "body", practice).routes:
        if route.register_error_mm is None:
            assert rank(route.grade) <= rank("partial")
    [cell] = whole_kit(blind, practice).cells
    best = match(blind, "lens", "body", practice).routes
    assert cell.market_grade == (best[0].grade if best else None)


def test_what_cannot_be_asked_without_it_says_so() -> None:
    world = unknowing(world_of([ring()]), "front")
    with pytest.raises(UnknownRegisterError, match="Front"):
        rig_on_bench(world, Rig.of("lens", "body", ("ring",)))
    lens_, body_ = world.lens("lens"), world.body("body")
    assert unlisted_for(world, lens_, body_, PRACTICE) is None
    [here] = closer_of(world, lens_, body_, (world.adapter("ring"),), PRACTICE).rows
    assert (here.extension_mm, here.near_mm) == (None, None)
    report = systems_report(world, PRACTICE)
    assert report.systems[-1].id == "front"
    assert {one.room_mm for one in report.crossings if one.lens_mount != one.body_mount} == {None}


def two(name: str, **more: Any) -> World:
    """A lens of a mount whose distance nobody knows, a body, and two systems that it may be one of."""
    return compile_world(
        gear_of(
            {
                "mounts": [
                    {**mount("odd", 1.0), "interface": "odd", "name": name, **more, "register_mm": None},
                    mount("long", 46.0, interface="long", name="Wick", throat_mm=44.0, lens_kind="reflex"),
                    mount("short", 18.0, interface="short", name="Wick Mini", lens_kind="mirrorless"),
                    mount("rear", 20.0, interface="rear", name="Ostler"),
                ],
                "bodies": [body()],
                "lenses": [lens(mount="odd")],
            }
        )
    )


def test_the_answer_is_a_range_over_the_systems_that_its_name_allows() -> None:
    world = two("Wick Old")
    found = distance_range(world, world.lens("lens"), world.body("body"), PRACTICE)
    assert found is not None
    assert (found.least_mm, found.most_mm) == (18.0, 46.0)
    short, long = found.may_be
    assert (short.name, short.grade, short.why) == ("Wick Mini", None, "named alike")
    assert (long.name, long.room_mm, long.ring_mm) == ("Wick", 26.0, 26.0)
    assert long.grade is not None
    # What a system lends is what a collection that knows it comes to.
    knowing = compile_world(
        world.gear.model_copy(
            update={
                "mounts": tuple(
                    one.model_copy(update={"register_mm": 46.0}) if one.id == "odd" else one
                    for one in world.gear.mounts
                )
            }
        )
    )
    unlisted = match(knowing, "lens", "body", PRACTICE).unlisted
    assert unlisted is not None
    assert long.grade == unlisted.grade
    assert "20.00 mm" in found.decides
    assert len(found.find_out) == 4


def test_the_length_told_is_that_of_the_ring_and_not_of_the_glass_before_it() -> None:
    """The glass delivers 60 mm behind its rear: 15 mm of ring are left to a body of 45."""
    ends = {"lens_mount": "front", "body_mount": "middle"}
    glass = {"optics": "correcting", "magnification": 1.25, "register_in_mm": 40.0, "register_out_mm": 60.0}
    mounts = [
        mount("front", 40.0, interface="f", name="Wick"),
        mount("twin", 40.0, interface="t", name="Wick twin"),
        mount("middle", 25.0, interface="m"),
        mount("rear", 45.0, interface="r"),
    ]
    world = compile_world(
        gear_of(
            {
                "mounts": [{**one, "name": one.get("name", one["id"])} for one in mounts],
                "bodies": [body()],
                "lenses": [lens()],
                "adapters": [ring("glass", 12.0, **ends, **glass, owned=1)],
            }
        )
    )
    known = match(world, "lens", "body", PRACTICE).unlisted
    assert known is not None
    assert known.adapters == ("glass", "ring..middle..rear..15")
    blind = unknowing(world, "front")
    found = distance_range(blind, blind.lens("lens"), blind.body("body"), PRACTICE)
    assert found is not None
    assert [(one.name, one.ring_mm, one.grade) for one in found.may_be] == [("Wick twin", 15.0, known.grade)]


def test_with_no_such_system_no_number_is_told() -> None:
    world = two("Mirl")
    found = distance_range(world, world.lens("lens"), world.body("body"), PRACTICE)
    assert found is not None
    assert (found.least_mm, found.most_mm, found.may_be) == (None, None, ())
    assert not any(letter.isdigit() for letter in found.sentence)


@pytest.mark.parametrize(
    ("more", "why"), [({"throat_mm": 44.3}, "as wide inside"), ({"interface": "long"}, "its parts go together with it")]
)
def test_parts_speak_too(more: dict[str, Any], why: str) -> None:
    world = two("Mirl", **more)
    found = distance_range(world, world.lens("lens"), world.body("body"), PRACTICE)
    assert found is not None
    assert [(one.name, one.why) for one in found.may_be] == [("Wick", why)]


def test_where_both_are_known_there_is_no_range() -> None:
    world = world_of([ring()])
    assert distance_range(world, world.lens("lens"), world.body("body"), PRACTICE) is None
