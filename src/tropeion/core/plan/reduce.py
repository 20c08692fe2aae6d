"""Ways that no cheapest plan needs are left out before anything is solved.

Each step keeps a cheapest plan, however many wants it meets: whoever takes the way that is left out may take another
one that stays, for no more money.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from itertools import combinations

from .task import Offer, Task, Uses, Want

# Per want, the ways that are looked at: their uses, and the place of the way that each stands for.
Kept = list[dict[Uses, int]]


def purchases(task: Task, want: Want, uses: Uses) -> Uses | None:
    """The part of a way that has to be paid for or counted; None where it cannot be had.

    Where nothing but money binds, pieces that are at hand never run out, one after another.
    """
    shared = not (task.together or want.moment) and task.carry_g is None
    all_purchases = []
    for piece, count in uses:
        offer = task.offers[piece]
        if count > offer.owned and offer.price is None:
            return None
        if not (shared and count <= offer.free):
            all_purchases.append((piece, count))
    return tuple(all_purchases)


def needed_ways(task: Task, goes_on: Callable[[], bool] = lambda: True) -> list[list[int]]:
    """For each want the places of the ways that some cheapest plan is made of, ascending.

    Once ``goes_on`` says no, what is left is kept as it is: nothing is lost, but more is left to solve.

    Ways that cannot be had are gone. Among ways that use the same the one of fewest pieces, then of the best grade,
    speed and probability stands for all.
    """
    kept: Kept = []
    for want in task.wants:
        numbers: dict[Uses, int] = {}
        for place, way in enumerate(want.ways):
            uses = purchases(task, want, way.uses)
            if uses is None:
                continue
            other = numbers.get(uses)
            if other is None or _rank(want, place) < _rank(want, other):
                numbers[uses] = place
        kept.append(_least(numbers))
    if task.carry_g is None:
        while goes_on() and _drop_swappable(task, kept, goes_on):
            pass
    return [sorted(numbers.values()) for numbers in kept]


def _rank(want: Want, place: int) -> tuple[float, ...]:
    way = want.ways[place]
    return way.pieces, -way.grade, way.slow, -way.probability


def _least(found: dict[Uses, int]) -> dict[Uses, int]:
    """The minimal ways: one that contains another of the same want is not needed."""
    return {uses: place for uses, place in found.items() if not any(part in found for part in _parts(uses))}


def _parts(uses: Uses) -> Iterable[Uses]:
    """Every selection of pieces from a way but the whole, with each count up to its own."""
    flat = [piece for piece, count in uses for _ in range(count)]
    for size in range(len(flat)):
        for some in set(combinations(flat, size)):
            yield tuple(sorted(Counter(some).items()))


def _dear(offer: Offer) -> int:
    return offer.cost(1) or 0


def _drop_swappable(task: Task, kept: Kept, goes_on: Callable[[], bool]) -> bool:
    """A way is not needed where another one of its want costs no more than is saved by leaving it."""
    users: Counter[str] = Counter()
    by_holder: Counter[tuple[str, str]] = Counter()
    for number, numbers in enumerate(kept):
        for piece in {piece for uses in numbers for piece, _ in uses}:
            users[piece] += 1
            by_holder[task.wants[number].holder, piece] += 1
    apart = task.together and not any(want.moment for want in task.wants)
    dropped = False
    for number, numbers in enumerate(kept):
        if len(numbers) < 2 or not goes_on():
            continue
        want = task.wants[number]
        own = {
            piece
            for uses in numbers
            for piece, _ in uses
            if users[piece] == 1 or (apart and _unowned(task.offers[piece]) and by_holder[want.holder, piece] == 1)
        }
        # Leaving what others use as well saves nothing; and no way is a part of another.
        swappable = [uses for uses in numbers if not own.isdisjoint(piece for piece, _ in uses)]
        for uses in sorted(swappable, key=lambda pairs: (-sum(_dear(task.offers[piece]) for piece, _ in pairs), pairs)):
            if any(other != uses and _swaps(task, uses, other, own) for other in numbers):
                del numbers[uses]
                dropped = True
    return dropped


def _unowned(offer: Offer) -> bool:
    return offer.stays and not offer.owned


def _swaps(task: Task, uses: Uses, other: Uses, own: set[str]) -> bool:
    """Whether going from one way to another costs no more than it saves; of what costs the same, no more pieces."""
    have, need = dict(uses), dict(other)
    pays = saves = more = fewer = 0
    for piece, count in need.items():
        extra = _at_most(task, task.offers[piece], have.get(piece, 0), count)
        if extra is None:
            return False
        pays += extra
        more += max(0, count - have.get(piece, 0))
    for piece, count in have.items():
        offer, left = task.offers[piece], need.get(piece, 0)
        if piece in own and left < count:
            saves += (offer.cost(count) or 0) - (offer.cost(left) or 0)
            fewer += max(0, count - max(left, offer.owned))
    return pays < saves or (pays == saves and more <= fewer)


def _at_most(task: Task, offer: Offer, have: int, count: int) -> int | None:
    """The most that it can cost to use a piece ``count`` times rather than ``have``; None: perhaps not to be had."""
    if count <= have:
        return 0
    if not task.adds_up:
        known, before = offer.cost(count), offer.cost(have)
        return None if known is None or before is None else known - before
    return None if offer.price is None else (count - have) * max(offer.price, offer.resale)


def components(task: Task, kept: Sequence[Sequence[int]]) -> list[list[int]]:
    """Wants that share no piece are planned apart; everything is one where more than prices binds."""
    if task.coupled:
        return [list(range(len(task.wants)))]
    parent = list(range(len(task.wants)))

    def root(number: int) -> int:
        while parent[number] != number:
            parent[number] = parent[parent[number]]
            number = parent[number]
        return number

    first: dict[str, int] = {}
    for number, want in enumerate(task.wants):
        for place in kept[number]:
            for piece, _ in purchases(task, want, want.ways[place].uses) or ():
                other = first.setdefault(piece, number)
                parent[root(number)] = root(other)
    all_components: dict[int, list[int]] = {}
    for number in range(len(task.wants)):
        all_components.setdefault(root(number), []).append(number)
    return list(all_components.values())
