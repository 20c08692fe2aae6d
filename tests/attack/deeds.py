"""What a process does before it is killed, or is measured while it reads."""

from __future__ import annotations

import resource
import sys
from collections.abc import Callable
from contextlib import closing
from multiprocessing.connection import Connection
from pathlib import Path
from types import FrameType

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig
from tropeion.core.records.card import Card
from tropeion.core.records.record import begun
from tropeion.formats.any_file import load_any
from tropeion.formats.gear_reading import GearFileError
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, Edit

__all__ = ["CARD", "DEEDS", "read_measured", "renamed"]

LENS, BODY, CHAIN = "kel-55", "o7", ["kel-ost-plain"]
CARD = Card(
    id="11111111-1111-1111-1111-111111111111",
    at="2026-11-25T09:00:00+00:00",
    items=begun(Rig.of(LENS, BODY, CHAIN).items)["items"],
    rig=Rig.of(LENS, BODY, CHAIN).id,
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
        collection.keep_record(CARD, "ticked")


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
    """Reads a file; tells the errors, how many calls that took, and the MB above what there was."""
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    calls = 0

    def called(_frame: FrameType, event: str, _what: object) -> None:
        nonlocal calls
        calls += event in {"call", "c_call"}

    sys.setprofile(called)
    try:
        load_any(data, mine)
        said: tuple[str, ...] = ()
    except GearFileError as error:
        said = tuple(str(one)[:300] for one in error.problems)
    finally:
        sys.setprofile(None)
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    answer.send((said, calls, grown))
