"""Lenses without a mount: every build is a rig, judged like any other, and opens in every room."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.bench.builds import Build
from tropeion.core.bench.mountless import MountlessReport, mountless_of
from tropeion.core.gear.made import spacer_id
from tropeion.core.gear.references import check_references
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.routes.match import match

THREAD = {"diameter_mm": 52.0, "pitch_mm": 0.75}


def world(rings: list[dict[str, Any]], more_body: dict[str, Any] | None = None, **more: object) -> World:
    """A barrel of 42 mm that is sharp at infinity 70 mm before the sensor; a body whose seat is 20 mm before it."""
    bare = lens(
        **{
            "mount": None,
            "focal_length_mm": [90, 90],
            "f_number": [2.5, 2.5],
            "focus": "none",
            "aperture": "none",
            "barrel_mm": 42.0,
            "length_mm": 80.0,
            "image_circle_mm": 60.0,
            "measured_register_mm": 70.0,
            "measured_tolerance_mm": 0.1,
            **more,
        }
    )
    mounts = [
        mount("tube", 60.0, interface="tube", coupling="screw", thread=THREAD, throat_mm=46.0),
        mount("rear", 20.0, interface="bayonet", throat_mm=46.0),
    ]
    document = {
        "mounts": mounts,
        "bodies": [body(**(more_body or {}))],
        "lenses": [bare],
        "adapters": [ring(**{"lens_mount": "tube", "body_mount": "rear", "bore_mm": 44.0, **one}) for one in rings],
    }
    return compile_world(gear_of(document))


def built(one: World, **more: object) -> MountlessReport:
    return mountless_of(one, one.gear.lenses[0], one.bodies["body"], **more)  # type: ignore[arg-type]


def rig_of(build: Build) -> Rig:
    return Rig.of(build.lens, "body", build.adapters)


HELICOID: dict[str, Any] = {"id": "helicoid", "length_mm": 40.0, "helicoid_mm": 25.0}


def test_spacers_bring_infinity_to_the_closed_helicoid_and_near_is_with_them() -> None:
    [build] = built(world([HELICOID]), near_m=0.6).builds
    # 50 mm to fill, less 0.3 past infinity, less 40.
    assert build.rest_mm == pytest.approx(9.7)
    # Opened by 25 it stands 24.7 beyond infinity.
    assert build.near_m == pytest.approx(object_distance_mm(90, 24.7) / 1000)
    assert (build.near_met, build.far_m) == (True, None)
    assert build.magnification == pytest.approx(24.7 / 90)
    assert not built(world([HELICOID]), near_m=0.5).builds[0].near_met


def test_what_a_build_is_told_to_be_match_says_of_its_rig() -> None:
    one = world([HELICOID, {"id": "plain", "length_mm": 30.0}])
    for build in built(one).builds:
        [route] = match(one, build.lens, "body", via=list(build.adapters)).routes
        assert (build.grade, build.findings) == (route.grade, tuple(found.code for found in route.findings))
        assert route.register_error_mm == pytest.approx(-0.3)


def test_the_grade_stands_before_the_pieces() -> None:
    """One helicoid in two pieces focuses; one plain ring does not."""
    one = world([{"id": "plain", "length_mm": 40.0}, HELICOID])
    assert built(one).builds[0].pieces == ("helicoid",)


@pytest.mark.parametrize(
    ("more", "code", "grade"),
    [
        # 70 − 60 mm: within the 20 mm of the body, whose inside is free for 5 mm alone.
        ({"rear_protrusion_mm": 60.0, "rear_diameter_mm": 30.0}, "rear_collides", "danger"),
        ({"rear_protrusion_mm": 40.0, "rear_diameter_mm": 45.0}, "rear_too_wide", "none"),
    ],
)
def test_a_rear_that_would_touch_something_is_seen(more: dict[str, object], code: str, grade: str) -> None:
    one = world([HELICOID], {"obstruction_mm": 15.0}, **more)
    [build] = built(one).builds
    assert code in build.findings
    assert (build.grade, build.warnings != ()) == (grade, True)


def test_a_rear_that_nobody_measured_is_not_taken_to_clear() -> None:
    one = world([HELICOID], {"obstruction_mm": 15.0})
    [build] = built(one).builds
    assert "clearance_unknown" in build.findings
    assert any("Look before mounting" in text for text in build.warnings)


def test_what_does_not_go_in_comes_behind_what_is_safe_whatever_it_costs() -> None:
    narrow = {**HELICOID, "id": "narrow", "bore_mm": 40.0, "owned": 1}
    wide = {**HELICOID, "id": "wide", "bore_mm": 44.0, "price": 90.0}
    one = world([narrow, wide], rear_protrusion_mm=45.0, rear_diameter_mm=41.0)
    assert [build.pieces for build in built(one).builds] == [("wide",), ("narrow",)]


def test_a_barrel_whose_shoulder_belongs_inside_the_mount_is_held_forward() -> None:
    rings = [{"id": "plain", "length_mm": 10.0}, {"id": "tight", "length_mm": 12.0, "bore_mm": 41.0}]
    one = world(rings, measured_register_mm=15.0, rear_protrusion_mm=2.0)
    found = built(one)
    assert found.fill_mm == -5.0
    # The tight one lets no barrel of 42 mm in.
    [build] = found.builds
    assert (build.pieces, build.rest_mm) == (("plain",), 0.0)
    # It stands 10 mm before the seat and belongs 5.3 mm behind it.
    assert build.forward_mm == pytest.approx(15.3)
    held = one.lens(build.lens)
    assert held.measured_register_mm == pytest.approx(30.3)
    assert [held.rear_protrusion_mm, held.length_mm, held.rear_diameter_mm] == pytest.approx([17.3, 64.7, 42.0])
    assert "forward of its shoulder" in build.order[0]
    # A barrel too short to be held there, and one with a thread, which has one place.
    assert built(world(rings, measured_register_mm=15.0, length_mm=12.0)).builds == ()
    assert built(world(rings, measured_register_mm=15.0, rear_thread=THREAD)).builds == ()


def test_a_build_can_be_kept_with_what_is_made_for_it() -> None:
    one = world([HELICOID])
    [build] = built(one).builds
    assert build.adapters == (spacer_id("tube", 9.7), "helicoid")
    rig = rig_of(build)
    # The items that it is made of are those of the collection.
    assert rig.items == (("lenses", "lens"), ("bodies", "body"), ("adapters", "helicoid"))
    kept = {"id": "kept", "name": "Kept", "lens": rig.lens, "body": rig.body, "adapters": list(rig.adapters)}
    gear = one.gear.model_copy(update={"rigs": gear_of({**one.gear.model_dump(mode="json"), "rigs": [kept]}).rigs})
    assert check_references(gear) == ()


@pytest.mark.parametrize(
    "id_", ["spacer..gone..9.7", "spacer..tube..0", "spacer..tube..nan", "spacer..tube..far", "spacer..tube", "spacer"]
)
def test_spacers_of_no_length_or_for_no_mount_are_unknown(id_: str) -> None:
    one = world([HELICOID])
    assert id_ not in one.adapters
    with pytest.raises(UnknownIdError):
        one.adapter(id_)


@pytest.mark.parametrize(
    "id_", ["mount..lens..rear", "mount..lens..gone", "mount..lens..tube..0", "mount..lens..tube..x"]
)
def test_a_lens_is_held_only_where_it_can_be(id_: str) -> None:
    one = world([HELICOID])
    with pytest.raises(UnknownIdError):
        one.lens(id_)
    assert one.lens("mount..lens..tube").measured_register_mm == 70.0


def test_where_every_way_breaks_something_it_says_so() -> None:
    one = world([HELICOID], {"obstruction_mm": 15.0}, rear_protrusion_mm=60.0, rear_diameter_mm=30.0)
    found = built(one)
    assert [build.danger for build in found.builds] == [True]
    assert "every way would touch" in found.says
