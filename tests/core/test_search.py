"""Finding gear by any part of a name."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.gear.kinds import ShelfKind
from tropeion.core.gear.search import Wanted, search
from tropeion.core.gear.world import World, nearest


def ids(world: World, kind: ShelfKind, query: str) -> list[str]:
    return list(search(world, kind, Wanted(q=query, sort="nearest")))


def test_by_any_part_of_the_name(sample: World) -> None:
    assert ids(sample, "lenses", "55/2") == ["kel-55"]
    assert set(ids(sample, "lenses", "close")) == {"mrw-62", "brn-100"}


def test_by_the_aliases_of_the_mount(sample: World) -> None:
    kelvane = {lens.id for lens in sample.lenses.values() if lens.mount == "kelvane"}
    assert set(ids(sample, "lenses", "KLV")) == kelvane
    assert set(ids(sample, "bodies", "o-line")) == {"o7"}


def test_by_the_thread_however_it_is_written(sample: World) -> None:
    on_thread = {"tol-82", "tol-140", "tpr-36", "tpr-52", "tpr-60s"}
    for query in ("46x1.1", "46 × 1.1"):
        assert set(ids(sample, "lenses", query)) == on_thread, query
    for query in ("M46", "m46"):
        assert set(ids(sample, "lenses", query)) == on_thread, query
    # Two pitches share a diameter.
    assert set(ids(sample, "lenses", "M53")) == {"tub-400", "tub-105"}
    assert set(ids(sample, "lenses", "53x0.7")) == {"tub-105"}


def test_every_word_has_to_be_there(sample: World) -> None:
    assert ids(sample, "lenses", "kelvane 45") == ["kel-45"]
    assert ids(sample, "lenses", "kelvane 82") == []


def test_a_name_that_begins_with_it_comes_first(sample: World) -> None:
    assert ids(sample, "lenses", "lisken 4")[0] == "lis-40"
    assert ids(sample, "adapters", "ferrule lsk")[0] == "lsk-ost-plain"


@given(st.text(max_size=12))
def test_anything_may_be_typed(sample: World, query: str) -> None:
    near = search(sample, "lenses", Wanted(q=query, sort="nearest"))
    assert len(near) == len(set(near))
    # A shelf tells more of an item than its names: what a picker finds, a shelf finds too.
    assert set(near) <= set(search(sample, "lenses", Wanted(q=query))) <= set(sample.lenses)


@given(st.data())
def test_every_piece_of_a_name_finds_its_item(sample: World, data: st.DataObject) -> None:
    lens = data.draw(st.sampled_from(list(sample.lenses.values())))
    start = data.draw(st.integers(0, len(lens.name) - 1))
    stop = data.draw(st.integers(start + 1, len(lens.name)))
    assert lens.id in ids(sample, "lenses", lens.name[start:stop])


def test_near_ids_are_near() -> None:
    assert nearest("kel-5", ["kel-55", "tol-82"]) == ("kel-55",)
    assert nearest("zzz", ["kel-55"]) == ()
