"""Which chains of a pair are judged, where they are too many for all of them: the most promising."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np

from tropeion.core.practice import Practice

from .bounds import Limits
from .chain_table import Bools, ChainTable, Ints

# At most this many chains of a pair are judged, and every single piece besides.
MOST_JUDGED: Final = 500


def to_judge(table: ChainTable, bounds: Ints, sure: Bools, practice: Practice) -> Ints:
    """The rows of a table that are judged, the most promising first.

    By the best grade that each may get, whether that is ``sure``, what is at hand, fewer pieces and the price; who goes
    close up also gets the longest. Single pieces are what one simply puts on: of these the dangerous are told too.
    """
    order = np.lexsort((table.price, table.pieces, table.to_buy, ~sure, -bounds))
    chosen = [order[:MOST_JUDGED], order[table.pieces[order] <= 1][:MOST_JUDGED]]
    if practice.purpose == "close_up":
        chosen.append(np.lexsort((table.price, -table.adds_mm))[:MOST_JUDGED])
    among = np.zeros(len(table), dtype=np.bool_)
    among[np.concatenate(chosen)] = True
    return order[among[order]]


def in_turn(table: ChainTable, limits: Limits, stretch: slice, practice: Practice) -> Iterator[int]:
    """The same of the pair of which a stretch of the rows is, one after the other: who stops early sorts but a few."""
    bounds = limits.bounds[stretch]
    if len(bounds) > MOST_JUDGED:
        rows = stretch.start + to_judge(table.of(stretch), bounds, limits.sure[stretch], practice)
        yield from rows.tolist()
        return
    for bound in sorted(set(bounds.tolist()), reverse=True):
        rows = stretch.start + np.flatnonzero(bounds == bound)
        keys = table.price[rows], table.pieces[rows], table.to_buy[rows], ~limits.sure[rows]
        yield from rows[np.lexsort(keys)].tolist()
