"""CSV tables: one for each kind, a row an item, headers with units.

Written plainly: UTF-8, a point or a comma for decimals, cells that a spreadsheet might run made harmless. Read as
spreadsheets write them: commas, semicolons or tabs; decimal comma or point; a byte-order mark or UTF-16; units in
headers or cells; blank rows and columns; mounts by their names or aliases. A column that is missing leaves what an
item has; an empty cell leaves out its field. A table is read whole or refused with every place that is wrong.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from functools import cache
from typing import Any, Final, Literal

from pydantic import ValidationError

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, Entry, FreeIds, items
from tropeion.core.gear.references import ReferenceProblem
from tropeion.core.gear.world import nearest

from .cells import read_cell, write_cell
from .columns import PAIRS, UNITS, Column, columns_of, spoken_columns
from .gear_file import MAX_PROBLEMS, entry_of, first_of, translated
from .gear_reading import MAX_BYTES, GearFileError

MAX_COLUMNS: Final = 300
MAX_ROWS: Final = 50_000
MAX_CELL: Final = 100_000


def dump_table(kind: Kind, entries: Sequence[Entry], *, decimal: Literal["point", "comma"] = "point") -> bytes:
    """A table of items. With a decimal comma the cells are parted by semicolons, as spreadsheets there expect."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=";" if decimal == "comma" else ",", lineterminator="\r\n")
    columns = columns_of(kind)
    writer.writerow([column.header for column in columns])
    for entry in entries:
        document = entry.model_dump(mode="json", by_alias=True, exclude_defaults=True)
        writer.writerow([write_cell(column, document.get(column.field), decimal) for column in columns])
    # A byte-order mark tells spreadsheets that it is UTF-8.
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def says_owned(data: bytes) -> bool:
    """Whether a table has a column that says what its writer owns. Raises GearFileError."""
    rows, _ = _rows(data)
    _, columns = _headed(rows[0], None)
    return any(read.column.field in {"owned", "borrowed"} for read in columns)


def load_table(data: bytes, mine: Gear, kind: Kind | None = None) -> tuple[Kind, Gear]:
    """Read a table into a collection of that kind alone, to be merged into ``mine``; the kind is read from the headers.

    Rows without an id are those of ``mine`` with the same name, or new. Raises GearFileError with every problem.
    """
    rows, delimiter = _rows(data)
    kind, columns = _headed(rows[0], kind)
    problems: list[ReferenceProblem] = []
    protocols: list[Entry] = []
    have = {item.id: item for item in items(mine, kind)}
    by_name: dict[str, list[str]] = {}
    for item in have.values():
        by_name.setdefault(item.name.casefold(), []).append(item.id)
    mounts = _mount_ids(mine)
    taken: dict[str, int] = {}
    free = FreeIds(have)
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        if len(problems) >= MAX_PROBLEMS:
            problems.append(ReferenceProblem(f"row {number}", "not read, nor what follows", "mend these first"))
            raise GearFileError(tuple(problems))
        values, wrong = _values(row, columns, number, delimiter, mounts)
        problems += wrong
        if wrong:
            continue
        try:
            entry = _entry(kind, values, have, by_name, taken, free, number)
        except GearFileError as error:
            problems += error.problems
            continue
        taken[entry.id] = number
        free.hold(entry.id)
        protocols.append(entry)
    if problems:
        raise GearFileError(first_of(problems))
    alone = Gear(format="tropeion-gear", version=1, currency=mine.currency)
    return kind, alone.model_copy(update={kind: tuple(protocols)})


def _refuse(place: str, message: str, hint: str = "") -> GearFileError:
    return GearFileError((ReferenceProblem(place, message, hint),))


def _text(data: bytes) -> str:
    if len(data) > MAX_BYTES:
        raise _refuse("file", f"larger than {MAX_BYTES // 1024 // 1024} MB")
    try:
        text = data.decode("utf-16" if data.startswith((b"\xff\xfe", b"\xfe\xff")) else "utf-8-sig")
    except UnicodeDecodeError as error:
        raise _refuse(f"byte {error.start}", "neither UTF-8 nor UTF-16", "save the table as UTF-8") from None
    match = re.search(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]", text)
    if match:
        line = text.count("\n", 0, match.start()) + 1
        raise _refuse(f"line {line}", f"a control character (code {ord(match.group())})", "save it as plain text")
    return text


def _rows(data: bytes) -> tuple[list[list[str]], str]:
    text = _text(data)
    first, _, rest = text.partition("\n")
    said = re.fullmatch(r"sep=(.)\s*", first.strip("\r"))
    if said:
        text, delimiter = rest, said.group(1)
        first = rest.partition("\n")[0]
    else:
        delimiter = max(";\t,", key=lambda mark: (first.count(mark), mark == ","))
    if first.count(delimiter) >= MAX_COLUMNS:
        raise _refuse("line 1", f"more than {MAX_COLUMNS} columns", "a table has one column for each field")
    csv.field_size_limit(MAX_CELL)
    rows: list[list[str]] = []
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        for row in reader:
            if len(row) > MAX_COLUMNS:
                raise _refuse(f"line {reader.line_num}", f"more than {MAX_COLUMNS} columns")
            if len(rows) > MAX_ROWS:
                raise _refuse(f"line {reader.line_num}", f"more than {MAX_ROWS} rows", "split the table")
            rows.append(row)
    except csv.Error as error:
        raise _refuse(f"line {reader.line_num}", f"not a table: {error}") from None
    while rows and not any(cell.strip() for cell in rows[0]):
        rows.pop(0)
    if not rows:
        raise _refuse("file", "empty", "the first row holds the headers")
    return rows, delimiter


def _folded(header: str) -> str:
    return re.sub(r"[^a-z0-9°µ·'\"]+", "_", header.strip().casefold()).strip("_")


@frozen
class _Read:
    """A column as it is read: where in the row, and by how much its numbers are multiplied."""

    index: int
    column: Column
    factor: float


def _headed(row: Sequence[str], kind: Kind | None) -> tuple[Kind, list[_Read]]:
    """What the headers are: of the kind that knows most of them."""
    headers = [(index, cell) for index, cell in enumerate(row) if cell.strip()]
    candidates: Sequence[Kind] = (kind,) if kind else KINDS
    known = {candidate: [_column(candidate, cell) for _, cell in headers] for candidate in candidates}
    best = max(
        candidates,
        key=lambda literal: (sum(pair is not None for pair in known[literal]), _required(literal, known[literal])),
    )
    if not any(known[best]):
        names = ", ".join(column.header for column in columns_of("lenses")[:6])
        raise _refuse("line 1", "none of these headers is known", f"headers are field names such as {names}")
    problems: list[ReferenceProblem] = []
    reads: list[_Read] = []
    seen: dict[str, str] = {}
    for (index, cell), pair in zip(headers, known[best], strict=True):
        if pair is None:
            all_names = [column.header for column in columns_of(best)]
            near = nearest(_folded(cell), all_names, 1)
            hint = f"did you mean '{near[0]}'?" if near else f"a table of {best} has {', '.join(all_names[:5])} …"
            problems.append(ReferenceProblem("line 1", f"no column is called '{cell.strip()[:60]}'", hint))
            continue
        column, factor = pair
        if column.header in seen:
            problems.append(ReferenceProblem("line 1", f"'{cell.strip()}' stands twice", "keep one of them"))
        seen[column.header] = cell
        reads.append(_Read(index, column, factor))
    if problems:
        raise GearFileError(tuple(problems[:MAX_PROBLEMS]))
    return best, reads


def _required(kind: Kind, found: Sequence[tuple[Column, float] | None]) -> int:
    """How many of the fields that a kind cannot be without are among the columns."""
    return len({pair[0].field for pair in found if pair} & _needed(kind))


@cache
def _needed(kind: Kind) -> frozenset[str]:
    return frozenset(MODELS[kind].model_json_schema(by_alias=True)["required"])


def _column(kind: Kind, header: str) -> tuple[Column, float] | None:
    """A column by its header: the field's name, or its words with another unit."""
    said = _folded(header)
    for column in columns_of(kind):
        if said == column.header:
            return column, 1.0
    for column in columns_of(kind):
        stem = column.header.removesuffix(f"_{column.unit}") if column.unit else column.header
        if said == stem:
            return column, 1.0
        for unit, size in UNITS.get(column.unit, {}).items():
            if said == f"{stem}_{unit}":
                return column, size
    for words, column in spoken_columns(kind).items():
        for unit, size in {"": 1.0, **UNITS.get(column.unit, {})}.items():
            if said == f"{words}_{unit}".rstrip("_"):
                return column, size
    return None


def _mount_ids(mine: Gear) -> Mapping[str, tuple[str, ...]]:
    """Mounts by id, name and alias."""
    names: dict[str, tuple[str, ...]] = {}
    for mount in mine.mounts:
        for word in {mount.id, mount.name.casefold(), *(alias.casefold() for alias in mount.aliases)}:
            names[word] = (*names.get(word, ()), mount.id)
    return names


def _values(
    row: Sequence[str], columns: Sequence[_Read], number: int, delimiter: str, mounts: Mapping[str, tuple[str, ...]]
) -> tuple[dict[str, Any], list[ReferenceProblem]]:
    """The fields of one row; None where a cell is empty."""
    values: dict[str, Any] = {}
    problems: list[ReferenceProblem] = []
    known = {read.index for read in columns}
    for index, cell in enumerate(row):
        if index not in known and cell.strip():
            problems.append(ReferenceProblem(f"row {number}, column {index + 1}", "a value without a header"))
    for read in columns:
        column = read.column
        cell = row[read.index] if read.index < len(row) else ""
        place = f"row {number}, column {column.header}"
        try:
            value = None if cell.strip() == "" else read_cell(cell, column, read.factor, delimiter)
        except ValueError as error:
            problems.append(ReferenceProblem(place, str(error)))
            continue
        if value is not None and column.field in {"mount", "lens_mount", "body_mount"}:
            named = mounts.get(str(value).casefold(), ())
            if len(named) > 1:
                problems.append(
                    ReferenceProblem(place, f"'{cell}' is a name of {' and of '.join(named)}", "write the id")
                )
                continue
            value = named[0] if named else str(value).strip()
        if column.half is None:
            values[column.field] = value
        else:
            values.setdefault(column.field, [None, None])[column.half] = value
    return {field: _paired(value) if field in PAIRS else value for field, value in values.items()}, problems


def _paired(value: Any) -> Any:
    """A prime has one focal length; a pair that is wholly empty is left out."""
    if not isinstance(value, list) or value == [None, None]:
        return None
    return [value[0], value[0]] if value[1] is None else value


def _entry(
    kind: Kind,
    values: dict[str, Any],
    have: Mapping[str, Entry],
    by_name: Mapping[str, Sequence[str]],
    taken: Mapping[str, int],
    free: FreeIds,
    number: int,
) -> Entry:
    """One row as an item: upon what is known of it, or new."""
    id_, name = values.get("id"), values.get("name")
    if id_ is None and isinstance(name, str):
        named = [alike for alike in by_name.get(name.casefold(), ()) if alike not in taken]
        if len(named) > 1:
            raise _refuse(f"row {number}", f"{len(named)} {kind} are called '{name[:60]}'", "give the id too")
        id_ = named[0] if named else free.take(name)
    if isinstance(id_, str) and id_ in taken:
        raise _refuse(f"row {number}, column id", f"'{id_}' is already the id of row {taken[id_]}", "ids are unique")
    known = have.get(id_) if isinstance(id_, str) else None
    document = known.model_dump(mode="json", by_alias=True, exclude_defaults=True) if known else {}
    document |= {**values, "id": id_}
    document = {field: value for field, value in document.items() if value is not None}
    try:
        return entry_of(kind, document)
    except ValidationError as error:
        problems = [
            ReferenceProblem(f"row {number}, column {_header(kind, problem.place)}", problem.message, problem.hint)
            for problem in translated(error, MODELS[kind])
        ]
        raise GearFileError(tuple(problems)) from None


def _header(kind: Kind, place: str) -> str:
    """The column in which a field stands."""
    match = re.fullmatch(r"(\w+)\[(\d)\].*", place)
    if match and match.group(1) in PAIRS:
        return PAIRS[match.group(1)][int(match.group(2)) % 2]
    field = re.split(r"[.\[]", place)[0]
    return next((column.header for column in columns_of(kind) if column.field == field), field)
