"""How much is tried: one of each kind in ``make test``, all there is, and many examples more, in ``make attack``."""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import TypeVar

__all__ = ["EVERYWHERE", "examples", "some"]

T = TypeVar("T")
EVERYWHERE = "TROPEION_ATTACK" in os.environ


def examples(many: int) -> int:
    """So many of a generated case where everything is tried, else a sixth, at least five."""
    return 3 * many if EVERYWHERE else max(5, many // 6)


def some(every: Iterable[T], few: Iterable[T]) -> list[T]:
    """All cases where everything is tried, else the few that stand for them."""
    cases, chosen = list(every), list(few)
    missing = [one for one in chosen if one not in cases]
    assert not missing, missing
    return cases if EVERYWHERE else chosen
