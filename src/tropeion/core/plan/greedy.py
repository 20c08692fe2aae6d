"""A plan made the way that one would shop without a plan: lens by lens, what is cheapest beside what is bought."""

from __future__ import annotations

from collections.abc import Sequence

from .task import Choice, Task, outcome_of

__all__ = ["greedy"]


def greedy(task: Task, kept: Sequence[Sequence[int]]) -> Choice:
    """Wants one by one, those that are cheap alone first, each by the way that adds the least to what is bought."""
    chosen: list[int | None] = [None] * len(task.wants)

    def added(number: int) -> tuple[int, int] | None:
        """What the want costs by its best way, with all that is chosen so far."""
        found: tuple[int, int] | None = None
        before = chosen[number]
        for place in kept[number]:
            chosen[number] = place
            outcome = outcome_of(task, tuple(chosen))
            if outcome is not None and (found is None or (outcome.cost, place) < found):
                found = outcome.cost, place
        chosen[number] = before
        return found

    alone = {number: added(number) for number in range(len(task.wants))}
    for number, _ in sorted(((n, one) for n, one in alone.items() if one), key=lambda pair: (pair[1], pair[0])):
        found = added(number)
        if found is not None:
            chosen[number] = found[1]
    return tuple(chosen)
