"""Labels: a hundred that the reader was made with, fifty that were kept aside until it was done."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.answers.label_mentions import CERTAIN
from tropeion.core.answers.labels import LabelSide, read_label
from tropeion.core.gear.world import World

FOLDER = Path(__file__).parent / "labels"


def labels(name: str) -> list[tuple[str, set[str], set[str]]]:
    """Each label with the mounts that may be right on either side; none where it says nothing."""
    found = []
    for line in (FOLDER / name).read_text(encoding="utf-8").splitlines():
        if line and not line.startswith("#"):
            text, lens, body = line.rsplit(" | ", 2)
            found.append((text, set(lens.strip().split("/")) - {"-"}, set(body.strip().split("/")) - {"-"}))
    return found


def right(side: tuple[LabelSide, ...], expected: set[str]) -> bool:
    return side[0].mount in expected if side and expected else not side and not expected


@pytest.mark.parametrize(("name", "count"), [("known.txt", 100), ("aside.txt", 50)])
def test_both_ends_are_right_in_nineteen_of_twenty_and_no_wrong_one_is_certain(
    sample: World, name: str, count: int
) -> None:
    found = labels(name)
    assert len(found) == count
    wrong = []
    for text, lens, body in found:
        label = read_label(sample, text)
        for side, expected in ((label.lens_side, lens), (label.body_side, body)):
            sure = [one for one in side if one.confidence >= CERTAIN]
            assert all(one.mount in expected for one in sure), (text, label)
        if not (right(label.lens_side, lens) and right(label.body_side, body)):
            wrong.append((text, label))
    assert len(wrong) <= 0.05 * count, wrong


def codes(sample: World, text: str) -> set[str]:
    return {doubt.code for doubt in read_label(sample, text).doubts}


def test_each_doubt_is_named(sample: World) -> None:
    assert codes(sample, "KLV-OST") == set()
    # A code in the wrong order: no ring goes from a short register to a long one.
    assert "ends_may_be_swapped" in codes(sample, "OST-KLV")
    assert "shared_thread" in codes(sample, "46x1.1-OST")
    assert "pitch_unstated" in codes(sample, "M46 to OST")
    assert "shared_name" in codes(sample, "Tolmer to Ostrel")
    assert "unknown_word" in codes(sample, "XYZ to body")
    assert "near_spelling" in codes(sample, "Kelvan to Ostrel")
    assert "one_end_missing" in codes(sample, "for Kelvane lenses")
    assert "nothing_known" in codes(sample, "a nice old box")
    assert "more_than_two" in codes(sample, "KLV lens, OST body, also PLM")


def test_a_pitch_tells_the_threads_apart_and_a_comma_is_a_point(sample: World) -> None:
    for text in ("53x1.0 to Ostrel", "53 × 1,0 to Ostrel", "M53×1.0 → OST"):
        assert read_label(sample, text).lens_side[0].mount == "tube-53"
    assert {side.mount for side in read_label(sample, "46×1.1 to OST").lens_side} == {"tolmer", "tolmer-pr"}


@given(st.text(max_size=500))
def test_any_text_is_read_and_confidences_are_shares(sample: World, text: str) -> None:
    label = read_label(sample, text)
    for side in (label.lens_side, label.body_side):
        assert all(0 < one.confidence <= 1 for one in side)
        assert sum(one.confidence for one in side) <= 1.01
        assert [one.confidence for one in side] == sorted((one.confidence for one in side), reverse=True)


@given(st.sampled_from(labels("known.txt")), st.sampled_from([str.upper, str.lower, str.title]))
def test_case_and_space_do_not_matter(sample: World, known: tuple[str, set[str], set[str]], case: object) -> None:
    text = known[0]
    assert callable(case)
    other = read_label(sample, "  " + str(case(text)).replace(" ", "  "))
    assert (other.lens_side, other.body_side) == (
        read_label(sample, text).lens_side,
        read_label(sample, text).body_side,
    )


def test_glass_chip_length_and_what_is_left_are_named(sample: World) -> None:
    label = read_label(sample, "Hobb & Lyle KLV-OST 25.8 mm, chipped")
    assert (label.chip, label.length_mm, label.glass, label.unread) == ("chipped", 25.8, None, ("Hobb", "Lyle"))
    assert "chip_said" in {doubt.code for doubt in label.doubts}
    for text in ("KLV-PLM reducer", "KLV–PLM 0.71x", "Kelvane to Pellam with optics", "KLV-PLM corrective glass"):
        assert read_label(sample, text).glass is not None
        assert "glass_said" in codes(sample, text)
    assert read_label(sample, "KLV-OST, no glass").glass is None
    assert read_label(sample, "46x1.1 to OST").glass is None


@given(st.sampled_from(labels("known.txt")), st.sampled_from(["Wharfedge", "quoin", "Zibeline"]))
def test_no_word_is_dropped(sample: World, known: tuple[str, set[str], set[str]], word: str) -> None:
    assert word in read_label(sample, f"{known[0]} {word}").unread


def test_correcting_glass_wants_no_room(sample: World) -> None:
    # 39.40 to 42.80 mm: no ring has room, and glass carries the image back.
    label = read_label(sample, "BRN–MRW correcting glass 1.24x")
    assert (label.lens_side[0].mount, label.body_side[0].mount) == ("brannoch", "marwick")
    assert "no_room_this_way" not in {doubt.code for doubt in label.doubts}


def test_a_reading_without_room_says_so_and_what_would_have(sample: World) -> None:
    assert "no_room_this_way" in codes(sample, "Ostrel lens to Kelvane body")
    assert "no_room_this_way" not in codes(sample, "Kelvane lens to Ostrel body")
