"""Folders that hold more than pictures: nothing is followed, nothing is waited for, nothing is lost."""

from __future__ import annotations

import os
import shutil
import signal
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.logs import jpeg, wall
from tropeion.core.log.header import Header
from tropeion.pictures import folders
from tropeion.pictures.folders import FolderError, listed
from tropeion.pictures.index import PictureIndex
from tropeion.pictures.library import Library, UnknownFolderError
from tropeion.pictures.reading import read_folder
from tropeion.pictures.worker import StoppedError, Worker


@pytest.fixture(scope="module")
def worker() -> Iterator[Worker]:
    found = Worker()
    yield found
    found.close()


def _why(folder: Path, worker: Worker) -> dict[str, str]:
    return {one.file: one.why for one in read_folder(folder, worker).unread}


def test_only_regular_files_are_opened(tmp_path: Path, worker: Worker) -> None:
    outside = tmp_path / "outside"
    outside.mkdir()
    (outside / "secret.JPG").write_bytes(jpeg(wall(0)))
    folder = tmp_path / "pictures"
    (folder / "sub").mkdir(parents=True)
    (folder / "A.JPG").write_bytes(jpeg(wall(0)))
    (folder / "sub" / "B.JPG").write_bytes(jpeg(wall(9)))
    (folder / "A.xmp").write_text("<x/>")
    (folder / "notes.txt").write_text("hello")
    (folder / "empty.JPG").write_bytes(b"")
    os.mkfifo(folder / "P.JPG")
    (folder / "L.JPG").symlink_to(outside / "secret.JPG")
    (folder / "away").symlink_to(outside)
    reading = read_folder(folder, worker)
    assert [file.path for file in reading.files] == ["A.JPG", "sub/B.JPG"]
    assert _why(folder, worker) == {
        "L.JPG": "a link: only regular files are opened",
        "P.JPG": "a pipe: only regular files are opened",
        "away": "a link: only regular files are opened",
        "empty.JPG": "it is empty",
        "notes.txt": "no picture by its first bytes",
    }


def test_names_with_line_breaks_and_not_utf_8_are_told(tmp_path: Path, worker: Worker) -> None:
    (tmp_path / "two\nlines.JPG").write_bytes(jpeg(wall(0)))
    raw = os.path.join(os.fsencode(tmp_path), b"caf\xe9.JPG")
    Path(os.fsdecode(raw)).write_bytes(b"hello")
    assert [file.path for file in read_folder(tmp_path, worker).files] == ["two\nlines.JPG"]
    assert _why(tmp_path, worker) == {"caf\\xe9.JPG": "no picture by its first bytes"}


def test_a_file_of_two_gigabytes_of_nothing_is_not_read_whole(tmp_path: Path, worker: Worker) -> None:
    for name, head in (("A.JPG", b""), ("B.JPG", b"\xff\xd8\xff\xe1"), ("C.RAW", b"II*\x00\xff\xff\xff\x7f")):
        with (tmp_path / name).open("wb") as file:
            file.write(head)
            file.truncate(2 * 1024**3)
    reading = read_folder(tmp_path, worker)
    # Whatever a reader makes of it, it ends, and claims no time.
    assert {one.file for one in reading.unread} | {file.path for file in reading.files} == {"A.JPG", "B.JPG", "C.RAW"}
    assert all(file.header.taken_us is None for file in reading.files)


def test_too_deep_and_too_many_are_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    deep = tmp_path.joinpath(*["d"] * 40)
    deep.mkdir(parents=True)
    (deep / "A.JPG").write_bytes(jpeg(wall(0)))
    listing = listed(tmp_path)
    assert listing.files == ()
    assert [one.why for one in listing.unread] == ["more than 32 folders deep"]
    for number in range(4):
        (tmp_path / f"{number}.JPG").write_bytes(b"x")
    monkeypatch.setattr(folders, "MOST_FILES", 3)
    with pytest.raises(FolderError, match="more than 3 files: read a folder below"):
        listed(tmp_path)


def test_a_folder_that_is_not_there_is_named(tmp_path: Path) -> None:
    with pytest.raises(FolderError, match=r"/nowhere: no such file or directory"):
        listed(tmp_path / "nowhere")
    (tmp_path / "file").write_text("x")
    with pytest.raises(FolderError, match="not a directory"):
        listed(tmp_path / "file")


def test_a_worker_that_dies_is_begun_anew_and_one_file_is_not_read(tmp_path: Path) -> None:
    for number in range(4):
        (tmp_path / f"{number}.JPG").write_bytes(jpeg(wall(number)))
    worker = Worker()
    try:
        answers = worker.headers(tmp_path, listed(tmp_path).files)
        first, header = next(answers)
        assert isinstance(header, Header)
        process = worker._process
        assert process is not None
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
        rest = dict([(first.path, header), *((found.path, said) for found, said in answers)])
        # Each is answered, with a header or with the reason; the next question finds another process.
        assert set(rest) == {b"0.JPG", b"1.JPG", b"2.JPG", b"3.JPG"}
        assert {said for said in rest.values() if isinstance(said, str)} <= {"it broke the reader, or took too long"}
        assert isinstance(worker.head(jpeg(wall(0)), whole=True), Header)
    finally:
        worker.close()


def test_a_worker_that_hangs_is_ended(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "A.JPG").write_bytes(jpeg(wall(0)))
    worker = Worker()
    try:
        assert isinstance(worker.head(jpeg(wall(0)), whole=True), Header)
        process = worker._process
        assert process is not None
        os.kill(process.pid, signal.SIGSTOP)
        for name in ("FILE_WITHIN_S", "_GRACE_S"):
            monkeypatch.setattr(f"tropeion.pictures.worker.{name}", 0.1)
        ((_, said),) = list(worker.headers(tmp_path, listed(tmp_path).files))
        assert said == "it broke the reader, or took too long"
        assert process.poll() is not None
    finally:
        worker.close()


def test_thumbnails_are_made_anew_and_refused_where_none_can_be(tmp_path: Path, worker: Worker) -> None:
    (tmp_path / "A.JPG").write_bytes(jpeg(wall(0)))
    (tmp_path / "B.JPG").write_bytes(jpeg(wall(0))[:200])
    (tmp_path / "C.HEIC").write_bytes(b"\x00\x00\x00\x18ftypheic" + bytes(200))
    # A PNG whose header says that it has 200,000 × 200,000 pixels.
    huge = (
        b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" + (200_000).to_bytes(4, "big") * 2 + b"\x08\x02\x00\x00\x00" + bytes(60)
    )
    (tmp_path / "D.png").write_bytes(huge)
    small = worker.thumbnail(tmp_path, b"A.JPG", 480)
    assert isinstance(small, bytes)
    assert small[:3] == b"\xff\xd8\xff"
    assert b"Ostrel" not in small
    for name in (b"B.JPG", b"C.HEIC", b"D.png", b"gone.JPG", b"../A.JPG"):
        assert isinstance(worker.thumbnail(tmp_path, name, 480), str), name


class _Stops:
    """Called off after so many questions."""

    def __init__(self, after: int) -> None:
        self.left = after

    def __call__(self) -> bool:
        self.left -= 1
        return self.left < 0


def test_a_library_reads_what_changed_and_forgets_what_went(tmp_path: Path) -> None:
    root, data = tmp_path / "root", tmp_path / "data"
    (root / "nave").mkdir(parents=True)
    data.mkdir()
    for number in range(5):
        (root / "nave" / f"{number}.JPG").write_bytes(jpeg(wall(number)))
    library = Library(data, [root])
    try:
        (source,) = library.sources()
        told: list[tuple[int, int]] = []
        library.read(source.number, lambda: False, lambda done, total: told.append((done, total)))
        assert (told[0], told[-1]) == ((0, 5), (5, 5))
        numbers = library.reading(source.number)[1]
        told.clear()
        library.read(source.number, lambda: False, lambda done, total: told.append((done, total)))
        # All of it was known.
        assert told == [(5, 5)]
        (root / "nave" / "0.JPG").unlink()
        (root / "nave" / "1.JPG").write_bytes(jpeg(wall(100), lens="Another"))
        library.read(source.number, lambda: False, lambda *_: None)
        reading, again = library.reading(source.number)
        assert [file.path for file in reading.files] == [f"nave/{number}.JPG" for number in (1, 2, 3, 4)]
        assert reading.files[0].header.lens == "Another"
        # A file keeps its number.
        assert again == {path: number for path, number in numbers.items() if path != "nave/0.JPG"}
        (below,) = library.below(source.number)
        assert below.name == "root/nave"
        with pytest.raises(StoppedError):
            library.read(below.number, _Stops(0), lambda *_: None)
        with pytest.raises(UnknownFolderError):
            library.reading(999)
        shutil.rmtree(root / "nave")
        with pytest.raises(FolderError, match="nave: no such file or directory"):
            library.read(below.number, lambda: False, lambda *_: None)
    finally:
        library.close()
    # A folder whose root is not named any more is not there.
    other = Library(data, [])
    try:
        with pytest.raises(UnknownFolderError):
            other.seen(below.number)
    finally:
        other.close()


def test_a_damaged_index_is_begun_anew(tmp_path: Path) -> None:
    path = tmp_path / "pictures.sqlite"
    path.write_bytes(b"no database at all, but long enough to be looked at" * 40)
    index = PictureIndex(path)
    assert index.folders_read() == ()
    assert index.folder_at("/somewhere", b"").number == 1
    index.close()


def test_several_ask_one_worker_in_turn(tmp_path: Path, worker: Worker) -> None:
    for number in range(30):
        (tmp_path / f"{number:02d}.JPG").write_bytes(jpeg(wall(number)))
    found: list[int] = []

    def ask() -> None:
        found.append(sum(isinstance(said, Header) for _, said in worker.headers(tmp_path, listed(tmp_path).files)))

    threads = [threading.Thread(target=ask) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == [30, 30, 30]
