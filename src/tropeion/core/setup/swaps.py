"""Shots in the order that swaps least.

What stands on a body is a stack, from the body outwards, the lens last. A shot wants its stack on its body;
what is there already, counted from the body, stays. Each element that is put on is one swap; an element is a piece,
or several that stay together, such as a lens with a ring of its own. A piece that stands elsewhere is taken from there,
with all that is before it, unless another copy lies in the bag.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Final

from tropeion.core.asking import go_on
from tropeion.core.frozen import frozen

# Up to this many different rigs are ordered exactly. Of more, the search keeps the best partial orders at each
# place, within this many steps in all; it is exact where none is dropped.
MOST_EXACT: Final = 9
MOST_TRIED: Final = 200_000
_LEAST_KEPT: Final = 20
# Orders that were asked for last are kept: ticking off a list asks again.
_QUESTIONS: Final = 32

Standing = tuple[tuple[str, tuple[str, ...]], ...]


@frozen
class Mounting:
    """A rig: its body, and the elements that stand on it from the body outwards, the ids of each joined by spaces."""

    body: str
    stack: tuple[str, ...]


@frozen
class OnBody:
    """What stands on a body, from the body outwards."""

    body: str
    elements: tuple[str, ...]


@frozen
class Stood:
    """One step: which shot, how many swaps were made for it, and what stands on each body then."""

    shot: int
    swaps: int
    standing: tuple[OnBody, ...]


@frozen
class Ordered:
    """An order of shots. ``proven``: no other order makes fewer swaps."""

    steps: tuple[Stood, ...]
    swaps: int
    proven: bool


def parts_of(element: str) -> list[str]:
    """The pieces of an element, from the body outwards."""
    return element.split(" ")


@lru_cache(maxsize=4096)
def _pieces(stack: tuple[str, ...]) -> frozenset[str]:
    return frozenset(piece for element in stack for piece in parts_of(element))


def put(standing: Standing, wanted: Mounting, copies: Mapping[str, int]) -> tuple[int, Standing]:
    """What it takes to have a stack on its body: the swaps, and what stands where then."""
    bodies = dict(standing)
    there = bodies.get(wanted.body, ())
    same = sum(1 for _ in itertools.takewhile(lambda pair: pair[0] == pair[1], zip(there, wanted.stack, strict=False)))
    if same == len(wanted.stack) and same == len(there):
        return 0, standing
    bodies[wanted.body] = wanted.stack
    # If too few copies exist, one is taken from its place, with what is mounted before it.
    wants = _pieces(wanted.stack)
    for other in sorted(bodies):
        if other == wanted.body:
            continue
        stack = bodies[other]
        if wants.isdisjoint(_pieces(stack)):
            continue
        for place, element in enumerate(stack):
            others = [pieces for body, pieces in bodies.items() if body != other]
            out = Counter(
                piece for pieces in (*others, stack[:place]) for carried in pieces for piece in parts_of(carried)
            )
            if any(piece in wants and out[piece] + 1 > copies.get(piece, 1) for piece in parts_of(element)):
                bodies[other] = stack[:place]
                break
    return len(wanted.stack) - same, tuple(sorted(bodies.items()))


def swaps_in_order(shots: Sequence[Mounting], order: Sequence[int], copies: Mapping[str, int]) -> Ordered:
    """What an order of shots takes."""
    standing: Standing = ()
    steps, total = [], 0
    for shot in order:
        swaps, standing = put(standing, shots[shot], copies)
        total += swaps
        steps.append(Stood(shot, swaps, tuple(OnBody(*pair) for pair in standing)))
    return Ordered(tuple(steps), total, proven=False)


def in_least_order(shots: Sequence[Mounting], copies: Mapping[str, int]) -> Ordered:
    """Shots in the order that makes the fewest swaps; among equals the one nearest to how they were given.

    Shots with the same rig follow each other: to come back to what stands costs nothing, so nothing is lost by it.
    """
    pieces = {piece for shot in shots for element in shot.stack for piece in parts_of(element)}
    return _in_least_order(tuple(shots), tuple(sorted((id_, copies[id_]) for id_ in pieces & copies.keys())))


class _Puts:
    """What each rig takes upon each standing; standings by their number, since they come again and again."""

    def __init__(self, rigs: Sequence[Mounting], copies: Mapping[str, int]) -> None:
        self._rigs, self._copies = rigs, copies
        self._numbers: dict[Standing, int] = {(): 0}
        self._standings: list[Standing] = [()]
        self._known: dict[tuple[int, int], tuple[int, int]] = {}

    def put(self, standing: int, rig: int) -> tuple[int, int]:
        """The swaps, and what stands then."""
        pair = self._known.get((standing, rig))
        if pair is None:
            swaps, then = put(self._standings[standing], self._rigs[rig], self._copies)
            number = self._numbers.setdefault(then, len(self._standings))
            if number == len(self._standings):
                self._standings.append(then)
            pair = self._known[standing, rig] = swaps, number
        return pair


@lru_cache(maxsize=_QUESTIONS)
def _in_least_order(shots: tuple[Mounting, ...], copies: tuple[tuple[str, int], ...]) -> Ordered:
    kinds: dict[Mounting, list[int]] = {}
    for number, shot in enumerate(shots):
        kinds.setdefault(shot, []).append(number)
    rigs = list(kinds)
    puts = _Puts(rigs, dict(copies))
    width = max(_LEAST_KEPT, MOST_TRIED // max(1, len(rigs) * len(rigs)))
    proven = True
    # By what was done and what stands: the least swaps, and the earliest order for it.
    states: dict[tuple[int, int], tuple[int, tuple[int, ...]]] = {(0, 0): (0, ())}
    for _ in rigs:
        following: dict[tuple[int, int], tuple[int, tuple[int, ...]]] = {}
        for (done, standing), (swaps, order) in states.items():
            go_on()
            for number in range(len(rigs)):
                if done >> number & 1:
                    continue
                made, then = puts.put(standing, number)
                key, made = (done | 1 << number, then), swaps + made
                before = following.get(key)
                if before is None or made < before[0] or (made == before[0] and (*order, number) < before[1]):
                    following[key] = made, (*order, number)
        if len(following) > width and len(rigs) > MOST_EXACT:
            following = dict(sorted(following.items(), key=lambda entry: entry[1])[:width])
            proven = False
        states = following
    _, best = min(states.values(), default=(0, ()))
    ordered = swaps_in_order(shots, [shot for number in best for shot in kinds[rigs[number]]], dict(copies))
    return Ordered(ordered.steps, ordered.swaps, proven=proven)
