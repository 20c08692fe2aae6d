"""The gear, compiled once for each revision: looked up by id, and joined by what mates."""

from __future__ import annotations

import difflib
import operator
from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from types import MappingProxyType
from typing import Final, Literal, TypeVar

from tropeion.core.frozen import frozen
from tropeion.core.keeping import Keeper

from .adapters import Adapter
from .bodies import Body
from .changed import change_in, swap_of, swapped
from .gear import Gear
from .items import Item, SwappableMount
from .kinds import One
from .lenses import Lens
from .made import Adapters
from .mounts import Generation, Mount, Protocol
from .rig import Rig
from .tried import Tried

T = TypeVar("T", bound=Item)
C = TypeVar("C", bound=Lens | Body)


class UnknownIdError(LookupError):
    """An id that is not in the collection; ``near`` are ids that are."""

    def __init__(self, kind: One | Literal["generation"], id_: str, near: tuple[str, ...]) -> None:
        self.kind, self.id, self.near = kind, id_, near
        hint = f"; near it: {', '.join(near)}" if near else ""
        super().__init__(f"no {kind} has the id '{id_}'{hint}")


def nearest(word: str, known: Sequence[str], count: int = 3) -> tuple[str, ...]:
    """The known words that look most like ``word``, best first; none if nothing is near."""
    return tuple(difflib.get_close_matches(word, known, n=count, cutoff=0.6))


class MountlessError(ValueError):
    """A lens that has no mount is asked what it fits."""

    def __init__(self, name: str, id_: str) -> None:
        self.name, self.id = name, id_
        super().__init__(f"{name} has no mount of its own: a mount has to be built for it before anything can be told")


class UnknownRegisterError(ValueError):
    """Something is asked that cannot be told without a flange focal distance that is not known."""

    def __init__(self, mounts: str) -> None:
        super().__init__(
            f"how far the mount face of {mounts} is from the sensor is not known: find that distance first"
        )


@frozen(eq=False)
class Systems:
    """The mounts of a collection and their generations. Collections with the very same mounts share them, with what was
    computed from them.
    """

    mounts: Mapping[str, Mount]
    generations: Mapping[str, Generation]
    keeper: Keeper = field(default_factory=Keeper, repr=False)


@frozen(eq=False)
class Structure:
    """What chains are made of: mounts and adapters, and the adapters that some lens's maker excludes.

    ``adapters_by_joints`` is keyed by (lens interface, body interface). Worlds that differ in nothing of it share it,
    with what was computed from it. One that differs from another in few adapters stands upon that one, ``like`` it but
    for ``gone`` and ``new``: what was computed there need not be computed again.
    """

    systems: Systems
    mounts: Mapping[str, Mount]
    adapters: Mapping[str, Adapter]
    adapters_by_joints: Mapping[tuple[str, str], tuple[Adapter, ...]]
    excluded: frozenset[str]
    like: Structure | None = None
    gone: frozenset[str] = frozenset()
    new: frozenset[str] = frozenset()
    keeper: Keeper = field(default_factory=Keeper, repr=False)


class _Changeable(dict[str, C]):
    """Items by id, and by the ids that tell of a changed mount; only what is in the collection is listed."""

    def __init__(self, items: Sequence[C], mounts: Mapping[str, Mount]) -> None:
        super().__init__({item.id: item for item in items})
        self._mounts = mounts
        # There are no more of these than there are mounts to change.
        self._changed: dict[str, C] = {}

    def __missing__(self, id_: str) -> C:
        told = change_in(id_)
        item = None if told is None else dict.get(self, told.item)
        if told is None or item is None or swap_of(item, told, self._mounts) is None:
            raise KeyError(id_)
        if id_ not in self._changed:
            self._changed[id_] = swapped(item, told, self._mounts)
        return self._changed[id_]

    def __contains__(self, id_: object) -> bool:
        return super().__contains__(id_) or (isinstance(id_, str) and self.get(id_) is not None)

    def get(self, id_: str, default: C | None = None) -> C | None:  # type: ignore[override]
        try:
            return self[id_]
        except KeyError:
            return default


@frozen(eq=False)
class World:
    """An immutable collection, with what is computed once from it.

    ``lenses`` and ``bodies`` answer to the ids of changed mounts too (``plate..BODY..MOUNT``, ``mount..LENS..MOUNT``),
    ``adapters`` to those of spacers (``spacer..MOUNT..MM``). ``tried`` is what trials of its rigs came to.
    """

    gear: Gear
    protocols: Mapping[str, Protocol]
    generations: Mapping[str, Generation]
    bodies: Mapping[str, Body]
    lenses: Mapping[str, Lens]
    structure: Structure
    mounts: Mapping[str, Mount]
    adapters: Mapping[str, Adapter]
    tried: Tried = field(default_factory=dict)
    keeper: Keeper = field(default_factory=Keeper, repr=False)

    def lens(self, id_: str) -> Lens:
        return _found(self.lenses, id_, "lens")

    def body(self, id_: str) -> Body:
        return _found(self.bodies, id_, "body")

    def adapter(self, id_: str) -> Adapter:
        return _found(self.adapters, id_, "adapter")

    def mount(self, id_: str) -> Mount:
        return _found(self.mounts, id_, "mount")

    def pieces_of(self, rig: Rig) -> tuple[Lens, tuple[Adapter, ...], Body]:
        """The pieces of a rig, from the lens to the body. Raises UnknownIdError for one that is not there."""
        return self.lens(rig.lens), tuple(self.adapter(id_) for id_ in rig.adapters), self.body(rig.body)

    def mount_of(self, item: Lens | Body) -> Mount:
        """The mount of a lens or a body. Raises MountlessError for a lens that has none."""
        if item.mount is None:
            raise MountlessError(item.name, item.id)
        return self.mounts[item.mount]

    def change_of(self, id_: str) -> tuple[Lens | Body, SwappableMount] | None:
        """The item and the change that an id tells of; None for an id like any other."""
        told = change_in(id_)
        if told is None or (id_ not in self.lenses and id_ not in self.bodies):
            return None
        item = self.lenses.get(told.item) or self.bodies.get(told.item)
        swap = swap_of(item, told, self.mounts)
        return None if item is None or swap is None else (item, swap)

    def speaks(self, host: str, guest: str) -> bool:
        """Whether a host with this protocol understands that guest."""
        return host == guest or guest in self.protocols[host].accepts


def _found(items: Mapping[str, T], id_: str, kind: One) -> T:
    try:
        return items[id_]
    except KeyError:
        raise UnknownIdError(kind, id_, nearest(id_, list(items))) from None


def _by_id(items: Sequence[T]) -> Mapping[str, T]:
    return MappingProxyType({item.id: item for item in items})


def _excluded(gear: Gear) -> frozenset[str]:
    return frozenset(entry.adapter for lens in gear.lenses for entry in lens.not_on if entry.adapter is not None)


# The most adapters by which a structure may differ from the one that it is derived from.
_MOST_CHANGES: Final = 8


def _structure_of(gear: Gear, near: Structure | None = None) -> Structure:
    """The structure of a collection; upon the one ``near`` it, where mounts are the same and few adapters differ."""
    excluded = _excluded(gear)
    systems = near.systems if near is not None and _same(near.mounts, gear.mounts) else _systems_of(gear)
    alike = near is not None and near.systems is systems
    if near is not None and alike and _same(near.adapters, gear.adapters) and near.excluded == excluded:
        return near
    base = None if near is None else near.like or near
    gone: frozenset[str] = frozenset()
    new: frozenset[str] = frozenset()
    if base is not None and (base.excluded != excluded or not alike):
        base = None
    if base is not None:
        left, came = changed_between(tuple(base.adapters.values()), gear.adapters)
        gone, new = frozenset(one.id for one in left), frozenset(one.id for one in came)
        if len(gone | new) > _MOST_CHANGES:
            base, gone, new = None, frozenset(), frozenset()
    mounts = systems.mounts
    known: Mapping[tuple[str, str], tuple[Adapter, ...]] = {}
    added = gear.adapters
    if base is not None:
        replaced = _replaced(base, gear.adapters)
        if replaced is not None:
            known, added = replaced, gear.adapters[len(base.adapters) :]
    joints: dict[tuple[str, str], list[Adapter]] = {}
    for adapter in added:
        key = (mounts[adapter.lens_mount].joint, mounts[adapter.body_mount].joint)
        joints.setdefault(key, []).append(adapter)
    return Structure(
        systems=systems,
        mounts=mounts,
        adapters=MappingProxyType(Adapters(gear.adapters, mounts, {protocol.id for protocol in gear.protocols})),
        adapters_by_joints=MappingProxyType(
            {**known, **{key: (*known.get(key, ()), *adapters) for key, adapters in joints.items()}}
        ),
        excluded=excluded,
        like=base,
        gone=gone,
        new=new,
    )


def _systems_of(gear: Gear) -> Systems:
    generations = {one.id: one for mount in gear.mounts for one in mount.generations}
    return Systems(_by_id(gear.mounts), MappingProxyType(generations))


def _same(known: Mapping[str, T], items: Sequence[T]) -> bool:
    """Whether they are the very same items, in the same order."""
    return len(known) == len(items) and all(map(operator.is_, known.values(), items))


def changed_between(before: Sequence[Adapter], now: Sequence[Adapter]) -> tuple[list[Adapter], list[Adapter]]:
    """Those that are not among the others as they were, and those of the others that were not among the first."""
    # Nearly all of them are the very same.
    stay = set(map(id, before)).intersection(map(id, now))
    left = {one.id: one for one in before if id(one) not in stay}
    came = {one.id: one for one in now if id(one) not in stay}
    return [one for id_, one in left.items() if came.get(id_) != one], [
        one for id_, one in came.items() if left.get(id_) != one
    ]


def _replaced(base: Structure, adapters: Sequence[Adapter]) -> Mapping[tuple[str, str], tuple[Adapter, ...]] | None:
    """The adapters of a structure by their interfaces, with those that were replaced by others at the same place and
    between the same mounts; None where the first of ``adapters`` are not these.
    """
    if len(adapters) < len(base.adapters):
        return None
    pairs = [(old, new) for old, new in zip(base.adapters.values(), adapters, strict=False) if old is not new]
    if any((old.id, old.lens_mount, old.body_mount) != (new.id, new.lens_mount, new.body_mount) for old, new in pairs):
        return None
    by_joints = dict(base.adapters_by_joints)
    for old, new in pairs:
        joint = base.mounts[new.lens_mount].joint, base.mounts[new.body_mount].joint
        by_joints[joint] = tuple([new if one is old else one for one in by_joints[joint]])
    return by_joints


def compile_world(gear: Gear, like: World | None = None) -> World:
    """Compile a collection whose references are known to hold; it shares what it can of the structure of ``like``."""
    structure = _structure_of(gear, None if like is None else like.structure)
    return World(
        gear=gear,
        protocols=_by_id(gear.protocols),
        generations=structure.systems.generations,
        bodies=MappingProxyType(_Changeable(gear.bodies, structure.mounts)),
        lenses=MappingProxyType(_Changeable(gear.lenses, structure.mounts)),
        structure=structure,
        mounts=structure.mounts,
        adapters=structure.adapters,
        tried={} if like is None else like.tried,
    )


def with_tried(world: World, tried: Tried) -> World:
    """The same collection with what trials came to."""
    return replace(world, tried=tried, keeper=Keeper())
