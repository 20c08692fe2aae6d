"""The sample world: each trap is there for a reason."""

from __future__ import annotations

from typing import get_args

import pytest

from tropeion.core.gear.mounts import Effect
from tropeion.core.gear.world import World
from tropeion.core.joints.key import identify
from tropeion.core.joints.key_report import Answer
from tropeion.core.optics.register import room_mm
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match


def route(world: World, lens: str, body: str, via: str) -> Route:
    (found,) = match(world, lens, body, via=[via] if via else []).routes
    return found


def test_its_size(sample: World) -> None:
    assert (len(sample.mounts), len(sample.bodies), len(sample.lenses), len(sample.adapters)) == (14, 11, 35, 62)


def test_the_registers_are_those_of_the_scenario(sample: World) -> None:
    registers = {id_: mount.register_mm for id_, mount in sample.mounts.items()}
    assert registers == {
        "ostrel": 22.40,
        "pellam": 15.70,
        "skarn": 22.40,
        "varde": 29.60,
        "kelvane": 48.20,
        "brannoch": 39.40,
        "marwick": 42.80,
        "tolmer": 47.30,
        "tolmer-pr": 31.20,
        "tube-53": 58.30,
        "tube-53-fine": 58.30,
        "lisken": 30.30,
        "graumont": 68.50,
        "quillon": 55.40,
    }


def test_a_projection_ring_takes_a_reflex_lens_that_then_never_focuses(sample: World) -> None:
    trap = route(sample, "tol-82", "o7", "tpr-ost-plain")
    assert trap.grade == "none"
    assert trap.register_error_mm == -16.1


def test_a_reflex_ring_makes_a_projection_lens_close_up_only(sample: World) -> None:
    assert route(sample, "tpr-36", "o7", "tol-ost-pin").grade == "close_up"


def test_the_long_rack_shears_off_the_fixed_probe(sample: World) -> None:
    assert route(sample, "kel-55", "stave-3", "").grade == "danger"
    assert route(sample, "kel-45", "stave-3", "").grade == "native"


def test_every_kind_of_rule_occurs_and_is_met(sample: World) -> None:
    """By some lens of the sample on some body of it."""
    kelvane = sample.mounts["kelvane"]
    assert {rule.effect for rule in kelvane.rules} == set(get_args(Effect))
    lenses = [one.id for one in sample.lenses.values() if one.mount == "kelvane"]
    bodies = [one.id for one in sample.bodies.values() if one.mount == "kelvane"]
    met = {found.code for lens in lenses for body in bodies for found in route(sample, lens, body, "").findings}
    wanted = {"coupling_damage", "coupling_safe_after", "coupling_inspect"}
    assert met >= wanted | {"no_metering", "stop_down_metering", "meters"}
    # And every conversion.
    assert {one.conversion for one in sample.lenses.values()} == {
        "none", "factory", "third_party", "home", "transplanted",
    }  # fmt: skip


def test_a_rack_cut_down_at_home_is_looked_at_first(sample: World) -> None:
    found = route(sample, "kel-28", "stave-3", "")
    assert "coupling_inspect" in {one.code for one in found.findings}
    assert found.grade != "danger"


def test_misleading_parts_exclude_no_generation(sample: World) -> None:
    told: dict[str, Answer] = {"bright-front": "no", "painted-index": "yes"}
    remaining = identify(sample, "kelvane", told).remaining
    assert min(one.probability for one in remaining if one.conversion == "none") > 0.05


def test_plain_metal_leaves_a_wire_focused_lens_without_focus(sample: World) -> None:
    report = match(sample, "mrw-92", "o7", Practice(pieces="1"), everything=True)
    assert {r.adapters[0]: r.grade for r in report.routes} == {
        "mrw-ost-active": "full",
        "mrw-ost-slow": "full",
        "mrw-ost-drawer": "full",
        "mrw-ost-variable": "full",
        "mrw-ost-plain": "none",
    }


def test_plain_metal_leaves_an_electronic_iris_where_it_was(sample: World) -> None:
    assert route(sample, "mrw-62", "o7", "mrw-ost-plain").grade == "partial"


def test_a_lens_without_a_ring_needs_one_in_the_adapter(sample: World) -> None:
    assert route(sample, "kel-28-80", "o7", "kel-ost-plain").grade == "partial"
    assert route(sample, "kel-28-80", "o7", "kel-ost-lever").grade == "manual"


def test_the_wrong_pitch_binds(sample: World) -> None:
    """Two tubes of one diameter: the coarse lens starts into the fine ring, and binds."""
    coarse, fine = sample.mounts["tube-53"].thread, sample.mounts["tube-53-fine"].thread
    assert coarse is not None
    assert fine is not None
    assert (coarse.diameter_mm, coarse.pitch_mm) == (53.0, 1.0)
    assert (fine.diameter_mm, fine.pitch_mm) == (53.0, 0.7)
    found = route(sample, "tub-400", "o7", "tub-ost-fine")
    assert found.grade == "danger"
    assert "thread_binds" in {one.code for one in found.findings}


def test_the_thread_of_one_diameter_and_two_registers_is_no_trap_of_pitch(sample: World) -> None:
    assert sample.mounts["tolmer"].thread == sample.mounts["tolmer-pr"].thread
    assert room_mm(sample.mounts["tolmer"], sample.mounts["tolmer-pr"]) == pytest.approx(16.1)


def test_a_filter_drawer_is_longer_by_what_its_glass_takes_back(sample: World) -> None:
    error_mm = route(sample, "kel-55", "o7", "kel-ost-filter").register_error_mm
    assert error_mm == pytest.approx(0, abs=0.005)


def test_correcting_glass_bridges_what_no_ring_can(sample: World) -> None:
    report = match(sample, "brn-52", "corran")
    assert report.gap_mm == -3.4
    assert (report.routes[0].adapters, report.routes[0].grade) == (("brn-mrw-glass",), "partial")


def test_every_lens_has_a_route_somewhere_and_every_adapter_serves_some_pair(sample: World) -> None:
    served: set[str] = set()
    alone: set[str] = set()
    # One piece is enough for most of them, two in a row for every one.
    for pieces in ("1", "2"):
        practice = Practice(pieces=pieces)
        for lens in [one.id for one in sample.gear.mounted if pieces == "1" or one.id in alone]:
            pairs = (match(sample, lens, body, practice, everything=True) for body in sample.bodies)
            found = [route for pair in pairs for route in pair.routes]
            alone = alone - {lens} if found else alone | {lens}
            served |= {id_ for r in found for ids in r.interchangeable for id_ in ids}
    assert not alone
    assert set(sample.adapters) == served


def test_three_pieces_join_what_nobody_makes_an_adapter_for(sample: World) -> None:
    (chain,) = match(sample, "tpr-36", "o7", via=["tpr-lsk-step", "lsk-ost-plain"]).routes
    assert (chain.register_error_mm, chain.grade) == (0.0, "manual")


def test_the_workshop_ring_is_there_once(sample: World) -> None:
    for lens in ("kel-45", "tol-82"):
        for body in sample.bodies:
            for route_ in match(sample, lens, body, everything=True).routes:
                assert route_.adapters.count("kel-tol-thin") <= 1


def test_the_wheel_without_a_clear_position_says_so(sample: World) -> None:
    codes = {f.code for f in route(sample, "mrw-62", "vigil", "mrw-skn-wheel").findings}
    assert {"filter_positions", "no_clear_position", "firmware_matters"} <= codes


def test_a_body_that_holds_the_iris_is_named(sample: World) -> None:
    (held,) = [f for f in route(sample, "mrw-62", "o7", "mrw-ost-plain").findings if f.code == "iris_hold_and_remove"]
    assert held.link == "corran"


def test_one_plate_could_take_both_systems_of_equal_register(sample: World) -> None:
    kinds = [need.kind for need in match(sample, "ost-30", "vigil").would_need]
    # By wire, and without power on another plate: a change of plate would not help, and is not told.
    assert kinds == ["close_up", "correcting_glass", "shared_plate"]
