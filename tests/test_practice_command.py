"""Practice in the terminal: questions and sheets by a seed, their answers, and what is refused."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tests.terminal import run
from tropeion.core.exercises.question import SKILLS


def told(*arguments: str) -> dict[str, Any]:
    done = run("practice", *arguments, "--json")
    assert done.returncode == 0, done.stderr
    found: dict[str, Any] = json.loads(done.stdout)
    return found


@pytest.mark.parametrize("skill", ["reach", "code"])
def test_a_question_by_its_seed(skill: str) -> None:
    question = told("question", "sample", "--skill", skill, "--seed", "5", "--difficulty", "0.8")
    assert question == told("question", "sample", "--skill", skill, "--seed", "5", "--difficulty", "0.8")
    assert question["skill"] == skill
    assert question["about"].keys() == {"lens", "body", "adapters", "mount"}
    assert question["right"] in {choice["id"] for choice in question["choices"]}
    assert {"trap", "difficulty", "asks", "why", "working"} <= question.keys()


def test_a_sheet_without_and_with_its_answers() -> None:
    arguments = ("sheet", "sample", "--skills", "label,caliper", "--count", "4", "--seed", "9")
    sheet, answered = told(*arguments), told(*arguments, "--answers")
    assert sheet["seed"] == 9
    assert [question["skill"] for question in sheet["questions"]] == ["label", "caliper"] * 2
    assert all(not {"right", "why", "working"} & question.keys() for question in sheet["questions"])
    for question, full in zip(sheet["questions"], answered["questions"], strict=True):
        assert question.items() <= full.items()
        assert full["right"] in {choice["id"] for choice in full["choices"]}


def test_words_number_the_answers_and_tell_the_right_one_last() -> None:
    done = run("practice", "question", "sample", "--skill", "code", "--seed", "1", "--trap", "read")
    text = done.stdout.decode()
    assert done.returncode == 0
    assert "On the flange: " in text
    assert text.index("   1  ") < text.index("   3  ") < text.index("Fields are read")


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("question", "sample", "--skill", "gold"), b"invalid choice"),
        (("question", "sample", "--skill", "reach", "--trap", "gold"), b"--trap gold: reach has other_register"),
        (("question", "sample", "--skill", "reach", "--difficulty", "2"), b"from 0 to 1"),
        (("question", "sample", "--skill", "reach", "--seed", "-1"), b"a whole number from 0"),
        (("sheet", "sample", "--skills", "reach,gold"), b"--skills gold: one of generation"),
        (("sheet", "sample", "--count", "0"), b"from 1 to 60"),
        (("sheet", "sample", "--skills", "code", "--count", "60"), b"there are no more than"),
    ],
)
def test_what_is_refused_says_what_would_be_right(arguments: tuple[str, ...], words: bytes) -> None:
    done = run("practice", *arguments)
    assert (done.returncode, done.stdout) == (2, b"")
    assert words in done.stderr


def test_a_file_that_asks_nothing_is_helped_by_the_sample(tmp_path: Path) -> None:
    empty = tmp_path / "empty.json"
    empty.write_text('{"format": "tropeion-gear", "version": 1}')
    for skill in ("label", "setup"):
        question = told("question", str(empty), "--skill", skill)
        assert question["from_sample"] is True
    assert SKILLS[0] == "generation"
