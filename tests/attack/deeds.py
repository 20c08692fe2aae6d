"""What a process does before it is killed, or is measured while it reads."""

from __future__ import annotations

import resource
import time
from collections.abc import Callable
from contextlib import closing
from multiprocessing.connection import Connection
from pathlib import Path

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.core.records.card import Card, rig_of, what_it_is_about
from tropeion.formats.any_file import load_any
from tropeion.formats.gear_file import GearFileError
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, Edit

__all__ = ["CARD", "DEEDS", "read_measured", "renamed"]

LENS, BODY, CHAIN = "kel-55", "o7", ["kel-ost-plain"]
CARD = Card(
    id="11111111-1111-1111-1111-111111111111",
    at="2026-11-25T09:00:00+00:00",
    items=what_it_is_about(LENS, BODY, CHAIN),
    rig=rig_of(LENS, BODY, CHAIN),
    day="2026-11-25",
    ticked=("Power off.",),
)


def renamed(gear: Gear) -> Gear:
    """Every item of every shelf with another name."""
    shelves = {
        kind: tuple(one.model_copy(update={"name": f"{one.name} anew"}) for one in getattr(gear, kind))
        for kind in ("protocols", "mounts", "bodies", "lenses", "adapters", "rigs")
    }
    return gear.model_copy(update=shelves)


def replace(path: Path, _: Path) -> None:
    with closing(Collection(path)) as collection:
        collection.replace(renamed(collection.gear()))


def edit(path: Path, _: Path) -> None:
    with closing(Collection(path)) as collection:
        lens = find(collection.gear(), "lenses", LENS)
        assert isinstance(lens, Lens)
        dearer = lens.model_copy(update={"price": 99.0})
        collection.edit([Edit("lenses", LENS, dearer, collection.version("lenses", LENS))], "dearer")


def undo(path: Path, _: Path) -> None:
    with closing(Collection(path)) as collection:
        collection.undo()


def tick(path: Path, _: Path) -> None:
    with closing(Collection(path)) as collection:
        collection.keep_card(CARD, "ticked")


def put_back(path: Path, spare: Path) -> None:
    restore(path, spare)


def keep(path: Path, spare: Path) -> None:
    backup(path, spare.with_name("kept.sqlite"))


def open_it(path: Path, _: Path) -> None:
    Collection(path).close()


# Each deed on a collection, and how the collection is prepared for it.
DEEDS: dict[str, Callable[[Path, Path], None]] = {
    "import": replace,
    "edit": edit,
    "undo": undo,
    "tick": tick,
    "restore": put_back,
    "restore over a damaged one": put_back,
    "restore into nothing": put_back,
    "backup": keep,
    "migration": open_it,
}


def read_measured(data: bytes, mine: Gear, answer: Connection) -> None:
    """Reads a file; tells the errors, the seconds of computing and the MB it took above what there was."""
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    start = time.process_time()
    try:
        load_any(data, mine)
        said: tuple[str, ...] = ()
    except GearFileError as error:
        said = tuple(str(one)[:300] for one in error.problems)
    spent = time.process_time() - start
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    answer.send((said, spent, grown))
