"""A folder read: what is new or changed in it, with progress; what is as it was is taken from what is known."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path

from tropeion.core.frozen import frozen
from tropeion.core.log.header import Header, PictureFile

from .folders import Found, Listing, Unread, listed, shown
from .index import Indexed
from .worker import StoppedError, Worker

Progress = Callable[[int, int], None]


@frozen
class Reading:
    """What a folder holds: its pictures, and what was not read, and why."""

    files: tuple[PictureFile, ...]
    unread: tuple[Unread, ...]


def read_folder(folder: Path, worker: Worker) -> Reading:
    """Read a folder once. Raises FolderError."""
    listing = listed(folder)
    files, unread = [], list(listing.unread)
    for found, header in worker.headers(folder, listing.files):
        if isinstance(header, Header):
            files.append(PictureFile(os.fsdecode(found.path), header))
        else:
            unread.append(Unread(shown(found.path), header))
    return Reading(tuple(files), tuple(sorted(unread, key=lambda one: one.file)))


def read_changes(
    folder: Path,
    listing: Listing,
    known: Mapping[bytes, Indexed],
    worker: Worker,
    stopped: Callable[[], bool],
    progress: Progress,
) -> Iterator[tuple[Found, Header | str]]:
    """The headers of files that are new, or not what they were. Raises StoppedError."""
    changed = [found for found in listing.files if found.path not in known or not known[found.path].is_still(found)]
    done = len(listing.files) - len(changed)
    progress(done, len(listing.files))
    for read in worker.headers(folder, changed, stopped):
        if stopped():
            raise StoppedError
        done += 1
        yield read
        progress(done, len(listing.files))
