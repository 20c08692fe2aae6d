"""Which route comes first, which are folded away, and what a practice changes in it."""

from __future__ import annotations

from typing import Any

from tests.rigs import ELECTRONIC, GLASS, LINK, PARTS, codes, only_route
from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match

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
    """A tube keeps the rack off the probe; that bare it breaks stays in sight, and is said."""
    tube = ring("tube", 10.0, lens_mount="front", body_mount="front")
    world = world_of(
        [tube],
        the_lens=lens(generation="old"),
        the_body=body(mount="front", generation="new"),
        front={**PARTS, "interface": "own"},
    )
    report = match(world, "lens", "body", Practice(pieces="1"))
    assert [(r.adapters, r.grade) for r in report.routes] == [(("tube",), "close_up"), ((), "danger")]
    assert report.warnings == ("Without an adapter: Do not mount this. The rack shears off the probe.",)


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
    # Somebody may want plain metal: it is not folded for its lower grade.
    assert ranked(world, everything=False) == [("speaks",), ("metal",)]
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


def test_what_holds_the_rig_is_told_with_what_the_route_is_for(sample: World) -> None:
    """One ring for the same lens has a foot of its own, the other has none."""
    with_foot, without = (
        match(sample, "mrw-24-70", "o7", via=[ring_]).routes[0].purpose
        for ring_ in ("mrw-ost-active", "mrw-ost-variable")
    )
    assert sample.adapters["mrw-ost-active"].tripod_foot
    assert not sample.adapters["mrw-ost-variable"].tripod_foot
    assert "tripod foot" in with_foot
    assert "tripod foot" not in without
