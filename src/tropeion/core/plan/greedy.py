"""A plan as shopping lens by lens would make it: each time the cheapest beside what is bought already."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from .task import Choice, Task, Way, outcome_of


def greedy(task: Task, kept: Sequence[Sequence[int]]) -> Choice:
    """Wants one by one, those that are cheap alone first, each by the way that adds the least to what is bought."""
    chosen: list[int | None] = [None] * len(task.wants)
    # Where nothing but prices binds, a way costs what its pieces cost beyond those that are there by then.
    simple = not task.coupled and not task.together
    there: dict[str, int] = {}

    def more(way: Way) -> int | None:
        added = 0
        for piece, count in way.uses:
            offer, have = task.offers[piece], there.get(piece, 0)
            before, after = offer.cost(have), offer.cost(max(have, count))
            if before is None or after is None:
                return None
            added += after - before
        return added

    def in_all(number: int, place: int) -> int | None:
        before, chosen[number] = chosen[number], place
        outcome = outcome_of(task, tuple(chosen))
        chosen[number] = before
        return None if outcome is None else outcome.cost

    def added(number: int) -> tuple[int, int] | None:
        """What the want costs by its best way, with all that is chosen so far."""
        ways = task.wants[number].ways
        cost: Callable[[int], int | None] = (
            (lambda place: more(ways[place])) if simple else (lambda place: in_all(number, place))
        )
        pairs = [(money, place) for place in kept[number] if (money := cost(place)) is not None]
        return min(pairs, default=None)

    alone = {number: added(number) for number in range(len(task.wants))}
    for number, _ in sorted(((n, pair) for n, pair in alone.items() if pair), key=lambda pair: (pair[1], pair[0])):
        pairs = added(number)
        if pairs is not None:
            chosen[number] = pairs[1]
            for piece, count in task.wants[number].ways[pairs[1]].uses:
                there[piece] = max(there.get(piece, 0), count)
    return tuple(chosen)
