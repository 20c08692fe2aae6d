"""What most tests begin with, prepared once a process: the sample world, and collections that are copied."""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from contextlib import closing
from functools import cache
from pathlib import Path

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World, compile_world
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes
from tropeion.store.collection import Collection

__all__ = ["begin_anew", "empty_at", "sample_at", "sample_gear", "sample_world"]


@cache
def sample_gear() -> Gear:
    return gear_file.load(sample_bytes())


@cache
def sample_world() -> World:
    """The sample, with everything that has been computed of it in this process."""
    return compile_world(sample_gear())


@cache
def _folder() -> Path:
    folder = tempfile.mkdtemp(prefix="tropeion-tests-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return Path(folder)


@cache
def _empty() -> Path:
    path = _folder() / "empty.sqlite"
    Collection(path).close()
    return path


@cache
def _sample() -> Path:
    path = _folder() / "sample.sqlite"
    with closing(Collection(path)) as collection:
        collection.replace(sample_gear())
    return path


def empty_at(path: Path) -> Collection:
    """A new collection with nothing in it."""
    shutil.copyfile(_empty(), path)
    return Collection(path)


def sample_at(path: Path) -> Collection:
    """A new collection of the sample; what was computed of the sample already is not computed again."""
    shutil.copyfile(_sample(), path)
    collection = Collection(path)
    collection._world, collection._world_revision = sample_world(), collection.revision
    return collection


def begin_anew(collection: Collection, *, sample: bool = False) -> None:
    """Put a new file in the place of a collection that is being served: empty, or the sample."""
    collection.close()
    path = collection.path
    for beside in ("-wal", "-shm"):
        path.with_name(path.name + beside).unlink(missing_ok=True)
    new = path.with_suffix(".new")
    shutil.copyfile(_sample() if sample else _empty(), new)
    os.replace(new, path)
    # The store follows the file, and forgets what it knew of the last one.
    revision = collection.revision
    if sample:
        collection._world, collection._world_revision = sample_world(), revision
