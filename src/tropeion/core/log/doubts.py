"""What speaks against an assignment."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Sequence
from itertools import pairwise
from typing import Final, Literal

from tropeion.core.records.log_others import Says
from tropeion.core.records.moments import SECOND_US
from tropeion.core.working import tidy

from .header import alike
from .log_file import FiledEntry
from .pictures import Picture
from .rig_facts import RigFacts, RigReader

Doubt = Literal[
    "near_change", "focal_length", "stale_entry", "f_number", "other_lens", "long_gap", "clock_jump", "scan_order"
]
_FAR_US: Final = 3 * 3600 * SECOND_US
_SILENT_US: Final = 3600 * SECOND_US
_LEAST_STOPS: Final = 1 / 6


def says_of(picture: Picture, says: Sequence[Says]) -> Says | None:
    """What a body's files mean by the lens or the focal length that this one claims, on its day."""
    day = (picture.taken_at or "")[:19]
    for one in says:
        if one.lens is not None and not (picture.lens and alike(one.lens, picture.lens)):
            continue
        focal = picture.focal_length_mm
        if one.focal_length_mm is not None and (focal is None or differs_mm(focal, one.focal_length_mm)):
            continue
        since, until = (one.since or "").replace(" ", "T"), (one.until or "").replace(" ", "T")
        if (since and day < since) or (until and day[: len(until)] > until):
            continue
        return one
    return None


def means(says: Says | None, entry: FiledEntry) -> bool:
    """Whether it means the rig of this entry."""
    return says is not None and says.means.lens == entry.lens and says.means.via == entry.via


def differs_mm(said: float, other: float) -> bool:
    """Whether two focal lengths differ by more than 2 % and more than 0.5 mm."""
    off = abs(said - other)
    return tidy(off - 0.02 * other) > 0 and tidy(off - 0.5) > 0


def of_the_file(
    picture: Picture, entry: FiledEntry, previous: FiledEntry | None, says: Says | None, rigs: RigReader
) -> list[Doubt]:
    """What the file claims otherwise than the rig of its entry would."""
    facts = rigs.facts(entry)
    explained = means(says, entry)
    doubts: list[Doubt] = []
    focal = picture.focal_length_mm
    if focal and not explained and _other_focal_length(focal, entry, facts):
        stale = previous is not None and _told_before(focal, previous, rigs.facts(previous))
        doubts.append("stale_entry" if stale else "focal_length")
    if picture.f_number and not explained and _other_f_number(picture.f_number, entry, facts):
        doubts.append("f_number")
    if picture.lens and not explained and not any(alike(name, picture.lens) for name in facts.names):
        doubts.append("other_lens")
    return doubts


def _other_focal_length(said_mm: float, entry: FiledEntry, facts: RigFacts) -> bool:
    told = entry.told_mm or facts.told_mm(entry.focal_length_mm)
    mark = facts.mark_mm(entry.focal_length_mm)
    if told is not None and not differs_mm(said_mm, told):
        return False
    if mark is not None:
        return differs_mm(said_mm, mark)
    if facts.lens is None or not facts.lens.is_zoom:
        # Nothing is known but what it was told, and that is another.
        return told is not None
    short, long = facts.lens.focal_length_mm
    factors = {1.0, facts.k if facts.k is not None else 1.0}
    return all(differs_mm(said_mm, min(max(said_mm, factor * short), factor * long)) for factor in factors)


def _told_before(said_mm: float, previous: FiledEntry, facts: RigFacts) -> bool:
    told = previous.told_mm or facts.told_mm(previous.focal_length_mm)
    return told is not None and not differs_mm(said_mm, told)


def _other_f_number(said: float, entry: FiledEntry, facts: RigFacts) -> bool:
    known = [one for one in (entry.aperture, facts.with_glass_f_number(entry.aperture)) if one is not None]
    return bool(known) and all(tidy(2 * abs(math.log2(said / one)) - _LEAST_STOPS) > 0 for one in known)


def silences(moments_us: Sequence[int]) -> list[int]:
    """After which of these sorted moments nothing is heard for more than an hour."""
    return [earlier for earlier, later in pairwise(moments_us) if later - earlier > _SILENT_US]


def is_long(entry: FiledEntry, at_us: int, silent_us: Sequence[int]) -> bool:
    """Whether the claim of a series is far away, or nothing was heard of the body for an hour between the two.

    ``silent_us`` are the ``silences`` among the moments of its pictures and entries, these two included.
    """
    first, last = sorted((entry.instant_us, at_us))
    if last - first > _FAR_US:
        return True
    return bisect_left(silent_us, last) > bisect_left(silent_us, first)
