"""The journal is kept as long as its owner wants: what falls out changes nothing of what is, or can be taken back."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.prepared import sample_at
from tests.thorough import examples
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.store import acting, collection, folding
from tropeion.store.backup import look
from tropeion.store.collection import Collection, Edit


@pytest.fixture
def kept(tmp_path: Path) -> Iterator[Collection]:
    with closing(sample_at(tmp_path / "collection.sqlite")) as found:
        yield found


class _Clock:
    """A clock that the test sets."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch) -> None:
        self.at = datetime.now(UTC)
        for module in (acting, collection):
            monkeypatch.setattr(module, "now", lambda: self.at.isoformat(timespec="milliseconds"))


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> _Clock:
    return _Clock(monkeypatch)


def _rename(kept: Collection, name: str) -> None:
    lens = find(kept.gear(), "lenses", "kel-55")
    assert isinstance(lens, Lens)
    changed = lens.model_copy(update={"name": name})
    kept.edit([Edit("lenses", "kel-55", changed, kept.version("lenses", "kel-55"))], name)


def _rows(path: Path, table: str) -> int:
    with closing(sqlite3.connect(path)) as plain:
        return int(plain.execute(f"SELECT count(*) FROM {table}").fetchone()[0])


def _few(monkeypatch: pytest.MonkeyPatch, most: int = 5, least: int = 3) -> None:
    monkeypatch.setattr(folding, "MOST_ACTIONS", most)
    monkeypatch.setattr(folding, "LEAST_ACTIONS", least)


def test_so_many_actions_are_kept_and_the_file_grows_no_more(kept: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    _few(monkeypatch)
    kept.keep_history("actions")
    for number in range(12):
        _rename(kept, f"Name {number}")
    assert [action.title for action in kept.history()] == [f"Name {number}" for number in (11, 10, 9, 8, 7)]
    assert (_rows(kept.path, "action"), _rows(kept.path, "journal")) == (5, 5)
    for number in (10, 9, 8, 7, 6):
        assert kept.undo() is not None
        assert kept.world().lenses["kel-55"].name == f"Name {number}"
    assert kept.undo() is None
    for _ in range(5):
        kept.redo()
    assert kept.world().lenses["kel-55"].name == "Name 11"


def test_all_of_it_is_kept_where_that_is_wanted(kept: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    _few(monkeypatch)
    kept.keep_history("all")
    before = _rows(kept.path, "journal")
    for number in range(12):
        _rename(kept, f"Name {number}")
    assert _rows(kept.path, "journal") == before + 12


def test_a_year_is_kept_and_the_last_ones_at_any_age(
    kept: Collection, clock: _Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    _few(monkeypatch)
    assert kept.keep_of_history()[0] == "year"
    for number in range(8):
        clock.at += timedelta(days=60)
        _rename(kept, f"Name {number}")
    # The latest at day 480: what was done since day 115 stays, from the second (day 120) on.
    assert [action.title for action in kept.history()][-1] == "Name 1"
    clock.at += timedelta(days=900)
    kept.keep_history("year")
    assert [action.title for action in kept.history()] == ["Name 7", "Name 6", "Name 5"]
    assert kept.undo() is not None
    assert kept.world().lenses["kel-55"].name == "Name 6"


def test_what_comes_back_after_all_is_forgotten_counts_on(kept: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    _few(monkeypatch)
    lens = kept.world().lenses["brn-52"]
    for number in range(4):
        changed = lens.model_copy(update={"name": f"Old {number}"})
        kept.edit([Edit("lenses", lens.id, changed, kept.version("lenses", lens.id))], "changed")
    version = kept.version("lenses", lens.id)
    kept.edit([Edit("lenses", lens.id, None, version)], "removed")
    kept.keep_history("actions")
    for number in range(9):
        _rename(kept, f"Name {number}")
    assert "removed" not in {action.title for action in kept.history()}
    # Nothing that was read before passes for it: the version of what went away stays.
    kept.edit([Edit("lenses", lens.id, lens, 0)], "bought again")
    assert kept.version("lenses", lens.id) == version + 2
    for number in range(9):
        _rename(kept, f"Name {number} again")
    assert kept.version("lenses", lens.id) == version + 2
    with closing(sqlite3.connect(kept.path)) as plain:
        assert plain.execute("SELECT count(*) FROM journal WHERE action = ''").fetchone() == (0,)


def test_what_was_taken_back_long_ago_can_be_done_again(
    kept: Collection, clock: _Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    _few(monkeypatch, least=2)
    for name in ("First", "Second"):
        _rename(kept, name)
    clock.at += timedelta(days=500)
    kept.undo()
    kept.undo()
    kept.keep_history("year")
    for name in ("First", "Second"):
        kept.redo()
        assert kept.world().lenses["kel-55"].name == name


def test_each_choice_says_what_it_lets_go_of(kept: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    _few(monkeypatch)
    kept.keep_history("all")
    for number in range(8):
        _rename(kept, f"Name {number}")
    own = len(kept.history())
    assert kept.keep_of_history() == ("all", {"all": 0, "actions": own - 5, "year": 0})
    kept.keep_history("actions")
    assert len(kept.history()) == 5
    assert kept.keep_of_history()[1]["actions"] == 0


def test_a_backup_of_what_was_folded_is_one(kept: Collection, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    _few(monkeypatch)
    lens = kept.world().lenses["brn-52"]
    kept.edit([Edit("lenses", lens.id, None, kept.version("lenses", lens.id))], "removed")
    kept.keep_history("actions")
    for number in range(9):
        _rename(kept, f"Name {number}")
    with look(tmp_path / "elsewhere.sqlite", kept.path) as found:
        assert found.whole.gear == kept.gear()


@settings(max_examples=examples(20))
@given(
    steps=st.lists(st.sampled_from(["edit", "undo", "redo", "remove"]), max_size=16),
    keep=st.sampled_from(folding.KEEPS),
)
def test_whatever_is_kept_the_collection_is_the_same(
    tmp_path_factory: pytest.TempPathFactory, sample_gear: Gear, steps: list[str], keep: folding.Keep
) -> None:
    """Held against two stacks of whole collections, of which the lower one has a floor."""
    done, undone = [sample_gear], list[Gear]()
    with pytest.MonkeyPatch.context() as low, closing(sample_at(tmp_path_factory.mktemp("m") / "c.sqlite")) as kept:
        _few(low, most=3)
        kept.keep_history(keep)
        for number, step in enumerate(steps):
            if step == "undo" and len(done) > 1:
                turned = kept.undo()
                # Where nothing is left to take back, it stays as it is.
                assert turned is not None or keep == "actions"
                if turned is not None:
                    undone.append(done.pop())
            elif step == "undo":
                continue
            elif step == "redo":
                assert (kept.redo() is None) == (not undone)
                if undone:
                    done.append(undone.pop())
            else:
                if step == "edit":
                    _rename(kept, f"Name {number}")
                elif "brn-52" in kept.world().lenses:
                    version = kept.version("lenses", "brn-52")
                    kept.edit([Edit("lenses", "brn-52", None, version)], "removed")
                else:
                    continue
                done.append(kept.gear())
                undone.clear()
            assert kept.gear() == done[-1]
