"""A changed plate or lens mount: a rig like any other in every room; what belonged to the old seat moves with it."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.fits import what_fits
from tropeion.core.answers.saved_rigs import kept_rigs
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.gear import SavedRig
from tropeion.core.gear.kit import users_of
from tropeion.core.gear.references import check_references
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match
from tropeion.core.setup.rehearse import to_rehearse
from tropeion.core.setup.setup import set_up_of

PLATE, RIM = "plate..body..front", "mount..lens..rear"


def world(
    the_lens: dict[str, Any] | None = None,
    the_body: dict[str, Any] | None = None,
    rigs: tuple[SavedRig, ...] = (),
    **more: Any,
) -> World:
    """A lens of 45 mm register and a body of 20 mm; each can be given the other's mount."""
    swaps = {"swappable_mounts": [{"mount": "front", "tools": "a 2 mm key", "minutes": 20}]}
    back = {"swappable_mounts": [{"mount": "rear"}]}
    made = world_of(
        [ring()], the_lens=lens(**back, **(the_lens or {})), the_body=body(**swaps, **(the_body or {})), **more
    )
    return compile_world(made.gear.model_copy(update={"rigs": rigs})) if rigs else made


def test_a_changed_plate_is_a_rig_in_every_room() -> None:
    made, rig = world(), Rig("lens", PLATE)
    assert match(made, "lens", PLATE).routes[0].adapters == ()
    assert set_up_of(made, rig).body == PLATE
    assert frame_of(made, rig).report.body == PLATE
    assert rig_on_bench(made, rig).rig.body.id == PLATE
    assert to_rehearse(made, rig, Practice()).steps
    assert what_fits(made, body=PLATE, practice=Practice()).fits


def test_a_changed_lens_mount_is_one_too_and_old_addresses_stay() -> None:
    made = world()
    for id_ in (RIM, "plate..lens..rear"):
        report = match(made, id_, "body")
        assert (report.lens, report.routes[0].adapters) == (RIM, ())


@pytest.mark.parametrize(
    "id_", ["plate..body..rear", "plate..nobody..front", "plate..body..nothing", "mount..body..front"]
)
def test_what_cannot_be_changed_so_is_unknown(id_: str) -> None:
    with pytest.raises(UnknownIdError):
        world().body(id_)


def test_only_what_the_collection_holds_is_listed() -> None:
    made = world()
    assert PLATE in made.bodies
    assert list(made.bodies) == ["body"]


def test_what_was_counted_from_the_old_seat_is_counted_from_the_new_one() -> None:
    stated = {"length_mm": 60.0, "centre_of_mass_mm": 30.0, "foot_mm": 40.0, "rear_protrusion_mm": 27.0}
    found = world(stated).lens(RIM)
    # The seat moves 25 mm back, from 45 to 20 mm before the picture.
    assert (found.length_mm, found.centre_of_mass_mm, found.foot_mm) == (85.0, 55.0, 65.0)
    assert found.rear_protrusion_mm == 2.0


def test_the_other_way_what_lies_behind_the_new_seat_is_not_known() -> None:
    made = world_of(
        [ring()],
        the_lens=lens(
            mount="rear", length_mm=20.0, foot_mm=30.0, rear_protrusion_mm=1.0, swappable_mounts=[{"mount": "front"}]
        ),
    )
    found = made.lens("mount..lens..front")
    assert (found.length_mm, found.foot_mm, found.rear_protrusion_mm) == (None, 5.0, 26.0)


def test_what_was_measured_at_the_old_seat_is_not_said_of_the_new_one() -> None:
    measured = {"measured_register_mm": 44.9, "measured_tolerance_mm": 0.01}
    found = world(measured, {"measured_register_mm": 20.1}).lens(RIM)
    assert (found.measured_register_mm, found.measured_tolerance_mm) == (None, None)
    assert world(None, {"measured_register_mm": 20.1}).body(PLATE).measured_register_mm is None


def test_coupling_parts_of_the_new_mount_are_unknown() -> None:
    parts = {
        "features": [
            {"id": "rack", "side": "lens", "label": "Rack"},
            {"id": "probe", "side": "body", "label": "Probe"},
        ],
        "generations": [
            {"id": "r-1", "label": "I", "lens_features": ["rack"], "body_features": ["probe"]},
            {"id": "r-2", "label": "II"},
        ],
        "rules": [
            {"lens_has": ["rack"], "body_has": ["probe"], "effect": "damage", "text": "The rack shears the probe."}
        ],
    }
    made = world({"features": []}, {"generation": "r-1"}, rear=parts)
    assert match(made, RIM, "body", via=[]).routes[0].grade == "danger"


def test_a_plate_is_not_the_bodys_own_mount() -> None:
    """Clearance is judged, and a lens that needs power is not taken to have it."""
    electronic = {"focus": "by_wire", "aperture": "electronic", "iris_at_rest": "open"}
    made = world(electronic)
    route = match(made, "lens", PLATE, via=[]).routes[0]
    assert {"clearance_unknown", "iris_without_power"} <= {one.code for one in route.findings}
    at_home = world_of([ring()], the_lens=lens(**electronic), the_body=body(mount="front"))
    assert "contacts_assumed" in {one.code for one in match(at_home, "lens", "body", via=[]).routes[0].findings}


def test_a_lever_behind_a_plate_is_not_taken_to_be_moved() -> None:
    route = match(world({"aperture": "lever"}), "lens", PLATE, via=[]).routes[0]
    assert "lever_not_moved" in {one.code for one in route.findings}


def test_the_card_begins_with_the_change() -> None:
    steps = to_rehearse(world(), Rig("lens", PLATE), Practice()).steps
    assert steps[0].text == (
        "Change the plate of Test body to Front (a 2 mm key, 20 minutes). Opening down; screws crosswise, a little "
        "each; contacts matched. It can be undone."
    )


def kept(body_id: str = PLATE) -> tuple[SavedRig, ...]:
    return (SavedRig(id="kept", name="Kept", lens="lens", body=body_id),)


def test_it_can_be_kept_and_counts_as_a_use_of_the_body_and_the_mount() -> None:
    made = world(rigs=kept())
    assert not check_references(made.gear)
    assert [one.body for one in kept_rigs(made, Practice()).rigs] == [PLATE]
    assert {one.id for one in users_of(made.gear, "bodies", "body")} == {"kept"}


@pytest.mark.parametrize(
    ("id_", "said"),
    [
        ("plate..body..rear", "'body' cannot be given the mount 'rear'"),
        ("plate..nobody..front", "no body has the id 'nobody'"),
    ],
)
def test_a_kept_rig_that_cannot_be_is_refused_with_its_place(id_: str, said: str) -> None:
    problems = [str(one) for one in check_references(world(rigs=kept(id_)).gear)]
    assert any(one.startswith("rigs[0].body") and said in one for one in problems), problems


def test_a_rig_reads_what_it_writes() -> None:
    for rig in (
        Rig("lens", "body"),
        Rig("lens", PLATE, ("one", "two")),
        Rig("lens", "body", ("one",), ("hood", "rods"), 2, 35.0),
    ):
        assert Rig.read(rig.id) == rig
    # As records of the first editions name it.
    assert Rig.read("kel-55 o7 kel-ost-plain") == Rig("kel-55", "o7", ("kel-ost-plain",))
    for text in ("", "lens", "lens body", "lens body ring ?", " body ring"):
        with pytest.raises(ValueError, match="names no rig"):
            Rig.read(text)


def test_two_threads_do_not_share_an_interface() -> None:
    def threaded(id_: str, pitch_mm: float) -> dict[str, Any]:
        thread = {"diameter_mm": 42.0, "pitch_mm": pitch_mm}
        return mount(id_, 40.0, coupling="screw", interface="thread", thread=thread)

    problems = check_references(gear_of({"mounts": [threaded("fine", 0.75), threaded("coarse", 1.0)]}))
    assert [str(one) for one in problems] == [
        "mounts[1].interface: 42 × 1 does not go into the 42 × 0.75 of 'fine', and both are 'thread' "
        "(give each thread an interface of its own)"
    ]
    assert not check_references(gear_of({"mounts": [threaded("fine", 0.75), threaded("again", 0.75)]}))
