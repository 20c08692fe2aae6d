"""Functions: what is left of each, and which link limits it."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.rig.report import Route
from tropeion.core.routes.match import match

LANGUAGES: list[dict[str, Any]] = [
    {"id": "old", "name": "Old", "powers": ["iris", "focus"]},
    {"id": "new", "name": "New", "accepts": ["old"], "powers": ["iris", "focus"]},
    {"id": "data", "name": "Data", "powers": []},
    {"id": "foreign", "name": "Foreign", "powers": ["iris", "focus"]},
]
OFFERS = ["autofocus", "aperture", "identity", "focal_length", "focus_distance", "stabiliser", "control_ring"]
SPEAKS: dict[str, Any] = {
    "focus": "by_wire",
    "aperture": "electronic",
    "protocol": "old",
    "offers": OFFERS,
    "stabilised": True,
}
CAMERA: dict[str, Any] = {
    "protocols": ["new"],
    "focus_aids": ["magnifier", "peaking"],
    "exposure_modes": ["P", "A", "S", "M"],
    "stabiliser": {"travel_mm": 3.0},
    "modes": [{"name": "24 × 16", "sensor_mm": [24.0, 16.0], "megapixels": 10.0, "automatic": True}],
}


def route(
    *rings: dict[str, Any], the_lens: dict[str, Any] | None = None, the_body: dict[str, Any] | None = None
) -> Route:
    world = world_of(
        [ring(f"r{n}", 25.0 / len(rings), **one) for n, one in enumerate(rings)],
        body_register_mm=20.0 if rings else 45.0,
        the_lens=lens(**(SPEAKS if the_lens is None else the_lens)),
        the_body=body(**(CAMERA if the_body is None else the_body)),
        protocols=LANGUAGES,
    )
    (found,) = match(world, "lens", "body", via=[f"r{n}" for n in range(len(rings))]).routes
    return found


def left(found: Route) -> dict[str, FunctionLeft]:
    return {one.function: one for one in details(found).functions}


def states(found: Route) -> dict[str, str]:
    return {one.function: one.state for one in details(found).functions}


PASS = {"link": "pass"}


def test_a_newer_body_understands_an_older_lens_in_full() -> None:
    found = route()
    assert found.grade == "native"
    assert set(states(found).values()) == {"full"}
    assert set(states(found)) == {*OFFERS, "manual_focus", "aperture_readout", "open_aperture_metering"} | {
        "exposure_modes",
        "automatic_magnifier",
    }
    assert details(found).exposure_modes == ("P", "A", "S", "M")


def test_an_older_body_does_not_understand_a_newer_lens() -> None:
    found = route(the_lens={**SPEAKS, "protocol": "new"}, the_body={**CAMERA, "protocols": ["old"]})
    assert found.grade == "none"
    assert left(found)["autofocus"].link == "lens"


def test_straight_contacts_are_as_good_as_none_between() -> None:
    assert states(route(PASS)) == states(route())
    assert states(route(PASS, PASS, PASS)) == states(route())


def test_what_a_link_does_not_carry_is_lost_at_that_link() -> None:
    found = route(PASS, {**PASS, "carries": {"control_ring": "none", "autofocus": "slow"}})
    assert states(found)["control_ring"] == "lost"
    assert left(found)["control_ring"].link == "r1"
    assert (left(found)["autofocus"].state, left(found)["autofocus"].link) == ("slow", "r1")
    assert [(one.link, one.level) for one in left(found)["autofocus"].passed] == [("r0", "full"), ("r1", "slow")]
    assert left(found)["identity"].link is None


def test_one_dead_link_kills_the_chain_and_is_named() -> None:
    found = route(PASS, {}, PASS)
    assert found.grade == "none"
    for function in ("autofocus", "identity", "focus_distance"):
        assert (left(found)[function].state, left(found)[function].link) == ("lost", "r1")
    assert found.wire.ends_at == "r1"


def test_a_translator_into_a_language_the_body_does_not_speak_is_dead() -> None:
    carries = dict.fromkeys(OFFERS, "full")
    translating = {"link": "translate", "from_protocol": "old", "carries": carries}
    assert route({**translating, "to_protocol": "old"}).grade == "full"
    assert route({**translating, "to_protocol": "foreign"}).grade == "none"
    assert route({**translating, "from_protocol": "foreign", "to_protocol": "old"}).grade == "none"


def test_a_translator_carries_only_what_is_said() -> None:
    translating = {"link": "translate", "from_protocol": "old", "to_protocol": "new", "carries": {"aperture": "full"}}
    found = route(translating)
    assert states(found)["aperture"] == "full"
    assert states(found)["autofocus"] == "lost"
    # Focus is powered all the same, and can be moved by hand.
    assert states(found)["manual_focus"] == "full"
    assert found.grade == "manual"


def test_data_without_power_moves_nothing() -> None:
    speaks_data = {**SPEAKS, "protocol": "data"}
    found = route(PASS, the_lens=speaks_data, the_body={**CAMERA, "protocols": ["data"]})
    assert found.grade == "none"
    assert states(found)["aperture"] == "stuck"
    assert states(found)["identity"] == "full"


def test_a_chip_reports_what_it_was_given() -> None:
    chip = {"link": "chip", "chip": {"focal_length_mm": 50.0, "f_number": 2.0}}
    found = route(chip, the_lens={})
    assert {name: states(found)[name] for name in ("identity", "focal_length", "aperture_readout")} == {
        "identity": "entered",
        "focal_length": "entered",
        "aperture_readout": "entered",
    }
    assert left(found)["identity"].link == "r0"
    assert found.grade == "manual"


def test_a_plain_lens_leaves_the_work_to_the_hand() -> None:
    found = route({}, the_lens={"image_circle_mm": 30.0})
    assert states(found) == {
        "autofocus": "lost",
        "manual_focus": "full",
        "aperture": "by_hand",
        "identity": "lost",
        "focal_length": "entered",
        "aperture_readout": "lost",
        "open_aperture_metering": "by_hand",
        "exposure_modes": "by_hand",
        "automatic_magnifier": "by_hand",
        "automatic_crop": "by_hand",
    }
    assert details(found).exposure_modes == ("A", "M")
    assert not left(found)["autofocus"].offered
    assert left(found)["autofocus"].taken


def test_a_lens_that_tells_sets_the_crop_by_itself() -> None:
    found = route(PASS, the_lens={**SPEAKS, "image_circle_mm": 30.0})
    assert states(found)["automatic_crop"] == "full"


def test_a_screw_driven_lens_focuses_by_itself_on_its_own_body_alone() -> None:
    driven = {"focus": "screw_drive"}
    own = {**CAMERA, "protocols": [], "screw_drive": True}
    assert states(route(the_lens=driven, the_body=own))["autofocus"] == "full"
    assert states(route(the_lens=driven, the_body={**own, "screw_drive": False}))["autofocus"] == "lost"
    assert states(route({}, the_lens=driven, the_body=own))["autofocus"] == "lost"


def test_a_body_without_a_meter_has_no_metering_to_lose() -> None:
    found = route({}, the_lens={}, the_body={"kind": "film", "meters": False})
    assert "open_aperture_metering" not in states(found)
    assert details(found).exposure_modes == ()


@pytest.mark.parametrize(
    ("drive", "control", "state"),
    [("pin", "pin_press", "by_hand"), ("lever", "lever_ring", "by_hand"), ("pin", "none", "stuck")],
)
def test_the_iris_by_pin_and_lever(drive: str, control: str, state: str) -> None:
    found = route({"aperture_control": control}, the_lens={"aperture": drive})
    assert states(found)["aperture"] == state


def test_the_pin_press_may_stand_anywhere_in_the_chain() -> None:
    found = route({}, {"aperture_control": "pin_press"}, the_lens={"aperture": "pin"})
    assert left(found)["aperture"].link == "r1"
