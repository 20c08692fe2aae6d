"""What the disk, another program or a folder may refuse: words with what to do, and nothing half done."""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import pytest

from tests.conftest import Serve
from tests.limits import http
from tests.prepared import sample_at
from tests.shapes import fill_up
from tests.terminal import run
from tropeion.core.gear.gear import Gear
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes
from tropeion.store import collection as module
from tropeion.store.collection import Collection
from tropeion.store.errors import BusyError, FullError, ReadOnlyError, StoreError
from tropeion.store.read_only import read_only_gear


@pytest.fixture
def path(tmp_path: Path) -> Path:
    sample_at(tmp_path / "collection.sqlite").close()
    return tmp_path / "collection.sqlite"


def _larger(gear: Gear) -> Gear:
    notes = "wind " * 700
    return gear.model_copy(update={"lenses": tuple(one.model_copy(update={"notes": notes}) for one in gear.lenses)})


def test_a_full_disk_says_so_and_nothing_is_half_done(path: Path, sample_gear: Gear, serve: Serve) -> None:
    collection = Collection(path)
    fill_up(collection)
    with pytest.raises(FullError, match="no room on the disk"):
        collection.replace(_larger(sample_gear))
    assert collection.gear() == sample_gear
    address = serve(collection).address
    answer = http.put(f"{address}/api/v1/gear", content=gear_file.dump(_larger(sample_gear)))
    assert (answer.status_code, answer.json()["type"]) == (507, "full")
    assert "make room" in answer.json()["detail"]
    assert http.get(f"{address}/api/v1/start").json()["lenses"] == len(sample_gear.lenses)


def test_another_program_that_holds_the_file_is_named(
    path: Path, sample_gear: Gear, monkeypatch: pytest.MonkeyPatch, serve: Serve
) -> None:
    monkeypatch.setattr(module, "PATIENCE_S", 0.2)
    collection = Collection(path)
    with closing(sqlite3.connect(path)) as other:
        other.isolation_level = None
        other.execute("BEGIN IMMEDIATE")
        with pytest.raises(BusyError, match="another program is writing"):
            collection.replace(_larger(sample_gear))
        # Reading goes on.
        assert collection.gear() == sample_gear
        answer = http.put(f"{serve(collection).address}/api/v1/practice", json={})
        assert (answer.status_code, answer.json()["type"]) == (503, "busy")
    collection.replace(_larger(sample_gear))


def test_a_database_that_is_gone_is_said_to_be(path: Path) -> None:
    with closing(Collection(path)) as collection:
        path.unlink()
        with pytest.raises(StoreError, match="is gone"):
            collection.gear()


def test_a_document_that_cannot_be_read_is_named_with_the_way_back(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("UPDATE body SET document = json_set(document, '$.sensor_mm', 3) WHERE id = 'o7'")
    with closing(Collection(path)) as collection, pytest.raises(StoreError, match=r"bodies.*tropeion restore BACKUP"):
        collection.gear()


@contextmanager
def _as_somebody() -> Iterator[None]:
    """Without the rights of root, who may write everywhere."""
    if os.geteuid() != 0:
        yield
        return
    os.seteuid(65534)
    try:
        yield
    finally:
        os.seteuid(0)


@pytest.fixture
def closed(path: Path) -> Iterator[Path]:
    """The collection in a folder that can be read and not written."""
    folder = Path(tempfile.mkdtemp())
    shutil.copyfile(path, folder / path.name)
    folder.chmod(0o555)
    (folder / path.name).chmod(0o444)
    yield folder
    folder.chmod(0o755)
    shutil.rmtree(folder)


def test_a_folder_that_cannot_be_written_is_read_all_the_same(closed: Path, sample_gear: Gear) -> None:
    with _as_somebody():
        assert read_only_gear(closed / "collection.sqlite") == sample_gear
        done = run("export", "--data", str(closed))
        assert (done.returncode, done.stdout) == (0, sample_bytes())
        with pytest.raises(ReadOnlyError, match="cannot be written"):
            Collection(closed / "collection.sqlite").replace(_larger(sample_gear))
        assert os.listdir(closed) == ["collection.sqlite"]


def test_what_cannot_be_written_beside_is_said_in_words(closed: Path, path: Path, tmp_path: Path) -> None:
    """A restore and a backup work beside the file first."""
    run("backup", str(tmp_path / "spare.sqlite"), "--data", str(path.parent))
    tmp_path.chmod(0o755)
    with _as_somebody():
        for command in (("restore", str(closed / "collection.sqlite")), ("backup", str(closed / "new.sqlite"))):
            done = run(*command, "--data", str(closed))
            assert (done.returncode, done.stdout) == (1, b"")
            assert b"cannot be written" in done.stderr
            assert done.stderr.count(b"\n") == 1


def test_an_export_that_fails_leaves_what_was_there(closed: Path, tmp_path: Path) -> None:
    (closed / "mine.json").parent.chmod(0o755)
    (closed / "mine.json").write_text("mine")
    closed.chmod(0o555)
    with _as_somebody():
        done = run("export", str(closed / "mine.json"), "--data", str(closed))
    assert done.returncode == 1
    assert b"what was there is as it was" in done.stderr
    assert (closed / "mine.json").read_text() == "mine"
    # Over a file that may be written it comes whole, and leaves nothing beside it.
    (tmp_path / "out").mkdir()
    (tmp_path / "out" / "mine.json").write_text("mine")
    assert run("export", str(tmp_path / "out" / "mine.json"), "--data", str(tmp_path)).returncode == 0
    assert (tmp_path / "out" / "mine.json").read_bytes() == sample_bytes()
    assert os.listdir(tmp_path / "out") == ["mine.json"]


def test_damage_under_a_running_server_leads_the_same_way_back_as_at_the_start(path: Path, serve: Serve) -> None:
    address = serve(Collection(path)).address
    assert http.get(f"{address}/api/v1/history").status_code == 200
    path.write_bytes(b"nothing of the kind" * 1000)
    for log in ("-wal", "-shm"):
        path.with_name(path.name + log).unlink(missing_ok=True)
    running = http.get(f"{address}/api/v1/history").json()["detail"]
    with pytest.raises(StoreError) as at_start:
        Collection(path)
    assert "tropeion restore BACKUP" in running
    # What is wrong stands in brackets; the way back is the same.
    assert re.sub(r"\(.*?\)", "", running) == re.sub(r"\(.*?\)", "", str(at_start.value))
