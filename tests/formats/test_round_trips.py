"""Out and in again, over random collections: nothing changes."""

from __future__ import annotations

from collections import Counter
from typing import Any

from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.random_gear import gears
from tests.thorough import examples
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS
from tropeion.core.gear.kit import items, selection
from tropeion.core.gear.merge import compare, merged
from tropeion.core.gear.references import check_references
from tropeion.formats import gear_file
from tropeion.formats.any_file import load_any
from tropeion.formats.kit_tables import dump_table

STEADY = settings(
    max_examples=examples(40),
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
    phases=[Phase.explicit, Phase.generate],
)


def test_the_random_collections_hold_something_of_every_kind() -> None:
    """Else the tests below would say nothing."""
    held: Counter[str] = Counter()

    @settings(STEADY, database=None, max_examples=examples(120))
    @given(gear=gears())
    def count(gear: Gear) -> None:
        held.update({kind: len(items(gear, kind)) for kind in KINDS})

    count()
    assert all(held[kind] > 2 for kind in KINDS), held


@STEADY
@given(gear=gears())
def test_a_gear_file_comes_back_as_it_went(gear: Gear) -> None:
    back = load_any(gear_file.dump(gear), gear)
    assert back == gear
    assert {change.status for change in compare(gear, back)} <= {"same"}


@STEADY
@given(gear=gears(), decimal=st.sampled_from(["point", "comma"]))
def test_tables_come_back_as_they_went(gear: Gear, decimal: Any) -> None:
    for kind in KINDS:
        if not items(gear, kind):
            continue
        back = load_any(dump_table(kind, items(gear, kind), decimal=decimal), gear)
        assert items(back, kind) == items(gear, kind)


@STEADY
@given(gear=gears())
def test_all_tables_rebuild_the_whole_from_nothing(gear: Gear) -> None:
    mine = Gear(format="tropeion-gear", version=1)
    for kind in KINDS:
        if items(gear, kind):
            theirs = load_any(dump_table(kind, items(gear, kind)), mine)
            mine = merged(mine, theirs, {(kind, item.id) for item in items(theirs, kind)})
    assert mine == gear


@STEADY
@given(gear=gears(), kind=st.sampled_from(KINDS), keep=st.integers(0, 7))
def test_a_selection_refers_only_to_what_it_holds(gear: Gear, kind: Any, keep: int) -> None:
    ids = {item.id for number, item in enumerate(items(gear, kind)) if keep >> number & 1}
    alone = selection(gear, kind, ids)
    assert not check_references(alone)
    assert {item.id for item in items(alone, kind)} >= ids
