"""Scans of a roll of film: numbered in the order of their names, as its frames are in the log."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from tropeion.core.records.log_others import Roll

from .doubts import Doubt
from .log_file import FiledEntry


def scans_of(
    roll: Roll, entries: Sequence[FiledEntry], scans: int
) -> list[tuple[FiledEntry | None, tuple[Doubt, ...]]]:
    """Which entry each scan belongs to, in order. From a number that the log lacks or has twice on, all are doubtful;
    where their count is not that of the roll, every one.

    A roll that does not say how many frames it came to has as many as the log counts.
    """
    numbered: dict[int, list[FiledEntry]] = defaultdict(list)
    for entry in entries:
        if entry.frame_number is not None:
            numbered[entry.frame_number].append(entry)
    frames = roll.frames
    if frames is None and numbered:
        frames = max(numbered) - roll.first_number + 1
    doubtful = frames is not None and frames != scans
    told: list[tuple[FiledEntry | None, tuple[Doubt, ...]]] = []
    for number in range(roll.first_number, roll.first_number + scans):
        of_number = numbered.get(number, [])
        # Which of two entries it is nobody knows; one that is missing leaves its own scan without any.
        doubtful = doubtful or len(of_number) > 1
        told.append((of_number[0] if of_number else None, ("scan_order",) if doubtful else ()))
        doubtful = doubtful or not of_number
    return told


def next_frame(first_number: int, numbers: Sequence[int]) -> int:
    """The number of the frame after the last one that was logged."""
    return max(numbers, default=first_number - 1) + 1
