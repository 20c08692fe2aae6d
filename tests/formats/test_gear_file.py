"""The gear file: whole or refused whole, every error with its place."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, lens, mount, ring
from tropeion.formats import gear_file
from tropeion.formats.gear_reading import GearFileError
from tropeion.sample import sample_bytes


def document(**changes: Any) -> dict[str, Any]:
    return {
        "format": "tropeion-gear",
        "version": 1,
        "mounts": [mount("front", 45.0), mount("rear", 20.0)],
        "bodies": [body()],
        "lenses": [lens()],
        "adapters": [ring()],
        **changes,
    }


def refusal(changed: dict[str, Any] | bytes) -> list[str]:
    data = changed if isinstance(changed, bytes) else json.dumps(changed).encode()
    with pytest.raises(GearFileError) as refused:
        gear_file.load(data)
    return [str(problem) for problem in refused.value.problems]


def test_a_good_file_is_read() -> None:
    gear = gear_file.load(json.dumps(document()).encode())
    assert [item.id for item in gear.lenses] == ["lens"]


# Round trip


def test_the_sample_is_written_as_it_stands() -> None:
    assert gear_file.dump(gear_file.load(sample_bytes())) == sample_bytes()


def test_one_object_a_line() -> None:
    lines = gear_file.dump(gear_file.load(json.dumps(document()).encode())).decode().splitlines()
    (line,) = [line for line in lines if '"id": "lens"' in line]
    assert json.loads(line.strip().rstrip(","))["f_number"] == [2.0, 16.0]


items = st.fixed_dictionaries(
    {},
    optional={
        "aliases": st.lists(st.text("aböß×–#", min_size=1, max_size=8), max_size=2),
        "notes": st.text(st.characters(exclude_categories=["Cc", "Cf", "Cs", "Zl", "Zp"]), max_size=40),
        "retired": st.booleans(),
        "owned": st.integers(0, 9),
        "price": st.one_of(st.none(), st.floats(0, 9999)),
        "mass_g": st.one_of(st.none(), st.floats(0, 9999)),
        "min_focus_m": st.one_of(st.none(), st.floats(0.01, 30)),
        "squeeze": st.sampled_from([1.0, 1.33, 2.0]),
        "focus": st.sampled_from(["ring", "motor", "none"]),
        "character": st.lists(st.text("abc ", min_size=1, max_size=5).filter(str.strip), max_size=3),
    },
)


@given(items)
def test_export_then_import_changes_nothing(more: dict[str, Any]) -> None:
    gear = gear_file.load(json.dumps(document(lenses=[lens(**more)])).encode())
    assert gear_file.load(gear_file.dump(gear)) == gear


# Refusals of the whole file


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"not json", "line 1, column 1: not JSON"),
        (b'{"format": "tropeion-gear", "version": 1', "not JSON"),
        (b"[]", "not a gear file"),
        (b'{"format": "other"}', "format: not a gear file"),
        (b'{"format": "tropeion-gear", "version": 2}', "version 2 is newer"),
        (b'{"format": "tropeion-gear", "version": 1, "bodies": NaN}', "NaN is not a number"),
        (b'{"format": "tropeion-gear", "version": 1, "version": 1}', "'version' stands twice"),
        (b'\xef\xbb\xbf{"format": "tropeion-gear", "version": 1}', "byte-order mark"),
        ('{"format": "tropeion-gear", "version": 1, "currency": "ü"}'.encode("latin-1"), "not UTF-8"),
        (b'{"format": "tropeion-gear", "version": 1, "bodies": {"a":' + b"[" * 60 + b"]" * 60 + b"}}", "nested deeper"),
        (b'{"format": "tropeion-gear", "version": 1, "bodies": ' + b"[" * 200_000, "nested deeper"),
        (b"[" * 200_000, "not a gear file"),
        (b'{"format": "tropeion-gear", "version": 1,}', "line 1, column 42: not JSON: a comma before the end"),
        (b'{"format": "tropeion-gear", "version": 1} more', "column 43: not JSON: something stands after the end"),
        (b'{"format": "tropeion-gear", "version": 1 "a": 2}', "column 42: not JSON: ',' or '}' is missing"),
        (b'{"format": "tropeion-gear", "version": 1, "mounts": [{}\n {}]}', "line 2, column 2: not JSON"),
        (b'{"format" "tropeion-gear"}', "column 11: not JSON: ':' is missing"),
        (b"{1: 2}", "a field's name in quotes is missing"),
        (b'{"format": "tropeion-gear", "version": 1, "note": "' + b"a" * 2_000_000 + b'"}', "note: larger than 1 MB"),
        ('{"format": "tropeion-gear"}'.encode("utf-16-le"), "UTF-16 that does not say so"),
        (b"\xff\xfea", "not UTF-16, as it says"),
    ],
)
def test_what_is_no_gear_file(data: bytes, said: str) -> None:
    (problem,) = refusal(data)
    assert said in problem


def test_utf_16_that_says_so_is_read() -> None:
    text = json.dumps(document())
    assert gear_file.load(text.encode("utf-16")) == gear_file.load(text.encode())


def test_brackets_in_text_are_not_nesting() -> None:
    gear = gear_file.load(json.dumps(document(lenses=[lens(notes="[" * 500 + '\\"{')])).encode())
    assert gear.lenses[0].notes.startswith("[[[")


# Refusals of one place


@pytest.mark.parametrize(
    ("changes", "place", "said"),
    [
        ({"lenses": [lens(focal_lenght_mm=1)]}, "lenses[0].focal_lenght_mm (lens)", "did you mean 'focal_length_mm'?"),
        ({"lenses": [lens(mount="fornt")]}, "lenses[0].mount", "did you mean 'front'?"),
        ({"lenses": [lens(focus="rings")]}, "lenses[0].focus (lens)", "did you mean 'ring'?"),
        ({"lenses": [lens(price=-1)]}, "lenses[0].price (lens)", "at least 0 is wanted"),
        ({"lenses": [lens(price="12")]}, "lenses[0].price (lens)", "a number is wanted"),
        ({"lenses": [lens(focal_length_mm=[80, 28])]}, "lenses[0] (lens)", "from the short end to the long end"),
        ({"lenses": [lens(f_number=[2])]}, "lenses[0].f_number[1] (lens)", "missing"),
        ({"lenses": [lens(name="a\u0007b")]}, "lenses[0].name (lens)", "control characters"),
        ({"lenses": [lens(name="x" * 10_000)]}, "lenses[0].name (lens)", "at most 120 characters"),
        ({"lenses": [lens(id="Big Id")]}, "lenses[0].id (Big Id)", "small letters"),
        ({"lenses": [lens(), lens()]}, "lenses[1].id", "already the id of lenses[0]"),
        ({"mounts": [mount("front", 501.0), mount("rear", 20.0)]}, "mounts[0].register_mm (front)", "500"),
        (
            {"mounts": [mount("front", -1.0), mount("rear", 20.0)]},
            "mounts[0].register_mm (front)",
            "at least 0.1 is wanted",
        ),
        ({"mounts": [mount("front", 45.0, coupling="screw"), mount("rear", 20.0)]}, "mounts[0] (front)", "thread"),
        ({"adapters": [ring(optics="reducer", magnification=0.7)]}, "adapters[0] (ring)", "register_in_mm"),
        ({"adapters": [ring(magnification=0.7)]}, "adapters[0] (ring)", "register_in_mm"),
        ({"adapters": [ring(link="chip")]}, "adapters[0] (ring)", "chip"),
        ({"adapters": [ring(link="translate")]}, "adapters[0] (ring)", "from_protocol"),
        ({"adapters": [ring(lens_side_features=["prow"])]}, "adapters[0].lens_side_features[0]", "prow"),
        ({"bodies": [body(generation="third")]}, "bodies[0].generation", "third"),
        ({"bodies": [body(protocols=["speech"])]}, "bodies[0].protocols[0]", "speech"),
        ({"bodies": [{"id": "body"}]}, "bodies[0].name (body)", "missing"),
        ({"rigs": [{"id": "r", "name": "R", "lens": "lenz", "body": "body"}]}, "rigs[0].lens", "did you mean 'lens'?"),
        ({"lensen": []}, "lensen", "did you mean 'lenses'?"),
        ({"lenses": [lens(price=float("nan"))]}, "lenses[0].price", "NaN is not a number"),
        ({"lenses": [lens(name="half \ud800")]}, "lenses[0] (lens)", "half of a character"),
        ({"lenses": [lens(aliases=[[[[]]]])]}, "lenses[0].aliases[0] (lens)", "words are wanted"),
    ],
)
def test_one_wrong_place(changes: dict[str, Any], place: str, said: str) -> None:
    problems = refusal(document(**changes))
    assert any(problem.startswith(f"{place}:") and said in problem for problem in problems), problems


def test_all_errors_come_at_once() -> None:
    wrong = document(lenses=[lens(mount="a"), lens(id="b", mount="c")], adapters=[ring(body_mount="d")])
    assert [problem.split(":")[0] for problem in refusal(wrong)] == [
        "lenses[0].mount",
        "lenses[1].mount",
        "adapters[0].body_mount",
    ]


def test_a_generation_of_another_mount_is_named_as_such() -> None:
    other = mount("rear", 20.0, generations=[{"id": "rear-1", "label": "I"}])
    problems = refusal(document(mounts=[mount("front", 45.0), other], lenses=[lens(generation="rear-1")]))
    assert problems == ["lenses[0].generation: 'rear-1' is a generation of 'rear', not of 'front'"]


def test_a_number_of_thousands_of_digits_is_told_with_its_place() -> None:
    data = json.dumps(document(lenses=[lens(owned=7)])).encode().replace(b'"owned": 7', b'"owned": ' + b"7" * 5000)
    assert refusal(data) == ["lenses[0].owned: a number of 5000 digits"]


def test_a_field_that_stands_twice_is_told_with_its_place() -> None:
    data = json.dumps(document()).encode().replace(b'"f_number": [2, 16]', b'"f_number": [2, 16], "f_number": [3, 16]')
    assert refusal(data) == ["lenses[0].f_number: the field 'f_number' stands twice in one object (keep one of them)"]


def test_of_many_errors_the_first_are_told_and_how_many_more() -> None:
    wrong = document(lenses=[lens(id=f"l{number}", price=-1, mass_g=-1) for number in range(1000)])
    problems = refusal(wrong)
    assert len(problems) == 201
    assert problems[0].startswith("lenses[0].price (l0)") or problems[0].startswith("lenses[0].mass_g (l0)")
    assert problems[-1] == "file: and 1800 more errors"


def test_infinity_written_as_a_large_number_is_refused() -> None:
    data = json.dumps(document()).encode().replace(b"45.0", b"1e999", 1)
    assert any("mounts[0].register_mm" in problem for problem in refusal(data))


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda children: st.lists(children, max_size=3) | st.dictionaries(st.text(max_size=5), children, max_size=3),
    max_leaves=8,
)


@given(st.sampled_from(["mounts", "bodies", "lenses", "adapters", "rigs", "protocols", "currency"]), json_values)
def test_whatever_stands_there_is_read_or_refused(key: str, value: Any) -> None:
    data = json.dumps(document(**{key: value})).encode()
    try:
        gear = gear_file.load(data)
    except GearFileError as error:
        refused = error
    else:
        assert gear_file.load(gear_file.dump(gear)) == gear
        return
    assert refused.problems


# Schema


def test_the_schema_knows_every_field_of_the_sample() -> None:
    schema = gear_file.json_schema()
    lens_fields = schema["$defs"]["Lens"]["properties"].keys()
    sample = json.loads(sample_bytes())
    assert {field for item in sample["lenses"] for field in item} <= lens_fields
    assert "from" in schema["$defs"]["Generation"]["properties"]
    assert schema["$defs"]["Lens"]["additionalProperties"] is False
