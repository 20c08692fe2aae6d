"""CSV tables, out and in."""

from __future__ import annotations

import csv
import io
import json
import string
from collections.abc import Sequence
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.random_gear import PRINTABLE, can_be_seen
from tests.thorough import examples
from tests.worlds import gear_of, lens, mount
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import items
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.merge import compare, merged
from tropeion.formats.columns import PAIRS, columns_of
from tropeion.formats.gear_reading import GearFileError
from tropeion.formats.kit_tables import dump_table, load_table, says_owned

EMPTY = Gear(format="tropeion-gear", version=1)


def _mine(**more: Any) -> Gear:
    return gear_of({"mounts": [mount("front", 45.0, aliases=["FRO"])], **more})


def _read(text: str, mine: Gear | None = None, kind: Kind | None = None) -> Lens:
    _, gear = load_table(text.encode(), mine or _mine(), kind)
    return gear.lenses[0]


def _refused(text: str | bytes, mine: Gear | None = None) -> str:
    with pytest.raises(GearFileError) as error:
        load_table(text if isinstance(text, bytes) else text.encode(), mine or _mine())
    return str(error.value)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("decimal", ["point", "comma"])
def test_out_and_in_changes_nothing(sample_gear: Gear, kind: Kind, decimal: Any) -> None:
    data = dump_table(kind, items(sample_gear, kind), decimal=decimal)
    found, gear = load_table(data, sample_gear)
    assert found == kind
    assert items(gear, kind) == items(sample_gear, kind)
    assert {change.status for change in compare(sample_gear, gear)} == {"same"}


def test_headers_carry_their_units() -> None:
    headers = [column.header for kind in ("lenses", "bodies", "adapters") for column in columns_of(kind)]
    assert {"focal_length_short_mm", "sensor_width_mm", "mass_g", "min_focus_m", "tilt_deg"} <= set(headers)


WORDS = st.text(PRINTABLE, min_size=1, max_size=12).filter(can_be_seen)


@settings(max_examples=examples(120))
@given(
    name=WORDS,
    aliases=st.lists(WORDS, max_size=3),
    notes=st.text(PRINTABLE | st.sampled_from("\n\t"), max_size=30),
    focal=st.floats(0.1, 9999),
    features=st.one_of(st.none(), st.just([])),
    price=st.one_of(st.none(), st.floats(0, 1e6)),
    decimal=st.sampled_from(["point", "comma"]),
)
def test_any_words_and_numbers_come_back_as_they_were(
    name: str, aliases: list[str], notes: str, focal: float, features: Any, price: float | None, decimal: Any
) -> None:
    told = lens(name=name, aliases=aliases, notes=notes, focal_length_mm=[focal, focal], features=features, price=price)
    gear = _mine(lenses=[told])
    _, back = load_table(dump_table("lenses", gear.lenses, decimal=decimal), gear)
    assert back.lenses == gear.lenses


@given(
    name=st.text(
        string.printable.replace("\r", "").replace("\n", "").replace("\t", "")[:90], min_size=1, max_size=8
    ).filter(str.strip)
)
def test_no_cell_can_be_run(name: str) -> None:
    """Whatever a thing is called, no cell begins as a formula does."""
    name = "=" + name
    gear = _mine(lenses=[lens(name=name, aliases=["@SUM(A1)"], notes="+1\n-2", character=["-x"])])
    rows = list(csv.reader(io.StringIO(dump_table("lenses", gear.lenses).decode("utf-8-sig"))))
    assert all(not cell.startswith(("=", "+", "-", "@", "\t", "\r")) for row in rows for cell in row)


SPREADSHEET = (
    "name;mount;focal_length_short_mm;f_number_widest;f_number_smallest;min focus (cm);mass (kg);price;owned\r\n"
)


def test_a_list_from_a_spreadsheet_with_decimal_commas() -> None:
    text = "\ufeffsep=;\r\n" + SPREADSHEET + '"The ""Owl"", old";FRO;50,5;f/1,8;16;45;0,29;1.234,5;1\r\n;;;;;;;;\r\n'
    found = _read(text)
    assert found.name == 'The "Owl", old'
    assert found.id == "the-owl-old"
    assert (found.mount, found.focal_length_mm, found.f_number) == ("front", (50.5, 50.5), (1.8, 16.0))
    assert found.min_focus_m == 0.45
    assert (found.mass_g, found.price) == (290.0, 1234.5)
    assert found.owned == 1


def test_utf_16_and_tabs_as_spreadsheets_save_them() -> None:
    text = "name\tmount\tfocal_length_short_mm\tf_number_widest\tf_number_smallest\nÖwl\tfront\t50\t2\t16\n"
    _, gear = load_table(text.encode("utf-16"), _mine())
    assert gear.lenses[0].name == "Öwl"


HEAD = "name,mount,focal_length_short_mm,f_number_widest,f_number_smallest"


@pytest.mark.parametrize(
    ("cell", "expected"),
    [
        ("1,5", 1.5),
        ("1.5", 1.5),
        ("1 234.5", 1234.5),
        ("1,234.5", 1234.5),
        ("55 mm", 55.0),
        ("5,5 cm", 55.0),
        ("1.234,5", 1234.5),
        ("2,000,000.0 µm", 2000.0),
        ("1'234", 1234.0),
        ("5.5e1", 55.0),
    ],
)
def test_numbers_as_people_write_them(cell: str, expected: float) -> None:
    assert _read(f'{HEAD}\nOwl,front,"{cell}",2,16\n').focal_length_mm[0] == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize("cell", ["1,234", "fifty", "1.2.3", "1,2,3", "55 kg", "--5", "nan", "1,23,456.0", "0x10"])
def test_a_number_that_may_be_anything_is_refused_with_its_place(cell: str) -> None:
    said = _refused(f'{HEAD}\nOwl,front,"{cell}",2,16\n')
    assert said.startswith("row 2, column focal_length_short_mm: ")


def test_a_missing_column_leaves_what_is_there_and_an_empty_cell_takes_it_out() -> None:
    mine = _mine(lenses=[lens(price=80.0, mass_g=300.0, notes="kept")])
    found = _read("id,price,mass_g\nlens,90,\n", mine, "lenses")
    assert (found.price, found.mass_g, found.notes) == (90.0, None, "kept")
    assert found.focal_length_mm == mine.lenses[0].focal_length_mm


def test_a_row_without_an_id_is_the_item_of_that_name() -> None:
    mine = _mine(lenses=[lens(name="The Owl")])
    _, theirs = load_table(f"{HEAD},owned\nthe owl,front,50,2,16,3\n".encode(), mine)
    taken = {("lenses", "lens")}
    assert merged(mine, theirs, taken).lenses[0].owned == 3
    two = _mine(lenses=[lens(), lens(id="second")])
    assert "2 lenses are called 'Test lens'" in _refused(f"{HEAD}\nTest lens,front,50,2,16\n", two)


def test_a_mount_name_that_two_systems_use_is_refused() -> None:
    mounts = [mount("front", 45.0, aliases=["Twin"]), mount("rear", 20.0, aliases=["Twin"])]
    said = _refused(f"{HEAD}\nOwl,twin,50,2,16\n", gear_of({"mounts": mounts}))
    assert "row 2, column mount: 'twin' is a name of" in said


def test_a_thread_is_written_as_it_is_said() -> None:
    mine = _mine()
    data = b"name,interface,coupling,thread,register_mm,tolerance_mm,lens_kind\nOld,old,screw,46 x 1.1,40,0.02,reflex\n"
    kind, gear = load_table(data, mine)
    thread = gear.mounts[0].thread
    assert kind == "mounts"
    assert thread is not None
    assert (thread.diameter_mm, thread.pitch_mm) == (46.0, 1.1)


REFUSALS: list[tuple[str | bytes, str]] = [
    ("", "empty"),
    (b"name,mount\n\xff\xfe\xfa", "neither UTF-8 nor UTF-16"),
    ("name,mount\nO\x07wl,front\n", "line 2: a control character (code 7)"),
    ("colour,shape\nred,round\n", "none of these headers is known"),
    (",".join(["name"] * 10_000), "more than 300 columns"),
    (HEAD + "\n" + "," * 10_000, "more than 300 columns"),
    (f"{HEAD},focal_lenght_long_mm\nOwl,front,50,2,16,60\n", "did you mean 'focal_length_long_mm'?"),
    (f"{HEAD},name\nOwl,front,50,2,16,Owl\n", "'name' stands twice"),
    (f"{HEAD}\n{'n' * 10_000},front,50,2,16\n", "row 2, column name: at most 120 characters fit"),
    (f'{HEAD}\n"Owl,front,50,2,16\n', "not a table"),
    (f"{HEAD}\nOwl,front,50,2,16,stray\n", "row 2, column 6: a value without a header"),
    (f"{HEAD},owned\nOwl,front,50,2,16,1.5\n", "row 2, column owned: '1.5' is not a whole number"),
    (f"{HEAD},stabilised\nOwl,front,50,2,16,perhaps\n", "is neither yes nor no"),
    (f"{HEAD},focus\nOwl,front,50,2,16,rong\n", "row 2, column focus: 'rong' is not one of"),
    (f"id,{HEAD}\nowl,Owl,front,50,2,16\nowl,Owl,front,50,2,16\n", "'owl' is already the id of row 2"),
    (f"{HEAD},swappable_mounts\nOwl,front,50,2,16,{{\n", "not JSON"),
    (f"{HEAD},swappable_mounts\nOwl,front,50,2,16,{'[' * 5000}\n", "not JSON"),
]


@pytest.mark.parametrize(("text", "said"), REFUSALS)
def test_what_is_wrong_is_refused_with_its_place(text: str | bytes, said: str) -> None:
    assert said in _refused(text)


def test_every_wrong_row_is_told_at_once() -> None:
    said = _refused(f"{HEAD}\nOwl,front,x,2,16\nTwo,front,50,y,16\n").splitlines()
    assert [line.split(":")[0] for line in said] == [
        "row 2, column focal_length_short_mm",
        "row 3, column f_number_widest",
    ]


def test_what_stands_in_json_cells_is_what_a_gear_file_writes(sample_gear: Gear) -> None:
    rows = list(csv.DictReader(io.StringIO(dump_table("bodies", sample_gear.bodies).decode("utf-8-sig"))))
    told = [json.loads(row["stabiliser"]) for row in rows if row["stabiliser"]]
    assert told[0] == sample_gear.bodies[0].model_dump(mode="json", exclude_defaults=True)["stabiliser"]
    assert EMPTY.bodies == ()


def test_an_empty_word_that_was_said_is_not_nothing_said(sample_gear: Gear) -> None:
    adapter = sample_gear.adapters[0].model_copy(update={"reflections": ""})
    table = dump_table("adapters", [adapter])
    kind, back = load_table(table, sample_gear)
    assert kind == "adapters"
    assert back.adapters[0].reflections == ""
    silent = adapter.model_copy(update={"reflections": None})
    assert load_table(dump_table("adapters", [silent]), sample_gear)[1].adapters[0].reflections is None


# As people write them


SPOKEN = {
    "Focal length (mm)": ("28–80", "focal_length_mm", (28.0, 80.0)),
    "focal length": ("55", "focal_length_mm", (55.0, 55.0)),
    "f-number": ("f/2.2–22", "f_number", (2.2, 22.0)),
    "Aperture, widest to smallest": ("2.2-16", "f_number", (2.2, 16.0)),
    "Closest focus (m)": ("0.45", "min_focus_m", 0.45),
    "Closest focus (cm)": ("45", "min_focus_m", 0.45),
    "Weight (g)": ("310", "mass_g", 310.0),
    "Weight (kg)": ("0.31", "mass_g", 0.31 * 1000),
    "Image circle (mm)": ("43.5", "image_circle_mm", 43.5),
    "Owned": ("2", "owned", 2),
}


@pytest.mark.parametrize("heading", SPOKEN)
def test_headings_are_read_as_the_screen_writes_them(heading: str) -> None:
    cell, field, value = SPOKEN[heading]
    rest = {"name": "Own", "mount": "kelvane", "focal_length_short_mm": "55"}
    rest |= {"f_number_widest": "2", "f_number_smallest": "16"}
    for column in PAIRS.get(field, (field,)):
        rest.pop(column, None)
    head, row = zip(*(*rest.items(), (heading, cell)), strict=True)
    mine = gear_of({"mounts": [mount("kelvane", 46.2)]})
    kind, found = load_table(_table(head, row), mine)
    assert kind == "lenses"
    assert getattr(found.lenses[0], field) == value


def test_a_mount_by_the_words_of_the_screen() -> None:
    heads = ("Name", "Coupling", "Flange focal distance (mm)")
    _, found = load_table(_table(heads, ("Own", "bayonet", "44,2")), gear_of({}))
    assert found.mounts[0].register_mm == 44.2


def test_a_body_with_its_sensor_in_one_cell() -> None:
    mine = gear_of({"mounts": [mount("kelvane", 46.2)]})
    _, found = load_table(_table(("Name", "Mount", "Sensor (mm)"), ("Own", "Kelvane", "23.5 × 15.6")), mine, "bodies")
    assert found.bodies[0].sensor_mm == (23.5, 15.6)


def test_the_empty_table_that_is_offered_can_be_filled_in() -> None:
    heads = ("name", "mount", "focal length (mm)", "f-number", "closest focus (m)", "owned")
    mine = gear_of({"mounts": [mount("kelvane", 46.2)]})
    kind, found = load_table(_table(heads, ("Own 55", "Kelvane", "55", "f/2", "0,5", "1")), mine)
    (one,) = found.lenses
    assert (kind, one.focal_length_mm, one.f_number, one.min_focus_m, one.owned) == ("lenses", (55, 55), (2, 2), 0.5, 1)


@pytest.mark.parametrize(("heads", "says"), [(("name", "owned"), True), (("name", "price"), False)])
def test_whether_a_table_says_what_is_owned(heads: tuple[str, ...], says: bool) -> None:
    assert says_owned(_table(("mount", "focal length", *heads), ("a", "50", "b", "1"))) is says


def _table(head: Sequence[str], row: Sequence[str]) -> bytes:
    return "\n".join(";".join(cells) for cells in (head, row)).encode()
