"""Killed at any moment of any deed: the file holds the state before or after, and says so if it cannot be used."""

from __future__ import annotations

import random
import shutil
import time
from contextlib import closing
from multiprocessing.context import ForkServerContext
from pathlib import Path

import pytest

from tests.attack.conftest import KILLS
from tests.attack.deeds import CARD, DEEDS
from tests.shapes import as_of, first_edition
from tropeion.core.gear.gear import Gear
from tropeion.core.records.card import Card
from tropeion.store.backup import backup
from tropeion.store.collection import Collection
from tropeion.store.errors import DamagedError

State = tuple[Gear, Card | None] | None


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
            return collection.gear(), collection.card(CARD.rig, CARD.day)
    except DamagedError:
        return None


@pytest.mark.parametrize("deed", DEEDS)
def test_killed_at_any_moment_it_is_before_or_after(
    deed: str, tmp_path: Path, sample_gear: Gear, fresh: ForkServerContext
) -> None:
    chance = random.Random(deed)
    prepared = _prepared(
        tmp_path / "prepared", deed, first_edition(sample_gear) if deed == "migration" else sample_gear
    )
    before = None if "damaged" in deed or "nothing" in deed else _looked_at(prepared, tmp_path / "look")

    def attempt(number: int, delay_s: float | None) -> tuple[Path, float, bool]:
        folder = tmp_path / f"attempt-{number}"
        shutil.copytree(prepared.parent, folder)
        path = folder / "collection.sqlite"
        process = fresh.Process(target=DEEDS[deed], args=(path, folder / "spare.sqlite"))
        start = time.monotonic()
        process.start()
        process.join(delay_s)
        killed = process.is_alive()
        process.kill()
        process.join()
        return path, time.monotonic() - start, killed

    # The first time everything is loaded; the second tells how long the deed takes.
    path, whole_s, _ = [attempt(number, None) for number in (-1, 0)][1]
    after = _state(path)
    assert after is not None
    strikes = 0
    for number in range(1, KILLS + 1):
        path, _, killed = attempt(number, chance.uniform(0.0, whole_s * 1.1))
        strikes += killed
        found = _state(path)
        assert found in (before, after), (deed, number)
        # Whatever was half done is gone once it has been opened, and so is what a killed copy left.
        assert found is None or not list(path.parent.glob("tropeion-at-work-*"))
        shutil.rmtree(path.parent)
    assert strikes > KILLS // 3


def _looked_at(path: Path, folder: Path) -> State:
    shutil.copytree(path.parent, folder)
    return _state(folder / path.name)
