"""The gear that questions are made from: its own pieces first, in an order that a seed decides."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from random import Random
from typing import TypeVar

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import Item
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment
from tropeion.core.rig.unknowns import assumed_in

I = TypeVar("I", bound=Item)  # noqa: E741  of items
T = TypeVar("T")


@frozen
class Hand:
    """A collection, the preferences in force, and the chance by which things are taken from it."""

    world: World
    practice: Practice
    chance: Random

    def some(self, items: Sequence[T]) -> list[T]:
        """All of them, in some order."""
        return self.chance.sample(list(items), len(items))

    def lenses(self) -> list[Lens]:
        return [lens for lens in self._mine_first(self.world.gear.lenses) if lens.mount is not None]

    def bodies(self) -> list[Body]:
        return self._mine_first(self.world.gear.bodies)

    def adapters(self) -> list[Adapter]:
        return self._mine_first(self.world.gear.adapters)

    def mounts(self) -> list[Mount]:
        return self.some([mount for mount in self.world.gear.mounts if not mount.retired])

    def _mine_first(self, items: Sequence[I]) -> list[I]:
        """What is there comes first two times of three."""
        kept = self.some([item for item in items if not item.retired])
        owned = [item for item in kept if getattr(item, "owned", None)]
        if not owned or self.chance.random() > 2 / 3:
            return kept
        return [*owned, *(item for item in kept if not getattr(item, "owned", None))]

    def pairs(self) -> Iterator[tuple[Lens, Body]]:
        """Lenses on bodies, each once."""
        lenses, bodies = self.lenses(), self.bodies()
        every = [(lens, body) for lens in range(len(lenses)) for body in range(len(bodies))]
        # Those of the first few of each come first, and yet not one lens on every body.
        every.sort(key=lambda at: at[0] + at[1] + self.chance.random())
        yield from ((lenses[lens], bodies[body]) for lens, body in every)

    def stood(self, ring: Adapter, lens_mount: str, body_mount: str) -> tuple[Lens, tuple[Adapter, ...], Body] | None:
        """The first lens of one mount on the first body of another by a ring, whether or not it goes on."""
        gear = self.world.gear
        lens = next((lens for lens in gear.lenses if lens.mount == lens_mount and not lens.retired), None)
        body = next((body for body in gear.bodies if body.mount == body_mount and not body.retired), None)
        return None if lens is None or body is None else (lens, (ring,), body)

    def rigs(self, pieces: Sequence[int] = (0, 1, 2)) -> Iterator[tuple[Lens, tuple[Adapter, ...], Body]]:
        """Lenses on bodies by so many adapters that mate, one chain for each number of them."""
        for lens, body in self.pairs():
            for count in self.some(pieces):
                chain = self._chain(lens, body, count)
                if chain is not None:
                    yield lens, chain, body

    def _chain(self, lens: Lens, body: Body, count: int) -> tuple[Adapter, ...] | None:
        world = self.world
        front, rear = world.mount_of(lens).joint, world.mount_of(body).joint
        if count == 0:
            return () if front == rear else None
        by_joints = world.structure.adapters_by_joints
        if count == 1:
            fits = self._kept(by_joints.get((front, rear), ()))
            return (self.chance.choice(fits),) if fits else None
        ways = [
            (first, second)
            for (one, between), first in by_joints.items()
            if one == front
            for second in [by_joints.get((between, rear), ())]
            if second
        ]
        if not ways:
            return None
        first, second = self.chance.choice(ways)
        chain = (self.chance.choice(first), self.chance.choice(second))
        return chain if chain[0].id != chain[1].id and not any(piece.retired for piece in chain) else None

    def _kept(self, adapters: Sequence[Adapter]) -> list[Adapter]:
        return [adapter for adapter in adapters if not adapter.retired]


# Assumed in most rigs, and no answer depends on them: questions keep clear of the doubt that they make.
_HARMLESS = re.compile(r".*tolerance_mm$")


def stated(judged: Assessment, *but: str) -> bool:
    """Whether a rig is judged by what is stated of it, ``but`` for fields that a question does not turn on."""
    return nothing_decides(assumed_in(judged.rig, judged.ends), *but)


def nothing_decides(assumed: Iterable[str], *but: str) -> bool:
    """Whether these assumed values decide nothing."""
    return all(path in but or _HARMLESS.match(path) for path in assumed)


# Preferences under which an answer of the trade may differ, each with its schools.
SCHOOLS: dict[str, tuple[str, ...]] = {
    "trust": ("nominal", "cautious"),
    "crop": ("diagonal", "width"),
    "equivalence": ("framing", "framing_and_depth"),
    "glass": ("accept", "avoid"),
    "electronics": ("active", "plain"),
    "rings": ("cheapest", "price_first", "precise"),
    "heavy": ("fine", "support"),
    "entry": ("essential", "skip"),
    "zooms": ("use", "avoid"),
    "purpose": ("infinity", "close_up"),
    "blur": ("1500", "2000", "3000", "two_pixels"),
}


def agreed(practice: Practice, names: Sequence[str], answer: Callable[[Practice], T]) -> T | None:
    """What is answered under each school of these preferences; None where they differ, or one has no answer."""
    first = answer(practice)
    for name in names:
        for school in SCHOOLS[name]:
            if school == getattr(practice, name):
                continue
            if first is None or answer(practice.model_copy(update={name: school})) != first:
                return None
    return first


def near(ratio: float) -> float:
    """How near a wrong number is to the right one by their ratio: 1 is the same, 0.5 is a quarter apart."""
    return math.exp(-abs(math.log(ratio)) / 0.33)
