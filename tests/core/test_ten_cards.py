"""The cards of ten rigs, written by hand from the sample world; each step that the camera can see is needed, and all
of them are enough."""

from __future__ import annotations

from typing import NamedTuple

import pytest

from tests.cards import Worked
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.setup.rehearse import to_rehearse
from tropeion.devices.protocol import NotDoneError

KLV, OST, PLM, QLK = (
    "Groove to groove. Turn clockwise until it clicks.",
    "Red dash to red dash. Turn clockwise until it clicks.",
    "White dot to white dot. Turn clockwise until it clicks.",
    "Lock it: Hold the lens still and turn the collar shut.",
)
OFF = "Power off. Hold the body open side down and blow out dust."
PULL = "Verify every lock: pull gently at each piece before you let go."
ALLOW = "Allow release without a lens (Setup › Shutter › Release without lens: allow)."
STILL = "Set the stabiliser to still (Quick menu › Stabiliser: still)."
CORNERS_AT_TRAVEL = (
    "Leave the stabiliser its full travel, and look at the corners at the ends of it; if they darken, go down a step. "
    "The image circle is not measured, and is mostly wider than it is said to be."
)
PRIORITY = "Set the exposure to aperture priority or manual."
MAGNIFY = (
    "For focusing, use the magnifier (Button 2 › Magnifier: on the button; the whole picture, 5.5 × or 11 ×; it does "
    "not come up by itself; to leave it: half-press the release) and peaking (Setup › Focus › Peaking: red, low; it "
    "marks edges, not focus)."
)
STOP_DOWN = "Focus wide open, then stop down to the taking aperture."
CORNERS = "Then look at the corners, wide open and stopped down, and for a ghost in the middle."
NOTE = "Note what you used: the pictures carry no lens data."
SUN = "Never point a long or fast lens at the sun, neither with the eye behind it nor with the sensor."


def enter(mm: str, where: str = "Setup › Stabiliser › Focal length: by hand", more: str = "") -> str:
    return f"Enter {mm} mm for the stabiliser ({where}): the actual focal length, not the equivalent.{more}"


def store(name: str, places: int = 10) -> str:
    return f"Store it as a named lens, “{name}”, so that it can be called up again ({places} places)."


def infinity(aperture: str) -> str:
    return f"Check infinity first, on something far away, at {aperture}; then the closest focus."


class Expected(NamedTuple):
    lens: str
    body: str
    via: list[str]
    steps: list[str]
    use: str = "still"


SKARN_MONITOR = (
    "For focusing, use the magnifier (on a button; it does not come up by itself) and peaking (Monitor › Edge colour: "
    "green; it marks edges, not focus)."
)

ASKS = "It offers the last lens's focal length: do not confirm it unread."

TEN = {
    "plain": Expected(
        "kel-55",
        "o7",
        ["kel-ost-plain"],
        [
            OFF,
            f"Kelvane 55/2.2 onto Plain ring KLV–OST. {KLV}",
            f"Plain ring KLV–OST onto Ostrel O7. {OST}",
            PULL,
            "Power on.",
            ASKS,
            ALLOW,
            enter("55"),
            store("55/2.2+KLV"),
            STILL,
            CORNERS_AT_TRAVEL,
            PRIORITY,
            MAGNIFY,
            STOP_DOWN,
            infinity("f/2.2"),
            CORNERS,
            NOTE,
        ],
    ),
    # Presets of 35 and 50 mm: 45 is nearer to 50 by ratio. The circle is measured at 43.6 mm, the format's is 43.3.
    "chipped": Expected(
        "kel-45",
        "corran",
        ["kel-mrw-chip"],
        [
            OFF,
            f"Kelvane 45/2 onto Orlop KLV–MRW, chipped. {KLV}",
            "Orlop KLV–MRW, chipped onto Marwick Corran. Square to square. Turn clockwise until it clicks.",
            PULL,
            "Power on.",
            enter("50", "Steady › Preset: the nearest preset"),
            "The image circle, as measured, leaves the stabiliser no room: switch it off.",
            PRIORITY,
            "For focusing, use the magnifier (Display › Loupe: on; it does not come up by itself).",
            STOP_DOWN,
            infinity("f/2"),
            CORNERS,
            NOTE,
        ],
    ),
    "translating": Expected(
        "mrw-62",
        "o7",
        ["mrw-ost-active"],
        [
            OFF,
            "Marwick 62/2.8 close-up onto Orlop active MRW–OST. Square to square. Turn clockwise until it clicks.",
            f"Orlop active MRW–OST onto Ostrel O7. {OST}",
            "On a tripod, hold the rig by the foot of Orlop active MRW–OST, not by the body.",
            PULL,
            "Power on.",
            STILL,
            infinity("f/2.8"),
            CORNERS,
        ],
    ),
    # 0.71 · 85 = 60.35 mm, in whole millimetres. 46 · 0.71 = 32.66 mm over 20 × 15: room for half the travel of 3 mm.
    "reducer": Expected(
        "kel-85",
        "lark",
        ["kel-plm-reducer"],
        [
            OFF,
            f"Kelvane 85/1.8 onto Orlop reducer 0.71 KLV–PLM. {KLV}",
            f"Orlop reducer 0.71 KLV–PLM onto Pellam Lark. {PLM}",
            PULL,
            "Power on.",
            ASKS,
            enter("60", "Camera › Steady › Focal length: whole millimetres"),
            store("85/1.8", 3),
            "Set the stabiliser to all directions (Camera › Steady: all directions).",
            CORNERS_AT_TRAVEL,
            PRIORITY,
            "For focusing, use the magnifier (Side button: hold it; an inset, 3 ×, 7 × or 14 ×; it does not come up by "
            "itself; to leave it: press the side button once more).",
            STOP_DOWN,
            infinity("f/1.8"),
            CORNERS,
            NOTE,
            SUN,
        ],
    ),
    "helicoid": Expected(
        "kel-85",
        "o7",
        ["kel-ost-close"],
        [
            OFF,
            f"Kelvane 85/1.8 onto Northgate KLV–OST helicoid. {KLV}",
            f"Northgate KLV–OST helicoid onto Ostrel O7. {OST}",
            PULL,
            "Power on.",
            ASKS,
            ALLOW,
            enter("85"),
            store("85/1.8+KLV"),
            STILL,
            CORNERS_AT_TRAVEL,
            PRIORITY,
            "Northgate KLV–OST helicoid: close it for infinity; open it for close-up.",
            MAGNIFY,
            STOP_DOWN,
            infinity("f/1.8"),
            CORNERS,
            NOTE,
            SUN,
        ],
    ),
    "breech lock": Expected(
        "brn-52",
        "o7",
        ["brn-ost-fine"],
        [
            "Open the lock ring of the lens before you seat it.",
            OFF,
            "Brannoch 52/2 onto Ferrule BRN–OST, locking. Notch up.",
            "Lock it: Open the lock ring first; seat the lens, then turn the ring shut.",
            f"Ferrule BRN–OST, locking onto Ostrel O7. {OST}",
            PULL,
            "Power on.",
            ASKS,
            ALLOW,
            enter("52"),
            store("52/2+BRN–OST"),
            STILL,
            CORNERS_AT_TRAVEL,
            PRIORITY,
            MAGNIFY,
            STOP_DOWN,
            infinity("f/2"),
            CORNERS,
            NOTE,
        ],
    ),
    "locking collar": Expected(
        "qlk-35",
        "vigil",
        ["qlk-skn-lock"],
        [
            OFF,
            "Quillon 35/1.5 onto Ferrule QLK–SKN. Pin in the notch you want: four ways, a quarter turn apart.",
            QLK,
            "Ferrule QLK–SKN onto Skarn Vigil. Pin upright.",
            QLK,
            "On a tripod, hold the rig by the foot of Ferrule QLK–SKN, not by the body.",
            PULL,
            "Power on.",
            ASKS,
            enter("35", "Lens › Manual lens › Focal length: as engraved, times the glass"),
            store("35/1.5+QLK–SKN", 4),
            "Set the stabiliser to locked on rods (Camera › Steady: locked on rods).",
            "Set the exposure to manual.",
            SKARN_MONITOR,
            STOP_DOWN,
            infinity("f/1.5"),
            CORNERS,
            NOTE,
            SUN,
        ],
        use="film",
    ),
    # The long rack goes past the probe once that is drawn back.
    "film body": Expected(
        "kel-55",
        "stave-2",
        [],
        [
            "Draw the probe of the body back by its slide until it stays.",
            OFF,
            f"Kelvane 55/2.2 onto Kelvane Stave II. {KLV}",
            PULL,
            "Power on.",
            "Meter stopped down, at the taking aperture: wide open the meter lies.",
            infinity("f/2.2"),
            CORNERS,
            "Note lens and aperture of each frame: film keeps neither.",
        ],
    ),
    # A stated circle of 31 mm over 26.2 × 13.8 (29.6 mm): no room for the whole travel of 1.6 mm.
    "squeezed": Expected(
        "qlk-50",
        "vigil",
        ["qlk-skn-lock"],
        [
            OFF,
            "Quillon 50/2 × 1.6 onto Ferrule QLK–SKN. Pin in the notch you want: four ways, a quarter turn apart. "
            "It goes on in 4 positions: put the pin into the notch that runs the squeeze along the width.",
            QLK,
            "Ferrule QLK–SKN onto Skarn Vigil. Pin upright.",
            QLK,
            "On a tripod, hold the rig by the foot of Quillon 50/2 × 1.6, not by the body.",
            PULL,
            "Power on.",
            ASKS,
            enter("50", "Lens › Manual lens › Focal length: as engraved, times the glass"),
            "See whether the stabiliser asks for the squeeze, 1.6 ×: that is not stated.",
            store("50/2+QLK–SKN", 4),
            "Set the stabiliser to locked on rods (Camera › Steady: locked on rods).",
            CORNERS_AT_TRAVEL,
            "Set the exposure to manual.",
            "Set the desqueeze to 1.6 × (Monitor › Squeeze: 1.6).",
            SKARN_MONITOR,
            STOP_DOWN,
            infinity("f/2"),
            "Look at something round: if it leans, the lens sits in the wrong notch.",
            CORNERS,
            NOTE,
        ],
        use="film",
    ),
    # A lever that nothing moves: the iris stays closed.
    "zoom": Expected(
        "kel-28-80",
        "o7",
        ["kel-ost-plain"],
        [
            OFF,
            f"Kelvane 28–80/3.5–4.5 onto Plain ring KLV–OST. {KLV}",
            f"Plain ring KLV–OST onto Ostrel O7. {OST}",
            PULL,
            "Power on.",
            ASKS,
            ALLOW,
            enter("28 to 80", more=" Enter it again at each zoom setting, and do not zoom during a take."),
            store("28–80 at 28"),
            STILL,
            CORNERS_AT_TRAVEL,
            PRIORITY,
            MAGNIFY,
            "The aperture cannot be set: expose by time and sensitivity alone.",
            infinity("f/22"),
            CORNERS,
            NOTE,
        ],
    ),
}


def practice_of(use: str) -> Practice:
    return Practice.model_validate({"use": use})


@pytest.mark.parametrize("kind", TEN)
def test_the_card_of_a(kind: str, sample: World) -> None:
    rig = TEN[kind]
    found = to_rehearse(sample, Rig.of(rig.lens, rig.body, rig.via), practice_of(rig.use))
    assert [one.text for one in found.steps] == rig.steps


# What a camera sees of each card, by hand: controls in the order of the steps.
SEEN = {
    "plain": "power mounted power release_without_lens focal_length store stabiliser travel exposure magnifier iris "
    "focus",
    "chipped": "power mounted power focal_length travel exposure magnifier iris focus",
    "translating": "power mounted power stabiliser",
    "reducer": "power mounted power focal_length store stabiliser travel exposure magnifier iris focus",
    "helicoid": "power mounted power release_without_lens focal_length store stabiliser travel exposure magnifier iris "
    "focus",
    "breech lock": "power mounted power release_without_lens focal_length store stabiliser travel exposure magnifier "
    "iris focus",
    "locking collar": "power mounted power focal_length store stabiliser exposure magnifier iris focus",
    "film body": "power mounted power focus",
    "squeezed": "power mounted power focal_length store stabiliser travel exposure squeeze magnifier iris focus",
    "zoom": "power mounted power release_without_lens focal_length store stabiliser travel exposure magnifier focus",
}


@pytest.mark.parametrize("kind", TEN)
def test_what_the_camera_sees_of_a(kind: str, sample: World) -> None:
    rig = TEN[kind]
    found = to_rehearse(sample, Rig.of(rig.lens, rig.body, rig.via), practice_of(rig.use))
    assert [deed.control for one in found.steps for deed in one.deeds] == SEEN[kind].split()


@pytest.mark.parametrize("kind", TEN)
def test_all_steps_take_the_frame_and_none_can_be_left_out(kind: str, sample: World) -> None:
    rig = TEN[kind]
    asked = (sample, rig.lens, rig.body, rig.via, practice_of(rig.use))
    whole = Worked(*asked)
    assert whole.rehearsal.passed, whole.rehearsal.says
    for number in whole.changing:
        left = Worked(*asked, leave_out={number})
        text = whole.found.steps[number - 1].text
        assert not left.rehearsal.passed, text
        # It says which step mends it, or that this one is not done.
        missing = [one.number for one in left.rehearsal.steps if one.seen == "not_yet"]
        assert number in (*left.rehearsal.mends, *missing), text


def test_every_rig_of_the_sample_can_be_rehearsed_to_its_frame(sample: World) -> None:
    """Every lens on every body by the chains that join them directly, for stills and film, the focal length entered or
    not."""
    tried = 0
    for number, lens in enumerate(sample.gear.mounted):
        for other, body in enumerate(sample.gear.bodies):
            chains: list[list[str]] = [[]] if lens.mount == body.mount else []
            chains += [
                [one.id] for one in sample.gear.adapters if (one.lens_mount, one.body_mount) == (lens.mount, body.mount)
            ]
            # One of each pair's rings in turn, for one use and one school in turn.
            chain = chains[(number + other) % len(chains)] if chains else None
            if chain is None:
                continue
            schools = {"use": ("still", "film")[number % 2], "entry": ("essential", "skip")[(number + other) % 3 == 0]}
            practice = Practice.model_validate(schools)
            found = to_rehearse(sample, Rig.of(lens.id, body.id, chain), practice)
            if found.attached is None:
                continue
            worked = Worked(sample, lens.id, body.id, chain, practice)
            assert worked.rehearsal.passed, (lens.id, body.id, chain, practice, worked.rehearsal.says)
            tried += 1
    assert tried > 60


def without(kind: str, control: str, sample: World) -> str:
    """What the rehearsal of a card says when the step of one control is left out."""
    rig = TEN[kind]
    asked = (sample, rig.lens, rig.body, rig.via, practice_of(rig.use))
    steps = to_rehearse(sample, Rig.of(rig.lens, rig.body, rig.via), practice_of(rig.use)).steps
    number = next(n for n, one in enumerate(steps, 1) if control in {deed.control for deed in one.deeds})
    return Worked(*asked, leave_out={number}).rehearsal.says


@pytest.mark.parametrize(
    ("kind", "control", "said"),
    [
        ("plain", "release_without_lens", "refused. It sees no lens, and release without a lens is not allowed."),
        # The last lens had 85 mm; 0.71 · 85 mm in whole millimetres is 60.
        ("reducer", "focal_length", "The stabiliser works for 85 mm, this lens wants 60 mm: it moves too much"),
        ("reducer", "stabiliser", "The stabiliser stands at sensor and picture, not at all directions"),
        ("plain", "travel", "The corners go dark at the ends of the stabiliser's travel"),
        ("plain", "exposure", "P sets an aperture that this camera cannot move"),
        ("plain", "magnifier", "Focused by the small picture alone: nearly, not quite."),
        ("plain", "focus", "The ring stands where it stood: it is out of focus."),
        ("plain", "iris", "It was taken wide open, at f/2.2."),
        ("squeezed", "squeeze", "Finder and picture are squeezed: desqueeze by 1.6 ×."),
        ("film body", "mounted", "Another lens is on it still."),
    ],
)
def test_a_step_left_out_behaves_as_a_body_does(kind: str, control: str, said: str, sample: World) -> None:
    assert said in without(kind, control, sample)


def test_a_rig_that_must_not_be_joined_is_not_rehearsed(sample: World) -> None:
    found = to_rehearse(sample, Rig.of("kel-55", "stave-3", []), Practice())
    assert found.attached is None
    assert "shears off" in found.sentence


def test_a_wrong_name_is_refused_by_the_camera(sample: World) -> None:
    worked = Worked(sample, "kel-55", "o7", ["kel-ost-plain"], Practice())
    with pytest.raises(NotDoneError, match="at most 12 letters"):
        worked.do("store", {"name": "Kelvane 55/2.2 on the plain ring"})


def test_what_the_rig_cannot_do_better_is_said_with_its_frame(sample: World) -> None:
    """Nobody measured a circle of the workshop's long lens, and nothing moves its focus."""
    worked = Worked(sample, "tub-400", "o7", ["tub-ost-plain"], Practice())
    assert worked.rehearsal.passed, worked.rehearsal.says
    assert worked.rehearsal.says.endswith(
        "Nobody knows its image circle: look at the corners. Nothing moves its focus."
    )
