"""The gear, compiled once for each revision: looked up by id, and joined by what mates."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal, TypeVar, cast

from .gear import Adapter, Body, Gear, Generation, Item, Lens, Mount, Protocol

__all__ = ["GearKind", "UnknownIdError", "World", "compile_world", "nearest"]

GearKind = Literal["lens", "body", "adapter", "mount", "protocol", "rig"]

T = TypeVar("T", bound=Item)
K = TypeVar("K")


class UnknownIdError(LookupError):
    """An id that is not in the collection; ``near`` are ids that are."""

    def __init__(self, kind: GearKind, id_: str, near: tuple[str, ...]) -> None:
        self.kind, self.id, self.near = kind, id_, near
        hint = f"; near it: {', '.join(near)}" if near else ""
        super().__init__(f"no {kind} has the id '{id_}'{hint}")


def nearest(word: str, known: Sequence[str], count: int = 3) -> tuple[str, ...]:
    """The known words that look most like ``word``, best first; none if nothing is near."""
    return tuple(difflib.get_close_matches(word, known, n=count, cutoff=0.6))


@dataclass(frozen=True, slots=True)
class World:
    """An immutable collection. ``adapters_by_joints`` is keyed by (lens interface, body interface)."""

    gear: Gear
    protocols: Mapping[str, Protocol]
    mounts: Mapping[str, Mount]
    generations: Mapping[str, Generation]
    bodies: Mapping[str, Body]
    lenses: Mapping[str, Lens]
    adapters: Mapping[str, Adapter]
    adapters_by_joints: Mapping[tuple[str, str], tuple[Adapter, ...]]
    # What others compute once from this world and keep with it, such as the search index.
    cache: dict[Hashable, object] = field(default_factory=dict, compare=False, repr=False)

    def lens(self, id_: str) -> Lens:
        return _found(self.lenses, id_, "lens")

    def body(self, id_: str) -> Body:
        return _found(self.bodies, id_, "body")

    def adapter(self, id_: str) -> Adapter:
        return _found(self.adapters, id_, "adapter")

    def mount(self, id_: str) -> Mount:
        return _found(self.mounts, id_, "mount")

    def kept(self, key: Hashable, make: Callable[[], K]) -> K:
        """What is computed once from this world and kept with it."""
        found = self.cache.get(key)
        if found is None:
            found = self.cache[key] = make()
        return cast(K, found)

    def speaks(self, host: str, guest: str) -> bool:
        """Whether a host with this protocol understands that guest."""
        return host == guest or guest in self.protocols[host].accepts


def _found(items: Mapping[str, T], id_: str, kind: GearKind) -> T:
    try:
        return items[id_]
    except KeyError:
        raise UnknownIdError(kind, id_, nearest(id_, list(items))) from None


def _by_id(items: Sequence[T]) -> Mapping[str, T]:
    return MappingProxyType({item.id: item for item in items})


# What depends on mounts, adapters and lenses' exclusions alone.
_STRUCTURE = frozenset({"groups", "steps", "outlines", "reaching", "extensions", "ways", "link", "costs"})


def _structure_of(world: World, gear: Gear) -> dict[Hashable, object]:
    """What was computed for another world and holds in this one, where its mounts and adapters are the same."""

    def excluded(of: Gear) -> set[str | None]:
        return {entry.adapter for lens in of.lenses for entry in lens.not_on}

    old = world.gear
    if old.mounts is not gear.mounts or old.adapters is not gear.adapters or excluded(old) != excluded(gear):
        return {}
    # Another thread may be adding to it.
    kept = list(world.cache.items())
    return {key: value for key, value in kept if (key[0] if isinstance(key, tuple) else key) in _STRUCTURE}


def compile_world(gear: Gear, like: World | None = None) -> World:
    """Compile a collection whose references are known to hold; what is known of a world ``like`` it is taken over."""
    mounts = _by_id(gear.mounts)
    joints: dict[tuple[str, str], list[Adapter]] = {}
    interface: Callable[[str], str] = lambda mount: mounts[mount].interface  # noqa: E731
    for adapter in gear.adapters:
        key = (interface(adapter.lens_mount), interface(adapter.body_mount))
        joints.setdefault(key, []).append(adapter)
    return World(
        gear=gear,
        protocols=_by_id(gear.protocols),
        mounts=mounts,
        generations=MappingProxyType({g.id: g for mount in gear.mounts for g in mount.generations}),
        bodies=_by_id(gear.bodies),
        lenses=_by_id(gear.lenses),
        adapters=_by_id(gear.adapters),
        adapters_by_joints=MappingProxyType({key: tuple(found) for key, found in joints.items()}),
        cache=_structure_of(like, gear) if like is not None else {},
    )
