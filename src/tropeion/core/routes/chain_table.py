"""Chains as columns of numbers, and how a piece is put before each of many."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from operator import attrgetter
from typing import Final

import numpy as np
import numpy.typing as npt

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import Structure
from tropeion.core.keeping import kept

from .chains import Chain, Group, expand, groups_of, ways
from .sure import adapter_is_plain

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]

# A price that is not known counts as more than any known one.
UNKNOWN_PRICE: Final = 1e9


@dataclass(slots=True, eq=False)
class ChainTable:
    """Chains, short ones first; every array runs along them.

    ``numbers`` are the groups of a chain, lens first, −1 after the last. The register error is R_b + ``adds_mm`` −
    k²·R_l; the image circle is k times the lens's own, at most ``circle_cap_mm``. ``slow``: some glass has a widest
    aperture of its own; ``silent``: some piece passes no contacts on; ``plain``: the fields of all pieces say nothing
    that would have to be judged. The rear ends of the bores of a chain, which cut off more than their front ends, stand
    ``bores_at_mm`` before the body's seat; rows are padded with infinitely wide ones. ``glass_at_mm`` is the front of
    the foremost glass before the body's seat. ``fronts`` and ``rears`` are the interfaces on which they meet the lens
    and the body. ``to_buy``: some piece is not at hand; ``price`` is what those cost, the handiest of each group.
    """

    groups: tuple[Group, ...]
    fronts: Ints
    rears: Ints
    numbers: Ints
    adds_mm: Floats
    k: Floats
    glass: Bools
    circle_cap_mm: Floats
    slow: Bools
    tolerance_mm: Floats
    helicoid: Bools
    silent: Bools
    controls: Bools
    plain: Bools
    length_mm: Floats
    glass_at_mm: Floats
    bores_mm: Floats
    bores_at_mm: Floats
    pieces: Ints
    to_buy: Bools
    price: Floats

    def __len__(self) -> int:
        return len(self.adds_mm)

    def chain(self, index: int) -> Chain:
        """The groups of one chain, lens first."""
        return tuple(self.groups[number] for number in self.numbers[index].tolist() if number >= 0)

    def adapters(self, index: int) -> tuple[Adapter, ...]:
        """The handiest pieces of one chain."""
        return _handiest([self.groups[number] for number in self.numbers[index].tolist() if number >= 0])

    def ids(self, rows: Ints) -> list[tuple[str, ...]]:
        """The same of many, by their ids."""
        groups = self.groups
        return [
            tuple([piece.id for piece in _handiest([groups[number] for number in numbers if number >= 0])])
            for numbers in self.numbers[rows].tolist()
        ]

    def of(self, rows: Ints | Bools | slice) -> ChainTable:
        """Some of the chains, in the order given."""
        return ChainTable(self.groups, *[column[rows] for column in _ARRAYS_OF(self)])


def _handiest(chain: Sequence[Group]) -> tuple[Adapter, ...]:
    for group in chain:
        if group.limited:
            return next(expand(tuple(chain)))
    return tuple([group.members[0] for group in chain])


@frozen(eq=False)
class Steps:
    """All groups of a world as columns: what one more piece in front adds."""

    groups: tuple[Group, ...]
    interfaces: dict[str, int]
    fronts: Ints
    rears: Ints
    limited: Bools
    error_mm: Floats
    k: Floats
    glass: Bools
    expects_mm: Floats
    delivers_mm: Floats
    circle_cap_mm: Floats
    slow: Bools
    tolerance_mm: Floats
    helicoid: Bools
    silent: Bools
    controls: Bools
    plain: Bools
    length_mm: Floats
    front_glass_mm: Floats
    bore_mm: Floats
    to_buy: Bools
    price: Floats


_ARRAYS_OF = attrgetter(*[field.name for field in fields(ChainTable)[1:]])
STEP_ARRAYS_OF = attrgetter(*[field.name for field in fields(Steps)[2:]])


def _floats(values: Sequence[float | None], unknown: float = math.inf) -> Floats:
    return np.array([unknown if value is None else value for value in values], dtype=np.float64)


def _bools(values: Sequence[bool]) -> Bools:
    return np.array(values, dtype=np.bool_)


@kept(most=1)
def steps_between(structure: Structure) -> Steps:
    items_view = groups_of(structure).items()
    return columns(structure, [(joint, group) for joint, groups in items_view for group in groups.values()])


def columns(structure: Structure, joints: Sequence[tuple[tuple[str, str], Group]]) -> Steps:
    numbers = {mount.joint: 0 for mount in structure.mounts.values()}
    numbers = {interface: number for number, interface in enumerate(numbers)}
    groups = tuple(group for _, group in joints)
    links, firsts = [group.link for group in groups], [group.first for group in groups]
    return Steps(
        groups=groups,
        interfaces=numbers,
        fronts=np.array([numbers[front] for (front, _), _ in joints], dtype=np.int64),
        rears=np.array([numbers[rear] for (_, rear), _ in joints], dtype=np.int64),
        limited=_bools([group.limited for group in groups]),
        error_mm=_floats([link.error_mm for link in links]),
        k=_floats([link.magnification for link in links]),
        glass=_bools([link.glass is not None for link in links]),
        expects_mm=_floats([link.glass[0] if link.glass else 0.0 for link in links]),
        delivers_mm=_floats([link.glass[1] if link.glass else 0.0 for link in links]),
        circle_cap_mm=_floats([first.image_circle_mm for first in firsts]),
        slow=_bools([first.widest_f_number is not None for first in firsts]),
        tolerance_mm=_floats([link.tolerance_mm for link in links]),
        helicoid=_bools([link.helicoid_mm > 0 for link in links]),
        silent=_bools([first.link in {"none", "chip"} for first in firsts]),
        controls=_bools([first.aperture_control != "none" for first in firsts]),
        plain=_bools([adapter_is_plain(first) for first in firsts]),
        length_mm=_floats([link.length_mm for link in links]),
        # Glass whose position is not known is not checked for clearance.
        front_glass_mm=_floats([first.front_glass_mm for first in firsts]),
        bore_mm=_floats([first.bore_mm for first in firsts]),
        to_buy=_bools([not first.at_hand for first in firsts]),
        price=_floats([0.0 if first.at_hand else first.price for first in firsts], UNKNOWN_PRICE),
    )


def put_together(steps: Steps, more: Steps) -> Steps:
    """Some groups and some more after them."""
    arrays = map(np.concatenate, zip(STEP_ARRAYS_OF(steps), STEP_ARRAYS_OF(more), strict=True))
    return Steps((*steps.groups, *more.groups), steps.interfaces, *arrays)


def ways_in(table: ChainTable) -> Ints:
    """How many chains of pieces each of the chains stands for."""
    numbers = np.unique(table.numbers)
    groups = [table.groups[number] if number >= 0 else None for number in numbers.tolist()]
    sizes = np.array([1 if group is None else len(group.members) for group in groups], dtype=np.int64)
    limited = np.array([group is not None and group.limited for group in groups], dtype=np.bool_)
    places = np.searchsorted(numbers, table.numbers)
    found: Ints = sizes[places].prod(axis=1, dtype=np.int64)
    for row in np.flatnonzero(limited[places].any(axis=1)):
        found[row] = ways(table.chain(int(row)))
    return found


def interfaces_of(structure: Structure) -> Mapping[str, int]:
    """The number under which each interface stands in :attr:`ChainTable.fronts`."""
    return steps_between(structure.like or structure).interfaces


def by_front(table: ChainTable) -> ChainTable:
    return table.of(np.argsort(table.fronts, kind="stable"))


def extended(steps: Steps, usable: Ints, rear: str, most: int, behind: ChainTable | None) -> ChainTable:
    """No chain at all, and each of some groups in front of every chain ``behind``."""
    none = bare(steps, steps.interfaces[rear], most)
    if behind is None:
        return none
    table = before(steps, usable, behind, in_order=True)
    first = int(np.searchsorted(table.fronts, steps.interfaces[rear]))
    return joined(table.of(slice(first)), none, table.of(slice(first, None)))


def padded(table: ChainTable, most: int) -> ChainTable:
    """The same chains, with room for so many pieces."""
    more = most - table.numbers.shape[1]
    if not more:
        return table
    return replace(
        table,
        numbers=np.pad(table.numbers, ((0, 0), (0, more)), constant_values=-1),
        bores_mm=np.pad(table.bores_mm, ((0, 0), (0, more)), constant_values=math.inf),
        bores_at_mm=np.pad(table.bores_at_mm, ((0, 0), (0, more))),
    )


def before(steps: Steps, chosen: Ints, behind: ChainTable, *, in_order: bool = False) -> ChainTable:
    """Each of the chosen groups in front of every chain that it mates with; ``behind`` runs by its interface.

    ``in_order``: by the interface in front, then by length.
    """
    onward = steps.rears[chosen]
    first = np.searchsorted(behind.fronts, onward, "left")
    counts = np.searchsorted(behind.fronts, onward, "right") - first
    ends = np.cumsum(counts)
    rows = np.arange(counts.sum()) + np.repeat(first - ends + counts, counts)
    number = np.repeat(chosen, counts)
    if in_order:
        # Numbers are sorted before anything is made of them.
        order = np.lexsort((behind.pieces[rows], steps.fronts[number]))
        number, rows = number[order], rows[order]
    return in_front(steps, number, behind.of(rows))


def bare(steps: Steps, rear: int, most: int) -> ChainTable:
    one, no = np.zeros(1), np.zeros(1, dtype=np.bool_)
    endless = np.full(1, math.inf)
    return ChainTable(
        groups=steps.groups,
        fronts=np.full(1, rear),
        rears=np.full(1, rear),
        numbers=np.full((1, most), -1),
        adds_mm=one,
        k=np.ones(1),
        glass=no,
        circle_cap_mm=endless,
        slow=no,
        tolerance_mm=one,
        helicoid=no,
        silent=no,
        controls=no,
        plain=~no,
        length_mm=one,
        glass_at_mm=-endless,
        bores_mm=np.full((1, most), math.inf),
        bores_at_mm=np.zeros((1, most)),
        pieces=np.zeros(1, dtype=np.int64),
        to_buy=no,
        price=one,
    )


def in_front(steps: Steps, number: Ints, behind: ChainTable) -> ChainTable:
    """Each chain with one more piece in front, without those for which there are not enough copies."""
    enough = _enough(steps, number, behind)
    if enough is not None:
        number, behind = number[enough], behind.of(enough)
    squared, k, length = behind.k**2, steps.k[number], steps.length_mm[number]
    adds = behind.adds_mm + squared * steps.error_mm[number]
    adds += squared * (k**2 * steps.expects_mm[number] - steps.delivers_mm[number])
    glass = steps.glass[number]
    return ChainTable(
        groups=steps.groups,
        fronts=steps.fronts[number],
        rears=behind.rears,
        numbers=np.column_stack([number, behind.numbers]),
        adds_mm=adds,
        k=behind.k * k,
        glass=behind.glass | glass,
        # A circle passes the front piece first, and is then scaled by all behind it.
        circle_cap_mm=np.minimum(behind.circle_cap_mm, steps.circle_cap_mm[number] * behind.k),
        slow=behind.slow | steps.slow[number],
        tolerance_mm=behind.tolerance_mm + steps.tolerance_mm[number],
        helicoid=behind.helicoid | steps.helicoid[number],
        silent=behind.silent | steps.silent[number],
        controls=behind.controls | steps.controls[number],
        plain=behind.plain & steps.plain[number],
        length_mm=behind.length_mm + length,
        glass_at_mm=np.where(glass, behind.length_mm + length - steps.front_glass_mm[number], behind.glass_at_mm),
        bores_mm=np.column_stack([steps.bore_mm[number], behind.bores_mm]),
        bores_at_mm=np.column_stack([behind.length_mm, behind.bores_at_mm]),
        pieces=behind.pieces + 1,
        to_buy=behind.to_buy | steps.to_buy[number],
        price=behind.price + steps.price[number],
    )


def _enough(steps: Steps, number: Ints, behind: ChainTable) -> Bools | None:
    """Where there are copies enough of the piece in front; None where there are everywhere."""
    again = steps.limited[number] & (behind.numbers == number[:, np.newaxis]).any(axis=1)
    if not again.any():
        return None
    enough: Bools = ~again
    for row in np.flatnonzero(again):
        enough[row] = ways((steps.groups[number[row]], *behind.chain(int(row)))) > 0
    return enough


def joined(*tables: ChainTable) -> ChainTable:
    if len(tables) == 1:
        return tables[0]
    return ChainTable(tables[0].groups, *map(np.concatenate, zip(*map(_ARRAYS_OF, tables), strict=True)))
