"""A hundred and forty kinds of bad file: each refused with its place and its reason, in little time and memory."""

from __future__ import annotations

import json
from collections.abc import Callable
from multiprocessing.context import ForkServerContext
from typing import Any

import pytest

from tests.attack.deeds import read_measured
from tests.limits import LIMIT_S
from tests.thorough import EVERYWHERE
from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.gear import Gear
from tropeion.formats.any_file import load_any
from tropeion.formats.gear_reading import MAX_BYTES, GearFileError

HEAD: dict[str, Any] = {"format": "tropeion-gear", "version": 1}
MOUNTS = [mount("front", 45.0), mount("rear", 20.0)]
MINE = gear_of({"mounts": MOUNTS, "bodies": [body()], "lenses": [lens()], "adapters": [ring()]})


def whole(**changes: Any) -> dict[str, Any]:
    return {**HEAD, "mounts": MOUNTS, "bodies": [body()], "lenses": [lens()], "adapters": [ring()], **changes}


def text(**changes: Any) -> bytes:
    return json.dumps(whole(**changes)).encode()


# Bytes that are no gear file, and what is said of them.
RAW: dict[str, tuple[bytes, str]] = {
    "a brace": (b"{", "line 1, column 2"),
    "two braces": (b"{{", "line 1, column 3"),
    "no end": (text()[:-1], "',' or '}' is missing"),
    "half": (text()[: len(text()) // 2], "not JSON"),
    "after the end": (text() + b"}", "something stands after the end"),
    "twice": (text() + text(), "something stands after the end"),
    "a list": (b"[" + text() + b"]", "not a gear file"),
    "no format": (b'{"version": 1}', "format: not a gear file"),
    "another format": (b'{"format": "other", "version": 1}', "format: not a gear file"),
    "newer": (b'{"format": "tropeion-gear", "version": 2}', "newer than this program"),
    "no version": (b'{"format": "tropeion-gear"}', "version: missing"),
    "version in words": (b'{"format": "tropeion-gear", "version": "1"}', "version"),
    "single quotes": (b"{'format': 'tropeion-gear'}", "line 1, column 2"),
    "no quotes": (b"{format: 1}", "line 1, column 2"),
    "a comma too many": (text()[:-1] + b",}", "a comma before the end"),
    "two commas": (b'{"format": "tropeion-gear",, "version": 1}', "line 1, column 28"),
    "a colon too few": (b'{"format" "tropeion-gear"}', "':' is missing"),
    "a comment": (b'{"format": "tropeion-gear", /* 1 */ "version": 1}', "line 1, column 29"),
    "no literal": (b'{"format": "tropeion-gear", "version": 1, "lenses": nul}', "line 1, column 53"),
    "an open text": (b'{"format": "tropeion-gear', "Unterminated string"),
    "a bare escape": (b'{"format": "tropeion-gear", "version": 1, "currency": "\\x"}', "Invalid \\escape"),
    "a raw control": (b'{"format": "tropeion-gear", "version": 1, "currency": "\x01"}', "control character"),
    "not UTF-8": (b'{"format": "tropeion-gear", "version": 1, "currency": "\xff"}', "byte 55: not UTF-8"),
    "a mark": (b"\xef\xbb\xbf" + text(), "a byte-order mark"),
    "UTF-16 without a mark": (text().decode().encode("utf-16-le"), "UTF-16 that does not say so"),
    "half of UTF-16": (b"\xff\xfe{", "not UTF-16, as it says"),
    "a field twice": (text()[:-1] + b', "version": 1}', "'version' stands twice"),
    "quotes without end": (b'{"a": ' + b'\\"' * 40_000, "not JSON"),
    "brackets without end": (b'{"format": "tropeion-gear", "version": 1, "lenses": ' + b"[" * 80_000, "nested deeper"),
    "objects without end": (b'{"lenses": [' + b'{"a":' * 80_000, "nested deeper"),
    "digits without end": (b'{"format": "tropeion-gear", "version": ' + b"1" * 5000 + b"}", "5000 digits"),
    "one long text": (b'{"format": "' + b"x" * 2_000_000 + b'"}', "larger than 1 MB"),
    "an item of a megabyte": (
        b'{"format": "tropeion-gear", "version": 1, "lenses": [[' + b"1," * 600_000 + b"1]]}",
        "lenses[0]: larger than 1 MB",
    ),
    "an unknown field with a long name": (
        b'{"format": "tropeion-gear", "version": 1, "' + b"x" * 900_000 + b'": 1}',
        "unknown field",
    ),
    "deep behind a long name": (b'{"' + b"x" * 900_000 + b'": ' + b"[" * 80_000, "nested deeper"),
    "too many items": (
        b'{"format": "tropeion-gear", "version": 1, "lenses": [' + b"1," * 50_001 + b"1]}",
        "more than 50000 items",
    ),
}

# One wrong value of a lens, its place and what is said of it.
LENS: dict[str, tuple[dict[str, Any], str, str]] = {
    "no id": ({"id": None}, "lenses[0].id", "words are wanted"),
    "an empty id": ({"id": ""}, "lenses[0].id", "small letters"),
    "a long id": ({"id": "a" * 65}, "lenses[0].id", "small letters"),
    "a path for an id": ({"id": "../x"}, "lenses[0].id", "small letters"),
    "an empty name": ({"name": ""}, "lenses[0].name", "it is empty"),
    "a blank name": ({"name": "  "}, "lenses[0].name", "nothing but blanks"),
    "a zero-width name": ({"name": "\u200b"}, "lenses[0].name", "invisible character (U+200B)"),
    "a name turned round": ({"name": "\u202egnol"}, "lenses[0].name", "invisible character (U+202E)"),
    "a long name": ({"name": "n" * 121}, "lenses[0].name", "at most 120"),
    "a name of 900 kB": ({"name": "n" * 900_000}, "lenses[0].name", "at most 120"),
    "a number for a name": ({"name": 5}, "lenses[0].name", "words are wanted"),
    "half a character": ({"name": "\ud800"}, "lenses[0]", "half of a character"),
    "a bell in a name": ({"name": "a\x07"}, "lenses[0].name", "control characters"),
    "long notes": ({"notes": "n" * 4001}, "lenses[0].notes", "at most 4000"),
    "no mount, and parts of one": ({"mount": None, "features": ["rack"]}, "lenses[0]", "a lens without a mount"),
    "a mount of nothing": ({"mount": "nowhere"}, "lenses[0].mount", "no mount has the id"),
    "a list for a mount": ({"mount": []}, "lenses[0].mount", "words are wanted"),
    "no focal length": ({"focal_length_mm": None}, "lenses[0].focal_length_mm", "a list is wanted"),
    "one focal length": ({"focal_length_mm": [50]}, "lenses[0].focal_length_mm[1]", "missing"),
    "three focal lengths": ({"focal_length_mm": [50, 60, 70]}, "lenses[0].focal_length_mm", "at most 2"),
    "focal lengths downwards": ({"focal_length_mm": [80, 28]}, "lenses[0]", "from the short end"),
    "a focal length of zero": ({"focal_length_mm": [0, 0]}, "lenses[0].focal_length_mm[0]", "0.1"),
    "a focal length below zero": ({"focal_length_mm": [-50, 50]}, "lenses[0].focal_length_mm[0]", "0.1"),
    "a focal length in words": (
        {"focal_length_mm": ["50", "50"]},
        "lenses[0].focal_length_mm[0]",
        "a number is wanted",
    ),
    "a tiny aperture": ({"f_number": [5e-324, 16]}, "lenses[0].f_number[0]", "0.1"),
    "apertures downwards": ({"f_number": [16, 2]}, "lenses[0]", "from the widest stop"),
    "NaN": ({"price": float("nan")}, "lenses[0].price", "NaN is not a number"),
    "infinity": ({"price": float("inf")}, "lenses[0].price", "Infinity is not a number"),
    "less than nothing": ({"price": -1}, "lenses[0].price", "at least 0 is wanted"),
    "a fortune": ({"price": 1e300}, "lenses[0].price", "at most"),
    "a price in words": ({"price": "60 EUR"}, "lenses[0].price", "a number is wanted"),
    "yes for a price": ({"price": True}, "lenses[0].price", "a number is wanted"),
    "half a lens": ({"owned": 0.5}, "lenses[0].owned", "a whole number is wanted"),
    "many lenses": ({"owned": 10**9}, "lenses[0].owned", "at most"),
    "a day that is none": ({"measured_on": "yesterday"}, "lenses[0].measured_on", "expected form"),
    "an unknown way to focus": ({"focus": "rings"}, "lenses[0].focus", "did you mean 'ring'"),
    "a number for yes": ({"retired": 1}, "lenses[0].retired", "yes or no is wanted"),
    "an unknown field": ({"colour": "red"}, "lenses[0].colour", "unknown field"),
    "a text for a list": ({"aliases": "Owl"}, "lenses[0].aliases", "a list is wanted"),
    "an object for a list": ({"aliases": {}}, "lenses[0].aliases", "a list is wanted"),
    "lists in lists": ({"aliases": [[["x"]]]}, "lenses[0].aliases[0]", "words are wanted"),
    "too many aliases": ({"aliases": ["x"] * 201}, "lenses[0].aliases", "at most 200"),
    "features of nothing": ({"features": ["prow"]}, "lenses[0].features[0]", "prow"),
    "a generation of nothing": ({"generation": "third"}, "lenses[0].generation", "third"),
    "a protocol of nothing": ({"protocol": "speech"}, "lenses[0].protocol", "speech"),
    "assumed of nothing": ({"assumed": ["colour"]}, "lenses[0]", "no field of this kind"),
    "evidence without a claim": ({"evidence": [{"verdict": "confirmed"}]}, "lenses[0].evidence[0].claim", "missing"),
    "a wide squeeze": ({"squeeze": 100}, "lenses[0].squeeze", "at most 4 is wanted"),
    "a tilt of ninety": ({"tilt_deg": 90}, "lenses[0].tilt_deg", "less than 90"),
    "a throw of zero": ({"focus_throw_deg": 0}, "lenses[0].focus_throw_deg", "0.001"),
    "near as nothing": ({"min_focus_m": 0}, "lenses[0].min_focus_m", "0.001"),
    "deep": ({"notes": json.loads("[" * 40 + "]" * 40)}, "lenses[0]", "nested deeper"),
}

# Something wrong elsewhere.
OTHER: dict[str, tuple[dict[str, Any], str, str]] = {
    "lenses are one lens": ({"lenses": lens()}, "lenses", "a list is wanted"),
    "lenses are a text": ({"lenses": "lens"}, "lenses", "a list is wanted"),
    "a lens is a text": ({"lenses": ["lens"]}, "lenses[0]", "fields with their values are wanted"),
    "a lens is nothing": ({"lenses": [None]}, "lenses[0]", "fields with their values are wanted"),
    "a lens twice": ({"lenses": [lens(), lens()]}, "lenses[1].id", "already the id of lenses[0]"),
    "an unknown shelf": ({"lensen": []}, "lensen", "did you mean 'lenses'"),
    "no currency": ({"currency": "cash"}, "currency", "expected form"),
    "a register of zero": ({"mounts": [mount("front", 0.0), MOUNTS[1]]}, "mounts[0].register_mm", "0.1"),
    "a screw without a thread": (
        {"mounts": [mount("front", 45.0, coupling="screw"), MOUNTS[1]]},
        "mounts[0]",
        "thread",
    ),
    "a thread of nothing": (
        {"mounts": [mount("front", 45.0, coupling="screw", thread={"diameter_mm": 0, "pitch_mm": 1}), MOUNTS[1]]},
        "mounts[0].thread.diameter_mm",
        "0.001",
    ),
    "a rule of nothing": (
        {"mounts": [mount("front", 45.0, rules=[{"lens_has": ["prow"], "effect": "damage", "text": "x"}]), MOUNTS[1]]},
        "mounts[0].rules[0].lens_has[0]",
        "prow",
    ),
    "features twice": (
        {"mounts": [mount("front", 45.0, features=[{"id": "a", "side": "lens", "label": "a"}] * 2), MOUNTS[1]]},
        "mounts[0].features[1].id",
        "already the id",
    ),
    "a body without a sensor": (
        {"bodies": [{"id": "b", "name": "B", "mount": "rear"}]},
        "bodies[0].sensor_mm",
        "missing",
    ),
    "a sensor of nothing": ({"bodies": [body(sensor_mm=[0, 0])]}, "bodies[0].sensor_mm[0]", "0.001"),
    "glass without registers": ({"adapters": [ring(magnification=0.7)]}, "adapters[0]", "register_in_mm"),
    "a chip without values": ({"adapters": [ring(link="chip")]}, "adapters[0]", "chip"),
    "a ring too long": ({"adapters": [ring(length_mm=501.0)]}, "adapters[0].length_mm", "at most 500 is wanted"),
    "a rig of many": (
        {"rigs": [{"id": "r", "name": "R", "lens": "lens", "body": "body", "adapters": ["ring"] * 21}]},
        "rigs[0].adapters",
        "at most 20",
    ),
    "a rig of nothing": ({"rigs": [{"id": "r", "name": "R", "lens": "x", "body": "body"}]}, "rigs[0].lens", "no lens"),
    "a speech of nothing": (
        {"protocols": [{"id": "p", "name": "P", "powers": ["sun"]}]},
        "protocols[0].powers[0]",
        "sun",
    ),
}

COLUMNS = "name,mount,focal_length_short_mm,f_number_widest,f_number_smallest"


def table(row: str, columns: str = COLUMNS) -> bytes:
    return f"{columns}\n{row}\n".encode()


# Bad tables, and what is said of them.
TABLES: dict[str, tuple[bytes, str]] = {
    "nothing": (b"", "empty"),
    "blanks": (b"\n\n  \n", "empty"),
    "no headers that are known": (b"x,y\n1,2\n", "line 1"),
    "a header twice": (table("Owl,front,50,2,16,Owl", f"{COLUMNS},name"), "'name' stands twice"),
    "an unknown header": (table("Owl,front,50,2,16,x", f"{COLUMNS},colour"), "colour"),
    "a value without a header": (table("Owl,front,50,2,16,x"), "row 2, column 6"),
    "an open quote": (table('"Owl,front,50,2,16'), "not a table"),
    "a quote within": (table('"Owl"x,front,50,2,16'), "not a table"),
    "too many columns": (b"name" + b"," * 400, "more than 300 columns"),
    "a long cell": (table("x" * 200_000 + ",front,50,2,16"), "not a table"),
    "a control character": (table("Owl\x07,front,50,2,16"), "line 2: a control character"),
    "not UTF-8": (table("Owl,front,50,2,16").replace(b"Owl", b"\xffwl"), "neither UTF-8 nor UTF-16"),
    "UTF-16 without a mark": (table("Owl,front,50,2,16").decode().encode("utf-16-le"), "a control character"),
    "no number": (table("Owl,front,fifty,2,16"), "row 2, column focal_length_short_mm: 'fifty' is not a number"),
    "digits without end": (table("Owl,front," + "5" * 20_000 + ",2,16"), "too long for a number"),
    "blanks and digits without end": (table("Owl,front," + "5 " * 10_000 + "x,2,16"), "too long for a number"),
    "points without end": (table("Owl,front," + "1." * 10_000 + ",2,16"), "too long for a number"),
    "a huge number": (table("Owl,front,1e400,2,16"), "row 2, column focal_length_short_mm"),
    "two readings": (table('Owl,front,"1,234",2,16'), "may be read in two ways"),
    "another unit": (table("Owl,front,50 kg,2,16"), "'kg' is not a unit of this column"),
    "less than nothing": (table("Owl,front,-50,2,16"), "row 2, column focal_length_short_mm"),
    "half a lens": (table("Owl,front,50,2,16,1.5", f"{COLUMNS},owned"), "'1.5' is not a whole number"),
    "countless lenses": (table("Owl,front,50,2,16," + "9" * 10_000, f"{COLUMNS},owned"), "too long for a number"),
    "endless lenses": (table("Owl,front,50,2,16,1e400", f"{COLUMNS},owned"), "'1e400' is not a whole number"),
    "neither yes nor no": (table("Owl,front,50,2,16,perhaps", f"{COLUMNS},retired"), "neither yes nor no"),
    "no JSON": (table("Owl,front,50,2,16,{x", f"{COLUMNS},evidence"), "not JSON"),
    "deep JSON": (table("Owl,front,50,2,16," + "[" * 50_000, f"{COLUMNS},evidence"), "not JSON"),
    "NaN in JSON": (table("Owl,front,50,2,16,[NaN]", f"{COLUMNS},evidence"), "not JSON"),
    "no name": (table(",front,50,2,16"), "row 2"),
    "a zero-width name": (table("\u200b,front,50,2,16"), "invisible character"),
    "an unknown way to focus": (table("Owl,front,50,2,16,rong", f"{COLUMNS},focus"), "'rong' is not one of"),
    "an id twice": (table("owl,Owl,front,50,2,16\nowl,Owl,front,50,2,16", f"id,{COLUMNS}"), "already the id of row 2"),
    "an impossible id": (table("O W L,Owl,front,50,2,16", f"id,{COLUMNS}"), "row 2, column id"),
    "a thread of many digits": (
        table(
            "x,x,joint,screw,40,mirrorless," + "4" * 20_000 + "x",
            "id,name,interface,coupling,register_mm,lens_kind,thread",
        ),
        "row 2",
    ),
}

EVERY = {
    **{f"bytes: {name}": case for name, case in RAW.items()},
    **{f"lens: {name}": (text(lenses=[lens(**more)]), f"{place} {said}") for name, (more, place, said) in LENS.items()},
    **{f"elsewhere: {name}": (text(**more), f"{place} {said}") for name, (more, place, said) in OTHER.items()},
    **{f"table: {name}": case for name, case in TABLES.items()},
}


def test_there_are_a_hundred_and_forty() -> None:
    assert len(EVERY) >= 140


@pytest.mark.parametrize("name", EVERY)
def test_each_is_refused_with_its_place_and_reason(name: str) -> None:
    data, said = EVERY[name]
    with pytest.raises(GearFileError) as refused:
        load_any(data, MINE)
    problems = [str(problem) for problem in refused.value.problems]
    assert 0 < len(problems) <= 201
    assert all(len(problem) < 1000 for problem in problems)
    if name.startswith(("lens: ", "elsewhere: ")):
        place, reason = said.split(" ", 1)
        assert any(one.startswith(place) and reason in one for one in problems), problems
    else:
        assert any(said in one for one in problems), problems


def _measured(data: bytes, fresh: ForkServerContext, mine: Gear = MINE) -> tuple[tuple[str, ...], int, float]:
    ours, theirs = fresh.Pipe(duplex=False)
    process = fresh.Process(target=read_measured, args=(data, mine, theirs))
    process.start()
    found: tuple[tuple[str, ...], int, float] = ours.recv()
    process.join(LIMIT_S)
    return found


def _filled(start: bytes, unit: bytes, end: bytes, size: int) -> bytes:
    return start + unit * ((size - len(start) - len(end)) // len(unit)) + end


START = b'{"format": "tropeion-gear", "version": 1, "mounts": ' + json.dumps(MOUNTS).encode() + b', "lenses": ['
FAULTY = b'{"id":"Q Q","price":-1,"mass_g":-1},'
ROW = b"Owl,front,50,2,16\n"
WIDE = "\N{CAMERA}".encode()

# What fills a file up to the limit.
LARGE: dict[str, Callable[[int], bytes]] = {
    "one text": lambda size: _filled(b'{"format": "', b"x", b'"}', size),
    "one text with a picture": lambda size: _filled(b'{"format": "' + WIDE, b"x", b'"}', size),
    "brackets": lambda size: _filled(START, b"[],", b"[]]}", size),
    "open brackets": lambda size: _filled(START, b"[", b"", size),
    "escaped quotes": lambda size: _filled(b'{"format": ', b'\\"', b"", size),
    "quotes": lambda size: _filled(b"{", b'"', b"", size),
    "faulty items": lambda size: _filled(START, FAULTY, b"1]}", min(size, 3_500_000)),
    "fields": lambda size: _filled(b"{", b'"a":1,', b'"b":1}', size),
    "blanks": lambda size: _filled(b"{", b" ", b"", size),
    "rows of one name": lambda size: _filled(COLUMNS.encode() + b"\n", ROW, b"", min(size, 49_000 * len(ROW))),
    "rows of digits": lambda size: _filled(
        COLUMNS.encode() + b"\n", b"Owl,front," + b"5" * 20_000 + b",2,16\n", b"", size
    ),
    "one row": lambda size: _filled(b"name,mount\n", b"x" * 99_999 + b",", b"", size),
}


@pytest.mark.parametrize("name", LARGE if EVERYWHERE else ["brackets"])
def test_at_the_limit_of_size_it_is_read_in_bounded_memory(name: str, fresh: ForkServerContext) -> None:
    data = LARGE[name](MAX_BYTES)
    assert len(data) <= MAX_BYTES
    _, _, grown_mb = _measured(data, fresh)
    assert grown_mb < 400


def _of_many(count: int) -> bytes:
    return json.dumps(whole(lenses=[lens(id=f"l{number}", name=f"Lens {number}") for number in range(count)])).encode()


GROWING: dict[str, Callable[[int], bytes]] = {
    "good lenses": _of_many,
    "faulty lenses": lambda count: _filled(START, FAULTY, b"1]}", count * len(FAULTY)),
    "rows of one name": lambda count: COLUMNS.encode() + b"\n" + ROW * count,
    "features": lambda count: json.dumps(
        whole(
            mounts=[
                mount("front", 45.0, features=[{"id": f"f{n}", "side": "lens", "label": "f"} for n in range(1000)]),
                MOUNTS[1],
            ],
            lenses=[lens(id=f"l{n}", features=[f"f{m}" for m in range(200)]) for n in range(count // 40)],
        )
    ).encode(),
    "references to nothing": lambda count: json.dumps(
        whole(lenses=[lens(id=f"l{number}", mount=f"m{number}") for number in range(count)])
    ).encode(),
}


@pytest.mark.parametrize("name", GROWING if EVERYWHERE else ["good lenses", "features"])
def test_twice_the_size_takes_twice_the_steps(name: str, fresh: ForkServerContext) -> None:
    """Steps are calls, which are the same on every machine. Twice the work of a square would be four times as many."""
    small, large = GROWING[name](1_000), GROWING[name](2_000)
    steps, twice = _measured(small, fresh)[1], _measured(large, fresh)[1]
    assert steps > 1_000
    assert twice < 2.3 * steps
