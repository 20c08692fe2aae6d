"""What stands in one cell: written so that no spreadsheet runs it, read as spreadsheets write it."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Sequence
from typing import Any, Final

from .columns import UNITS, Column
from .gear_reading import read_value

_SEPARATOR: Final = " | "
# An empty list; an empty cell means not stated.
_NONE: Final = "[]"
_YES: Final = frozenset({"yes", "true", "1", "x", "y", "on"})
_NO: Final = frozenset({"no", "false", "0", "n", "off", "-", "–"})
# Characters that a spreadsheet may take for a formula, a command or the end of a cell.
_RUNS: Final = ("=", "+", "-", "@", "\t", "\r", "\n")


def write_cell(column: Column, value: Any, decimal: str) -> str:
    if value is None:
        return ""
    if column.half is not None:
        value = value[column.half]
    match column.type:
        case "number" | "integer":
            return number_cell(value, decimal)
        case "boolean":
            return "yes" if value else "no"
        case "words":
            return _harmless(_joined(value))
        case "numbers":
            return _SEPARATOR.join(number_cell(part, decimal) for part in value) if value else _NONE
        case "json":
            if column.field in _THREADS:
                return f"{number_cell(value['diameter_mm'], decimal)} × {number_cell(value['pitch_mm'], decimal)}"
            return _harmless(json.dumps(value, ensure_ascii=False))
    return _harmless(str(value))


def number_cell(value: float, decimal: str) -> str:
    text = repr(value) if isinstance(value, int) or value != int(value) or abs(value) > 1e15 else str(int(value))
    return text.replace(".", ",") if decimal == "comma" else text


def _at_risk(text: str) -> bool:
    """Whether a spreadsheet might run it, or a reader take away its ends, or all of it: that nothing was said."""
    return not text or text.startswith((*_RUNS, "'")) or text != text.strip()


def _harmless(text: str) -> str:
    """With an apostrophe before what is at risk; one that is meant gets another one."""
    return f"'{text}" if _at_risk(text) else text


def text_cell(text: str) -> str:
    """Words of our own, which nobody reads back; nothing stays nothing."""
    return _harmless(text) if text else ""


def meant(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and _at_risk(cell[1:]) else cell.strip()


def _joined(words: Sequence[str]) -> str:
    """Words parted by bars; what would be read otherwise stands behind a backslash."""

    def escaped(word: str) -> str:
        word = re.sub(r"([\\|])", r"\\\1", word)
        return re.sub(r'^\s|\s$|^\[\]$|^""$', lambda match: "\\" + match.group(), word) or '""'

    return _SEPARATOR.join(map(escaped, words)) if words else _NONE


def _parted(cell: str) -> list[str]:
    if cell.strip() == _NONE:
        return []
    words: list[list[tuple[str, bool]]] = [[]]
    for match in re.finditer(r"\\(.)|(.)", cell, re.DOTALL):
        if match.group(2) == "|":
            words.append([])
        else:
            words[-1].append((match.group(1) or match.group(2), match.group(1) is not None))
    parts = []
    for word in words:
        while word and word[0][0].isspace() and not word[0][1]:
            word.pop(0)
        while word and word[-1][0].isspace() and not word[-1][1]:
            word.pop()
        if word == [('"', False), ('"', False)]:
            parts.append("")
        elif word:
            parts.append("".join(letter for letter, _ in word))
    return parts


def read_cell(cell: str, column: Column, factor: float, delimiter: str) -> Any:
    """A cell's value; ValueError says what would be right."""
    thread = _THREAD.fullmatch(cell.strip()) if column.field in _THREADS and len(cell) <= _MOST_DIGITS else None
    if thread:
        return {"diameter_mm": float(thread[1].replace(",", ".")), "pitch_mm": float(thread[2].replace(",", "."))}
    plain = cell.replace("\u00a0", " ").replace("\u202f", " ").strip()
    match column.type:
        case "number":
            return _read_number(plain, column.unit, factor, delimiter)
        case "integer":
            number = _read_number(plain, "", 1.0, delimiter)
            if not math.isfinite(number) or number != int(number):
                raise ValueError(f"'{cell[:40]}' is not a whole number")
            return int(number)
        case "boolean":
            if plain.casefold() in _YES:
                return True
            if plain.casefold() in _NO:
                return False
            raise ValueError(f"'{cell[:40]}' is neither yes nor no")
        case "words":
            return _parted(meant(cell))
        case "numbers":
            return [_read_number(part, column.unit, factor, delimiter) for part in _parted(plain)]
        case "pair":
            return _read_pair(plain, column.unit, factor, delimiter)
        case "json":
            try:
                return read_value(meant(cell))
            except (ValueError, RecursionError):
                raise ValueError("not JSON: write it as the gear file does") from None
    return meant(cell)


_PAIR = re.compile(r"(?P<one>[\d.,' ]*\d)\s*(?:[-–—×x*]|to)\s*(?P<other>[\d.,' ]*\d.*)", re.IGNORECASE)


def _read_pair(cell: str, unit: str, factor: float, delimiter: str) -> list[float]:
    """Two numbers with a dash or a cross between them, or one for both: 28–80, 36 × 24, f/2, f/2.8–22."""
    bare = re.sub(r"(?i)^\s*f\s*/\s*|(?<=[-–—])\s*f\s*/\s*", "", cell)
    match = _PAIR.fullmatch(bare.strip())
    parts = [match["one"], match["other"]] if match else [bare, bare]
    return [_read_number(part.strip(), unit, factor, delimiter) for part in parts]


_THREADS: Final = frozenset({"thread", "rear_thread"})
_THREAD = re.compile(r"M?\s*(\d+(?:[.,]\d+)?)\s*[x×]\s*(\d+(?:[.,]\d+)?)", re.IGNORECASE)
_NUMBER = re.compile(r"([+\-−]?[\d.,' ]*\d[\d.,]*(?:e[+\-]?\d+)?)\s*([^\d\s].*)?", re.IGNORECASE)
# No real number is longer; some patterns take quadratic time.
_MOST_DIGITS: Final = 60


def _read_number(cell: str, unit: str, factor: float, delimiter: str) -> float:
    text = cell.strip().removeprefix("f/").removeprefix("F/")
    if len(text) > _MOST_DIGITS:
        raise ValueError(f"'{cell[:40]}…' is too long for a number")
    match = _NUMBER.fullmatch(text)
    if match is None:
        raise ValueError(f"'{cell[:40]}' is not a number")
    digits, said = match.group(1).replace("−", "-").replace(" ", "").replace("'", ""), match.group(2)
    if said:
        sizes = UNITS.get(unit, {})
        if said.strip().casefold() not in sizes:
            known = f"; known are {', '.join(sizes)}" if sizes else ""
            raise ValueError(f"'{said.strip()[:20]}' is not a unit of this column{known}")
        factor = sizes[said.strip().casefold()]
    if "," in digits and "." in digits:
        # The last mark is the decimal one, the other parts thousands.
        whole = "." if digits.rfind(".") < digits.rfind(",") else ","
        if not re.fullmatch(rf"[+\-]?\d{{1,3}}(?:{re.escape(whole)}\d{{3}})+[.,]\d*", digits):
            raise ValueError(f"'{cell[:40]}' is not a number")
        digits = digits.replace(whole, "").replace(",", ".")
    elif digits.count(",") == 1:
        if delimiter == "," and re.fullmatch(r"[+\-]?[1-9]\d{0,2},\d{3}", digits):
            raise ValueError(f"'{cell[:40]}' may be read in two ways: write it without a comma")
        digits = digits.replace(",", ".")
    elif digits.count(",") > 1:
        if not re.fullmatch(r"[+\-]?\d{1,3}(?:,\d{3})+", digits):
            raise ValueError(f"'{cell[:40]}' is not a number")
        digits = digits.replace(",", "")
    try:
        number = float(digits)
    except ValueError:
        raise ValueError(f"'{cell[:40]}' is not a number") from None
    # Converted units have more digits than were written.
    return number if factor == 1.0 else float(f"{number * factor:.9g}")
