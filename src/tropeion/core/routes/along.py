"""The chains of many pairs in as few tables as hold them; those that nobody wants are left out first."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Final

import numpy as np

from tropeion.core.gear.world import Structure

from .chain_table import Bools, ChainTable, Ints, interfaces_of, joined
from .table import are_light, reaching, table_between

# So many rows, of all pairs together, are looked at at once.
_MOST_ALONG: Final = 60_000

# Of the chains between two interfaces, a row for each place in the ends that are asked for: those that are wanted.
Sieve = Callable[[ChainTable, Ints], Bools]


def chains_along(
    structure: Structure, ends: Sequence[tuple[str, str]], most: int, sieve: Sieve | None = None
) -> Iterator[tuple[ChainTable, Ints]]:
    """The chains of many pairs, by the interfaces at their ends, in as few tables as hold them.

    With each table the place in ``ends`` that each row belongs to. The chains of one pair stand together, as in
    :func:`table_of`; those that a ``sieve`` does not want are left out before anything is copied.
    """
    tables: list[ChainTable] = []
    places: list[Ints] = []
    rows = 0
    for table, of in _by_rear(structure, ends, most, sieve):
        if rows and rows + len(table) > _MOST_ALONG:
            yield joined(*tables), np.concatenate(places)
            tables, places, rows = [], [], 0
        tables.append(table)
        places.append(of)
        rows += len(table)
    if rows:
        yield joined(*tables), np.concatenate(places)


def _by_rear(
    structure: Structure, ends: Sequence[tuple[str, str]], most: int, sieve: Sieve | None
) -> Iterator[tuple[ChainTable, Ints]]:
    """The chains of all pairs that meet a body at one interface; those that are many, pair by pair."""
    by_rear: dict[str, list[int]] = {}
    for place, (_, rear) in enumerate(ends):
        by_rear.setdefault(rear, []).append(place)
    numbers = interfaces_of(structure)
    for rear, places in by_rear.items():
        if sieve is not None:
            yield from _sieved(structure, ends, places, most, sieve)
            continue
        if structure.like is None and are_light(structure, (rear,), most):
            every = reaching(structure, rear, most)
            fronts = np.array([numbers[ends[place][0]] for place in places], dtype=np.int64)
            first, last = (np.searchsorted(every.fronts, fronts, side) for side in ("left", "right"))
        else:
            every, stretches = _one_by_one(structure, [ends[place][0] for place in places], rear, most)
            first, last = stretches[:, 0], stretches[:, 1]
        for some in _in_portions(last - first):
            along, of = _stretches(first[some], last[some])
            yield every.of(along), np.array(places, dtype=np.int64)[some][of]


def _sieved(
    structure: Structure, ends: Sequence[tuple[str, str]], places: Sequence[int], most: int, sieve: Sieve
) -> Iterator[tuple[ChainTable, Ints]]:
    """The wanted chains of pairs that meet a body at one interface."""
    met: dict[str, list[int]] = {}
    for place in places:
        met.setdefault(ends[place][0], []).append(place)
    rear = ends[places[0]][1]
    together = structure.like is None and are_light(structure, (rear,), most)
    every = reaching(structure, rear, most) if together else None
    for front, numbers in met.items():
        if every is None:
            table = table_between(structure, front, rear, most)
        else:
            number = interfaces_of(structure)[front]
            table = every.of(slice(*np.searchsorted(every.fronts, [number, number + 1])))
        at_once = max(1, _MOST_ALONG // max(1, len(table)))
        for some in range(0, len(numbers), at_once):
            mine = np.array(numbers[some : some + at_once], dtype=np.int64)
            pair, rows = np.nonzero(np.broadcast_to(sieve(table, mine), (len(mine), len(table))))
            if len(rows):
                yield table.of(rows), mine[pair]


def _stretches(first: Ints, last: Ints) -> tuple[Ints, Ints]:
    """The rows from each first to its last, one stretch after the other, and which of them each is of."""
    counts = last - first
    along = np.repeat(first - np.cumsum(counts) + counts, counts) + np.arange(counts.sum())
    return along, np.repeat(np.arange(len(counts)), counts)


def chains_among(table: ChainTable, ends: Sequence[tuple[int, int]]) -> tuple[ChainTable, Ints]:
    """The chains of a table between the interfaces of some pairs, by their numbers, as :func:`chains_along`."""
    count = int(max(table.fronts.max(), table.rears.max(), *(max(pair) for pair in ends))) + 1
    keys = table.fronts * count + table.rears
    table = table.of(np.argsort(keys, kind="stable"))
    keys = table.fronts * count + table.rears
    wanted = np.array([front * count + rear for front, rear in ends], dtype=np.int64)
    along, of = _stretches(np.searchsorted(keys, wanted, "left"), np.searchsorted(keys, wanted, "right"))
    return table.of(along), of


def _one_by_one(structure: Structure, fronts: Sequence[str], rear: str, most: int) -> tuple[ChainTable, Ints]:
    """The chains from some interfaces, one after the other, and from where to where those of each stand."""
    different = list(dict.fromkeys(fronts))
    tables = [table_between(structure, front, rear, most) for front in different]
    ends = np.cumsum([len(table) for table in tables])
    stretch = {
        front: (end - len(table), end) for front, end, table in zip(different, ends.tolist(), tables, strict=True)
    }
    return joined(*tables), np.array([stretch[front] for front in fronts], dtype=np.int64)


def _in_portions(counts: Ints) -> Iterator[slice]:
    """Stretches of some pairs that have no more chains together than are looked at at once."""
    start, rows = 0, 0
    for place, count in enumerate(counts.tolist()):
        if rows and rows + count > _MOST_ALONG:
            yield slice(start, place)
            start, rows = place, 0
        rows += count
    if start < len(counts):
        yield slice(start, len(counts))
