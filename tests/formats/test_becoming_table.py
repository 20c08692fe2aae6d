"""Tables of what lenses become, as a spreadsheet reads them."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest

from tests.worlds import body, lens, ring, world_of
from tropeion.core.becomes.becoming_tables import lens_on_bodies
from tropeion.core.becomes.reference import FULL_FRAME
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.formats.becoming_table import dump_becomings


def rows_of(world: World, delimiter: str = ",", lens_id: str = "lens") -> list[dict[str, str]]:
    table = lens_on_bodies(world, world.lens(lens_id), world.gear.bodies, FULL_FRAME, Practice())
    data = dump_becomings(table, "comma" if delimiter == ";" else "point")
    assert data.startswith(b"\xef\xbb\xbf")
    return list(csv.DictReader(io.StringIO(data.decode("utf-8-sig")), delimiter=delimiter))


def one_row(**of_the_lens: Any) -> dict[str, str]:
    world = world_of([ring(mass_g=80)], the_lens=lens(**of_the_lens), the_body=body(mass_g=600, sensor_mm=[24, 16]))
    return rows_of(world)[0]


def test_a_row_by_hand() -> None:
    row = one_row(mass_g=300)
    # 50 mm f/2 on 24 × 16 mm.
    expected = {
        "lens (equivalents as on 36 × 24)": "Test lens",
        "body": "Test body",
        "mode": "full",
        "sensor width mm": "24",
        "crop factor": "1.5",
        "focal length mm": "50",
        "aperture": "2",
        "equivalent focal length mm": "75",
        "equivalent aperture": "3",
        "angle across deg": "26.99",
        "angle up deg": "18.18",
        "covered": "yes",
        "light stops": "0",
        "stabiliser entry mm": "",
    }
    assert {key: row[key] for key in expected} == expected


def test_what_is_not_known_is_empty_and_not_nothing() -> None:
    row = one_row(image_circle_mm=None)
    assert (row["covered"], row["megapixels"], row["weight g"], row["not weighed"]) == ("", "", "", "Test lens")


def test_a_zoom_has_a_row_for_each_end(sample: World) -> None:
    rows = [row for row in rows_of(sample, lens_id="kel-28-80") if row["body"] == "Ostrel O7"]
    marked = [row["marked focal length mm"] for row in rows]
    assert marked == ["28", "80"] * (len(marked) // 2)
    assert len(marked) >= 4


def test_a_fisheye_has_neither_angles_nor_equivalents() -> None:
    row = one_row(fisheye=True)
    blank = ["equivalent focal length mm", "equivalent aperture", "angle across deg", "angle up deg"]
    assert [row[name] for name in blank] == [""] * 4
    assert row["focal length mm"] == "50"


@pytest.mark.parametrize("name", ["=1+1", "+lens", "-lens", "@lens"])
def test_no_spreadsheet_runs_a_name(name: str) -> None:
    assert one_row(name=name)["lens (equivalents as on 36 × 24)"] == f"'{name}"


def test_decimal_commas_part_cells_by_semicolons() -> None:
    world = world_of([ring()], the_body=body(sensor_mm=[24, 16]))
    row = rows_of(world, ";")[0]
    assert (row["crop factor"], row["angle across deg"]) == ("1,5", "26,99")
