"""Where a rig balances and what its joints bear: worked cases, hand sums, and what must hold however it is held."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, lens, ring, world_of
from tropeion.core.gear.world import World
from tropeion.core.joints.balance import Balance, Support, balance_of, masses_of, supports_of
from tropeion.core.joints.mechanics import loads_of
from tropeion.core.optics.stack import Stack, stack_of
from tropeion.core.working import PLAIN

CASES = json.loads((Path(__file__).parent / "vectors-2.json").read_text(encoding="utf-8"))["cases"]
HELD = {case["name"]: case for case in CASES if "parts_g_mm" in case["given"]}
G = 9.80665e-6


def stack(world: World, *via: str) -> Stack:
    return stack_of(world, world.lens("lens"), tuple(world.adapter(id_) for id_ in via), world.body("body"))


def held(stack: Stack, by: Support | None = None, second: Support | None = None) -> Balance:
    return balance_of(stack, masses_of(stack), by or supports_of(stack)[0], second, PLAIN)


def case_stack(given: dict[str, Any], **of_the_lens: Any) -> Stack:
    """The worked cases as a rig: body, ring and lens with their weights at those places."""
    (of_body, body_at), (of_ring, _), (of_lens, lens_at) = given["parts_g_mm"]
    rear, seat = given["joints_mm"]
    world = world_of(
        [ring(length_mm=seat - rear, mass_g=of_ring)],
        lens_register_mm=seat,
        body_register_mm=rear,
        the_lens=lens(mass_g=of_lens, centre_of_mass_mm=lens_at - seat, **of_the_lens),
        the_body=body(mass_g=of_body, centre_of_mass_mm=body_at),
    )
    return stack(world, "ring")


def test_held_by_the_bodys_screw() -> None:
    case = HELD["held by the body's screw"]
    found = held(case_stack(case["given"]))
    expect = case["expect"]
    # The ring of the case weighs at 35 mm, and a ring is taken to weigh in its middle, at 35.3 mm.
    shift = 160 * 0.3
    assert found.mass_g == expect["mass_g"]
    assert found.centre_of_mass_mm == pytest.approx(expect["centre_of_mass_mm"] + shift / 1820, abs=1e-6)
    assert found.tipping_nm == pytest.approx(expect["tipping_nm"] + G * shift, abs=1e-6)
    front, rear = found.joints
    assert rear.moment_nm == pytest.approx(expect["joints_nm"][0] + G * shift, abs=1e-6)
    assert front.moment_nm == pytest.approx(expect["joints_nm"][1], abs=1e-6)


def test_held_by_a_foot() -> None:
    case = HELD["held by a foot at 60 mm"]
    seat = case["given"]["joints_mm"][1]
    found = held(case_stack(case["given"], tripod_foot=True, foot_mm=case["given"]["foot_mm"] - seat))
    assert found.held_by.at_mm == pytest.approx(60)
    front, rear = found.joints
    # What hangs behind the foot: the body alone at the rear joint, the ring too at the front one.
    assert rear.moment_nm == pytest.approx(case["expect"]["joints_nm"][0], abs=1e-6)
    assert front.moment_nm == pytest.approx(case["expect"]["joints_nm"][1] - G * 160 * 0.3, abs=1e-6)


def test_by_the_screw_the_joints_bear_what_the_light_path_says() -> None:
    world = world_of([ring(mass_g=150)], the_lens=lens(mass_g=900, centre_of_mass_mm=70), the_body=body(mass_g=600))
    one = stack(world, "ring")
    assert [joint.moment_nm for joint in held(one).joints] == pytest.approx(
        [load.moment_nm for load in loads_of(one, PLAIN)]
    )


@given(st.lists(st.floats(5, 60), min_size=0, max_size=3), st.floats(50, 4000), st.floats(0, 200), st.floats(-30, 200))
def test_what_a_support_carries_in_front_and_behind_is_the_whole(
    lengths: list[float], weight: float, centre: float, foot: float
) -> None:
    rings = [ring(f"r{n}", length, mass_g=100.0) for n, length in enumerate(lengths)]
    the_lens = lens(mass_g=weight, centre_of_mass_mm=centre, tripod_foot=True, foot_mm=max(foot, 0))
    one = stack(world_of(rings, the_lens=the_lens, the_body=body(mass_g=700.0)), *(f"r{n}" for n in range(len(rings))))
    on_foot, on_screw = supports_of(one)
    by_foot, by_screw = held(one, on_foot), held(one, on_screw)
    assert by_foot.centre_of_mass_mm == by_screw.centre_of_mass_mm
    # Seen from any joint, what is in front less what is behind is the whole about that joint.
    assert by_foot.mass_g is not None
    assert by_foot.centre_of_mass_mm is not None
    for behind, before in zip(by_foot.joints, by_screw.joints, strict=True):
        assert behind.moment_nm is not None
        assert before.moment_nm is not None
        whole = G * by_foot.mass_g * (by_foot.centre_of_mass_mm - before.at_mm)
        assert before.moment_nm - behind.moment_nm == pytest.approx(whole, abs=1e-6)
    # Held where it balances, nothing tips.
    middle = Support("body", on_screw.order, by_screw.centre_of_mass_mm or 0.0)
    assert held(one, middle).tipping_nm == pytest.approx(0, abs=1e-9)
    # A second support under the body relieves every joint between the two.
    assert all(joint.supported and joint.moment_nm == 0 for joint in held(one, on_foot, on_screw).joints)


def test_a_foot_on_a_ring_parts_the_joints() -> None:
    world = world_of(
        [ring("tube", 10.0, mass_g=50), ring("footed", 15.0, mass_g=120, tripod_foot=True, foot_mm=5.0)],
        the_lens=lens(mass_g=800, centre_of_mass_mm=40),
        the_body=body(mass_g=600, centre_of_mass_mm=-5),
    )
    one = stack(world, "tube", "footed")
    found = held(one)
    assert (found.held_by.link, found.held_by.at_mm) == ("footed", 25)
    front, middle, rear = (joint.moment_nm for joint in found.joints)
    # Lens seat at 45, tube's rear at 35, the ring's rear at 20 mm.
    assert front == pytest.approx(G * 800 * 40)
    assert middle == pytest.approx(G * (800 * 50 + 50 * 5))
    assert rear == pytest.approx(G * 600 * 25)


def test_what_nobody_weighed_is_named_and_weighs_not_nothing() -> None:
    world = world_of([ring(mass_g=None)], the_lens=lens(mass_g=400), the_body=body(mass_g=600))
    found = held(stack(world, "ring"))
    assert (found.mass_g, found.centre_of_mass_mm, found.tipping_nm) == (None, None, None)
    assert found.unknown == ("ring",)
    front, rear = found.joints
    # The lens alone hangs on the front joint: that is known.
    assert front.moment_nm is not None
    assert rear.moment_nm is None


def test_what_nobody_measured_is_assumed_and_said() -> None:
    the_lens = lens(mass_g=400, length_mm=60, tripod_foot=True)
    world = world_of([ring(mass_g=50)], the_lens=the_lens, the_body=body(mass_g=600, depth_mm=60))
    found = held(stack(world, "ring"))
    assert set(found.assumed) == {"lens", "body"}
    places = {one.link: one.at_mm for one in found.masses}
    # Half of 60 mm before the seat at 45; half of 60 mm behind the seat at 20.
    assert places == {"lens": 75, "ring": 32.5, "body": -10}
    assert found.held_by.assumed
