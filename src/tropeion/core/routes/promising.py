"""Which chains of a pair are judged, where they are too many for all of them: the most promising."""

from __future__ import annotations

from typing import Final

import numpy as np

from tropeion.core.practice import Practice

from .chain_table import Bools, ChainTable, Floats, Ints
from .wants import UNKNOWN_PRICE

# At most this many chains of a pair are judged, and every single piece besides.
MOST_JUDGED: Final = 500


def to_judge(table: ChainTable, bounds: Ints, sure: Bools, practice: Practice) -> Ints:
    """The rows of a table that are judged, the most promising first.

    By the best grade that each may get, whether that is ``sure``, what is at hand, fewer pieces and the price; who goes
    close up also gets the longest. Single pieces are what one simply puts on: of these the dangerous are told too.
    """
    pieces = (table.numbers >= 0).sum(axis=1)
    owned, price = _owned(table)
    order = np.lexsort((price, pieces, ~owned, ~sure, -bounds))
    chosen = [order[:MOST_JUDGED], order[pieces[order] <= 1][:MOST_JUDGED]]
    if practice.purpose == "close_up":
        chosen.append(np.lexsort((price, -table.adds_mm))[:MOST_JUDGED])
    among = np.zeros(len(table), dtype=np.bool_)
    among[np.concatenate(chosen)] = True
    return order[among[order]]


def _owned(table: ChainTable) -> tuple[Bools, Floats]:
    """Which chains are at hand, and what the others cost; by the handiest piece of each group."""
    numbers = np.unique(table.numbers)
    firsts = [table.groups[number].first for number in numbers[numbers >= 0].tolist()]
    at_hand = [first.at_hand > 0 for first in firsts]
    prices = [UNKNOWN_PRICE if first.price is None else first.price for first in firsts]
    # An empty place costs nothing.
    padding = len(numbers) - len(firsts)
    owned = np.array([True] * padding + at_hand, dtype=np.bool_)
    price = np.where(owned, 0.0, np.array([0.0] * padding + prices))
    places = np.searchsorted(numbers, table.numbers)
    all_owned: Bools = np.all(owned[places], axis=1)
    return all_owned, price[places].sum(axis=1)
