"""The whole kit as a grid: every lens on every body."""

from __future__ import annotations

import argparse
import json

from pydantic import TypeAdapter

from tropeion.core.answers.grid import GridReport, whole_kit
from tropeion.formats.grid_table import grid_csv

from .inputs import practice_of, world_of


def add_grid(grid: argparse.ArgumentParser) -> argparse.ArgumentParser:
    """The command; returned for the options of a practice."""
    grid.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    grid.add_argument("--csv", action="store_true", help="a row a pair, for a spreadsheet")
    grid.add_argument("--json", action="store_true")
    grid.set_defaults(run=run_grid)
    return grid


def run_grid(options: argparse.Namespace) -> int:
    report = whole_kit(world_of(options.file), practice_of(options))
    if options.json:
        value = TypeAdapter(GridReport).dump_python(report, mode="json")
        print(json.dumps(value, ensure_ascii=False, indent=1))
        return 0
    if options.csv:
        print(grid_csv(report), end="")
        return 0
    for lens in report.lenses:
        stranded = ", stranded" if lens.stranded else ""
        print(f"{lens.name}: {lens.works_now} of {len(report.bodies)} bodies now, {lens.could_work} could{stranded}")
    return 0
