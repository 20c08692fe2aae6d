"""Every chain between two interfaces in one table, and what of it does not depend on the lens and the body.

Chains are built up from the body one piece at a time, for all fronts at once; a row is a chain of groups.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import Structure, World
from tropeion.core.keeping import kept

from .chain_table import (
    Bools,
    ChainTable,
    Floats,
    Ints,
    Steps,
    bare,
    before,
    by_front,
    columns,
    extended,
    interfaces_of,
    joined,
    padded,
    put_together,
    steps_between,
    ways_in,
)
from .chains import Chain, group_of, groups_of, likeness


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
    if structure.like is not None and all(are_light(some, (rear,), most) for some in (structure, structure.like)):
        return _revised(structure, front, rear, most)
    number = interfaces_of(structure)[front]
    return padded(_listed(structure, number, rear, _depth(structure, number, rear, most)), most)


def find_chains(world: World, lens: Lens, body: Body, most: int) -> tuple[Chain, ...]:
    """Every chain of groups that mates at every joint from this lens to this body."""
    table = table_of(world, lens, body, most)
    return tuple(table.chain(index) for index in range(len(table)))


def count_ways(world: World, lens: Lens, body: Body, most: int) -> int:
    """How many chains of pieces there are from this lens to this body."""
    return count_ways_between(world.structure, *_ends(world, lens, body), most)


def count_ways_between(structure: Structure, front: str, rear: str, most: int) -> int:
    """How many chains of pieces there are between two interfaces.

    Those that are too many to be listed are counted as if there were copies enough.
    """
    return int(ways_onto(structure, rear, most)[interfaces_of(structure)[front]])


@kept(most=4_000)
def ways_onto(structure: Structure, rear: str, most: int) -> Floats:
    """The same from every interface, by its number. Chains are listed only where copies may run out in one."""
    ways: Floats = _counts(structure, rear, most).ways.sum(axis=0)
    if not _may_run_out(structure, most):
        return ways
    for front, number in interfaces_of(structure).items():
        if ways[number]:
            unlisted = _counts(structure, rear, most).ways[_depth(structure, number, rear, most) + 1 :, number].sum()
            ways[number] = ways_in(table_between(structure, front, rear, most)).sum() + unlisted
    return ways


@kept(most=8)
def _may_run_out(structure: Structure, most: int) -> bool:
    """Whether a piece of which there are few may stand twice in one chain: what is behind it leads back before it."""
    steps, usable = usable_steps(structure)
    few = usable[steps.limited[usable]]
    for rear in np.unique(steps.rears[few]).tolist() if most > 1 else ():
        leads = np.zeros(len(steps.interfaces), dtype=np.bool_)
        leads[rear] = True
        for _ in range(most - 2):
            leads[steps.rears[usable][leads[steps.fronts[usable]]]] = True
        if leads[steps.fronts[few[steps.rears[few] == rear]]].any():
            return True
    return False


# The chains of a pair are listed up to the length at which they are no more than this. Longer ones are counted.
MOST_LISTED: Final = 50_000
# All chains onto one interface are found together, unless they are more than this.
_MOST_TOGETHER: Final = 20_000


@frozen(eq=False)
class _Counts:
    """How many chains of so many pieces lead onto an interface, by their number and the interface in front.

    ``rows`` counts chains of groups, ``ways`` those of pieces; both as if there were copies enough.
    """

    rows: Floats
    ways: Floats


@kept(most=2_000)
def _counts(structure: Structure, rear: str, most: int) -> _Counts:
    """Counted without listing any."""
    number = interfaces_of(structure)[rear]
    rows, ways = _all_counts(structure, most)
    return _Counts(rows[:, :, number], ways[:, :, number])


@kept(most=8)
def _all_counts(structure: Structure, most: int) -> tuple[Floats, Floats]:
    """Chains of groups and of pieces, by their number of pieces, the interface in front and the one behind."""
    steps, usable = usable_steps(structure)
    fronts, rears = steps.fronts[usable], steps.rears[usable]
    sizes = np.array([len(steps.groups[number].members) for number in usable.tolist()], dtype=np.float64)
    interfaces = len(steps.interfaces)
    found = []
    for weights in (np.ones(len(usable)), sizes):
        once = np.bincount(fronts * interfaces + rears, weights, interfaces**2).reshape(interfaces, interfaces)
        powers = [np.eye(interfaces)]
        for _ in range(most):
            powers.append(once @ powers[-1])
        found.append(np.stack(powers))
    return found[0], found[1]


def _depth(structure: Structure, front: int, rear: str, most: int) -> int:
    """The most pieces of the chains that are listed; single pieces always are."""
    together = np.cumsum(_counts(structure, rear, most).rows[:, front])
    return max(min(1, most), int(np.searchsorted(together, MOST_LISTED, "right")) - 1)


@kept(most=8)
def ends_with_more(structure: Structure, most: int, than: int) -> frozenset[tuple[str, str]]:
    """The interfaces, lens side and camera side, between which there are more chains of groups, were there copies
    enough.
    """
    fronts, rears = np.nonzero(_all_counts(structure, most)[0].sum(axis=0) > than)
    names = {number: name for name, number in interfaces_of(structure).items()}
    return frozenset((names[front], names[rear]) for front, rear in zip(fronts.tolist(), rears.tolist(), strict=True))


def count_along(structure: Structure, ends: Sequence[tuple[str, str]], most: int) -> float:
    """How many there are between all of these together."""
    numbers = interfaces_of(structure)
    by_rear: dict[str, list[int]] = {}
    for front, rear in ends:
        by_rear.setdefault(rear, []).append(numbers[front])
    return float(sum(_counts(structure, rear, most).rows[:, fronts].sum() for rear, fronts in by_rear.items()))


@kept(most=8)
def _light(structure: Structure, most: int) -> frozenset[str]:
    together = np.cumsum(_all_counts(structure, most)[0], axis=0)
    listed = together[most].max(axis=0) <= MOST_LISTED
    light = listed & (together[max(0, most - 1)].sum(axis=0) <= _MOST_TOGETHER)
    return frozenset(rear for rear, number in interfaces_of(structure).items() if light[number])


def are_light(structure: Structure, rears: Iterable[str], most: int) -> bool:
    """Whether all chains onto these are listed, and all but the longest found together."""
    return _light(structure, most).issuperset(rears)


@kept(most=1)
def usable_steps(structure: Structure) -> tuple[Steps, Ints]:
    """The groups of a structure among some more, in their order."""
    if structure.like is None:
        steps = steps_between(structure)
        return steps, np.arange(len(steps.groups))
    revision = _revision(structure)
    stands = np.flatnonzero(~revision.stale[:-1])
    return revision.steps, stands[np.argsort(revision.order[stands])]


@kept()
def reaching(structure: Structure, rear: str, most: int) -> ChainTable:
    """Every chain of at most ``most`` groups onto ``rear``, by the interface in front and by length."""
    steps, usable = usable_steps(structure)
    return extended(steps, usable, rear, most, reaching(structure, rear, most - 1) if most else None)


# These are large where they are not a part of what was found together.
@kept(most=40)
def _listed(structure: Structure, front: int, rear: str, most: int) -> ChainTable:
    """Every chain of at most ``most`` groups from one interface onto another, by length."""
    if _counts(structure, rear, most).rows.sum() <= _MOST_TOGETHER:
        together = reaching(structure, rear, most)
        return together.of(slice(*np.searchsorted(together.fronts, [front, front + 1])))
    steps, usable = usable_steps(structure)
    usable = usable[steps.fronts[usable] == front]
    onward = [_listed(structure, number, rear, most - 1) for number in np.unique(steps.rears[usable]).tolist()]
    behind = by_front(joined(*onward)) if onward else bare(steps, 0, most - 1).of(slice(0))
    table = before(steps, usable, behind, in_order=True)
    return joined(bare(steps, front, most), table) if front == steps.interfaces[rear] else table


@frozen(eq=False)
class _Revision:
    """What few changed adapters do to the groups of the structure that another stands upon.

    ``steps`` are its groups and the ``fresh`` ones after them; ``stale`` tells which of all do not stand any more (a
    last one more, for the padding, always stands); ``order`` is where each would stand had all been made anew.
    """

    steps: Steps
    stale: Bools
    fresh: Ints
    order: Ints


Key = tuple[tuple[str, str], Hashable]


@frozen(eq=False)
class _Below:
    """The groups of a structure that others stand upon: by what their pieces have in common, and by these.

    ``pieces`` are the ids of all, group by group; those of each begin at ``starts``.
    """

    keys: tuple[Key, ...]
    numbers: Mapping[Key, int]
    of_piece: Mapping[str, int]
    pieces: tuple[str, ...]
    starts: Ints


@kept(most=1)
def _below(base: Structure) -> _Below:
    keys = tuple((joint, key) for joint, groups in groups_of(base).items() for key in groups)
    groups = steps_between(base).groups
    pieces = tuple(member.id for group in groups for member in group.members)
    return _Below(
        keys=keys,
        numbers={key: number for number, key in enumerate(keys)},
        of_piece={member.id: number for number, group in enumerate(groups) for member in group.members},
        pieces=pieces,
        starts=np.cumsum([0, *(len(group.members) for group in groups[:-1])]),
    )


@kept(most=1)
def _revision(structure: Structure) -> _Revision:
    base = structure.like
    assert base is not None
    steps = steps_between(base)
    coming = [structure.adapters[id_] for id_ in structure.new if not structure.adapters[id_].retired]
    alike: dict[Key, list[Adapter]] = {}
    for adapter in coming:
        joint = (structure.mounts[adapter.lens_mount].joint, structure.mounts[adapter.body_mount].joint)
        alike.setdefault((joint, likeness(structure, adapter)), []).append(adapter)
    below = _below(base)
    touched = {below.of_piece[id_] for id_ in structure.gone if id_ in below.of_piece}
    touched |= {below.numbers[joint, key] for joint, key in alike if (joint, key) in below.numbers}
    for number in sorted(touched):
        stays = [member for member in steps.groups[number].members if member.id not in structure.gone]
        if stays:
            alike.setdefault(below.keys[number], []).extend(stays)
    place = {id_: number for number, id_ in enumerate(structure.adapters)}
    joints = []
    for (joint, _), members in alike.items():
        joints.append((joint, group_of(sorted(members, key=lambda adapter: place[adapter.id]))))
    every = put_together(steps, columns(structure, joints))
    numbers = every.interfaces
    first = np.full((len(numbers), len(numbers)), -1, dtype=np.int64)
    for (front, rear), adapters in structure.adapters_by_joints.items():
        first[numbers[front], numbers[rear]] = place[adapters[0].id]
    # Of a group that does not stand any more nobody asks for the place.
    places = np.array([place.get(id_, -1) for id_ in below.pieces], dtype=np.int64)
    fresh_own = [min([place[member.id] for member in group.members]) for _, group in joints]
    own = np.append(np.minimum.reduceat(places, below.starts) if len(places) else places, fresh_own)
    order = np.empty(len(own) + 1, dtype=np.int64)
    order[np.lexsort((own, first[every.fronts, every.rears]))] = np.arange(len(own))
    order[-1] = -1
    stale = np.zeros(len(own) + 1, dtype=np.bool_)
    stale[list(touched)] = True
    return _Revision(every, stale, np.arange(len(steps.groups), len(own)), order)


def _standing(revision: _Revision, table: ChainTable) -> ChainTable:
    """The chains of the structure below in which every group still stands."""
    stands: Bools = ~np.any(revision.stale[table.numbers], axis=1)
    return replace(table if stands.all() else table.of(stands), groups=revision.steps.groups)


@kept()
def _through(structure: Structure, rear: str, most: int) -> ChainTable:
    """The chains of at most ``most`` groups onto ``rear`` through a changed adapter, by the interface in front."""
    return chains_through(structure, frozenset(), (rear,), most)


@kept(most=6)
def _reaching_any(structure: Structure, rears: tuple[str, ...], most: int) -> ChainTable:
    """What is :func:`reaching` some interfaces, by the interface in front."""
    return by_front(joined(*[reaching(structure, rear, most) for rear in rears]))


@kept(most=2)
def _holding(structure: Structure, ids: frozenset[str]) -> tuple[Ints, Ints]:
    """The groups that hold one of these adapters, and the others; of a structure upon another, the fresh ones too."""
    if structure.like is not None:
        revision = _revision(structure)
        count = len(revision.stale) - 1 - len(revision.fresh)
        stands = np.flatnonzero(~revision.stale[:count])
        # What was changed back is as it was there, and nothing fresh.
        back = ids - structure.new
        if not back:
            return revision.fresh, stands
        members = [revision.steps.groups[number].members for number in stands.tolist()]
        holds = np.array([any(one.id in back for one in some) for some in members], dtype=np.bool_)
        return np.concatenate([revision.fresh, stands[holds]]), stands[~holds]
    groups = steps_between(structure).groups
    holds = np.array([any(member.id in ids for member in group.members) for group in groups], dtype=np.bool_)
    return np.flatnonzero(holds), np.flatnonzero(~holds)


def chains_through(structure: Structure, ids: frozenset[str], rears: Sequence[str], most: int) -> ChainTable:
    """The chains of at most ``most`` groups onto some interfaces in which one of these adapters stands.

    In a structure that was derived from another, an empty ``ids`` means the adapters that changed.
    """
    steps = steps_between(structure) if structure.like is None else _revision(structure).steps
    chosen, others = _holding(structure, ids)
    onward = np.unique(steps.rears[chosen])
    chain_table = bare(steps, 0, 0).of(np.zeros(0, dtype=np.int64))
    for pieces in range(1, most + 1) if rears else ():
        every = _reaching_any(structure.like or structure, tuple(rears), pieces - 1)
        sides = (np.searchsorted(every.fronts, onward, side).tolist() for side in ("left", "right"))
        onto = joined(chain_table, *[every.of(slice(*ends)) for ends in zip(*sides, strict=True)])
        if structure.like is not None:
            onto = _standing(_revision(structure), onto)
        chain_table = joined(before(steps, chosen, by_front(onto)), before(steps, others, chain_table))
        chain_table = by_front(chain_table)
    if structure.like is not None and ids:
        named = [number for number in chosen if any(member.id in ids for member in steps.groups[number].members)]
        chain_table = chain_table.of(np.flatnonzero(np.isin(chain_table.numbers, named).any(axis=1)))
    return chain_table


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
    chain_table = joined(stands, through)
    columns = revision.order[chain_table.numbers].T[::-1]
    return chain_table.of(np.lexsort((*columns, (chain_table.numbers >= 0).sum(axis=1))))
