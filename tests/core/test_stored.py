"""Places of stored lenses: who shares one, what goes where, what is stale."""

from __future__ import annotations

import uuid
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.card import Use
from tropeion.core.records.record import begun
from tropeion.core.records.stored_lens import StoredLens
from tropeion.core.setup.stored import Need, RigAsked, StoredReport, stored_report


def world(places: int = 3, focals: tuple[float, ...] = (35, 50, 85), **stabiliser: Any) -> World:
    """Prime lenses l0, l1, … through one plain ring; a body with so many places."""
    steady = {"travel_mm": 3.0, "stored_lenses": places, **stabiliser}
    return compile_world(
        gear_of(
            {
                "mounts": [mount("front", 45.0), mount("rear", 20.0)],
                "bodies": [body(stabiliser=steady)],
                "lenses": [
                    lens(id=f"l{number}", name=f"Lens {focal:g}/2", focal_length_mm=[focal, focal])
                    for number, focal in enumerate(focals)
                ],
                "adapters": [ring()],
            }
        )
    )


def rigs(*numbers: int) -> list[RigAsked]:
    return [RigAsked(f"rig {number}", f"l{number}", ("ring",)) for number in numbers]


def name(number: int) -> str:
    return Rig.of(f"l{number}", "body", ["ring"]).id


def stored(number: int, lens_number: int, mm: float, **changes: Any) -> StoredLens:
    values: dict[str, Any] = {
        "id": str(uuid.UUID(int=number)),
        "at": "2026-11-26T10:00:00+00:00",
        "items": begun(Rig.of(f"l{lens_number}", "body", ["ring"]).items)["items"],
        "body": "body",
        "number": number,
        "label": f"L{lens_number}",
        "rig": name(lens_number),
        "marked_mm": mm,
        "focal_length_mm": mm,
        "area": "full",
        "travel": 1.0,
        "day": "2026-11-26",
        **changes,
    }
    return StoredLens(**values)


def report(
    made: World, asked: list[RigAsked], there: list[StoredLens] | None = None, used: dict[str, Use] | None = None
) -> StoredReport:
    return stored_report(made, "body", asked, there or [], used or {}, Practice())


def by_focal(found: StoredReport) -> dict[float, Need]:
    return {one.focal_length_mm: one for one in found.needs}


def test_each_entry_goes_to_a_free_place() -> None:
    found = report(world(), rigs(0, 1, 2))
    assert {mm: one.into for mm, one in by_focal(found).items()} == {35: 1, 50: 2, 85: 3}
    assert found.says == "3 entries for 3 places. 3 still to be stored."


def test_rigs_that_enter_the_same_share_a_place() -> None:
    found = report(world(focals=(50, 50, 85)), rigs(0, 1, 2))
    assert by_focal(found)[50].rigs == ("rig 0", "rig 1")
    assert len(found.needs) == 2


def test_what_is_stored_is_found_again() -> None:
    found = report(world(), rigs(0, 1), [stored(2, 1, 50)])
    assert (by_focal(found)[50].at, by_focal(found)[50].into) == (2, None)
    # The free place is taken, not the one that serves.
    assert by_focal(found)[35].into == 1
    assert found.slots[1].rigs == ("rig 1",)
    assert found.slots[1].stale == ""


def test_a_changed_entry_goes_where_the_old_one_stands() -> None:
    # The place holds 49 mm for the lens of 50.
    found = report(world(), rigs(0, 1), [stored(1, 1, 50, focal_length_mm=49.0)])
    assert found.slots[0].stale == "49 mm before, 50 mm now"
    assert by_focal(found)[50].into == 1
    assert by_focal(found)[35].into == 2
    assert "1 place is stale." in found.says


def test_a_change_of_travel_makes_stale_too() -> None:
    found = report(world(), rigs(1), [stored(1, 1, 50, travel=0.5)])
    assert found.slots[0].stale == "50% of the travel before, 100% now"


def test_what_nobody_keeps_any_more_is_stale() -> None:
    assert report(world(), rigs(0), [stored(1, 2, 85)]).slots[0].stale == "no kept rig uses it"
    gone = stored(1, 7, 85)
    assert report(world(), rigs(0), [gone]).slots[0].stale == "a piece of it is gone from the collection"


def test_with_fewer_places_those_used_last_keep_one() -> None:
    used = {name(0): Use(9, "2026-01-01"), name(1): Use(1, "2026-11-01"), name(2): Use(2, "2026-10-01")}
    found = by_focal(report(world(places=2), rigs(0, 1, 2), used=used))
    assert {mm: one.into for mm, one in found.items()} == {50: 1, 85: 2, 35: None}
    assert found[35].says == "no place is left: enter it by hand"


def test_of_the_same_day_those_used_most() -> None:
    used = {name(0): Use(1, "2026-11-01"), name(1): Use(5, "2026-11-01")}
    found = by_focal(report(world(places=1), rigs(0, 1), used=used))
    assert (found[50].into, found[35].into) == (1, None)


def test_the_one_used_longest_ago_is_overwritten() -> None:
    there = [stored(1, 0, 35), stored(2, 2, 85)]
    used = {name(0): Use(3, "2026-11-20"), name(1): Use(1, "2026-11-25"), name(2): Use(1, "2026-02-01")}
    found = by_focal(report(world(places=2), rigs(0, 1, 2), there, used))
    assert found[50].into == 2
    assert found[50].says == "overwrites “L2”, used last on 2026-02-01"
    assert found[85].says == "stored as “L2”, and gives way to what was used later"


def test_what_is_pinned_is_never_overwritten() -> None:
    there = [stored(1, 0, 35, pinned=True), stored(2, 2, 85, pinned=True)]
    found = by_focal(report(world(places=2), rigs(0, 1, 2), there, {name(1): Use(1, "2026-11-25")}))
    assert (found[50].into, found[35].at, found[85].at) == (None, 1, 2)


@given(
    st.integers(0, 4),
    st.lists(st.integers(0, 4), max_size=5, unique=True),
    st.lists(st.booleans(), min_size=5, max_size=5),
    st.lists(st.integers(1, 28), min_size=5, max_size=5),
)
def test_no_place_is_given_twice_nor_a_pinned_one(
    places: int, held: list[int], pinned: list[bool], days: list[int]
) -> None:
    focals = (20.0, 35.0, 50.0, 85.0, 135.0)
    there = [
        stored(number, lens_number, focals[lens_number], pinned=pinned[lens_number])
        for number, lens_number in enumerate(held[:places], 1)
    ]
    used = {name(number): Use(1, f"2026-11-{day:02d}") for number, day in enumerate(days)}
    found = report(world(places, focals), rigs(0, 1, 2, 3, 4), there, used)
    given_places = [one.into for one in found.needs if one.into is not None]
    assert len(given_places) == len(set(given_places))
    assert not set(given_places) & {one.number for one in there if one.pinned}
    # Who keeps a place was used no longer ago than who finds none.
    stays = {id(one): one.into is not None or (one.at is not None and not one.gives_way) for one in found.needs}
    kept = [one.last or "" for one in found.needs if stays[id(one)]]
    left = [one.last or "" for one in found.needs if not stays[id(one)]]
    assert len(kept) <= places
    if kept and left and not any(one.pinned for one in there):
        assert min(kept) >= max(left)


def test_a_zoom_wants_an_entry_for_each_mark() -> None:
    made = world(focals=(50,))
    zoom = lens(id="zoom", name="Lens 28–80/4", focal_length_mm=[28, 80], marked_focal_lengths_mm=[35, 50])
    document = made.gear.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    document["lenses"] = [zoom]
    both = compile_world(gear_of({key: document[key] for key in ("mounts", "bodies", "lenses", "adapters")}))
    found = report(both, [RigAsked("zoom", "zoom", ("ring",))])
    assert sorted(by_focal(found)) == [28, 35, 50, 80]


def test_a_body_with_presets_alone_stores_nothing_and_says_so() -> None:
    found = report(world(places=0, presets_mm=[35.0, 50.0, 100.0]), rigs(2))
    # 85 is nearer to 100 than to 50 by ratio.
    assert [one.focal_length_mm for one in found.needs] == [100]
    assert found.says == "Test body has presets alone: choose the nearest."
    assert found.slots == ()


def test_no_rig_wants_an_entry_on_a_body_without_stabiliser() -> None:
    made = world()
    document = made.gear.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    document["bodies"] = [body()]
    plain = compile_world(gear_of({key: document[key] for key in ("mounts", "bodies", "lenses", "adapters")}))
    assert report(plain, rigs(0)).says == "No rig that is kept on Test body wants an entry."
