"""What a lens becomes over bodies, what lenses come to on a body, and what gives a wanted view."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

from tropeion.core import written
from tropeion.core.becomes.becoming import Becoming
from tropeion.core.becomes.becoming_tables import Becomings, Whose, bodies_of, lens_on_bodies, lenses_of, lenses_on_body
from tropeion.core.becomes.reference import reference_of
from tropeion.core.becomes.wish import Wish, WishAnswer, WishReport, wish_of
from tropeion.core.gear.world import MountlessError, UnknownIdError, World
from tropeion.core.practice import Practice
from tropeion.core.words import word
from tropeion.formats.becoming_table import dump_becomings

from .inputs import InputRefusedError, practice_of, world_of, write_whole


def run_becomes(options: argparse.Namespace) -> int:
    world, practice = world_of(options.file), practice_of(options)
    try:
        answer = _answer(world, options, practice)
    except (UnknownIdError, MountlessError) as error:
        raise InputRefusedError(str(error), 2) from None
    if options.csv is not None:
        if isinstance(answer, WishReport):
            raise InputRefusedError("--csv writes the table of a lens or of a body, not a wish", 2)
        write_whole(Path(options.csv), dump_becomings(answer))
    if options.json:
        document: Any = TypeAdapter(type(answer)).dump_python(answer, mode="json")
        json.dump(document, sys.stdout, ensure_ascii=False, indent=1)
        print()
    elif isinstance(answer, WishReport):
        _print_wish(answer)
    else:
        _print_table(answer)
    return 0


def _answer(world: World, options: argparse.Namespace, practice: Practice) -> Becomings | WishReport:
    reference = reference_of(world, options.ref)
    whose: Whose = "all" if options.everything else "mine"
    if options.lens is not None:
        lens = world.lens(options.lens)
        return lens_on_bodies(world, lens, bodies_of(world, whose), reference, practice)
    body = world.body(options.body)
    if options.view_of is None:
        if options.depth_as is not None:
            raise InputRefusedError("--depth-as goes with --view-of", 2)
        return lenses_on_body(world, body, lenses_of(world, whose), reference, practice)
    wish = Wish(options.view_of, options.depth_as)
    return wish_of(world, body.id, wish, reference, practice, lenses_of(world, "all"))


def _print_table(table: Becomings) -> None:
    for sentence in table.lenses.sentences if table.lenses else (table.sentence,):
        print(sentence)
    for row in table.rows:
        print("  " + _line(row, table.names))
    if table.apart:
        print("Nothing joins it to " + written.listed([table.names[id_] for id_ in table.apart]) + ".")


def _line(row: Becoming, names: dict[str, str]) -> str:
    chain = " + ".join(names[id_] for id_ in row.adapters) or "bare"
    short, long = row.settings[0], row.settings[-1]
    if short.angles_deg is None:
        view = "fisheye"
    else:
        ends = dict.fromkeys(f"{lens_setting.equivalent_mm:.0f}" for lens_setting in (short, long))
        view = f"as {'–'.join(ends)} mm, depth as f/{short.equivalent_f_number:.1f}"
    dark = {True: "", False: ", corners dark", None: ", corners not known"}[row.covered]
    where = f"{names[row.lens]} on {names[row.body]} ({row.mode}), {chain}"
    return f"{where}: {view}, effective f/{short.f_number:.1f}{dark} [{row.grade or 'nothing joins them'}]"


def _print_wish(report: WishReport) -> None:
    print(report.sentence)
    for title, answers in (("owned", report.own), ("to buy", report.buy), ("comes near", report.near)):
        for answer in answers:
            print(f"  {title}: " + _answer_line(answer, report.names))
    for lens in report.missing:
        glass = "" if lens.magnification == 1 else f" behind {lens.magnification:g} × glass"
        stop = "" if lens.f_number is None else f" f/{lens.f_number:.1f}"
        circle = f"circle {lens.image_circle_mm:.1f} mm"
        print(f"  {lens.mode}: a lens of {lens.focal_length_mm:.1f} mm{stop}{glass}, {circle}")


def _answer_line(one: WishAnswer, names: dict[str, str]) -> str:
    row = one.row
    chain = " + ".join(names[id_] for id_ in row.adapters) or "bare"
    stop = "" if one.set_f_number is None else f" at f/{one.set_f_number:.1f}"
    why = f" ({one.why})" if one.why else ""
    grade = word(row.grade) if row.grade else "nothing joins them"
    set_to = f"{names[row.lens]} at {one.set_mm:.1f} mm{stop}, {chain}, {row.mode}"
    return f"{set_to}: {one.equivalent_mm:.1f} mm, {grade}{why}"
