"""The log file: read whole or refused with every place; written and read again it is the same."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.logs import entry, log_of
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World, compile_world
from tropeion.core.log.log_checks import remarks_on, unknown_in
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.log_records import log_of as log_from
from tropeion.core.log.log_records import records_in
from tropeion.core.records.moments import read_moment
from tropeion.formats.gear_reading import GearFileError
from tropeion.formats.log_file import dump_log, load_log

FULL: dict[str, Any] = {
    "cameras": [
        {
            "body": "o7",
            "make": "Ostrel",
            "model": "O7",
            "serial": "7",
            "says": [
                {"lens": "Chip 50 mm", "since": "2026-11-01", "means": {"lens": "kel-45", "via": ["kel-ost-chip"]}}
            ],
        }
    ],
    "entries": [
        entry("e1", 0, aperture=4.0, shift_mm=[1.5, -6.0], series={"id": "s", "kind": "stitched"}, focus="magnifier"),
        entry("e2", 9, lens="nobody-knows", via=["nor-this"], struck="", held_on="corran", clock_off_s=-6.5),
    ],
    "clocks": [
        {"body": "o7", "seconds": -3180.5, "since": "2026-11-21T00:00:00", "zoned": False},
        {"body": "o7", "file": "A.JPG", "shows": "2026-11-21T14:00:00+01:00"},
    ],
    "rolls": [{"id": "windchest-21", "body": "stave-3", "first_number": 0, "frames": None, "stock": "Umbral 400"}],
    "assignments": [{"files": ["a/A.JPG"], "taken_at": "2026-11-21T14:00:00", "body": "o7", "entry": None}],
    "trials": [
        {
            "id": "t1",
            "at": "2026-11-21T14:00:00+01:00",
            "lens": "kel-55",
            "use": "web",
            "aperture": 4.0,
            "centre": "sharp",
            "corner": "soft",
            "firmware": {"kel-ost-plain": "2.1"},
        }
    ],
    "events": [{"piece": {"kind": "lens", "id": "kel-55"}, "on": "2026-01-02", "what": "bought", "price": 40.0}],
}


def _read(**lists: Any) -> LogFile:
    return load_log(json.dumps({"version": 1, **lists}).encode())


def test_written_and_read_again_nothing_is_lost() -> None:
    log = _read(**FULL)
    assert load_log(dump_log(log)) == log
    assert json.loads(dump_log(log))["entries"][1]["struck"] == ""


def test_as_records_and_back_nothing_is_lost() -> None:
    log = _read(**FULL)
    records = list(records_in(log, "2026-11-21T19:00:00.000+00:00"))
    again = log_from([(record, 1) for record in records])
    assert again == log
    # The same lines are the same records, whenever they are brought in.
    ids = [record.id for record in records_in(log, "2026-12-01T19:00:00.000+00:00")]
    assert ids == [record.id for record in records]
    # What is no item of any collection is named in the record alone.
    assert {item.id for record in records for item in record.items} >= {"kel-55", "o7", "stave-3", "nobody-knows"}


times = st.floats(0, 1e6).map(lambda seconds: round(seconds, 3))
entries = st.builds(
    lambda number, seconds, way, aperture, note: entry(f"e{number}", seconds, way=way, aperture=aperture, note=note),
    st.integers(0, 10**6),
    times,
    st.sampled_from(["tap", "before", "after"]),
    st.none() | st.sampled_from([1.4, 2.0, 5.6]),
    st.text(st.characters(categories=("L", "N", "P", "Zs")), max_size=12),
)


@given(st.lists(entries, max_size=6, unique_by=lambda one: one["id"]))
def test_any_log_survives_being_written(some: list[dict[str, Any]]) -> None:
    log = log_of(some)
    assert load_log(dump_log(log)) == log


@pytest.mark.parametrize(
    ("lists", "place", "said"),
    [
        ({"entries": [{"id": "a"}]}, "entries[0].body (a)", "missing"),
        ({"entries": [entry("a", 0, apperture=4)]}, "entries[0].apperture (a)", "did you mean 'aperture'?"),
        ({"entries": [entry("a", 0, aperture=0)]}, "entries[0].aperture (a)", "at least 0.1 is wanted"),
        ({"entries": [entry("a", 0, way="tapp")]}, "entries[0].way (a)", "did you mean 'tap'?"),
        ({"entries": [{**entry("a", 0), "at": "2026-11-21T14:00:00"}]}, "entries[0].at (a)", "states no zone"),
        ({"entries": [{**entry("a", 0), "at": "tomorrow"}]}, "entries[0].at (a)", "write it as 2026-12-05T10:20:30"),
        ({"entries": [entry("a", 0), entry("a", 1)]}, "entries[1]", "the id 'a' stands twice"),
        ({"clocks": [{"body": "o7"}]}, "clocks[0]", "state the seconds, or a file"),
        ({"clocks": [{"body": "o7", "seconds": 1, "file": "A.JPG"}]}, "clocks[0]", "state the seconds, or a file"),
        ({"clocks": [{"body": "o7", "seconds": 1, "since": "2026-11-21T14:00:00Z"}]}, "clocks[0].since", "a zone"),
        ({"cameras": [{"body": "o7", "says": [{"means": {"lens": "x"}}]}]}, "cameras[0].says[0]", "name what"),
        ({"entrys": []}, "entrys", "did you mean 'entries'?"),
        ({"version": 2}, "version", "newer than this program reads"),
        ({"events": [{**FULL["events"][0], "until": "2025-01-01"}]}, "events[0]", "until lies before"),
    ],
)
def test_what_is_wrong_is_named_with_its_place(lists: dict[str, Any], place: str, said: str) -> None:
    with pytest.raises(GearFileError) as refused:
        _read(**lists)
    first = refused.value.problems[0]
    assert first.place == place
    assert said in f"{first.message} {first.hint}"


def test_what_is_no_number_is_refused() -> None:
    with pytest.raises(GearFileError) as refused:
        load_log(b'{"entries": [{"id": "a", "aperture": NaN}]}')
    assert "NaN is not a number" in str(refused.value)


def test_what_cannot_be_is_told_with_its_place() -> None:
    roll = {"id": "w", "body": "stave-3", "first_number": 1, "frames": 3}
    film = [entry(f"f{number}", 0, roll="w", frame_number=number) for number in (0, 1, 3, 4)]
    log = log_of([*film, {**entry("late", 0), "at": "2031-01-01T00:00:00Z"}], rolls=[roll])
    assert remarks_on(log, read_moment("2026-12-01T00:00:00+00:00")) == [
        "entries[0] (f0): frame 0 is before roll w began, with 1",
        "entries[3] (f4): frame 4 is past the end of roll w, 3",
        "entries[4] (late): 2031-01-01T00:00:00Z is yet to come",
    ]


def test_ids_that_a_collection_does_not_have_are_named(sample: World) -> None:
    log = log_of([entry("a", 0, lens="borrowed-35", via=["kel-ost-plain", "somebodys"]), entry("b", 9)])
    assert unknown_in(log, sample) == [
        "no lens has the id 'borrowed-35': kept as it is",
        "no adapter has the id 'somebodys': kept as it is",
    ]
    # Where there is no collection, no id can be a slip.
    assert unknown_in(log, compile_world(Gear(format="tropeion-gear", version=1))) == []
