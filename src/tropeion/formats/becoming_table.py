"""What a lens becomes as a CSV table, for a spreadsheet: a row a way and mode, units in the headers."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from typing import Final, Literal

from tropeion.core.becomes.becoming import Becoming
from tropeion.core.becomes.becoming_tables import Becomings

from .cells import number_cell, text_cell

_Decimal = Literal["point", "comma"]
_HEAD: Final = (
    "lens",
    "body",
    "adapters",
    "grade",
    "mode",
    "sensor width mm",
    "sensor height mm",
    "megapixels",
    "covered",
    "crop factor",
    "marked focal length mm",
    "focal length mm",
    "aperture",
    "equivalent focal length mm",
    "equivalent focal length across mm",
    "equivalent aperture",
    "angle across deg",
    "angle up deg",
    "light stops",
    "stabiliser entry mm",
    "weight g",
    "not weighed",
    "owned",
    "price",
)


def dump_becomings(table: Becomings, decimal: _Decimal = "point") -> bytes:
    """A row for each end of a zoom; what is not known is an empty cell. The reference stands in the first header.

    What is left out of the table is counted in a last row.
    """
    out = io.StringIO()
    writer = csv.writer(out, delimiter=";" if decimal == "comma" else ",", lineterminator="\r\n")
    writer.writerow([f"{_HEAD[0]} (equivalents as on {table.reference.name})", *_HEAD[1:]])
    for row in table.rows:
        writer.writerows(_cells(table, row, decimal))
    if table.left_out:
        writer.writerow([f"{table.left_out} more rows are left out", *[""] * (len(_HEAD) - 1)])
    # A byte-order mark tells spreadsheets that it is UTF-8.
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def _cells(table: Becomings, row: Becoming, decimal: _Decimal) -> Iterator[list[str]]:
    def number(value: float | None, digits: int = 2) -> str:
        return "" if value is None else number_cell(round(value, digits), decimal)

    names = table.names
    covered = {True: "yes", False: "no", None: ""}[row.covered]
    for at in row.settings:
        angles = at.angles_deg
        yield [
            text_cell(names[row.lens]),
            text_cell(names[row.body]),
            text_cell(" + ".join(names[id_] for id_ in row.adapters)),
            row.grade or "",
            text_cell(row.mode),
            number(row.width_mm),
            number(row.height_mm),
            number(row.megapixels),
            covered,
            number(row.crop_factor, 3),
            number(at.marked_mm),
            number(at.focal_length_mm),
            number(at.f_number),
            *(("", "") if angles is None else (number(at.equivalent_mm), number(at.equivalent_horizontal_mm))),
            "" if angles is None else number(at.equivalent_f_number),
            *(("", "") if angles is None else (number(angles.horizontal), number(angles.vertical))),
            number(row.light_change_stops),
            number(at.entry_mm),
            number(row.weight.known_g) if not row.weight.unknown else "",
            text_cell(", ".join(row.weight.unknown)),
            "yes" if row.owned else "no",
            number(row.price),
        ]
