"""A backup is whole; a restore is one action, before or after, and can be taken back."""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest

from tests.limits import LIMIT_S
from tests.prepared import sample_at
from tests.shapes import as_of, first_edition
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.core.practice import Practice
from tropeion.core.subjects import NEUTRAL, Subject
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, Edit
from tropeion.store.engine import APPLICATION_ID, HEAD
from tropeion.store.errors import StaleError, StoreError
from tropeion.store.files import workspace


@pytest.fixture
def smaller(sample_gear: Gear) -> Gear:
    return sample_gear.model_copy(update={"lenses": sample_gear.lenses[:5], "rigs": ()})


NAVE = (Subject(name="the nave", distance_m=18.0),)


@pytest.fixture
def path(tmp_path: Path) -> Path:
    with closing(sample_at(tmp_path / "collection.sqlite")) as collection:
        collection.set_practice(Practice(zooms="avoid"))
        collection.set_subjects(NAVE)
    return tmp_path / "collection.sqlite"


@pytest.fixture
def good(path: Path, tmp_path: Path) -> Path:
    backup(path, tmp_path / "good.sqlite")
    return tmp_path / "good.sqlite"


def test_back_and_forth_while_it_runs(path: Path, good: Path, sample_gear: Gear, smaller: Gear) -> None:
    with closing(Collection(path)) as running:
        running.replace(smaller)
        running.set_practice(Practice())
        running.set_subjects(NEUTRAL)
        assert len(running.world().lenses) == 5
        assert restore(path, good) is None
        # The one that runs sees it at once, without being opened anew.
        assert running.gear() == sample_gear
        assert len(running.world().lenses) == len(sample_gear.lenses)
        assert (running.practice(), running.subjects()) == (Practice(zooms="avoid"), NAVE)
        # It is one action, and is taken back with everything that came with it.
        done = running.undo()
        assert done is not None
        assert done.title == "good.sqlite restored"
        assert running.gear() == smaller
        assert (running.practice(), running.subjects()) == (Practice(), NEUTRAL)
        running.redo()
        assert running.gear() == sample_gear
        assert (running.practice(), running.subjects()) == (Practice(zooms="avoid"), NAVE)


def test_what_is_there_already_is_no_action(path: Path, good: Path) -> None:
    restore(path, good)
    with closing(Collection(path)) as collection:
        assert len(collection.history()) == 1


def test_into_a_folder_that_is_empty(good: Path, tmp_path: Path, sample_gear: Gear) -> None:
    assert restore(tmp_path / "new" / "collection.sqlite", good) is None
    with closing(Collection(tmp_path / "new" / "collection.sqlite")) as collection:
        assert collection.gear() == sample_gear
        # As a file it brings its own history.
        assert [action.title for action in collection.history()] == ["The whole collection replaced"]


def test_a_form_opened_before_does_not_save_over_what_came_after(path: Path, good: Path, sample_gear: Gear) -> None:
    with closing(Collection(path)) as running:
        lens = find(sample_gear, "lenses", "kel-55")
        assert isinstance(lens, Lens)
        dearer = lens.model_copy(update={"price": 99.0})
        running.edit([Edit("lenses", "kel-55", dearer, 1)], "dearer")
        opened = running.version("lenses", "kel-55")
        restore(path, good)
        assert running.version("lenses", "kel-55") > opened
        with pytest.raises(StaleError):
            running.edit([Edit("lenses", "kel-55", dearer.model_copy(update={"price": 1.0}), opened)], "from the form")


@pytest.mark.attack
def test_restores_against_edits_show_what_is_in_the_file(path: Path, good: Path, sample_gear: Gear) -> None:
    """Somebody edits while backups are restored: every state shown is the state of the file."""
    lens = find(sample_gear, "lenses", "kel-55")
    with closing(Collection(path)) as running:
        stop = threading.Event()

        def edit() -> None:
            price = 0
            while not stop.is_set():
                price += 1
                version = running.version("lenses", "kel-55")
                try:
                    changed = lens.model_copy(update={"price": float(price)})
                    running.edit([Edit("lenses", "kel-55", changed, version)], "edited")
                except StaleError:
                    continue

        editor = threading.Thread(target=edit)
        editor.start()
        seen = [running.revision]
        try:
            for _ in range(25):
                restore(path, good)
                seen.append(running.revision)
        finally:
            stop.set()
            editor.join()
        assert seen == sorted(seen)
        with closing(sqlite3.connect(path)) as connection:
            (document,) = connection.execute("SELECT document FROM lens WHERE id = 'kel-55'").fetchone()
        assert type(lens).model_validate_json(document) == running.world().lenses["kel-55"]


def test_its_log_comes_with_it(path: Path, tmp_path: Path, sample_gear: Gear, smaller: Gear) -> None:
    with closing(Collection(path)) as running:
        running.replace(smaller)
        # Copied as it lies there: what was written last stands in the log alone.
        away = tmp_path / "away"
        away.mkdir()
        for name in (path.name, f"{path.name}-wal"):
            shutil.copyfile(path.with_name(name), away / name)
        running.replace(sample_gear)
        restore(path, away / path.name)
        assert running.gear() == smaller


def test_pages_of_another_size_are_restored_too(path: Path, good: Path, sample_gear: Gear, smaller: Gear) -> None:
    with closing(sqlite3.connect(good)) as connection:
        connection.execute("PRAGMA journal_mode = DELETE")
        connection.execute("PRAGMA page_size = 8192")
        connection.execute("VACUUM")
        assert connection.execute("PRAGMA page_size").fetchone() == (8192,)
    with closing(Collection(path)) as running:
        running.replace(smaller)
        restore(path, good)
        assert running.gear() == sample_gear


def test_an_older_backup_is_brought_up_to_date(path: Path, good: Path, sample_gear: Gear, smaller: Gear) -> None:
    gear = first_edition(sample_gear)
    with closing(Collection(good)) as kept:
        kept.replace(gear)
    as_of(good, "0003")
    before = good.read_bytes()
    with closing(Collection(path)) as running:
        running.replace(smaller)
        restore(path, good)
        assert running.gear() == gear
    assert good.read_bytes() == before


SCHEMA = "PRAGMA writable_schema = ON; "
NO_BACKUP: dict[str, tuple[str, str]] = {
    "no journal": ("DROP TABLE journal", "'journal' is missing"),
    "no action": ("DROP TABLE action", "'action' is missing"),
    "no meta": ("DROP TABLE meta", "'meta' is missing"),
    "a column less": ("ALTER TABLE journal DROP COLUMN position", f"'journal' is not what version {HEAD} has"),
    "a column more": ("ALTER TABLE lens ADD COLUMN secret TEXT", f"'lens' is not what version {HEAD} has"),
    "an index less": ("DROP INDEX ix_journal_action", "'ix_journal_action' is missing"),
    "a table more": ("CREATE TABLE notes (x)", "a table 'notes', which is not ours"),
    "a view": ("CREATE VIEW v AS SELECT * FROM lens", "a view 'v', which is not ours"),
    "a trigger": (
        "CREATE TRIGGER t AFTER INSERT ON lens BEGIN DELETE FROM body; END",
        "a trigger 't', which is not ours",
    ),
    "a hidden trigger": (
        "CREATE TRIGGER t AFTER INSERT ON lens BEGIN DELETE FROM body; END; "
        f"{SCHEMA} UPDATE sqlite_master SET type = 'TRIGGER' WHERE name = 't'",
        "a trigger 't', which is not ours",
    ),
    "another program's": ("PRAGMA application_id = 7", "belongs to another program"),
    "no owner": ("PRAGMA application_id = 0", "belongs to another program"),
    "newer": ("UPDATE alembic_version SET version_num = '9999'", "a newer version"),
    "no version": ("DELETE FROM alembic_version", "which version"),
    "two versions": ("INSERT INTO alembic_version VALUES ('0001')", "which version"),
    "a row of nothing": ("UPDATE lens SET mount_id = 'none' WHERE id = 'kel-55'", "'lens' refers to nothing"),
    "a document of nothing": (
        "UPDATE lens SET document = json_set(document, '$.protocol', 'none') WHERE id = 'kel-55'",
        "no protocol has the id 'none'",
    ),
    "row against document": (
        "UPDATE lens SET mount_id = 'tolmer' WHERE id = 'kel-55'",
        "'kel-55' and its document disagree",
    ),
    "name against document": ("UPDATE body SET name = 'x' WHERE id = 'o7'", "'o7' and its document disagree"),
    "no document": ("UPDATE body SET document = 'x' WHERE id = 'o7'", "cannot be read"),
    "an impossible lens": (
        "UPDATE lens SET document = json_set(document, '$.f_number', json('[8, 2]')) WHERE id = 'kel-55'",
        "cannot be read",
    ),
    "unreadable practice": ("UPDATE meta SET value = 'x' WHERE key = 'practice'", "cannot be read"),
    "unknown practice": ("UPDATE meta SET value = '{\"zooms\": \"x\"}' WHERE key = 'practice'", "cannot be read"),
    "no currency": ("INSERT OR REPLACE INTO meta VALUES ('currency', 'cash')", "cannot be read"),
    "no revision": ("UPDATE meta SET value = 'many' WHERE key = 'revision'", "revision is no number"),
    "a strange setting": ("INSERT INTO meta VALUES ('secret', '1')", "'secret', which is not ours"),
    "a strange history": ("UPDATE journal SET kind = 'letters'", "'letters', which is not ours"),
    "an unreadable history": ("UPDATE journal SET after = '{}'", "cannot be read"),
}


@pytest.mark.parametrize("case", NO_BACKUP)
def test_what_is_no_backup_changes_nothing(path: Path, good: Path, sample_gear: Gear, case: str) -> None:
    script, said = NO_BACKUP[case]
    with closing(Collection(path)) as collection:
        collection.replace(sample_gear.model_copy(update={"currency": "CHF"}))
    with closing(sqlite3.connect(good)) as connection:
        connection.executescript(script)
        connection.commit()
    before = good.read_bytes()
    with pytest.raises(StoreError, match=r"good\.sqlite is no backup of a collection") as refused:
        restore(path, good)
    assert said in str(refused.value)
    assert good.read_bytes() == before
    with closing(Collection(path)) as collection:
        assert collection.gear() == sample_gear.model_copy(update={"currency": "CHF"})
    assert not list(path.parent.glob("tropeion-at-work-*"))


BYTES: dict[str, tuple[Callable[[bytes], bytes], str]] = {
    "nothing": (lambda _: b"", "it is empty"),
    "text": (lambda _: b"no database at all, but a letter to the organist", "it is no database"),
    "half": (lambda whole: whole[: len(whole) // 2], "is no backup"),
    "damaged": (lambda whole: whole[:8192] + b"\x5a" * 4096 + whole[12288:], "is no backup"),
    "a header alone": (lambda whole: whole[:100], "is no backup"),
}


@pytest.mark.parametrize("case", BYTES)
def test_bytes_that_are_no_backup_change_nothing(path: Path, good: Path, sample_gear: Gear, case: str) -> None:
    change, said = BYTES[case]
    good.write_bytes(change(good.read_bytes()))
    with pytest.raises(StoreError, match="is no backup of a collection") as refused:
        restore(path, good)
    assert said in str(refused.value)
    with closing(Collection(path)) as collection:
        assert collection.gear() == sample_gear


def test_an_empty_database_and_another_programs_are_told_apart(path: Path, tmp_path: Path) -> None:
    for script, said in (
        ("PRAGMA user_version = 1", "an empty database"),
        ("CREATE TABLE notes (x)", "another program"),
    ):
        file = tmp_path / f"{len(said)}.sqlite"
        with closing(sqlite3.connect(file)) as connection:
            connection.executescript(script)
        with pytest.raises(StoreError, match=said):
            restore(path, file)
    with pytest.raises(StoreError, match="no backup at"):
        restore(path, tmp_path / "nowhere")


def test_nothing_is_overwritten_by_a_backup(tmp_path: Path) -> None:
    with pytest.raises(StoreError, match="no collection"):
        backup(tmp_path / "none.sqlite", tmp_path / "b.sqlite")
    with closing(Collection(tmp_path / "a.sqlite")):
        pass
    (tmp_path / "b.sqlite").write_bytes(b"mine")
    with pytest.raises(StoreError, match="there already"):
        backup(tmp_path / "a.sqlite", tmp_path / "b.sqlite")
    assert (tmp_path / "b.sqlite").read_bytes() == b"mine"


def test_a_backup_says_whose_it_is(good: Path) -> None:
    with closing(sqlite3.connect(good)) as connection:
        assert connection.execute("PRAGMA application_id").fetchone() == (APPLICATION_ID,)


def test_what_a_killed_program_left_is_cleared_and_what_another_works_on_stays(path: Path) -> None:
    left = path.parent / "tropeion-at-work-left"
    left.mkdir()
    (left / "copy.sqlite").write_bytes(b"half")
    (left / "lock").touch()
    # Killed between its making and its lock; and one that is being made now.
    with subprocess.Popen([sys.executable, "-c", ""]) as gone:
        gone.wait(LIMIT_S)
    old, fresh = (path.parent / f"tropeion-at-work-{number}-x" for number in (gone.pid, os.getpid()))
    for one in (old, fresh):
        one.mkdir()
    with workspace(path.parent) as busy:
        with closing(Collection(path)):
            pass
        assert busy.is_dir()
    assert not left.exists()
    assert not old.exists()
    assert fresh.is_dir()
    assert not busy.exists()
