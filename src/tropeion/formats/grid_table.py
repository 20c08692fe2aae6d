"""The whole kit as a table."""

from __future__ import annotations

import csv
import io

from tropeion.core.answers.grid import GridReport
from tropeion.core.words import word

from .cells import text_cell


def grid_csv(report: GridReport) -> str:
    """A row a pair: ids and names, the grade with what is at hand and with all that is listed, the former in words.

    Last the grade with a ring that is not listed, where that is better.
    """
    names = {ends.id: ends.name for ends in (*report.lenses, *report.bodies)}
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(
        ["lens", "body", "lens_name", "body_name", "owned_grade", "market_grade", "in_words", "unlisted_grade"]
    )
    for cell in report.cells:
        said = "" if cell.owned_grade is None else word(cell.owned_grade)
        ends = cell.lens, cell.body, names[cell.lens], names[cell.body]
        grades = cell.owned_grade or "", cell.market_grade or "", said, cell.unlisted_grade or ""
        rows.writerow([text_cell(name) for name in (*ends, *grades)])
    return out.getvalue()
