"""Which entry a picture belongs to, and what speaks against it: worked by hand, case by case."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tests.logs import PLAIN, entry, jpeg, log_of, matched, moment, picture, told, wall
from tropeion.core.gear.world import World
from tropeion.core.log.header import PictureFile
from tropeion.core.log.matching import Told
from tropeion.formats.picture_header import header_of

# Steps of which no other shift agrees.
STEPS = (0, 97, 171, 300, 488, 590, 777, 801, 1003, 1250)


def _taps(**more: Any) -> list[dict[str, Any]]:
    return [entry(f"e{number}", step, **more) for number, step in enumerate(STEPS)]


def _pictures(off: float = 0.0, **more: Any) -> list[PictureFile]:
    return [picture(f"A{number:03d}.JPG", step + off, **more) for number, step in enumerate(STEPS)]


def _doubts(found: dict[str, Told]) -> dict[str, tuple[str, ...]]:
    return {file: one.doubts for file, one in found.items() if one.doubts}


def test_a_camera_seven_minutes_slow_is_matched(sample: World) -> None:
    found = matched(log_of(_taps(aperture=4.0)), _pictures(-420), sample)
    (clock,) = found.clocks
    # Seven minutes, less the hour of the zone.
    assert (clock.body, clock.offset_us, clock.from_, clock.certain) == ("o7", -3_180_000_000, "matched", True)
    assert [one.entry.id if one.entry else None for one in found.pictures] == [f"e{n}" for n in range(len(STEPS))]
    assert {one.state for one in found.pictures} == {"matched"}
    assert found.pictures[0].picture.taken_at == "2026-11-21T13:53:00"


def test_zones_summer_time_and_last_years_date() -> None:
    # The camera stayed on winter time; the log, kept by a phone, moved on at the turn of the clock.
    start = "2026-03-29T01:40:00+01:00"
    entries = [{**entry(f"e{number}", 0), "at": moment(step * 2, start)} for number, step in enumerate(STEPS)]
    for number, one in enumerate(entries):
        if STEPS[number] * 2 >= 1200:
            # Two o'clock is three: the same instant, written in the other zone.
            shown = str(one["at"])[11:13]
            one["at"] = f"{str(one['at'])[:11]}{int(shown) + 1:02d}{str(one['at'])[13:19]}+02:00"
    files = [picture(f"A{number}.JPG", step * 2 + 3, start=start) for number, step in enumerate(STEPS)]
    found = matched(log_of(entries), files)
    assert found.clocks[0].offset_us == -3_603_000_000
    assert {one.state for one in found.pictures} == {"matched"}
    # Last year's date: 365 days less.
    year = matched(log_of(_taps()), _pictures(-365 * 86_400))
    assert year.clocks[0].offset_us == (365 * 86_400 - 3600) * 1_000_000
    assert {one.state for one in year.pictures} == {"matched"}


def test_an_instant_needs_no_zone_and_has_a_clock_of_its_own() -> None:
    steps = [5000 + 1250 - step for step in STEPS]
    log = log_of([*_taps(), *[entry(f"f{number}", step) for number, step in enumerate(steps)]])
    walls = [picture(f"B{number}.JPG", step + 30) for number, step in enumerate(steps)]
    found = matched(log, [*_pictures(0, zone_us=3_600_000_000), *walls])
    assert [(clock.zoned, clock.offset_us, clock.from_) for clock in found.clocks] == [
        (True, 0, "matched"),
        (False, -3_630_000_000, "matched"),
    ]
    assert found.pictures[0].picture.taken_at == "2026-11-21T14:00:00+01:00"


def test_a_clock_that_nobody_knows_is_assumed_and_says_what_would_agree() -> None:
    few = matched(log_of(_taps()[:3]), _pictures(-420)[:3])
    (clock,) = few.clocks
    assert (clock.offset_us, clock.from_, clock.certain) == (-3_600_000_000, "assumed", False)
    assert clock.proposal is not None
    assert (clock.proposal.seconds, clock.proposal.pairs) == (-3180.0, 3)
    # With a zone nothing is taken off.
    zoned = matched(log_of(_taps()[:3]), [replace(p, header=replace(p.header, zone_us=0)) for p in _pictures()[:3]])
    assert zoned.clocks[0].offset_us == 0
    # No entries at all: nothing is proposed, and nothing told.
    alone = matched(log_of([]), _pictures()[:2])
    assert (alone.clocks[0].from_, alone.clocks[0].proposal) == ("assumed", None)
    assert {one.state for one in alone.pictures} == {"none"}


def test_stated_goes_before_photographed_before_matched() -> None:
    photographed = {"body": "o7", "file": "A000.JPG", "shows": moment(0)}
    stated = {"body": "o7", "seconds": -3180.5}
    found = matched(log_of(_taps(), clocks=[photographed]), _pictures(-420))
    assert (found.clocks[0].from_, found.clocks[0].offset_us) == ("photographed", -3_180_000_000)
    both = matched(log_of(_taps(), clocks=[stated, photographed]), _pictures(-420))
    assert (both.clocks[0].from_, both.clocks[0].offset_us) == ("stated", -3_180_500_000)
    # The clock on a picture that is not there tells nothing, and that is said.
    gone = matched(log_of(_taps(), clocks=[{**photographed, "file": "Z.JPG"}]), _pictures(-420))
    assert gone.clocks[0].from_ == "matched"
    assert gone.warnings == ("Z.JPG, whose clock was photographed, is not among the pictures",)
    # Of several photographed ones the nearest holds.
    late = {"body": "o7", "file": "A009.JPG", "shows": moment(STEPS[9] + 2)}
    two = matched(log_of(_taps(), clocks=[photographed, late]), _pictures(-420))
    assert [clock.offset_us for clock in two.clocks] == [-3_180_000_000, -3_178_000_000]
    assert {one.entry.id for one in two.pictures if one.entry} == {f"e{n}" for n in range(len(STEPS))}


def test_a_clock_set_right_meanwhile_is_proposed_and_then_holds() -> None:
    # So near each other that none of the two clocks finds a tap for the other's pictures.
    again = (3000, 3031, 3075, 3130, 3207)
    more = (1399, 1460, 1601, 1789)
    entries = [*_taps(), *[entry(f"f{number}", step) for number, step in enumerate((*more, *again))]]
    slow = [*_pictures(-420), *[picture(f"A{number + 10:03d}.JPG", step - 420) for number, step in enumerate(more)]]
    right = [picture(f"B{number:03d}.JPG", step) for number, step in enumerate(again)]
    found = matched(log_of(entries), [*slow, *right])
    (clock,) = found.clocks
    assert (clock.offset_us, clock.certain) == (-3_180_000_000, True)
    assert clock.proposal is not None
    assert (clock.proposal.seconds, clock.proposal.pairs) == (-3600.0, 5)
    assert (clock.proposal.since, clock.proposal.until) == ("2026-11-21T14:50:00", "2026-11-21T14:53:27")
    assert {one.picture.file for one in found.pictures if "clock_jump" in one.doubts} == {file.path for file in right}
    told_so = {"body": "o7", "seconds": -3600, "since": clock.proposal.since, "until": clock.proposal.until}
    taken = matched(log_of(entries, clocks=[told_so]), [*slow, *right])
    assert {one.state for one in taken.pictures} == {"matched"}
    assert [other.from_ for other in taken.clocks] == ["matched", "stated"]


def test_camera_times_that_run_backwards_are_doubtful_from_there_on() -> None:
    files = [*_pictures()[:6], *[picture(f"A{number:03d}.JPG", STEPS[number] - 3600) for number in range(6, 10)]]
    found = told(log_of(_taps()), files)
    assert {file for file, one in found.items() if "clock_jump" in one.doubts} == {
        f"A{n:03d}.JPG" for n in range(6, 10)
    }


def test_raw_and_jpeg_of_one_frame_are_one_picture_and_others_are_not() -> None:
    files = [
        picture("A001.JPG", 0.25),
        picture("A001.RAW", 0),
        picture("sub/A001.JPG", 0),
        picture("A002.JPG", 1),
        picture("A002.RAW", 40),
    ]
    found = matched(log_of([]), files)
    assert [one.picture.files for one in found.pictures] == [
        ("A001.JPG", "A001.RAW"),
        ("A002.JPG",),
        ("A002.RAW",),
        ("sub/A001.JPG",),
    ]
    assert found.pictures[0].picture.taken_at == "2026-11-21T14:00:00.250000"


def test_a_burst_within_a_second_goes_by_parts_of_it_then_by_number() -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    log = log_of([entry("one", 0, frames=3), entry("two", 30, aperture=8.0)], clocks=clocks)
    files = [picture(f"A{number}.JPG", 0) for number in (9, 10, 8)]
    files += [picture("B1.JPG", 0.4), picture("B2.JPG", 30)]
    found = told(log, files)
    # Three frames for one tap: the earliest of that second, by the number in the name.
    assert {file for file, one in found.items() if one.entry and one.entry.id == "one"} == {
        "A8.JPG",
        "A9.JPG",
        "A10.JPG",
    }
    assert found["B1.JPG"].entry is None
    assert found["B2.JPG"].entry is not None


def test_series_take_what_no_tap_has_claimed() -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    entries = [
        entry("here", 0, way="before", aperture=4.0),
        entry("tap", 600, aperture=8.0),
        entry("there", 1500, way="after", aperture=5.6),
        entry("next", 2000, way="before", aperture=11.0),
        entry("last", 2100, way="after", aperture=11.0, lens="kel-85"),
    ]
    files = [picture(f"A{n}.JPG", second) for n, second in enumerate((0, 300, 601, 597, 900, 1500, 2050, 2101))]
    found = told(log_of(entries, clocks=clocks), files)
    ids = {file: one.entry.id if one.entry else None for file, one in found.items()}
    assert ids == {
        "A0.JPG": "here",
        "A1.JPG": "here",
        "A2.JPG": "tap",
        "A3.JPG": "here",
        "A4.JPG": "there",
        "A5.JPG": "there",
        # Both claim it, with another lens: the later one has it, doubtful.
        "A6.JPG": "last",
        "A7.JPG": None,
    }
    assert found["A6.JPG"].doubts == ("near_change",)
    # A second past the end: with the doubt of the clock it may belong to it.
    assert found["A7.JPG"].doubts == ("near_change",)


def test_a_series_reaches_twelve_hours_and_far_ones_are_doubtful() -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    hours = (1, 2.5, 3.2, 11.9, 12.1)
    files = [picture(f"A{n}.JPG", hour * 3600) for n, hour in enumerate(hours)]
    found = told(log_of([entry("here", 0, way="before")], clocks=clocks), files)
    assert [found[f"A{n}.JPG"].entry is not None for n in range(5)] == [True, True, True, True, False]
    # One hour of silence is none too many; the next step is one and a half.
    assert [found[f"A{n}.JPG"].doubts for n in range(4)] == [(), ("long_gap",), ("long_gap",), ("long_gap",)]


def test_a_few_seconds_from_a_change_it_is_doubtful() -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    entries = [entry("a", 0, way="before", aperture=4.0), entry("b", 1000, way="before", aperture=8.0)]
    files = [picture(f"A{n}.JPG", second) for n, second in enumerate((500, 994, 996, 1003, 1006))]
    found = told(log_of(entries, clocks=clocks), files)
    assert _doubts(found) == {"A2.JPG": ("near_change",), "A3.JPG": ("near_change",)}
    # The same settings on both sides are no change.
    same = [entry("a", 0, way="before", aperture=4.0), entry("b", 1000, way="before", aperture=4.0)]
    assert _doubts(told(log_of(same, clocks=clocks), files)) == {}


def _claiming(world: World, one: dict[str, Any], claims: dict[str, Any], before: tuple[Any, ...] = ()) -> Told:
    """What one picture at a tap comes to, with a clock that is right."""
    log = log_of([*before, one], clocks=[{"body": "o7", "seconds": -3600}])
    return told(log, [picture("A.JPG", 0, **claims)], world)["A.JPG"]


@pytest.mark.parametrize(
    ("more", "says_mm", "doubtful"),
    [
        ({}, 55.0, False),
        ({}, 56.0, False),
        ({}, 56.2, True),
        ({}, None, False),
        ({"told_mm": 50.0}, 50.0, False),
        ({"told_mm": 50.0}, 55.0, False),
        ({"told_mm": 50.0}, 85.0, True),
        # A zoom without its mark: anything within its range.
        ({"lens": "kel-28-80"}, 35.0, False),
        ({"lens": "kel-28-80"}, 85.0, True),
        ({"lens": "kel-28-80", "focal_length_mm": 50.0}, 35.0, True),
    ],
)
def test_a_focal_length_that_neither_lens_nor_body_would_claim(
    sample: World, more: dict[str, Any], says_mm: float | None, doubtful: bool
) -> None:
    found = _claiming(sample, entry("now", 0, **more), {"focal_length_mm": says_mm})
    assert (found.doubts == ("focal_length",)) == doubtful
    assert found.state == ("doubtful" if doubtful else "matched")


def test_the_last_lenss_focal_length_is_told_from_another(sample: World) -> None:
    before = (entry("before", -3000, lens="kel-85"),)
    assert _claiming(sample, entry("now", 0), {"focal_length_mm": 85.0}, before).doubts == ("stale_entry",)
    assert _claiming(sample, entry("now", 0), {"focal_length_mm": 35.0}, before).doubts == ("focal_length",)


def test_an_f_number_against_the_mark_and_the_one_behind_the_glass(sample: World) -> None:
    now = entry("now", 0, lens="gra-80", via=["grm-ost-reducer"], aperture=4.0)
    adapters = {adapter.id: adapter for adapter in sample.gear.adapters}
    reducer = next(one for one in adapters.values() if one.optics == "reducer" and one.body_mount == "ostrel")
    lens = next(one for one in sample.gear.lenses if one.mount == reducer.lens_mount)
    now |= {"lens": lens.id, "via": [reducer.id]}
    behind = 4.0 * reducer.magnification
    for claimed, doubtful in ((4.0, False), (behind, False), (0.0, False), (8.0, True), (4.0 * 2 ** (1 / 10), True)):
        found = _claiming(sample, now, {"f_number": claimed or None})
        assert ("f_number" in found.doubts) == doubtful, claimed


def test_a_lens_that_names_itself_takes_no_tap_away(sample: World) -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    log = log_of([entry("tap", 0)], clocks=clocks)
    native = picture("A.JPG", 0, lens="Ostrel 30/1.8")
    plain = picture("B.JPG", 40)
    found = told(log, [native, plain], sample)
    assert (found["A.JPG"].state, found["A.JPG"].entry) == ("has_lens", None)
    assert found["B.JPG"].entry is not None
    # A chain that carries lens data may have it; named otherwise, that is doubtful.
    active = log_of([entry("tap", 0, lens="mrw-62", via=["mrw-ost-active"])], clocks=clocks)
    other = told(active, [native], sample)["A.JPG"]
    assert (other.state, other.doubts) == ("doubtful", ("other_lens",))
    own = picture("A.JPG", 0, lens="Marwick 62/2.8 close-up")
    assert told(active, [own], sample)["A.JPG"].state == "matched"


def test_what_a_chip_says_is_told_once_for_its_days(sample: World) -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    chip = entry("tap", 0, lens="kel-45", via=["kel-ost-chip"])
    named = picture("A.JPG", 0, lens="Chip 50 mm", focal_length_mm=50.0)
    assert told(log_of([chip], clocks=clocks), [named], sample)["A.JPG"].doubts == ("other_lens",)
    means = {"lens": "kel-45", "via": ["kel-ost-chip"]}
    says = {"lens": "chip 50 MM", "since": "2026-11-20", "until": "2026-11-21", "means": means}
    cameras = [{"body": "o7", "make": "Ostrel", "model": "O7", "says": [says]}]
    assert told(log_of([chip], clocks=clocks, cameras=cameras), [named], sample)["A.JPG"].state == "matched"
    cameras[0]["says"] = [{**says, "until": "2026-11-20"}]
    assert told(log_of([chip], clocks=clocks, cameras=cameras), [named], sample)["A.JPG"].state == "doubtful"
    # A plain ring carries nothing: only what is told of it lets such a picture be of its entry.
    plain = entry("tap", 0, lens="kel-45")
    cameras[0]["says"] = [{**says, "means": {"lens": "kel-45", "via": PLAIN}}]
    assert told(log_of([plain], clocks=clocks), [named], sample)["A.JPG"].state == "has_lens"
    assert told(log_of([plain], clocks=clocks, cameras=cameras), [named], sample)["A.JPG"].state == "matched"


def test_settled_doubts_come_first_and_take_their_tap(sample: World) -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    taken = "2026-11-21T14:00:00"
    settled = [{"files": ["elsewhere/A.JPG"], "taken_at": taken, "body": "o7", "entry": "b"}]
    log = log_of([entry("a", 0), entry("b", 30)], clocks=clocks, assignments=settled)
    found = told(log, [picture("A.JPG", 0), picture("B.JPG", 31)], sample)
    assert (found["A.JPG"].entry and found["A.JPG"].entry.id, found["A.JPG"].settled) == ("b", True)
    assert found["B.JPG"].entry is not None
    assert found["B.JPG"].entry.id == "a"
    none = [{**settled[0], "entry": None}]
    alone = told(log_of([entry("a", 0)], clocks=clocks, assignments=none), [picture("A.JPG", 0)])
    assert (alone["A.JPG"].state, alone["A.JPG"].entry) == ("none", None)
    gone = matched(log_of([entry("a", 0)], clocks=clocks, assignments=settled), [picture("A.JPG", 0)])
    assert gone.warnings == ("elsewhere/A.JPG was assigned to b, which is not in the log",)
    assert gone.pictures[0].entry is not None
    # Of pictures that are not here nothing is said.
    assert matched(log_of([entry("a", 0)], clocks=clocks, assignments=settled), [picture("B.JPG", 0)]).warnings == ()


def test_what_is_struck_out_counts_for_nothing() -> None:
    clocks = [{"body": "o7", "seconds": -3600}]
    log = log_of([entry("a", 0, struck="a slip"), entry("b", 90)], clocks=clocks)
    assert told(log, [picture("A.JPG", 0)])["A.JPG"].entry is not None
    assert told(log, [picture("A.JPG", -60)])["A.JPG"].entry is None


def test_a_camera_is_known_by_how_it_signs() -> None:
    cameras = [
        {"body": "o7", "make": "Ostrel", "model": "O7"},
        {"body": "o7-b", "make": "Ostrel", "model": "O7", "serial": "44"},
    ]
    log = log_of([], cameras=cameras)
    signed = {"A.JPG": "", "B.JPG": "44", "C.JPG": "45"}
    files = [picture(name, n, serial=serial) for n, (name, serial) in enumerate(signed.items())]
    files.append(picture("D.JPG", 9, make="Other"))
    bodies = {one.picture.file: one.body for one in matched(log, files).pictures}
    # Without its number nobody knows which of the two it is.
    assert bodies == {"A.JPG": None, "B.JPG": "o7-b", "C.JPG": "o7", "D.JPG": None}


def test_no_time_is_no_entry_and_nothing_else_stands_for_it() -> None:
    header = header_of(jpeg(None, more={0x9003: "0000:00:00 00:00:00"}), whole=True)
    assert header.taken_us is None
    found = told(log_of(_taps()), [PictureFile("A.JPG", header), PictureFile("B.JPG", header)])
    assert [(one.state, one.picture.taken_at) for one in found.values()] == [("none", None), ("none", None)]
    digitized = header_of(jpeg(None, more={0x9004: wall(0).strftime("%Y:%m:%d %H:%M:%S")}), whole=True)
    assert digitized.taken_us is not None


SCANS = "windchest-21"


def _roll(numbers: list[int], frames: int | None = None, first: int = 1) -> dict[str, Any]:
    film = [
        entry(f"r{place}", 60 * place, body="stave-3", via=[], roll=SCANS, frame_number=number)
        for place, number in enumerate(numbers)
    ]
    roll = {"id": SCANS, "body": "stave-3", "stock": "Umbral 400", "first_number": first, "frames": frames}
    return {"entries": film, "rolls": [roll]}


def _scans(count: int, folder: str = SCANS) -> list[PictureFile]:
    # The names sort by number, not by letter; what the scanner says of the time counts for nothing.
    return [picture(f"{folder}/{number}.JPG", 10_000 - number, make="Galley") for number in range(1, count + 1)]


def test_scans_are_numbered_as_the_roll_is() -> None:
    made = _roll(list(range(1, 13)), 12)
    found = told(log_of(made["entries"], rolls=made["rolls"]), _scans(12))
    assert [found[f"{SCANS}/{n}.JPG"].entry.id for n in (1, 2, 10)] == ["r0", "r1", "r9"]  # type: ignore[union-attr]
    assert {one.state for one in found.values()} == {"matched"}
    # The folder itself may be the one that is read.
    alone = [replace(file, path=file.path.rpartition("/")[2]) for file in _scans(12)]
    assert {one.state for one in told(log_of(made["entries"], rolls=made["rolls"]), alone, name=SCANS).values()} == {
        "matched"
    }


@pytest.mark.parametrize(
    ("numbers", "frames", "scans", "doubtful"),
    [
        ([1, 2, 4, 5], None, 5, {4, 5}),
        ([1, 2, 2, 3, 4], None, 4, {2, 3, 4}),
        ([1, 2, 3, 4], 4, 3, {1, 2, 3}),
        ([1, 2, 3, 4], None, 3, {1, 2, 3}),
        ([1, 2, 3, 4], 4, 4, set()),
    ],
)
def test_scans_that_do_not_agree_are_doubtful(
    numbers: list[int], frames: int | None, scans: int, doubtful: set[int]
) -> None:
    made = _roll(numbers, frames)
    found = told(log_of(made["entries"], rolls=made["rolls"]), _scans(scans))
    assert {
        int(file.rpartition("/")[2][:-4]) for file, one in found.items() if one.doubts == ("scan_order",)
    } == doubtful
