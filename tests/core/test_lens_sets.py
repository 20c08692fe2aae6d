"""A set of lenses over one body: gaps and overlaps against sets made by hand, and what must hold of any set."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.becomes.becoming_tables import lenses_of, lenses_on_body
from tropeion.core.becomes.reference import FULL_FRAME, Reference
from tropeion.core.becomes.sets import LensSet, ViewSpan, gaps_of, overlaps_of
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice


def span(low: float, high: float | None = None, name: str = "") -> ViewSpan:
    label = name or f"{low:g}-{high or low:g}"
    return ViewSpan(label, label, label, low, high or low)


def gaps(*spans: ViewSpan, ratio: float = 2.0) -> list[tuple[float, float]]:
    return [(one.from_mm, one.to_mm) for one in gaps_of(spans, ratio)]


@pytest.mark.parametrize(
    ("spans", "expected"),
    [
        ([span(35), span(85)], [(35, 85)]),
        ([span(85), span(35)], [(35, 85)]),
        ([span(35), span(50), span(85)], []),
        ([span(24, 70), span(85), span(300)], [(85, 300)]),
        # The long zoom reaches past the prime that begins later.
        ([span(24, 200), span(50), span(300)], []),
        ([span(20), span(50), span(135)], [(20, 50), (50, 135)]),
        # Twice as long is no gap yet.
        ([span(50), span(100)], []),
        ([span(50)], []),
        ([], []),
    ],
)
def test_gaps_of_sets_made_by_hand(spans: list[ViewSpan], expected: list[tuple[float, float]]) -> None:
    assert gaps(*spans) == expected


def test_whoever_wants_it_closer_finds_more_gaps() -> None:
    assert gaps(span(35), span(50), span(85), ratio=1.5) == [(50, 85)]


@pytest.mark.parametrize(
    ("spans", "pairs"),
    [
        ([span(50), span(52)], [("50-50", "52-52", 50, 52)]),
        ([span(50), span(56)], []),
        ([span(24, 70), span(50)], [("24-70", "50-50", 50, 50)]),
        ([span(24, 70), span(28, 80)], [("24-70", "28-80", 28, 70)]),
        # Zooms that only meet share no view.
        ([span(24, 70), span(70, 200)], []),
        # A prime just beyond a zoom is its long end over again.
        ([span(24, 70), span(75)], [("24-70", "75-75", 70, 75)]),
        ([span(24, 70), span(85)], []),
    ],
)
def test_overlaps_of_sets_made_by_hand(spans: list[ViewSpan], pairs: list[tuple[str, str, float, float]]) -> None:
    assert [(*one.names, one.from_mm, one.to_mm) for one in overlaps_of(spans)] == pairs


def test_a_lens_does_not_overlap_itself_behind_glass() -> None:
    again = ViewSpan("through glass", "50-50", "50-50", 52, 52)
    assert overlaps_of([span(50), again]) == ()


some = st.lists(
    st.tuples(st.floats(8, 900), st.floats(1, 6)).map(lambda one: span(one[0], one[0] * one[1])), max_size=9
)


@given(some, st.floats(1.1, 4))
def test_no_view_lies_in_a_gap_and_every_wide_step_is_one(spans: list[ViewSpan], ratio: float) -> None:
    found = gaps_of(spans, ratio)
    for gap in found:
        assert gap.to_mm > gap.from_mm * ratio
        assert not any(one.low_mm < gap.to_mm and one.high_mm > gap.from_mm for one in spans)
        assert any(one.high_mm == gap.from_mm for one in spans)
        assert any(one.low_mm == gap.to_mm for one in spans)
    # From any view, the next longer one is either near or across a told gap.
    for one in spans:
        beyond = [other.low_mm for other in spans if other.low_mm > one.high_mm]
        inside = any(other.low_mm <= one.high_mm < other.high_mm for other in spans)
        if beyond and not inside and min(beyond) > one.high_mm * ratio:
            assert (one.high_mm, min(beyond)) in [(gap.from_mm, gap.to_mm) for gap in found]


@given(some)
def test_overlaps_do_not_hang_on_the_order(spans: list[ViewSpan]) -> None:
    def pairs(these: list[ViewSpan]) -> list[tuple[float, float]]:
        return sorted((one.from_mm, one.to_mm) for one in overlaps_of(these))

    assert pairs(spans) == pairs(spans[::-1])


# On a body


def three_lenses(sensor_mm: tuple[float, float] = (36.0, 24.0), **of_the_last: Any) -> World:
    marked = {"wide": 24.0, "normal": 35.0, "long": 85.0}
    lenses = [
        lens(id=name, name=name.title(), focal_length_mm=[mm, mm], owned=1, image_circle_mm=60.0)
        for name, mm in marked.items()
    ]
    lenses[-1] |= of_the_last
    document = {
        "mounts": [mount("front", 45.0), mount("rear", 20.0)],
        "bodies": [body(sensor_mm=list(sensor_mm), owned=1)],
        "lenses": lenses,
        "adapters": [ring(owned=1)],
    }
    return compile_world(gear_of(document))


def set_on(world: World, reference: Reference = FULL_FRAME, without: frozenset[str] = frozenset()) -> LensSet:
    table = lenses_on_body(world, world.body("body"), lenses_of(world, "mine"), reference, Practice(), without=without)
    assert table.lenses is not None
    return table.lenses


def test_nothing_between_35_and_85_is_said() -> None:
    made = set_on(three_lenses())
    assert [(gap.from_mm, gap.to_mm) for gap in made.gaps] == [(35, 85)]
    assert made.sentences[:2] == ("From 24 to 85 mm, as on 36 × 24.", "Nothing between 35 and 85 mm.")


def test_a_lens_that_is_left_at_home_opens_a_gap() -> None:
    world = three_lenses()
    key = next(one.row for one in set_on(world).spans if one.name == "Normal")
    assert [(gap.from_mm, gap.to_mm) for gap in set_on(world, without=frozenset({key})).gaps] == [(24, 85)]


# 24 and 35 mm are wide on 36 × 24; on 24 × 16 they are as 36 and 52.5 mm, and only up to 35 mm is wide.
def test_which_wides_stay_wide() -> None:
    assert [one.name for one in set_on(three_lenses()).wides if one.stays] == ["Wide", "Normal"]
    small = set_on(three_lenses((24.0, 16.0)))
    assert [(one.name, one.stays) for one in small.wides] == [("Wide", False), ("Normal", False)]
    assert small.wides[0].here_mm == pytest.approx(36)
    # 23 × 15.4 was the format before: on it neither of them was wide.
    assert set_on(three_lenses((24.0, 16.0)), Reference("b", "Before", 23.0, 15.4)).wides == ()


def test_what_does_not_work_fills_no_gap() -> None:
    # Without a way to focus or to stop it down it is no lens of the set.
    dead: dict[str, Any] = {"focus": "by_wire", "aperture": "electronic", "iris_at_rest": "closed"}
    made = set_on(three_lenses(**dead))
    assert [one.name for one in made.spans] == ["Wide", "Normal"]


def test_the_sample_has_a_gap_before_its_long_lens(sample: World) -> None:
    table = lenses_on_body(sample, sample.body("o7"), lenses_of(sample, "mine"), FULL_FRAME, Practice())
    assert table.lenses is not None
    (gap,) = table.lenses.gaps
    counted = {one.lens for one in table.lenses.spans}
    marked = sorted(one.focal_length_mm[1] for one in lenses_of(sample, "mine") if one.id in counted)
    assert (gap.from_mm, gap.to_mm) == (marked[-2], marked[-1])
