"""What trials came to, in a collection: known at once, by whatever way a trial, an event or the gear changes."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from tests.prepared import sample_at
from tests.terminal import run
from tropeion.core.gear.kit import find
from tropeion.core.gear.tried import UsableFrom
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.log_records import records_in
from tropeion.core.records.record import Record, now
from tropeion.core.records.trials import RigTrial
from tropeion.core.routes.match import match
from tropeion.formats.log_file import load_log
from tropeion.store.collection import Collection, Edit

RING = "kel-ost-plain"
PAIR = ("--lens", "kel-55", "--body", "o7")


def trial(id_: str, aperture: float, corner: str = "sharp", **more: Any) -> dict[str, Any]:
    rig = {"lens": "kel-55", "via": [RING], "body": "o7", "use": "paid_still"}
    at = "2026-11-20T14:00:00+01:00"
    return {"id": id_, "at": at, **rig, "aperture": aperture, "centre": "sharp", "corner": corner, **more}


def log_of(*trials: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {"version": 1, "trials": list(trials), **more}


@pytest.fixture
def collection(tmp_path: Path) -> Iterator[Collection]:
    with closing(sample_at(tmp_path / "collection.sqlite")) as found:
        yield found


def taken(collection: Collection, log: dict[str, Any]) -> None:
    found: LogFile = load_log(json.dumps(log).encode())
    records: list[Record] = list(records_in(found, now()))
    collection.take_records(records, "Log")


def rows(collection: Collection) -> tuple[UsableFrom, ...]:
    return collection.world().tried.get(("kel-55", (RING,)), ())


def test_a_trial_is_known_at_once_and_so_is_that_it_was_taken_back(collection: Collection) -> None:
    before = collection.world()
    assert before.tried == {}
    taken(collection, log_of(trial("a", 4.0), trial("b", 8.0)))
    (row,) = rows(collection)
    assert (row.aperture, row.trials) == (4.0, 2)
    # Nothing is compiled anew for it.
    assert collection.world() is collection.world()
    assert collection.world().structure is before.structure
    collection.change_record(RigTrial, "a", lambda one: one.model_copy(update={"struck": True}), "Struck out")
    assert [(row.aperture, row.trials) for row in rows(collection)] == [(8.0, 1)]
    collection.undo()
    collection.undo()
    assert rows(collection) == ()


def test_what_happened_to_a_piece_overtakes_its_trials(collection: Collection) -> None:
    happened = {"piece": {"kind": "lens", "id": "kel-55"}, "on": "2026-11-25", "what": "serviced"}
    taken(collection, log_of(trial("a", 4.0)))
    taken(collection, log_of(events=[happened]))
    assert rows(collection) == ()


def test_new_firmware_of_a_piece_overtakes_them_too(collection: Collection) -> None:
    def with_firmware(version: str) -> None:
        body = find(collection.gear(), "bodies", "o7").model_copy(update={"firmware": version})
        collection.edit([Edit("bodies", "o7", body, collection.version("bodies", "o7"))], "Firmware")

    with_firmware("1.2")
    taken(collection, log_of(trial("a", 4.0, firmware={"o7": "1.2"})))
    assert len(rows(collection)) == 1
    with_firmware("1.3")
    assert rows(collection) == ()


def test_at_the_terminal_as_on_the_screen(collection: Collection, tmp_path: Path) -> None:
    """``match --log`` ranks as the collection does that has taken the log."""
    log = tmp_path / "log.json"
    plain = json.loads(run("match", "sample", *PAIR, "--json").stdout)
    first = plain["routes"][0]["adapters"]
    document = log_of(trial("a", 2.2, "soft", via=first), trial("b", 8.0, "soft", via=first))
    log.write_text(json.dumps(document))
    told = json.loads(run("match", "sample", *PAIR, "--log", str(log), "--json").stdout)
    assert told["routes"][0]["adapters"] != first
    taken(collection, document)

    screen = match(collection.world(), "kel-55", "o7")
    assert [list(route.adapters) for route in screen.routes] == [route["adapters"] for route in told["routes"]]


def test_usable_at_the_terminal(tmp_path: Path) -> None:
    log = tmp_path / "log.json"
    log.write_text(
        json.dumps(
            log_of(
                trial("a", 2.2, "soft"),
                trial("b", 4.0),
                trial("c", 5.6, source="review", body=None),
                trial("d", 8.0, lens="nobody-s", body=None, via=[], corner="dark"),
            )
        )
    )
    done = run("log", "usable", str(log), "--gear", "sample", "--json")
    assert done.returncode == 0
    said = {(row["lens"], row["body"]): row for row in json.loads(done.stdout)}
    own = {"lens": "kel-55", "via": [RING], "body": "o7", "focal_length_mm": None, "use": "paid_still"}
    assert said["kel-55", "o7"] == {**own, "aperture": 4.0, "trials": 2, "own": 2, "newest": "2026-11-20"}
    assert (said["kel-55", None]["aperture"], said["kel-55", None]["own"]) == (5.6, 0)
    assert said["nobody-s", None]["aperture"] is None
    text = run("log", "usable", str(log), "--gear", "sample").stdout.decode()
    rig = "Kelvane 55/2.2 · Plain ring KLV–OST · Ostrel O7"
    assert f"{rig}. Paid stills: usable from f/4 (2 trials: 2 own; the newest of 2026-11-20)" in text
    assert "nobody-s. Paid stills: no usable stop (1 trial: 1 own; " in text
    log.write_text(json.dumps({"version": 1}))
    assert json.loads(run("log", "usable", str(log), "--data", str(tmp_path / "none"), "--json").stdout) == []
