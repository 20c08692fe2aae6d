"""Folders of pictures: what lies in them, opened without following links and without waiting for anything.

Every step down is taken from the folder above, held open: what is put in the way meanwhile is not walked through.
"""

from __future__ import annotations

import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.log.header import readable

MOST_FILES: Final = 200_000
MOST_DEEP: Final = 32
_FOLDER: Final = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC
_FILE: Final = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
_KINDS: Final = (
    (stat.S_ISLNK, "a link"),
    (stat.S_ISFIFO, "a pipe"),
    (stat.S_ISSOCK, "a socket"),
    (stat.S_ISCHR, "a device"),
    (stat.S_ISBLK, "a device"),
)


class FolderError(Exception):
    """A folder that cannot be read, and why."""


@frozen
class Found:
    """A file in a folder: its path from there, as the disk has it, with its size and time."""

    path: bytes
    size: int
    mtime_ns: int


@frozen
class Unread:
    """What was not read, and why."""

    file: str
    why: str


@frozen
class Listing:
    """All that lies in a folder and below. ``folders`` are those directly in it."""

    files: tuple[Found, ...]
    unread: tuple[Unread, ...]


def shown(path: bytes) -> str:
    """A path as it is told."""
    return readable(os.fsdecode(path))


def is_sidecar(name: bytes) -> bool:
    """Whether a file is what is written beside a picture."""
    return name.lower().endswith(b".xmp")


def _why(error: OSError) -> str:
    return (error.strerror or str(error)).lower()


@contextmanager
def opened_folder(root: Path, path: bytes = b"") -> Iterator[int]:
    """A folder below a root, held open. Raises FolderError."""
    handle = -1
    try:
        handle = os.open(root, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        for part in filter(None, path.split(b"/")):
            if part in {b".", b".."}:
                raise FolderError(f"{shown(path)}: not below the folder")
            below = os.open(part, _FOLDER, dir_fd=handle)
            os.close(handle)
            handle = below
    except OSError as error:
        if handle >= 0:
            os.close(handle)
        place = shown(os.path.join(os.fsencode(root), path) if path else os.fsencode(root))
        raise FolderError(f"{place}: {_why(error)}") from None
    except FolderError:
        os.close(handle)
        raise
    try:
        yield handle
    finally:
        os.close(handle)


def open_file(name: bytes, folder: int) -> int:
    """A regular file of an open folder, opened for reading alone. Raises OSError, with words for what is none."""
    kind = os.stat(name, dir_fd=folder, follow_symlinks=False).st_mode
    refuse_irregular(kind)
    try:
        # What is only looked at keeps the time when it was read last; that is for its owner to ask.
        handle = os.open(name, _FILE | os.O_NOATIME, dir_fd=folder)
    except PermissionError:
        handle = os.open(name, _FILE, dir_fd=folder)
    try:
        refuse_irregular(os.fstat(handle).st_mode)
    except OSError:
        os.close(handle)
        raise
    return handle


def refuse_irregular(mode: int) -> None:
    """Raises OSError for what is no regular file."""
    if not stat.S_ISREG(mode):
        said = next((said for of_kind, said in _KINDS if of_kind(mode)), "a folder")
        raise OSError(0, f"{said}: only regular files are opened")


def listed(root: Path, path: bytes = b"") -> Listing:
    """Everything below a folder, in the order of names. Raises FolderError where it cannot be, or holds too much."""
    files: list[Found] = []
    unread: list[Unread] = []
    with opened_folder(root, path) as handle:
        _walk(handle, b"", 0, files, unread)
    return Listing(tuple(files), tuple(unread))


def _walk(handle: int, above: bytes, deep: int, files: list[Found], unread: list[Unread]) -> None:
    for name in sorted(os.fsencode(name) for name in os.listdir(handle)):
        path = above + name
        try:
            status = os.stat(name, dir_fd=handle, follow_symlinks=False)
            if stat.S_ISDIR(status.st_mode):
                _down(handle, name, path, deep, files, unread)
                continue
            if is_sidecar(name):
                continue
            refuse_irregular(status.st_mode)
        except FileNotFoundError:
            continue
        except OSError as error:
            unread.append(Unread(shown(path), _why(error)))
            continue
        if len(files) >= MOST_FILES:
            raise FolderError(f"more than {MOST_FILES} files: read a folder below")
        files.append(Found(path, status.st_size, status.st_mtime_ns))


def _down(handle: int, name: bytes, path: bytes, deep: int, files: list[Found], unread: list[Unread]) -> None:
    if deep + 1 >= MOST_DEEP:
        unread.append(Unread(shown(path), f"more than {MOST_DEEP} folders deep"))
        return
    below = os.open(name, _FOLDER, dir_fd=handle)
    try:
        _walk(below, path + b"/", deep + 1, files, unread)
    finally:
        os.close(below)


def folders_in(root: Path, path: bytes) -> tuple[bytes, ...]:
    """The folders directly in one, by name. Raises FolderError."""
    with opened_folder(root, path) as handle:
        names = [os.fsencode(name) for name in os.listdir(handle)]
        return tuple(name for name in sorted(names) if _is_folder(name, handle) and not name.startswith(b"."))


def _is_folder(name: bytes, handle: int) -> bool:
    try:
        return stat.S_ISDIR(os.stat(name, dir_fd=handle, follow_symlinks=False).st_mode)
    except OSError:
        return False
