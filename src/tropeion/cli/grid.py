"""The whole kit as a grid: every lens on every body."""

from __future__ import annotations

import argparse
import csv
import json
import sys

from pydantic import TypeAdapter

from tropeion.core.answers.grid import GridReport, whole_kit
from tropeion.formats.cells import text_cell

from .inputs import practice_of, world_of

__all__ = ["add_grid", "run_grid"]


def add_grid(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> argparse.ArgumentParser:
    """The command; returned for the options of a practice."""
    grid = commands.add_parser("grid", help="every lens on every body: with what is at hand, and with what could be")
    grid.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    grid.add_argument("--csv", action="store_true", help="a row a pair, for a spreadsheet")
    grid.add_argument("--json", action="store_true")
    grid.set_defaults(run=run_grid)
    return grid


def run_grid(options: argparse.Namespace) -> int:
    report = whole_kit(world_of(options.file), practice_of(options))
    if options.json:
        found = TypeAdapter(GridReport).dump_python(report, mode="json")
        print(json.dumps(found, ensure_ascii=False, indent=1))
        return 0
    if options.csv:
        _csv(report)
        return 0
    for one in report.lenses:
        stranded = ", stranded" if one.stranded else ""
        print(f"{one.name}: {one.works_now} of {len(report.bodies)} bodies now, {one.could_work} could{stranded}")
    return 0


def _csv(report: GridReport) -> None:
    names = {one.id: one.name for one in (*report.lenses, *report.bodies)}
    rows = csv.writer(sys.stdout, lineterminator="\n")
    rows.writerow(["lens", "body", "lens_name", "body_name", "owned_grade", "market_grade"])
    for cell in report.cells:
        told = [
            cell.lens,
            cell.body,
            names[cell.lens],
            names[cell.body],
            cell.owned_grade or "",
            cell.market_grade or "",
        ]
        rows.writerow([text_cell(one) for one in told])
