"""The page on the house: what it names exists, and the next thing touches no more than four files."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
PAGE = (ROOT / "docs/house.md").read_text(encoding="utf-8")
ROWS = re.findall(r"^\| ([^|]+) \| ([^|]+) \|$", PAGE, re.M)[1:]
# A file or a folder: with a slash, and from the root, the package or the browser's sources.
NAMED = re.compile(r"`((?:[\w.*-]+/)+(?:[\w.*-]+)?)`")


def found(name: str) -> list[Path]:
    return [path for base in (ROOT, ROOT / "src/tropeion", ROOT / "src/tropeion/core") for path in base.glob(name)]


def test_the_newcomers_things_are_told() -> None:
    things = " ".join(thing for thing, _ in ROWS)
    wanted = (
        "protocol",
        "depth of field",
        "observation",
        "whole kit",
        "accessory",
        "field of a body",
        "sheet",
        "scene",
    )
    assert [word for word in (*wanted, "finding", "preference", "record") if word not in things] == []


@pytest.mark.parametrize(("thing", "touches"), ROWS)
def test_a_row_names_at_most_four_files(thing: str, touches: str) -> None:
    parts = [part for part in re.split(r"[,;] (?![^(]*\))", touches) if not part.startswith("`docs/")]
    assert 1 <= len(parts) <= 4, (thing, parts)


@pytest.mark.parametrize("name", sorted(set(NAMED.findall(PAGE))))
def test_what_is_named_exists(name: str) -> None:
    assert found(name), name
