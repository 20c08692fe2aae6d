"""Every chain between two interfaces in one table, and what of it does not depend on the lens and the body.

Chains are built up from the body one piece at a time, for all fronts at once; a row is a chain of groups.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import Structure, World
from tropeion.core.keeping import kept

from .chains import Chain, Group, expand, group_of, groups_of, likeness, ways
from .sure import adapter_is_plain

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]


@dataclass(slots=True, eq=False)
class ChainTable:
    """Chains, short ones first; every array runs along them.

    ``numbers`` are the groups of a chain, lens first, −1 after the last. The register error is R_b + ``adds_mm`` −
    k²·R_l; the image circle is k times the lens's own, at most ``circle_cap_mm``. ``slow``: some glass has a widest
    aperture of its own; ``silent``: some piece passes no contacts on; ``plain``: the
    fields of all pieces say nothing that would have to be judged. The bores of a chain, both ends of each, stand
    ``bores_at_mm`` before the body's seat; rows are padded with infinitely wide ones. ``glass_at_mm`` is the front of
    the foremost glass before the body's seat. ``fronts`` and ``rears`` are the interfaces on which they meet the
    lens and the body.
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

    def __len__(self) -> int:
        return len(self.adds_mm)

    def chain(self, index: int) -> Chain:
        """The groups of one chain, lens first."""
        return tuple(self.groups[number] for number in self.numbers[index] if number >= 0)

    def pieces(self, index: int) -> tuple[Adapter, ...]:
        """The handiest pieces of one chain."""
        return next(expand(self.chain(index)))

    def of(self, rows: Ints | Bools | slice) -> ChainTable:
        """Some of the chains, in the order given."""
        arrays = (getattr(self, field.name)[rows] for field in fields(self)[1:])
        return ChainTable(self.groups, *arrays)


@dataclass(frozen=True, slots=True, eq=False)
class _Steps:
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


def _floats(values: Sequence[float | None], unknown: float = math.inf) -> Floats:
    return np.array([unknown if value is None else value for value in values], dtype=np.float64)


def _bools(values: Sequence[bool]) -> Bools:
    return np.array(values, dtype=np.bool_)


@kept(most=1)
def _steps(structure: Structure) -> _Steps:
    items_view = groups_of(structure).items()
    return _columns(structure, [(joint, group) for joint, groups in items_view for group in groups.values()])


def _columns(structure: Structure, joints: Sequence[tuple[tuple[str, str], Group]]) -> _Steps:
    numbers = {mount.joint: 0 for mount in structure.mounts.values()}
    numbers = {interface: number for number, interface in enumerate(numbers)}
    groups = tuple(group for _, group in joints)
    links, firsts = [group.link for group in groups], [group.first for group in groups]
    return _Steps(
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
        # Glass of which nobody knows where it begins stands in nothing's way.
        front_glass_mm=_floats([first.front_glass_mm for first in firsts]),
        bore_mm=_floats([first.bore_mm for first in firsts]),
    )


def table_of(world: World, lens: Lens, body: Body, most: int) -> ChainTable:
    """Every chain of at most ``most`` groups that mates at every joint from this lens to this body, short ones first.

    Chains for which there are not enough copies are left out, and those that are too many to be listed. Kept with the
    world.
    """
    return table_between(world.structure, *_ends(world, lens, body), most)


def _ends(world: World, lens: Lens, body: Body) -> tuple[str, str]:
    return world.mount_of(lens).joint, world.mount_of(body).joint


def table_between(structure: Structure, front: str, rear: str, most: int) -> ChainTable:
    """Every chain from one interface to another, as :func:`table_of`."""
    if structure.like is not None and all(
        are_light(this_structure, (rear,), most) for this_structure in (structure, structure.like)
    ):
        return _revised(structure, front, rear, most)
    number = interfaces_of(structure)[front]
    return _padded(_listed(structure, number, rear, _depth(structure, number, rear, most)), most)


def find_chains(world: World, lens: Lens, body: Body, most: int) -> tuple[Chain, ...]:
    """Every chain of groups that mates at every joint from this lens to this body."""
    table = table_of(world, lens, body, most)
    return tuple(table.chain(index) for index in range(len(table)))


def count_ways(world: World, lens: Lens, body: Body, most: int) -> int:
    """How many chains of pieces there are from this lens to this body."""
    return count_ways_between(world.structure, *_ends(world, lens, body), most)


@kept(most=20_000)
def count_ways_between(structure: Structure, front: str, rear: str, most: int) -> int:
    """How many chains of pieces there are between two interfaces.

    Those that are too many to be listed are counted as if there were copies enough.
    """
    number = interfaces_of(structure)[front]
    unlisted = _counts(structure, rear, most).ways[_depth(structure, number, rear, most) + 1 :, number].sum()
    return int(ways_in(table_between(structure, front, rear, most)).sum() + unlisted)


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


# The chains of a pair are listed up to the length at which they are no more than this. Longer ones are counted.
MOST_LISTED: Final = 50_000
# All chains onto one interface are found together, unless they are more than this.
_MOST_TOGETHER: Final = 20_000


@dataclass(frozen=True, slots=True, eq=False)
class _Counts:
    """How many chains of so many pieces lead onto an interface, by their number and the interface in front.

    ``rows`` counts chains of groups, ``ways`` those of pieces; both as if there were copies enough.
    """

    rows: Floats
    ways: Floats


@kept(most=2_000)
def _counts(structure: Structure, rear: str, most: int) -> _Counts:
    """Counted without listing any."""
    steps, usable = _usable(structure)
    fronts, rears = steps.fronts[usable], steps.rears[usable]
    sizes = np.array([len(steps.groups[number].members) for number in usable], dtype=np.float64)
    interfaces = len(steps.interfaces)
    rows, ways_of_them = np.zeros((most + 1, interfaces)), np.zeros((most + 1, interfaces))
    rows[0, steps.interfaces[rear]] = ways_of_them[0, steps.interfaces[rear]] = 1
    for pieces in range(1, most + 1):
        rows[pieces] = np.bincount(fronts, rows[pieces - 1][rears], interfaces)
        ways_of_them[pieces] = np.bincount(fronts, sizes * ways_of_them[pieces - 1][rears], interfaces)
    return _Counts(rows, ways_of_them)


def _depth(structure: Structure, front: int, rear: str, most: int) -> int:
    """The most pieces of the chains that are listed; single pieces always are."""
    together = np.cumsum(_counts(structure, rear, most).rows[:, front])
    return max(min(1, most), int(np.searchsorted(together, MOST_LISTED, "right")) - 1)


def count_rows(world: World, lens: Lens, body: Body, most: int) -> int:
    """How many chains of groups there are between a lens and a body, as if there were copies enough."""
    front, rear = _ends(world, lens, body)
    return int(_counts(world.structure, rear, most).rows[:, interfaces_of(world.structure)[front]].sum())


def are_light(structure: Structure, rears: Iterable[str], most: int) -> bool:
    """Whether all chains onto these are listed, and all but the longest found together."""
    for rear in rears:
        together = np.cumsum(_counts(structure, rear, most).rows, axis=0)
        if together[most].max() > MOST_LISTED or together[max(0, most - 1)].sum() > _MOST_TOGETHER:
            return False
    return True


@kept(most=1)
def _usable(structure: Structure) -> tuple[_Steps, Ints]:
    """The groups of a structure among some more, in their order."""
    if structure.like is None:
        steps = _steps(structure)
        return steps, np.arange(len(steps.groups))
    revision = _revision(structure)
    stands = np.flatnonzero(~revision.stale[:-1])
    return revision.steps, stands[np.argsort(revision.order[stands])]


@kept()
def _reaching(structure: Structure, rear: str, most: int) -> ChainTable:
    """Every chain of at most ``most`` groups onto ``rear``, by the interface in front and by length."""
    steps, usable = _usable(structure)
    return _extended(steps, usable, rear, most, _reaching(structure, rear, most - 1) if most else None)


# These are large where they are not a part of what was found together.
@kept(most=40)
def _listed(structure: Structure, front: int, rear: str, most: int) -> ChainTable:
    """Every chain of at most ``most`` groups from one interface onto another, by length."""
    if _counts(structure, rear, most).rows.sum() <= _MOST_TOGETHER:
        together = _reaching(structure, rear, most)
        return together.of(slice(*np.searchsorted(together.fronts, [front, front + 1])))
    steps, usable = _usable(structure)
    usable = usable[steps.fronts[usable] == front]
    onward = [_listed(structure, number, rear, most - 1) for number in np.unique(steps.rears[usable]).tolist()]
    chain_table = _extended(steps, usable, rear, most, _by_front(_joined(*onward)) if onward else None)
    return chain_table.of(np.flatnonzero(chain_table.fronts == front))


@dataclass(frozen=True, slots=True, eq=False)
class _Revision:
    """What few changed adapters do to the groups of the structure that another stands upon.

    ``steps`` are its groups and the ``fresh`` ones after them; ``stale`` tells which of all do not stand any more (a
    last one more, for the padding, always stands); ``order`` is where each would stand had all been made anew.
    """

    steps: _Steps
    stale: Bools
    fresh: Ints
    order: Ints


@kept(most=1)
def _revision(structure: Structure) -> _Revision:
    base = structure.like
    assert base is not None
    steps = _steps(base)
    place = {id_: number for number, id_ in enumerate(structure.adapters)}
    coming = [structure.adapters[id_] for id_ in structure.new if not structure.adapters[id_].retired]
    alike: dict[tuple[tuple[str, str], str], list[Adapter]] = {}
    for adapter in coming:
        joint = (structure.mounts[adapter.lens_mount].joint, structure.mounts[adapter.body_mount].joint)
        alike.setdefault((joint, likeness(structure, adapter)), []).append(adapter)
    stale = np.zeros(len(steps.groups) + 1, dtype=np.bool_)
    known = ((joint, key, group) for joint, groups in groups_of(base).items() for key, group in groups.items())
    for number, (joint, key, group) in enumerate(known):
        stays = [member for member in group.members if member.id not in structure.gone]
        if len(stays) < len(group.members) or (joint, key) in alike:
            stale[number] = True
            if stays:
                alike.setdefault((joint, key), []).extend(stays)
    joints = []
    for (joint, _), members in alike.items():
        joints.append((joint, group_of(sorted(members, key=lambda adapter: place[adapter.id]))))
    more = _columns(structure, joints)
    every = _Steps(
        (*steps.groups, *more.groups),
        steps.interfaces,
        *(np.concatenate([getattr(steps, field.name), getattr(more, field.name)]) for field in fields(_Steps)[2:]),
    )
    first = {joint: place[adapters[0].id] for joint, adapters in structure.adapters_by_joints.items()}
    ends = [
        (structure.mounts[group.first.lens_mount].joint, structure.mounts[group.first.body_mount].joint)
        for group in every.groups
    ]
    stand = [
        (first.get(joint, -1), min(place.get(member.id, -1) for member in group.members))
        for joint, group in zip(ends, every.groups, strict=True)
    ]
    order = np.empty(len(every.groups) + 1, dtype=np.int64)
    order[sorted(range(len(stand)), key=stand.__getitem__)] = np.arange(len(stand))
    order[-1] = -1
    fresh = np.arange(len(steps.groups), len(every.groups))
    return _Revision(every, np.concatenate([stale[:-1], np.zeros(len(fresh) + 1, dtype=np.bool_)]), fresh, order)


def _standing(revision: _Revision, table: ChainTable) -> ChainTable:
    """The chains of the structure below in which every group still stands."""
    stands: Bools = ~np.any(revision.stale[table.numbers], axis=1)
    return replace(table if stands.all() else table.of(stands), groups=revision.steps.groups)


@kept()
def _through(structure: Structure, rear: str, most: int) -> ChainTable:
    """The chains of at most ``most`` groups onto ``rear`` through a changed adapter, by the interface in front."""
    return chains_through(structure, frozenset(), (rear,), most)


def interfaces_of(structure: Structure) -> Mapping[str, int]:
    """The number under which each interface stands in :attr:`ChainTable.fronts`."""
    return _steps(structure.like or structure).interfaces


@kept(most=2)
def _holding(structure: Structure, ids: frozenset[str]) -> tuple[Ints, Ints]:
    """The groups that hold one of these adapters, and the others; of a structure upon another, the fresh ones."""
    if structure.like is not None:
        revision = _revision(structure)
        count = len(revision.stale) - 1 - len(revision.fresh)
        return revision.fresh, np.flatnonzero(~revision.stale[:count])
    groups = _steps(structure).groups
    holds = np.array([any(member.id in ids for member in group.members) for group in groups], dtype=np.bool_)
    return np.flatnonzero(holds), np.flatnonzero(~holds)


def chains_through(structure: Structure, ids: frozenset[str], rears: Sequence[str], most: int) -> ChainTable:
    """The chains of at most ``most`` groups onto some interfaces in which one of these adapters stands.

    In a structure that stands upon another, without any named: those through whatever has changed.
    """
    steps = _steps(structure) if structure.like is None else _revision(structure).steps
    chosen, others = _holding(structure, ids)
    chain_table = _bare(steps, 0, 0).of(np.zeros(0, dtype=np.int64))
    for pieces in range(1, most + 1):
        behind = [chain_table]
        for rear in rears if len(chosen) else ():
            every = _reaching(structure.like or structure, rear, pieces - 1)
            some = every.of(np.flatnonzero(np.isin(every.fronts, steps.rears[chosen])))
            behind.append(some if structure.like is None else _standing(_revision(structure), some))
        chain_table = _joined(_before(steps, chosen, _by_front(_joined(*behind))), _before(steps, others, chain_table))
        chain_table = _by_front(chain_table)
    if structure.like is not None and ids:
        named = [number for number in chosen if any(member.id in ids for member in steps.groups[number].members)]
        chain_table = chain_table.of(np.flatnonzero(np.isin(chain_table.numbers, named).any(axis=1)))
    return chain_table


def _by_front(table: ChainTable) -> ChainTable:
    return table.of(np.argsort(table.fronts, kind="stable"))


@kept(most=4_000)
def _revised(structure: Structure, front: str, rear: str, most: int) -> ChainTable:
    base, revision = structure.like, _revision(structure)
    assert base is not None
    number = revision.steps.interfaces[front]
    through = _through(structure, rear, most)
    through = through.of(slice(*np.searchsorted(through.fronts, [number, number + 1])))
    below = table_between(base, front, rear, most)
    stands = _standing(revision, below)
    if not len(through) and len(stands) == len(below):
        return stands
    chain_table = _joined(stands, through)
    columns = revision.order[chain_table.numbers].T[::-1]
    return chain_table.of(np.lexsort((*columns, (chain_table.numbers >= 0).sum(axis=1))))


def _extended(steps: _Steps, usable: Ints, rear: str, most: int, behind: ChainTable | None) -> ChainTable:
    """No chain at all, and each of some groups in front of every chain ``behind``."""
    chain_table = _bare(steps, steps.interfaces[rear], most)
    if behind is not None:
        chain_table = _joined(chain_table, _before(steps, usable, behind))
    return chain_table.of(np.lexsort(((chain_table.numbers >= 0).sum(axis=1), chain_table.fronts)))


def _padded(table: ChainTable, most: int) -> ChainTable:
    """The same chains, with room for so many pieces."""
    more = most - table.numbers.shape[1]
    if not more:
        return table
    return replace(
        table,
        numbers=np.pad(table.numbers, ((0, 0), (0, more)), constant_values=-1),
        bores_mm=np.pad(table.bores_mm, ((0, 0), (0, 2 * more)), constant_values=math.inf),
        bores_at_mm=np.pad(table.bores_at_mm, ((0, 0), (0, 2 * more))),
    )


def _before(steps: _Steps, chosen: Ints, behind: ChainTable) -> ChainTable:
    """Each of the chosen groups in front of every chain that it mates with; ``behind`` runs by its interface."""
    onward = steps.rears[chosen]
    first = np.searchsorted(behind.fronts, onward, "left")
    counts = np.searchsorted(behind.fronts, onward, "right") - first
    ends = np.cumsum(counts)
    rows = np.arange(counts.sum()) + np.repeat(first - ends + counts, counts)
    return _in_front(steps, np.repeat(chosen, counts), behind.of(rows))


def _bare(steps: _Steps, rear: int, most: int) -> ChainTable:
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
        bores_mm=np.full((1, 2 * most), math.inf),
        bores_at_mm=np.zeros((1, 2 * most)),
    )


def _in_front(steps: _Steps, number: Ints, behind: ChainTable) -> ChainTable:
    """Each chain with one more piece in front, without those for which there are not enough copies."""
    enough = _enough(steps, number, behind)
    if enough is not None:
        number, behind = number[enough], behind.of(enough)
    squared, k, length = behind.k**2, steps.k[number], steps.length_mm[number]
    adds = behind.adds_mm + squared * steps.error_mm[number]
    adds += squared * (k**2 * steps.expects_mm[number] - steps.delivers_mm[number])
    glass, bore = steps.glass[number], steps.bore_mm[number]
    ends = np.stack([behind.length_mm, behind.length_mm + length], axis=1)
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
        bores_mm=np.column_stack([behind.bores_mm, bore, bore]),
        bores_at_mm=np.hstack([behind.bores_at_mm, ends]),
    )


def _enough(steps: _Steps, number: Ints, behind: ChainTable) -> Bools | None:
    """Where there are copies enough of the piece in front; None where there are everywhere."""
    again = steps.limited[number] & (behind.numbers == number[:, np.newaxis]).any(axis=1)
    if not again.any():
        return None
    enough: Bools = ~again
    for row in np.flatnonzero(again):
        enough[row] = ways((steps.groups[number[row]], *behind.chain(int(row)))) > 0
    return enough


_ARRAYS = tuple(field.name for field in fields(ChainTable)[1:])


def _joined(*tables: ChainTable) -> ChainTable:
    return ChainTable(
        tables[0].groups, *(np.concatenate([getattr(table, name) for table in tables]) for name in _ARRAYS)
    )
