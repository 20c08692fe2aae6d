"""Questions from a gear file, one by one or as a sheet for a class."""

from __future__ import annotations

import argparse
import json
from typing import TYPE_CHECKING

from pydantic import TypeAdapter

from tropeion.core.exercises.posing import SKILL, pose
from tropeion.core.exercises.question import SKILLS, CannotAskError, FieldsShown, PosedQuestion, SqueezedShown
from tropeion.core.exercises.sheet import MOST_ON_A_SHEET, sheet_of
from tropeion.core.gear.world import World

from .inputs import InputRefusedError, practice_of, world_of

if TYPE_CHECKING:
    from collections.abc import Callable


def add_practice(practice: argparse.ArgumentParser, with_practice: Callable[[argparse.ArgumentParser], None]) -> None:
    kinds = practice.add_subparsers(dest="practice", required=True)
    one = kinds.add_parser("question", help="one question of a skill, with its answer")
    one.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    one.add_argument("--skill", required=True, choices=SKILLS)
    one.add_argument("--trap", metavar="ID", help="one mistake of that skill alone")
    one.set_defaults(run=run_question)
    sheet = kinds.add_parser("sheet", help="questions for a class; the same seed makes the same sheet")
    sheet.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    sheet.add_argument("--skills", default="", metavar="IDS", help="ids by commas (default: all, in turn)")
    sheet.add_argument("--count", type=_count, default=12, metavar="N", help=f"1 to {MOST_ON_A_SHEET} (default 12)")
    sheet.add_argument("--answers", action="store_true", help="with what is right, and why")
    sheet.set_defaults(run=run_sheet)
    for command in (one, sheet):
        command.add_argument("--seed", type=_seed, default=0, metavar="N", help="which one (default 0)")
        command.add_argument(
            "--difficulty",
            type=_share,
            default=0.5,
            metavar="D",
            help="how near wrong answers are, 0 to 1 (default 0.5)",
        )
        command.add_argument("--json", action="store_true", help="print it as a document")
        with_practice(command)


def _seed(text: str) -> int:
    value = int(text)
    if not 0 <= value < 2**53:
        raise argparse.ArgumentTypeError("a whole number from 0")
    return value


def _count(text: str) -> int:
    value = int(text)
    if not 1 <= value <= MOST_ON_A_SHEET:
        raise argparse.ArgumentTypeError(f"from 1 to {MOST_ON_A_SHEET}")
    return value


def _share(text: str) -> float:
    value = float(text)
    if not 0 <= value <= 1:
        raise argparse.ArgumentTypeError("from 0 to 1")
    return value


def _helper(name: str) -> World | None:
    """The sample world stands in where a file gives no such question."""
    return None if name == "sample" else world_of("sample")


def run_question(options: argparse.Namespace) -> int:
    traps = SKILL[options.skill].traps
    if options.trap is not None and options.trap not in traps:
        raise InputRefusedError(f"--trap {options.trap}: {options.skill} has {', '.join(traps)}", 2)
    world, helper = world_of(options.file), _helper(options.file)
    try:
        found = pose(
            world,
            practice_of(options),
            options.skill,
            options.seed,
            difficulty=options.difficulty,
            trap=options.trap,
            helper=helper,
        )
    except CannotAskError as error:
        raise InputRefusedError(str(error), 2) from None
    if options.json:
        print(json.dumps(_document(found, answered=True), ensure_ascii=False, indent=1))
    else:
        _print(found)
        _print_answer(found)
    return 0


def run_sheet(options: argparse.Namespace) -> int:
    words = [word.strip() for word in options.skills.split(",") if word.strip()] or list(SKILLS)
    wrong = [word for word in words if word not in SKILLS]
    if wrong:
        raise InputRefusedError(f"--skills {wrong[0]}: one of {', '.join(SKILLS)}", 2)
    skills = [skill for word in words for skill in SKILLS if skill == word]
    world, helper = world_of(options.file), _helper(options.file)
    try:
        sheet = sheet_of(
            world,
            practice_of(options),
            skills,
            options.count,
            options.seed,
            difficulty=options.difficulty,
            helper=helper,
        )
    except CannotAskError as error:
        raise InputRefusedError(str(error), 2) from None
    if options.json:
        questions = [_document(found, answered=options.answers) for found in sheet.questions]
        print(json.dumps({"seed": sheet.seed, "questions": questions}, ensure_ascii=False, indent=1))
        return 0
    for number, found in enumerate(sheet.questions, 1):
        print(f"{number}. ", end="")
        _print(found)
    if options.answers:
        print("\nAnswers")
        for number, found in enumerate(sheet.questions, 1):
            print(f"{number}. ", end="")
            _print_answer(found)
    return 0


def _document(found: PosedQuestion, *, answered: bool) -> dict[str, object]:
    """A question as it is told; with its answer or without. ``shown`` says what is drawn with it."""
    document: dict[str, object] = {
        "skill": found.skill,
        "trap": found.trap,
        "difficulty": found.difficulty,
        "asks": found.asks,
        "about": {
            "lens": found.about.lens,
            "body": found.about.body,
            "adapters": list(found.about.adapters),
            "mount": found.about.mount,
        },
        "choices": [{"id": choice.id, "text": choice.text} for choice in found.choices],
        "shown": _shown(found),
        "from_sample": found.helped,
    }
    if answered:
        document |= {"right": found.right, "why": found.why, "working": list(found.working)}
    return document


def _shown(found: PosedQuestion) -> object:
    return TypeAdapter(type(found.shown)).dump_python(found.shown, mode="json")


def _print(found: PosedQuestion) -> None:
    print(found.asks + (" (of the sample world)" if found.helped else ""))
    if isinstance(found.shown, FieldsShown):
        fields = (f"{'dark' if dark else 'light'} at {angle:g}°" for angle, dark in found.shown.fields)
        print(f"   On the flange: {', '.join(fields)}.")
    if isinstance(found.shown, SqueezedShown):
        print(f"   It is {found.shown.wide:.2f} wide and {found.shown.high:.2f} high.")
    for number, choice in enumerate(found.choices, 1):
        print(f"   {number}  {choice.text}")


def _print_answer(found: PosedQuestion) -> None:
    number, right = next((n, c) for n, c in enumerate(found.choices, 1) if c.id == found.right)
    print(f"   {number}  {right.text}")
    print(f"   {found.why}")
    for line in found.working:
        print(f"      {line}")
