"""Sidecars written beside pictures: whole or not at all, and nothing but them."""

from __future__ import annotations

import os
import stat
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Final, Literal

from tropeion.core.frozen import frozen
from tropeion.core.log.matching import Told
from tropeion.core.log.pictures import stem_of
from tropeion.core.log.rig_facts import RigReader
from tropeion.core.log.sidecar_fields import FieldKept, SidecarChange, Value, fields_of
from tropeion.formats.xmp import MAX_BYTES, NoXmpError, merged

from .folders import FolderError, open_file, opened_folder

Action = Literal["new", "merged", "same", "refused"]
Naming = Literal["stem", "full"]
_PART: Final = b".tropeion-part"


@frozen
class Sidecar:
    """What becomes of one sidecar; ``pictures`` are the files that it speaks of. ``data`` is its new content."""

    file: str
    action: Action
    pictures: tuple[str, ...]
    changes: tuple[SidecarChange, ...] = ()
    kept: tuple[FieldKept, ...] = ()
    why: str | None = None
    data: bytes | None = None


@frozen
class _Wanted:
    """A sidecar that is wanted: by the name that it has or gets, in a folder."""

    folder: str
    name: str
    pictures: tuple[str, ...]
    fields: Mapping[str, Value]
    refused: str | None = None


def wanted_of(
    told: Sequence[Told], rigs: RigReader, naming: Naming, names_in: Callable[[str], Sequence[str]], *, doubtful: bool
) -> list[_Wanted]:
    """The sidecars of pictures that belong to entries; ``names_in`` lists what lies in a folder already.

    Files of one frame share a sidecar, unless each has one of its full name. One that exists is the one that is merged.
    """
    frames: dict[tuple[str, str], int] = defaultdict(int)
    for one in told:
        frames[one.picture.folder, one.picture.stem] += 1
    found: dict[tuple[str, str], _Wanted] = {}
    known: dict[str, dict[str, str]] = {}
    for one in told:
        if one.entry is None or not (one.state == "matched" or (doubtful and one.state == "doubtful")):
            continue
        picture, fields = one.picture, fields_of(one.entry, rigs.facts(one.entry))
        folder = picture.folder
        if folder not in known:
            known[folder] = {name.lower(): name for name in names_in(folder) if name.lower().endswith(".xmp")}
        shared = frames[folder, picture.stem] > 1
        for wanted in _of_picture(folder, picture.files, fields, naming, known[folder], shared=shared):
            key = wanted.folder, wanted.name
            if wanted.refused is None and key in found:
                continue
            found[key if wanted.refused is None else (wanted.pictures[0], wanted.name)] = wanted
    return list(found.values())


def _of_picture(
    folder: str,
    files: Sequence[str],
    fields: Mapping[str, Value],
    naming: Naming,
    existing: Mapping[str, str],
    *,
    shared: bool,
) -> Iterator[_Wanted]:
    stem = f"{stem_of(files[0])}.xmp"
    full = [f"{file.rpartition('/')[2]}.xmp" for file in files]
    groups = (
        [(tuple(files), full)]
        if naming == "stem"
        else [((file,), [name]) for file, name in zip(files, full, strict=True)]
    )
    for some, names in groups:
        there = [existing[name.lower()] for name in (stem, *names) if name.lower() in existing]
        name = there[0] if there else stem if naming == "stem" else names[0]
        refused = None
        if shared and name.lower() == stem.lower():
            refused = f"stem_shared: two frames are called {stem[:-4]}: use --naming full"
            if naming == "full":
                refused = f"stem_shared: two frames are called {stem[:-4]}, and {name} is there already"
        elif len(there) > 1:
            refused = f"two_sidecars: {' and '.join(there)} are both there"
        yield _Wanted(folder, name, some, fields, refused)


def sidecars_for(
    root: Path, wanted: Sequence[_Wanted], *, dry_run: bool, overwrite: frozenset[str] = frozenset()
) -> Iterator[Sidecar]:
    """What becomes of each sidecar, written unless it is a ``dry_run``; one that cannot be written is refused.

    What a killed program left in a folder is cleared away first.
    """
    for below in () if dry_run else dict.fromkeys(one.folder for one in wanted):
        _clear_parts(root, below)
    for one in wanted:
        yield _done(root, one, dry_run=dry_run, overwrite=overwrite)


def _done(root: Path, wanted: _Wanted, *, dry_run: bool, overwrite: frozenset[str]) -> Sidecar:
    file = f"{wanted.folder}/{wanted.name}" if wanted.folder else wanted.name
    if wanted.refused is not None:
        return Sidecar(file, "refused", wanted.pictures, why=wanted.refused)
    try:
        with opened_folder(root, os.fsencode(wanted.folder)) as folder:
            name = os.fsencode(wanted.name)
            before = _read(name, folder)
            sidecar = _merged(file, wanted, before.data if before is not None else None, overwrite)
            if not dry_run and sidecar.data is not None:
                _write(name, folder, sidecar.data, before)
            return sidecar
    except NoXmpError as error:
        return Sidecar(file, "refused", wanted.pictures, why=str(error))
    except FolderError as error:
        return Sidecar(file, "refused", wanted.pictures, why=str(error))
    except OSError as error:
        return Sidecar(file, "refused", wanted.pictures, why=(error.strerror or str(error)).lower())


def merged_sidecar(wanted: _Wanted, before: bytes | None, overwrite: frozenset[str] = frozenset()) -> Sidecar:
    """What becomes of a sidecar whose content is at hand: of pictures that have no place on the disk."""
    file = f"{wanted.folder}/{wanted.name}" if wanted.folder else wanted.name
    if wanted.refused is not None:
        return Sidecar(file, "refused", wanted.pictures, why=wanted.refused)
    try:
        return _merged(file, wanted, before, overwrite)
    except NoXmpError as error:
        return Sidecar(file, "refused", wanted.pictures, why=str(error))


def _merged(file: str, wanted: _Wanted, before: bytes | None, overwrite: frozenset[str]) -> Sidecar:
    after = merged(before, wanted.fields, overwrite)
    action: Action = "new" if before is None else "same" if after.data == before else "merged"
    sidecar = Sidecar(file, action, wanted.pictures, after.changes, after.kept)
    return sidecar if action == "same" else replace(sidecar, data=after.data)


@frozen
class _Before:
    """A sidecar as it was read."""

    data: bytes
    status: os.stat_result


def _read(name: bytes, folder: int) -> _Before | None:
    try:
        handle = open_file(name, folder)
    except FileNotFoundError:
        return None
    with os.fdopen(handle, "rb") as file:
        status = os.fstat(handle)
        data = file.read(MAX_BYTES + 1)
    return _Before(data, status)


def _write(name: bytes, folder: int, data: bytes, before: _Before | None) -> None:
    """Beside its target first, flushed, then renamed over it; what somebody wrote meanwhile is not lost."""
    part = b".%s.%d%s" % (name, os.getpid(), _PART)
    mode = 0o644 if before is None else stat.S_IMODE(before.status.st_mode)
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=folder)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fchmod(handle, mode)
            os.fsync(handle)
        if before is None:
            # A link fails where there is something by now; a rename would take its place.
            os.link(part, name, src_dir_fd=folder, dst_dir_fd=folder, follow_symlinks=False)
            os.unlink(part, dir_fd=folder)
        else:
            now = os.stat(name, dir_fd=folder, follow_symlinks=False)
            if _identity(now) != _identity(before.status):
                raise OSError(0, "it was changed meanwhile: try again")
            os.rename(part, name, src_dir_fd=folder, dst_dir_fd=folder)
    except BaseException:
        _unlink(part, folder)
        raise
    os.fsync(folder)


def _identity(status: os.stat_result) -> tuple[int, int, int]:
    return status.st_ino, status.st_size, status.st_mtime_ns


def _clear_parts(root: Path, below: str) -> None:
    """Remove the halves of sidecars whose program runs no more."""
    try:
        with opened_folder(root, os.fsencode(below)) as folder:
            for left in (os.fsencode(name) for name in os.listdir(folder)):
                number = left.removesuffix(_PART).rpartition(b".")[2]
                if left.endswith(_PART) and not (number.isdigit() and _is_running(int(number))):
                    _unlink(left, folder)
    except (FolderError, OSError):
        # Told of each sidecar that cannot be written there.
        return


def _is_running(number: int) -> bool:
    try:
        os.kill(number, 0)
    except PermissionError:
        return True
    except (OSError, OverflowError):
        return False
    return number != os.getpid()


def _unlink(name: bytes, folder: int) -> None:
    try:
        os.unlink(name, dir_fd=folder)
    except FileNotFoundError:
        return


def names_on_disk(root: Path, folder: str) -> list[str]:
    """What lies in a folder below a root; nothing where it cannot be read."""
    try:
        with opened_folder(root, os.fsencode(folder)) as handle:
            return os.listdir(handle)
    except FolderError:
        return []
