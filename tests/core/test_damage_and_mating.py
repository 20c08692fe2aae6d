"""What breaks, what mates and what touches: a base rig, changed in one thing at a time."""

from __future__ import annotations

from typing import Any

import pytest

from tests.rigs import GLASS, PARTS, codes, only_route, rig
from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match

# Damage by coupling parts


def bare(
    lens_generation: str | None, body_generation: str | None, parts: dict[str, Any] | None = None, **more: Any
) -> Route:
    world = world_of(
        lens_register_mm=45.0,
        body_register_mm=45.0,
        the_lens=lens(generation=lens_generation, **more),
        the_body=body(mount="front", generation=body_generation),
        front=parts or PARTS,
    )
    return only_route(world, via="")


def test_a_rack_on_a_fixed_probe_is_danger() -> None:
    route = bare("old", "new")
    assert route.grade == "danger"
    assert route.sentence == "Do not mount this. The rack shears off the probe."
    assert [step.caution for step in details(route).steps] == [True]


def test_a_probe_that_is_drawn_back_keeps_the_grade_and_comes_first() -> None:
    route = bare("old", "between")
    assert route.grade == "native"
    assert codes(route) == {"coupling_safe_after"}
    assert route.sentence.startswith("First: Draw the probe back. ")
    assert details(route).steps[0].text == "Draw the probe back."
    assert details(route).steps[0].caution


def test_a_later_lens_is_at_home() -> None:
    assert bare("new", "new").grade == "native"


def test_an_unknown_generation_that_could_break_something_is_danger() -> None:
    assert codes(bare(None, "new")) == {"generation_unknown"}
    assert bare("old", None).grade == "danger"
    # Nothing can break on a body that has no probe, whatever the lens is.
    assert bare(None, "old").grade == "native"


def test_an_unknown_generation_is_judged_by_the_worst_that_it_may_be() -> None:
    # With a rack the probe has to be drawn back, and that comes first; of a lens without one nothing is known there.
    held = bare(None, "between")
    assert codes(held) == {"generation_open", "coupling_safe_after", "generations_unruled"}
    assert held.grade == "manual"
    said = next(found.text for found in held.findings if found.code == "coupling_safe_after")
    assert said.startswith("If Test lens is of generation I: The rack needs room.")
    assert details(held).steps[0].text == "Draw the probe back."
    # A rule for the other generation, and nothing is left that is not known to be safe.
    meters = {"lens_lacks": ["rack"], "body_has": ["slide"], "effect": "no_metering", "text": "It does not meter."}
    told = bare(None, "between", parts={**PARTS, "rules": [*PARTS["rules"], meters]})
    assert codes(told) == {"generation_open", "coupling_safe_after", "no_metering"}
    assert told.grade == "manual"
    first = "First: Draw the probe back. The generation of Test lens is not known; at worst: "
    assert told.sentence == f"{first}Mounts safely, without metering."
    # Where every generation comes to the same, nothing depends on it.
    same = {**PARTS, "rules": [{"body_has": ["slide"], "effect": "inspect", "text": "Look at the slide."}]}
    assert codes(bare(None, "between", parts=same)) == {"coupling_inspect"}


def test_two_generations_of_which_no_rule_speaks_are_not_at_home() -> None:
    assert codes(bare("new", "between")) == {"generations_unruled"}
    assert bare("new", "between").grade == "manual"
    # Its own generation's body, and sides on which there is nothing to meet, are no question.
    assert bare("new", "new").grade == "native"
    assert bare("new", "old").grade == "native"


def deep(rack_mm: float | None, probe_mm: float | None) -> dict[str, Any]:
    depths = {"rack": rack_mm, "probe": probe_mm}
    features = [{**one, "depth_mm": depths.get(one["id"])} for one in PARTS["features"]]
    return {**PARTS, "features": features}


# A ring clears the parts when it is longer than both together and half a millimetre; an unknown one counts 2.5 mm.
CLEARS: list[tuple[float | None, float | None, float]] = [
    (2.0, 1.5, 4.0),
    (2.0, None, 5.0),
    (None, 1.5, 4.5),
    (None, None, 5.5),
    (2.0, -0.5, 2.0),
    (-3.0, 1.0, 0.0),
]


@pytest.mark.parametrize(("rack_mm", "probe_mm", "needed_mm"), CLEARS)
def test_a_ring_clears_a_rack_only_when_it_is_long_enough(
    rack_mm: float | None, probe_mm: float | None, needed_mm: float
) -> None:
    def grade(length_mm: float) -> Route:
        world = world_of(
            [ring(body_mount="front", length_mm=length_mm)],
            lens_register_mm=45.0,
            body_register_mm=45.0 - length_mm,
            the_lens=lens(generation="old"),
            the_body=body(mount="front", generation="new", measured_register_mm=45.0 - length_mm),
            front=deep(rack_mm, probe_mm),
        )
        return only_route(world)

    assert grade(needed_mm + 0.001).grade == "manual"
    if needed_mm == 0:
        return
    held = grade(needed_mm)
    assert held.grade == "danger"
    text = next(found.text for found in held.findings if found.code == "coupling_damage")
    assert f"takes more than {needed_mm:.2f} mm" in text
    missing = [name for name, depth in (("rack", rack_mm), ("probe", probe_mm)) if depth is None]
    assert all(f"How far the {name} stands out is not known" in text for name in missing)
    assert text.count("is not known") == len(missing)


def test_a_ring_of_no_length_clears_nothing() -> None:
    world = world_of(
        [ring(body_mount="front", length_mm=0.0)],
        lens_register_mm=45.0,
        the_lens=lens(generation=None),
        the_body=body(mount="front", generation="new"),
        front=PARTS,
    )
    assert "generation_unknown" in codes(only_route(world))


def test_the_features_of_the_lens_itself_outrank_its_generation() -> None:
    assert bare("old", "new", features=[]).grade == "native"
    assert bare("new", "new", features=["rack"]).grade == "danger"


def test_the_lens_side_of_an_adapter_counts_like_a_body() -> None:
    world = world_of(
        [ring("plain"), ring("feeling", lens_side_features=["probe"])], the_lens=lens(generation="old"), front=PARTS
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
        return {"coupling": "screw", "interface": name, "thread": {"diameter_mm": diameter, "pitch_mm": pitch}}

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


# The glass begins 10.00 behind the ring's front, and the rear must clear it by 0.50.
@pytest.mark.parametrize(("protrusion", "hits"), [(9.5, False), (9.51, True)])
def test_the_rear_clears_the_glass_in_the_ring(protrusion: float, hits: bool) -> None:
    world = world_of(
        [ring(optics="correcting", magnification=1.2, front_glass_mm=10.0, **GLASS)],
        the_lens=lens(rear_protrusion_mm=protrusion),
        the_body=body(obstruction_mm=30.0),
    )
    # What stands in the body, 30 mm before the sensor, is behind the glass.
    route = only_route(world)
    assert ("rear_collides" in codes(route)) is hits
    if hits:
        (said,) = [one for one in route.findings if one.code == "rear_collides"]
        assert said.link == "ring"
