"""Many lenses at once: lines as engraved or noted down, read, corrected and kept."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import gear_of
from tropeion.core.answers.beginning import GivenMount, UnreadableError
from tropeion.core.answers.lens_lines import MOST_LINES, LensGiven, LensLine, begin_lenses, read_lens_lines
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World, compile_world

EMPTY = compile_world(gear_of({}))


def told(line: LensLine) -> tuple[object, ...]:
    ends = (line.focal_mm, line.focal_long_mm)
    return line.mount_name, ends, (line.f_number, line.f_number_at_long_end), line.smallest_f_number, line.min_focus_m


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("Corvin 1:2,8/28 f/22 .3m", ("Corvin", (28, None), (2.8, None), 22, 0.3)),
        ("Corvin 1:1.8/50 f/16 0,45 m", ("Corvin", (50, None), (1.8, None), 16, 0.45)),
        ("Delmar 28-80mm 1:3.5-4.5", ("Delmar", (28, 80), (3.5, 4.5), None, None)),
        ("Zephyr Macro 100 mm 1:4 f/32", ("Zephyr", (100, None), (4, None), 32, None)),
        ("Zephyr Auto 135mm f/3.5 f/22 1.5m", ("Zephyr", (135, None), (3.5, None), 22, 1.5)),
        ("Corvin\t50\t2", ("Corvin", (50, None), (2, None), None, None)),
        ("85/2", ("", (85, None), (2, None), None, None)),
        # The smallest stop alone is no widest one.
        ("Corvin 50 mm f/2", ("Corvin", (50, None), (2, None), None, None)),
    ],
)
def test_a_line_is_read(text: str, wanted: tuple[object, ...]) -> None:
    (line,) = read_lens_lines(EMPTY, text)
    assert told(line) == wanted


def test_a_known_system_is_told_by_any_of_its_names(sample: World) -> None:
    for text in ("Kelvane 55/2.2", "KLV 55/2.2"):
        (line,) = read_lens_lines(sample, text)
        assert (line.mount, line.mount_name, line.focal_mm) == ("kelvane", "Kelvane", 55)


def test_what_is_missing_is_asked() -> None:
    (line,) = read_lens_lines(EMPTY, "the small one")
    assert set(line.doubts) >= {"which focal length?"}


@given(st.text(max_size=400))
def test_nothing_that_is_pasted_breaks_it(text: str) -> None:
    found = read_lens_lines(EMPTY, text)
    assert len(found) <= min(MOST_LINES, sum(bool(one.strip()) for one in text.splitlines()))


def test_twelve_are_kept_with_their_new_systems_in_one() -> None:
    text = "\n".join(f"Corvin {mm}/2.8 f/22 .5m" for mm in (21, 24, 28, 35, 50, 85))
    text += "\n" + "\n".join(f"Delmar {mm}/4" for mm in (20, 40, 60, 100, 150, 200))
    lines = read_lens_lines(EMPTY, text)
    flanges = {"Corvin": 46.3, "Delmar": 38.8}
    given_ = [
        LensGiven(
            line.text,
            GivenMount(line.mount_name, flanges[line.mount_name]),
            (line.focal_mm or 0, line.focal_mm or 0),
            line.f_number,
            None,
            line.smallest_f_number,
            line.min_focus_m,
        )
        for line in lines
    ]
    begun = begin_lenses(EMPTY, given_, owned=True)
    kinds = [kind for kind, _ in begun.entries]
    assert (kinds.count("mounts"), kinds.count("lenses")) == (2, 12)
    lenses = [entry for _, entry in begun.entries if isinstance(entry, Lens)]
    assert len({one.id for one in lenses}) == 12
    assert all(one.owned == 1 for one in lenses)
    first, last = lenses[0], lenses[-1]
    assert (first.f_number, first.min_focus_m, "f_number" in first.assumed) == ((2.8, 22.0), 0.5, False)
    # Its smallest stop is what is usual, and says so.
    assert (last.f_number, last.min_focus_m, "f_number" in last.assumed) == ((4.0, 16.0), None, True)
    assert [one.register_mm for _, one in begun.entries if isinstance(one, Mount)] == [46.3, 38.8]


def test_only_to_compare_they_are_not_owned() -> None:
    begun = begin_lenses(EMPTY, [LensGiven("A 50/2", GivenMount("A", 40.0), (50, 50), 2.0)], owned=False)
    assert isinstance(begun.item, Lens)
    assert begun.item.owned == 0


def test_a_line_that_cannot_be_kept_is_named() -> None:
    good = LensGiven("A 50/2", GivenMount("A", 40.0), (50, 50), 2.0)
    for bad, where in (
        (LensGiven("B 50/2", GivenMount("B", None), (50, 50), 2.0), "lenses.1.flange_mm"),
        (LensGiven("A 50/2", GivenMount("", None), (50, 50), 2.0), "lenses.1.mount"),
        (LensGiven("A 50/2", GivenMount("A", None), (50, 50), 22.0, None, 2.0), "lenses.1."),
    ):
        with pytest.raises(UnreadableError, match="line 2") as error:
            begin_lenses(EMPTY, [good, bad], owned=True)
        assert error.value.field.startswith(where)
