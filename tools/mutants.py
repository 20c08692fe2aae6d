"""Seeded mutants of the core: small faults, each put into a copy of the tree, and whether the tests notice.

    python tools/mutants.py map [PYTEST ARGUMENTS]       which test reaches which line, into .make/reached.json
    python tools/mutants.py run --seed 28 --count 60 [--packages joints,rig] [--known FILE] [--out FILE]

A mutant is shown only the tests that reach its line, the quickest first, until one fails. What fails without a mutant
as well is told and ends the run. ``--known`` is the file of equivalent mutants: a line each, ``file:line what``,
then the reason behind ``#``.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
CORE = Path("src/tropeion/core")
REACHED = ROOT / ".make" / "reached.json"
COPIED = ("src", "tests", "benchmarks", "tools", "docs", "pyproject.toml", "README.md", "Makefile", "LICENSE")
# A mutant may loop for ever. Only that is cut short, and it counts as noticed.
HANGS_AFTER_S = 900
# What stands there, and what it becomes.
COMPARED: dict[type[ast.cmpop], tuple[str, str]] = {
    ast.Lt: ("<", "<="), ast.LtE: ("<=", "<"), ast.Gt: (">", ">="), ast.GtE: (">=", ">"),
    ast.Eq: ("==", "!="), ast.NotEq: ("!=", "=="), ast.Is: ("is", "is not"), ast.IsNot: ("is not", "is"),
    ast.In: ("in", "not in"), ast.NotIn: ("not in", "in"),
}  # fmt: skip
COMPUTED: dict[type[ast.operator], tuple[str, str]] = {
    ast.Add: ("+", "-"), ast.Sub: ("-", "+"), ast.Mult: ("*", "/"), ast.Div: ("/", "*"),
    ast.FloorDiv: ("//", "*"), ast.Pow: ("**", "*"),
}  # fmt: skip
CALLED = {"any": "all", "all": "any", "min": "max", "max": "min", "floor": "ceil", "ceil": "floor"}


@dataclass(frozen=True)
class Mutant:
    """One fault: what stands from ``start`` to ``end`` of a file becomes ``new``."""

    file: str
    line: int
    start: int
    end: int
    old: str
    new: str

    @property
    def name(self) -> str:
        return f"{self.file}:{self.line} {self.old!r} → {self.new!r}"


def _offsets(text: str) -> list[int]:
    """Where each line begins, in bytes, as ``ast`` counts columns."""
    found = [0]
    for line in text.splitlines(keepends=True):
        found.append(found[-1] + len(line.encode()))
    return found


class _Sites(ast.NodeVisitor):
    """Every place of a module where one small fault can be put."""

    def __init__(self, file: str, source: bytes) -> None:
        self.file, self.source = file, source
        self.lines = _offsets(source.decode())
        self.found: list[Mutant] = []

    def _at(self, line: int, column: int) -> int:
        return self.lines[line - 1] + column

    def _add(self, node: ast.expr, new: str) -> None:
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        start, end = self._at(node.lineno, node.col_offset), self._at(node.end_lineno, node.end_col_offset)
        self.found.append(Mutant(self.file, node.lineno, start, end, self.source[start:end].decode(), new))

    def _between(self, left: ast.expr, right: ast.expr, new: str, old: str) -> None:
        """The operator between two operands."""
        assert left.end_lineno is not None
        assert left.end_col_offset is not None
        start = self._at(left.end_lineno, left.end_col_offset)
        end = self._at(right.lineno, right.col_offset)
        gap = self.source[start:end].decode()
        if gap.count(old) == 1 and "#" not in gap:
            self.found.append(Mutant(self.file, left.end_lineno, start, end, gap, gap.replace(old, new)))

    def visit_Compare(self, node: ast.Compare) -> None:
        sides = [node.left, *node.comparators]
        for left, operator, right in zip(sides, node.ops, sides[1:], strict=False):
            if type(operator) in COMPARED:
                old, new = COMPARED[type(operator)]
                self._between(left, right, new, old)
        self.generic_visit(node)

    def visit_BinOp(self, node: ast.BinOp) -> None:
        texts = any(isinstance(side, ast.JoinedStr | ast.Set | ast.SetComp) for side in (node.left, node.right))
        if type(node.op) in COMPUTED and not texts:
            old, new = COMPUTED[type(node.op)]
            self._between(node.left, node.right, new, old)
        self.generic_visit(node)

    def visit_BoolOp(self, node: ast.BoolOp) -> None:
        new, old = ("or", "and") if isinstance(node.op, ast.And) else ("and", "or")
        for left, right in zip(node.values, node.values[1:], strict=False):
            self._between(left, right, new, old)
        self.generic_visit(node)

    def visit_UnaryOp(self, node: ast.UnaryOp) -> None:
        if isinstance(node.op, ast.Not | ast.USub):
            self._add(node, f"({ast.unparse(node.operand)})")
        self.generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> None:
        value = node.value
        if isinstance(value, bool):
            self._add(node, str(not value))
        elif isinstance(value, int):
            self._add(node, str(value + 1))
        elif isinstance(value, float):
            self._add(node, repr(value * 1.25 if value else 1.0))

    def visit_Call(self, node: ast.Call) -> None:
        if isinstance(node.func, ast.Name) and node.func.id in CALLED:
            self._add(node.func, CALLED[node.func.id])
        self.generic_visit(node)

    def visit_If(self, node: ast.If) -> None:
        self._add(node.test, f"(not ({ast.unparse(node.test)}))")
        self.generic_visit(node)

    def visit_IfExp(self, node: ast.IfExp) -> None:
        self._add(node.test, f"(not ({ast.unparse(node.test)}))")
        self.generic_visit(node)

    # What is written for readers, types and tools is no place for a fault.
    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        if node.value is not None:
            self.visit(node.value)

    def visit_JoinedStr(self, node: ast.JoinedStr) -> None:  # noqa: ARG002
        return

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        for default in (*node.args.defaults, *(one for one in node.args.kw_defaults if one)):
            self.visit(default)
        for statement in node.body:
            self.visit(statement)


def sites(packages: list[str]) -> Iterator[Mutant]:
    """Every mutant of the packages of the core, or of all of it."""
    folders = [ROOT / CORE / name for name in packages] or [ROOT / CORE]
    for file in sorted(path for folder in folders for path in folder.rglob("*.py")):
        visitor = _Sites(str(file.relative_to(ROOT)), file.read_bytes())
        visitor.visit(ast.parse(visitor.source))
        yield from sorted(set(visitor.found), key=lambda one: (one.start, one.end, one.new))


def drawn(packages: list[str], seed: int, count: int) -> list[Mutant]:
    """So many mutants, the same ones for the same seed and tree."""
    every = list(sites(packages))
    return random.Random(seed).sample(every, min(count, len(every)))


def make_map(arguments: list[str]) -> None:
    """Run the tests once, and keep which of them reach which line of the core, and how long each takes."""
    with tempfile.TemporaryDirectory() as folder:
        settings, data = Path(folder) / "settings", Path(folder) / "data"
        settings.write_text(
            f"[run]\nsource = {ROOT / CORE}\ndynamic_context = test_function\nconcurrency = thread\n"
            f"data_file = {data}\ncore = ctrace\n"
        )
        report = Path(folder) / "times.xml"
        pytest = [sys.executable, "-m", "coverage", "run", f"--rcfile={settings}", "-m", "pytest", "-p",
                  "no:cacheprovider", f"--junitxml={report}", *(arguments or ["tests"])]  # fmt: skip
        done = subprocess.run(pytest, cwd=ROOT, check=False)
        if done.returncode:
            sys.exit("the tests fail without any mutant")
        kept = Path(folder) / "reached.json"
        show = [sys.executable, "-m", "coverage", "json", f"--rcfile={settings}", "--show-contexts", "-o", str(kept)]
        subprocess.run(show, cwd=ROOT, check=True, stdout=subprocess.DEVNULL)
        reached: dict[str, Any] = json.loads(kept.read_text())
    lines = {
        str(Path(name) if not Path(name).is_absolute() else Path(name).relative_to(ROOT)): file["contexts"]
        for name, file in reached["files"].items()
    }
    REACHED.parent.mkdir(exist_ok=True)
    total = reached["totals"]
    REACHED.write_text(json.dumps({"lines": lines, "covered": total["covered_lines"], "of": total["num_statements"]}))
    print(f"{total['covered_lines']} of {total['num_statements']} lines of the core")


def _tests(reached: dict[str, Any], mutant: Mutant) -> list[str]:
    """The files of tests that reach the mutant's line: those of the core first, which are the quickest."""
    contexts = reached["lines"].get(mutant.file, {}).get(str(mutant.line), [])
    # A context is "tests.core.test_x.test_name" or, within a class, one more; the file is what begins with test_.
    files = set()
    for context in contexts:
        parts = context.split(".")
        names = [number for number, part in enumerate(parts) if part.startswith("test_")]
        if names and parts[0] == "tests":
            files.add("/".join(parts[: names[0] + 1]) + ".py")
    if "" in contexts or not files:
        # Run as the module is read, or only by what a fixture prepares: any test may show it.
        files |= {str(path.relative_to(ROOT)) for path in (ROOT / "tests" / "core").glob("test_*.py")}
    return sorted(files, key=lambda name: (not name.startswith("tests/core"), name.startswith("tests/browser"), name))


def _copied(folder: str) -> None:
    for name in COPIED:
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, Path(folder) / name, ignore=shutil.ignore_patterns("__pycache__"))
        elif source.exists():
            shutil.copy(source, Path(folder) / name)


def _pytest_in(folder: str, arguments: list[str]) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", "--no-header", "--tb=no", *arguments]
    environment = {**os.environ, "PYTHONPATH": f"{folder}/src", "PYTHONDONTWRITEBYTECODE": "1"}
    return subprocess.run(
        command, cwd=folder, env=environment, capture_output=True, text=True, timeout=HANGS_AFTER_S, check=False
    )


def _collects_whole() -> None:
    """A copy without a fault collects every test: else what a copy lacks would pass for noticing."""
    with tempfile.TemporaryDirectory() as folder:
        _copied(folder)
        done = _pytest_in(folder, ["--collect-only", "tests"])
        if done.returncode:
            raise SystemExit("A copy without a fault does not collect:\n" + done.stdout[-2000:])


def _noticed(mutant: Mutant, tests: list[str], extra: list[str]) -> str:
    """By which test, or nothing."""
    with tempfile.TemporaryDirectory() as folder:
        _copied(folder)
        target = Path(folder) / mutant.file
        data = target.read_bytes()
        target.write_bytes(data[: mutant.start] + mutant.new.encode() + data[mutant.end :])
        try:
            done = _pytest_in(folder, ["-x", *extra, *tests])
        except subprocess.TimeoutExpired:
            return "it hangs"
    if done.returncode == 0:
        return ""
    failed = [line for line in done.stdout.splitlines() if line.startswith(("FAILED", "ERROR"))]
    return failed[0].split(" - ")[0] if failed else "it does not start"


def run(options: argparse.Namespace) -> None:
    """Show every mutant its tests; print those that nothing notices."""
    _collects_whole()
    reached = json.loads(REACHED.read_text())
    packages = options.packages.split(",") if options.packages else []
    mutants = drawn(packages, options.seed, options.count)
    known = {}
    if options.known:
        for line in Path(options.known).read_text().splitlines():
            name, _, why = line.partition("#")
            known[name.strip()] = why.strip()

    def shown(mutant: Mutant) -> dict[str, Any]:
        by = _noticed(mutant, _tests(reached, mutant), options.pytest)
        print(("killed   " if by else "SURVIVES ") + mutant.name + (f"   {by}" if by else ""), flush=True)
        return {**asdict(mutant), "by": by}

    with ThreadPoolExecutor(options.workers) as workers:
        told = list(workers.map(shown, mutants))
    left = [one for one in told if not one["by"]]
    equivalent = [one for one in left if Mutant(**{k: v for k, v in one.items() if k != "by"}).name in known]
    print(f"{len(told) - len(left)} killed, {len(left)} survive, {len(equivalent)} of them equivalent")
    if options.out:
        Path(options.out).write_text(json.dumps(told, ensure_ascii=False, indent=1))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    deeds = parser.add_subparsers(dest="deed", required=True)
    mapping = deeds.add_parser("map")
    mapping.add_argument("arguments", nargs=argparse.REMAINDER)
    running = deeds.add_parser("run")
    running.add_argument("--seed", type=int, required=True)
    running.add_argument("--count", type=int, required=True)
    running.add_argument("--packages", default="")
    running.add_argument("--known", default="")
    running.add_argument("--out", default="")
    running.add_argument("--workers", type=int, default=2)
    running.add_argument("--pytest", nargs="*", default=[])
    options = parser.parse_args()
    if options.deed == "map":
        make_map(options.arguments)
    else:
        run(options)


if __name__ == "__main__":
    main()
