"""Chains judged for how well they stand; those that agree in everything that is judged, once."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Hashable, Sequence
from functools import cache
from typing import Final

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Protocol
from tropeion.core.gear.usual import taken_body, taken_in
from tropeion.core.gear.world import Systems, World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess

from .standings import StandingGrade, standing_of
from .sure import contacts_of_adapter, contacts_of_body, contacts_of_lens, judged_of_lens


@kept(most=4)
def judging_of(world: World, practice: Practice) -> Judging:
    """The judgements of a collection: whatever asks for one finds it made."""
    return Judging(world, practice)


class Judging:
    """The judgements of a collection by one practice. One with fewer adapters has the same."""

    def __init__(self, world: World, practice: Practice) -> None:
        self.world, self.practice = world, practice
        self._known: dict[tuple[object, ...], StandingGrade] = {}
        self._alike = _alike_of(world.structure.systems, world.gear.protocols, practice)
        self._whole = cache(lambda lens_id: _kind(judged_of_lens(world.lenses[lens_id])))
        self._contacts = cache(lambda lens_id: _contacts_in(world.structure.systems, world.lenses[lens_id]))
        self._body = cache(lambda body_id: _kind(contacts_of_body(taken_body(world, world.bodies[body_id]))))
        self._adapter = cache(lambda adapter_id: _kind(contacts_of_adapter(world.adapters[adapter_id])))

    def listed(
        self, lens: Lens, adapters: tuple[Adapter, ...], body: Body, bound: int, *, contacts: int
    ) -> StandingGrade:
        """How well a chain of listed pieces stands; ``bound`` and ``contacts`` are those of its :class:`Limits`."""
        kinds = [self.kind_of(adapter) for adapter in adapters] if contacts else None
        return self.standing(lens, body, lambda: adapters, (bound, contacts), kinds)

    def kind_of(self, adapter: Adapter) -> int:
        """What an adapter has in common with those that are alike but for lengths."""
        return self._adapter(adapter.id)

    def standing(
        self,
        lens: Lens,
        body: Body,
        chain: Callable[[], tuple[Adapter, ...]],
        limits: tuple[int, int],
        kinds: Sequence[int] | None,
    ) -> StandingGrade:
        """How well a chain stands; with ``kinds`` where it comes to what another of these and of its limits does."""
        pieces: tuple[Adapter, ...] | None = None
        key: tuple[object, ...]
        if kinds:
            known = self._alike
            key = (self._contacts(lens.id), *kinds, self._body(body.id), limits)
        elif kinds is None:
            known, pieces = self._known, chain()
            key = (self._whole(lens.id), *(adapter.id for adapter in pieces), body.id)
        else:
            # Bare, the mounts have a say as well.
            known = self._known
            key = (self._contacts(lens.id), body.id, limits)
        found = known.get(key)
        if found is None:
            found = standing_of(assess(self.world, lens, pieces or chain(), body, self.practice))
            if len(known) >= MOST_KNOWN:
                known.clear()
            known[key] = found
        return found


# A collection that is edited for long forgets what it once knew.
MOST_KNOWN: Final = 100_000


@kept(most=8)
def _alike_of(
    _systems: Systems, _protocols: tuple[Protocol, ...], _practice: Practice
) -> dict[tuple[object, ...], StandingGrade]:
    """What chains come to that only contacts decide: the same in every collection of these mounts and protocols."""
    return {}


@kept(most=10_000)
def _contacts_in(systems: Systems, lens: Lens) -> int:
    """What a lens has in common with those that are alike but for lengths, in any collection of these mounts."""
    return _kind(contacts_of_lens(taken_in(systems, lens)))


_numbers: Final[dict[Hashable, int]] = {}
_next: Final = itertools.count()


def _kind(told: Hashable) -> int:
    """The number that stands for what pieces have in common; what was forgotten gets a new one."""
    if len(_numbers) >= MOST_KNOWN:
        _numbers.clear()
    number = _numbers.get(told)
    return _numbers.setdefault(told, next(_next)) if number is None else number
