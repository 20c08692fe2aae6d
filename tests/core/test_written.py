"""Numbers in sentences."""

from __future__ import annotations

import ast
import json
import math
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import tropeion
from tropeion.core import written


@given(st.floats(0.5, 60))
def test_an_aperture_is_never_written_wider_than_it_is(f_number: float) -> None:
    said = float(written.aperture(f_number).removeprefix("f/"))
    assert said >= f_number - 1e-4
    assert said - f_number <= (1 if f_number >= 9.9 else 0.1) + 1e-6


def test_apertures_as_marked_stay_as_marked() -> None:
    assert [written.aperture(n) for n in (1.2, 2.0, 2.8, 5.6, 11.0)] == ["f/1.2", "f/2", "f/2.8", "f/5.6", "f/11"]


CASES: dict[str, list[tuple[float, str]]] = json.loads((Path(__file__).parent / "written.json").read_text())
WRITERS: dict[str, Callable[[float], str]] = {
    "millimetres": written.millimetres,
    "f_number": written.aperture,
    "percent": written.percent,
    "distance_metric": lambda mm: written.distance(mm, "metric"),
    "distance_imperial": lambda mm: written.distance(mm, "imperial"),
}


@pytest.mark.parametrize(
    ("writer", "value", "written"), [(writer, *case) for writer, cases in CASES.items() for case in cases]
)
def test_numbers_are_written_as_the_browser_writes_them(writer: str, value: float, written: str) -> None:
    """The same cases are run against the browser's writers, in web/tests."""
    assert WRITERS[writer](value) == written


def test_what_has_no_end_is_not_rounded() -> None:
    assert written.fixed(math.inf, 2) == "inf"


def test_lists() -> None:
    assert [written.listed(["a"]), written.listed(["a", "b"]), written.listed(["a", "b", "c"])] == [
        "a",
        "a and b",
        "a, b and c",
    ]


def test_nothing_that_is_told_was_left_a_template() -> None:
    """A string that calls something between braces was meant to be formatted at once."""
    source = Path(tropeion.__file__).parent
    for path in sorted(source.rglob("*.py")):
        tree = ast.parse(path.read_text())
        formatted = {id(part) for one in ast.walk(tree) if isinstance(one, ast.JoinedStr) for part in one.values}
        for one in ast.walk(tree):
            if isinstance(one, ast.Constant) and isinstance(one.value, str) and id(one) not in formatted:
                assert not re.search(r"\{[a-z_.]+\(", one.value), f"{path}:{one.lineno}: {one.value}"
