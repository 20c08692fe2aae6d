"""The stylesheets: each beside the component it serves, no rule without a user, none twice."""

import re
from functools import cache
from pathlib import Path

import pytest

WEB = Path(__file__).parents[1] / "web/src"
SHEETS = sorted(WEB.rglob("*.css"))
COMPONENTS = sorted([*WEB.rglob("*.tsx"), *WEB.parent.glob("*.html")])
# What every screen may count on; each other sheet is imported by the component beside it.
EVERYWHERE = {"app/page.css", "app/tokens.css", "parts/parts.css", "drawing/drawing.css"}
RULE = re.compile(r"([^{}]+)\{[^{}]*\}")


def name(path: Path) -> str:
    return path.relative_to(WEB).as_posix()


def classes(text: str) -> set[str]:
    selectors = " ".join(RULE.findall(text))
    return {one for one in re.findall(r"\.([a-z][\w-]*)", selectors) if not one.startswith("ant-")}


def words(text: str) -> tuple[set[str], set[str]]:
    """Words within quotes, and what stands before a `${` without a space: `grade-${grade}`."""
    quoted = re.findall(r'"([^"\n]*)"|`([^`]*)`', text)
    said = " ".join("".join(pair) for pair in quoted)
    return set(re.findall(r"[\w-]+", said)) | keys(text), set(re.findall(r"([\w-]+-)\$\{", text))


def keys(text: str) -> set[str]:
    """The keys of objects and types, which a template may put into a class name."""
    return set(re.findall(r"(?m)^\s*(\w+):", text))


def rules(text: str, within: str = "") -> list[tuple[str, str, str]]:
    """Every media query, selector and property that is set."""
    found: list[tuple[str, str, str]] = []
    place = 0
    while (brace := text.find("{", place)) != -1:
        head = text[place:brace].strip()
        depth, end = 1, brace + 1
        while depth:
            depth += {"{": 1, "}": -1}.get(text[end], 0)
            end += 1
        if head.startswith("@media"):
            found += rules(text[brace + 1 : end - 1], head)
        elif not head.startswith("@"):
            sets = [one.split(":")[0].strip() for one in text[brace + 1 : end - 1].split(";") if one.strip()]
            found += [(within, " ".join(one.split()), what) for one in head.split(",") for what in sets]
        place = end
    return found


def test_the_sheets_are_found() -> None:
    assert len(SHEETS) > 40
    assert rules("a, b { c: d } @media print { a { e: f } }") == [
        ("", "a", "c"),
        ("", "b", "c"),
        ("@media print", "a", "e"),
    ]


@cache
def said_anywhere() -> tuple[set[str], set[str]]:
    told = [words(source.read_text()) for source in [*COMPONENTS, *WEB.rglob("*.ts")]]
    return set().union(*(one for one, _ in told)), set().union(*(start for _, start in told))


@pytest.mark.parametrize("sheet", SHEETS, ids=name)
def test_every_rule_has_a_user(sheet: Path) -> None:
    said, begun = said_anywhere()
    unused = {
        one
        for one in classes(sheet.read_text())
        if one not in said and not any(one.startswith(start) for start in begun)
    }
    assert unused == set()


def test_nothing_is_said_twice_of_the_same_thing() -> None:
    seen: dict[tuple[str, str, str], str] = {}
    twice = []
    for sheet in SHEETS:
        for rule in rules(sheet.read_text()):
            if seen.setdefault(rule, name(sheet)) != name(sheet):
                twice.append((*rule, seen[rule], name(sheet)))
    assert twice == []


def test_a_sheet_is_imported_by_the_component_beside_it() -> None:
    for sheet in SHEETS:
        if name(sheet) in EVERYWHERE:
            continue
        users = [one for one in sheet.parent.glob("*.ts*") if f'"./{sheet.name}"' in one.read_text()]
        assert users, f"{name(sheet)} is imported by no component beside it"
