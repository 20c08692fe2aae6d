"""The classic mistakes with a crop factor: what is told, and which of them leads to a number."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, ring, world_of
from tropeion.core.becomes.becoming_tables import RigBecomes, rig_becomes
from tropeion.core.becomes.mistakes import TAKEN_WITHIN, Mistake, guess_of
from tropeion.core.becomes.reference import FULL_FRAME
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice

LARK_CROP = 43.266615 / 25


def becomes(sample: World, via: str = "kel-plm-plain", on: str = "lark") -> RigBecomes:
    return rig_becomes(sample, Rig.of("kel-55", on, [via]), FULL_FRAME, Practice())


def told(found: RigBecomes) -> dict[str, Mistake]:
    return {one.where: one for one in found.mistakes}


# 55 × 1.73 = 95.2 mm; again × 1.73 = 164.7 mm; f/2.2 × 1.73 = f/3.8.
def test_on_a_small_sensor_all_four_are_told(sample: World) -> None:
    found = told(becomes(sample))
    assert set(found) == {"framing", "ring", "stabiliser", "exposure"}
    assert (found["framing"].right, found["framing"].wrong) == ("95.2 mm", "165 mm")
    assert (found["stabiliser"].right, found["stabiliser"].wrong) == ("55 mm", "95.2 mm")
    assert (found["exposure"].right, found["exposure"].wrong) == ("f/2.2", "f/3.8")
    assert "changes neither focal length nor crop factor" in found["ring"].says


# 55 × 0.71 = 39.05 mm, × 1.73 = 67.6 mm; the sensor stays 1.73, it does not become 1.23.
def test_behind_glass_the_lens_changes_and_not_the_sensor(sample: World) -> None:
    found = told(becomes(sample, "kel-plm-reducer"))
    assert found["ring"].right == "55 mm × 0.71 = 39 mm"
    assert found["ring"].wrong == "a crop factor of 1.23"
    assert "the sensor stays as it is, × 1.73" in found["ring"].says
    assert found["framing"].right == "67.6 mm"
    assert found["stabiliser"].right == "39 mm"


def test_on_the_whole_reference_only_the_ring_can_be_mistaken(sample: World) -> None:
    assert set(told(becomes(sample, "kel-ost-plain", "o7"))) == {"ring"}


@pytest.mark.parametrize(
    ("via", "value", "right", "says"),
    [
        ("kel-plm-plain", 95.2, True, "Right for the view"),
        ("kel-plm-plain", 55.0, True, "Right for the stabiliser"),
        ("kel-plm-plain", 164.7, False, "counted twice"),
        ("kel-plm-plain", 31.8, False, "Divided by the crop"),
        ("kel-plm-reducer", 67.6, True, "Right for the view"),
        ("kel-plm-reducer", 95.2, False, "The glass forgotten"),
        ("kel-plm-reducer", 55.0, False, "The glass forgotten"),
        ("kel-plm-reducer", 48.0, False, "The glass counted twice"),
        ("kel-plm-reducer", 77.5, False, "Divided by the glass"),
    ],
)
def test_which_mistake_leads_to_a_length(sample: World, via: str, value: float, right: bool, says: str) -> None:
    found = rig_becomes(sample, Rig.of("kel-55", "lark", [via]), FULL_FRAME, Practice(), guessed=(value, "mm")).guess
    assert found is not None
    assert (found.right, says in found.says) == (right, True), found.says


@pytest.mark.parametrize(
    ("via", "value", "right", "says"),
    [
        ("kel-plm-plain", 2.2, True, "Right for exposure"),
        ("kel-plm-plain", 3.8, True, "Right for depth of field"),
        ("kel-plm-plain", 6.6, False, "counted twice"),
        ("kel-plm-reducer", 1.56, True, "Right for exposure"),
        ("kel-plm-reducer", 2.2, False, "On the ring"),
        ("kel-plm-reducer", 3.8, False, "The glass forgotten"),
        ("kel-plm-reducer", 1.11, False, "The glass counted twice"),
    ],
)
def test_which_mistake_leads_to_an_aperture(sample: World, via: str, value: float, right: bool, says: str) -> None:
    found = rig_becomes(sample, Rig.of("kel-55", "lark", [via]), FULL_FRAME, Practice(), guessed=(value, "f")).guess
    assert found is not None
    assert (found.right, says in found.says) == (right, True), found.says


def test_a_number_that_nothing_leads_to_is_not_explained(sample: World) -> None:
    found = rig_becomes(
        sample, Rig.of("kel-55", "lark", ["kel-plm-plain"]), FULL_FRAME, Practice(), guessed=(71.0, "mm")
    )
    assert found.guess is None


@given(st.floats(1, 2000))
def test_what_is_told_of_a_number_is_within_reach_of_it(sample: World, value: float) -> None:
    found = becomes(sample, "kel-plm-reducer")
    at, k, crop = found.settings[0], 0.71, LARK_CROP
    guess = guess_of(value, (at,), k, crop, FULL_FRAME, "mm")
    # Every number that these three factors can make of 55 mm, once or twice.
    known = {55 * k**i * crop**j for i in (-1, 0, 1, 2) for j in (-1, 0, 1, 2)}
    if guess is not None:
        assert any(abs(value / one - 1) <= TAKEN_WITHIN + 1e-4 for one in known)


def test_a_zoom_is_told_of_the_setting_that_is_asked(sample: World) -> None:
    found = rig_becomes(sample, Rig.of("kel-28-80", "lark", ["kel-plm-plain"]), FULL_FRAME, Practice(), marked_mm=50)
    assert told(found)["framing"].right == "86.5 mm"


@pytest.mark.parametrize(
    ("value", "right", "said"),
    [
        # 24 … 70 mm behind 0.72 are 17.3 … 50.4 mm; the reducer forgotten, the ring's own mark.
        (70.0, False, "At 70 mm on the ring. The glass forgotten: with it the lens is 50.4 mm."),
        (50.4, True, "At 70 mm on the ring. Right for the stabiliser and the log"),
        (17.3, True, "Right for the stabiliser and the log"),
    ],
)
def test_every_mark_of_a_zoom_is_tried(sample: World, value: float, right: bool, said: str) -> None:
    rig = Rig.of("mrw-24-70", "lark", ["mrw-plm-reducer"])
    guess = rig_becomes(sample, rig, FULL_FRAME, Practice(), guessed=(value, "mm")).guess
    assert guess is not None
    assert guess.right is right
    assert guess.says.startswith(said)


def test_a_crop_of_half_a_hundredth_is_no_mistake() -> None:
    """36 × 23.9 mm crops 1.002 times: nothing comes of counting that twice."""
    nearly = world_of([ring()], the_body=body(sensor_mm=[36.0, 23.9]))
    found = rig_becomes(nearly, Rig.of("lens", "body", ["ring"]), FULL_FRAME, Practice(), guessed=(50.1, "mm"))
    assert {one.where for one in found.mistakes} == {"ring"}
    assert found.guess is not None
    assert found.guess.right
    smaller = world_of([ring()], the_body=body(sensor_mm=[35.0, 23.4]))
    told = rig_becomes(smaller, Rig.of("lens", "body", ["ring"]), FULL_FRAME, Practice()).mistakes
    assert {"framing", "exposure"} <= {one.where for one in told}
