"""Killed at any hand-over of any deed: the file holds the state before or after, and says so if it cannot be used.

``make attack`` walks through all of them, every statement and every file; ``make test`` through those that decide.
"""

from __future__ import annotations

import contextlib
import shutil
import signal
from contextlib import closing
from multiprocessing.context import ForkServerContext
from pathlib import Path

import pytest

from tests.attack.deeds import CARD, DEEDS
from tests.attack.hand_overs import DONE, decisive, killed_before
from tests.limits import LIMIT_S
from tests.shapes import as_of, first_edition
from tests.thorough import EVERYWHERE
from tropeion.core.gear.gear import Gear
from tropeion.core.records.card import Card
from tropeion.store.backup import backup
from tropeion.store.collection import Collection
from tropeion.store.errors import DamagedError

State = tuple[Gear, Card | None] | None
# One of each way of making something last: a transaction, a file in another's place, a copy, a schema.
FEW = ("edit", "migration")


def _prepared(folder: Path, deed: str, gear: Gear) -> Path:
    """A collection as the deed finds it, and beside it the backup ``spare.sqlite``."""
    folder.mkdir()
    path = folder / "collection.sqlite"
    with closing(Collection(path)) as collection:
        collection.replace(gear)
        backup(path, folder / "spare.sqlite")
        lenses = tuple(one.model_copy(update={"price": 1.0}) for one in gear.lenses)
        collection.replace(gear.model_copy(update={"lenses": lenses}))
    if deed == "restore into nothing":
        for file in folder.glob("collection.sqlite*"):
            file.unlink()
    if deed == "restore over a damaged one":
        data = path.read_bytes()
        path.write_bytes(data[:4096] + b"\x5a" * (len(data) - 4096))
    if deed == "migration":
        as_of(path, "0003")
    return path


def _state(path: Path) -> State:
    """What is in it; None: it cannot be used, and says so, or there is none."""
    if not path.exists():
        return None
    try:
        with closing(Collection(path)) as collection:
            card = collection.record_of(Card, rig=CARD.rig, day=CARD.day)
            return collection.gear(), None if card is None else card.record
    except DamagedError:
        return None


def _walked(fresh: ForkServerContext, deed: str, path: Path, number: int | None) -> tuple[list[str], int | None]:
    """What was handed over until the end, or until the kill, and how the process ended."""
    ours, theirs = fresh.Pipe(duplex=False)
    arguments = (number, DEEDS[deed], path, path.with_name("spare.sqlite"), theirs)
    process = fresh.Process(target=killed_before, args=arguments)
    process.start()
    theirs.close()
    told: list[str] = []
    with contextlib.suppress(EOFError):
        while True:
            told.append(ours.recv())
    process.join(LIMIT_S)
    return told, process.exitcode


@pytest.mark.parametrize("deed", DEEDS if EVERYWHERE else FEW)
def test_killed_at_any_hand_over_it_is_before_or_after(
    deed: str, tmp_path: Path, sample_gear: Gear, fresh: ForkServerContext
) -> None:
    gear = first_edition(sample_gear) if deed == "migration" else sample_gear
    prepared = _prepared(tmp_path / "prepared", deed, gear)
    before = None if "damaged" in deed or "nothing" in deed else _looked_at(prepared, tmp_path / "look")

    def copied(name: str) -> Path:
        shutil.copytree(prepared.parent, tmp_path / name)
        return tmp_path / name / "collection.sqlite"

    path = copied("whole")
    hand_overs, ended = _walked(fresh, deed, path, None)
    assert ended == 0
    assert hand_overs[-1] == DONE
    after = _state(path)
    assert after is not None
    seen = set()
    for number in range(len(hand_overs)) if EVERYWHERE else decisive(hand_overs):
        path = copied("killed")
        told, ended = _walked(fresh, deed, path, number)
        # It died just there.
        assert ended == -signal.SIGKILL
        assert told == hand_overs[: number + 1]
        found = _state(path)
        assert found in (before, after), (deed, number, told[-3:])
        seen.add(found == after)
        # Whatever was half done is gone once it has been opened, and so is what a killed copy left.
        assert found is None or not list(path.parent.glob("tropeion-at-work-*"))
        shutil.rmtree(path.parent)
    # What the deed changes, it changes between two of them.
    assert seen == ({True} if before == after else {True, False})


def _looked_at(path: Path, folder: Path) -> State:
    shutil.copytree(path.parent, folder)
    return _state(folder / path.name)
