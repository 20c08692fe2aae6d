"""The folders of pictures that were named at the start, and those dropped on the page: read, looked at, written beside.

Nothing outside of these folders can be asked for: what is asked for is a number that was given out.
"""

from __future__ import annotations

import os
import threading
import uuid
from collections.abc import Callable, Iterator, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.log.header import Header, PictureFile, readable
from tropeion.core.log.matching import Told
from tropeion.core.log.rig_facts import RigReader

from .folders import Found, Unread, folders_in, listed, shown
from .index import DROPPED, PictureFolder, PictureIndex
from .reading import Progress, Reading, read_changes
from .sidecars import Naming, Sidecar, merged_sidecar, names_on_disk, sidecars_for, wanted_of
from .worker import Worker

# Of each file that is dropped.
HEAD_BYTES: Final = 512 * 1024
_BATCH: Final = 200
THUMBNAIL_PX: Final = 480
CROP_PX: Final = 320


@frozen
class SidecarHow:
    """How sidecars are named, whether doubtful pictures get one, and which fields of others are taken."""

    naming: Naming = "stem"
    doubtful: bool = False
    overwrite: frozenset[str] = frozenset()


class UnknownFolderError(LookupError):
    """A number that stands for no folder or file of this library."""


@frozen
class FolderSeen:
    """A folder as it is told: its name, and from which root."""

    number: int
    name: str
    read_at: str | None
    dropped: bool


class Library:
    """Folders by number. Safe to use from several threads. ``roots`` are folders that exist."""

    def __init__(self, data: Path, roots: Sequence[Path]) -> None:
        self._roots = {os.fspath(root.resolve()): root.resolve() for root in roots}
        self._index_path = data / "pictures.sqlite"
        self._opening = threading.Lock()
        self._opened: PictureIndex | None = None
        self._worker = Worker()

    @property
    def _index(self) -> PictureIndex:
        """The index, opened once it is needed: who has no pictures needs none."""
        with self._opening:
            if self._opened is None:
                self._opened = PictureIndex(self._index_path)
            return self._opened

    def close(self) -> None:
        """End the worker process and release the index."""
        self._worker.close()
        with self._opening:
            if self._opened is not None:
                self._opened.close()
                self._opened = None

    def sources(self) -> tuple[FolderSeen, ...]:
        """The roots, then the folders read last."""
        roots = [self._index.folder_at(root, b"") for root in self._roots]
        numbers = {folder.number for folder in roots}
        read = [folder for folder in self._index.folders_read() if folder.number not in numbers and self._has(folder)]
        return tuple(self._seen(folder) for folder in (*roots, *read[:20]))

    def _has(self, folder: PictureFolder) -> bool:
        return folder.root == DROPPED or folder.root in self._roots

    def _seen(self, folder: PictureFolder) -> FolderSeen:
        if folder.root == DROPPED:
            return FolderSeen(folder.number, shown(folder.path).partition(" ")[2], folder.read_at, True)
        name = readable(self._roots[folder.root].name)
        below = shown(folder.path)
        return FolderSeen(folder.number, f"{name}/{below}" if below else name, folder.read_at, False)

    def _folder(self, number: int) -> PictureFolder:
        folder = self._index.folder(number)
        if folder is None or not self._has(folder):
            raise UnknownFolderError(f"there is no folder {number}")
        return folder

    def seen(self, number: int) -> FolderSeen:
        """A folder by its number. Raises UnknownFolderError."""
        return self._seen(self._folder(number))

    def _path(self, folder: PictureFolder) -> Path:
        return self._roots[folder.root] / os.fsdecode(folder.path)

    def below(self, number: int) -> tuple[FolderSeen, ...]:
        """The folders directly in one. Raises UnknownFolderError, FolderError."""
        folder = self._folder(number)
        if folder.root == DROPPED:
            return ()
        names = folders_in(self._roots[folder.root], folder.path)[:500]
        paths = [b"/".join(filter(None, (folder.path, name))) for name in names]
        return tuple(self._seen(self._index.folder_at(folder.root, path)) for path in paths)

    def read(self, number: int, stopped: Callable[[], bool], progress: Progress) -> None:
        """Read what is new or changed in a folder. Raises UnknownFolderError, FolderError, StoppedError."""
        folder = self._folder(number)
        if folder.root == DROPPED:
            return
        listing = listed(self._roots[folder.root], folder.path)
        known = {indexed.path: indexed for indexed in self._index.files(number)}
        batch: list[tuple[Found, Header | str]] = []
        for one in read_changes(self._path(folder), listing, known, self._worker, stopped, progress):
            batch.append(one)
            if len(batch) == _BATCH:
                self._index.keep(number, batch)
                batch = []
        # What lies there and is no file has no size: it is told anew each time.
        nothing = [(Found(os.fsencode(unread.file), -1, -1), unread.why) for unread in listing.unread]
        self._index.keep(number, [*batch, *nothing])
        there = {found.path for found in listing.files} | {os.fsencode(unread.file) for unread in listing.unread}
        self._index.end(number, _now(), [path for path in known if path not in there])

    def reading(self, number: int) -> tuple[Reading, dict[str, int]]:
        """What is known of a folder: its files and what was not read; and the number of each file by its path."""
        indexed = self._index.files(self._folder(number).number)
        files = tuple(PictureFile(os.fsdecode(one.path), one.header) for one in indexed if one.header is not None)
        unread = tuple(Unread(shown(one.path), one.why) for one in indexed if one.why is not None)
        return Reading(files, unread), {os.fsdecode(one.path): one.number for one in indexed}

    def name(self, number: int) -> str:
        """The name of a folder alone, which a roll of film may have too."""
        return self.seen(number).name.rpartition("/")[2]

    def drop(self) -> FolderSeen:
        """A folder for files that are dropped on the page."""
        label = f"{uuid.uuid4()} dropped {datetime.now().astimezone():%d %b %Y, %H:%M}"
        folder = self._index.folder_at(DROPPED, label.encode())
        self._index.end(folder.number, _now(), ())
        return self._seen(folder)

    def take_head(self, number: int, path: str, size: int, head: bytes) -> str | None:
        """Keep the header of a dropped file, or a sidecar; returns why it was not read. Raises UnknownFolderError."""
        folder = self._folder(number)
        if folder.root != DROPPED:
            raise UnknownFolderError(f"folder {number} is on the disk: it is read, not sent")
        raw = os.fsencode("/".join(part for part in path.split("/") if part not in {"", ".", ".."}))
        if raw.lower().endswith(b".xmp"):
            self._index.keep_sidecar(number, raw, head)
            return None
        header = self._worker.head(head, whole=size <= len(head))
        self._index.keep(number, [(Found(raw, size, 0), header)])
        return None if isinstance(header, Header) else header

    def thumbnail(self, number: int, place: str | None = None) -> bytes | str:
        """A small picture, made anew, or with a ``place`` that part of it at 100 %; or why there is none.

        Raises UnknownFolderError.
        """
        found = self._index.file(number)
        if found is None or not self._has(found[0]):
            raise UnknownFolderError(f"there is no picture {number}")
        folder, path = found
        if folder.root == DROPPED:
            return "its file was not kept: look at it where it is"
        whole = b"/".join(filter(None, (folder.path, path)))
        side = THUMBNAIL_PX if place is None else CROP_PX
        return self._worker.thumbnail(self._roots[folder.root], whole, side, place)

    def place_of(self, number: int) -> tuple[str, Path, bytes]:
        """The name of a picture, the root it lies under, and where. Raises UnknownFolderError, FolderError."""
        found = self._index.file(number)
        if found is None or not self._has(found[0]):
            raise UnknownFolderError(f"there is no picture {number}")
        folder, path = found
        if folder.root == DROPPED:
            raise UnknownFolderError("its file was not kept: send it whole")
        return shown(path), self._roots[folder.root], b"/".join(filter(None, (folder.path, path)))

    def sidecars(
        self, number: int, told: Sequence[Told], rigs: RigReader, how: SidecarHow, *, dry_run: bool
    ) -> Iterator[Sidecar]:
        """What becomes of the sidecars of pictures in a folder; those dropped are never written here."""
        folder = self._folder(number)
        if folder.root == DROPPED:
            there = self._index.sidecars(number)
            names = {os.fsdecode(path): data for path, data in there.items()}

            def names_in(below: str) -> list[str]:
                return [name.rpartition("/")[2] for name in names if name.rpartition("/")[0] == below]

            for wanted in wanted_of(told, rigs, how.naming, names_in, doubtful=how.doubtful):
                path = f"{wanted.folder}/{wanted.name}" if wanted.folder else wanted.name
                yield merged_sidecar(wanted, names.get(path), how.overwrite)
            return
        root = self._path(folder)
        wanted_here = wanted_of(told, rigs, how.naming, lambda below: names_on_disk(root, below), doubtful=how.doubtful)
        yield from sidecars_for(root, wanted_here, dry_run=dry_run, overwrite=how.overwrite)


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")
