"""The bench's drawings: jaws, hills and builds stand where their numbers say."""

from __future__ import annotations

import itertools
import json

import pytest

from tests.browser.conftest import Page
from tests.thorough import some

SEATS = """
return [...document.querySelectorAll('.bench-seat')].map(one => one.getBBox().x).sort((a, b) => a - b);
"""


def seen(page: Page, key: str, saw: list[dict[str, object]]) -> None:
    """What was seen is written down before the screen opens."""
    said = {"saw": saw, "nameless": False, "past_infinity": True, "foils": None}
    page.driver.execute_script(
        "sessionStorage.setItem(arguments[0], arguments[1])", f"bench seen {key}", json.dumps(said)
    )


@pytest.mark.parametrize("size", some([(1280, 800), (390, 844)], [(390, 844)]))
@pytest.mark.parametrize(
    ("ring", "length"), some([("kel-ost-plain", 25.83), ("lsk-ost-plain", 7.9)], [("lsk-ost-plain", 7.9)])
)
def test_a_ring_lies_between_the_jaws_to_scale(page: Page, size: tuple[int, int], ring: str, length: float) -> None:
    page.size(*size)
    page.open(f"/bench?piece=adapters:{ring}&view=measure")
    page.answer("bench measure")
    scale = page.number(".caliper-sheet svg", "data-scale")
    left, right = page.driver.execute_script(SEATS)
    assert (right - left) / scale == pytest.approx(length, abs=0.02)
    # The bar beside it is as long as it says, and the jaws stand at the length that is stated or was read.
    assert page.box(".bench-bar")["width"] / scale == pytest.approx(10, abs=0.01)
    fixed, moving = (page.box(f"{one} .caliper-jaw") for one in (".caliper", ".caliper-slide"))
    apart = abs(fixed["x"] - (moving["x"] + moving["width"]))
    assert apart / scale == pytest.approx(page.number(".caliper-slide", "data-opening"), abs=0.02)


def test_a_body_has_its_seat_its_register_before_the_mark(page: Page) -> None:
    page.open("/bench?piece=bodies:o7&view=measure")
    page.answer("bench measure")
    scale = page.number(".caliper-sheet svg", "data-scale")
    [seat] = page.driver.execute_script(SEATS)
    sensor = page.box(".bench-plane")["x"]
    assert (sensor - seat) / scale == pytest.approx(22.4, abs=0.02)


def middle(page: Page, selector: str) -> float:
    box = page.box(selector)
    return box["x"] + box["width"] / 2


def peak(page: Page, selector: str) -> float:
    """Where a hill is highest; at the end of the strip its foot is cut off."""
    path = (page.find(selector).get_attribute("d") or "").strip("MZ")
    points = [tuple(map(float, one.split())) for one in path.split("L")]
    return min(points, key=lambda one: one[1])[0]


def test_each_hill_of_the_strip_stands_at_its_error(page: Page) -> None:
    saw: list[dict[str, object]] = [
        {"kind": "length", "values": [-0.19, 0.012], "doubt": None, "from_front": False},
        {"kind": "past_infinity", "values": [20], "doubt": None, "from_front": False},
    ]
    seen(page, "kel-55 o7 kel-ost-short", saw)
    page.open("/bench?lens=kel-55&body=o7&via=kel-ost-short&view=seen")
    page.answer("bench seen")
    page.find("[data-after]")
    zero = middle(page, ".error-zero")
    # As many pixels a millimetre as between zero and the stop whose window is known: f/4 of 0.02884 mm.
    window = page.box("[data-stop='4'] .error-window")
    scale = window["width"] / (2 * 4 * 0.028844410203711916)
    for kind in ("prior", "length", "past_infinity"):
        mean = page.number(f"[data-observation={kind}]", "data-mean")
        # Longer, which is farther from the sensor, lies to the left.
        assert zero - peak(page, f"[data-observation={kind}] .error-bell") == pytest.approx(mean * scale, abs=1.0)
    together = page.number("[data-together]", "data-together")
    assert zero - peak(page, "[data-together] .error-bell.all") == pytest.approx(together * scale, abs=1.0)
    after = page.number("g[data-after]", "data-after")
    assert zero - peak(page, ".error-bell.after") == pytest.approx(after * scale, abs=1.0)


def test_what_is_bounded_on_one_side_is_hatched_to_its_end(page: Page) -> None:
    seen(page, "kel-55 o7 kel-ost-plain", [{"kind": "nothing_at_any_stop", "values": [], "doubt": None}])
    page.open("/bench?lens=kel-55&body=o7&via=kel-ost-plain&view=seen")
    page.answer("bench seen")
    edge = middle(page, "[data-observation=nothing_at_any_stop] .error-bound-edge")
    bound = page.box("[data-observation=nothing_at_any_stop] .error-bound")
    # Too long by more than the smallest stop hides: from its edge to the left.
    assert bound["x"] + bound["width"] == pytest.approx(edge, abs=1.0)
    assert edge < middle(page, ".error-zero")


def test_a_build_fills_just_what_is_between_shoulder_and_seat(page: Page) -> None:
    page.open("/bench?body=o7&view=mountless&mountless=barrel-90")
    page.answer("bench mountless")
    shoulder, sensor = middle(page, ".build-sheet .bench-plane"), middle(page, ".build-sensor")
    seat = middle(page, ".build-sheet .bench-seat")
    scale = (sensor - shoulder) / 71.4
    assert (sensor - seat) / scale == pytest.approx(22.4, abs=0.1)
    # From the seat of the body on every piece meets the next; the one nearest to the lens ends where the sleeve begins.
    pieces = [one.get_attribute("data-build-piece") for one in page.all("[data-build-piece]")]
    boxes = [page.box(f"[data-build-piece='{one}'] .bench-cut") for one in pieces]
    assert boxes[-1]["x"] + boxes[-1]["width"] == pytest.approx(seat, abs=1.0)
    for front, rear in itertools.pairwise(boxes):
        assert front["x"] + front["width"] == pytest.approx(rear["x"], abs=1.0)
    sleeve = page.box("[data-sleeve]")
    assert sleeve["x"] == pytest.approx(shoulder, abs=1.0)


def test_the_dial_turns_by_what_was_turned(page: Page) -> None:
    page.open("/bench?lens=kel-55&body=o7&view=throw")
    page.answer("bench throw")
    # A quarter of a turn, from the top to the right.
    arc = page.box(".throw-arc")
    assert arc["width"] == pytest.approx(150, abs=1.0)
    assert arc["height"] == pytest.approx(150, abs=1.0)
