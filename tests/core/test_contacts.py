"""Functions: what is left of each, and which link limits it."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.findings import rank
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match

LANGUAGES: list[dict[str, Any]] = [
    {"id": "old", "name": "Old", "powers": ["iris", "focus"]},
    {"id": "new", "name": "New", "accepts": ["old"], "powers": ["iris", "focus"]},
    {"id": "data", "name": "Data", "powers": []},
    {"id": "foreign", "name": "Foreign", "powers": ["iris", "focus"]},
]
OFFERS = ["autofocus", "aperture", "identity", "focal_length", "focus_distance", "stabiliser", "control_ring"]
SPEAKS: dict[str, Any] = {
    "focus": "motor",
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
    assert found.grade == "partial"
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
    assert found.grade == "partial"
    for function in ("autofocus", "identity", "focus_distance"):
        assert (left(found)[function].state, left(found)[function].link) == ("lost", "r1")
    assert found.wire.ends_at == "r1"


def test_a_translator_into_a_language_the_body_does_not_speak_is_dead() -> None:
    carries = dict.fromkeys(OFFERS, "full")
    translating = {"link": "translate", "from_protocol": "old", "carries": carries}
    assert route({**translating, "to_protocol": "old"}).grade == "full"
    assert route({**translating, "to_protocol": "foreign"}).grade == "partial"
    assert route({**translating, "from_protocol": "foreign", "to_protocol": "old"}).grade == "partial"


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
    assert found.grade == "partial"
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


def test_a_screw_driven_lens_focuses_by_itself_where_a_screw_turns_it_all_the_way() -> None:
    driven = {"focus": "screw_drive", "protocol": "old", "offers": ["autofocus"]}
    own = {**CAMERA, "screw_drive": True}
    assert states(route(the_lens=driven, the_body=own))["autofocus"] == "full"
    for rings, the_body, link in (
        ((), CAMERA, "body"),
        ((PASS,), own, "r0"),
        (({**PASS, "passes_screw": True}, PASS), own, "r1"),
        (({**PASS, "passes_screw": True},), CAMERA, "body"),
    ):
        # Contacts that speak of autofocus turn no screw.
        autofocus = left(route(*rings, the_lens=driven, the_body=the_body))["autofocus"]
        assert (autofocus.state, autofocus.link) == ("lost", link)
    through = route({**PASS, "passes_screw": True}, the_lens=driven, the_body=own)
    assert (states(through)["autofocus"], through.grade) == ("full", "full")
    assert route(PASS, the_lens=driven, the_body=own).grade == "manual"


def test_what_a_lens_has_counts_whether_it_is_listed_or_not() -> None:
    """Its focus drive, its aperture drive, its stabiliser, and that it can tell its name."""
    carries = dict.fromkeys(OFFERS, "full")
    for lost in ("autofocus", "identity", "focal_length", "stabiliser"):
        translating = {
            "link": "translate",
            "from_protocol": "old",
            "to_protocol": "new",
            "carries": {**carries, lost: "none"},
        }
        for offers in ([], OFFERS):
            assert route(translating, the_lens={**SPEAKS, "offers": offers}).grade == "manual", (lost, offers)
    deaf = {
        "link": "translate",
        "from_protocol": "old",
        "to_protocol": "new",
        "carries": {**carries, "aperture": "none"},
    }
    assert route(deaf, the_lens={**SPEAKS, "offers": []}).grade == "partial"


def test_offering_more_never_lowers_a_grade() -> None:
    carried: tuple[dict[str, str], ...] = (
        {},
        {"aperture": "full"},
        {"aperture": "full", "autofocus": "slow", "identity": "full", "focal_length": "full", "stabiliser": "full"},
    )
    for carries in carried:
        translating = {"link": "translate", "from_protocol": "old", "to_protocol": "new", "carries": carries}
        grades = [
            rank(route(translating, the_lens={**SPEAKS, "offers": OFFERS[:count]}).grade)
            for count in range(len(OFFERS) + 1)
        ]
        assert grades == sorted(grades)


def test_what_not_every_lens_has_is_told_and_costs_no_grade() -> None:
    found = route({**PASS, "carries": {"control_ring": "none", "focus_distance": "none"}})
    assert found.grade == "full"
    assert found.sentence == "Works as on its own body, but for: focus distance and control ring."


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
