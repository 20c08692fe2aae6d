"""A camera that is not there behaves as a body of its data: what it takes, what it refuses, what it keeps."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body
from tropeion.core.camera.signed import signed_by
from tropeion.core.camera.state import CameraState
from tropeion.core.gear.bodies import Body
from tropeion.devices.protocol import VERBS, NotDoneError, Request, Verb
from tropeion.devices.simulated_body import SimulatedBody
from tropeion.formats.picture_header import header_of
from tropeion.formats.simulated_picture import simulated_jpeg, view_of

TAKEN = datetime(2026, 11, 21, 14, 2, 10, 250_000)
STEADY = {
    "travel_mm": 3.0,
    "entry_mm": [8.0, 600.0],
    "entry_step_mm": 1.0,
    "travel_steps": [1.0, 0.5],
    "stored_lenses": 2,
    "modes": ["still", "panning"],
    "name_length": 8,
}
# A lens of 50 mm that nothing recognises, with a circle that leaves the sensor some room.
LENS = {
    "rig": "lens body ring",
    "name": "Test lens",
    "recognised": False,
    "identified": False,
    "focal_length_mm": 50.0,
    "image_circle_mm": 46.0,
    "widest_f_number": 2.0,
    "taking_f_number": 4.0,
    "exposure_modes": ["A", "M"],
}


def camera(**changes: Any) -> SimulatedBody:
    document = {
        "stabiliser": STEADY,
        "bare_release": "off",
        "asks_focal_length": True,
        "exposure_modes": ["P", "A", "M"],
        "focus_aids": ["magnifier", "peaking"],
        **changes,
    }
    return SimulatedBody(Body.model_validate_json(json.dumps(body(**document))))


def do(made: SimulatedBody, verb: Verb, value: Any = None) -> CameraState:
    return made.do(Request(id=1, do=verb, value=value))


def swapped(made: SimulatedBody, **changes: Any) -> SimulatedBody:
    for verb, value in (("power", False), ("attach", {**LENS, **changes}), ("power", True)):
        do(made, verb, value)  # type: ignore[arg-type]
    return made


def controls(state: CameraState) -> set[str]:
    assert state.last is not None
    return {one.control for one in state.last.faults}


def test_it_begins_as_the_last_lens_left_it() -> None:
    made = camera()
    state = do(made, "begin")
    assert (state.power, state.attached, state.focal_length_mm, state.exposure) == (True, None, 85.0, "P")
    # The stabiliser's last mode, its whole travel, no release without a lens.
    assert (state.stabiliser, state.travel, state.release_without_lens) == ("panning", 1.0, False)
    # What comes now is not what was on it: else nothing would be learned.
    assert do(made, "begin", 80.0).focal_length_mm == 35.0
    assert do(made, "begin", 50.0).focal_length_mm == 85.0


def test_it_asks_at_power_on_and_offers_the_last_value() -> None:
    state = swapped(camera()).state
    assert state.prompt is not None
    assert state.prompt.offered_mm == 85.0


@pytest.mark.parametrize(("answer", "told"), [("confirm", 85.0), ("dismiss", 85.0), (50.0, 50.0)])
def test_only_another_value_changes_what_it_was_told(answer: object, told: float) -> None:
    state = do(swapped(camera()), "prompt", answer)
    assert (state.prompt, state.focal_length_mm) == (None, told)


@pytest.mark.parametrize(
    ("changes", "asked", "told"),
    [
        # A lens that says what it is asks nothing, and tells its focal length.
        ({"recognised": True, "identified": True, "says_mm": 50.0}, False, 50.0),
        # A chip that says 55 is believed, whatever stands before it.
        ({"recognised": True, "says_mm": 55.0}, False, 55.0),
        ({}, True, 85.0),
    ],
)
def test_what_it_is_told_by_contacts(changes: dict[str, Any], asked: bool, told: float) -> None:
    state = swapped(camera(), **changes).state
    assert (state.prompt is not None, state.focal_length_mm) == (asked, told)


def test_a_swap_with_the_power_on_is_seen_and_asks_nothing() -> None:
    made = camera()
    state = do(made, "attach", LENS)
    assert state.swapped_live
    assert state.prompt is None
    do(made, "release_without_lens", True)
    assert "power" in controls(do(made, "release"))
    # A body without a battery has nothing to switch off.
    assert not do(camera(battery=False), "attach", LENS).swapped_live


def test_a_release_is_refused_for_its_reason() -> None:
    made = camera()
    last = do(made, "release").last
    assert last is not None
    assert last.refused is not None
    assert last.refused.control == "mounted"
    swapped(made)
    refused = do(made, "release").last
    assert refused is not None
    assert refused.refused is not None
    assert refused.refused.control == "release_without_lens"
    do(made, "power", False)
    off = do(made, "release").last
    assert off is not None
    assert off.refused is not None
    assert off.refused.control == "power"


@pytest.mark.parametrize(
    ("bare", "recognised", "taken"),
    [
        ("off", False, False),
        ("off", True, True),
        ("on", False, True),
        ("always", False, True),
        ("never", False, False),
        ("never", True, True),
    ],
)
def test_release_without_a_lens_as_shipped(bare: str, recognised: bool, taken: bool) -> None:
    last = do(swapped(camera(bare_release=bare), recognised=recognised), "release").last
    assert last is not None
    assert last.taken is taken


# What is said to it, and what it has: anything else is refused in words, and changes nothing.
REFUSED: list[tuple[Verb, object, str]] = [
    ("focal_length", 50.4, "8 to 600 mm in steps of 1"),
    ("focal_length", 700.0, "8 to 600 mm"),
    ("focal_length", "fifty", "a number"),
    ("travel", 0.75, "100%, 50%, and off"),
    ("stabiliser", "film", "still, panning"),
    ("exposure", "S", "P, A, M"),
    ("area", "half", "full"),
    ("squeeze", 1.6, "desqueezes by"),
    ("power", 1, "true or false"),
    ("iris", "wide", "open, taking"),
    ("use", "film", "no switch between stills and film"),
    ("store", {"name": "much too long"}, "at most 8 letters"),
    ("store", {"name": "L", "number": 3}, "2 places"),
    ("recall", 2, "nothing is stored at place 2"),
    ("attach", {"lens": "x"}, "what is attached"),
]


@pytest.mark.parametrize(("verb", "value", "said"), REFUSED)
def test_what_it_has_not_it_refuses_in_words(verb: Verb, value: object, said: str) -> None:
    made = swapped(camera())
    before = made.state
    with pytest.raises(NotDoneError) as refused:
        do(made, verb, value)
    assert said in str(refused.value)
    assert made.state == before


def test_what_is_off_does_nothing_but_be_switched_on() -> None:
    made = camera()
    do(made, "power", False)
    with pytest.raises(NotDoneError, match="the camera is off"):
        do(made, "exposure", "A")
    assert do(made, "power", True).power


def test_presets_take_nothing_between() -> None:
    made = camera(stabiliser={**STEADY, "presets_mm": [35.0, 50.0]})
    assert do(made, "focal_length", 50.0).focal_length_mm == 50.0
    with pytest.raises(NotDoneError, match="takes 35, 50"):
        do(made, "focal_length", 40.0)


def test_a_stored_lens_is_called_up_with_all_that_was_set() -> None:
    made = swapped(camera(modes=[{"name": "half", "sensor_mm": [20.0, 15.0]}]))
    do(made, "focal_length", 50.0)
    do(made, "area", "half")
    do(made, "travel", 0.5)
    state = do(made, "store", {"name": "fifty"})
    assert [(one.number, one.name) for one in state.places] == [(1, "fifty")]
    do(made, "focal_length", 100.0)
    do(made, "area", "full")
    do(made, "store", {"name": "hundred"})
    again = do(made, "recall", 1)
    assert (again.focal_length_mm, again.area, again.travel) == (50.0, "half", 0.5)
    # The places are full: the last is overwritten unless another is named.
    assert [one.name for one in do(made, "store", {"name": "third"}).places] == ["fifty", "third"]
    assert [one.name for one in do(made, "store", {"name": "first", "number": 1}).places] == ["first", "third"]


def test_focus_by_the_small_picture_is_nearly_right_and_peaking_does_not_help() -> None:
    made = swapped(camera(bare_release="on"))
    do(made, "peaking", True)
    do(made, "focus")
    last = do(made, "release").last
    assert last is not None
    said = next(one.text for one in last.faults if one.control == "magnifier")
    assert "edges show before they are sharp" in said
    do(made, "magnifier", 5.0)
    do(made, "focus")
    assert "magnifier" not in controls(do(made, "release"))


def test_another_lens_has_to_be_focused_anew() -> None:
    made = swapped(camera(bare_release="on"))
    do(made, "focus")
    do(made, "iris", "taking")
    again = swapped(made).state
    assert (again.focused_with, again.iris) == ("", "open")


def test_a_meter_that_reckons_with_the_last_lens() -> None:
    film = camera(kind="film", stabiliser=None, focus_aids=[])
    swapped(film)
    last = do(film, "release").last
    assert last is not None
    # The last lens opened to f/1.4, this one to f/2: 2 · log₂(2/1.4) = 1.03 stops.
    assert "1.0 stops too bright" in next(one.text for one in last.faults if one.control == "meter")
    do(film, "meter", 2.0)
    assert "meter" not in controls(do(film, "release"))
    # On its own mount the body knows.
    assert "meter" not in controls(do(swapped(camera(kind="film", stabiliser=None), adapted=False), "release"))


@given(st.floats(43.3, 60.0), st.sampled_from([1.0, 0.5, 0.0]))
def test_corners_go_dark_where_the_sensor_leaves_the_circle(circle: float, travel: float) -> None:
    made = swapped(camera(bare_release="on"), image_circle_mm=circle)
    do(made, "travel", travel)
    out = 18 + travel * 3.0, 12 + travel * 3.0
    dark = 2 * (out[0] ** 2 + out[1] ** 2) ** 0.5 > circle + 1e-6
    assert ("travel" in controls(do(made, "release"))) == dark


@given(st.sampled_from(VERBS), st.none() | st.booleans() | st.floats() | st.text(max_size=9) | st.lists(st.integers()))
def test_nonsense_is_refused_and_never_breaks_it(verb: Verb, value: object) -> None:
    made = swapped(camera())
    before = made.state
    refused = ""
    try:
        do(made, verb, value)
    except NotDoneError as error:
        refused = str(error)
    # Refused, it stands as it stood.
    assert made.state == before or not refused


def test_a_frame_is_told_to_whoever_keeps_pictures() -> None:
    frames: list[CameraState] = []
    document = body(bare_release="always", exposure_modes=["A", "M"])
    device = SimulatedBody(Body.model_validate_json(json.dumps(document)), frames.append)
    device.do(Request(id=1, do="release"))
    # The last lens is on it still: it takes nothing.
    assert frames == []
    device.do(Request(id=2, do="attach", value=LENS))
    device.do(Request(id=3, do="release"))
    assert [frame.attached.name if frame.attached else "" for frame in frames] == ["Test lens"]


@pytest.mark.parametrize(
    ("lens", "signed"),
    [
        # A plain ring: the last focal length that was typed, no name and no stop.
        ({}, ("", 85.0, 0.0)),
        ({"recognised": True, "identified": True, "says_mm": 50.0, "iris": "body"}, ("Test lens", 50.0, 4.0)),
        # A chip knows no name but its own.
        ({"recognised": True, "says_mm": 35.0}, ("Chip 35 mm", 35.0, 0.0)),
    ],
)
def test_a_file_is_signed_as_its_body_signs(lens: dict[str, Any], signed: tuple[str, float, float]) -> None:
    device = camera(stabiliser=None, bare_release="always", name="Ostrel O7")
    state = device.do(Request(id=1, do="attach", value={**LENS, **lens}))
    found = signed_by(device.body, state, TAKEN)
    header = header_of(simulated_jpeg(view_of(device.body, state), found, rows=16), whole=True)
    assert (header.make, header.model, header.lens) == ("Ostrel", "O7", signed[0])
    assert (header.focal_length_mm or 0.0, header.f_number or 0.0) == signed[1:]
    assert header.taken_us == 1_795_269_730_250_000
    assert header.zone_us is None
