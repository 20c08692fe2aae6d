"""What is generated from the code says all that the code holds."""

from __future__ import annotations

import re
from pathlib import Path

from tools.generate import formulas

from tropeion.core.catalogue import CATALOGUE

ROOT = Path(__file__).parent.parent


def test_no_formula_vanishes_from_the_docs() -> None:
    declared = sum(
        len(re.findall(r"^@formula\(", path.read_text(encoding="utf-8"), re.MULTILINE))
        for path in (ROOT / "src/tropeion/core").rglob("*.py")
    )
    assert declared >= 50
    assert len(formulas()) == declared
    page = (ROOT / "docs/how-it-computes.md").read_text(encoding="utf-8")
    rows = re.findall(r"^\| `[a-z_/]+` \| `([a-z_.]+)` \|", page, re.MULTILINE)
    assert len(rows) == declared


def test_the_words_of_a_finding_use_exactly_its_values() -> None:
    """Each template is filled in by the arguments that its declaration names."""
    from tropeion.core import catalogue  # noqa: PLC0415

    for code, kind in CATALOGUE.items():
        names = set(re.findall(r"{(\w+)}", kind.text + kind.headline + kind.gives_up))
        found = getattr(catalogue, code)("a-link", **{name: f"<{name}>" for name in names})
        assert (found.code, found.grade_cap, found.link) == (code, kind.grade_cap, "a-link")
        said = found.text + found.headline + found.gives_up
        assert {name for name in names if f"<{name}>" in said} == names
