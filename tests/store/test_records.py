"""Records: kept by day, journalled and undone like all else, outliving what they are about."""

from __future__ import annotations

import sqlite3
import uuid
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from tests.prepared import sample_at
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig
from tropeion.core.records.card import Card
from tropeion.core.records.record import begun
from tropeion.formats import gear_file
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, Edit

LENS, BODY, CHAIN = "kel-55", "o7", ["kel-ost-plain"]
RIG = Rig.of(LENS, BODY, CHAIN).id
DAY = "2026-11-25"


def card(*ticked: str, day: str = DAY) -> Card:
    about = begun(Rig.of(LENS, BODY, CHAIN).items)["items"]
    return Card(id=str(uuid.uuid4()), at="2026-11-25T09:00:00+00:00", items=about, rig=RIG, day=day, ticked=ticked)


@pytest.fixture
def kept(tmp_path: Path) -> Iterator[Collection]:
    with closing(sample_at(tmp_path / "collection.sqlite")) as collection:
        yield collection


def ticked(collection: Collection, day: str = DAY) -> tuple[str, ...] | None:
    found = collection.record_of(Card, rig=RIG, day=day)
    return None if found is None else found.record.ticked


def test_each_day_has_a_card_of_its_own(kept: Collection) -> None:
    kept.keep_record(card("Power off."), "a card")
    kept.keep_record(card("Power off.", "Power on."), "a card")
    kept.keep_record(card("Power off.", day="2026-11-26"), "a card")
    assert ticked(kept) == ("Power off.", "Power on.")
    assert ticked(kept, "2026-11-26") == ("Power off.",)
    assert ticked(kept, "2026-11-27") is None


def test_ticking_off_a_list_is_one_thing_to_take_back(kept: Collection, sample_gear: Gear) -> None:
    before = len(kept.history())
    for count in range(1, 4):
        kept.keep_record(card(*"abc"[:count]), "the card")
    assert [action.title for action in kept.history()][: len(kept.history()) - before] == ["the card"]
    assert kept.undo() is not None
    assert ticked(kept) is None
    assert kept.redo() is not None
    assert ticked(kept) == ("a", "b", "c")
    # After something else was done, the list goes on as an action of its own.
    lens = find(sample_gear, "lenses", LENS).model_copy(update={"notes": "seen"})
    kept.edit([Edit("lenses", LENS, lens, kept.version("lenses", LENS))], "seen")
    kept.keep_record(card("a"), "the card again")
    kept.undo()
    assert ticked(kept) == ("a", "b", "c")
    kept.undo()
    assert ticked(kept) == ("a", "b", "c")
    kept.undo()
    assert ticked(kept) is None
    assert kept.gear() == sample_gear


def test_a_card_that_says_the_same_is_no_action(kept: Collection) -> None:
    kept.keep_record(card("a"), "the card")
    before = kept.history()
    kept.keep_record(card("a"), "the card")
    assert kept.history() == before


def test_cards_leave_the_world_as_it_is(kept: Collection) -> None:
    world, revision = kept.world(), kept.revision
    kept.keep_record(card("a"), "the card")
    kept.undo()
    assert kept.world() is world
    assert kept.revision == revision


def test_an_item_with_records_is_retired_rather_than_taken_out_and_the_history_says_so(kept: Collection) -> None:
    (rig,) = [one for one in kept.gear().rigs if one.lens == LENS and one.body == BODY][:1]
    kept.keep_record(card("a"), "the card")
    others = [one for one in kept.gear().rigs if one.lens == LENS]
    kept.edit([Edit("rigs", one.id, None, kept.version("rigs", one.id)) for one in others], "rigs removed")
    kept.edit([Edit("lenses", LENS, None, kept.version("lenses", LENS))], "lens removed")
    lens = kept.world().lens(LENS)
    assert isinstance(lens, Lens)
    assert lens.retired
    assert kept.history(2)[0].title == "lens removed: archived, since records name it"
    assert kept.history(2)[1].title == "rigs removed"
    assert ticked(kept) == ("a",)
    assert rig.id not in {one.id for one in kept.gear().rigs}
    kept.undo()
    assert not kept.world().lens(LENS).retired


def test_an_import_keeps_them_though_the_piece_is_gone(kept: Collection) -> None:
    kept.keep_record(card("a"), "the card")
    kept.replace(Gear(format="tropeion-gear", version=1), "emptied")
    assert ticked(kept) == ("a",)


def test_they_travel_in_backups_and_not_in_gear_files(kept: Collection, tmp_path: Path) -> None:
    kept.keep_record(card("a"), "the card")
    assert b"2026-11-25" not in gear_file.dump(kept.gear())
    copy = tmp_path / "backup.sqlite"
    backup(kept.path, copy)
    kept.keep_record(card("a", "b"), "the card")
    restore(kept.path, copy)
    assert ticked(kept) == ("a",)


def test_they_are_found_by_what_they_are_about(kept: Collection) -> None:
    kept.keep_record(card("a"), "the card")
    with closing(sqlite3.connect(kept.path)) as connection:
        rows = connection.execute("SELECT item_kind, item_id FROM record_item ORDER BY item_kind").fetchall()
        assert rows == [("adapters", "kel-ost-plain"), ("bodies", "o7"), ("lenses", "kel-55")]
        kept.undo()
        assert connection.execute("SELECT count(*) FROM record_item").fetchone() == (0,)
