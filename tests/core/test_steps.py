"""The steps from the safe action to the first frame: each stands where it must, and nowhere else."""

from __future__ import annotations

from typing import Any

import pytest

from tests.rigs import ELECTRONIC, LINK, PARTS
from tests.worlds import body, details, lens, ring, world_of
from tropeion.core.answers.beginning import UNSTATED
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import StepLine
from tropeion.core.routes.match import match


def lines(
    *,
    the_lens: dict[str, Any] | None = None,
    the_body: dict[str, Any] | None = None,
    practice: Practice | None = None,
    bare: bool = False,
    front: dict[str, Any] | None = None,
    **adapter: Any,
) -> tuple[StepLine, ...]:
    """A 45 mm register lens on a 20 mm body through a plain ring, or bare on a body of its own mount."""
    # Its rear is known to clear: otherwise that would be the first thing to be said.
    world = world_of(
        [ring(**adapter)],
        the_lens=lens(**{"rear_protrusion_mm": 0.0, **(the_lens or {})}),
        the_body=body(**({"mount": "front"} if bare else {}), **{"obstruction_mm": 5.0, **(the_body or {})}),
        front=front,
        protocols=LINK,
    )
    (route,) = match(world, "lens", "body", practice, via=[] if bare else ["ring"]).routes[:1]
    return details(route).steps


def texts(**changes: Any) -> list[str]:
    return [step.text for step in lines(**changes)]


def has(part: str, **changes: Any) -> bool:
    """Whether some step says so. A text that the plain rig has already tells nothing."""
    return any(part in text for text in texts(**changes))


def test_a_plain_ring_from_first_to_last() -> None:
    assert texts() == [
        "Power off. Hold the body open side down and blow out dust.",
        "Test lens onto Ring.",
        "Ring onto Test body.",
        "Verify every lock: pull gently at each piece before you let go.",
        "Power on.",
        "Focus wide open, then stop down to the taking aperture.",
        "Check infinity first, on something far away, at f/2; then the closest focus.",
        "Then look at the corners, wide open and stopped down, and for a ghost in the middle.",
        "Note what you used: the pictures carry no lens data.",
    ]
    assert not any(step.caution for step in lines())


CODED = {
    "coupling": "bayonet",
    "code": {"fields": 2, "start_deg": 0, "step_deg": 9, "radius_mm": 20, "width_mm": 2, "height_mm": 2},
    "profiles": [{"code": "10", "name": "A fifty", "focal_length_mm": 50, "f_number": 2}],
}


# What one thing more asks for: the change, what is said then, and a neighbour that does not ask for it.
ASKED: dict[str, tuple[dict[str, Any], str, dict[str, Any]]] = {
    "tilt of the ring": ({"tilt_deg": 8.0}, "Set Ring to zero and lock it.", {}),
    "shift of the ring": ({"shift_mm": 8.0}, "Set Ring to zero and lock it.", {}),
    "tilt of the lens": ({"the_lens": {"tilt_deg": 8.0}}, "Set tilt and shift of the lens to zero", {}),
    "shift of the lens": ({"the_lens": {"shift_mm": 8.0}}, "Set tilt and shift of the lens to zero", {}),
    "a pin with a switch": (
        {"the_lens": {"aperture": "pin", "auto_manual_switch": True}},
        "auto/manual switch to manual",
        {"the_lens": {"aperture": "pin"}},
    ),
    "a switch without a pin": (
        {"the_lens": {"aperture": "pin", "auto_manual_switch": True}},
        "auto/manual switch to manual",
        {"the_lens": {"aperture": "ring", "auto_manual_switch": True}},
    ),
    "a switch at home": (
        {"the_lens": {"aperture": "pin", "auto_manual_switch": True}},
        "auto/manual switch to manual",
        {"the_lens": {"aperture": "pin", "auto_manual_switch": True}, "bare": True},
    ),
    "what the ring wants first": ({"prepare": ["Take off the cap."]}, "Take off the cap.", {}),
    "a foot": ({"tripod_foot": True}, "by the foot of Ring", {}),
    "a release that is off": (
        {"the_body": {"bare_release": "off"}},
        "Allow release without a lens.",
        {"the_body": {"bare_release": "always"}},
    ),
    "a release that is off, with its place": (
        {
            "the_body": {
                "bare_release": "off",
                "settings": [{"for": "bare_release", "where": "Setup", "value": "allow"}],
            }
        },
        "Allow release without a lens (Setup: allow).",
        {"the_body": {"bare_release": "off", "settings": [{"for": "mode", "where": "Setup", "value": "allow"}]}},
    ),
    "a release that never comes": (
        {"the_body": {"bare_release": "never"}},
        "releases only with a lens it recognises",
        {"the_body": {"bare_release": "on"}},
    ),
    "a release with a chip": (
        {"the_body": {"bare_release": "off"}},
        "Allow release",
        {"the_body": {"bare_release": "off"}, "link": "chip", "chip": {"focal_length_mm": 50, "f_number": 2}},
    ),
    "exposure": (
        {"the_body": {"exposure_modes": ["P", "A", "S", "M"]}},
        "Set the exposure to aperture priority or manual.",
        {"the_body": {"exposure_modes": ["P", "S"]}},
    ),
    "exposure by hand alone": (
        {"the_body": {"exposure_modes": ["M"]}},
        "Set the exposure to manual.",
        {"the_body": {"exposure_modes": ["A"]}},
    ),
    "a rear that nobody measured": (
        {"the_lens": {"rear_protrusion_mm": None}},
        "Whether the rear of the lens clears",
        {"the_lens": {"rear_protrusion_mm": 1.0}},
    ),
    "a piece that is there for good": ({"irreversible": True}, "changes lens or body for good", {}),
    "a joint that bears less": (
        {"mass_g": 200, "load_rating_nm": 0.1, "the_lens": {"mass_g": 900, "centre_of_mass_mm": 60}},
        "rated for 0.10 N·m",
        {"mass_g": 200, "load_rating_nm": 10, "the_lens": {"mass_g": 900, "centre_of_mass_mm": 60}},
    ),
    "a travel that nobody states": (
        {"length_mm": 22.0, "the_lens": {"min_focus_m": None}},
        "Try infinity first, on something far away: whether it comes",
        {"the_lens": {"min_focus_m": None}},
    ),
    "a body that asks at power-on": (
        {"the_body": {"asks_focal_length": True}},
        "It offers the last lens's focal length",
        {"the_body": {"asks_focal_length": False}},
    ),
    "a film body whose meter sees no ring": (
        {"the_body": {"kind": "film"}},
        "Meter stopped down, at the taking aperture",
        {"the_body": {"kind": "film", "meters": False}},
    ),
    "a stabiliser that asks for the squeeze": (
        {"the_lens": {"squeeze": 1.6}, "the_body": {"stabiliser": {"travel_mm": 1.0, "squeeze": True}}},
        "Enter the squeeze for the stabiliser, 1.6 ×.",
        {"the_lens": {"squeeze": 1.6}, "the_body": {"stabiliser": {"travel_mm": 1.0, "squeeze": False}}},
    ),
    "a stabiliser of which that is not known": (
        {"the_lens": {"squeeze": 1.6}, "the_body": {"stabiliser": {"travel_mm": 1.0}}},
        "See whether the stabiliser asks for the squeeze",
        {"the_body": {"stabiliser": {"travel_mm": 1.0}}},
    ),
    "a notch of several": (
        {"the_lens": {"squeeze": 1.6}, "front": {"positions": 4}},
        "put the pin into the notch",
        {"the_lens": {"squeeze": 1.6}},
    ),
    "a look at something round": (
        {"the_lens": {"squeeze": 1.6}, "front": {"positions": 4}},
        "Look at something round",
        {"front": {"positions": 4}},
    ),
    "fields that the body reads": (
        {"the_lens": {"code": "10"}, "the_body": {"reads_code": True}, "front": CODED, "bare": True},
        "takes it for A fifty by the fields on its flange (10), and the pictures carry that name",
        {"the_lens": {"code": "10"}, "the_body": {"reads_code": True}, "front": CODED},
    ),
    "what the film forgets": ({"the_body": {"kind": "film"}}, "film keeps neither", {}),
    "a squeezed lens": (
        {"the_lens": {"squeeze": 1.6}, "the_body": {"desqueeze": [1.33, 1.6]}},
        "Set the desqueeze to 1.6 ×",
        {"the_lens": {"squeeze": 1.6}, "the_body": {"desqueeze": [1.33]}},
    ),
    "no squeeze to undo": (
        {"the_lens": {"squeeze": 1.6}, "the_body": {"desqueeze": [1.0, 1.6]}},
        "Set the desqueeze",
        {"the_body": {"desqueeze": [1.0, 1.6]}},
    ),
    "a part of the sensor": (
        {
            "the_lens": {"image_circle_mm": 30.0},
            "the_body": {
                "modes": [{"name": "crop", "sensor_mm": [22.0, 15.0]}],
                "settings": [{"for": "mode", "where": "Shooting", "value": "small"}],
            },
        },
        "Set the mode crop (Shooting: small).",
        {"the_body": {"modes": [{"name": "crop", "sensor_mm": [22.0, 15.0]}]}},
    ),
    "aids to focus": (
        {"the_body": {"focus_aids": ["peaking", "magnifier"]}},
        "use the magnifier (on a button; it does not come up by itself) and peaking (on another button; it marks",
        {},
    ),
    "an aid with its place": (
        {
            "the_body": {
                "focus_aids": ["magnifier"],
                "settings": [{"for": "magnifier", "where": "Button 2", "value": "on"}],
                "magnifier": {"leave": "Half-press."},
            }
        },
        "use the magnifier (Button 2: on; it does not come up by itself; to leave it: half-press).",
        {
            "the_body": {
                "focus_aids": ["peaking"],
                "settings": [{"for": "magnifier", "where": "Button 2", "value": "on"}],
            }
        },
    ),
    "power": ({}, "Power on.", {"the_body": {"battery": False, "kind": "film"}}),
    "a lock of the ring": ({"locking": True}, "Lock it: close the lock of Ring.", {}),
    "modes that the coupling leaves": (
        {"the_body": {"exposure_modes": ["P", "A", "S", "M"], "meters": False}},
        "Set the exposure to manual.",
        {"the_body": {"exposure_modes": ["P", "A", "S", "M"]}},
    ),
    "a focal length that is asked for": (
        {"the_body": {"asks_focal_length": True}},
        "Enter 50 mm as the focal length.",
        {"the_body": {}},
    ),
    "aids on film": (
        {"the_body": {"focus_aids": ["peaking"]}},
        "For focusing",
        {"the_body": {"focus_aids": ["peaking"], "kind": "film"}},
    ),
    "a meter of a film body": (
        {"the_body": {"kind": "film"}},
        "Tell the meter the widest aperture",
        {"the_body": {"kind": "film", "meters": False}},
    ),
    "a meter at home": ({"the_body": {"kind": "film"}}, "Tell the meter", {"the_body": {"kind": "film"}, "bare": True}),
    "no data on film": ({}, "the pictures carry no lens data", {"the_body": {"kind": "film"}}),
    "no aperture": (
        {"the_lens": {"aperture": "lever", "iris_at_rest": "closed"}},
        "The aperture cannot be set",
        {"the_lens": {"aperture": "lever", "iris_at_rest": "closed"}, "aperture_control": "lever_ring"},
    ),
    "a ring too long": ({"length_mm": 30.0}, "infinity will not come", {"length_mm": 25.0}),
    "a long lens": (
        {"the_lens": {"focal_length_mm": [101, 101]}},
        "Never point a long or fast lens at the sun",
        {"the_lens": {"focal_length_mm": [100, 100]}},
    ),
    "a fast lens": (
        {"the_lens": {"f_number": [1.9, 16]}},
        "Never point a long or fast lens at the sun",
        {"the_lens": {"f_number": [2, 16]}},
    ),
    "a zoom whose long end is long": (
        {"the_lens": {"focal_length_mm": [35, 105]}},
        "Never point a long or fast lens at the sun",
        {"the_lens": {"focal_length_mm": [35, 85]}},
    ),
    "a helicoid closed": ({"helicoid_mm": 5.0}, "Ring: close it for infinity; open it for close-up.", {}),
    "a helicoid opened": (
        {"helicoid_mm": 5.0, "length_mm": 24.0},
        "Ring: open it by 1.00 mm for infinity",
        {"helicoid_mm": 5.0, "length_mm": 25.0},
    ),
    "focusing as it is taken": (
        {"practice": Practice(focusing="taking_aperture")},
        "Set the taking aperture first, and focus there.",
        {},
    ),
}


@pytest.mark.parametrize(
    ("conversion", "code", "told"),
    [("home", "converted_at_home", True), ("third_party", "converted_by_others", True), ("factory", "", False)],
)
def test_what_was_converted_is_looked_at_first(conversion: str, code: str, told: bool) -> None:
    world = world_of(
        [ring()], the_lens=lens(conversion=conversion, rear_protrusion_mm=0.0), the_body=body(obstruction_mm=5.0)
    )
    (route,) = match(world, "lens", "body", via=["ring"]).routes
    cautions = [step.text for step in details(route).steps if step.caution]
    assert cautions == [found.text for found in route.findings if found.code == code]
    assert bool(cautions) is told


@pytest.mark.parametrize("case", ASKED)
def test_one_thing_more_asks_for_one_step_more(case: str) -> None:
    changes, said, neighbour = ASKED[case]
    assert has(said, **changes)
    assert not has(said, **neighbour)


STEADY: dict[str, Any] = {"stabiliser": {"travel_mm": 3.0}, "asks_focal_length": True}


def test_the_stabiliser_is_told_the_actual_focal_length() -> None:
    assert has("Enter 50 mm for the stabiliser: the actual focal length, not the equivalent.", the_body=STEADY)
    placed = {**STEADY, "settings": [{"for": "focal_length", "where": "Setup › Steady", "value": "by hand"}]}
    assert has("Enter 50 mm for the stabiliser (Setup › Steady: by hand)", the_body=placed)
    assert not has("Enter it again", the_body=STEADY)
    assert has("Enter it again at each zoom setting", the_body=STEADY, the_lens={"focal_length_mm": [35, 70]})


def test_what_a_body_stores_it_offers() -> None:
    assert not has("named lens", the_body=STEADY)
    storing = {**STEADY, "stabiliser": {"travel_mm": 3.0, "stored_lenses": 8}}
    assert has(
        "Store it as a named lens, “Test lens + Ring”, so that it can be called up again (8 places).", the_body=storing
    )


def test_a_stabiliser_with_little_room_is_limited_or_off() -> None:
    # √((18 + t)² + (12 + t)²) = 22.5 mm, the radius of the circle, at t = 0.62 mm: a quarter of 2.4 mm, not half of it.
    stepped = {**STEADY, "stabiliser": {"travel_mm": 2.4, "travel_steps": [1.0, 0.5, 0.25]}}
    measured = {"image_circle_from": "measured"}
    assert has("leaves room for 25% of its travel", the_body=stepped, the_lens=measured)
    assert has("switch it off", the_body=STEADY, the_lens=measured)
    # A circle that is stated, or usual, is a minimum: it only says where to look.
    for source in ("stated", "format"):
        nominal = texts(the_body=stepped, the_lens={"image_circle_from": source})
        assert any("full travel, and look at the corners" in text for text in nominal)
        assert not any("switch it off" in text or "25%" in text for text in nominal)
    roomy = {"image_circle_mm": 60.0}
    assert not has("image circle", the_body=STEADY, the_lens=roomy)


def test_a_lens_that_names_itself_needs_no_word_about_the_stabiliser() -> None:
    speaking = {"the_lens": {**ELECTRONIC}, "the_body": {**STEADY, "protocols": ["speech"]}}
    assert not has("stabiliser", **speaking, link="pass")
    assert has("stabiliser", **{**speaking, "the_lens": {**ELECTRONIC, "focus": "motor"}})


def test_a_rig_that_does_not_work_gets_no_steps_and_no_functions() -> None:
    world = world_of([ring(length_mm=10.0)])
    (route,) = match(world, "lens", "body", via=["ring"]).routes
    assert route.grade == "none"
    assert [(step.text, step.caution) for step in details(route).steps] == [
        (found.text, True) for found in route.findings if found.code == "nothing_focuses"
    ]
    assert (details(route).functions, details(route).exposure_modes) == ((), ())


def test_what_the_coupling_wants_after_mounting_comes_before_power() -> None:
    rule = {
        "lens_has": ["rack"],
        "body_has": ["probe"],
        "effect": "meters",
        "text": "It meters.",
        "after_mounting": "Turn the ring from end to end.",
    }
    told = texts(
        the_lens={"generation": "old"}, the_body={"generation": "new"}, bare=True, front={**PARTS, "rules": [rule]}
    )
    place = told.index("Turn the ring from end to end.")
    assert told.index("Test lens onto Test body.") < place < told.index("Power on.")


def test_a_thread_is_never_forced() -> None:
    thread = {"coupling": "screw", "thread": {"diameter_mm": 46.0, "pitch_mm": 1.1}}
    screwed = texts(front=thread)
    assert [text for text in screwed if "If it binds, turn back" in text] == [
        "Test lens onto Ring. If it binds, turn back: never force a thread."
    ]
    assert not has("If it binds")


def test_marks_and_locks_of_the_mount_that_takes_it_stand_with_the_joint() -> None:
    marked = texts(front={"index_mark": "Dot to dot.", "lock_action": "Turn until it clicks."})
    assert marked[1] == "Test lens onto Ring. Dot to dot. Turn until it clicks."
    assert marked[2] == "Ring onto Test body."


def test_each_joint_is_locked_once_it_is_joined() -> None:
    collar = {"coupling": "locking_collar", "lock_action": "Turn the collar shut.", "index_mark": "Pin up."}
    told = texts(front=collar, locking=True)
    assert told[1:4] == ["Test lens onto Ring. Pin up.", "Lock it: Turn the collar shut.", "Ring onto Test body."]


def test_what_would_break_something_is_all_that_is_said() -> None:
    world = world_of(
        lens_register_mm=45.0,
        body_register_mm=45.0,
        the_lens=lens(generation="old"),
        the_body=body(mount="front", generation="new"),
        front=PARTS,
    )
    (route,) = match(world, "lens", "body", via=[]).routes
    (step,) = details(route).steps
    assert step.caution
    assert "The rack shears off the probe." in step.text


def test_the_safe_action_comes_before_everything() -> None:
    first, *rest = lines(the_lens={"generation": "old"}, the_body={"generation": "between"}, bare=True, front=PARTS)
    assert (first.text, first.caution) == ("Draw the probe back.", True)
    assert rest[0].text.startswith("Power off.")


# A body of which its owner has said no more than its mount and its sensor


def _begun(**stated: Any) -> list[str]:
    unstated = [name for name in UNSTATED if name not in stated]
    the_body = body(**stated, assumed=unstated)
    world = world_of([ring("r", 25.0, owned=1)], the_body=the_body)
    (route,) = match(world, "lens", "body", Practice(), via=("r",)).routes
    return [step.text for step in details(route).steps]


def test_what_nobody_said_of_a_body_is_asked_of_the_body() -> None:
    asked = [text for text in _begun() if "see whether" in text.lower()]
    assert len(asked) == 4
    said = " ".join(asked)
    for words in ("if it does not, look in the menus for release without a lens", "enter 50 mm", "magnify", "meters"):
        assert words in said


@pytest.mark.parametrize(
    ("stated", "words"),
    [
        ({"bare_release": "on"}, "release without a lens"),
        ({"focus_aids": ["magnifier"]}, "can magnify"),
        ({"exposure_modes": ["M", "A"]}, "see whether your body meters"),
        ({"stabiliser": {"travel_mm": 1.0}}, "is stabilised"),
    ],
)
def test_what_is_said_is_not_asked(stated: dict[str, Any], words: str) -> None:
    assert any(words in text for text in _begun())
    assert not any(words in text for text in _begun(**stated))
